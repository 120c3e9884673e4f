"""A case of the on state, marched and measured.

Measured is the last mains cycle; of a closing relay the time from closing on.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

import numpy as np

from ember_core.errors import SolverError
from ember_core.onstate import kernel, laws, measures, switching
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
from ember_core.onstate.kernel import Line, Stretch
from ember_core.onstate.laws import Floats
from ember_core.onstate.switching import Switch

# No step is longer [s]; most are far shorter, as their own error asks for.
LONGEST_STEP_S = 4e-5
# Mains cycles at least, and at most, until one repeats the one before within a share of the peak.
FEWEST_CYCLES, MOST_CYCLES = 3, 80
SETTLED_RATIO = 2e-4
POINTS = 400
# Half-cycles watched after a contact has closed.
CLOSING_HALF_CYCLES = 0.95
_MODES = {
    Question.LEADING: switching.LEADING,
    Question.TRAILING: switching.TRAILING,
    Question.SUPPLY_GAP: switching.SELF_FIRED,
    Question.SUPPLY_WINDOW: switching.WINDOW,
    Question.RELAY_INRUSH: switching.RELAY,
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
    cycles, apart_ratio : mains cycles marched, and how far the last is from the one before, over the peak.
    is_settled : the last repeats the one before; where it does not, the figures are of one of many.
    steps : of the last.
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
    cycles: int
    apart_ratio: float
    is_settled: bool
    steps: int
    theta_deg: Floats
    v_source_v: Floats
    v_lamp_v: Floats
    i_line_a: Floats
    is_closed: Floats


def simulate(case: OnCase, *, tolerance_ratio: float = 1.0) -> OnState:
    """March a case to its settled cycle and measure it.

    Parameters
    ----------
    tolerance_ratio : what a step may err, over what is usual.

    Raises
    ------
    SolverError : the balance of the node was not met.
    """
    source = case.source
    line = Line(source.v_peak, source.f_hz, source.r_source_ohm, source.l_source_h)
    switch = _switch(case)
    loads, state = _table(case)
    control = np.zeros(kernel.CONTROL_STATES)
    control[kernel.V_RESERVOIR] = switch.v_supply_v
    out, record = np.zeros(measures.MEASURES), np.zeros((5, POINTS))
    cycles = np.array([FEWEST_CYCLES, MOST_CYCLES, SETTLED_RATIO])
    if case.question is Question.RELAY_INRUSH:
        memory = np.zeros(switching.MEMORIES)
        memory[switching.OFF_AT] = -1.0
        begins = switch.first * 0.5 / source.f_hz
        stretch = Stretch(begins, begins + CLOSING_HALF_CYCLES * 0.5 / source.f_hz, LONGEST_STEP_S, tolerance_ratio)
        failed = kernel.march(line, switch, loads, state, control, memory, stretch, record, out)
        cycles[0], cycles[2] = 0.0, 0.0
    else:
        stretch = Stretch(0.0, 1.0 / source.f_hz, LONGEST_STEP_S, tolerance_ratio)
        failed = kernel.settle(
            line, switch, loads, state, control, LONGEST_STEP_S, tolerance_ratio, cycles, record, out
        )
    if failed:
        raise SolverError("on_state_not_solved", question=case.question.value)
    return _measured(case, out, record, stretch, cycles)


def _switch(case: OnCase) -> Switch:
    """The control as the kernel has it."""
    control = case.control
    first, second = _angles(case)
    return Switch(
        mode=_MODES[case.question],
        first=first,
        second=second,
        r_on_ohm=control.r_on_ohm,
        l_choke_h=control.l_choke_h,
        r_filter_ohm=control.r_filter_ohm,
        c_filter_f=control.c_filter_f,
        r_off_ohm=control.r_off_ohm,
        i_hold_a=control.i_hold_a,
        t_gate_s=control.t_gate_s,
        t_let_go_s=control.t_let_go_s,
        v_supply_v=control.v_supply_v or 0.0,
        c_supply_f=control.c_supply_f or 0.0,
        i_need_a=control.i_supply_need_a or 0.0,
        r_supply_ohm=control.r_supply_ohm,
    )


def _measured(case: OnCase, out: Floats, record: Floats, stretch: Stretch, cycles: Floats) -> OnState:
    measured_s = out[measures.MEASURED_S]
    fires = case.question in (Question.LEADING, Question.SUPPLY_GAP)
    turns_off = case.question is Question.TRAILING
    has_supply = case.control.v_supply_v is not None
    work = out[measures.E_SOURCE]
    decay = out[measures.T_DECAY]
    crossing = out[measures.V_AT_CROSSING]
    t_s = stretch.from_s + (np.arange(record.shape[1]) + 1.0) * (stretch.to_s - stretch.from_s) / record.shape[1]
    let_go = 180.0 * out[measures.DROP_OUT] if fires and out[measures.DROP_OUT] > 0.0 else None
    fired = 180.0 * out[measures.FIRED] if fires else None
    return OnState(
        i_peak_a=float(out[measures.I_PEAK]),
        t_peak_s=float(out[measures.T_PEAK]),
        i2t_a2s=float(out[measures.I2T]),
        i_rms_a=sqrt(out[measures.I2T] / measured_s),
        lamp_v_rms=sqrt(out[measures.V2T] / measured_s),
        v_peak_v=float(out[measures.V_PEAK]),
        fired_deg=fired,
        drop_out_deg=let_go,
        conduction_deg=None if let_go is None or fired is None else let_go - fired,
        v_at_zero_crossing_v=float(crossing) if turns_off else None,
        t_decay_to_30v_s=float(decay) if turns_off and decay > 0.0 else None,
        i_at_turn_off_a=float(out[measures.I_TURN_OFF]) if turns_off else None,
        i_supply_avg_a=float(out[measures.Q_SUPPLY] / measured_s) if has_supply else None,
        balance_ratio=float((work - out[measures.E_SPENT]) / work) if work else 0.0,
        cycles=int(cycles[0]),
        apart_ratio=float(cycles[2]),
        is_settled=bool(cycles[2] <= SETTLED_RATIO),
        steps=int(out[measures.STEPS]),
        theta_deg=(360.0 * case.source.f_hz * t_s) % 360.0,
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


def _table(case: OnCase) -> tuple[Floats, Floats]:
    """Rows of loads and their start: reservoirs charged, but of a closing relay empty."""
    v_start = 0.0 if case.question is Question.RELAY_INRUSH else case.source.v_peak
    rows: list[list[float]] = []
    states: list[tuple[float, float]] = []
    for part in (*case.loads, *case.bypass):
        for row, start in _rows(part, v_start):
            rows.append(row + [0.0] * (laws.COLUMNS - len(row)))
            states.append(start)
    return np.array(rows), np.array(states)


def _rows(part: Load | OnBypass, v_start: float) -> list[tuple[list[float], tuple[float, float]]]:
    n = float(part.count)
    none = (0.0, 0.0)
    match part:
        case CapacitorInputLoad():
            bulk = [laws.RECTIFIER, n, part.r_in_ohm, part.c_bulk_f, part.p_run_w, part.v_undervoltage_v]
            found = [(bulk, (v_start, 0.0))]
            if part.c_x_f > _LEAST_F:
                found.append(([laws.SERIES_RC, n, part.r_x_ohm, part.c_x_f], none))
            return found
        case DriverLoad():
            stage = [laws.STAGE, n, part.r_in_ohm, part.c_film_f, part.g_s, part.i_stage_a]
            found = [([*stage, part.v_min_v, part.i_bleed_a], none)]
            if part.c_x_f > _LEAST_F:
                found.append(([laws.SERIES_RC, n, part.r_damp_ohm, part.c_x_f], none))
            return found
        case DropperLoad():
            row = [laws.DROPPER, n, part.r_in_ohm, part.c_series_f, part.c_smooth_f, part.v_string_v]
            v_s = 0.0 if v_start == 0.0 else part.v_string_v
            return [([*row, part.r_string_ohm, part.r_string_parallel_ohm], (0.0, v_s))]
        case LinearLoad():
            r = part.r_in_ohm + part.r_string_ohm
            return [([laws.LINEAR, n, r, part.v_string_v, part.i_limit_a], none)]
        case FilamentLoad():
            return [([laws.RESISTOR, n, part.r_hot_ohm], none)]
        case TransformerLoad():
            row = [laws.TRANSFORMER, n, part.r_winding_ohm, part.l_leakage_h, part.l_magnetising_h]
            return [([*row, part.r_load_ohm], none)]
        case OnCapacitor():
            return [([laws.SERIES_RC, n, part.r_series_ohm, part.c_f], none)]
        case OnResistor():
            return [([laws.RESISTOR, n, part.r_ohm], none)]
        case OnBleeder():
            return [([laws.BLEEDER, n, part.r_on_ohm, part.i_limit_a, part.v_cutoff_v], none)]
