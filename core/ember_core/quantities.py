"""Quantities: what a field of a part means, its unit and bounds; and a figure with its source."""

from __future__ import annotations

import math
from dataclasses import Field, dataclass, field, fields
from enum import StrEnum
from functools import cache
from typing import Any, TypeVar

from ember_core.errors import InputError

W = TypeVar("W", bound=StrEnum)


class Source(StrEnum):
    """Where a figure comes from."""

    DECLARED = "declared"  # maker's listing, leaflet or marking
    MEASURED = "measured"  # read on site or on the bench
    ASSUMED = "assumed"  # typical for the class; not known for this part


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """A number with its range and source.

    Parameters
    ----------
    low, typical, high : SI value [unit of the field]; low <= typical <= high.
    source : see `Source`.
    note : where exactly it is from, e.g. "leaflet, page 2"; may be empty.
    """

    typical: float
    low: float
    high: float
    source: Source
    note: str = ""

    @staticmethod
    def point(value: float, source: Source = Source.ASSUMED) -> Figure:
        """A figure without range."""
        return Figure(typical=value, low=value, high=value, source=source)


@dataclass(frozen=True, slots=True, kw_only=True)
class Quantity:
    """What one numeric field is: stated once, used for checking, schema and documents.

    Parameters
    ----------
    unit : SI unit symbol, "1" for a ratio or count.
    low, high : bounds [unit], both allowed values.
    meaning : one phrase for the nomenclature.
    optional : the field may be absent (None).
    integer : whole numbers only.
    is_rating : a limit or rating that is declared for the part; it moves no current, so no sample is drawn of it.
    words : the figure is one of these words, kept as its place in them, from 0.
    is_lit : it matters only while the light is on; where nobody says, the range of the trade stands in.
    """

    unit: str
    low: float
    high: float
    meaning: str
    optional: bool = False
    integer: bool = False
    is_rating: bool = False
    words: tuple[str, ...] = ()
    is_lit: bool = False

    def check(self, value: object, path: str) -> float | int:
        """Return the value as a number; raise `InputError` with path when it cannot be one."""
        if self.words and isinstance(value, str):
            if value not in self.words:
                raise InputError("unknown_word", path=path, value=value[:40], known=", ".join(self.words))
            return self.words.index(value)
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            raise InputError("not_a_number", path=path, unit=self.unit)
        if not math.isfinite(value):
            raise InputError("not_finite", path=path, unit=self.unit)
        if not self.low <= value <= self.high:
            raise InputError(
                "out_of_bounds", path=path, value=float(value), low=self.low, high=self.high, unit=self.unit
            )
        if self.integer:
            if value != int(value):
                raise InputError("not_whole", path=path, value=float(value))
            return int(value)
        return float(value)


_KEY = "quantity"


def required(unit: str, low: float, high: float, meaning: str, *, integer: bool = False) -> Any:
    """A field that must be given."""
    return field(
        metadata={_KEY: Quantity(unit=unit, low=low, high=high, meaning=meaning, integer=integer)},
    )


def defaulted(unit: str, low: float, high: float, meaning: str, *, default: float) -> Any:
    """A field with a default value."""
    return field(default=default, metadata={_KEY: Quantity(unit=unit, low=low, high=high, meaning=meaning)})


def optional(unit: str, low: float, high: float, meaning: str) -> Any:
    """A field that may be absent: there is no such thing in this part."""
    return field(
        default=None,
        metadata={_KEY: Quantity(unit=unit, low=low, high=high, meaning=meaning, optional=True)},
    )


def rating(unit: str, low: float, high: float, meaning: str) -> Any:
    """A declared limit, rating or size of a part; absent where nobody says."""
    return field(
        default=None,
        metadata={_KEY: Quantity(unit=unit, low=low, high=high, meaning=meaning, optional=True, is_rating=True)},
    )


def lit(unit: str, low: float, high: float, meaning: str, *, integer: bool = False) -> Any:
    """A figure of the on state; absent where nobody says. No off-state current depends on it."""
    return field(
        default=None,
        metadata={
            _KEY: Quantity(
                unit=unit,
                low=low,
                high=high,
                meaning=meaning,
                optional=True,
                integer=integer,
                is_rating=True,
                is_lit=True,
            )
        },
    )


def worded(kinds: type[StrEnum], meaning: str) -> Any:
    """A property that is one of some words; absent where nobody says. Kept as a number, so that it has a source."""
    words = tuple(kind.value for kind in kinds)
    return field(
        default=None,
        metadata={
            _KEY: Quantity(
                unit="1",
                low=0,
                high=len(words) - 1,
                meaning=meaning,
                optional=True,
                integer=True,
                is_rating=True,
                words=words,
            )
        },
    )


def word_of(kinds: type[W], place: float | None) -> W | None:
    """The word at a place, or None where nobody says."""
    return None if place is None else list(kinds)[int(place)]


def quantity_of(spec: Field[Any]) -> Quantity | None:
    """The quantity of a dataclass field, or None for a field that is no number."""
    found = spec.metadata.get(_KEY)
    return found if isinstance(found, Quantity) else None


@cache
def quantities_of(kind: Any) -> tuple[tuple[str, Quantity], ...]:
    """Every field of a kind of part that is a number, with what it is."""
    return tuple((spec.name, found) for spec in fields(kind) if (found := quantity_of(spec)) is not None)


def check_bounds(part: Any, path: str = "") -> None:
    """Check every quantity of a part against its bounds; raise `InputError` at the first that fails."""
    kind: Any = type(part)
    for name, quantity in quantities_of(kind):
        value = getattr(part, name)
        if value is None and quantity.optional:
            continue
        # Nearly all are numbers within their bounds: nothing more to look at.
        if type(value) is float and quantity.low <= value <= quantity.high and not quantity.integer:
            continue
        quantity.check(value, f"{path}.{name}" if path else name)
