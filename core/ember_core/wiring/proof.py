"""What a wiring does: every state of its switches looked at, and everything that is wrong with it by name.

A drawing works where, in some state, each lamp is lit across line and neutral of one circuit by what is meant to light
it, is dark in another, and nothing stands against it. A smart lamp is to be fed in every state instead.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import product
from math import prod

from ember_core.errors import InputError
from ember_core.findings import Severity
from ember_core.wiring.drawing import (
    EARTH,
    Control,
    Drawing,
    Kind,
    Lamp,
    Mark,
    NeutralUse,
    contacts_of,
    positions_of,
    terminals_of,
)
from ember_core.wiring.nets import DARK_RATIO, LIT_RATIO, Joined, Positions, State, fixed_pairs

MOST_STATES = 4096
# States times what is in each; real boxes have a few dozen states.
MOST_LOOKED_AT = 200_000
# Cores that a terminal takes where nobody says.
USUAL_HOLDS = 2
EARTH_COLOURS = frozenset({"green-yellow", "green/yellow", "green", "bare"})
NEUTRAL_COLOURS = frozenset({"blue", "light blue", "white", "grey", "gray"})


class LampIs(StrEnum):
    """What a lamp does in a state."""

    ON = "on"
    OFF = "off"
    HALF = "half"
    SERIES = "series"
    OTHER = "other"


class Supply(StrEnum):
    """Through what a control feeds itself while it waits."""

    LOOP = "loop"
    BYPASS = "bypass"
    NEUTRAL = "neutral"
    NONE = "none"


@dataclass(frozen=True, slots=True, kw_only=True)
class WiringFinding:
    """One thing that is wrong, or to be known.

    Parameters
    ----------
    params : devices, terminals, cores and circuits that it is about.
    state : positions in which it is so; None where it is so in any.
    """

    code: str
    severity: Severity
    params: Mapping[str, str]
    state: Mapping[str, str] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One state and what it does."""

    positions: Mapping[str, str]
    lamps: Mapping[str, LampIs]
    supplied: Mapping[str, Supply]


@dataclass(frozen=True, slots=True, kw_only=True)
class WiringProof:
    """What a drawing does."""

    works: bool
    findings: tuple[WiringFinding, ...]
    rows: tuple[Row, ...]


_OTHER = {
    "L1": "L2",
    "L2": "L1",
    "straight": "crossed",
    "crossed": "straight",
    "open": "closed",
    "closed": "open",
    "released": "pressed",
    "pressed": "released",
}
_WARN = frozenset(
    {"switch_changes_nothing", "loose_end", "terminal_overfilled", "neutral_colour_live", "control_unfed_when_off"}
)
_INFO = frozenset({"live_when_off"})


def _severity(code: str) -> Severity:
    if code in _INFO:
        return Severity.INFO
    return Severity.WARN if code in _WARN else Severity.STOP


class _Found:
    """Findings, each told once, with the first state in which it is so."""

    def __init__(self) -> None:
        self.all: dict[tuple[str, tuple[tuple[str, str], ...]], WiringFinding] = {}

    def tell(self, code: str, state: Positions | None, **params: str) -> None:
        key = (code, tuple(sorted(params.items())))
        if key not in self.all:
            self.all[key] = WiringFinding(
                code=code, severity=_severity(code), params=params, state=None if state is None else dict(state)
            )

    def sorted(self) -> tuple[WiringFinding, ...]:
        order = [Severity.STOP, Severity.WARN, Severity.INFO]
        return tuple(sorted(self.all.values(), key=lambda one: order.index(one.severity)))


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
    found = _Found()
    supplies = _Supplies(drawing, fixed)
    rows: list[Row] = []
    states: list[State] = []
    for combination in product(*moving.values()):
        positions = dict(zip(moving, combination, strict=True))
        state = State(drawing, fixed, positions)
        states.append(state)
        _look_at_sources(state, found)
        rows.append(Row(positions=positions, lamps=_lamps(state, fixed, found), supplied=supplies.of(positions)))
    _look_at_lamps(drawing, rows, states, found)
    _look_at_ways(drawing, rows, found)
    _look_at_controls(drawing, states, rows, found)
    _look_at_bypasses(drawing, fixed, found)
    _look_at_cores(drawing, states, rows, found)
    findings = found.sorted()
    works = all(one.severity is not Severity.STOP for one in findings)
    return WiringProof(works=works, findings=findings, rows=tuple(rows))


