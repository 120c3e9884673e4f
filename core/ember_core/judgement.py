"""The judgement of one gang: the off state put into a verdict with its reasons."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from ember_core.findings import Finding, Severity
from ember_core.loop import Loop
from ember_core.offstate.closed_form import Form, flash_period_s
from ember_core.offstate.network import build
from ember_core.offstate.resonance import is_near_resonance, resonance_ratio
from ember_core.offstate.results import LampResult, OffState, Second
from ember_core.offstate.solve import solve
from ember_core.offstate.states import (
    CLOSE_BELOW_RATIO,
    CLOSE_FILAMENT_RATIO,
    CLOSE_STRING_RATIO,
    FED_FROM_RATIO,
    VISIBLE_FILAMENT_RATIO,
    VISIBLE_STRING_CURRENT,
    LampState,
    StandbyState,
)
from ember_core.parts import CapacitorBypass, PtcBypass, ResistorBypass, SwitchingFeed
from ember_core.quantities import Source
from ember_core.sheet import Sheet


class Verdict(StrEnum):
    """The one word for a gang; the worst that holds."""

    STARVED = "starved"
    BLINK = "blink"
    GLOW = "glow"
    MARGINAL = "marginal"
    CLOSE = "close"  # dark, but close to the start threshold
    DARK = "dark"  # dark, and the control (if it needs power) fed
    UNKNOWN = "unknown"  # something is missing for a judgement, or could not be determined


# Work of the source and what became of it agree within 0.3 % in every loop that was tried; five times that is a fault.
BALANCE_WITHIN_RATIO = 0.015

METERS_OHM = {"high": 10e6, "low": 400e3}

# Every code with the parameters that its words may mention: the contract with the text catalogue.
CODES: Mapping[str, tuple[str, ...]] = {
    "control_fed": ("p_needed_w", "p_available_w", "power_ratio", "standby_v"),
    "control_marginal": ("p_needed_w", "p_available_w", "power_ratio", "standby_v", "limit_ratio"),
    "control_starved": ("p_needed_w", "delivered_ratio", "standby_v", "v_least_v"),
    "control_fed_while_blinking": ("p_needed_w", "standby_v"),
    "control_margin_unknown": ("p_needed_w", "standby_v"),
    "ordinary_switch": (),
    "ordinary_switch_leak": ("r_leak_ohm",),
    "lamps_dark_below_start": ("group", "reservoir_v", "v_start_v", "start_margin_ratio"),
    "lamps_close_to_start": ("group", "reservoir_v", "v_start_v", "start_margin_ratio", "limit_ratio"),
    "lamps_blink": ("group", "flash_period_s", "flash_energy_j", "v_start_v"),
    "lamps_blink_slowly": ("group", "v_start_v"),
    "lamps_lit": ("group", "light_p_w"),
    "lamps_glow_string": ("group", "string_i_a", "limit_i_a", "light_p_w"),
    "lamps_dark_string": ("group", "string_i_a", "limit_i_a"),
    "lamps_close_string": ("group", "string_i_a", "limit_i_a", "glow_margin_ratio"),
    "lamps_close_filament": ("group", "light_p_w", "glow_margin_ratio"),
    "second_state_flashes": ("lamp_v",),
    "second_state_level": ("lamp_v", "second_lamp_v"),
    "lamps_glow_filament": ("group", "light_p_w", "limit_ratio"),
    "lamps_dark_filament": ("group", "light_p_w"),
    "iron_near_resonance": ("resonance_ratio",),
    "energy_not_balanced": ("balance_ratio", "limit_ratio"),
    "bypass_carries": ("bypass_i_a", "line_i_a"),
    "line_current": ("line_i_a", "lamp_v"),
    "closed_form_capacitive": ("closed_standby_v", "standby_v", "c_parallel_f", "c_across_f", "p_max_w"),
    "closed_form_resistive": ("closed_standby_v", "standby_v"),
    "closed_form_divider": ("closed_lamp_peak_v", "lamp_peak_v"),
    "closed_form_no_feed": ("closed_lamp_peak_v", "c_across_f", "c_parallel_f"),
    "closed_form_starved": ("p_max_w", "p_needed_w"),
    "closed_form_divider_starved": ("p_max_w", "p_needed_w"),
    "closed_form_period": ("closed_period_s", "flash_period_s"),
    "figures_assumed": ("assumed_count", "figure_count"),
}

# What the verdict would be if this were all that is found; findings that only explain make none.
VERDICT_OF: Mapping[str, Verdict] = {
    "control_starved": Verdict.STARVED,
    "lamps_blink": Verdict.BLINK,
    "lamps_blink_slowly": Verdict.BLINK,
    "lamps_lit": Verdict.GLOW,
    "lamps_glow_string": Verdict.GLOW,
    "lamps_glow_filament": Verdict.GLOW,
    "control_margin_unknown": Verdict.UNKNOWN,
    "iron_near_resonance": Verdict.UNKNOWN,
    "energy_not_balanced": Verdict.UNKNOWN,
    "control_marginal": Verdict.MARGINAL,
    "lamps_close_to_start": Verdict.CLOSE,
    "lamps_close_string": Verdict.CLOSE,
    "lamps_close_filament": Verdict.CLOSE,
    "second_state_flashes": Verdict.CLOSE,
    "control_fed": Verdict.DARK,
    "control_fed_while_blinking": Verdict.DARK,
    "lamps_dark_below_start": Verdict.DARK,
    "lamps_dark_string": Verdict.DARK,
    "lamps_dark_filament": Verdict.DARK,
}

# Cautions by code; the words are in the text catalogue.
CAUTIONS = (
    "terminals_live_when_off",
    "isolate_and_prove_dead",
    "capacitor_class_and_charge",
    "bypass_gets_warm",
    "bypass_at_the_luminaire",
    "no_borrowed_neutral",
    "makers_parts",
    "local_code",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class MeterReading:
    """What a meter on the lamp terminals would read, with its own load in the loop.

    Parameters
    ----------
    r_ohm : input resistance [Ω].
    v_rms : reading, rms [V].
    """

    r_ohm: float
    v_rms: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Judgement:
    """Verdict, reasons and the figures behind them.

    Parameters
    ----------
    verdict : see `Verdict`.
    findings : reasons, the deciding one first.
    cautions : codes of the cautions that apply.
    off_state : the computed figures.
    meter : predicted readings, high impedance first.
    """

    verdict: Verdict
    findings: tuple[Finding, ...]
    cautions: tuple[str, ...]
    off_state: OffState
    meter: tuple[MeterReading, ...]


def judge(sheet: Sheet, *, with_meter: bool = True) -> Judgement:
    """Judge a gang with its nominal figures.

    Parameters
    ----------
    with_meter : also predict what meters would read; each costs another solution.

    Raises
    ------
    InputError, SolverError : see `offstate.solve.solve`.
    """
    off = solve(sheet.loop)
    findings = [_control_finding(sheet, off)]
    findings += [_lamp_finding(index, lamp) for index, lamp in enumerate(off.lamps)]
    findings += _flow_findings(off)
    findings += _resonance_findings(sheet.loop)
    findings += _balance_findings(off)
    findings += _second_findings(off)
    findings += _closed_form_findings(sheet, off)
    findings += _source_findings(sheet)
    order = list(Severity)
    findings.sort(key=lambda finding: order.index(finding.severity))
    meter: tuple[MeterReading, ...] = ()
    if with_meter:
        meter = tuple(_meter_reading(sheet, r_ohm) for r_ohm in METERS_OHM.values())
    return Judgement(
        verdict=_verdict(sheet.loop, off),
        findings=tuple(findings),
        cautions=cautions(sheet),
        off_state=off,
        meter=meter,
    )


def cautions(sheet: Sheet) -> tuple[str, ...]:
    """Cautions that apply to this loop, in the order in which they matter."""
    loop = sheet.loop
    applies = {
        "terminals_live_when_off": True,
        "isolate_and_prove_dead": True,
        "capacitor_class_and_charge": any(isinstance(part, CapacitorBypass) for part in loop.bypass),
        "bypass_gets_warm": any(isinstance(part, (ResistorBypass, PtcBypass)) for part in loop.bypass),
        "bypass_at_the_luminaire": bool(loop.bypass),
        "no_borrowed_neutral": True,
        "makers_parts": bool(loop.bypass),
        "local_code": True,
    }
    return tuple(code for code in CAUTIONS if applies[code])


def _verdict(loop: Loop, off: OffState) -> Verdict:
    states = {lamp.state for lamp in off.lamps}
    if off.control.state is StandbyState.STARVED:
        return Verdict.STARVED
    if LampState.BLINK in states:
        return Verdict.BLINK
    if LampState.GLOW in states:
        return Verdict.GLOW
    if _is_unsure(off) or is_near_resonance(loop):
        return Verdict.UNKNOWN
    if off.control.state is StandbyState.MARGINAL:
        return Verdict.MARGINAL
    if any(_is_close(lamp) for lamp in off.lamps) or off.second is Second.FLASHES:
        return Verdict.CLOSE
    return Verdict.DARK


def _is_unsure(off: OffState) -> bool:
    """Whether a good answer would not be known: the margin was not found, or the energy does not add up."""
    margin_is_open = off.control.state is StandbyState.FED and off.control.power_ratio is None
    return margin_is_open or bool(_balance_findings(off))


def _balance_findings(off: OffState) -> list[Finding]:
    balance = off.numerics.energy_balance_ratio
    if balance is None or abs(balance) <= BALANCE_WITHIN_RATIO:
        return []
    params: dict[str, float | int | str] = {"balance_ratio": abs(balance), "limit_ratio": BALANCE_WITHIN_RATIO}
    return [Finding(code="energy_not_balanced", severity=Severity.WARN, params=params)]


def _resonance_findings(loop: Loop) -> list[Finding]:
    if not is_near_resonance(loop):
        return []
    params: dict[str, float | int | str] = {"resonance_ratio": resonance_ratio(loop) or 0.0}
    return [Finding(code="iron_near_resonance", severity=Severity.WARN, params=params)]


def _second_findings(off: OffState) -> list[Finding]:
    """Another state that the loop would stay in if something brought it there."""
    if off.second is None:
        return []
    params: dict[str, float | int | str] = {"lamp_v": off.lamp_v_rms}
    if off.second_lamp_v_rms is not None:
        params["second_lamp_v"] = off.second_lamp_v_rms
    return [Finding(code=f"second_state_{off.second.value}", severity=Severity.WARN, params=params)]


def _is_close(lamp: LampResult) -> bool:
    """Dark with little to spare, against its start or against what shows."""
    if lamp.start_margin_ratio is not None:
        return lamp.start_margin_ratio < CLOSE_BELOW_RATIO.value
    if lamp.glow_margin_ratio is None:
        return False
    limit = CLOSE_FILAMENT_RATIO if lamp.string_i_avg_a is None else CLOSE_STRING_RATIO
    return lamp.glow_margin_ratio < limit.value


def _meter_reading(sheet: Sheet, r_ohm: float) -> MeterReading:
    with_it = solve(replace(sheet.loop, meter_r_ohm=r_ohm), with_power=False)
    return MeterReading(r_ohm=r_ohm, v_rms=with_it.lamp_v_rms)


def _control_finding(sheet: Sheet, off: OffState) -> Finding:
    control, feed = off.control, sheet.loop.control.standby
    if feed is None:
        leak = sheet.loop.control.r_leak_ohm
        if leak is None:
            return Finding(code="ordinary_switch", severity=Severity.INFO, refs=("control",))
        return Finding(
            code="ordinary_switch_leak",
            severity=Severity.INFO,
            params={"r_leak_ohm": leak},
            refs=("control.r_leak_ohm",),
        )
    need = "control.standby.p_w" if isinstance(feed, SwitchingFeed) else "control.standby.i_a"
    least = "control.standby.v_min_v" if isinstance(feed, SwitchingFeed) else "control.standby.v_shunt_v"
    params: dict[str, float | int | str] = {
        "p_needed_w": control.p_needed_w or 0.0,
        "standby_v": control.standby_v_dc or 0.0,
    }
    if control.state is StandbyState.STARVED:
        params["delivered_ratio"] = control.delivered_ratio or 0.0
        params["v_least_v"] = feed.v_min_v if isinstance(feed, SwitchingFeed) else feed.v_shunt_v
        return Finding(code="control_starved", severity=Severity.STOP, params=params, refs=(need, least))
    if control.power_ratio is None or control.p_available_w is None:
        if off.blink is not None:
            return Finding(code="control_fed_while_blinking", severity=Severity.GOOD, params=params, refs=(need,))
        return Finding(code="control_margin_unknown", severity=Severity.WARN, params=params, refs=(need,))
    params["p_available_w"] = control.p_available_w
    params["power_ratio"] = control.power_ratio
    if control.state is StandbyState.MARGINAL:
        params["limit_ratio"] = FED_FROM_RATIO.value
        return Finding(code="control_marginal", severity=Severity.WARN, params=params, refs=(need, "supply.v_rms"))
    return Finding(code="control_fed", severity=Severity.GOOD, params=params, refs=(need,))


def _lamp_finding(index: int, lamp: LampResult) -> Finding:
    path = f"lamps[{index}]"
    group: dict[str, float | int | str] = {"group": index + 1}
    if lamp.v_start_v is not None:
        return _start_stop_finding(lamp, path, group | {"v_start_v": lamp.v_start_v})
    group["light_p_w"] = lamp.light_p_w
    glows, is_close = lamp.state is LampState.GLOW, _is_close(lamp)
    severity = Severity.WARN if glows or is_close else Severity.GOOD
    word = "glow" if glows else "close" if is_close else "dark"
    if is_close and not glows:
        group["glow_margin_ratio"] = lamp.glow_margin_ratio or 0.0
    if lamp.string_i_avg_a is None:
        if glows:
            group["limit_ratio"] = VISIBLE_FILAMENT_RATIO.value
        place = "l_magnetising_h" if lamp.kind == "iron_core_transformer" else "r_cold_ohm"
        return Finding(code=f"lamps_{word}_filament", severity=severity, params=group, refs=(f"{path}.{place}",))
    group["string_i_a"] = lamp.string_i_avg_a
    group["limit_i_a"] = VISIBLE_STRING_CURRENT.value
    if not glows:
        group.pop("light_p_w")
    return Finding(code=f"lamps_{word}_string", severity=severity, params=group, refs=(f"{path}.v_string_v",))


def _start_stop_finding(lamp: LampResult, path: str, params: dict[str, float | int | str]) -> Finding:
    refs: tuple[str, ...] = (f"{path}.v_start_v", f"{path}.r_start_ohm")
    if lamp.state is LampState.GLOW:
        params.pop("v_start_v")
        params["light_p_w"] = lamp.light_p_w
        return Finding(code="lamps_lit", severity=Severity.WARN, params=params, refs=(f"{path}.p_run_w",))
    if lamp.state is LampState.BLINK:
        refs = (*refs, f"{path}.v_stop_v", f"{path}.c_bulk_f")
        if lamp.flash_period_s is None:
            return Finding(code="lamps_blink_slowly", severity=Severity.WARN, params=params, refs=refs)
        params["flash_period_s"] = lamp.flash_period_s
        params["flash_energy_j"] = lamp.flash_energy_j or 0.0
        return Finding(code="lamps_blink", severity=Severity.WARN, params=params, refs=refs)
    params["reservoir_v"] = lamp.v_dc_max or 0.0
    params["start_margin_ratio"] = lamp.start_margin_ratio or 0.0
    if _is_close(lamp):
        params["limit_ratio"] = CLOSE_BELOW_RATIO.value
        return Finding(code="lamps_close_to_start", severity=Severity.WARN, params=params, refs=refs)
    return Finding(code="lamps_dark_below_start", severity=Severity.GOOD, params=params, refs=refs)


def _flow_findings(off: OffState) -> list[Finding]:
    found = [
        Finding(
            code="line_current",
            severity=Severity.INFO,
            params={"line_i_a": off.line_i_rms_a, "lamp_v": off.lamp_v_rms},
        )
    ]
    if off.shares.bypass_a:
        found.append(
            Finding(
                code="bypass_carries",
                severity=Severity.INFO,
                params={"bypass_i_a": max(off.shares.bypass_a), "line_i_a": off.line_i_rms_a},
                refs=("bypass[0]",),
            )
        )
    return found


def _closed_form_findings(sheet: Sheet, off: OffState) -> list[Finding]:
    closed, control = off.closed_form, off.control
    params: dict[str, float | int | str]
    if closed.standby_v_dc is not None and not closed.operating_point:
        code = "closed_form_divider_starved" if closed.form is Form.DIVIDER else "closed_form_starved"
        params = {"p_max_w": closed.p_max_w or 0.0, "p_needed_w": control.p_needed_w or 0.0}
    else:
        code = f"closed_form_{closed.form.value}"
        everything: dict[str, float | int | str] = {
            "closed_standby_v": closed.standby_v_dc or 0.0,
            "standby_v": control.standby_v_dc or 0.0,
            "c_parallel_f": closed.c_parallel_f,
            "c_across_f": closed.c_across_f,
            "p_max_w": closed.p_max_w or 0.0,
            "closed_lamp_peak_v": closed.lamp_v_peak,
            "lamp_peak_v": off.lamp_v_peak,
        }
        params = {name: everything[name] for name in CODES[code]}
    found = [Finding(code=code, severity=Severity.INFO, params=params, refs=("supply.v_rms", "supply.f_hz"))]
    network = build(sheet.loop)
    for index, lamp in enumerate(off.lamps):
        period = flash_period_s(network, index)
        if period is not None and lamp.flash_period_s is not None:
            found.append(
                Finding(
                    code="closed_form_period",
                    severity=Severity.INFO,
                    params={"closed_period_s": period, "flash_period_s": lamp.flash_period_s},
                    refs=(f"lamps[{index}].c_bulk_f",),
                )
            )
    return found


def _source_findings(sheet: Sheet) -> list[Finding]:
    known = sheet.figures
    assumed = [path for path, figure in known.items() if figure.source is Source.ASSUMED]
    if not assumed:
        return []
    return [
        Finding(
            code="figures_assumed",
            severity=Severity.INFO,
            params={"assumed_count": len(assumed), "figure_count": len(known)},
            refs=tuple(assumed),
        )
    ]
