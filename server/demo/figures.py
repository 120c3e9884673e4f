"""How the made-up parts of the demo state a figure, and what each shelf is made of."""

from __future__ import annotations

from enum import StrEnum
from typing import Any

Json = dict[str, Any]
# Maker, name, supply voltage it is made for [V] or none, note, piece of a loop sheet.
Shelf = tuple[tuple[str, str, float | None, str, Json], ...]


def declared(value: float, note: str = "leaflet") -> Json:
    """A figure that the (made-up) maker gives, good to 10 %."""
    return {"low": value * 0.9, "typical": value, "high": value * 1.1, "source": "declared", "note": note}


def exact(value: float, note: str = "marking") -> Json:
    """A figure printed on the part."""
    return {"low": value, "typical": value, "high": value, "source": "declared", "note": note}


def says(word: StrEnum, note: str = "leaflet") -> Json:
    """A property in a word that the maker gives."""
    return exact(float(list(type(word)).index(word)), note)


def measured(value: float, spread_ratio: float = 0.05, note: str = "bench") -> Json:
    """A figure read on the bench."""
    return {
        "low": value * (1 - spread_ratio),
        "typical": value,
        "high": value * (1 + spread_ratio),
        "source": "measured",
        "note": note,
    }


def assumed(low: float, typical: float, high: float) -> Json:
    """A figure nobody gave: the range of its kind."""
    return {"low": low, "typical": typical, "high": high, "source": "assumed", "note": "typical of its kind"}