def _look_at_sources(state: State, found: _Found) -> None:
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


def _lamps(state: State, fixed: Joined, found: _Found) -> dict[str, LampIs]:
    """What each lamp does, and what flows where it must not."""
    has_diode = any(device.kind is Kind.DIODE for device in state.drawing.devices)
    open_diodes = State(state.drawing, fixed, state.positions, diodes=False) if has_diode else None
    told = {}
    for lamp in state.drawing.lamps:
        is_so = _lamp(state, lamp.id)
        if is_so is LampIs.ON and open_diodes is not None and _lamp(open_diodes, lamp.id) is not LampIs.ON:
            is_so = LampIs.HALF
            found.tell("half_wave_feed", state.positions, lamp=lamp.id)
        if is_so is LampIs.SERIES:
            found.tell("lamps_in_series", state.positions, lamp=lamp.id)
        told[lamp.id] = is_so
    for element in state.elements:
        _look_at_return(state, element.a, element.b, element.device, found)
    return told


def _lamp(state: State, lamp: str) -> LampIs:
    share = state.across(lamp)
    if share < DARK_RATIO:
        return LampIs.OFF
    if share < LIT_RATIO:
        return LampIs.SERIES
    for one, other in (("1", "2"), ("2", "1")):
        if state.lines(f"{lamp}.{one}") & state.neutrals(f"{lamp}.{other}"):
            return LampIs.ON
    return LampIs.OTHER


def _look_at_return(state: State, a: str, b: str, device: str, found: _Found) -> None:
    """Current that goes back another way than by the neutral of the circuit it came from."""
    if abs(state.volts(a) - state.volts(b)) < DARK_RATIO:
        return
    for here, there in ((a, b), (b, a)):
        lines, neutrals = state.lines(here), state.neutrals(there)
        if not lines:
            continue
        if neutrals and not lines & neutrals:
            found.tell("borrowed_neutral", state.positions, device=device, line=min(lines), neutral=min(neutrals))
        if EARTH in state.sources(there) and not neutrals:
            found.tell("earth_carries_load", state.positions, device=device)


class _Supplies:
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


def _look_at_lamps(drawing: Drawing, rows: list[Row], states: list[State], found: _Found) -> None:
    for lamp in drawing.lamps:
        is_so = [row.lamps[lamp.id] for row in rows]
        if lamp.smart:
            if LampIs.ON not in is_so:
                found.tell("lamp_never_lights", None, lamp=lamp.id)
            for row, one in zip(rows, is_so, strict=True):
                if one is not LampIs.ON and LampIs.ON in is_so:
                    found.tell("smart_lamp_behind_control", row.positions, lamp=lamp.id)
                    break
            continue
        meant = drawing.intended.get(lamp.id)
        active = [True if meant is None else any(_is_closed(drawing, row.positions, p) for p in meant) for row in rows]
        idle = [True if meant is None else not one for one in active]
        if not any(one is LampIs.ON and is_meant for one, is_meant in zip(is_so, active, strict=True)):
            found.tell("lamp_never_lights", None, lamp=lamp.id)
        if not any(one is LampIs.OFF and is_idle for one, is_idle in zip(is_so, idle, strict=True)):
            lit = next((row.positions for row, one in zip(rows, is_so, strict=True) if one is not LampIs.OFF), None)
            found.tell("lamp_always_lit", lit, lamp=lamp.id)
        if meant is not None:
            for row, one, is_meant in zip(rows, is_so, active, strict=True):
                if one is LampIs.ON and not is_meant:
                    found.tell("gangs_exchanged", row.positions, lamp=lamp.id, meant=", ".join(meant))
                    break
            _look_behind_others(drawing, lamp.id, rows, active, found)
        for row, state in zip(rows, states, strict=True):
            ends = [state.is_live(f"{lamp.id}.{end}") for end in ("1", "2")]
            if row.lamps[lamp.id] is LampIs.OFF and any(ends) and LampIs.ON in is_so:
                found.tell("neutral_switched", row.positions, lamp=lamp.id)
                break


