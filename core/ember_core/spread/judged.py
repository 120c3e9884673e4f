"""A gang judged over the ranges of its figures: shares of each state, margins, and the figures that decide."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from itertools import takewhile
from math import ceil, inf, isfinite
from typing import TypeVar

import numpy as np

from ember_core.errors import SolverError
from ember_core.offstate.states import LampState, StandbyState
from ember_core.sheet import Sheet
from ember_core.spread.begun import fed_state
from ember_core.spread.look import Sample
from ember_core.spread.observe import observe_each
from ember_core.spread.variables import DEFAULT_SAMPLES, Floats, Variable, draw, loop_at, variables

A = TypeVar("A")
T = TypeVar("T")
# Asked now and then by work that may be ended before it is done.
GoesOn = Callable[[], bool]
# The kernel lets go of the interpreter, so two samples are marched at once on two cores.
THREADS = 2
# Drawn loops that settle in one go: long enough that threads do not wait for each other, short enough to stop between.
ABREAST = 8
# Weaker rank correlations than this are chance at 64 samples (twice the standard error of 1/√63).
LEAST_CORRELATION = 0.25
MOST_DECIDING = 4
# What all but one in twenty samples do is called sure; what all but one in twenty do not, called never.
SURE_RATIO = 0.95
# A margin beyond this is as good as none: it is cut before ranking.
_MOST_MARGIN = 1e3


def always() -> bool:
    """Nobody ends it."""
    return True


@dataclass(frozen=True, slots=True, kw_only=True)
class Shares:
    """Share of the weight in each state [1]; they sum to 1."""

    by_state: dict[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Deciding:
    """A figure that decides: its place, how strongly it moves the outcome (rank correlation), and which outcome."""

    path: str
    correlation: float
    outcome: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Range:
    """5th, 50th and 95th percentile of a figure; infinity is possible for margins."""

    p05: float
    p50: float
    p95: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """A gang over its ranges.

    Parameters
    ----------
    samples, seed : what was looked at, and how it was drawn. failed : samples that did not settle, in no share.
    is_complete : all that was asked for was looked at; nobody stopped it.
    found : the variables. values : one row a sample that settled. seen : what each did. weights : sum to 1.
    lamps, control : shares by state; control None for an ordinary switch.
    margins : for each lamp group. all_well : share that is dark and fed.
    deciding : figures that decide, strongest first. worst : index of the worst sample in `seen`.
    """

    samples: int
    seed: int
    failed: int
    found: tuple[Variable, ...]
    values: Floats
    seen: tuple[Sample, ...]
    weights: Floats
    lamps: tuple[Shares, ...]
    control: Shares | None
    margins: tuple[Range, ...]
    all_well: float
    lamp_v_rms: Range
    line_i_rms_a: Range
    deciding: tuple[Deciding, ...]
    worst: int
    is_complete: bool


def each_sample(
    loops: Sequence[A],
    work: Callable[[A], T],
    threads: int = THREADS,
    goes_on: GoesOn = always,
) -> Iterator[T | None]:
    """What the work gives for each loop, in order, None for one that does not settle; so many at a time.

    Parameters
    ----------
    goes_on : asked before each is given; False ends it there.
    """

    def attempt(loop: A) -> T | None:
        try:
            return work(loop)
        except SolverError:
            return None

    if threads == 1:
        yield from takewhile(lambda _: goes_on(), map(attempt, loops))
        return
    with ThreadPoolExecutor(max_workers=threads) as pool:
        try:
            yield from takewhile(lambda _: goes_on(), pool.map(attempt, loops))
        finally:
            pool.shutdown(wait=False, cancel_futures=True)


def each_abreast(
    loops: Sequence[A],
    work: Callable[[Sequence[A]], Sequence[T | None]],
    threads: int = THREADS,
    goes_on: GoesOn = always,
) -> Iterator[T | None]:
    """As `each_sample`, for work that takes several at once, as `observe_each` does.

    What each gives must not hang on how many are taken together.
    """
    several: list[Sequence[A]] = []
    at, size = 0, 1
    while at < len(loops):
        # Few at first, so that it is seen soon to go on; the last are shared out, so that no thread waits at the end.
        several.append(loops[at : at + size])
        at += size
        if len(several) % threads == 0:
            size = max(1, min(ABREAST, 2 * size, ceil((len(loops) - at) / threads)))
    for some, found in zip(several, each_sample(several, work, threads), strict=True):
        for one in [None] * len(some) if found is None else found:
            if not goes_on():
                return
            yield one


@dataclass(frozen=True, slots=True, kw_only=True)
class Looked:
    """Drawn loops that were looked at.

    Parameters
    ----------
    found : the variables. values : one row a sample that settled. seen : what each of them did. samples : looked at.
    is_complete : all that was asked for was looked at; nobody stopped it.
    """

    found: tuple[Variable, ...]
    values: Floats
    seen: tuple[Sample, ...]
    samples: int
    is_complete: bool

    @property
    def all_well(self) -> float:
        """Share that is dark and fed, of those that settled [1]."""
        return float(np.mean([is_well(sample) for sample in self.seen]))

    @property
    def margin(self) -> float:
        """5th percentile of the margin to light of the group that has least [1]."""
        weights = np.full(len(self.seen), 1.0 / len(self.seen))
        groups = range(len(self.seen[0].lamps))
        return min(quantiles(np.array([sample.margins[k] for sample in self.seen]), weights).p05 for k in groups)


def look_over(
    sheet: Sheet,
    *,
    samples: int = DEFAULT_SAMPLES,
    seed: int = 1,
    with_shown: bool = True,
    progress: Callable[[int], bool] | None = None,
    threads: int = THREADS,
) -> Looked:
    """Look at a gang over the ranges of its figures.

    Parameters
    ----------
    samples : Latin hypercube samples, 2 to 4096. seed : the same seed draws the same samples.
    with_shown : see `observe`. threads : samples looked at at once.
    progress : called with the number done; returning False stops, and what is done so far is given.

    Raises
    ------
    InputError : bad number of samples. SolverError : no sample settles.
    """
    found = variables(sheet)
    drawn = draw(found, samples if found else 2, seed)[: samples if found else 1]
    seen: list[Sample] = []
    kept: list[int] = []
    looked_at = 0
    near = fed_state(sheet.loop)

    def look(rows: Sequence[Sequence[float]]) -> list[Sample | None]:
        loops = [loop_at(sheet.loop, found, row) for row in rows]
        return observe_each(loops, with_shown=with_shown, near=near)

    for index, sample in enumerate(each_abreast(drawn.tolist(), look, threads)):
        looked_at = index + 1
        if sample is not None:
            seen.append(sample)
            kept.append(index)
        if progress is not None and not progress(looked_at):
            break
    if not seen:
        raise SolverError("no_sample_settles", samples=samples)
    return Looked(
        found=found,
        values=drawn[kept],
        seen=tuple(seen),
        samples=looked_at,
        is_complete=looked_at == len(drawn),
    )


def judge_spread(
    sheet: Sheet,
    *,
    samples: int = DEFAULT_SAMPLES,
    seed: int = 1,
    progress: Callable[[int], bool] | None = None,
    threads: int = THREADS,
) -> Spread:
    """Judge a gang over the ranges of its figures; arguments and errors as of `look_over`."""
    looked = look_over(sheet, samples=samples, seed=seed, progress=progress, threads=threads)
    weights = np.full(len(looked.seen), 1.0 / len(looked.seen))
    spread = summed(looked.found, looked.values, looked.seen, weights, samples=looked.samples, seed=seed)
    return replace(spread, is_complete=looked.is_complete)


def summed(
    found: tuple[Variable, ...],
    values: Floats,
    seen: tuple[Sample, ...],
    weights: Floats,
    *,
    samples: int,
    seed: int,
) -> Spread:
    """Shares, margins and deciding figures of weighted samples."""
    groups = range(len(seen[0].lamps))
    badness = np.array([_badness(sample) for sample in seen])
    return Spread(
        samples=samples,
        seed=seed,
        failed=samples - len(seen),
        found=found,
        values=values,
        seen=seen,
        weights=weights,
        lamps=tuple(_shares([s.lamps[k] for s in seen], weights, LampState) for k in groups),
        control=None
        if seen[0].control is None
        else _shares([s.control for s in seen if s.control is not None], weights, StandbyState),
        margins=tuple(quantiles(np.array([s.margins[k] for s in seen]), weights) for k in groups),
        all_well=float(weights[[is_well(sample) for sample in seen]].sum()),
        lamp_v_rms=quantiles(np.array([s.shown.lamp_v_rms for s in seen if s.shown]), weights),
        line_i_rms_a=quantiles(np.array([s.shown.line_i_rms_a for s in seen if s.shown]), weights),
        deciding=_deciding(found, values, seen),
        worst=int(np.argmax(badness)),
        is_complete=True,
    )


def is_well(sample: Sample) -> bool:
    """Every lamp dark and the control fed (or an ordinary switch)."""
    return all(state is LampState.DARK for state in sample.lamps) and sample.control in (None, StandbyState.FED)


def _badness(sample: Sample) -> float:
    """How bad a sample is: starved, then the smallest margin to light."""
    starved = 0.0 if sample.control is None else max(0.0, 1.0 - sample.delivered_ratio)
    return starved * _MOST_MARGIN + 1.0 / max(min(sample.margins), 1e-3)


def _shares(states: Sequence[str], weights: Floats, kind: type[LampState] | type[StandbyState]) -> Shares:
    counted: dict[str, float] = defaultdict(float)
    for state, weight in zip(states, weights, strict=True):
        counted[state] += float(weight)
    return Shares(by_state={state.value: counted.get(state, 0.0) for state in kind})


def quantiles(values: Floats, weights: Floats) -> Range:
    """Weighted percentiles; between two values by a straight line, but never towards infinity."""
    order = np.argsort(values)
    ranked = values[order]
    cumulated = np.cumsum(weights[order]) - 0.5 * weights[order]
    finite = np.isfinite(ranked)
    found = []
    for share in (0.05, 0.5, 0.95):
        at = int(np.searchsorted(cumulated, share))
        if at < ranked.size and not finite[at]:
            # Nearer to the last that is finite it counts as that one.
            is_nearer = at > 0 and finite[at - 1] and share - cumulated[at - 1] < cumulated[at] - share
            found.append(float(ranked[at - 1]) if is_nearer else inf)
        elif at == ranked.size and not finite[-1]:
            found.append(inf)
        else:
            found.append(float(np.interp(share, cumulated[finite], ranked[finite])))
    return Range(p05=found[0], p50=found[1], p95=found[2])


def _outcomes(seen: Sequence[Sample]) -> list[tuple[str, Floats, float]]:
    """Names, values and how much each outcome hangs in the balance (0 to 1, 1 when it goes both ways evenly)."""
    found = []
    for k in range(len(seen[0].lamps)):
        margins = np.array([min(s.margins[k], _MOST_MARGIN) if isfinite(s.margins[k]) else _MOST_MARGIN for s in seen])
        share = float(np.mean([s.lamps[k] is LampState.DARK for s in seen]))
        found.append((f"lamps[{k}]", margins, min(share, 1.0 - share)))
    if seen[0].control is not None:
        fed = np.array([s.delivered_ratio + (1.0 if s.control is StandbyState.FED else 0.0) for s in seen])
        share = float(np.mean([s.control is StandbyState.FED for s in seen]))
        found.append(("control", fed, min(share, 1.0 - share)))
    return sorted(found, key=lambda entry: -entry[2])


def _deciding(found: Sequence[Variable], values: Floats, seen: Sequence[Sample]) -> tuple[Deciding, ...]:
    """Figures by rank correlation with the outcome that hangs most in the balance, or with the smallest margin."""
    if not found or len(seen) < 8:
        return ()
    # Loaded where something was drawn: see `variables.hypercube`.
    from scipy.stats import rankdata

    name, outcome, _ = _outcomes(seen)[0]
    ranks = rankdata(outcome)
    if np.ptp(ranks) == 0.0:
        return ()
    rows = []
    for k, variable in enumerate(found):
        correlation = float(np.corrcoef(rankdata(values[:, k]), ranks)[0, 1])
        if abs(correlation) >= LEAST_CORRELATION:
            rows.append(Deciding(path=variable.path, correlation=correlation, outcome=name))
    return tuple(sorted(rows, key=lambda row: -abs(row.correlation))[:MOST_DECIDING])
