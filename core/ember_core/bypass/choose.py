"""Parts held against a loop: whether each works over the spread, what it does while on, and their order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import pi, sqrt

from ember_core.bypass.window import (
    DISCHARGED_TO_V,
    HIGH_SUPPLY_RATIO,
    MOST_HEAT_W,
    MOST_REACTIVE_A,
    Window,
    capacitor_window,
    discharge_s,
    failing,
    look,
    resistor_window,
    with_bypass,
    works,
)
from ember_core.errors import SolverError
from ember_core.findings import Finding, Severity
from ember_core.loop import Loop
from ember_core.offstate.ptc import settled_resistance_ohm
from ember_core.parts import Bypass, CapacitorBypass, PtcBypass, ResistorBypass
from ember_core.quantities import Figure
from ember_core.sheet import Sheet
from ember_core.spread.judged import judge_spread
from ember_core.spread.variables import DEFAULT_SAMPLES

# A capacitor must be safe to touch this long after isolation [s].
MOST_DISCHARGE_S = 1.0
WORKS_FROM_SHARE = 1.0
UNSURE_FROM_SHARE = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A part that could be fitted; `bypass` None stands for none at all."""

    name: str
    bypass: Bypass | None
    figures: dict[str, Figure]


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """How one candidate fares.

    Parameters
    ----------
    verdict : `works`, `unsure` (over the spread it sometimes does not) or `rejected`. rank : from 1.
    share : of the samples that are dark and fed [1]; without spread 1 or 0. margin : least margin to light, 5th
        percentile [1]. heat_w, reactive_a : while on at +10 %; heat None where it is not known.
    """

    name: str
    verdict: str
    rank: int
    share: float
    margin: float
    heat_w: float | None
    reactive_a: float
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Choosing:
    """The windows and the candidates in order."""

    capacitor: Window
    resistor: Window
    none_needed: bool
    choices: tuple[Choice, ...]


def choose(sheet: Sheet, candidates: Sequence[Candidate], *, spread: bool = True, seed: int = 1) -> Choosing:
    """Windows of capacitor and resistor, and every candidate ranked: works first, then by heat and current
    while on, each as a share of what is allowed.

    Parameters
    ----------
    sheet : the loop; its own bypass is left out. spread : judge candidates over the ranges, else with typical figures.
    """
    bare = replace(
        sheet,
        loop=with_bypass(sheet.loop, None),
        figures={path: figure for path, figure in sheet.figures.items() if not path.startswith("bypass")},
    )
    nothing = Candidate(name="", bypass=None, figures={})
    judged = [_judge(bare, candidate, spread, seed) for candidate in (nothing, *candidates)]
    order = {"works": 0, "unsure": 1, "rejected": 2}
    # What is not known counts as the most heat that is allowed.
    ranked = sorted(
        judged,
        key=lambda c: (
            order[c.verdict],
            -c.share,
            (MOST_HEAT_W if c.heat_w is None else c.heat_w) / MOST_HEAT_W + c.reactive_a / MOST_REACTIVE_A,
        ),
    )
    return Choosing(
        capacitor=capacitor_window(bare.loop),
        resistor=resistor_window(bare.loop),
        none_needed=judged[0].verdict == "works",
        choices=tuple(replace(choice, rank=k) for k, choice in enumerate(ranked, 1)),
    )


