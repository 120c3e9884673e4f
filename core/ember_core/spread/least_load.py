"""The fewest lamps of a kind that keep the control fed and stay dark, without a bypass and with each kind of one."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.parts import Bypass
from ember_core.sheet import Sheet
from ember_core.spread.judged import SURE_RATIO, each_abreast, is_well
from ember_core.spread.observe import observe, observe_each
from ember_core.spread.variables import Floats, Variable, draw, loop_at, variables

MOST_LAMPS = 60
# Fewer than the judgement's, since each count costs them all.
SAMPLES = 16
_LADDER = (1, 2, 3, 4, 6, 8, 12, 16, 24, 36, 60)


@dataclass(frozen=True, slots=True, kw_only=True)
class LeastLoad:
    """Fewest lamps for one arrangement.

    Parameters
    ----------
    bypass : its name, empty for none. count : fewest lamps over the spread; None when up to `MOST_LAMPS` none does.
    count_nominal : the same with typical figures. watts : of that many lamps while lit, None where not known.
    """

    bypass: str
    count: int | None
    count_nominal: int | None
    watts: float | None


def least_loads(
    sheet: Sheet, group: int, bypasses: Mapping[str, tuple[Bypass, ...]], *, seed: int = 1, samples: int = SAMPLES
) -> tuple[LeastLoad, ...]:
    """Least load with no bypass, and with each one given; the other lamp groups are left out.

    Parameters
    ----------
    group : the lamps that are counted. bypasses : arrangements by name.
    """
    lamp: Any = sheet.loop.lamps[group]
    prefix = f"lamps[{group}]."
    found = tuple(
        replace(v, path=f"lamps[0].{v.path.removeprefix(prefix)}") if v.path.startswith(prefix) else v
        for v in variables(sheet)
        if not v.path.startswith("bypass") and (not v.path.startswith("lamps") or v.path.startswith(prefix))
    )
    rows = []
    for name, bypass in {"": (), **bypasses}.items():
        base = replace(sheet.loop, bypass=bypass, lamps=(lamp,))
        rows.append(_least(base, 0, found, name, seed, samples))
    return tuple(rows)


def least_load(sheet: Sheet, group: int, *, seed: int = 1, samples: int = SAMPLES) -> LeastLoad:
    """Fewest lamps of a group with everything else as it stands: bypass and other groups."""
    return _least(sheet.loop, group, variables(sheet), "", seed, samples)


def share_well(loop: Loop, found: Sequence[Variable], drawn: Floats) -> float:
    """Share of drawn loops that are dark and fed; what does not settle is not [1]."""
    loops = [loop_at(loop, found, row) for row in drawn]
    seen = each_abreast(loops, partial(observe_each, with_shown=False))
    return float(np.mean([sample is not None and is_well(sample) for sample in seen]))


def share_there(sheet: Sheet, *, seed: int = 1, samples: int = SAMPLES) -> float:
    """The same of a gang as it is, over its ranges."""
    found = variables(sheet)
    return share_well(sheet.loop, found, draw(found, samples, seed))


def _least(base: Loop, group: int, found: tuple[Variable, ...], name: str, seed: int, samples: int) -> LeastLoad:
    drawn = draw(found, samples, seed)

    def with_count(count: int) -> Loop:
        lamps = [replace(lamp, count=count) if k == group else lamp for k, lamp in enumerate(base.lamps)]
        return replace(base, lamps=tuple(lamps))

    def holds(count: int) -> bool:
        return share_well(with_count(count), found, drawn) >= SURE_RATIO

    def holds_nominal(count: int) -> bool:
        try:
            return is_well(observe(with_count(count), with_shown=False))
        except SolverError:
            return False

    nominal = smallest(holds_nominal, 1)
    count = None if nominal is None else smallest(holds, nominal)
    p_w = getattr(base.lamps[group], "p_run_w", None)
    return LeastLoad(
        bypass=name,
        count=count,
        count_nominal=nominal,
        watts=None if count is None or p_w is None else count * float(p_w),
    )


def smallest(holds: Callable[[int], bool], first: int) -> int | None:
    """Smallest count from `first` on for which it holds, up to `MOST_LAMPS`: up the ladder to a step that does, then
    one by one from the step before, since what holds for one number need not for the next."""
    failed = first - 1
    for step in sorted({first, *(step for step in _LADDER if step > first)}):
        if holds(step):
            return next((count for count in range(failed + 1, step) if holds(count)), step)
        failed = step
    return None
