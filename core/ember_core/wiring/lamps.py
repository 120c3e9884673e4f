"""What the lamps of a wiring do, and the switches that are to change them."""

from __future__ import annotations

from collections.abc import Mapping

from ember_core.wiring.drawing import EARTH, Drawing, Kind, contacts_of, positions_of, terminals_of
from ember_core.wiring.nets import DARK_RATIO, LIT_RATIO, Joined, Positions, State, fixed_pairs
from ember_core.wiring.told import Found, LampIs, Row

_BY_HAND = (Kind.ONE_WAY, Kind.PUSH, Kind.TWO_WAY, Kind.INTERMEDIATE, Kind.TIMER)
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


def states_of_lamps(state: State, fixed: Joined, found: Found) -> dict[str, LampIs]:
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


def _look_at_return(state: State, a: str, b: str, device: str, found: Found) -> None:
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


def look_at_lamps(drawing: Drawing, rows: list[Row], states: list[State], found: Found) -> None:
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


def _look_behind_others(drawing: Drawing, lamp: str, rows: list[Row], active: list[bool], found: Found) -> None:
    """A lamp that its own switch lights only while another is on, be it of a lamp that is not drawn."""
    own = {point.split(".")[0] for point in drawing.intended[lamp]}
    others = {point.split(".")[0] for name, points in drawing.intended.items() if name != lamp for point in points}
    others |= {device.id for device in drawing.devices if device.kind in _BY_HAND}
    others -= own
    seen: dict[tuple[tuple[str, str], ...], set[LampIs]] = {}
    for row, is_meant in zip(rows, active, strict=True):
        if not is_meant:
            continue
        rest = tuple(sorted((name, at) for name, at in row.positions.items() if name not in others))
        seen.setdefault(rest, set()).add(row.lamps[lamp])
        if {LampIs.ON, LampIs.OFF} <= seen[rest]:
            found.tell("lamp_behind_another", row.positions, lamp=lamp)
            return


def _look_for_idle(
    drawing: Drawing,
    rows: list[Row],
    by_positions: Mapping[tuple[tuple[str, str], ...], Mapping[str, LampIs]],
    found: Found,
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


def look_at_ways(drawing: Drawing, rows: list[Row], found: Found) -> None:
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
