"""What is measured along the on state, between the two ends of each step, and what is drawn of it."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from typing import NamedTuple

from ember_core.compiled import compiled
from ember_core.onstate.laws import Floats

# Places of what is measured.
(
    I_PEAK,
    T_PEAK,
    I2T,
    V2T,
    V_PEAK,
    DROP_OUT,
    FIRED,
    V_AT_CROSSING,
    T_DECAY,
    I_TURN_OFF,
    Q_SUPPLY,
    MEASURED_S,
    E_SOURCE,
    E_SPENT,
    STEPS,
) = range(15)
MEASURES = 15


class Step(NamedTuple):
    """A step that stands: from when on and how long [s]; switched live [V] and line current [A] at both ends."""

    from_s: float
    h_s: float
    v_before: float
    v: float
    i_before: float
    i: float


@compiled
def measure(step: Step, i_fed: float, out: Floats) -> None:
    """Squares, charge and largest voltage of a step; i_fed : into the supply of the control [A]."""
    h, i_before, i, v_before, v = step.h_s, step.i_before, step.i, step.v_before, step.v
    out[MEASURED_S] += h
    out[STEPS] += 1.0
    out[I2T] += h * (i_before * i_before + i_before * i + i * i) / 3.0
    out[V2T] += h * (v_before * v_before + v_before * v + v * v) / 3.0
    out[Q_SUPPLY] += i_fed * h
    out[V_PEAK] = max(out[V_PEAK], abs(v))


@compiled
def measure_peak(
    step: Step, since_s: float, began_s: float, known: int, t_at: Floats, i_at: Floats, out: Floats
) -> None:
    """The largest current, and when.

    Parameters
    ----------
    since_s : end of the step, since the stretch began at began_s [s].
    known : how many places of t_at [s] and i_at [A] are known, the newest first.
    """
    if abs(step.i) > out[I_PEAK]:
        out[I_PEAK], out[T_PEAK] = abs(step.i), since_s
    elif known == 3 and abs(step.i_before) == out[I_PEAK]:
        # The peak lies between three places, at the top of the parabola through them.
        rising = (i_at[1] - i_at[2]) / (t_at[1] - t_at[2])
        falling = (i_at[0] - i_at[1]) / (t_at[0] - t_at[1])
        if rising * falling < 0.0:
            bend = (falling - rising) / (t_at[0] - t_at[2])
            out[T_PEAK] = 0.5 * (t_at[2] + t_at[1]) - 0.5 * rising / bend - began_s


@compiled
def draw(
    step: Step, at_s: float, v_source: float, is_closed: bool, v_reservoir: float, column: int, record: Floats
) -> None:
    """What stands at a moment within a step [s]: supply, switched live, line current, closed or not, reservoir."""
    part = (at_s - step.from_s) / step.h_s
    record[0, column] = v_source
    record[1, column] = step.v_before + part * (step.v - step.v_before)
    record[2, column] = step.i_before + part * (step.i - step.i_before)
    record[3, column] = 1.0 if is_closed else 0.0
    record[4, column] = v_reservoir
