"""What instruments show of a loop, with half the steps of a solution."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ember_core.loop import Loop
from ember_core.offstate import blink, closed_form
from ember_core.offstate.measure import Readings
from ember_core.offstate.meters import Whole
from ember_core.offstate.network import Floats, Network, build
from ember_core.offstate.runner import settled_half_cycle
from ember_core.offstate.settle import just_off, settle

# Half of what a solution takes: voltages agree with it within 1 %, far inside any range, in half the time.
STEPS_PER_CYCLE = 200
STEPS_OF_A_GLANCE = 150


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """What instruments show of one loop.

    Parameters
    ----------
    lamp_v_rms [V], line_i_rms_a [A], lamp_i_rms_a [A] : as a true-rms meter shows them; while lamps blink over whole
        flashes, see `blink.GATE_S`.
    period_s : of the group that blinks fastest; None where none does, or where it does not repeat.
    """

    lamp_v_rms: float
    line_i_rms_a: float
    lamp_i_rms_a: tuple[float, ...]
    period_s: float | None


def rhythm_s(loop: Loop) -> float | None:
    """From flash to flash of a loop that blinks, to about an eighth, in a third of the time; None without [s].

    Raises
    ------
    SolverError : see `blink.observe`.
    """
    network = build(loop)
    seen = blink.observe(network, closed_form.evaluate(network), STEPS_OF_A_GLANCE, blink.GLANCE)
    return min((period for period in seen.period_s if period is not None), default=None)


def cycle_of(loop: Loop) -> tuple[Floats, Floats]:
    """One cycle from the rising zero of the supply: lamp voltage [V] and line current [A], of a loop that blinks half
    way between two flashes.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    waiting = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    seen = seen_blinking(network, waiting)
    recording = waiting.cycle() if seen is None else seen.middle
    return recording.v.copy(), recording.i_line.copy()


def seen_blinking(network: Network, waiting: Readings) -> blink.Blinking | None:
    """The march of a loop in which some lamp starts; None where none does, from the moment of switching off either."""
    closed = closed_form.evaluate(network)
    if not blink.would_start(network, waiting):
        begins = just_off(network, closed) if blink.may_go_on(network, waiting) else None
        if begins is None or not blink.goes_on(network, begins, STEPS_PER_CYCLE):
            return None
    seen = blink.observe(network, closed, STEPS_PER_CYCLE, blink.QUICK)
    return seen if any(seen.flashes) else None


def shown_at(loop: Loop, reading: Readings) -> Shown:
    """What is read of a loop that does not blink, or over whole flashes; without a period."""
    return Shown(
        lamp_v_rms=reading.whole(Whole.V_RMS),
        line_i_rms_a=reading.whole(Whole.LINE_RMS),
        lamp_i_rms_a=tuple(reading.lamp_i_rms_a(index) for index in range(len(loop.lamps))),
        period_s=None,
    )


def shown_blinking(loop: Loop, network: Network, seen: blink.Blinking) -> Shown:
    """What is read of a loop that blinks, over whole flashes, with the period of the fastest group."""
    periods = [period for row in network.lamp_row if row >= 0 and (period := seen.period_s[row]) is not None]
    shown = shown_at(loop, seen.whole)
    return replace(shown, period_s=min(periods, default=None))
