"""What a checker looks at first: everything that did not go the usual way, the gravest first."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Unusual(StrEnum):
    """Kinds of it, the gravest first."""

    TRACE_BROKEN = "trace_broken"
    OVERRIDE = "override"
    READING_OUTSIDE = "reading_outside"
    NOT_SURE = "not_sure"
    OUTDATED = "outdated"
    SIMULATED = "simulated"
    EXCUSED = "excused"
    SKIPPED = "skipped"
    ASSUMED = "assumed"
    LABEL_WRONG = "label_wrong"
    OWN_WORK = "own_work"
    STAGE_MISSED = "stage_missed"


ORDER = tuple(Unusual)


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """One thing that is unusual.

    Parameters
    ----------
    what : in words of whoever found it: which step, which reading.
    """

    kind: Unusual
    what: str


def in_order(found: list[Seen]) -> tuple[Seen, ...]:
    """The gravest first; equal ones once, in the order in which they were found."""
    once = dict.fromkeys(found)
    return tuple(sorted(once, key=lambda one: ORDER.index(one.kind)))


Spans = tuple[tuple[float, float | None], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class DeadWork:
    """A step that was done on conductors said to be dead.

    Parameters
    ----------
    at_s : when it was done [s].
    off : for each circuit that feeds its place when it was kept off: from, until [s]; None until: still.
    proved_s : when its place was last proved dead before it [s]; None: never.
    """

    what: str
    at_s: float
    off: tuple[Spans, ...]
    proved_s: float | None


def trace_gaps(work: list[DeadWork]) -> list[Seen]:
    """Dead work whose moment is not covered for every circuit, or that was not proved dead since all were off."""
    return [Seen(kind=Unusual.TRACE_BROKEN, what=one.what) for one in work if not _is_covered(one)]


def _is_covered(work: DeadWork) -> bool:
    begins = []
    for spans in work.off:
        over = [begin for begin, end in spans if begin <= work.at_s and (end is None or work.at_s <= end)]
        if not over:
            return False
        begins.append(min(over))
    # Of a place that nothing is known to feed nobody knows that it was off.
    return bool(begins) and work.proved_s is not None and max(begins) <= work.proved_s <= work.at_s
