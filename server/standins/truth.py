"""What is really behind a surveyed box, for the simulated meter: drawn once from the loop's own identity.

The demo has no building, so each loop gets one: which terminal holds the line, whether a joint is a neutral, how a
two-way pair is crossed. It is the same at every reading, and the inference knows nothing of it. What stands at the
lamps while a control is off comes from the solved loop.
"""

from __future__ import annotations

from collections.abc import Mapping
from random import Random
from typing import Any

from ember_core import sheet
from ember_core.errors import EmberError
from ember_core.offstate.solve import solve
from ember_core.survey.box import METAL_BOX, Box, Conductor, Terminal, Ways
from ember_core.survey.readings import LAMP_POINTS, Position, Reference
from ember_core.wiring import metered
from ember_core.wiring.drawing import Device, Kind, contacts_of

Json = dict[str, Any]
GROUND = metered.GROUND
_JOINTS = (Terminal.JOINT_1, Terminal.JOINT_2, Terminal.JOINT_3)
# Lamps that block while off, where the loop itself cannot be solved yet: some megohms and nanofarads.
_BLOCKING_LAMP = (2e6, 2e-8)
_LENGTH_M = (5.0, 15.0)


def draw(seed: str, box: Box, practice: str) -> tuple[Json, dict[str, list[str]]]:
    """Wiring of a box as JSON data, and for each gang how its switches really work.

    Parameters
    ----------
    seed : identity of the loop. practice : wiring practice named in the survey, or empty.
    """
    random = Random(seed)
    point_of: dict[str, str] = {METAL_BOX: metered.GROUND if random.random() < 0.7 else "free:box"}
    bonds: list[list[Any]] = [["foreign_neutral", metered.GROUND, 0.3], [metered.NEUTRAL, metered.GROUND, 0.3]]
    lamps = {}
    hidden: dict[str, list[str]] = {}
    wanted: list[str] = []
    for gang, ways in enumerate(box.gangs, 1):
        lamps[f"lamp_{gang}"] = list(_BLOCKING_LAMP)
        swapped, crossed = random.random() < 0.5, random.random() < 0.5
        if ways is Ways.ONE_WAY:
            first, second = (metered.LINE, f"lamp_{gang}") if not swapped else (f"lamp_{gang}", metered.LINE)
            bonds += [[f"{gang}:common", first, 0.1], [f"{gang}:l1", second, 0.1]]
            wanted += [f"{gang}:common", f"{gang}:l1"]
        elif ways is Ways.TWO_WAY:
            line_side = practice != "two_way_far_end"
            here, there = (metered.LINE, f"lamp_{gang}") if line_side else (f"lamp_{gang}", metered.LINE)
            bonds += [[f"{gang}:common", here, 0.1], [f"{gang}:far", there, 0.1]]
            hidden[str(gang)] = [f"{gang}:far", f"{gang}:l2" if crossed else f"{gang}:l1"]
            hidden[str(gang)] += [f"{gang}:l1" if crossed else f"{gang}:l2"]
            wanted += [f"{gang}:common", f"{gang}:l1", f"{gang}:l2"]
        else:
            bonds.append([f"{gang}:out_1" if crossed else f"{gang}:out_2", f"lamp_{gang}", 0.1])
            hidden[str(gang)] = [metered.LINE, f"{gang}:in_1", f"{gang}:in_2"]
            wanted += [f"{gang}:{name}" for name in ("in_1", "in_2", "out_1", "out_2")]
    joints = {terminal: _joint(practice, random) for terminal in _JOINTS}
    placed = {f"{c.gang}:{c.terminal.value}" for c in box.conductors if c.gang is not None}
    left = [name for name in wanted if name not in placed]
    for conductor in box.conductors:
        point_of[conductor.id] = _point(conductor, joints, left, random)
    cables = [
        [[c.id for c in box.conductors if c.cable == cable], round(random.uniform(*_LENGTH_M), 1)]
        for cable in sorted({c.cable for c in box.conductors})
    ]
    return {
        "point_of": point_of,
        "cables": cables,
        "lamps": lamps,
        "sources": {metered.NEUTRAL: round(random.uniform(0.2, 1.5), 2)},
        "bonds": bonds,
    }, hidden


