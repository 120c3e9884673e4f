"""Complaints of the demo: what was told, what was found out, and what two of them turned out to be. All made up."""

from __future__ import annotations

from typing import Any

# (loop, gang, symptoms, since, note, evidence, closing)
CASES: tuple[dict[str, Any], ...] = (
    {
        "loop": "Millrace walk",
        "told": [{"code": "blink_off"}],
        "since": "since the lantern got an LED lamp",
        "note": "Too fast to count.",
        "evidence": [{"test": "changed_asked", "outcome": "lamps"}],
    },
    {
        "loop": "Wash house",
        "told": [{"code": "control_restarts"}],
        "since": "since a lamp was replaced in October",
        "note": "The relay clicks by itself at night.",
        "evidence": [
            {"test": "changed_asked", "outcome": "lamps"},
            {"test": "lamps_looked_at", "outcome": "other_lamps"},
        ],
        "closing": {
            "cause": "filament_replaced",
            "remedy": "lamps_as_recorded",
            "note": "The filament lamp is back; a week without a restart.",
        },
    },
    {
        "loop": "Wash house",
        "told": [{"code": "one_lamp_dark"}],
        "since": "since last week",
        "note": "One of the candles over the tubs.",
        "evidence": [],
    },
    {
        "loop": "Clay store",
        "told": [{"code": "goes_out_low"}],
        "heard": "seen",
        "since": "at the first trial",
        "note": "Fine above a third.",
        "evidence": [{"test": "level_run", "outcome": "goes_out_low"}],
    },
    {
        "loop": "Dye house",
        "told": [{"code": "other_lamp"}],
        "since": "since it was put in",
        "note": "The left plate lights the shelves.",
        "evidence": [{"test": "wall_pressed", "outcome": "other_lamp"}],
    },
    {
        "loop": "Packing loft",
        "told": [{"code": "single_flash"}],
        "since": "since the yard pump was renewed",
        "note": "One flash whenever the pump starts.",
        "evidence": [
            {"test": "changed_asked", "outcome": "loads"},
            {"test": "other_loads_switched", "outcome": "flashes"},
        ],
        "closing": {
            "cause": "disturbed",
            "remedy": "filter_the_other_load",
            "note": "Soft starter for the pump; twenty starts without a flash.",
        },
    },
    {
        "loop": "Gallery stair",
        "told": [{"code": "depends_on_switch"}],
        "since": "since the painters were in",
        "note": "Only with the head switch down.",
        "evidence": [],
    },
    {
        "loop": "Packing hall stair",
        "told": [{"code": "drops_off_network"}],
        "since": "for about two weeks",
        "note": "Comes back by itself after some minutes.",
        "evidence": [
            {"test": "wall_pressed", "outcome": "works"},
            {"test": "changed_asked", "outcome": "dont_know"},
        ],
    },
)
