"""The march with a network's own tables, and its recording."""

from __future__ import annotations

import numpy as np

from ember_core.errors import SolverError
from ember_core.offstate import kernel
from ember_core.offstate.kernel import Pace
from ember_core.offstate.measure import Recording
from ember_core.offstate.network import Floats, Network

EMPTY = np.zeros((0, 0))


class Runner:
    """A loop on the move: state, which loads run, and where in the cycle it is.

    Parameters
    ----------
    network : the tables.
    state : see `kernel.state_size`; copied.
    steps_per_cycle : even.
    """

    def __init__(self, network: Network, state: Floats, steps_per_cycle: int) -> None:
        self.network = network
        self.state = state.copy()
        self.steps_per_cycle = steps_per_cycle
        self.running = np.zeros(network.branches.shape[0])
        self.step = 0

    @property
    def dt_s(self) -> float:
        """Length of a step [s]."""
        return 1.0 / (self.network.f_hz * self.steps_per_cycle)

    def go(self, steps: int, *, may_start: bool, starts: Floats = EMPTY) -> None:
        """March without recording; raise `SolverError` when a step cannot be met."""
        self._march(steps, may_start, EMPTY, starts)

    def march(self, steps: int, *, may_start: bool, starts: Floats = EMPTY) -> Floats:
        """March and keep every step: the record of `kernel.march`; raises as `go`."""
        table = np.empty((3 + 4 * self.network.branches.shape[0] + self.network.bypass.shape[0], steps))
        self._march(steps, may_start, table, starts)
        return table

    def record(self, steps: int, *, may_start: bool, starts: Floats = EMPTY) -> Recording:
        """March half a cycle, then keep every step of what follows.

        The half-cycle in front lets the first step of a march, which is of lower order, fade.
        """
        lead = self.steps_per_cycle // 2
        table = self.march(lead + steps, may_start=may_start, starts=starts)
        return Recording(self.network, table[:, lead:], float(table[1, lead - 1]), float(table[0, lead - 1]), self.dt_s)

    def _march(self, steps: int, may_start: bool, table: Floats, starts: Floats) -> None:
        pace = Pace(self.step, steps, self.steps_per_cycle, may_start)
        if kernel.march(self.network.tables, self.state, self.running, pace, table, starts) != 0:
            raise SolverError("step_not_met", step=self.step)
        self.step += steps


def settled_half_cycle(network: Network, state: Floats, steps_per_cycle: int) -> Recording:
    """The half-cycle after the rising zero of a settled loop; loads wait.

    Nothing is marched in front of it: what its first step errs, which is of lower order, every half-cycle that was
    marched to settle erred as well. Over the ranges of the trade voltages move by less than 0.2 % or a millivolt.

    Raises
    ------
    SolverError : `step_not_met`.
    """
    runner = Runner(network, state, steps_per_cycle)
    table = runner.march(steps_per_cycle // 2, may_start=False)
    return Recording(network, table, float(state[0]), 0.0, runner.dt_s)
