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


@dataclass(frozen=True, slots=True, kw_only=True)
class DeadWork:
    """A step that was done on conductors said to be dead.

    Parameters
    ----------
    at_s : when it was done [s]. off_from_s, off_until_s : of the isolations that covered its place; None until: still.
    proved_s : when its place was last proved dead before it; None: never.
    """

    what: str
    at_s: float
    off: tuple[tuple[float, float | None], ...]
    proved_s: float | None


def trace_gaps(work: list[DeadWork]) -> list[Seen]:
    """Dead work without an isolation that covers its moment, or without a proof of dead under that isolation."""
    found = []
    for one in work:
        over = [begin for begin, end in one.off if begin <= one.at_s and (end is None or one.at_s <= end)]
        if not over or one.proved_s is None or one.proved_s < min(over) or one.proved_s > one.at_s:
            found.append(Seen(kind=Unusual.TRACE_BROKEN, what=one.what))
    return found