def _joint(practice: str, random: Random) -> str:
    chance = random.random()
    if practice == "feed_at_switch":
        return "foreign_neutral" if chance < 0.1 else metered.NEUTRAL
    if practice == "two_way_feed_end":
        return "lamp_1"
    return metered.NEUTRAL if chance < 0.4 else "free:joint"


def _point(conductor: Conductor, joints: Mapping[Terminal, str], left: list[str], random: Random) -> str:
    if conductor.gang is not None:
        return f"{conductor.gang}:{conductor.terminal.value}"
    if conductor.terminal in joints:
        return joints[conductor.terminal]
    if conductor.terminal is Terminal.EARTH:
        return metered.GROUND
    if left and conductor.terminal is Terminal.UNKNOWN:
        return left.pop(random.randrange(len(left)))
    return f"free:{conductor.id}"


# A switch of the wiring model, its position for each of the survey's, and its terminals as nets are named.
_SWITCHES = {
    Ways.ONE_WAY: (Kind.ONE_WAY, {Position.OFF: "open", Position.ON: "closed"}),
    Ways.TWO_WAY: (Kind.TWO_WAY, {Position.OFF: "L2", Position.ON: "L1"}),
    Ways.INTERMEDIATE: (Kind.INTERMEDIATE, {Position.OFF: "crossed", Position.ON: "straight"}),
}
_TERMINALS = {"COM": "common", "L1": "l1", "L2": "l2", "IN1": "in_1", "IN2": "in_2", "OUT1": "out_1", "OUT2": "out_2"}


def closures(box: Box, hidden: Mapping[str, list[str]], switches: Mapping[str, Position]) -> list[list[str]]:
    """Pairs of nets that the switches join, as the wiring model has it."""
    joined = []
    for gang, ways in enumerate(box.gangs, 1):
        terminals = {name: f"{gang}:{net}" for name, net in _TERMINALS.items()}
        joined += _joined(ways, switches.get(str(gang), Position.OFF), terminals)
        if ways is not Ways.ONE_WAY:
            # The other end of the run is a two-way switch too.
            far = dict(zip(("COM", "L1", "L2"), hidden[str(gang)], strict=True))
            joined += _joined(Ways.TWO_WAY, switches.get(f"{gang}:other", Position.OFF), far)
    return joined


def _joined(ways: Ways, position: Position, nets: Mapping[str, str]) -> list[list[str]]:
    kind, positions = _SWITCHES[ways]
    return [[nets[a], nets[b]] for a, b in contacts_of(Device(id="", kind=kind), positions[position])]


def net_of(end: str) -> str:
    """The net of a known point; a conductor is its own end."""
    fixed = {
        Reference.EARTH.value: metered.GROUND,
        Reference.EARTH_ALONE.value: metered.GROUND,
        Reference.LINE.value: metered.LINE,
        Reference.NEUTRAL.value: metered.NEUTRAL,
    }
    lamps = {point.value: f"lamp_{gang}" for gang, point in enumerate(LAMP_POINTS, 1)}
    return fixed.get(end) or lamps.get(end) or end


def solved_off_state(document: Json, meter_r_ohm: float) -> tuple[float, float] | None:
    """Lamp volts and line amperes, rms, of a complete loop sheet with this meter on the lamps; None when unsolved."""
    try:
        given = sheet.read(document)
        if not given.loop.control.has_electronics:
            return None
        found = solve(sheet.with_meter(given, meter_r_ohm).loop)
    except EmberError:
        return None
    return found.lamp_v_rms, found.line_i_rms_a
