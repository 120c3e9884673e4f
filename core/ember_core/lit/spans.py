"""Figures over the samples: percentiles and shares."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ember_core.lit.ranges import LitFigures
from ember_core.spread.judged import SURE_RATIO


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """5th, 50th and 95th percentile over the samples."""

    p05: float
    p50: float
    p95: float


def span_of(values: Sequence[float]) -> Span:
    """The percentiles of some values."""
    low, middle, high = np.quantile(np.array(values), [1.0 - SURE_RATIO, 0.5, SURE_RATIO])
    return Span(p05=float(low), p50=float(middle), p95=float(high))


def over(tried: Sequence[LitFigures], work: Callable[[LitFigures], float]) -> list[float]:
    """One figure of each sample."""
    return [work(figures) for figures in tried]


def share_of(values: Sequence[bool]) -> float:
    """Share that holds [1]."""
    return sum(values) / len(values)
