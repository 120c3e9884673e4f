"""Hand-overs of the demo: one signed by all, one that waits for the checker, one that was asked back. All made up."""

from __future__ import annotations

import math
from typing import Any

# What is found of each act; what is not here is excused, with the reason of the loop.
FOUND: dict[str, dict[str, Any]] = {
    "switches": {"result": "works"},
    "each_lamp": {"result": "all_light"},
    "others_dark": {"result": "stay_dark"},
    "levels": {"result": "steady"},
    "flicker_watch": {"result": "dark", "watched_s": 610.0},
    "power_on": {"result": "stays_off"},
}

# Whom a client calls.
CONTACT = "Wren Talley, at the mill office by the wheelhouse"

HANDOVERS: tuple[dict[str, Any], ...] = (
    {
        "loop": "Packing hall stair",
        "excused": "meter at its yearly calibration",
        "note": "first issue",
        "signed": ("technician", "client", "checker"),
        "client": "Ida Marl",
    },
    {
        "loop": "Loft landing",
        "excused": "no meter up there that day",
        "note": "",
        "signed": ("technician", "client"),
        "client": "Bram Oakley",
    },
    {
        "loop": "Packing loft",
        "excused": "left for the next visit",
        "note": "before the tenant moves in",
        "signed": ("technician",),
        "asked_back": "Measure at the lamps before I sign: the judgement rests on an assumed figure.",
    },
)


def scribble(seed: int) -> list[list[list[float]]]:
    """A hand that signs: two strokes in the field of 1000 by 400."""
    first = [
        [120.0 + 6.0 * k, round(210.0 + 70.0 * math.sin(0.42 * k + seed) * math.exp(-0.01 * k), 1)] for k in range(90)
    ]
    second = [[180.0 + 7.0 * k, round(300.0 + 8.0 * math.sin(0.2 * k + seed), 1)] for k in range(60)]
    return [first, second]
