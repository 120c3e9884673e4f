"""Where a bypass goes: at the luminaire or a junction box where both conductors are, never at the switch."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from ember_core.bypass.limits import heats
from ember_core.errors import InputError
from ember_core.findings import Finding, Severity
from ember_core.parts import Bypass
from ember_core.quantities import check_bounds, optional
from ember_core.sheet import Sheet
from ember_core.spread.judged import is_well
from ember_core.spread.observe import observe


class Where(StrEnum):
    """Kinds of place."""

    LUMINAIRE = "luminaire"
    JUNCTION_BOX = "junction_box"
    LAMPHOLDER_ADAPTER = "lampholder_adapter"
    SWITCH = "switch"


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """A place that was looked at; None where nobody looked.

    Parameters
    ----------
    where : see `Where`. name : which luminaire or box. has_both_conductors : switched live and neutral are both there.
    is_reachable : the joint stays accessible. room_m : largest side of a part that goes in [m].
    takes_adapter : the lampholder takes an adapter. in_insulation : thermal insulation covers it.
    """

    where: Where = Where.LUMINAIRE
    name: str = ""
    has_both_conductors: bool | None = None
    is_reachable: bool | None = None
    room_m: float | None = optional("m", 1e-3, 1.0, "room for the part, largest side")
    takes_adapter: bool | None = None
    in_insulation: bool | None = None

    def __post_init__(self) -> None:
        check_bounds(self, "place")
        if len(self.name) > 60:
            raise InputError("bad_text", path="place.name", most=60)


@dataclass(frozen=True, slots=True, kw_only=True)
class WireLine:
    """A line of the wire map: ends and conductor by code, and the marking."""

    start: str
    end: str
    conductor: str
    marking: str


def findings(place: Place, bypass: Bypass | None) -> tuple[Finding, ...]:
    """What the place says of a part; of none, nothing."""
    if bypass is None:
        return ()
    found: list[Finding] = []
    if place.where is Where.SWITCH:
        return (Finding(code="place_at_switch", severity=Severity.STOP),)
    if place.where is Where.LAMPHOLDER_ADAPTER:
        found += _asked(place.takes_adapter, "place_takes_no_adapter", "place_adapter_unknown", Severity.STOP)
    else:
        found += _asked(place.has_both_conductors, "place_lacks_conductor", "place_conductors_unknown", Severity.STOP)
    found += _asked(place.is_reachable, "place_not_reachable", "place_reach_unknown", Severity.WARN)
    height = bypass.height_m
    if place.room_m is None or height is None:
        found.append(Finding(code="place_room_unknown", severity=Severity.WARN))
    elif height > place.room_m:
        params = {"height_m": height, "room_m": place.room_m}
        found.append(Finding(code="place_too_small", severity=Severity.STOP, params=params))
    if heats(bypass):
        covered = None if place.in_insulation is None else not place.in_insulation
        found += _asked(covered, "place_insulated", "place_insulation_unknown", Severity.STOP)
    if not found:
        found.append(Finding(code="place_good", severity=Severity.GOOD))
    return tuple(found)


def _asked(answer: bool | None, no: str, unknown: str, severity: Severity) -> list[Finding]:
    if answer is None:
        return [Finding(code=unknown, severity=Severity.WARN)]
    return [] if answer else [Finding(code=no, severity=severity)]


def wire_lines(place: Place) -> tuple[WireLine, ...]:
    """The two lines that a bypass adds to the wire map."""
    return (
        WireLine(start="switched_live", end="bypass_1", conductor="switched_live", marking="BP-1"),
        WireLine(start="bypass_2", end="neutral", conductor="neutral", marking="BP-2"),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class GangNeed:
    """Whether one gang of a box is well without a bypass, and whether its output feeds electronics."""

    feeds: bool
    is_well: bool


def needs(sheets: Sequence[Sheet]) -> tuple[GangNeed, ...]:
    """Gang by gang: a bypass belongs to the circuit whose own lamps or feed are not well without one.

    The electronics of a box hang on the gang that feeds them, so a starved control is cured there and nowhere else.

    Raises
    ------
    SolverError : a gang does not settle.
    """
    return tuple(
        GangNeed(feeds=sheet.loop.control.standby is not None, is_well=is_well(observe(sheet.loop, with_shown=False)))
        for sheet in sheets
    )
