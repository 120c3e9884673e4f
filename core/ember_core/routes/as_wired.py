"""A loop as a way has it: what flows through the lamps where the control is fed straight, or stands twice."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from ember_core.parts.controls import Control, StandbyFeed
from ember_core.quantities import quantities_of
from ember_core.routes.ways import WITH_NEUTRAL, Way
from ember_core.sheet import Sheet


def wired_for(sheet: Sheet, way: Way) -> Sheet:
    """The loop as a way has it: fed straight its electronics take nothing through the lamps; a pair stands twice."""
    if way in WITH_NEUTRAL:
        return _with_control(sheet, replace(sheet.loop.control, standby=None))
    return _with_control(sheet, pair_of(sheet.loop.control), _PAIR) if way is Way.PAIR else sheet


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
