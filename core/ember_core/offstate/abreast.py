"""Loops of the same parts settled one after another in one compiled call, which leaves the interpreter to others.

A loop settles in a fraction of a millisecond. Between such short calls two threads would mostly wait for each other.
"""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

import numpy as np

from ember_core.compiled import compiled
from ember_core.offstate.kernel import Pace, march
from ember_core.offstate.meters import N_OF, N_WHOLE, read
from ember_core.offstate.network import Floats, Tables
from ember_core.offstate.shooting import Search, settled


@compiled
def settled_each(
    supply: Floats,
    linear: Floats,
    bypass: Floats,
    branches: Floats,
    begin: Floats,
    steps_per_cycle: int,
    search: Search,
) -> tuple[Floats, Floats]:
    """`shooting.settled` of each loop, a row of every array: (states; last correction [V], growth, half-cycles).

    Parameters
    ----------
    supply : peak [V] and frequency [Hz]. linear, bypass, branches : see `network.Tables`. begin : states to begin from.
    """
    states, found = np.zeros(begin.shape), np.zeros((begin.shape[0], 3))
    held = np.zeros(branches.shape[1])
    for k in range(begin.shape[0]):
        tables = Tables(supply[k, 0], supply[k, 1], linear[k], bypass[k], branches[k])
        states[k], found[k, 0], found[k, 1], found[k, 2] = settled(tables, begin[k], held, steps_per_cycle, search)
    return states, found


# A function of its own: what marches without keeping anything is compiled without what keeps it.
@compiled
def read_each(
    supply: Floats,
    linear: Floats,
    bypass: Floats,
    branches: Floats,
    states: Floats,
    lamp_row: Floats,
    lamp_g: Floats,
    lamp_c_x: Floats,
    steps_per_cycle: int,
) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """`meters.read` over the half-cycle that begins at a settled state, as `runner.settled_half_cycle` records it.

    Returns
    -------
    (whether each was marched, 0 or 1; and what `meters.read` gives, a loop a row of each).
    """
    count, steps = branches.shape[0], steps_per_cycle // 2
    n_branch, n_bypass = branches.shape[1], bypass.shape[1]
    marched = np.zeros(count)
    whole, of = np.zeros((count, N_WHOLE)), np.zeros((count, n_branch, N_OF))
    of_bypass, of_lamp = np.zeros((count, n_bypass)), np.zeros((count, lamp_row.shape[0]))
    none = np.zeros((0, 0))
    record = np.empty((3 + 4 * n_branch + n_bypass, steps))
    pace = Pace(0, steps, steps_per_cycle, False)
    for k in range(count):
        tables = Tables(supply[k, 0], supply[k, 1], linear[k], bypass[k], branches[k])
        if march(tables, states[k].copy(), np.zeros(n_branch), pace, record, none) != 0:
            continue
        marched[k] = 1.0
        before = np.array([states[k, 0], 0.0])
        dt_s = 1.0 / (supply[k, 1] * steps_per_cycle)
        whole[k], of[k], of_bypass[k], of_lamp[k] = read(tables, lamp_row, lamp_g[k], lamp_c_x[k], record, before, dt_s)
    return marched, whole, of, of_bypass, of_lamp
