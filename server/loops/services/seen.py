"""What was asked of a loop while one change of it is worked out: each question once, whoever asks."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, TypeVar, cast

from loops.models import Loop

T = TypeVar("T")


class Seen:
    """A loop as it is at one moment, and what was found of it.

    Made anew after each write: an answer that was found before it is no answer after it.

    Parameters
    ----------
    found : answers that whoever wrote has already, as they are after it.
    """

    def __init__(self, loop: Loop, found: Mapping[Callable[[Seen], Any], Any] | None = None) -> None:
        self.loop = loop
        self._found = dict(found or {})

    def of(self, ask: Callable[[Seen], T]) -> T:
        """The answer to a question, asked now or before."""
        if ask not in self._found:
            self._found[ask] = ask(self)
        return cast("T", self._found[ask])
