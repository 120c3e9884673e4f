"""The compiled search for the settled state: Newton on the half-cycle map of `kernel.march`."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ember_core.compiled import compiled
from ember_core.offstate.algebra import eliminated, growth_of
from ember_core.offstate.kernel import (
    C_RES,
    C_SERIES,
    G_DRAIN,
    I_LOAD,
    LEAST_FEED_V,
    P_LOAD,
    V_START,
    Pace,
    march,
    state_size,
)
from ember_core.offstate.network import Floats, Indices, Tables

# Rounds before `shoot` takes shorter steps, and what it then accepts.
PATIENT_AFTER_ROUNDS = 12
KINK_TOLERANCE_RATIO = 1e-4
# Share of what a reservoir gives that it may gain or lose in a settled half-cycle, and current that is none [A].
UNBALANCED_RATIO = 0.005
LEAST_MISSING_A = 1e-8
# Old slopes are kept while each round leaves less than this of the residual, and the state is this near to where
# they were taken; so the growth they give is that of the solution.
SLOPES_HOLD_RATIO = 0.2
SLOPES_NEAR_RATIO = 0.02
# Steps further than this share of the peak overshoot where diodes begin to conduct.
FARTHEST_RATIO = 0.35
# How far a state is moved to see what becomes of it, over the peak.
NUDGE_RATIO = 1e-4
# The neighbourhood is found with so many steps a cycle, where at least twice as many are asked for. In a dozen rounds
# it is found or will not be; its voltages need only be nearer than the longer steps themselves err.
LONG_STEPS_PER_CYCLE = 100
LONG_STEP_ROUNDS = 12
LONG_STEP_TOLERANCE_V = 0.02


class Search(NamedTuple):
    """How a settled state is looked for.

    Parameters
    ----------
    warm_up : half-cycles marched before the first round, so that fast states have found their place.
    most_rounds : Newton's. tolerance_v : states agree to this between two of them [V].
    """

    warm_up: int
    most_rounds: int
    tolerance_v: float


@compiled
def half_cycle(tables: Tables, state: Floats, steps_per_cycle: int) -> int:
    """March half a cycle from the rising zero and mirror the result, so that it begins anew at the rising zero.

    Every law is odd, so a settled loop is a fixed point of this map. Loads wait. Gives what `march` gives.
    """
    none = np.zeros((0, 0))
    running = np.zeros(tables.branches.shape[0])
    failed = march(tables, state, running, Pace(0, steps_per_cycle // 2, steps_per_cycle, False), none, none)
    base = 1 + tables.bypass.shape[0]
    for k in range(base):
        state[k] = -state[k]
    for k in range(tables.branches.shape[0]):
        state[base + 2 * k] = -state[base + 2 * k]
    return failed


@compiled
def half_cycles(tables: Tables, state: Floats, steps_per_cycle: int, count: int) -> int:
    """So many half-cycles; 1 when one of them failed."""
    for _ in range(count):
        if half_cycle(tables, state, steps_per_cycle) != 0:
            return 1
    return 0


@compiled
def free_states(tables: Tables, held: Floats) -> Indices:
    """Indices of the state entries that a settled loop must reproduce; `held` branches keep their reservoir."""
    bypass, branches = tables.bypass, tables.branches
    found = np.empty(state_size(tables), dtype=np.int64)
    n = 0
    found[n] = 0
    n += 1
    for k in range(bypass.shape[0]):
        if bypass[k, 0] == 0.0:
            found[n] = 1 + k
            n += 1
    base = 1 + bypass.shape[0]
    for k in range(branches.shape[0]):
        if branches[k, C_SERIES] > 0.0:
            found[n] = base + 2 * k
            n += 1
        if branches[k, C_RES] > 0.0 and held[k] == 0.0:
            found[n] = base + 2 * k + 1
            n += 1
    return found[:n]


@compiled
def _take_slopes(
    tables: Tables, state: Floats, landed: Floats, index: Indices, steps_per_cycle: int, slopes: Floats
) -> int:
    """Slopes of the half-cycle map at a state that lands at `landed`, written into `slopes`; 1 when a step fails."""
    nudge = NUDGE_RATIO * tables.v_peak
    for b in range(index.shape[0]):
        trial = state.copy()
        trial[index[b]] += nudge
        if half_cycle(tables, trial, steps_per_cycle) != 0:
            return 1
        for a in range(index.shape[0]):
            slopes[a, b] = (trial[index[a]] - landed[index[a]]) / nudge
    return 0


@compiled
def _is_balanced(tables: Tables, state: Floats, landed: Floats, held: Floats) -> bool:
    """Whether every free reservoir gains as much in the half-cycle as it gives, within `UNBALANCED_RATIO`.

    A large one moves so little in a half-cycle that the size of a correction alone does not tell.
    """
    base = 1 + tables.bypass.shape[0]
    half_s = 0.5 / tables.f_hz
    for k in range(tables.branches.shape[0]):
        row = tables.branches[k]
        if row[C_RES] <= 0.0 or held[k] != 0.0:
            continue
        v = state[base + 2 * k + 1]
        taken = row[G_DRAIN] * v
        if row[V_START] <= 0.0:
            taken += row[I_LOAD] + row[P_LOAD] / max(v, LEAST_FEED_V)
        missing = abs(landed[base + 2 * k + 1] - v) * row[C_RES] / half_s
        if missing > UNBALANCED_RATIO * taken + LEAST_MISSING_A:
            return False
    return True


@compiled
def shoot(
    tables: Tables,
    state: Floats,
    held: Floats,
    steps_per_cycle: int,
    search: Search,
    slopes: Floats,
    has_slopes: bool,
    landed: Floats,
) -> tuple[float, bool, int]:
    """Find the settled state by Newton's method on the half-cycle map, changing `state` in place.

    Parameters
    ----------
    held : one per branch; non-zero keeps its reservoir where it is.
    slopes : (n, n) of the free states, changed in place; where `has_slopes` they are those of a state nearby.
    landed : changed in place: where the last half-cycle marched ended.

    Returns
    -------
    (last correction [V], whether it was found, half-cycles marched).
    """
    v_peak = tables.v_peak
    index = free_states(tables, held)
    n = index.shape[0]
    base = 1 + tables.bypass.shape[0]
    kept = state.copy()
    if half_cycles(tables, state, steps_per_cycle, search.warm_up) != 0:
        return 1e30, False, search.warm_up
    for k in range(held.shape[0]):
        if held[k] != 0.0:
            state[base + 2 * k + 1] = kept[base + 2 * k + 1]
    marched = search.warm_up
    residual = np.zeros(n)
    worst = 1e30
    # Slopes are taken anew only where the last ones no longer bring the state on: each costs n half-cycles.
    before = 1e30
    moved = 0.0 if has_slopes else 1e30
    for _round in range(search.most_rounds):
        landed[:] = state
        if half_cycle(tables, landed, steps_per_cycle) != 0:
            return 1e30, False, marched
        marched += 1
        for a in range(n):
            residual[a] = landed[index[a]] - state[index[a]]
        left = np.max(np.abs(residual))
        if left > SLOPES_HOLD_RATIO * before or moved > SLOPES_NEAR_RATIO * v_peak:
            marched += n
            moved = 0.0
            if _take_slopes(tables, state, landed, index, steps_per_cycle, slopes) != 0:
                return 1e30, False, marched
        before = left
        system = np.eye(n) - slopes
        for a in range(n):
            # A state that nothing discharges stays where it is.
            if abs(system[a, a]) < 1e-12:
                system[a, a] = 1e-12
        correction = residual.copy()
        if not eliminated(system, correction):
            return 1e30, False, marched
        worst = np.max(np.abs(correction))
        is_late = _round >= PATIENT_AFTER_ROUNDS
        done = worst < search.tolerance_v
        if is_late and worst < KINK_TOLERANCE_RATIO * v_peak:
            done = _is_balanced(tables, state, landed, held)
        # Where a pulse is only a few steps long the map has kinks; shorter steps then end a to and fro.
        scale = min(1.0, FARTHEST_RATIO * v_peak / worst) if worst > 0.0 else 1.0
        if is_late:
            scale *= 0.5 if _round < 2 * PATIENT_AFTER_ROUNDS else 0.2
        moved += scale * worst
        for a in range(n):
            k = index[a]
            state[k] += scale * correction[a]
            if k >= base and (k - base) % 2 == 1 and state[k] < 0.0:
                state[k] = 0.0
        if done:
            return worst, True, marched
    return worst, False, marched


@compiled
def settled(
    tables: Tables, guess: Floats, held: Floats, steps_per_cycle: int, search: Search
) -> tuple[Floats, float, float, int]:
    """`shoot` from a guess that stays as it is: (state, last correction [V], growth, half-cycles marched).

    The growth is that of `growth_of` at the solution, and -1 where none was found.
    Longer steps find the neighbourhood and its slopes for a fraction of the work; what they do not find is forgotten.
    """
    state, landed = guess.copy(), guess.copy()
    n = free_states(tables, held).shape[0]
    slopes = np.zeros((n, n))
    near, is_near = 0, False
    if steps_per_cycle >= 2 * LONG_STEPS_PER_CYCLE:
        long_steps = Search(search.warm_up, LONG_STEP_ROUNDS, LONG_STEP_TOLERANCE_V)
        _, is_near, near = shoot(tables, state, held, LONG_STEPS_PER_CYCLE, long_steps, slopes, False, landed)
    if is_near:
        search = Search(0, search.most_rounds, search.tolerance_v)
    else:
        state[:] = guess
    worst, is_found, marched = shoot(tables, state, held, steps_per_cycle, search, slopes, is_near, landed)
    return state, worst, growth_of(slopes) if is_found else -1.0, near + marched


@compiled
def currents_into_held(
    tables: Tables, state: Floats, held: Floats, row: int, at_v: Floats, steps_per_cycle: int, search: Search
) -> tuple[Floats, Floats]:
    """Average current into a held reservoir at one voltage after another [A], each beginning from its neighbour.

    Parameters
    ----------
    tables : with the reservoir held, see `settle.hold`. state : settled, near the first voltage. row : the branch.

    Returns
    -------
    (currents, nan where the loop does not settle; states (voltages, size)).
    """
    at = 1 + tables.bypass.shape[0] + 2 * row + 1
    n = free_states(tables, held).shape[0]
    slopes = np.zeros((n, n))
    landed = state.copy()
    found = np.full(at_v.shape[0], np.nan)
    states = np.zeros((at_v.shape[0], state.shape[0]))
    last, before = state.copy(), state.copy()
    has_slopes = False
    for k in range(at_v.shape[0]):
        # Where the last two point to; a state of the second kind (a series capacitor) may go either way.
        moved = last[at] - before[at]
        share = (at_v[k] - last[at]) / moved if moved != 0.0 else 0.0
        begin = last + share * (last - before)
        for j in range(tables.branches.shape[0]):
            if j != row:
                place = 2 + tables.bypass.shape[0] + 2 * j
                begin[place] = max(0.0, begin[place])
        begin[at] = at_v[k]
        _, is_found, _ = shoot(tables, begin, held, steps_per_cycle, search, slopes, has_slopes, landed)
        if not is_found:
            # Far from the neighbour: let the reservoirs find their way first.
            begin[:] = last
            begin[at] = at_v[k]
            patient = Search(120, search.most_rounds, search.tolerance_v)
            _, is_found, _ = shoot(tables, begin, held, steps_per_cycle, patient, slopes, False, landed)
        states[k] = begin
        has_slopes = is_found
        if has_slopes:
            before, last = last, begin
            gained = landed[at] - at_v[k]
            found[k] = gained * tables.branches[row, C_RES] * 2.0 * tables.f_hz
    return found, states
