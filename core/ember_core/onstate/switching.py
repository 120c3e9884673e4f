"""What the control of the on state does, moment by moment: when it closes, when it lets go, what it remembers."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from typing import NamedTuple

from ember_core.compiled import compiled
from ember_core.onstate.laws import Floats
from ember_core.onstate.measures import DROP_OUT, FIRED, I_TURN_OFF, T_DECAY, V_AT_CROSSING, Step

LEADING, TRAILING, SELF_FIRED, WINDOW, RELAY = 0, 1, 2, 3, 4
# Voltage to which the switched live must have fallen before the next zero crossing, so that a trailing-edge
# control still sees the crossing [assumption]; the time it takes to see it is a figure of the control.
DECAYED_TO_V = 30.0
# Places of what the control remembers.
CLOSED, HAS_FIRED, GATE_LEFT, LOW_FOR, FIRED_AT, OFF_AT, HAS_DECAYED, I_MOST, V_MOST = range(9)
MEMORIES = 9


class Switch(NamedTuple):
    """The control; its angles in half-cycles. A supply of its own where `v_supply_v` is above 0."""

    mode: int
    first: float
    second: float
    r_on_ohm: float
    l_choke_h: float
    r_filter_ohm: float
    c_filter_f: float
    r_off_ohm: float
    i_hold_a: float
    t_gate_s: float
    t_let_go_s: float
    v_supply_v: float
    c_supply_f: float
    i_need_a: float
    r_supply_ohm: float


@compiled
def act(switch: Switch, memory: Floats, at: float, t: float, v_reservoir: float, i_line: float, out: Floats) -> bool:
    """What the control does at a moment of the half-cycle; True where it has just opened or closed.

    Parameters
    ----------
    at : place in the half-cycle [half-cycles]. t : time [s].
    """
    was = memory[CLOSED]
    mode = switch.mode
    if mode in (LEADING, SELF_FIRED):
        is_due = at >= switch.first - 1e-12 if mode == LEADING else v_reservoir >= switch.v_supply_v and at > 1e-9
        if was == 0.0 and memory[HAS_FIRED] == 0.0 and is_due:
            memory[CLOSED] = memory[HAS_FIRED] = 1.0
            memory[GATE_LEFT], memory[LOW_FOR], memory[FIRED_AT] = switch.t_gate_s, 0.0, t
            out[FIRED] = at
        elif was != 0.0 and memory[GATE_LEFT] <= 1e-12 and memory[LOW_FOR] >= switch.t_let_go_s:
            memory[CLOSED] = 0.0
    elif mode == TRAILING:
        memory[CLOSED] = 1.0 if at < switch.first - 1e-12 else 0.0
    elif mode == WINDOW:
        memory[CLOSED] = 1.0 if switch.first - 1e-12 <= at < switch.second - 1e-12 else 0.0
    else:
        memory[CLOSED] = 1.0
    if was != 0.0 and memory[CLOSED] == 0.0 and mode == TRAILING:
        memory[OFF_AT], memory[HAS_DECAYED] = t, 0.0
        out[I_TURN_OFF] = max(out[I_TURN_OFF], abs(i_line))
    return was != memory[CLOSED]


@compiled
def crossed(memory: Floats, v: float, out: Floats) -> None:
    """A zero crossing passes: what stands on the switched live then is kept, where the control has turned off."""
    if memory[OFF_AT] >= 0.0:
        out[V_AT_CROSSING] = max(out[V_AT_CROSSING], abs(v))
    memory[OFF_AT] = -1.0


@compiled
def next_moment(switch: Switch, memory: Floats, half: int, half_s: float, t: float, to_s: float) -> float:
    """The next moment that is known beforehand, beyond which no step may go [s].

    Parameters
    ----------
    half : which half-cycle; half_s : how long each is [s]. t, to_s : now, and the end of the stretch [s].
    """
    ends = (half + 1) * half_s
    for angle in (switch.first, switch.second):
        moment = (half + angle) * half_s
        if switch.mode != RELAY and switch.mode != SELF_FIRED and t + 1e-11 < moment < ends:
            ends = moment
    ends = min(ends, to_s)
    if (switch.mode == LEADING or switch.mode == SELF_FIRED) and memory[CLOSED] != 0.0 and memory[GATE_LEFT] > 1e-12:
        ends = min(ends, t + memory[GATE_LEFT])
    return ends


@compiled
def longest_step_s(switch: Switch, memory: Floats, i_choke: float, longest_s: float) -> float:
    """No step is longer [s]: short ones where a triac may let go, or where its supply is about to fire it."""
    if (switch.mode == LEADING or switch.mode == SELF_FIRED) and memory[CLOSED] != 0.0:
        if memory[GATE_LEFT] <= 1e-12 and abs(i_choke) < switch.i_hold_a and switch.t_let_go_s > 0.0:
            return min(longest_s, 0.25 * switch.t_let_go_s)
    elif switch.mode == SELF_FIRED:
        return min(longest_s, 2e-6)
    return longest_s


@compiled
def watch_holding(
    switch: Switch, memory: Floats, step: Step, t: float, half_s: float, i_before: float, i: float, out: Floats
) -> None:
    """After a step of a closed triac that ends at t [s]: how long its current has been too low to hold it.

    Parameters
    ----------
    i_before, i : through its choke, at both ends of the step [A].
    """
    h = step.h_s
    memory[GATE_LEFT] -= h
    size, size_before = abs(i), abs(i_before)
    if size >= switch.i_hold_a:
        memory[LOW_FOR] = 0.0
    elif memory[LOW_FOR] > 0.0 or size_before <= size:
        memory[LOW_FOR] += h
    else:
        memory[LOW_FOR] = h * min(1.0, (switch.i_hold_a - size) / max(size_before - size, 1e-30))
    if memory[GATE_LEFT] <= 1e-12 and memory[LOW_FOR] >= switch.t_let_go_s:
        # It lets go where the current last fell below, not when that has been seen.
        out[DROP_OUT] = out[FIRED] + (t - memory[LOW_FOR] - memory[FIRED_AT]) / half_s


@compiled
def watch_decay(memory: Floats, step: Step, t: float, out: Floats) -> None:
    """After a step behind a trailing edge that ends at t [s]: when the switched live shows the crossing."""
    if memory[OFF_AT] >= 0.0 and memory[HAS_DECAYED] == 0.0 and abs(step.v) < DECAYED_TO_V:
        memory[HAS_DECAYED] = 1.0
        late = step.h_s * (DECAYED_TO_V - abs(step.v)) / max(abs(step.v_before) - abs(step.v), 1e-30)
        out[T_DECAY] = max(out[T_DECAY], t - min(late, step.h_s) - memory[OFF_AT])
