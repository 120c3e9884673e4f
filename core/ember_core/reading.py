"""Reading a JSON document strictly: everything that is wrong is collected with its place, and told at once."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ember_core.errors import InputError

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

    def unique(self, names: list[str], path: str) -> None:
        """No name twice."""
        for name in sorted({name for name in names if name and names.count(name) > 1}):
            self.wrong("name_twice", path, key=name)
