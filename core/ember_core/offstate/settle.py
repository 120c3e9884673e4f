"""The settled state of a loop whose loads wait: Newton on the half-cycle map, or a long march."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ember_core.errors import SolverError
from ember_core.offstate import abreast, shooting
from ember_core.offstate.closed_form import ClosedForm
from ember_core.offstate.measure import Noted
from ember_core.offstate.network import NO_STRING, V_BRIDGE, Col, Floats, Network
from ember_core.offstate.shooting import Search

# Voltages agree to this between two Newton rounds [V]; what the last correction leaves is a tenth of it at most where
# the laws are smooth. Far below any figure shown.
TOLERANCE_V = 1e-3
FIRST = Search(warm_up=4, most_rounds=40, tolerance_v=TOLERANCE_V)
# From a state nearby.
NEAR = Search(warm_up=2, most_rounds=40, tolerance_v=TOLERANCE_V)
# The map's eigenvalue of a slow reservoir is just below 1; above this the state is one the loop leaves.
MOST_GROWTH = 1.0 + 1e-6
# A settled voltage does not depend on a reservoir's size, so a long march uses small ones first.
SMALL_RESERVOIR_RATIO = 0.1
LONG_MARCH_HALF_CYCLES = 600
# Where Newton finds nothing even then, the loop is simply marched until it stands still.
PATIENT_HALF_CYCLES = 200
MOST_PATIENT_MARCHES = 60
STANDSTILL_RATIO = 5e-5
# A control that has just switched off has its reservoir near this share of the supply's peak.
JUST_OFF_RATIO = 0.77
# A bleeder that opens above its cut-off has two levels to be at. The one that it takes is clear, with small reservoirs,
# after so many stretches of half-cycles, or as soon as one changes the state by less than this share of the peak.
GATE_STRETCHES, GATE_HALF_CYCLES = 12, 50
GATE_STILL_RATIO = 3e-4
GATE_STEPS_PER_CYCLE = 100
# States further apart than this share of the peak are two.
APART_RATIO = 0.02
# A reservoir so large that it holds its voltage [F], and small enough that what it gains in a half-cycle is counted.
HELD_F = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Settled:
    """A settled state at the rising zero of the supply.

    Parameters
    ----------
    state : see `kernel.state_size`; voltages [V].
    residual_v : last correction [V].
    growth : largest eigenvalue of the half-cycle map, below 1; negative where it did not settle.
    half_cycles : how many were marched.
    """

    state: Floats
    residual_v: float
    growth: float
    half_cycles: int

    @property
    def lasts(self) -> bool:
        """Whether it was found, and is one that the loop does not leave."""
        return 0.0 <= self.growth <= MOST_GROWTH


def first_guess(network: Network, closed: ClosedForm, feed_v: float | None = None) -> Floats:
    """State to begin from: reservoirs as the closed form has them."""
    rows = network.branches.tolist()
    lamp_v = max(0.0, closed.lamp_v_peak - V_BRIDGE)
    if feed_v is not None and rows[0][Col.C_SERIES] == 0.0:
        lamp_v = max(0.0, network.v_peak - feed_v - 2.0 * V_BRIDGE)
    state = [0.0] * (1 + len(network.bypass))
    for k, row in enumerate(rows):
        if row[Col.C_RES] == 0.0:
            reservoir = 0.0
        elif network.has_feed and k == 0:
            reservoir = (feed_v if feed_v is not None else closed.standby_v_dc) or 0.0
        else:
            reservoir = min(lamp_v, row[Col.V_STRING])
        state += [0.0, reservoir]
    return np.array(state)


def just_off(network: Network, closed: ClosedForm) -> Floats:
    """The state right after switching off: control charged, lamps just stopped."""
    feed_v = None
    if network.has_feed and network.branches[0, Col.C_SERIES] == 0.0:
        feed_v = max(JUST_OFF_RATIO * network.v_peak, closed.standby_v_dc or 0.0)
    state = first_guess(network, closed, feed_v)
    base = 1 + network.bypass.shape[0]
    for row in network.lamp_row:
        if row >= 0 and network.branches[row, Col.V_START] > 0.0:
            state[base + 2 * row + 1] = 0.9 * network.branches[row, Col.V_STOP]
    return state


def settle(network: Network, closed: ClosedForm, steps_per_cycle: int) -> Settled:
    """Settled state with start-stop loads held waiting, as reached from the moment of switching off.

    Only where something opens or closes with the voltage, as an electronic bleeder does, are there levels to choose
    from; elsewhere the state is the same wherever it is begun from.

    Raises
    ------
    SolverError : `not_settled`, with the residual, when neither Newton nor a long march settles.
    """
    guesses: list[float | None] = [None]
    if network.has_feed and network.branches[0, Col.V_KNEE] > 0.0:
        guesses.append(float(network.branches[0, Col.V_KNEE]))
    marched = 0
    residual = float("inf")
    if network.has_gate:
        state = just_off(network, closed)
        for _ in range(GATE_STRETCHES):
            before = state
            state = _march(network, before, GATE_STEPS_PER_CYCLE, SMALL_RESERVOIR_RATIO, GATE_HALF_CYCLES)
            marched += GATE_HALF_CYCLES
            if float(np.max(np.abs(state - before))) < GATE_STILL_RATIO * network.v_peak:
                break
        found = _newton(network, state, steps_per_cycle, FIRST)
        marched += found.half_cycles
        if found.lasts:
            return replace(found, half_cycles=marched)
        residual = found.residual_v
    for feed_v in guesses:
        found = _newton(network, first_guess(network, closed, feed_v), steps_per_cycle, FIRST)
        marched += found.half_cycles
        if found.lasts:
            return replace(found, half_cycles=marched)
        residual = min(residual, found.residual_v)
    state = _march(
        network, first_guess(network, closed), steps_per_cycle, SMALL_RESERVOIR_RATIO, LONG_MARCH_HALF_CYCLES
    )
    found = _newton(network, state, steps_per_cycle, FIRST)
    marched += LONG_MARCH_HALF_CYCLES + found.half_cycles
    if found.lasts:
        return replace(found, half_cycles=marched)
    drift = float("inf")
    for _ in range(MOST_PATIENT_MARCHES):
        before = state
        state = _march(network, before, steps_per_cycle, 1.0, PATIENT_HALF_CYCLES)
        marched += PATIENT_HALF_CYCLES
        drift = float(np.max(np.abs(state - before)))
        if drift < STANDSTILL_RATIO * network.v_peak:
            return Settled(state=state, residual_v=drift, growth=0.0, half_cycles=marched)
    raise SolverError("not_settled", residual_v=min(residual, drift), half_cycles=marched)


def other_level(network: Network, closed: ClosedForm, settled: Settled, steps_per_cycle: int) -> Settled | None:
    """Another settled state of a loop with a bleeder that opens above its cut-off; None where none is found."""
    if not network.has_gate:
        return None
    for begin in (first_guess(network, closed), np.zeros_like(settled.state)):
        found = _newton(network, begin, steps_per_cycle, FIRST)
        if found.lasts and np.max(np.abs(found.state - settled.state)) > APART_RATIO * network.v_peak:
            return found
    return None


def settle_from(network: Network, state: Floats, steps_per_cycle: int, held: Floats | None = None) -> Settled:
    """Settled state near a given one; no long march, no look at stability.

    Parameters
    ----------
    held : one per branch, non-zero keeps its reservoir where it is, see `hold`; None: none is held.

    Raises
    ------
    SolverError : `not_settled`, with the residual.
    """
    found = _newton(network, state, steps_per_cycle, NEAR, held)
    if found.growth < 0.0:
        raise SolverError("not_settled", residual_v=found.residual_v, half_cycles=found.half_cycles)
    return found


def settle_each(
    networks: Sequence[Network], begin: Sequence[Floats], steps_per_cycle: int, search: Search
) -> list[tuple[Settled, Noted] | None]:
    """Settled state near a given one, and what meters read over a half-cycle of it; None for one that does not settle.

    Parameters
    ----------
    networks : with the same rows. begin : a state for each.
    """
    if not networks:
        return []
    tables = (
        np.array([(network.v_peak, network.f_hz) for network in networks]),
        np.array([network.linear for network in networks]),
        np.array([network.bypass for network in networks]),
        np.array([network.branches for network in networks]),
    )
    states, found = abreast.settled_each(*tables, np.array(begin), steps_per_cycle, search)
    marched, *told = abreast.read_each(
        *tables,
        states,
        np.array(networks[0].lamp_row, dtype=np.float64),
        np.array([network.lamp_g for network in networks]),
        np.array([network.lamp_c_x for network in networks]),
        steps_per_cycle,
    )
    return [
        None
        if growth < 0.0 or marched[k] == 0.0
        else (
            Settled(state=states[k], residual_v=residual, growth=growth, half_cycles=int(half_cycles)),
            Noted((told[0][k], told[1][k], told[2][k], told[3][k])),
        )
        for k, (residual, growth, half_cycles) in enumerate(found.tolist())
    ]


def hold(network: Network, at_v: Mapping[int, float], state: Floats) -> tuple[Network, Floats, Floats]:
    """The loop with some reservoirs, by row, held at a voltage [V] and nothing drawn from them: (loop, state, held)."""
    branches, begin = network.branches.copy(), state.copy()
    held = np.zeros(branches.shape[0])
    for row, v in at_v.items():
        held[row] = 1.0
        begin[1 + network.bypass.shape[0] + 2 * row + 1] = v
        branches[row, [Col.G_DRAIN, Col.P_LOAD, Col.I_LOAD]] = 0.0
        branches[row, Col.C_RES], branches[row, Col.V_STRING] = HELD_F, NO_STRING
    return network.with_branches(branches), begin, held


def _newton(
    network: Network, guess: Floats, steps_per_cycle: int, search: Search, held: Floats | None = None
) -> Settled:
    held = np.zeros(network.branches.shape[0]) if held is None else held
    state, residual, growth, marched = shooting.settled(network.tables, guess, held, steps_per_cycle, search)
    return Settled(state=state, residual_v=residual, growth=growth, half_cycles=marched)


def _march(network: Network, guess: Floats, steps_per_cycle: int, reservoir_ratio: float, half_cycles: int) -> Floats:
    """State after some half-cycles with reservoirs scaled, loads waiting.

    Raises
    ------
    SolverError : `step_not_met`.
    """
    state = guess.copy()
    scaled = with_reservoirs(network, reservoir_ratio)
    if shooting.half_cycles(scaled.tables, state, steps_per_cycle, half_cycles) != 0:
        raise SolverError("step_not_met", step=0)
    return state


def with_reservoirs(network: Network, ratio: float) -> Network:
    """The same loop with every reservoir made smaller or larger by a ratio [1]."""
    branches = network.branches.copy()
    branches[:, Col.C_RES] *= ratio
    return network.with_branches(branches)
