"""A gang while the light is on: does the control drive its lamps, over what range, and what governs.

What the loop sheet does not say of the on state is taken from the ranges of the trade (`on_ranges`) and drawn over
them; the closed forms run over all samples, the march draws one picture with typical figures.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

from ember_core.compatibility import on_contact as contact
from ember_core.compatibility import on_dimmer as lit_findings
from ember_core.compatibility.matrix import (
    EDGES,
    Goes,
    Together,
    class_of,
    declared_of,
    together,
    worst,
)
from ember_core.compatibility.trims import SiteTrims, narrowed
from ember_core.compatibility.trims import findings as trim_findings
from ember_core.findings import Finding, Severity
from ember_core.lit.light import LightCurve, light_curve
from ember_core.lit.pictures import View, picture, view_of
from ember_core.lit.ranges import SAMPLES, LitFigures, samples_of, typical_of
from ember_core.loop import Loop
from ember_core.onstate.simulate import OnState
from ember_core.parts import PhaseMode
from ember_core.remembered import remembered
from ember_core.sheet import Sheet

# Where a picture is drawn when nobody says: a middling level, and the worst moment to close.
LEVEL_DEG = 90.0
_GOOD_TO_BAD = list(Goes)


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgeVerdict:
    """One edge of a control that can do both: the verdict, and the findings that speak against it."""

    edge: PhaseMode
    verdict: Goes
    against: tuple[Finding, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class WhileLit:
    """A gang while on.

    Parameters
    ----------
    mode : what the control does; None where nobody says. edge : the edge looked at. together : by the matrix.
    verdict : the matrix and the figures together. findings : with the figures; worst first.
    edges : both edges, of a control that can be set to either or chooses by itself; the better first.
    headroom_ratio : what the control is taken to stand.
    view, picture : what is drawn at the level [deg], or None where nothing was asked to be.
    """

    mode: PhaseMode | None
    edge: PhaseMode
    together: Together
    verdict: Goes
    findings: tuple[Finding, ...]
    edges: tuple[EdgeVerdict, ...]
    level_deg: float
    headroom_ratio: float
    view: View
    picture: OnState | None
    curve: LightCurve | None


@dataclass(frozen=True, slots=True, kw_only=True)
class _OnEdge:
    together: Together
    verdict: Goes
    findings: tuple[Finding, ...]
    curve: LightCurve | None


def while_lit(
    given: Sheet,
    *,
    edge: PhaseMode | None = None,
    level_deg: float | None = None,
    headroom_ratio: float | None = None,
    site: SiteTrims | None = None,
    samples: int = SAMPLES,
    seed: int = 1,
    view: View | None = None,
    with_picture: bool = True,
) -> WhileLit:
    """Judge a gang while on.

    Parameters
    ----------
    given : its sheet; figures of the on state that it holds go before the assumed ones.
    edge : which edge to look at, of a control that can do both or of which nobody says; None takes the better one.
    level_deg : firing angle of a leading edge, turn-off angle of a trailing one, closing angle of a contact.
    headroom_ratio : repetitive peak that the control stands over that of its filament rating; None takes the sheet's,
        or the assumed one.
    site : what was found and set on site; it narrows the light curve and the trims.

    Raises
    ------
    SolverError : the picture could not be computed.
    """
    mode = given.loop.control.phase_mode
    judged = partial(_on_edge, given, headroom_ratio=headroom_ratio, site=site, samples=samples, seed=seed)
    either: dict[PhaseMode, _OnEdge] = {}
    if mode in (PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC):
        either = {one: judged(one) for one in EDGES}
        better = min(EDGES, key=lambda one: _GOOD_TO_BAD.index(either[one].verdict))
        looked = edge if edge in EDGES else better
        found = either[looked]
        if mode is PhaseMode.AUTOMATIC:
            # It may choose either: what the matrix says of that, and at best as good as its better edge. Where the
            # other one must not be, it goes only if it chooses well.
            by_matrix = _matrix(given.loop, mode)
            differs = len({one.verdict for one in either.values()}) > 1
            condition = [Goes.GOES_IF] if differs else []
            verdict = worst([by_matrix.verdict, either[better].verdict, *condition])
            found = replace(found, together=by_matrix, verdict=verdict)
    else:
        looked = mode or edge or PhaseMode.ON_OFF
        found = judged(looked)
    asked_anyway = lit_findings.set_up(given.loop)
    drawn = view_of(given, looked, view)
    level = LEVEL_DEG if level_deg is None else level_deg
    return WhileLit(
        mode=mode,
        edge=looked,
        together=found.together,
        verdict=found.verdict,
        findings=found.findings,
        edges=tuple(
            EdgeVerdict(
                edge=one,
                verdict=on.verdict,
                against=tuple(
                    finding
                    for finding in on.findings
                    if finding.severity in (Severity.STOP, Severity.WARN) and finding not in asked_anyway
                ),
            )
            for one, on in sorted(either.items(), key=lambda item: _GOOD_TO_BAD.index(item[1].verdict))
        ),
        level_deg=level,
        headroom_ratio=_headroom(given, headroom_ratio),
        view=drawn,
        picture=picture(given, looked, drawn, level) if with_picture else None,
        curve=found.curve,
    )


def band_edge(given: Sheet, edge: PhaseMode | None) -> PhaseMode:
    """The edge of which a band is drawn: the control's own, or of one that can do both the edge that was looked at."""
    mode = given.loop.control.phase_mode
    if mode in (PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC):
        return edge if edge in EDGES else EDGES[0]
    return mode or edge or PhaseMode.ON_OFF


