"""What a wiring does: every state of its switches looked at, and everything that is wrong with it by name.

A drawing works where, in some state, each lamp is lit across line and neutral of one circuit by what is meant to light
it, is dark in another, and nothing stands against it. A smart lamp is to be fed in every state instead.
"""

from __future__ import annotations

from itertools import product
from math import prod

from ember_core.errors import InputError
from ember_core.findings import Severity
from ember_core.wiring.controls import Supplies, look_at_bypasses, look_at_controls
from ember_core.wiring.cores import look_at_cores
from ember_core.wiring.drawing import EARTH, Drawing, positions_of
from ember_core.wiring.lamps import look_at_lamps, look_at_ways, states_of_lamps
from ember_core.wiring.nets import Joined, State, fixed_pairs
from ember_core.wiring.told import Found, Row, WiringProof

MOST_STATES = 4096
# States times what is in each; real boxes have a few dozen states.
MOST_LOOKED_AT = 200_000


def prove(drawing: Drawing) -> WiringProof:
    """Look at every state.

    Raises
    ------
    InputError : `too_many_states`.
    """
    moving = {device.id: positions_of(device) for device in drawing.devices if positions_of(device)}
    most = min(MOST_STATES, MOST_LOOKED_AT // (len(drawing.devices) + len(drawing.cores) or 1))
    if prod(len(one) for one in moving.values()) > most:
        raise InputError("too_many_states", path="devices", most=most)
    fixed = Joined(fixed_pairs(drawing))
    found = Found()
    supplies = Supplies(drawing, fixed)
    rows: list[Row] = []
    states: list[State] = []
    for combination in product(*moving.values()):
        positions = dict(zip(moving, combination, strict=True))
        state = State(drawing, fixed, positions)
        states.append(state)
        _look_at_sources(state, found)
        lamps = states_of_lamps(state, fixed, found)
        rows.append(Row(positions=positions, lamps=lamps, supplied=supplies.of(positions)))
    look_at_lamps(drawing, rows, states, found)
    look_at_ways(drawing, rows, found)
    look_at_controls(drawing, states, rows, found)
    look_at_bypasses(drawing, fixed, found)
    look_at_cores(drawing, states, rows, found)
    findings = found.sorted()
    works = all(one.severity is not Severity.STOP for one in findings)
    return WiringProof(works=works, findings=findings, rows=tuple(rows))


def _look_at_sources(state: State, found: Found) -> None:
    """Shorts, and circuits or poles that touch."""
    for sources in state.all_nets():
        lines = sorted(source for source in sources if source.endswith(".L"))
        neutrals = sorted(source for source in sources if source.endswith(".N"))
        if lines and neutrals:
            found.tell("short_line_neutral", state.positions, line=lines[0], neutral=neutrals[0])
        if lines and EARTH in sources:
            found.tell("short_line_earth", state.positions, line=lines[0])
        if neutrals and EARTH in sources:
            found.tell("earth_carries_load", state.positions, point=neutrals[0])
        for poles in (lines, neutrals):
            if len(poles) > 1:
                found.tell("circuits_joined", state.positions, one=poles[0], other=poles[1])
