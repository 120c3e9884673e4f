"""Gangs of one box together: which output feeds the electronics, and whether swapping two circuits cures them.

On many controls for two or three gangs only one output feeds the electronics. What is swapped are the circuits:
lamps, bypass and cable move with their switched live to the other output; the outputs stay.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import permutations

import numpy as np

from ember_core.errors import InputError, SolverError
from ember_core.quantities import Figure
from ember_core.sheet import Sheet
from ember_core.spread.judged import look_over

MOST_GANGS = 4
# Below this difference one order is as good as another.
WORTH_RATIO = 0.02
# From this share on an order does.
WELL_FROM_RATIO = 0.98


@dataclass(frozen=True, slots=True, kw_only=True)
class Order:
    """One way to connect circuits to outputs.

    Parameters
    ----------
    circuits : circuits[k] is the circuit on output k, from 0. shares : share that is dark and fed, an output each [1].
    """

    circuits: tuple[int, ...]
    shares: tuple[float, ...]

    @property
    def worst(self) -> float:
        """Share of the worst gang [1]."""
        return min(self.shares)


@dataclass(frozen=True, slots=True, kw_only=True)
class Together:
    """The gangs of a box.

    Parameters
    ----------
    feeding : outputs that feed electronics, from 0. matrix : matrix[circuit][output], share dark and fed [1].
    as_is, best : orders. swap_cures : what fails as it is does in the best order.
    """

    feeding: tuple[int, ...]
    matrix: tuple[tuple[float, ...], ...]
    as_is: Order
    best: Order
    swap_cures: bool


def together(sheets: Sequence[Sheet], *, samples: int = 64, seed: int = 1) -> Together:
    """Judge every circuit on every output.

    Parameters
    ----------
    sheets : a sheet a gang, in the order of the outputs; all on the same supply.

    Raises
    ------
    InputError : no gang, or more than `MOST_GANGS`.
    """
    if not 1 <= len(sheets) <= MOST_GANGS:
        raise InputError("too_many", path="gangs", most=MOST_GANGS)
    count = range(len(sheets))
    matrix = tuple(tuple(_share(moved(sheets[c], sheets[o]), samples, seed) for o in count) for c in count)
    orders = [Order(circuits=order, shares=tuple(matrix[order[o]][o] for o in count)) for order in permutations(count)]
    as_is = orders[0]
    # Fewest circuits moved among those that are as good.
    best = max(orders, key=lambda order: (round(order.worst / WORTH_RATIO), sum(c == o for o, c in _placed(order))))
    return Together(
        feeding=tuple(k for k in count if sheets[k].loop.control.standby is not None),
        matrix=matrix,
        as_is=as_is,
        best=best,
        swap_cures=as_is.worst < WELL_FROM_RATIO <= best.worst,
    )


def _placed(order: Order) -> list[tuple[int, int]]:
    return list(enumerate(order.circuits))


def moved(circuit: Sheet, output: Sheet) -> Sheet:
    """The sheet of one gang's circuit on another gang's output."""
    figures: dict[str, Figure] = {
        path: figure for path, figure in circuit.figures.items() if not path.startswith("control")
    }
    figures |= {path: figure for path, figure in output.figures.items() if path.startswith("control")}
    return replace(circuit, loop=replace(circuit.loop, control=output.loop.control), figures=figures)


def _share(sheet: Sheet, samples: int, seed: int) -> float:
    try:
        return float(np.clip(look_over(sheet, samples=samples, seed=seed).all_well, 0.0, 1.0))
    except SolverError:
        return 0.0
