"""Trims of a dimmer found and set on site, and what that says of the drivers.

All in degrees of conduction. What was found narrows the drivers' figures as readings do while off.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ember_core.findings import Finding, Severity
from ember_core.lit.light import LightCurve, drop_out_deg, full_deg, has_driver, pop_on_deg
from ember_core.lit.ranges import LitFigures
from ember_core.loop import Loop
from ember_core.quantities import check_bounds, optional

# How well a person finds such a point by turning a knob, and how far off is no longer explained [standard deviations].
FOUND_DEG = 3.0
FAR = 3.0
# So many are drawn, of which the weights pick as many as are asked for.
DRAWN = 512

_MEANING = "conduction"


@dataclass(frozen=True, slots=True, kw_only=True)
class SiteTrims:
    """What was found and set on site; None where nobody looked.

    Parameters
    ----------
    drop_out_deg, pop_on_deg : where the lamps went out from above, and came on from dark.
    full_deg : from where on they got no brighter.
    least_deg, start_deg, top_deg : what was set.
    """

    drop_out_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} at which the lamps went out")
    pop_on_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} at which they came on")
    full_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} from which on they got no brighter")
    least_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} set as the least level")
    start_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} set as the start level")
    top_deg: float | None = optional("°", 1.0, 180.0, f"{_MEANING} set as the top")

    def __post_init__(self) -> None:
        check_bounds(self, "trims")


def narrowed(
    loop: Loop,
    tried: Sequence[LitFigures],
    site: SiteTrims | None,
    draw: Callable[[int], Sequence[LitFigures]],
    seed: int,
) -> tuple[Sequence[LitFigures], bool]:
    """Samples that explain what was found, as many as were tried, and whether any does.

    Nothing found leaves them as they are; found and explained by none leaves them too.

    Parameters
    ----------
    draw : so many samples of the gang's figures.
    """
    wanted: list[tuple[float, Callable[[Loop, LitFigures], float]]] = []
    if site is not None:
        for found, work in (
            (site.drop_out_deg, drop_out_deg),
            (site.pop_on_deg, pop_on_deg),
            (site.full_deg if has_driver(loop) else None, full_deg),
        ):
            if found is not None:
                wanted.append((found, work))
    if not wanted:
        return tried, True
    pool = draw(DRAWN)
    off = np.array([[(work(loop, figures) - found) / FOUND_DEG for found, work in wanted] for figures in pool])
    distance = np.sqrt(np.mean(off**2, axis=1))
    if float(distance.min()) > FAR:
        return tried, False
    weights = np.exp(-0.5 * np.sum(off**2, axis=1))
    rows = np.random.default_rng(seed).choice(DRAWN, size=len(tried), p=weights / weights.sum())
    return [pool[row] for row in rows], True


def findings(site: SiteTrims | None, curve: LightCurve, *, explained: bool) -> list[Finding]:
    """What was set, against drop-out, pop-on and top over the samples; and whether a range is left."""
    found: list[Finding] = []
    if curve.least_deg >= curve.most_deg:
        params: dict[str, float | int | str] = {"least_deg": curve.least_deg, "most_deg": curve.most_deg}
        found.append(Finding(code="on_no_range", severity=Severity.STOP, params=params))
    elif curve.start_deg > curve.least_deg:
        params = {"least_deg": curve.least_deg, "start_deg": curve.start_deg}
        found.append(Finding(code="on_kick_start", severity=Severity.INFO, params=params))
    if site is None:
        return found
    if not explained:
        found.append(Finding(code="on_site_unexplained", severity=Severity.WARN))
    for value, needed, low, good in (
        (site.least_deg, curve.drop_out_deg.p95, "on_set_least_low", "on_set_least_good"),
        (site.start_deg, curve.pop_on_deg.p95, "on_set_start_low", "on_set_start_good"),
    ):
        if value is not None:
            params = {"set_deg": value, "needed_deg": needed}
            is_low = value < needed
            code, severity = (low, Severity.WARN) if is_low else (good, Severity.GOOD)
            found.append(Finding(code=code, severity=severity, params=params))
    if site.top_deg is not None:
        params = {"set_deg": site.top_deg, "most_deg": curve.most_deg}
        is_high = site.top_deg > curve.most_deg
        code, severity = ("on_set_top_high", Severity.WARN) if is_high else ("on_set_top_good", Severity.GOOD)
        found.append(Finding(code=code, severity=severity, params=params))
    if site.least_deg is not None and site.top_deg is not None and site.least_deg >= site.top_deg:
        found.append(Finding(code="on_set_crossed", severity=Severity.STOP))
    return found
