"""Trims of a dimmer: what is proposed, what was found and set on site, and what that says of the drivers.

All in degrees of conduction. What was found narrows the drivers' figures as readings do while off.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import acos, degrees

import numpy as np

from ember_core.dimming.lit_loads import LOW_RATIO, Figures
from ember_core.dimming.on_ranges import samples as drawn
from ember_core.findings import Finding, Severity
from ember_core.quantities import check_bounds, optional

# How well a person finds such a point by turning a knob, and how far off is no longer explained [standard deviations].
FOUND_DEG = 3.0
FAR = 3.0
# So many are drawn, of which the weights pick as many as are asked for.
DRAWN = 512
# Margin above the worst sample that is proposed [assumption].
MARGIN_DEG = 5.0

_MEANING = "conduction"


@dataclass(frozen=True, slots=True, kw_only=True)
class SiteTrims:
    """What was found and set on site; None where nobody looked.

    Parameters
    ----------
    drop_out_deg, pop_on_deg : where the lamps went out from above, and came on from dark.
    least_deg, start_deg, top_deg : what was set.
    """

    drop_out_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} at which the lamps went out")
    pop_on_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} at which they came on")
    least_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} set as the least level")
    start_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} set as the start level")
    top_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} set as the top")

    def __post_init__(self) -> None:
        check_bounds(self, "trims")


def drop_out_deg(figures: Figures) -> float:
    """Conduction below which a driver's stage no longer feeds itself, at low mains [°]: acos(1 − 2·r/k)."""
    return degrees(acos(max(-1.0, 1.0 - 2.0 * figures["aux_ratio"] / LOW_RATIO)))


def pop_on_deg(figures: Figures) -> float:
    """Conduction at which it starts from dark [°]: above the drop-out, as starting takes more."""
    return drop_out_deg(figures) + figures["pop_on_above_deg"]


def narrowed(
    tried: Sequence[Figures], site: SiteTrims | None, v_rms: float, seed: int
) -> tuple[Sequence[Figures], bool]:
    """Samples that explain what was found, as many as were tried, and whether any does.

    Nothing found leaves them as they are; found and explained by none leaves them too.
    """
    wanted: list[tuple[float, Callable[[Figures], float]]] = []
    if site is not None and site.drop_out_deg is not None:
        wanted.append((site.drop_out_deg, drop_out_deg))
    if site is not None and site.pop_on_deg is not None:
        wanted.append((site.pop_on_deg, pop_on_deg))
    if not wanted:
        return tried, True
    pool = drawn(v_rms, DRAWN, seed)
    off = np.array([[(work(figures) - found) / FOUND_DEG for found, work in wanted] for figures in pool])
    distance = np.sqrt(np.mean(off**2, axis=1))
    if float(distance.min()) > FAR:
        return tried, False
    weights = np.exp(-0.5 * np.sum(off**2, axis=1))
    rows = np.random.default_rng(seed).choice(DRAWN, size=len(tried), p=weights / weights.sum())
    return [pool[row] for row in rows], True


def findings(site: SiteTrims | None, outs: Sequence[float], ons: Sequence[float], *, explained: bool) -> list[Finding]:
    """What was set, against drop-out and pop-on over the samples."""
    if site is None:
        return []
    found: list[Finding] = []
    if not explained:
        found.append(Finding(code="on_site_unexplained", severity=Severity.WARN))
    for value, needed, low, good in (
        (site.least_deg, float(np.quantile(outs, 0.95)), "on_set_least_low", "on_set_least_good"),
        (site.start_deg, float(np.quantile(ons, 0.95)), "on_set_start_low", "on_set_start_good"),
    ):
        if value is not None:
            params: dict[str, float | int | str] = {"set_deg": value, "needed_deg": needed}
            is_low = value < needed
            code, severity = (low, Severity.WARN) if is_low else (good, Severity.GOOD)
            found.append(Finding(code=code, severity=severity, params=params))
    if site.least_deg is not None and site.top_deg is not None and site.least_deg >= site.top_deg:
        found.append(Finding(code="on_set_crossed", severity=Severity.STOP))
    return found