def _judge(bare: Sheet, candidate: Candidate, spread: bool, seed: int) -> Choice:
    loop = with_bypass(bare.loop, candidate.bypass)
    figures = {**bare.figures, **{f"bypass[0].{name}": figure for name, figure in candidate.figures.items()}}
    nominal = look(loop)
    share, margin = (1.0 if works(nominal) else 0.0), 0.0 if nominal is None else min(nominal.margins)
    if spread:
        try:
            found = judge_spread(replace(bare, loop=loop, figures=figures), samples=DEFAULT_SAMPLES, seed=seed)
            share, margin = found.all_well, min(entry.p05 for entry in found.margins)
        except SolverError:
            share = 0.0
    findings = [*_off_findings(share, *failing(nominal)), *_on_findings(loop, candidate.bypass)]
    stopped = any(finding.severity is Severity.STOP for finding in findings)
    verdict = "rejected" if stopped or share < UNSURE_FROM_SHARE else "works" if share >= WORKS_FROM_SHARE else "unsure"
    return Choice(
        name=candidate.name,
        verdict=verdict,
        rank=0,
        share=share,
        margin=margin,
        heat_w=heat_w(loop, candidate.bypass),
        reactive_a=reactive_a(loop, candidate.bypass),
        findings=tuple(findings),
    )


def heat_w(loop: Loop, bypass: Bypass | None) -> float | None:
    """Heat while on at +10 % [W]: V²/R, of a capacitor that of its discharge resistor, of a PTC at its hot point.

    None where it is not known: an electronic bleeder opens above its cut-off, what is left is its maker's to say.
    """
    v = HIGH_SUPPLY_RATIO * loop.supply.v_rms
    match bypass:
        case None:
            return 0.0
        case ResistorBypass():
            return v**2 / bypass.r_ohm
        case CapacitorBypass():
            return 0.0 if bypass.r_parallel_ohm is None else v**2 / bypass.r_parallel_ohm
        case PtcBypass():
            return v**2 / settled_resistance_ohm(bypass, v)
    return None


def reactive_a(loop: Loop, bypass: Bypass | None) -> float:
    """Reactive current while on at +10 %, rms [A]: 2π·f·C·V."""
    if not isinstance(bypass, CapacitorBypass):
        return 0.0
    return 2.0 * pi * loop.supply.f_hz * bypass.c_f * HIGH_SUPPLY_RATIO * loop.supply.v_rms


def _off_findings(share: float, reason: str, group: int | None) -> list[Finding]:
    if share >= WORKS_FROM_SHARE:
        return [Finding(code="bypass_works", severity=Severity.GOOD, params={"share_ratio": share})]
    params: dict[str, float | int | str] = {"share_ratio": share, "reason": reason}
    if group is not None:
        params["group"] = group + 1
    severity = Severity.WARN if share >= UNSURE_FROM_SHARE else Severity.STOP
    return [Finding(code="bypass_does_not_do", severity=severity, params=params)]


def _on_findings(loop: Loop, bypass: Bypass | None) -> list[Finding]:
    """Heat, current and discharge."""
    found = []
    if heat_w(loop, bypass) is None:
        found.append(Finding(code="bypass_heat_not_known", severity=Severity.INFO))
    heat, current = heat_w(loop, bypass), reactive_a(loop, bypass)
    if heat is not None and heat > MOST_HEAT_W:
        found.append(
            Finding(code="bypass_too_warm", severity=Severity.STOP, params={"heat_w": heat, "most_w": MOST_HEAT_W})
        )
    if current > MOST_REACTIVE_A:
        params = {"reactive_a": current, "most_a": MOST_REACTIVE_A}
        found.append(Finding(code="bypass_too_much_current", severity=Severity.STOP, params=params))
    if isinstance(bypass, CapacitorBypass):
        if bypass.r_parallel_ohm is None:
            found.append(Finding(code="bypass_keeps_charge", severity=Severity.STOP))
        else:
            v_peak = sqrt(2.0) * HIGH_SUPPLY_RATIO * loop.supply.v_rms
            times = [discharge_s(bypass.c_f, bypass.r_parallel_ohm, v_peak, v) for v in DISCHARGED_TO_V]
            severity = Severity.INFO if times[1] <= MOST_DISCHARGE_S else Severity.WARN
            params = {"to_60_s": times[0], "to_34_s": times[1]}
            found.append(Finding(code="bypass_discharges", severity=severity, params=params))
    return found
