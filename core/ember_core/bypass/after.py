"""After fitting: what was read is held against what was computed, and the next remedy is weighed by its chance.

Samples that explain the readings are kept with their weights, as in narrowing; each remedy is then tried on them.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ember_core.bypass.window import look, works
from ember_core.loop import Loop
from ember_core.sheet import Sheet
from ember_core.spread.cures import with_filament
from ember_core.spread.judged import each_sample
from ember_core.spread.narrow import Measurement, Narrowing, narrow, with_bench_tests
from ember_core.spread.variables import loop_at

# Each remedy is tried on so many samples, drawn by their weights.
TRIED = 32

# What a remedy does to the loop.
Change = Callable[[Loop], Loop]


@dataclass(frozen=True, slots=True, kw_only=True)
class Remedy:
    """One thing to do next, by the name it was given, and the chance that all is dark and fed then [1]."""

    name: str
    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class AfterFitting:
    """What readings say.

    Parameters
    ----------
    narrowing : the judgement with them. works_chance : that what is fitted is dark and fed all the same [1].
    remedies : best chance first, as given among equals. is_complete : all were weighed; nobody stopped it.
    """

    narrowing: Narrowing
    works_chance: float
    remedies: tuple[Remedy, ...]
    is_complete: bool


def after_fitting(
    sheet: Sheet,
    readings: Sequence[Measurement],
    changes: Mapping[str, Change],
    *,
    seed: int = 1,
    progress: Callable[[int, int], bool] | None = None,
) -> AfterFitting:
    """Hold what was read against the loop as fitted, and weigh the remedies.

    Parameters
    ----------
    changes : the remedies by name. progress : told how many are weighed, of how many; False stops with those.

    Raises
    ------
    InputError : a reading cannot be. SolverError : no sample settles.
    """

    def goes_on() -> bool:
        return progress is None or progress(len(remedies), len(changes))

    remedies: list[Remedy] = []
    narrowing = narrow(sheet, readings, seed=seed, goes_on=goes_on)
    spread = narrowing.spread
    weights = spread.weights / spread.weights.sum()
    rows = np.random.default_rng(seed).choice(len(spread.seen), size=TRIED, p=weights)
    base = with_bench_tests(sheet, readings).loop
    loops = [loop_at(base, spread.found, spread.values[row]) for row in rows]
    for name, change in changes.items():
        if not goes_on():
            break

        def well(loop: Loop, change: Change = change) -> bool:
            return works(look(change(loop)))

        chance = float(np.mean([bool(found) for found in each_sample(loops, well)]))
        remedies.append(Remedy(name=name, chance=chance))
    goes_on()
    return AfterFitting(
        narrowing=narrowing,
        works_chance=spread.all_well,
        remedies=tuple(sorted(remedies, key=lambda remedy: -remedy.chance)),
        is_complete=spread.is_complete and len(remedies) == len(changes),
    )


def one_filament(sheet: Sheet, group: int, p_w: float) -> Change:
    """The remedy of one filament lamp in place of one of a group.

    Raises
    ------
    InputError : see `spread.cures.with_filament`.
    """
    with_filament(sheet, group, p_w)
    return lambda loop: with_filament(replace(sheet, loop=loop), group, p_w).loop
