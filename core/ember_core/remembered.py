"""What was found of a sheet, remembered: screens, papers and comparisons ask for the same gang again and again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache, wraps
from typing import Concatenate, ParamSpec, TypeVar

from ember_core.sheet import Sheet

P = ParamSpec("P")
T = TypeVar("T")
# Answers of one kind that are held at a time; each is some kilobytes.
MOST_HELD = 512
_clear: list[Callable[[], None]] = []


def remembered(work: Callable[Concatenate[Sheet, P], T]) -> Callable[Concatenate[Sheet, P], T]:
    """A function of a sheet that gives the same answer, the object itself, for the same figures under whatever name.

    The work hangs on its arguments alone, and nobody changes what it gives. What raises is not remembered.
    `__wrapped__` is the work itself.
    """
    cached = lru_cache(maxsize=MOST_HELD)(work)
    held: Callable[Concatenate[Sheet, P], T] = cached  # type: ignore[assignment]
    _clear.append(cached.cache_clear)

    @wraps(work)
    def ask(given: Sheet, /, *more: P.args, **named: P.kwargs) -> T:
        return held(replace(given, name=""), *more, **named)

    return ask


def forget() -> None:
    """Everything, so that whoever measures how long work takes measures work."""
    for clear in _clear:
        clear()
