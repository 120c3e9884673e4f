"""Typical figures of the classes of two-wire controls, for one of which nobody knows more: data with its reference.

The data is `control_classes.json` beside this file: low, typical and high in SI. The least voltage of a switching
feed goes with the mains, all else does not.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from ember_core.catalogue.class_defaults import region_of
from ember_core.errors import InputError
from ember_core.parts import PhaseMode, SwitchingFeed
from ember_core.quantities import Source

Json = dict[str, Any]
Ends = tuple[float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class ControlClass:
    """A class of controls.

    Parameters
    ----------
    name : its name. feed : kind of its stand-by feed; None for a switch without electronics.
    control, standby : low, typical and high of each figure. phase : what all of the class do while on; None: it varies.
    """

    name: str
    feed: str | None
    control: dict[str, Ends]
    standby: dict[str, Ends]
    phase: PhaseMode | None


@cache
def _data() -> Json:
    loaded: Json = json.loads(files(__package__).joinpath("control_classes.json").read_text(encoding="utf-8"))
    return loaded


@cache
def control_classes() -> tuple[ControlClass, ...]:
    """Every class, in the order in which they are offered."""
    return tuple(
        ControlClass(
            name=entry["name"],
            feed=entry["feed"],
            control={name: _ends(ends) for name, ends in entry["control"].items()},
            standby={name: _ends(ends) for name, ends in entry["standby"].items()},
            phase=None if entry["phase"] is None else PhaseMode(entry["phase"]),
        )
        for entry in _data()["classes"]
    )


def _ends(given: list[float]) -> Ends:
    low, typical, high = (float(value) for value in given)
    return low, typical, high


def typical_control_data(name: str, v_rms: float) -> Json:
    """A control of which only the class is known, as a piece of a loop sheet: every figure a range, all assumed.

    Raises
    ------
    InputError : no such class.
    """
    found = next((entry for entry in control_classes() if entry.name == name), None)
    if found is None:
        known = ", ".join(entry.name for entry in control_classes())
        raise InputError("unknown_kind", path="name", value=name[:40], known=known)
    data = _ranges(found.control)
    if found.phase is not None:
        # A word is kept as its place among the words.
        at = float(list(PhaseMode).index(found.phase))
        data |= _ranges({"phase": (at, at, at)})
    if found.feed is not None:
        standby = dict(found.standby)
        if found.feed == SwitchingFeed.kind:
            region_v = region_of(v_rms)
            scale = v_rms / region_v
            standby["v_min_v"] = _ends([scale * v for v in _data()["v_min_v"][f"{region_v:.0f}"]])
        data["standby"] = {"kind": found.feed, **_ranges(standby)}
    return data


def _ranges(figures: dict[str, Ends]) -> Json:
    return {
        name: {
            "low": low,
            "typical": typical,
            "high": high,
            "source": Source.ASSUMED.value,
            "note": _data()["reference"],
        }
        for name, (low, typical, high) in figures.items()
    }
