"""A part of the shelf: what it is, and for each of its figures what is said of it and by whom.

Two sources can contradict each other; both are kept, and one of them is in use.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import MISSING, dataclass, fields
from enum import StrEnum
from typing import Any

from ember_core.errors import InputError, InputErrors
from ember_core.parts import (
    BYPASS_CLASSES,
    FEED_CLASSES,
    LAMP_CLASSES,
    BoxType,
    CableType,
    Control,
    Hardware,
    RectifierLamp,
    SmartLamp,
    SpacerType,
)
from ember_core.quantities import Figure, Quantity, Source, quantity_of

LONGEST_TEXT = 120
LONGEST_NOTE = 300
Json = dict[str, Any]


class Category(StrEnum):
    """What a part is."""

    LAMP = "lamp"
    CONTROL = "control"
    BYPASS = "bypass"
    CABLE = "cable"
    BOX = "box"
    SPACER = "spacer"


# An ordinary switch has no feed; its kind is this word.
NO_FEED = "switch"
KINDS: Mapping[Category, Mapping[str, type[Any]]] = {
    Category.LAMP: {part.kind: part for part in (*LAMP_CLASSES, SmartLamp)},
    Category.CONTROL: {NO_FEED: Control, **{feed.kind: Control for feed in FEED_CLASSES}},
    Category.BYPASS: {part.kind: part for part in BYPASS_CLASSES},
    Category.CABLE: {CableType.kind: CableType},
    Category.BOX: {BoxType.kind: BoxType},
    Category.SPACER: {SpacerType.kind: SpacerType},
}
# These belong to the mains they are made for.
OF_A_SUPPLY = (Category.LAMP, Category.CONTROL, Category.BYPASS)
_NOT_STATED = ("v0_v", "count")
# Figures of a control's terminals and size: of the part, never of a loop sheet.
WIRING = Hardware.kind
_NESTED = ("standby", WIRING)


@dataclass(frozen=True, slots=True, kw_only=True)
class Claim:
    """What one source says of one figure.

    Parameters
    ----------
    field : its name; of a control's feed `standby.p_w` and the like. figure : value, range, source, where it is from.
    in_use : the one that is calculated with.
    """

    field: str
    figure: Figure
    in_use: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """A part.

    Parameters
    ----------
    maker, name : together its identity. kind : see `KINDS`; of a control that of its feed.
    v_rms : supply it is made for [V]; None for boxes, spacers and cables. claims : one or more a figure.
    """

    maker: str
    name: str
    category: Category
    kind: str
    v_rms: float | None = None
    note: str = ""
    claims: tuple[Claim, ...] = ()


def fields_of(category: Category, kind: str) -> dict[str, tuple[Quantity, bool]]:
    """Fields that a kind has, by name as claims use it: quantity, and whether it must be given.

    Raises
    ------
    InputError : there is no such kind in the category.
    """
    kinds = KINDS[category]
    if kind not in kinds:
        raise InputError("unknown_kind", path="kind", value=kind[:40], known=", ".join(kinds))
    found = _quantities(kinds[kind], "")
    if category is Category.CONTROL and kind != NO_FEED:
        feed = next(part for part in FEED_CLASSES if part.kind == kind)
        found |= _quantities(feed, "standby.")
    if category is Category.CONTROL:
        found |= _quantities(Hardware, f"{WIRING}.")
    return found


def _quantities(part_class: type[Any], prefix: str) -> dict[str, tuple[Quantity, bool]]:
    return {
        f"{prefix}{spec.name}": (quantity, spec.default is MISSING)
        for spec in fields(part_class)
        if (quantity := quantity_of(spec)) is not None and spec.name not in _NOT_STATED
    }


def check(entry: Entry) -> None:
    """A part is whole and possible.

    Raises
    ------
    InputErrors : everything that is wrong, each with its path: a column's name, or `figures[field]`.
    """
    errors: list[InputError] = []
    for path, text, most in (("maker", entry.maker, LONGEST_TEXT), ("name", entry.name, LONGEST_TEXT)):
        if not text.strip() or len(text) > most:
            errors.append(InputError("bad_text", path=path, most=most))
    if len(entry.note) > LONGEST_NOTE:
        errors.append(InputError("bad_text", path="note", most=LONGEST_NOTE))
    if entry.category in OF_A_SUPPLY:
        if entry.v_rms is None:
            errors.append(InputError("missing", path="v_rms", key="v_rms"))
        elif not 80.0 <= entry.v_rms <= 280.0:
            errors.append(InputError("out_of_bounds", path="v_rms", value=entry.v_rms, low=80.0, high=280.0, unit="V"))
    try:
        known = fields_of(entry.category, entry.kind)
    except InputError as error:
        raise InputErrors([*errors, error]) from error
    for claim in entry.claims:
        try:
            check_claim(claim, known)
        except InputError as error:
            errors.append(error)
    for name, (_, needed) in known.items():
        used = sum(claim.in_use for claim in entry.claims if claim.field == name)
        stated = any(claim.field == name for claim in entry.claims)
        if used > 1 or (stated and used == 0):
            errors.append(InputError("not_one_in_use", path=f"figures[{name}]", key=name, used=used))
        elif needed and not stated:
            errors.append(InputError("missing", path=f"figures[{name}]", key=name))
    if not errors:
        try:
            _check_whole(entry)
        except InputError as error:
            errors.append(error)
    if errors:
        raise InputErrors(errors)


def check_claim(claim: Claim, known: Mapping[str, tuple[Quantity, bool]]) -> None:
    """One claim is about a figure of the kind and within its bounds; raises `InputError`."""
    path = f"figures[{claim.field}]"
    if claim.field not in known:
        raise InputError("unknown_key", path=path, key=claim.field[:60], near="")
    quantity, figure = known[claim.field][0], claim.figure
    for value in (figure.low, figure.typical, figure.high):
        quantity.check(value, path)
    if not figure.low <= figure.typical <= figure.high:
        raise InputError("range_not_in_order", path=path, low=figure.low, typical=figure.typical, high=figure.high)
    if len(figure.note) > LONGEST_NOTE:
        raise InputError("bad_text", path=path, most=LONGEST_NOTE)


def _check_whole(entry: Entry) -> None:
    """What holds between figures."""
    part_class = KINDS[entry.category][entry.kind]
    if issubclass(part_class, RectifierLamp):
        values = {claim.field: claim.figure.typical for claim in entry.claims if claim.in_use}
        part_class(count=1, **values).check_consistency("figures")


def piece(entry: Entry) -> Json:
    """The part as a piece of a loop sheet: its figures in use, with range and source."""
    made: Json = {}
    if entry.category in (Category.LAMP, Category.BYPASS):
        made["kind"] = entry.kind
    for claim in entry.claims:
        if not claim.in_use:
            continue
        head, _, rest = claim.field.partition(".")
        if head == WIRING:
            continue
        if rest:
            made.setdefault(head, {"kind": entry.kind})[rest] = figure_data(claim.figure)
        else:
            made[head] = figure_data(claim.figure)
    return made


def hardware(entry: Entry) -> Hardware:
    """Terminals, demands and size of a control, by its figures in use."""
    given = [(claim.field.partition("."), claim.figure.typical) for claim in entry.claims if claim.in_use]
    return Hardware(**{name: value for (head, _, name), value in given if head == WIRING})


def figure_data(figure: Figure) -> Json:
    """A figure as the loop sheet writes it."""
    return {
        "low": figure.low,
        "typical": figure.typical,
        "high": figure.high,
        "source": figure.source.value,
        "note": figure.note,
    }


def claims_of(figures: Mapping[str, Any]) -> tuple[Claim, ...]:
    """Claims from a piece of a loop sheet, all in use; bare numbers count as assumed."""
    found: list[Claim] = []
    for name, value in figures.items():
        if name in ("kind", *_NOT_STATED) or value is None:
            continue
        if name in _NESTED:
            found += [
                Claim(field=f"{name}.{inner}", figure=_figure(entry))
                for inner, entry in value.items()
                if inner != "kind" and entry is not None
            ]
        else:
            found.append(Claim(field=name, figure=_figure(value)))
    return tuple(found)


def _figure(value: Any) -> Figure:
    if isinstance(value, dict):
        typical = float(value["typical"])
        return Figure(
            low=float(value.get("low", typical)),
            typical=typical,
            high=float(value.get("high", typical)),
            source=Source(value.get("source", Source.ASSUMED)),
            note=value.get("note", ""),
        )
    return Figure.point(float(value))
