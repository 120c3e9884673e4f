"""Gangs of one loop as people tell them apart."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from wording.texts import catalogue, fill


def told_apart(gangs: Sequence[tuple[int, str]]) -> list[str]:
    """A name for each of them, no two alike: its own, with its number where it has none or another has the same.

    Parameters
    ----------
    gangs : position from 1 and name, which may be empty.
    """
    texts = catalogue("papers")["sheet"]
    times = Counter(name for _, name in gangs)

    def told(position: int, name: str) -> str:
        if not name:
            return fill(texts["gang"], {"gang": position})
        return name if times[name] == 1 else fill(texts["gang_named"], {"gang": position, "name": name})

    return [told(position, name) for position, name in gangs]
