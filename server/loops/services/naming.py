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
    short = [name or fill(texts["gang"], {"gang": position}) for position, name in gangs]
    times = Counter(short)
    return [
        fill(texts["gang_named"], {"gang": position, "name": name}) if name and times[called] > 1 else called
        for (position, name), called in zip(gangs, short, strict=True)
    ]
