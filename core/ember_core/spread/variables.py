"""The figures of a sheet that have a range, and loops drawn from them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ember_core.errors import InputError
from ember_core.loop import Loop
from ember_core.parts import BYPASS_CLASSES, LAMP_CLASSES, Control
from ember_core.quantities import Source, quantity_of
from ember_core.sheet import Sheet

Floats = NDArray[np.float64]
DEFAULT_SAMPLES = 64
MOST_SAMPLES = 4096
# Independent draws of start and stop can cross; a driver that stops above its start would chatter.
MOST_STOP_TO_START_RATIO = 0.95
# Ratings and limits move no current.
_NOT_DRAWN = {"v0_v", "count"} | {
    spec.name
    for part_class in (*LAMP_CLASSES, *BYPASS_CLASSES, Control)
    for spec in fields(part_class)
    if (quantity := quantity_of(spec)) is not None and quantity.is_rating
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Variable:
    """A figure with a range.

    Parameters
    ----------
    path : place in the sheet. low, typical, high : SI value. source : where it is from.
    is_log : drawn triangular in its logarithm (positive quantities), else in the value itself (the supply).
    """

    path: str
    low: float
    typical: float
    high: float
    source: Source
    is_log: bool


def variables(sheet: Sheet) -> tuple[Variable, ...]:
    """Every figure whose range is not a point, in the order of the sheet."""
    return tuple(
        Variable(
            path=path,
            low=figure.low,
            typical=figure.typical,
            high=figure.high,
            source=figure.source,
            is_log=figure.low > 0.0 and not path.startswith("supply."),
        )
        for path, figure in sheet.figures.items()
        if figure.low < figure.high and path.rpartition(".")[2] not in _NOT_DRAWN
    )


def triangular(u: Floats, low: float, mode: float, high: float) -> Floats:
    """Values of a triangular distribution at probabilities u."""
    width, left = high - low, mode - low
    rising = u * width < left
    below = low + np.sqrt(np.maximum(0.0, u * width * left))
    above = high - np.sqrt(np.maximum(0.0, (1.0 - u) * width * (high - mode)))
    return np.where(rising, below, above)


def draw(found: Sequence[Variable], samples: int, seed: int) -> Floats:
    """Latin hypercube over all ranges: one row a sample, one column a variable; the same for the same seed.

    Raises
    ------
    InputError : the number of samples is not 2 to 4096.
    """
    if not 2 <= samples <= MOST_SAMPLES:
        raise InputError("out_of_bounds", path="samples", value=samples, low=2, high=MOST_SAMPLES, unit="")
    if not found:
        return np.zeros((samples, 0))
    return at_probabilities(found, hypercube(samples, len(found), seed))


def hypercube(rows: int, columns: int, seed: int) -> Floats:
    """Probabilities of a Latin hypercube; the same for the same seed."""
    # It takes most of a second to load, and most commands draw nothing.
    from scipy.stats import qmc

    return np.asarray(qmc.LatinHypercube(d=columns, rng=np.random.default_rng(seed)).random(rows))


def at_probabilities(found: Sequence[Variable], u: Floats) -> Floats:
    """Values of the variables at probabilities: a row a sample, a column a variable."""
    columns = []
    for k, variable in enumerate(found):
        if variable.is_log:
            logs = np.log([variable.low, variable.typical, variable.high])
            columns.append(np.exp(triangular(u[:, k], *logs)))
        else:
            columns.append(triangular(u[:, k], variable.low, variable.typical, variable.high))
    return np.stack(columns, axis=1)


def loop_at(loop: Loop, found: Sequence[Variable], values: Sequence[float]) -> Loop:
    """The loop with these values in place of the typical ones."""
    changes: dict[str, dict[str, float]] = {}
    for variable, value in zip(found, values, strict=True):
        part, _, name = variable.path.rpartition(".")
        changes.setdefault(part, {})[name] = float(value)
    of_control: dict[str, Any] = {**changes.get("control", {})}
    if loop.control.standby is not None and "control.standby" in changes:
        of_control["standby"] = _moved(loop.control.standby, changes["control.standby"])
    return replace(
        loop,
        supply=_moved(loop.supply, changes.get("supply", {})),
        cable=_moved(loop.cable, changes.get("cable", {})),
        control=_moved(loop.control, of_control),
        bypass=tuple(_moved(part, changes.get(f"bypass[{k}]", {})) for k, part in enumerate(loop.bypass)),
        lamps=tuple(_lamp(lamp, changes.get(f"lamps[{k}]", {})) for k, lamp in enumerate(loop.lamps)),
        **changes.get("", {}),
    )


def _moved(part: Any, values: dict[str, Any]) -> Any:
    return replace(part, **values) if values else part


def _lamp(lamp: Any, values: dict[str, float]) -> Any:
    start = values.get("v_start_v", getattr(lamp, "v_start_v", None))
    stop = values.get("v_stop_v", getattr(lamp, "v_stop_v", None))
    if start is not None and stop is not None and stop > MOST_STOP_TO_START_RATIO * start:
        values = {**values, "v_stop_v": MOST_STOP_TO_START_RATIO * start}
    return _moved(lamp, values)
