"""Cores and terminals of a wiring: ends left loose, marks that deceive, terminals too full, what stays live."""

from __future__ import annotations

from ember_core.wiring.drawing import Drawing, Kind, Mark, terminals_of
from ember_core.wiring.nets import Joined, Positions, State, fixed_pairs
from ember_core.wiring.told import Found, LampIs, Row

# Cores that a terminal takes where nobody says.
USUAL_HOLDS = 2
EARTH_COLOURS = frozenset({"green-yellow", "green/yellow", "green", "bare"})
NEUTRAL_COLOURS = frozenset({"blue", "light blue", "white", "grey", "gray"})


def look_at_cores(drawing: Drawing, states: list[State], rows: list[Row], found: Found) -> None:
    placed = {point for joint in drawing.joints if len(joint) > 1 for point in joint}
    for core in drawing.cores:
        live_in = next((state for state in states if state.can_shock(core.points[0])), None)
        for point in core.points:
            if point not in placed and point not in drawing.capped:
                code = "loose_end" if live_in is None else "loose_live_end"
                found.tell(code, None if live_in is None else live_in.positions, core=core.id, point=point)
        if live_in is not None:
            says = _says(core.marked, core.colour)
            if says is Mark.EARTH or core.marked is Mark.NEUTRAL:
                found.tell("marked_core_live", live_in.positions, core=core.id, says=says.value if says else "")
            elif says is Mark.NEUTRAL:
                found.tell("neutral_colour_live", live_in.positions, core=core.id, colour=core.colour)
    lamps = [lamp.id for lamp in drawing.lamps if not lamp.smart]
    for state, row in zip(states, rows, strict=True):
        if lamps and all(row.lamps[lamp] is LampIs.OFF for lamp in lamps):
            live = [core.id for core in drawing.cores if state.can_shock(core.points[0])]
            if live:
                found.tell("live_when_off", state.positions, cores=", ".join(live))
            break
    _look_at_terminals(drawing, found)


def _says(mark: Mark | None, colour: str) -> Mark | None:
    """What a core says it is: its sleeve before its colour."""
    if mark is not None:
        return mark
    if colour.lower() in EARTH_COLOURS:
        return Mark.EARTH
    return Mark.NEUTRAL if colour.lower() in NEUTRAL_COLOURS else None


def _look_at_terminals(drawing: Drawing, found: Found) -> None:
    ends = {point for core in drawing.cores for point in core.points}
    holds = {
        f"{device.id}.{terminal}": device.holds.get(terminal, USUAL_HOLDS)
        for device in drawing.devices
        for terminal in terminals_of(device)
        if device.kind not in (Kind.LAMP, Kind.BYPASS, Kind.DIODE)
    }
    for joint in drawing.joints:
        here = [point for point in joint if point in holds]
        cores = sum(point in ends for point in joint)
        if here and cores > sum(holds[point] for point in here):
            found.tell("terminal_overfilled", None, point=here[0], cores=str(cores))


def live_cores(drawing: Drawing, positions: Positions) -> tuple[str, ...]:
    """Cores that are live in a state, those at inputs of a fed control among them; see `State.can_shock`."""
    state = State(drawing, Joined(fixed_pairs(drawing)), positions)
    return tuple(core.id for core in drawing.cores if state.can_shock(core.points[0]))
