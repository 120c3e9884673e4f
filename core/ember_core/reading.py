"""Reading a JSON document strictly: everything that is wrong is collected with its place, and told at once."""

from __future__ import annotations

import math
from collections.abc import Iterable
from enum import StrEnum
from typing import Any, TypeVar

from ember_core.errors import InputError

W = TypeVar("W", bound=StrEnum)

LONGEST_NAME = 80


class Reader:
    """Collects what is wrong.

    Parameters
    ----------
    longest : letters of a name.
    """

    def __init__(self, longest: int = LONGEST_NAME) -> None:
        self.errors: list[InputError] = []
        self.longest = longest

    def wrong(self, code: str, path: str, **params: str | int | float) -> None:
        """One thing that is wrong, at its place."""
        self.errors.append(InputError(code, path=path, **params))

    def entries(self, data: Any, path: str, most: int) -> list[Any]:
        """A list of no more than so many."""
        if not isinstance(data, list):
            self.wrong("not_a_list", path)
            return []
        if len(data) > most:
            self.wrong("too_many", path, most=most)
            return []
        return data

    def keys(self, data: Any, path: str, allowed: Iterable[str]) -> dict[str, Any]:
        """An object with no other keys than these."""
        if not isinstance(data, dict):
            self.wrong("not_an_object", path)
            return {}
        for name in data:
            if name not in allowed:
                self.wrong(
                    "unknown_key", f"{path}.{name}" if path else str(name), key=str(name)[: self.longest], near=""
                )
        return data

    def text(self, data: Any, path: str) -> str:
        """A name: some letters, not too many."""
        if not isinstance(data, str) or not data.strip() or len(data) > self.longest:
            self.wrong("not_a_name", path)
            return ""
        return data

    def number(self, data: Any, path: str, low: float, high: float, *, unit: str, is_whole: bool = False) -> float:
        """A number inside its bounds, both allowed [unit]; the lower bound where it is none."""
        if isinstance(data, bool) or not isinstance(data, int | float):
            self.wrong("not_a_number", path, unit=unit)
            return low
        if not math.isfinite(data):
            self.wrong("not_finite", path, unit=unit)
            return low
        if not low <= data <= high:
            self.wrong("out_of_bounds", path, value=float(data), low=low, high=high, unit=unit)
            return low
        if is_whole and data != int(data):
            self.wrong("not_whole", path, value=float(data))
            return low
        return float(data)

    def whole(self, data: Any, path: str, low: int, high: int, *, unit: str = "1") -> int:
        """A whole number inside its bounds."""
        return int(self.number(data, path, low, high, unit=unit, is_whole=True))

    def flag(self, data: Any, path: str) -> bool:
        """True or false."""
        if not isinstance(data, bool):
            self.wrong("not_a_flag", path)
        return data is True

    def word(self, data: Any, path: str, kinds: type[W]) -> W:
        """One of some words; the first where it is none."""
        try:
            return kinds(data)
        except ValueError:
            self.wrong("unknown_word", path, value=str(data)[:40], known=", ".join(kind.value for kind in kinds))
            return next(iter(kinds))

    def unique(self, names: list[str], path: str) -> None:
        """No name twice."""
        for name in sorted({name for name in names if name and names.count(name) > 1}):
            self.wrong("name_twice", path, key=name)
