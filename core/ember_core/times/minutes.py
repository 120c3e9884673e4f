"""How long a job takes: low, typical and high minutes of each task, summed by simulation, and learned from the marks.

The ranges are class figures of the trade [A]. A task's minutes are drawn from a triangle; a job's are their sum. What a
firm's own marks say comes in as a weighted mean with the class figure, which counts as so many marks of its own: after
as many marks the firm's record weighs half. One mark moves an estimate by at most a fifth of its clipped distance.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ember_core.errors import InputError

# Estimates are told in steps of so many minutes.
STEP_MIN = 5


class Task(StrEnum):
    """Parts of a job that are timed."""

    FIND_BREAKER = "find_breaker"
    FIND_PROVED_BREAKER = "find_proved_breaker"
    ISOLATE = "isolate"
    OPEN = "open"
    IDENTIFY = "identify"
    FIT = "fit"
    CEILING = "ceiling"
    SECOND_BOX = "second_box"
    SPACER = "spacer"
    DEEPEN = "deepen"
    PULL_CABLE = "pull_cable"  # a new core where a cable is replaced, walls opened as need be
    PULL_CONDUIT = "pull_conduit"
    PROVE = "prove"
    PAIR = "pair"
    LEVELS = "levels"
    HAND_OVER = "hand_over"


@dataclass(frozen=True, slots=True, kw_only=True)
class Minutes:
    """Low, typical and high [min]."""

    low: float
    typical: float
    high: float

    def __post_init__(self) -> None:
        if not 0.0 < self.low <= self.typical <= self.high:
            raise InputError("range_not_in_order", path="", low=self.low, typical=self.typical, high=self.high)

    @property
    def mean(self) -> float:
        """Of the triangle [min]."""
        return (self.low + self.typical + self.high) / 3.0


# Class figures of the trade [A].
USUAL: Mapping[Task, Minutes] = {
    Task.FIND_BREAKER: Minutes(low=2, typical=8, high=25),
    Task.FIND_PROVED_BREAKER: Minutes(low=1, typical=1.5, high=2),
    Task.ISOLATE: Minutes(low=4, typical=6, high=10),
    Task.OPEN: Minutes(low=2, typical=3, high=6),
    Task.IDENTIFY: Minutes(low=3, typical=6, high=20),
    Task.FIT: Minutes(low=8, typical=12, high=25),
    Task.CEILING: Minutes(low=6, typical=10, high=25),
    Task.SECOND_BOX: Minutes(low=8, typical=12, high=20),
    Task.SPACER: Minutes(low=2, typical=3, high=6),
    Task.DEEPEN: Minutes(low=25, typical=40, high=90),
    Task.PULL_CABLE: Minutes(low=45, typical=120, high=300),
    Task.PULL_CONDUIT: Minutes(low=15, typical=40, high=120),
    Task.PROVE: Minutes(low=5, typical=8, high=15),
    Task.PAIR: Minutes(low=3, typical=6, high=20),
    Task.LEVELS: Minutes(low=3, typical=5, high=10),
    Task.HAND_OVER: Minutes(low=3, typical=5, high=10),
}
# The class figure counts as so many marks of the firm's own.
PRIOR_MARKS = 4.0
# A mark beyond this many times the class's high, or below its low over this, is a break or a slip: it is drawn in.
CLIP_RATIO = 2.0
LEAST_MIN = 0.05
SAMPLES = 4000
SEED = 20
_LIKELY, _NINE_OF_TEN = 0.5, 0.9


@dataclass(frozen=True, slots=True, kw_only=True)
class Estimate:
    """What a job takes [min]: as likely more as less, and nine of ten within."""

    likely: float
    within: float


def learned(prior: Minutes, marks: Sequence[float]) -> Minutes:
    """The class figure and the firm's own marks together.

    Formula: (w · class + n · record) / (w + n) with w = 4, for low, mean and high; of the record these are its tenth,
    mean and ninth decile, each mark clipped to between half the class's low and twice its high.

    Parameters
    ----------
    marks : minutes that the task took, any number.

    Raises
    ------
    InputError : a mark is not positive.
    """
    if any(not mark > 0.0 for mark in marks):
        raise InputError("out_of_bounds", path="marks", value=min(marks), low=0, high=2880, unit="min")
    if len(marks) == 0:
        return prior
    taken = np.clip(np.asarray(marks, dtype=float), prior.low / CLIP_RATIO, prior.high * CLIP_RATIO)
    weight = PRIOR_MARKS / (PRIOR_MARKS + len(taken))

    def blend(of_class: float, of_record: float) -> float:
        return weight * of_class + (1.0 - weight) * of_record

    low = blend(prior.low, float(np.quantile(taken, 0.1)))
    high = blend(prior.high, float(np.quantile(taken, 0.9)))
    mean = blend(prior.mean, float(taken.mean()))
    return _triangle(min(low, mean), mean, max(high, mean))


def _triangle(low: float, mean: float, high: float) -> Minutes:
    """The triangle of a mean between its ends; where it lies too near one of them, that end gives way."""
    typical = 3.0 * mean - low - high
    if typical > high:
        high = typical = (3.0 * mean - low) / 2.0
    elif typical < low:
        low = typical = max(LEAST_MIN, (3.0 * mean - high) / 2.0)
        high = 3.0 * mean - low - typical
    return Minutes(low=low, typical=typical, high=high)


def estimate(tasks: Mapping[Task, int], minutes: Mapping[Task, Minutes] | None = None) -> Estimate:
    """What a job's tasks take together: their sum, each drawn by itself, over 4 000 drawn jobs.

    Parameters
    ----------
    tasks : how often each is done. minutes : the firm's own; the class figures where it says nothing.
    """
    ranges = {**USUAL, **(minutes or {})}
    total = draw(tasks, ranges)
    return Estimate(likely=float(np.quantile(total, _LIKELY)), within=float(np.quantile(total, _NINE_OF_TEN)))


def said_minutes(likely: float, within: float) -> tuple[int, int]:
    """As it is told: to the nearest five minutes, and up to the next five."""
    return STEP_MIN * round(likely / STEP_MIN), STEP_MIN * int(np.ceil(within / STEP_MIN - 1e-9))


def draw(tasks: Mapping[Task, int], ranges: Mapping[Task, Minutes]) -> np.ndarray:
    """Minutes of drawn jobs [min], one each; the same draw each time."""
    rng = np.random.default_rng(SEED)
    total = np.zeros(SAMPLES)
    for task in Task:
        for _ in range(tasks.get(task, 0)):
            of = ranges[task]
            total += of.low if of.low == of.high else rng.triangular(of.low, of.typical, of.high, SAMPLES)
    return total


@dataclass(frozen=True, slots=True, kw_only=True)
class Stamp:
    """Something that was done, for telling minutes from marks.

    Parameters
    ----------
    at_s : when. person : who. task : what of; None for something that only says that work went on.
    """

    at_s: float
    person: str
    task: Task | None


# A gap between two marks of a person that is longer is a break, not work [s] [A].
LONGEST_GAP_S = 45 * 60.0


def taken_minutes(stamps: Iterable[Stamp]) -> dict[Task, float]:
    """Minutes of each task of one loop: from each mark back to the one before it by the same person.

    What follows a longer gap does not count: its task's minutes are not known, and it is left out as a whole.
    """
    last: dict[str, float] = {}
    sums: dict[Task, float] = {}
    unknown: set[Task] = set()
    for stamp in sorted(stamps, key=lambda one: one.at_s):
        before = last.get(stamp.person)
        last[stamp.person] = stamp.at_s
        if stamp.task is None:
            continue
        gap = None if before is None else stamp.at_s - before
        if gap is None or gap > LONGEST_GAP_S:
            unknown.add(stamp.task)
            continue
        sums[stamp.task] = sums.get(stamp.task, 0.0) + gap / 60.0
    return {task: minutes for task, minutes in sums.items() if task not in unknown and minutes > 0.0}
