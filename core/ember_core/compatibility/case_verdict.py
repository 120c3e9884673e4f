"""What a marched case means: the matrix for its loads, and the figures against what is asked."""

from __future__ import annotations

from dataclasses import dataclass

from ember_core.compatibility.matrix import UNKNOWN, Goes, LoadClass, together
from ember_core.findings import Finding, Severity
from ember_core.lit.holding import HOLDS_TO_DEG
from ember_core.onstate.case import (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    ElectronicTransformerLoad,
    FilamentLoad,
    LinearLoad,
    Load,
    OnCase,
    Question,
)
from ember_core.onstate.simulate import OnState
from ember_core.onstate.switching import DECAYED_TO_V
from ember_core.parts import PhaseMode

# A supply gets what it needs within this share.
FED_RATIO = 0.97
# Across an opened control more than this is beyond what such parts stand [V; assumption].
MOST_SPIKE_V = 600.0


@dataclass(frozen=True, slots=True, kw_only=True)
class CaseVerdict:
    """Verdict of a case with its reasons."""

    verdict: Goes
    findings: tuple[Finding, ...]


_EDGE = {
    Question.LEADING: PhaseMode.LEADING,
    Question.SUPPLY_GAP: PhaseMode.LEADING,
    Question.TRAILING: PhaseMode.TRAILING,
    Question.SUPPLY_WINDOW: PhaseMode.ON_OFF,
    Question.RELAY_INRUSH: PhaseMode.ON_OFF,
}


def load_class(load: Load) -> LoadClass:
    """The class of a load."""
    match load:
        case CapacitorInputLoad():
            return LoadClass.CAPACITOR_INPUT
        case ElectronicTransformerLoad():
            return LoadClass.ELECTRONIC_TRANSFORMER
        case DriverLoad():
            return LoadClass.DRIVER
        case DropperLoad():
            return LoadClass.DROPPER
        case LinearLoad():
            return LoadClass.LINEAR
        case FilamentLoad():
            return LoadClass.FILAMENT
    return LoadClass.IRON_CORE


def unsettled(found: OnState) -> list[Finding]:
    """What is to be said of a march that does not repeat itself; nothing of one that does."""
    if found.is_settled:
        return []
    params: dict[str, float | int | str] = {"cycles_count": found.cycles, "apart_ratio": found.apart_ratio}
    return [Finding(code="on_not_settled", severity=Severity.WARN, params=params)]


def judge_case(case: OnCase, found: OnState) -> CaseVerdict:
    """The matrix for the loads, whose declarations a case does not hold, then the figures.

    A misfire is told as what this one march did; whether it happens is a question of chance.
    """
    by_matrix = together([(load_class(load), UNKNOWN) for load in case.loads], _EDGE[case.question])
    findings = [
        Finding(code=f"rule_{rule.reason}", severity=_SEVERITY[rule.verdict], params={"group": k})
        for k, rule in enumerate(by_matrix.members, 1)
    ]
    findings += unsettled(found)
    findings += _figures(case, found)
    verdict = by_matrix.verdict
    severities = {finding.severity for finding in findings}
    if Severity.STOP in severities:
        verdict = Goes.MUST_NOT
    elif Severity.WARN in severities and verdict is Goes.GOES:
        verdict = Goes.GOES_IF
    return CaseVerdict(verdict=verdict, findings=tuple(findings))


_SEVERITY = {
    Goes.GOES: Severity.GOOD,
    Goes.GOES_IF: Severity.INFO,
    Goes.UNKNOWN: Severity.WARN,
    Goes.MUST_NOT: Severity.STOP,
}


def _figures(case: OnCase, found: OnState) -> list[Finding]:
    match case.question:
        case Question.LEADING:
            if found.drop_out_deg is None:
                return [Finding(code="on_not_let_go", severity=Severity.INFO)]
            params = {"drop_out_deg": found.drop_out_deg, "least_deg": HOLDS_TO_DEG}
            early = found.drop_out_deg < HOLDS_TO_DEG
            code = "on_dropped_out_early" if early else "on_held"
            return [Finding(code=code, severity=Severity.WARN if early else Severity.GOOD, params=params)]
        case Question.TRAILING:
            return _trailing(found)
        case Question.SUPPLY_GAP | Question.SUPPLY_WINDOW:
            need, got = case.control.i_supply_need_a, found.i_supply_avg_a or 0.0
            if need is None:
                return [Finding(code="on_supply_gets", severity=Severity.INFO, params={"i_supply_a": got})]
            fed = got >= FED_RATIO * need
            params = {"i_supply_a": got, "i_need_a": need}
            code = "on_supply_gets_enough" if fed else "on_supply_gets_too_little"
            return [Finding(code=code, severity=Severity.GOOD if fed else Severity.WARN, params=params)]
    params = {"i_peak_a": found.i_peak_a, "i2t_a2s": found.i2t_a2s}
    return [Finding(code="on_inrush_found", severity=Severity.INFO, params=params)]


def _trailing(found: OnState) -> list[Finding]:
    findings = []
    left = found.v_at_zero_crossing_v or 0.0
    late = left >= DECAYED_TO_V
    params = {"v_left_v": left, "limit_v": DECAYED_TO_V}
    code = "on_left_at_crossing" if late else "on_decayed"
    findings.append(Finding(code=code, severity=Severity.WARN if late else Severity.GOOD, params=params))
    if found.v_peak_v > MOST_SPIKE_V:
        spike = {"v_spike_v": found.v_peak_v, "limit_v": MOST_SPIKE_V}
        findings.append(Finding(code="on_spike", severity=Severity.STOP, params=spike))
    return findings
