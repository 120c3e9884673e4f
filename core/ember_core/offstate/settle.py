"""The settled state of a loop whose loads wait: Newton on the half-cycle map, or a long march."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ember_core.errors import SolverError
from ember_core.offstate import kernel, shooting
from ember_core.offstate.closed_form import ClosedForm
from ember_core.offstate.network import V_BRIDGE, Col, Floats, Network

# Voltages agree to this between two Newton rounds [V]; far below any figure shown.
TOLERANCE_V = 1e-4
MOST_ROUNDS = 40
# The map's eigenvalue of a slow reservoir is just below 1; above this the state is one the loop leaves.
MOST_GROWTH = 1.0 + 1e-6
# Half-cycles marched before Newton's first round, so that fast states have found their place.
WARM_UP_HALF_CYCLES = 4
# From a state nearby.
NEAR_HALF_CYCLES = 2
# A settled voltage does not depend on a reservoir's size, so a long march uses small ones first.
SMALL_RESERVOIR_RATIO = 0.1
LONG_MARCH_HALF_CYCLES = 600
# Where Newton finds nothing even then, the loop is simply marched until it stands still.
PATIENT_HALF_CYCLES = 200
MOST_PATIENT_MARCHES = 60
STANDSTILL_RATIO = 5e-5


@dataclass(frozen=True, slots=True, kw_only=True)
class Settled:
    """A settled state at the rising zero of the supply.

    Parameters
    ----------
    state : see `kernel.state_size`; voltages [V].
    residual_v : last correction [V].
    growth : largest eigenvalue of the half-cycle map, below 1.
    half_cycles : how many were marched.
    """

    state: Floats
    residual_v: float
    growth: float
    half_cycles: int


def first_guess(network: Network, closed: ClosedForm, feed_v: float | None = None) -> Floats:
    """State to begin from: reservoirs as the closed form has them."""
    state = np.zeros(kernel.state_size(network.bypass, network.branches))
    base = 1 + network.bypass.shape[0]
    lamp_v = max(0.0, closed.lamp_v_peak - V_BRIDGE)
    if feed_v is not None and network.branches[0, Col.C_SERIES] == 0.0:
        lamp_v = max(0.0, network.v_peak - feed_v - 2.0 * V_BRIDGE)
    for k, row in enumerate(network.branches):
        if row[Col.C_RES] == 0.0:
            continue
        if network.has_feed and k == 0:
            held = feed_v if feed_v is not None else closed.standby_v_dc
            state[base + 1] = held or 0.0
        else:
            state[base + 2 * k + 1] = min(lamp_v, float(row[Col.V_STRING]))
    return state


def settle(network: Network, closed: ClosedForm, steps_per_cycle: int, held: Floats | None = None) -> Settled:
    """Settled state with start-stop loads held waiting.

    Parameters
    ----------
    held : one per branch; non-zero keeps that branch's reservoir at its first guess. None: none is held.

    Raises
    ------
    SolverError : `not_settled`, with the residual, when neither Newton nor a long march settles.
    """
    held = np.zeros(network.branches.shape[0]) if held is None else held
    guesses = [first_guess(network, closed)]
    if network.has_feed and network.branches[0, Col.V_KNEE] > 0.0:
        guesses.append(first_guess(network, closed, float(network.branches[0, Col.V_KNEE])))
    marched = 0
    residual = float("inf")
    for guess in guesses:
        found = _newton(network, guess, held, steps_per_cycle)
        marched += found.half_cycles
        if 0.0 <= found.growth <= MOST_GROWTH:
            return Settled(state=found.state, residual_v=found.residual_v, growth=found.growth, half_cycles=marched)
        residual = min(residual, found.residual_v)
    state = _march(network, guesses[0], steps_per_cycle, SMALL_RESERVOIR_RATIO, LONG_MARCH_HALF_CYCLES)
    found = _newton(network, state, held, steps_per_cycle)
    marched += LONG_MARCH_HALF_CYCLES + found.half_cycles
    if 0.0 <= found.growth <= MOST_GROWTH:
        return Settled(state=found.state, residual_v=found.residual_v, growth=found.growth, half_cycles=marched)
    drift = float("inf")
    for _ in range(MOST_PATIENT_MARCHES):
        before = state
        state = _march(network, before, steps_per_cycle, 1.0, PATIENT_HALF_CYCLES)
        marched += PATIENT_HALF_CYCLES
        drift = float(np.max(np.abs(state - before)))
        if drift < STANDSTILL_RATIO * network.v_peak:
            return Settled(state=state, residual_v=drift, growth=0.0, half_cycles=marched)
    raise SolverError("not_settled", residual_v=min(residual, drift), half_cycles=marched)


def settle_from(network: Network, state: Floats, held: Floats, steps_per_cycle: int) -> Settled:
    """Settled state near a given one while a reservoir is held; no long march, no look at stability.

    Raises
    ------
    SolverError : `not_settled`, with the residual.
    """
    found = _newton(network, state, held, steps_per_cycle, NEAR_HALF_CYCLES)
    if found.growth < 0.0:
        raise SolverError("not_settled", residual_v=found.residual_v, half_cycles=found.half_cycles)
    return found


def _newton(
    network: Network, guess: Floats, held: Floats, steps_per_cycle: int, warm_up: int = WARM_UP_HALF_CYCLES
) -> Settled:
    state = guess.copy()
    running = np.zeros(network.branches.shape[0])
    base = 1 + network.bypass.shape[0]
    kept = state.copy()
    for _ in range(warm_up):
        shooting.half_cycle(
            network.v_peak,
            network.f_hz,
            network.linear,
            network.bypass,
            network.branches,
            state,
            running,
            steps_per_cycle,
        )
    for k in range(network.branches.shape[0]):
        if held[k] != 0.0:
            state[base + 2 * k + 1] = kept[base + 2 * k + 1]
    residual, growth, marched = shooting.shoot(
        network.v_peak,
        network.f_hz,
        network.linear,
        network.bypass,
        network.branches,
        state,
        held,
        steps_per_cycle,
        MOST_ROUNDS,
        TOLERANCE_V,
    )
    return Settled(
        state=state,
        residual_v=float(residual),
        growth=float(growth),
        half_cycles=marched + warm_up,
    )


def _march(network: Network, guess: Floats, steps_per_cycle: int, reservoir_ratio: float, half_cycles: int) -> Floats:
    """State after some half-cycles with reservoirs scaled, loads waiting."""
    state = guess.copy()
    running = np.zeros(network.branches.shape[0])
    branches = network.branches.copy()
    branches[:, Col.C_RES] *= reservoir_ratio
    for _ in range(half_cycles):
        shooting.half_cycle(
            network.v_peak,
            network.f_hz,
            network.linear,
            network.bypass,
            branches,
            state,
            running,
            steps_per_cycle,
        )
    return state
