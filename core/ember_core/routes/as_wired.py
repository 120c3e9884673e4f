"""A loop as a way has it: what flows through the lamps where the control is fed straight, or stands twice."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, replace
from enum import StrEnum
from typing import Any

from ember_core.parts import FEED_CLASSES
from ember_core.parts.controls import Control, StandbyFeed
from ember_core.parts.hardware import Demand, Hardware
from ember_core.quantities import quantities_of
from ember_core.routes.ways import WITH_NEUTRAL, Way
from ember_core.sheet import HAS_NEUTRAL, Sheet


class Wired(StrEnum):
    """How a control hangs in its loop: fed through the lamps; by a neutral of its own; one at each of two places."""

    LOOP = "loop"
    STRAIGHT = "straight"
    PAIR = "pair"


def wired_by(way: Way) -> Wired:
    """How the control of a way hangs in the loop."""
    return Wired.STRAIGHT if way in WITH_NEUTRAL else Wired.PAIR if way is Way.PAIR else Wired.LOOP


def wirings_of(hardware: Hardware) -> tuple[Wired, ...]:
    """How a control may hang in a loop by its leaflet, the usual way first; any way where the leaflet is silent."""
    match hardware.word("neutral"):
        case Demand.NONE:
            return (Wired.LOOP, Wired.PAIR)
        case Demand.REQUIRED:
            return (Wired.STRAIGHT,)
    return (Wired.LOOP, Wired.STRAIGHT, Wired.PAIR)


def wired_for(sheet: Sheet, way: Way) -> Sheet:
    """The loop as a way has it: fed straight its electronics take nothing through the lamps; a pair stands twice."""
    wired = wired_by(way)
    if wired is Wired.STRAIGHT:
        return _with_control(sheet, replace(sheet.loop.control, standby=None, has_neutral=True))
    return _with_control(sheet, pair_of(sheet.loop.control), _PAIR) if wired is Wired.PAIR else sheet


def figures_as_wired(figures: Mapping[str, Any], wired: Wired) -> dict[str, Any]:
    """A control's entry of a loop sheet as it hangs in its loop: what `wired_for` does, before the sheet is read.

    Parameters
    ----------
    figures : the entry of one control fed through the lamps, as its leaflet has it.
    """
    if wired is Wired.STRAIGHT:
        return {**{name: entry for name, entry in figures.items() if name != "standby"}, HAS_NEUTRAL: True}
    return _twice(figures, Control, "control.") if wired is Wired.PAIR else dict(figures)


def _twice(entries: Mapping[str, Any], kind: type[Any] | None, prefix: str) -> dict[str, Any]:
    # What nobody gives of one is its usual value, and of two not.
    usual = {} if kind is None else {one.name: one.default for one in fields(kind) if isinstance(one.default, float)}
    found: dict[str, Any] = {
        name: value * _PAIR[f"{prefix}{name}"] for name, value in usual.items() if f"{prefix}{name}" in _PAIR
    }
    for name, entry in entries.items():
        path = f"{prefix}{name}"
        if path == "control.standby" and isinstance(entry, Mapping):
            feed = next((one for one in FEED_CLASSES if one.kind == entry.get("kind")), None)
            found[name] = _twice(entry, feed, f"{path}.")
        elif path in _PAIR and isinstance(entry, Mapping):
            found[name] = {key: _times(value, _PAIR[path]) if key in _RANGE else value for key, value in entry.items()}
        else:
            found[name] = _times(entry, _PAIR[path]) if path in _PAIR else entry
    return found


def _times(value: Any, factor: float) -> Any:
    """A number times a factor; what is no number is told by whoever reads the sheet."""
    return value * factor if isinstance(value, int | float) and not isinstance(value, bool) else value


def _with_control(sheet: Sheet, control: Control, factors: Mapping[str, float] | None = None) -> Sheet:
    """The sheet with another control; ranges of its figures go along, scaled, or go with what is not there."""
    figures = {}
    for path, figure in sheet.figures.items():
        if control.standby is None and path.startswith("control.standby"):
            continue
        factor = (factors or {}).get(path, 1.0)
        figures[path] = replace(
            figure, low=figure.low * factor, typical=figure.typical * factor, high=figure.high * factor
        )
    return replace(sheet, loop=replace(sheet.loop, control=control), figures=figures)


_RANGE = ("low", "typical", "high")
# What two equal controls side by side are against one; voltages stay, and so does what only one of them carries.
_PAIR: Mapping[str, float] = {
    "control.c_snubber_f": 2.0,
    "control.r_leak_ohm": 0.5,
    "control.p_min_w": 2.0,
    "control.standby.p_w": 2.0,
    "control.standby.i_a": 2.0,
    "control.standby.c_series_f": 2.0,
    "control.standby.c_reservoir_f": 2.0,
    "control.standby.r_in_ohm": 0.5,
    "control.standby.r_reservoir_ohm": 0.5,
    "control.standby.r_discharge_ohm": 0.5,
    "control.standby.r_shunt_ohm": 0.5,
}


def pair_of(control: Control) -> Control:
    """Two equal controls side by side: what passes through them while off is doubled, voltages stay."""
    feed = control.standby
    doubled = None if feed is None else replace(feed, **_scaled(feed, "control.standby."))
    return replace(control, standby=doubled, **_scaled(control, "control."))


def _scaled(part: Control | StandbyFeed, prefix: str) -> dict[str, Any]:
    """The figures of a part that a pair has otherwise."""
    kind: Any = type(part)
    return {
        name: value * _PAIR[f"{prefix}{name}"]
        for name, _ in quantities_of(kind)
        if f"{prefix}{name}" in _PAIR and (value := getattr(part, name)) is not None
    }
