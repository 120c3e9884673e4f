"""What wrong wiring does, told by the proof of the wiring itself, on a two-gang box and on a landing.

The box: a supply at the switch, two lamps, a two-wire control with earth and a link between two of its terminals. The
landing: two ordinary two-way switches.
"""

from __future__ import annotations

import copy
from functools import cache
from typing import Any

from ember_core.diagnosis.world import BoxIs
from ember_core.wiring.document import read
from ember_core.wiring.proof import prove
from ember_core.wiring.told import LampIs, WiringProof

Json = dict[str, Any]
# Signs that the proof of a wiring tells.
DEAD_CONTROL, OTHER_LAMP, DEPENDS, PLATE_LIVE = "dead_control", "other_lamp", "depends", "plate_live"


def _core(name: str, a: str, b: str, colour: str, marked: str | None = None) -> Json:
    return {"id": name, "ends": [a, b], "colour": colour, "marked": marked, "size_m2": 1.5e-6}


def _box() -> Json:
    lamps = [{"id": f"lamp{k}", "kind": "lamp"} for k in (1, 2)]
    control = {
        "id": "ctl",
        "kind": "control",
        "line": "L",
        "loads": ["L1", "L2"],
        "neutral": "N",
        "neutral_use": "optional",
        "earth": "PE",
        "needs_earth": True,
        "reversible": False,
        "feeding_loads": ["L1"],
        "link": ["L", "N"],
        "holds": {"L": 3},
    }
    drops = [_core(f"C{k}", "wall", f"ceiling{k}", "black", "live") for k in (1, 2)]
    returns = [_core(f"D{k}", "wall", f"ceiling{k}", "blue") for k in (1, 2)]
    return {
        "name": "two gangs",
        "circuits": ["7"],
        "devices": [control, *lamps],
        "cores": [
            _core("A1", "board", "wall", "brown"),
            _core("A2", "board", "wall", "blue"),
            _core("A3", "board", "wall", "green-yellow"),
            *drops,
            *returns,
        ],
        "joints": [
            ["7.L", "A1@board"],
            ["7.N", "A2@board"],
            ["E", "A3@board"],
            ["A1@wall", "ctl.L", "ctl.N"],
            ["A3@wall", "ctl.PE"],
            ["A2@wall", "D1@wall", "D2@wall"],
            ["ctl.L1", "C1@wall"],
            ["ctl.L2", "C2@wall"],
            ["C1@ceiling1", "lamp1.1"],
            ["D1@ceiling1", "lamp1.2"],
            ["C2@ceiling2", "lamp2.1"],
            ["D2@ceiling2", "lamp2.2"],
        ],
        "capped": [],
        "intended": {"lamp1": ["ctl.L1"], "lamp2": ["ctl.L2"]},
    }


def _landing() -> Json:
    return {
        "name": "landing",
        "circuits": ["7"],
        "devices": [
            {"id": "foot", "kind": "two_way"},
            {"id": "head", "kind": "two_way"},
            {"id": "lamp1", "kind": "lamp"},
        ],
        "cores": [
            _core("A1", "board", "foot", "brown"),
            _core("A2", "board", "lamp", "blue"),
            _core("T1", "foot", "head", "black"),
            _core("T2", "foot", "head", "black"),
            _core("T3", "head", "lamp", "black", "live"),
        ],
        "joints": [
            ["7.L", "A1@board"],
            ["7.N", "A2@board"],
            ["A1@foot", "foot.COM"],
            ["foot.L1", "T1@foot"],
            ["foot.L2", "T2@foot"],
            ["T1@head", "head.L1"],
            ["T2@head", "head.L2"],
            ["head.COM", "T3@head"],
            ["T3@lamp", "lamp1.1"],
            ["A2@lamp", "lamp1.2"],
        ],
        "capped": [],
        "intended": {},
    }


def _exchanged(drawing: Json, one: str, other: str) -> Json:
    made = copy.deepcopy(drawing)
    swap = {one: other, other: one}
    made["joints"] = [[swap.get(point, point) for point in joint] for joint in made["joints"]]
    return made


def _without(drawing: Json, point: str) -> Json:
    made = copy.deepcopy(drawing)
    made["joints"] = [left for joint in made["joints"] if (left := [one for one in joint if one != point])]
    made["capped"] = [*made["capped"], point] if "@" in point else made["capped"]
    return made


@cache
def signs(box: BoxIs) -> frozenset[str]:
    """What shows of a wiring as found in a box."""
    match box:
        case BoxIs.LINE_LOAD:
            found = prove(read(_exchanged(_box(), "A1@wall", "C1@wall")))
        case BoxIs.GANGS:
            found = prove(read(_exchanged(_box(), "C1@wall", "C2@wall")))
        case BoxIs.LINK:
            found = prove(read(_without(_box(), "ctl.N")))
        case BoxIs.EARTH:
            found = prove(read(_without(_box(), "A3@wall")))
        case BoxIs.TRAVELLERS:
            found = prove(read(_exchanged(_landing(), "T2@head", "T3@head")))
        case _:
            return frozenset()
    return frozenset(_signs_of(found))


def as_mapped() -> WiringProof:
    """The proof of the box as it should be."""
    return prove(read(_box()))


def _signs_of(found: WiringProof) -> set[str]:
    codes = {finding.code for finding in found.findings}
    shown = set()
    if codes & {"line_and_load_exchanged", "control_unfed", "mode_link_missing"}:
        shown.add(DEAD_CONTROL)
    if "gangs_exchanged" in codes:
        shown.add(OTHER_LAMP)
    if "earth_missing" in codes:
        shown.add(PLATE_LIVE)
    if "head" in found.rows[0].positions and not _each_switch_turns_it(found):
        shown.add(DEPENDS)
    return shown


def _each_switch_turns_it(found: WiringProof) -> bool:
    """Whether either switch of a landing turns the lamp over in every position of the other."""
    lit = {tuple(sorted(row.positions.items())): row.lamps["lamp1"] is LampIs.ON for row in found.rows}
    for positions, is_on in lit.items():
        for other, is_other_on in lit.items():
            moved = sum(a != b for a, b in zip(positions, other, strict=True))
            if moved == 1 and is_on == is_other_on:
                return False
    return True
