"""How the controls of a wiring are fed, and where its bypasses lie."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ember_core.wiring.drawing import EARTH, Control, Drawing, Kind, Lamp, NeutralUse, positions_of
from ember_core.wiring.nets import Joined, Positions, State
from ember_core.wiring.told import Found, Row, Supply


class Supplies:
    """How each control is fed while it waits: with every control off, by the positions of everything else."""

    def __init__(self, drawing: Drawing, fixed: Joined) -> None:
        self.drawing, self.fixed = drawing, fixed
        self.controls = drawing.controls
        self._known: dict[tuple[tuple[str, str], ...], dict[str, Supply]] = {}

    def of(self, positions: Positions) -> dict[str, Supply]:
        """Each control of a state."""
        ids = {control.id for control in self.controls}
        waiting = {name: "off" if name in ids else position for name, position in positions.items()}
        key = tuple(sorted(waiting.items()))
        if key not in self._known:
            state = State(self.drawing, self.fixed, waiting)
            self._known[key] = {control.id: _supply(state, control) for control in self.controls}
        return self._known[key]


def _supply(state: State, control: Control) -> Supply:
    line = f"{control.id}.{control.line}"
    lines = state.lines(line)
    if control.neutral is not None and lines & state.neutrals(f"{control.id}.{control.neutral}"):
        return Supply.NEUTRAL
    if control.neutral_use is NeutralUse.REQUIRED:
        return Supply.NONE
    ways = [(line, f"{control.id}.{load}") for load in control.feeding_loads]
    if control.reversible and len(control.loads) == 1:
        ways += [(load, line) for line, load in ways]
    through = {kind for start, end in ways for kind in _returns(state, state.lines(start), end, control.id)}
    if Kind.BYPASS in through:
        return Supply.BYPASS
    return Supply.LOOP if Kind.LAMP in through else Supply.NONE


def _returns(state: State, lines: set[str], load: str, control: str) -> Iterator[Kind]:
    """Kinds of elements from a load to the neutral of the circuit that feeds the control."""
    if not lines:
        return
    root = state.joined.root(load)
    for element in state.elements:
        if element.device == control or element.kind is Kind.CONTROL:
            continue
        for here, there in ((element.a, element.b), (element.b, element.a)):
            if state.joined.root(here) == root and lines & state.neutrals(there):
                yield element.kind


def look_at_controls(drawing: Drawing, states: list[State], rows: list[Row], found: Found) -> None:
    ids = [control.id for control in drawing.controls]
    waiting = [state for state in states if all(state.positions[name] == "off" for name in ids)]
    for control in drawing.controls:
        name = control.id
        supplied = [row.supplied[name] for row in rows]
        line, loads = f"{name}.{control.line}", [f"{name}.{load}" for load in control.loads]
        neutral = None if control.neutral is None else f"{name}.{control.neutral}"
        may_turn = control.reversible and len(control.loads) == 1
        is_fed = any(state.is_live(line) for state in waiting)
        if not may_turn and not is_fed and any(state.is_live(load) for state in waiting for load in loads):
            found.tell("line_and_load_exchanged", waiting[0].positions, device=name)
        if all(one is Supply.NONE for one in supplied):
            found.tell("control_unfed", None, device=name)
        elif Supply.NONE in supplied:
            row = rows[supplied.index(Supply.NONE)]
            found.tell("control_unfed_when_off", row.positions, device=name)
        has_neutral = neutral is not None and any(state.neutrals(neutral) for state in waiting)
        if control.neutral_use is NeutralUse.REQUIRED and not has_neutral:
            found.tell("neutral_missing", None, device=name)
        if neutral is not None:
            for state in waiting:
                borrowed = state.neutrals(neutral)
                if state.lines(line) and borrowed and not state.lines(line) & borrowed:
                    found.tell(
                        "borrowed_neutral",
                        state.positions,
                        device=name,
                        line=min(state.lines(line)),
                        neutral=min(borrowed),
                    )
                if EARTH in state.sources(neutral) and not borrowed:
                    found.tell("earth_carries_load", state.positions, device=name)
        earth = None if control.earth is None or not control.needs_earth else f"{name}.{control.earth}"
        if earth is not None and not any(EARTH in state.sources(earth) for state in states):
            found.tell("earth_missing", None, device=name, terminal=control.earth or "")
        if control.link is not None and not has_neutral:
            a, b = (f"{name}.{one}" for one in control.link)
            if not waiting[0].joined.touch(a, b):
                found.tell("mode_link_missing", None, device=name, one=control.link[0], other=control.link[1])


def look_at_bypasses(drawing: Drawing, fixed: Joined, found: Found) -> None:
    """Each with every contact open: where its two leads lie."""
    rest = {device.id: positions_of(device)[0] for device in drawing.devices if positions_of(device)}
    state = State(drawing, fixed, rest)
    controls = drawing.controls
    lamps = drawing.lamps
    for device in drawing.devices:
        if device.kind is not Kind.BYPASS:
            continue
        ends = [f"{device.id}.1", f"{device.id}.2"]
        across_a_control = [
            control
            for control in controls
            for load in control.loads
            if {state.joined.root(end) for end in ends}
            == {state.joined.root(f"{control.id}.{control.line}"), state.joined.root(f"{control.id}.{load}")}
            and not state.joined.touch(*ends)
        ]
        if across_a_control:
            found.tell("bypass_at_switch", None, bypass=device.id, device=across_a_control[0].id)
            continue
        switched = next((end for end, other in (ends, ends[::-1]) if _is_across(state, end, other, lamps)), None)
        if switched is None:
            found.tell("bypass_not_across_lamps", None, bypass=device.id)
            continue
        for control in controls:
            here = [load for load in control.loads if state.joined.touch(f"{control.id}.{load}", switched)]
            if here and control.feeding_loads and not set(here) & set(control.feeding_loads):
                found.tell("bypass_on_unfed_gang", None, bypass=device.id, device=control.id, terminal=here[0])


def _is_across(state: State, end: str, other: str, lamps: Sequence[Lamp]) -> bool:
    """One lead on what is switched to some lamp, the other on neutral, as that lamp's."""
    if state.is_live(end) or not state.neutrals(other) or state.joined.touch(end, other):
        return False
    return any(
        state.joined.touch(f"{lamp.id}.{here}", end) and state.neutrals(f"{lamp.id}.{there}") & state.neutrals(other)
        for lamp in lamps
        for here, there in (("1", "2"), ("2", "1"))
    )
