"""Loops that settle, to be looked at: one, one from a state nearby, or several of the same parts in one go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate import closed_form
from ember_core.offstate.delivery import delivered_ratio
from ember_core.offstate.measure import Readings
from ember_core.offstate.network import Col, Floats, Network, build
from ember_core.offstate.runner import settled_half_cycle
from ember_core.offstate.settle import FIRST, NEAR, Settled, first_guess, settle, settle_each, settle_from
from ember_core.offstate.shooting import Search
from ember_core.offstate.states import FULL_DELIVERY_RATIO
from ember_core.parts import PtcBypass, StandbyFeed
from ember_core.spread.shown import STEPS_PER_CYCLE


@dataclass(frozen=True, slots=True, kw_only=True)
class Begun:
    """A loop that has settled: its tables, its state, and what meters read over a half-cycle of it.

    Parameters
    ----------
    gets_more : whether the control would get so many times its need as was asked about; None: not looked at.
    """

    network: Network
    settled: Settled
    reading: Readings
    gets_more: bool | None = None


def begin(loop: Loop, network: Network, near: Floats | None) -> Begun:
    """Settle; from a state nearby if that leads to one that lasts and feeds the control. Raises `SolverError`."""
    if near is not None and not network.has_gate:
        try:
            found = settle_from(network, near, STEPS_PER_CYCLE)
            recording = settled_half_cycle(network, found.state, STEPS_PER_CYCLE)
            if found.lasts and is_delivered(loop.control.standby, recording):
                return Begun(network=network, settled=found, reading=recording)
        except SolverError:
            pass
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    recording = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    return Begun(network=network, settled=settled, reading=recording)


def begin_each(loops: Sequence[Loop], near: Floats | None, times: float) -> list[Begun | None]:
    """Settle loops with the same parts in one go, each as `begin` does; None for one to be looked at alone.

    Parameters
    ----------
    times : whether a control gets so many times its need is looked at along with it.
    """
    found: list[Begun | None] = [None] * len(loops)
    if not loops or any(map(has_ptc, loops)):
        return found
    networks = [build(loop) for loop in loops]
    if networks[0].has_gate:
        return found

    def settle_those(which: list[int], states: list[Floats], search: Search, is_near: bool) -> None:
        told = settle_each([networks[k] for k in which], states, STEPS_PER_CYCLE, search)
        for k, one in zip(which, told, strict=True):
            if one is not None and one[0].lasts and (not is_near or is_delivered(loops[k].control.standby, one[1])):
                found[k] = Begun(network=networks[k], settled=one[0], reading=one[1])

    if near is not None:
        settle_those([*range(len(loops))], [near] * len(loops), NEAR, True)
    rest = [k for k, one in enumerate(found) if one is None]
    settle_those(rest, [first_guess(networks[k], closed_form.evaluate(networks[k])) for k in rest], FIRST, False)
    begun = {
        k: one
        for k, one in enumerate(found)
        if one is not None and one.network.has_feed and is_delivered(loops[k].control.standby, one.reading)
    }
    loaded = [loaded_with(one.network, times) for one in begun.values()]
    told = settle_each(loaded, [one.settled.state for one in begun.values()], STEPS_PER_CYCLE, NEAR)
    for (k, one), more in zip(begun.items(), told, strict=True):
        if more is not None:
            found[k] = replace(one, gets_more=is_delivered(loops[k].control.standby, more[1], times))
    return found


def fed_state(loop: Loop) -> Floats | None:
    """Settled state of a loop to begin others from; None where its control is not fed, or it does not settle."""
    try:
        network = build(loop)
        settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
        recording = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    except SolverError:
        return None
    return settled.state if is_delivered(loop.control.standby, recording) else None


def is_delivered(feed: StandbyFeed | None, reading: Readings, times: float = 1.0) -> bool:
    """Whether so many times its need reaches the control's load; of a switch that needs nothing always."""
    return delivered_ratio(feed, reading, times) >= FULL_DELIVERY_RATIO.value


def loaded_with(network: Network, times: float) -> Network:
    """The loop with a control that needs so many times as much."""
    more = network.branches.copy()
    more[0, Col.P_LOAD] *= times
    more[0, Col.I_LOAD] *= times
    return network.with_branches(more)


def has_ptc(loop: Loop) -> bool:
    """Whether a bypass is there whose resistance hangs on its own heat, and so on what is found."""
    return any(isinstance(part, PtcBypass) for part in loop.bypass)
