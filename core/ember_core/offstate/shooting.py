"""The compiled search for the settled state: Newton on the half-cycle map of `kernel.march`."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

import numpy as np
from numba import njit

from ember_core.offstate.kernel import C_RES, C_SERIES, march, state_size
from ember_core.offstate.network import Floats, Indices

# Rounds before `shoot` takes shorter steps, and what it then accepts.
PATIENT_AFTER_ROUNDS = 12
KINK_TOLERANCE_RATIO = 1e-4
# Old slopes are kept while each round leaves less than this of the residual, and the state is this near to where
# they were taken; so the growth they give is that of the solution.
SLOPES_HOLD_RATIO = 0.2
SLOPES_NEAR_RATIO = 0.02


@njit(cache=True, nogil=True)
def half_cycle(
    v_peak: float,
    f_hz: float,
    linear: Floats,
    bypass: Floats,
    branches: Floats,
    state: Floats,
    running: Floats,
    steps_per_cycle: int,
) -> int:
    """March half a cycle from the rising zero and mirror the result, so that it begins anew at the rising zero.

    Every law is odd, so a settled loop is a fixed point of this map. Loads wait.
    """
    none = np.zeros((0, 0))
    failed = march(
        v_peak,
        f_hz,
        linear,
        bypass,
        branches,
        state,
        running,
        0,
        steps_per_cycle // 2,
        steps_per_cycle,
        False,
        none,
        none,
    )
    for k in range(1 + bypass.shape[0]):
        state[k] = -state[k]
    for k in range(branches.shape[0]):
        state[1 + bypass.shape[0] + 2 * k] = -state[1 + bypass.shape[0] + 2 * k]
    return failed


@njit(cache=True, nogil=True)
def free_states(bypass: Floats, branches: Floats, held: Floats) -> Indices:
    """Indices of the state entries that a settled loop must reproduce; `held` branches keep their reservoir."""
    found = np.empty(state_size(bypass, branches), dtype=np.int64)
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


@njit(cache=True, nogil=True)
def _slopes(
    v_peak: float,
    f_hz: float,
    linear: Floats,
    bypass: Floats,
    branches: Floats,
    state: Floats,
    landed: Floats,
    index: Indices,
    running: Floats,
    steps_per_cycle: int,
    jacobian: Floats,
) -> int:
    """Slopes of the half-cycle map at a state that lands at `landed`, written into `jacobian`; 1 when a step fails."""
    nudge = 1e-4 * v_peak
    for b in range(index.shape[0]):
        trial = state.copy()
        trial[index[b]] += nudge
        if half_cycle(v_peak, f_hz, linear, bypass, branches, trial, running, steps_per_cycle) != 0:
            return 1
        for a in range(index.shape[0]):
            jacobian[a, b] = (trial[index[a]] - landed[index[a]]) / nudge
    return 0


@njit(cache=True, nogil=True)
def shoot(
    v_peak: float,
    f_hz: float,
    linear: Floats,
    bypass: Floats,
    branches: Floats,
    state: Floats,
    held: Floats,
    steps_per_cycle: int,
    most_rounds: int,
    tolerance_v: float,
) -> tuple[float, float, int]:
    """Find the settled state by Newton's method on the half-cycle map, changing `state` in place.

    Returns
    -------
    (last correction [V], growth, half-cycles marched); growth is the largest size of the map's
    eigenvalues at the solution: above 1 the loop would leave that state. It is -1 where not found.
    """
    index = free_states(bypass, branches, held)
    n = index.shape[0]
    size = state.shape[0]
    running = np.zeros(branches.shape[0])
    marched = 0
    base = 1 + bypass.shape[0]
    jacobian = np.zeros((n, n))
    residual = np.zeros(n)
    trial = np.zeros(size)
    landed = np.zeros(size)
    worst = 1e30
    # Slopes are taken anew only where the last ones no longer bring the state on: each costs n half-cycles.
    before = 1e30
    moved = 1e30
    for _round in range(most_rounds):
        trial[:] = state
        if half_cycle(v_peak, f_hz, linear, bypass, branches, trial, running, steps_per_cycle) != 0:
            return 1e30, -1.0, marched
        marched += 1
        for a in range(n):
            residual[a] = trial[index[a]] - state[index[a]]
        left = np.max(np.abs(residual))
        landed[:] = trial
        if _round == 0 or left > SLOPES_HOLD_RATIO * before or moved > SLOPES_NEAR_RATIO * v_peak:
            failed = _slopes(
                v_peak, f_hz, linear, bypass, branches, state, landed, index, running, steps_per_cycle, jacobian
            )
            marched += n
            moved = 0.0
            if failed != 0:
                return 1e30, -1.0, marched
        before = left
        system = np.eye(n) - jacobian
        for a in range(n):
            # A state that nothing discharges stays where it is.
            if abs(system[a, a]) < 1e-12:
                system[a, a] = 1e-12
        correction = np.linalg.solve(system, residual)
        worst = np.max(np.abs(correction))
        done = worst < tolerance_v or (_round >= PATIENT_AFTER_ROUNDS and worst < KINK_TOLERANCE_RATIO * v_peak)
        # Far steps overshoot where diodes begin to conduct: keep them within a third of the peak. Where
        # a pulse is only a few steps long the map has kinks; shorter steps then end a to and fro.
        scale = min(1.0, 0.35 * v_peak / worst) if worst > 0.0 else 1.0
        if _round >= PATIENT_AFTER_ROUNDS:
            scale *= 0.5 if _round < 2 * PATIENT_AFTER_ROUNDS else 0.2
        moved += scale * worst
        for a in range(n):
            k = index[a]
            state[k] += scale * correction[a]
            if k >= base and (k - base) % 2 == 1 and state[k] < 0.0:
                state[k] = 0.0
        if done:
            growth = np.max(np.abs(np.linalg.eigvals(jacobian.astype(np.complex128))))
            return worst, growth, marched
    return worst, -1.0, marched
