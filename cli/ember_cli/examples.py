"""Loops used by the bench and for compiling: one of each way through the solver."""

from __future__ import annotations

from typing import Any

from ember_core.survey.box import Box, Conductor
from ember_core.survey.practices import BY_ID, conductors_of
from ember_core.survey.readings import Position, Reading

_SUPPLY = {"v_rms": 230.0, "f_hz": 50.0}
_CABLE = {"c_line_to_switched_f": 8e-10, "c_switched_to_neutral_f": 4e-10}
_RELAY = {
    "c_snubber_f": 4.7e-9,
    "standby": {
        "kind": "switching",
        "p_w": 0.2,
        "r_in_ohm": 47.0,
        "c_reservoir_f": 4.7e-6,
        "v_min_v": 40.0,
        "r_reservoir_ohm": 1e6,
    },
}
_RECTIFIER = {
    "kind": "rectifier",
    "c_x_f": 2.2e-8,
    "r_in_ohm": 22.0,
    "c_bulk_f": 4.7e-6,
    "r_start_ohm": 1e6,
    "v_start_v": 110.0,
    "v_stop_v": 45.0,
    "p_run_w": 6.0,
}
_DROPPER = {
    "kind": "capacitive_dropper",
    "c_series_f": 3.3e-7,
    "r_discharge_ohm": 6.8e5,
    "r_in_ohm": 47.0,
    "v_string_v": 84.0,
    "r_string_ohm": 150.0,
    "r_string_parallel_ohm": 3.3e5,
    "c_smooth_f": 4.7e-6,
}


def _loop(name: str, lamps: list[dict[str, Any]], bypass: list[dict[str, Any]]) -> dict[str, Any]:
    return {
        "name": name,
        "supply": _SUPPLY,
        "control": _RELAY,
        "cable": _CABLE,
        "bypass": bypass,
        "lamps": lamps,
    }


SETTLED = (
    _loop("four rectifier lamps", [{**_RECTIFIER, "count": 4}], []),
    _loop(
        "one rectifier lamp, 100 nF",
        [{**_RECTIFIER, "count": 1}],
        [{"kind": "capacitor", "c_f": 1e-7, "r_parallel_ohm": 1e6}],
    ),
    _loop(
        "three droppers, 220 nF",
        [{**_DROPPER, "count": 3}],
        [{"kind": "capacitor", "c_f": 2.2e-7, "r_parallel_ohm": 1e6}],
    ),
)
BLINKING = _loop("one rectifier lamp that blinks", [{**_RECTIFIER, "count": 1, "v_start_v": 80.0}], [])

# Bypasses held against the blinking loop, as a shelf would have them.
BYPASS_F = (2.2e-8, 3.3e-8, 4.7e-8, 6.8e-8, 8.2e-8, 1e-7, 1.2e-7, 1.5e-7, 1.8e-7, 2.2e-7, 2.7e-7, 3.3e-7, 4.7e-7)
BYPASS_OHM = (1e4, 1.5e4, 2.2e4, 3.3e4, 4.7e4, 6.8e4, 1e5)

# Three dimmable drivers on a leading-edge dimmer.
DIMMED: dict[str, Any] = {
    "name": "drivers, leading edge",
    "question": "leading",
    "supply": {"v_rms": 230.0, "f_hz": 50.0},
    "control": {"firing_deg": 60.0, "l_choke_h": 1.5e-3, "t_gate_s": 3e-4},
    "lamps": [{"kind": "dimmable_driver", "count": 3, "c_x_f": 4.7e-8, "c_film_f": 4.7e-8, "g_s": 3e-4}],
    "bypass": [],
}

# Four of them on a trailing-edge dimmer with a small bypass, and twenty capacitor-input lamps on a contact.
TRAILED: dict[str, Any] = {
    "name": "drivers, trailing edge",
    "question": "trailing",
    "supply": {"v_rms": 230.0, "f_hz": 50.0},
    "control": {"turn_off_deg": 90.0, "r_on_ohm": 0.5},
    "lamps": [{"kind": "dimmable_driver", "count": 4, "c_x_f": 4.7e-8, "c_film_f": 4.7e-8, "g_s": 1.5e-4}],
    "bypass": [{"kind": "capacitor", "c_f": 1e-7}],
}
CLOSED: dict[str, Any] = {
    "name": "a contact closing",
    "question": "relay inrush",
    "supply": {"v_rms": 230.0, "f_hz": 50.0},
    "control": {"closing_deg": 90.0, "r_on_ohm": 0.05},
    "lamps": [{"kind": "rectifier", "count": 20, "c_bulk_f": 4.7e-6, "p_run_w": 5.0}],
    "bypass": [],
}

# The same as a gang.
DIMMED_GANG: dict[str, Any] = {
    "supply": _SUPPLY,
    "control": {**_RELAY, "phase": "leading", "p_max_filament_w": 250.0},
    "cable": _CABLE,
    "lamps": [
        {
            "kind": "dimmable_driver",
            "count": 3,
            "c_x_f": 4.7e-8,
            "c_bulk_f": 4.7e-6,
            "v_start_v": 100.0,
            "v_stop_v": 40.0,
            "p_run_w": 8.0,
            "dimming": "both",
        }
    ],
}


def box_of_sixteen() -> tuple[Box, list[Reading]]:
    """The largest box there is: three gangs, one of them two-way, and readings of its first conductors."""
    practices = ("two_way_feed_end", "feed_at_switch", "feed_at_ceiling")
    conductors: list[Conductor] = []
    for gang, name in enumerate(practices, 1):
        conductors += conductors_of(BY_ID[name], "eu", gang, first=len(conductors) + 1)
    box = Box(
        gangs=tuple(BY_ID[name].ways for name in practices), conductors=tuple(conductors), circuits=1, all_listed=True
    )
    volts = (("c1", 231.0), ("c2", 228.0), ("c3", 42.0), ("c8", 231.5), ("c11", 0.4), ("c14", 230.0))
    off = {"1": Position.OFF, "1:other": Position.OFF, "2": Position.OFF, "3": Position.OFF}
    readings = [
        Reading(id=f"r{k}", a=name, b="known_earth", v=v, meter_r_ohm=4e5, switches=off)
        for k, (name, v) in enumerate(volts)
    ]
    return box, readings


def house_of(devices: int) -> dict[str, Any]:
    """The radio of a house of twelve rooms, every fifth device one that passes on; half of them are out of range."""
    rooms = [{"id": f"r{k}", "name": f"Room {k}"} for k in range(12)]
    between = [
        {"a": f"r{a}", "b": f"r{b}", "d_m": 8 + a + b, "walls": {"stone": (a + b) % 3}}
        for a in range(12)
        for b in range(a + 1, 12)
    ]
    cards = ["plug_router" if k % 5 == 0 else "two_wire_switch" for k in range(devices)]
    return {
        "rooms": rooms,
        "between": between,
        "hubs": [{"id": "h", "name": "Hub", "room": "r0", "bands": ["mesh_2g4"], "window_s": 60}],
        "devices": [
            {"id": f"d{k}", "name": f"d{k}", "room": f"r{k % 12}", "card": card, "hub": "h"}
            for k, card in enumerate(cards)
        ],
    }
