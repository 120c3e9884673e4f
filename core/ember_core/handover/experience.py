"""What the record of many loops says: minutes against the plan, what cured, which parts hang where something is wrong.

Few loops say little: order goes by the lower end of Wilson's interval of a share (E. B. Wilson, J. Am. Stat. Assoc. 22,
1927), so that one of one does not come before seven of nine; what is told are the counts.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from math import sqrt
from statistics import median

# Two sides of 95 % of a normal distribution.
_Z = 1.96


@dataclass(frozen=True, slots=True, kw_only=True)
class Done:
    """Minutes that a task took at a loop, done so many times."""

    task: str
    minutes: float
    count: int
    loop: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TaskFigure:
    """A task as it went.

    Attributes
    ----------
    times : how often it was done. median_min : minutes each time. is_outside : of the range that is planned with.
    """

    task: str
    times: int
    median_min: float
    least_min: float
    most_min: float
    low_min: float
    typical_min: float
    high_min: float
    loops: tuple[str, ...]

    @property
    def is_outside(self) -> bool:
        """The middle of what it took is not within what is planned."""
        return not self.low_min <= self.median_min <= self.high_min


def by_task(done: Iterable[Done], planned: Mapping[str, tuple[float, float, float]]) -> tuple[TaskFigure, ...]:
    """Minutes of each task that was ever recorded, what took most time in all first.

    Parameters
    ----------
    planned : low, typical, high of each task [min]; a task without a plan is left out.
    """
    found: dict[str, list[Done]] = defaultdict(list)
    for one in done:
        if one.count > 0 and one.task in planned:
            found[one.task].append(one)
    figures = []
    for task, rows in found.items():
        each = [one.minutes / one.count for one in rows for _ in range(one.count)]
        low, typical, high = planned[task]
        figures.append(
            TaskFigure(
                task=task,
                times=len(each),
                median_min=median(each),
                least_min=min(each),
                most_min=max(each),
                low_min=low,
                typical_min=typical,
                high_min=high,
                loops=_once(one.loop for one in rows),
            )
        )
    spent = {task: sum(one.minutes for one in rows) for task, rows in found.items()}
    return tuple(sorted(figures, key=lambda one: (-spent[one.task], one.task)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Closed:
    """A case as it was closed; `is_held`: nobody opened it again."""

    cause: str
    remedy: str
    loop: str
    is_held: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RemedyFigure:
    """What was done against a cause, how often, and how often that was the end of it."""

    remedy: str
    count: int
    held: int
    loops: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseFigure:
    """What it was, how often, and what was done."""

    cause: str
    count: int
    loops: tuple[str, ...]
    remedies: tuple[RemedyFigure, ...]


def by_cause(closed: Iterable[Closed]) -> tuple[CauseFigure, ...]:
    """Causes by how often they were found, the remedies of each by how surely they held."""
    found: dict[str, list[Closed]] = defaultdict(list)
    for one in closed:
        found[one.cause].append(one)
    figures = [
        CauseFigure(cause=cause, count=len(rows), loops=_once(one.loop for one in rows), remedies=_remedies(rows))
        for cause, rows in found.items()
    ]
    return tuple(sorted(figures, key=lambda one: (-one.count, one.cause)))


def _remedies(rows: list[Closed]) -> tuple[RemedyFigure, ...]:
    found: dict[str, list[Closed]] = defaultdict(list)
    for one in rows:
        found[one.remedy].append(one)
    figures = [
        RemedyFigure(
            remedy=remedy,
            count=len(of),
            held=sum(one.is_held for one in of),
            loops=_once(one.loop for one in of),
        )
        for remedy, of in found.items()
    ]
    return tuple(sorted(figures, key=lambda one: (-at_least(one.held, one.count), one.remedy)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Hung:
    """A part on a gang, and whether anything is or was wrong there."""

    kind: str
    label: str
    loop: str
    gang: str
    has_trouble: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class PartFigure:
    """A part, on how many gangs it is, and at how many of them something is or was wrong."""

    kind: str
    label: str
    gangs: int
    trouble: int
    loops: tuple[str, ...]
    trouble_loops: tuple[str, ...]


def by_part(hung: Iterable[Hung]) -> tuple[PartFigure, ...]:
    """Parts, those first that are surely in trouble most."""
    found: dict[tuple[str, str], list[Hung]] = defaultdict(list)
    for one in hung:
        found[one.kind, one.label].append(one)
    figures = []
    for (kind, label), rows in found.items():
        wrong = {one.gang for one in rows if one.has_trouble}
        figures.append(
            PartFigure(
                kind=kind,
                label=label,
                gangs=len({one.gang for one in rows}),
                trouble=len(wrong),
                loops=_once(one.loop for one in rows),
                trouble_loops=_once(one.loop for one in rows if one.has_trouble),
            )
        )
    return tuple(sorted(figures, key=lambda one: (-at_least(one.trouble, one.gangs), -one.gangs, one.label)))


def at_least(hits: int, of: int) -> float:
    """The lower end of the share that so many hits of so many speak for, 0 to 1.

    Formula: (p + z²/2n - z·sqrt(p(1-p)/n + z²/4n²)) / (1 + z²/n). Zero where there is nothing to go by.
    """
    if of <= 0 or hits <= 0:
        return 0.0
    p, z2 = hits / of, _Z * _Z
    return float((p + z2 / (2 * of) - _Z * sqrt(p * (1 - p) / of + z2 / (4 * of * of))) / (1 + z2 / of))


def _once(names: Iterable[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(names))