def _look_behind_others(drawing: Drawing, lamp: str, rows: list[Row], active: list[bool], found: _Found) -> None:
    """A lamp that its own switch lights only while the switch of another lamp is on."""
    own = {point.split(".")[0] for point in drawing.intended[lamp]}
    others = {
        point.split(".")[0] for name, points in drawing.intended.items() if name != lamp for point in points
    } - own
    seen: dict[tuple[tuple[str, str], ...], set[LampIs]] = {}
    for row, is_meant in zip(rows, active, strict=True):
        if not is_meant:
            continue
        rest = tuple(sorted((name, at) for name, at in row.positions.items() if name not in others))
        seen.setdefault(rest, set()).add(row.lamps[lamp])
        if {LampIs.ON, LampIs.OFF} <= seen[rest]:
            found.tell("lamp_behind_another", row.positions, lamp=lamp)
            return


_BY_HAND = (Kind.ONE_WAY, Kind.PUSH, Kind.TWO_WAY, Kind.INTERMEDIATE, Kind.TIMER)


def _look_for_idle(
    drawing: Drawing,
    rows: list[Row],
    by_positions: Mapping[tuple[tuple[str, str], ...], Mapping[str, LampIs]],
    found: _Found,
) -> None:
    """A switch that is wired, hangs on no input, and changes no lamp whatever the others do."""
    everything = fixed_pairs(drawing)
    for device in drawing.devices:
        if device.kind in _BY_HAND:
            for position in positions_of(device):
                everything += [(f"{device.id}.{a}", f"{device.id}.{b}") for a, b in contacts_of(device, position)]
    fixed = Joined(everything)
    inputs = [f"{control.id}.{name}" for control in drawing.controls for name in control.inputs]
    wired = {point for joint in drawing.joints if len(joint) > 1 for point in joint}
    for device in drawing.devices:
        terminals = [f"{device.id}.{name}" for name in terminals_of(device)]
        if device.kind not in _BY_HAND or not any(point in wired for point in terminals):
            continue
        if any(fixed.touch(point, entry) for point in terminals for entry in inputs):
            continue
        turned = (
            (row, tuple(sorted({**row.positions, device.id: _OTHER[row.positions[device.id]]}.items()))) for row in rows
        )
        if all(row.lamps == by_positions[key] for row, key in turned):
            found.tell("switch_changes_nothing", None, device=device.id)


def _look_at_ways(drawing: Drawing, rows: list[Row], found: _Found) -> None:
    """A two-way or intermediate switch changes its lamp from every position of the others, or from none."""
    kinds = (Kind.TWO_WAY, Kind.INTERMEDIATE, Kind.TIMER)
    ways = [device.id for device in drawing.devices if device.kind in kinds]
    by_positions = {tuple(sorted(row.positions.items())): row.lamps for row in rows}
    _look_for_idle(drawing, rows, by_positions, found)
    for switch in ways:
        for lamp in drawing.lamps:
            changes: dict[tuple[tuple[str, str], ...], list[tuple[bool, Positions]]] = {}
            for row in rows:
                turned = {**row.positions, switch: _OTHER[row.positions[switch]]}
                other = by_positions[tuple(sorted(turned.items()))]
                rest = tuple(sorted((name, at) for name, at in row.positions.items() if name not in ways))
                is_changed = (row.lamps[lamp.id] is LampIs.ON) != (other[lamp.id] is LampIs.ON)
                changes.setdefault(rest, []).append((is_changed, row.positions))
            for told in changes.values():
                if any(is_changed for is_changed, _ in told) and not all(is_changed for is_changed, _ in told):
                    where = next(positions for is_changed, positions in told if not is_changed)
                    found.tell("switch_does_nothing", where, device=switch, lamp=lamp.id)


def _is_closed(drawing: Drawing, positions: Positions, point: str) -> bool:
    """Whether a device joins this terminal to another in a state."""
    name, terminal = point.split(".", 1)
    device = next(one for one in drawing.devices if one.id == name)
    return any(terminal in pair for pair in contacts_of(device, positions.get(name, "")))


def _look_at_controls(drawing: Drawing, states: list[State], rows: list[Row], found: _Found) -> None:
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


def _look_at_bypasses(drawing: Drawing, fixed: Joined, found: _Found) -> None:
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


def _look_at_cores(drawing: Drawing, states: list[State], rows: list[Row], found: _Found) -> None:
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


def _look_at_terminals(drawing: Drawing, found: _Found) -> None:
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
