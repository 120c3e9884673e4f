"""A gang while the light is on: does the control drive its lamps, over what range, and what governs.

What the loop sheet does not say of the on state is taken from the ranges of the trade (`on_ranges`) and drawn over
them; the closed forms run over all samples, the march draws one picture with typical figures.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ember_core.dimming.compatibility import Goes, Together, class_of, declared_of, together
from ember_core.dimming.lit_findings import (
    Span,
    count_allowed,
    decay,
    holding,
    inrush,
    over,
    peak,
    ring,
    set_up,
    span_of,
    supply_gap,
    supply_while_on,
)
from ember_core.dimming.lit_loads import Figures, on_case
from ember_core.dimming.on_ranges import samples as drawn
from ember_core.dimming.on_ranges import typical
from ember_core.dimming.simulate import OnState, simulate
from ember_core.dimming.trims import MARGIN_DEG, SiteTrims, drop_out_deg, narrowed, pop_on_deg
from ember_core.dimming.trims import findings as trim_findings
from ember_core.findings import Finding, Severity
from ember_core.loop import Loop
from ember_core.parts import (
    DimmableDriverLamp,
    PhaseMode,
)

SAMPLES = 32
# Where a picture is drawn when nobody says: a middling level.
LEVEL_DEG = {PhaseMode.LEADING: 90.0, PhaseMode.TRAILING: 90.0}
PICTURE_STEP_S = 1e-6
CURVE_POINTS = 41


@dataclass(frozen=True, slots=True, kw_only=True)
class LightCurve:
    """Light over conduction, typical and band: angles [deg], shares of full light [1].

    Parameters
    ----------
    drop_out_deg : conduction at which lamps go out from above. pop_on_deg : at which they come on from dark.
    least_deg, start_deg, most_deg : proposed trims: minimum, start level, top; least is what the worst sample needs.
    """

    gamma_deg: tuple[float, ...]
    low: tuple[float, ...]
    middle: tuple[float, ...]
    high: tuple[float, ...]
    drop_out_deg: Span
    pop_on_deg: Span
    least_deg: float
    start_deg: float
    most_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WhileLit:
    """A gang while on.

    Parameters
    ----------
    mode : what the control does; None where nobody says. edge : the edge looked at. together : by the matrix.
    verdict : the matrix and the figures together. findings : with the figures; worst first.
    headroom_ratio : what the control is taken to stand.
    picture : a settled cycle at a level [deg], or None where there is nothing to draw.
    """

    mode: PhaseMode | None
    edge: PhaseMode
    together: Together
    verdict: Goes
    findings: tuple[Finding, ...]
    level_deg: float
    headroom_ratio: float
    picture: OnState | None
    curve: LightCurve | None


def while_lit(
    loop: Loop,
    *,
    edge: PhaseMode | None = None,
    level_deg: float | None = None,
    headroom_ratio: float | None = None,
    site: SiteTrims | None = None,
    samples: int = SAMPLES,
    seed: int = 1,
    with_picture: bool = True,
) -> WhileLit:
    """Judge a gang while on.

    Parameters
    ----------
    edge : which edge to look at, of a control that can do both or of which nobody says. level_deg : firing angle of a
        leading edge, turn-off angle of a trailing one, for the picture.
    headroom_ratio : repetitive peak that the control stands over that of its filament rating; None takes the assumed.
    site : what was found and set on site; it narrows the light curve and the trims.

    Raises
    ------
    SolverError : the picture could not be computed.
    """
    mode = loop.control.phase_mode
    headroom_ratio = headroom_ratio or typical(loop.supply.v_rms)["headroom_ratio"]
    looked = mode if mode in (PhaseMode.ON_OFF, PhaseMode.LEADING, PhaseMode.TRAILING) else edge
    looked = looked or PhaseMode.ON_OFF
    loads = [(class_of(lamp), declared_of(lamp)) for lamp in loop.lamps]
    by_matrix = together(loads, mode or looked)
    if mode in (PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC) and edge is not None:
        set_to = together(loads, edge)
        by_matrix = replace(set_to, mode=edge) if mode is PhaseMode.SELECTABLE else by_matrix
    tried = drawn(loop.supply.v_rms, samples, seed)
    findings: list[Finding] = []
    curve: LightCurve | None = None
    findings += set_up(loop)
    if looked is PhaseMode.LEADING and (gap := supply_gap(loop, tried)) is not None:
        findings.append(gap)
    by_site, explained = narrowed(tried, site, loop.supply.v_rms, seed)
    if looked is not PhaseMode.ON_OFF and (curve := _light(loop, by_site)) is not None:
        outs, ons = over(by_site, drop_out_deg), over(by_site, pop_on_deg)
        findings += trim_findings(site, outs, ons, explained=explained)
    if looked is PhaseMode.LEADING:
        findings += [holding(loop, tried), peak(loop, tried, headroom_ratio), count_allowed(loop, headroom_ratio)]
        findings += ring(loop, tried)
    elif looked is PhaseMode.TRAILING:
        findings.append(decay(loop, tried))
    else:
        findings += [inrush(loop, tried), supply_while_on(loop, tried)]
    verdict = by_matrix.verdict
    if verdict in (Goes.GOES, Goes.GOES_IF):
        if any(finding.severity is Severity.STOP for finding in findings):
            verdict = Goes.MUST_NOT
        elif any(finding.severity is Severity.WARN for finding in findings):
            verdict = Goes.GOES_IF
    level = level_deg if level_deg is not None else LEVEL_DEG.get(looked, 90.0)
    order = list(Severity)
    return WhileLit(
        mode=mode,
        edge=looked,
        together=by_matrix,
        verdict=verdict,
        findings=tuple(sorted(findings, key=lambda finding: order.index(finding.severity))),
        level_deg=level,
        headroom_ratio=headroom_ratio,
        picture=_picture(loop, looked, level) if with_picture else None,
        curve=curve,
    )


def _light(loop: Loop, tried: Sequence[Figures]) -> LightCurve | None:
    """Light of drivers over conduction, and the trims that follow; None without a driver."""
    if not any(isinstance(lamp, DimmableDriverLamp) for lamp in loop.lamps):
        return None
    gammas = np.linspace(0.0, 180.0, CURVE_POINTS)

    def light(figures: Figures) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
        dark, full = figures["gamma_dark_deg"], figures["gamma_full_deg"]
        return np.clip((gammas - dark) / (full - dark), 0.0, 1.0) ** figures["light_exponent"]

    curves = np.array([light(figures) for figures in tried])
    low, middle, high = np.quantile(curves, [0.05, 0.5, 0.95], axis=0)
    drops, pops = over(tried, drop_out_deg), over(tried, pop_on_deg)
    gap = typical(loop.supply.v_rms)["gap_deg"] if loop.control.standby is not None else 0.0
    return LightCurve(
        gamma_deg=tuple(gammas.tolist()),
        low=tuple(low.tolist()),
        middle=tuple(middle.tolist()),
        high=tuple(high.tolist()),
        drop_out_deg=span_of(drops),
        pop_on_deg=span_of(pops),
        least_deg=float(np.quantile(drops, 0.95)) + MARGIN_DEG,
        start_deg=float(np.quantile(pops, 0.95)) + MARGIN_DEG,
        most_deg=180.0 - gap,
    )


def _picture(loop: Loop, edge: PhaseMode, level_deg: float) -> OnState:
    """A settled cycle, of a relay the time after it closed, with typical figures."""
    case = on_case(loop, edge, level_deg, typical(loop.supply.v_rms))
    step = None if edge is PhaseMode.ON_OFF else PICTURE_STEP_S
    return simulate(case, step_s=step)