def _headroom(given: Sheet, asked: float | None) -> float:
    return asked or typical_of(given.loop, given.figures).control["headroom_ratio"]


def _matrix(loop: Loop, mode: PhaseMode) -> Together:
    loads = [(class_of(lamp), declared_of(lamp)) for lamp in loop.lamps]
    return together(loads, mode, has_feed=loop.control.standby is not None)


@remembered
def _on_edge(
    given: Sheet,
    edge: PhaseMode,
    *,
    headroom_ratio: float | None,
    site: SiteTrims | None,
    samples: int,
    seed: int,
) -> _OnEdge:
    """A gang on one edge, or on a contact."""
    loop = given.loop
    by_matrix = _matrix(loop, edge)
    tried = samples_of(loop, samples, seed, given.figures, edge)
    typical = typical_of(loop, given.figures, edge)
    findings = [*lit_findings.set_up(loop), *lit_findings.least_of_transformers(loop)]
    curve = None
    if edge is PhaseMode.ON_OFF:
        findings += contact.closing(loop, tried, typical)
        findings.append(contact.supply_while_on(loop, tried, typical))
    else:
        by_site, explained = narrowed(
            loop, tried, site, lambda count: samples_of(loop, count, seed, given.figures, edge), seed
        )
        curve = light_curve(loop, edge, by_site)
        if curve is not None:
            findings += trim_findings(site, curve, explained=explained)
        findings += _dimming(loop, edge, tried, typical, _headroom(given, headroom_ratio))
    verdict = by_matrix.verdict
    if verdict in (Goes.GOES, Goes.GOES_IF):
        severities = {finding.severity for finding in findings}
        if Severity.STOP in severities:
            verdict = Goes.MUST_NOT
        elif Severity.WARN in severities:
            verdict = Goes.GOES_IF
    order = list(Severity)
    ordered = tuple(sorted(findings, key=lambda finding: order.index(finding.severity)))
    return _OnEdge(together=by_matrix, verdict=verdict, findings=ordered, curve=curve)


def _dimming(
    loop: Loop, edge: PhaseMode, tried: Sequence[LitFigures], typical: LitFigures, headroom_ratio: float
) -> list[Finding]:
    if edge is PhaseMode.TRAILING:
        return [lit_findings.decay(loop, tried), *lit_findings.spike(loop, typical)]
    gap = lit_findings.supply_gap(loop, tried)
    return [
        *([] if gap is None else [gap]),
        lit_findings.holding(loop, tried),
        *lit_findings.stresses(loop, tried, headroom_ratio),
        lit_findings.count_allowed(loop, typical, headroom_ratio),
        *lit_findings.ring(loop, tried),
        *lit_findings.half_wave(loop, typical),
    ]
