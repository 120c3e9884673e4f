"""A case of the on state, marched and measured.

Measured is the last mains cycle; of a closing relay the time from closing on.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, sqrt

import numpy as np

from ember_core.errors import SolverError
from ember_core.onstate import kernel
from ember_core.onstate.case import (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    FilamentLoad,
    LinearLoad,
    Load,
    OnBleeder,
    OnBypass,
    OnCapacitor,
    OnCase,
    OnResistor,
    Question,
    TransformerLoad,
)
from ember_core.onstate.kernel import Floats

# Longest step by question [s]: a ring of an input filter lasts tens of microseconds, an inrush less.
STEP_S = {
    Question.LEADING: 2.5e-7,
    Question.TRAILING: 5e-7,
    Question.SUPPLY_GAP: 1e-6,
    Question.SUPPLY_WINDOW: 1e-6,
    Question.RELAY_INRUSH: 1e-7,
}
# Mains cycles until nothing changes any more: with a reservoir in a load, with an iron core, with neither.
CYCLES_WITH_RESERVOIR, CYCLES_WITH_IRON, CYCLES_WITHOUT = 15, 4, 3
POINTS = 400
_MODES = {
    Question.LEADING: kernel.LEADING,
    Question.TRAILING: kernel.TRAILING,
    Question.SUPPLY_GAP: kernel.SELF_FIRED,
    Question.SUPPLY_WINDOW: kernel.WINDOW,
    Question.RELAY_INRUSH: kernel.RELAY,
}
# A capacitor that is not there.
_LEAST_F = 1e-13


@dataclass(frozen=True, slots=True, kw_only=True)
class OnState:
    """What was measured.

    Parameters
    ----------
    i_peak_a, i_rms_a, lamp_v_rms, v_peak_v : of the cycle. t_peak_s : from closing on. i2t_a2s : ∫ i² dt since closing.
    fired_deg, drop_out_deg : of the last half-cycle; None where the control has none. conduction_deg : between them.
    v_at_zero_crossing_v, t_decay_to_30v_s : after a turn-off; the decay None where it does not get there.
    i_at_turn_off_a : largest. i_supply_avg_a : into the control's own supply, mean.
    balance_ratio : work of the source less that into line, control and loads, over the former: what the step loses.
    theta_deg, v_source_v, v_lamp_v, i_line_a, is_closed : along the cycle.
    """

    i_peak_a: float
    t_peak_s: float
    i2t_a2s: float
    i_rms_a: float
    lamp_v_rms: float
    v_peak_v: float
    fired_deg: float | None
    drop_out_deg: float | None
    conduction_deg: float | None
    v_at_zero_crossing_v: float | None
    t_decay_to_30v_s: float | None
    i_at_turn_off_a: float | None
    i_supply_avg_a: float | None
    balance_ratio: float
    theta_deg: Floats
    v_source_v: Floats
    v_lamp_v: Floats
    i_line_a: Floats
    is_closed: Floats


def simulate(case: OnCase, *, step_s: float | None = None) -> OnState:
    """March a case to its settled cycle and measure it.

    Parameters
    ----------
    step_s : longest step; by default that of the question.

    Raises
    ------
    SolverError : the balance of the node was not met.
    """
    source, control = case.source, case.control
    half_s = 0.5 / source.f_hz
    n_half = ceil(half_s / (step_s or STEP_S[case.question]))
    h = half_s / n_half
    loads, state = _table(case)
    first, second = _angles(case)
    if case.question is Question.RELAY_INRUSH:
        begin = int(first * n_half) - 1
        steps = begin + int(0.95 * n_half)
    else:
        cycles = settles_in_cycles(case)
        begin, steps = 2 * n_half * (cycles - 1), 2 * n_half * cycles
    measured = steps - begin
    every = max(1, measured // POINTS)
    record = np.zeros((5, measured // every))
    out = np.zeros(kernel.MEASURES)
    figures = np.array(
        [
            control.r_on_ohm,
            control.l_choke_h,
            control.r_filter_ohm,
            control.c_filter_f,
            control.r_off_ohm,
            control.i_hold_a,
            control.t_gate_s,
            control.t_let_go_s,
            first,
            second,
            control.v_supply_v or 0.0,
            control.c_supply_f or 0.0,
            control.i_supply_need_a or 0.0,
            control.r_supply_ohm,
        ]
    )
    line = np.array([source.v_peak, source.f_hz, source.r_source_ohm, source.l_source_h])
    failed = kernel.march(
        _MODES[case.question], line, figures, loads, state, n_half, steps, max(begin, 0), every, record, out
    )
    if failed:
        raise SolverError("on_state_not_solved", question=case.question.value)
    return _measured(case, out, record, h, begin, every, n_half)


def _measured(case: OnCase, out: Floats, record: Floats, h: float, begin: int, every: int, n_half: int) -> OnState:
    count = out[kernel.STEPS]
    fires = case.question in (Question.LEADING, Question.SUPPLY_GAP)
    turns_off = case.question is Question.TRAILING
    has_supply = case.control.v_supply_v is not None
    work = out[kernel.E_SOURCE]
    decay = out[kernel.T_DECAY]
    crossing = out[kernel.V_AT_CROSSING]
    angles = ((begin + 1 + every * np.arange(record.shape[1])) % (2 * n_half)) * 180.0 / n_half
    let_go = 180.0 * out[kernel.DROP_OUT] if fires and out[kernel.DROP_OUT] > 0.0 else None
    fired = 180.0 * out[kernel.FIRED] if fires else None
    return OnState(
        i_peak_a=float(out[kernel.I_PEAK]),
        t_peak_s=float(out[kernel.T_PEAK] - begin * h),
        i2t_a2s=float(out[kernel.I2T]),
        i_rms_a=sqrt(out[kernel.I_SQUARED] / count),
        lamp_v_rms=sqrt(out[kernel.V_SQUARED] / count),
        v_peak_v=float(out[kernel.V_PEAK]),
        fired_deg=fired,
        drop_out_deg=let_go,
        conduction_deg=None if let_go is None or fired is None else let_go - fired,
        v_at_zero_crossing_v=float(crossing) if turns_off else None,
        t_decay_to_30v_s=float(decay) if turns_off and decay > 0.0 else None,
        i_at_turn_off_a=float(out[kernel.I_TURN_OFF]) if turns_off else None,
        i_supply_avg_a=float(out[kernel.Q_SUPPLY] / (count * h)) if has_supply else None,
        balance_ratio=float((work - out[kernel.E_SPENT]) / work) if work else 0.0,
        theta_deg=angles,
        v_source_v=record[0],
        v_lamp_v=record[1],
        i_line_a=record[2],
        is_closed=record[3],
    )


def _angles(case: OnCase) -> tuple[float, float]:
    """First and second angle of the control, in half-cycles."""
    control = case.control
    match case.question:
        case Question.LEADING:
            return (control.firing_deg or 0.0) / 180.0, 0.0
        case Question.TRAILING:
            return (control.turn_off_deg or 0.0) / 180.0, 0.0
        case Question.SUPPLY_WINDOW:
            return (control.closed_from_deg or 0.0) / 180.0, (control.closed_to_deg or 0.0) / 180.0
        case Question.RELAY_INRUSH:
            return (control.closing_deg or 0.0) / 180.0, 0.0
    return 0.0, 0.0


def settles_in_cycles(case: OnCase) -> int:
    """Mains cycles that a case is marched, the last of which is measured."""
    if any(isinstance(load, CapacitorInputLoad | DropperLoad) for load in case.loads) or case.control.c_supply_f:
        return CYCLES_WITH_RESERVOIR
    has_iron = any(isinstance(load, TransformerLoad) for load in case.loads)
    return CYCLES_WITH_IRON if has_iron else CYCLES_WITHOUT


def _table(case: OnCase) -> tuple[Floats, Floats]:
    """Rows of loads and their start: reservoirs charged, but of a closing relay empty."""
    v_start = 0.0 if case.question is Question.RELAY_INRUSH else case.source.v_peak
    rows: list[list[float]] = []
    states: list[tuple[float, float]] = []
    for part in (*case.loads, *case.bypass):
        for row, start in _rows(part, v_start):
            rows.append(row + [0.0] * (kernel.COLUMNS - len(row)))
            states.append(start)
    return np.array(rows), np.array(states)


def _rows(part: Load | OnBypass, v_start: float) -> list[tuple[list[float], tuple[float, float]]]:
    n = float(part.count)
    none = (0.0, 0.0)
    match part:
        case CapacitorInputLoad():
            bulk = [kernel.RECTIFIER, n, part.r_in_ohm, part.c_bulk_f, part.p_run_w, part.v_undervoltage_v]
            found = [(bulk, (v_start, v_start))]
            if part.c_x_f > _LEAST_F:
                found.append(([kernel.SERIES_RC, n, part.r_x_ohm, part.c_x_f], none))
            return found
        case DriverLoad():
            stage = [kernel.STAGE, n, part.r_in_ohm, part.c_film_f, part.g_s, part.i_stage_a]
            found = [([*stage, part.v_min_v, part.i_bleed_a], none)]
            if part.c_x_f > _LEAST_F:
                found.append(([kernel.SERIES_RC, n, part.r_damp_ohm, part.c_x_f], none))
            return found
        case DropperLoad():
            row = [kernel.DROPPER, n, part.r_in_ohm, part.c_series_f, part.c_smooth_f, part.v_string_v]
            v_s = 0.0 if v_start == 0.0 else part.v_string_v
            return [([*row, part.r_string_ohm, part.r_string_parallel_ohm], (0.0, v_s))]
        case LinearLoad():
            r = part.r_in_ohm + part.r_string_ohm
            return [([kernel.LINEAR, n, r, part.v_string_v, part.i_limit_a], none)]
        case FilamentLoad():
            return [([kernel.RESISTOR, n, part.r_hot_ohm], none)]
        case TransformerLoad():
            row = [kernel.TRANSFORMER, n, part.r_winding_ohm, part.l_leakage_h, part.l_magnetising_h]
            return [([*row, part.r_load_ohm], none)]
        case OnCapacitor():
            return [([kernel.SERIES_RC, n, part.r_series_ohm, part.c_f], none)]
        case OnResistor():
            return [([kernel.RESISTOR, n, part.r_ohm], none)]
        case OnBleeder():
            return [([kernel.BLEEDER, n, part.r_on_ohm, part.i_limit_a, part.v_cutoff_v], none)]
