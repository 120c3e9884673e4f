"""Looks at a draft beyond its judgement: instruments, one figure dragged, gangs together, declared loads, cures."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Any

from common.streaming import Progress
from ember_core import sheet
from ember_core.errors import InputError, InputErrors
from ember_core.offstate.states import THRESHOLDS
from ember_core.sheet import Sheet
from ember_core.spread.cures import filament_cures
from ember_core.spread.gangs import MOST_GANGS, WELL_FROM_RATIO, together
from ember_core.spread.predictions import Band, predict
from ember_core.spread.sweep import Sweep, sweep
from judging.services.judging import DRAWN_DIGITS, missing_parts
from judging.services.kinds import field_of
from judging.services.spreading import complete, ended, feed_word, figure_words, range_data, text_of
from wording.quantities import with_unit

Json = dict[str, Any]


def prediction_answer(document: Json) -> Json:
    """What meters will show with their ranges, a ghost explained, bands of one cycle, and the rhythm of blinking."""
    found = predict(complete(document))
    readings = [
        {
            "r_ohm": reading.r_ohm,
            "v_rms": range_data(reading.v_rms),
            "text": text_of(
                "meter_shows",
                {
                    "meter": with_unit(reading.r_ohm, "Ω"),
                    "low": with_unit(reading.v_rms.p05, "V"),
                    "high": with_unit(reading.v_rms.p95, "V"),
                },
            ),
        }
        for reading in found.readings
    ]
    code = "ghost" if found.is_ghost else "no_ghost"
    return {
        "samples": found.samples,
        "readings": readings,
        "is_ghost": found.is_ghost,
        "text": text_of(code) + (f" {text_of('between_flashes')}" if found.blinking > 0.5 else ""),
        "t_s": _drawn(found.t_s),
        "v_lamp_v": _band(found.v_lamp_v),
        "i_line_a": _band(found.i_line_a),
        "period_s": None if found.period_s is None else range_data(found.period_s),
        "blinking_ratio": found.blinking,
    }


def _drawn(values: Any) -> list[float]:
    return [float(f"{value:.{DRAWN_DIGITS}g}") for value in values]


def _band(band: Band) -> Json:
    return {"low": _drawn(band.low), "middle": _drawn(band.middle), "high": _drawn(band.high)}


def sweep_answer(document: Json, path: str, progress: Progress) -> Json:
    """How the judgement moves as the figure at a path goes over its range and beyond."""
    given = complete(document)
    try:
        found = sweep(given, path, progress=progress)
    except InputError as error:
        raise InputErrors([error]) from error
    words = figure_words(path, given)
    field = field_of(path, given)
    unit = "" if field is None else field[0].unit
    return {
        "path": path,
        "label": path if words is None else words["label"],
        "where": "" if words is None else words["where"],
        "unit": unit,
        "low": found.low,
        "typical": found.typical,
        "high": found.high,
        "points": [{"value": point.value, "shares": point.shares} for point in found.points],
        "text": _sweep_text(found, unit),
    }


def _sweep_text(found: Sweep, unit: str) -> str:
    """Where it turns, as far as was looked."""
    turn = _turn(found.points)
    open_end = ended("sweep", is_complete=found.is_complete)
    if turn is not None:
        return " ".join([text_of("sweep_turns", {"value": with_unit(turn, unit)}), open_end]).strip()
    return open_end or text_of("sweep_no_turn")


def _turn(points: Sequence[Any]) -> float | None:
    """Value about which the share that is well crosses one half: the middle of the two points around it."""
    for one, two in pairwise(points):
        if (one.shares["well"] - 0.5) * (two.shares["well"] - 0.5) <= 0.0 and one.shares != two.shares:
            return float(math.sqrt(one.value * two.value)) if one.value > 0.0 else 0.5 * float(one.value + two.value)
    return None


def together_answer(documents: Sequence[Json], names: Sequence[str], positions: Sequence[int]) -> Json:
    """The gangs of a box together, and whether swapping circuits cures; incomplete gangs leave it unknown.

    Parameters
    ----------
    documents, names, positions : a loop sheet, a name and its number in the loop a gang, in the order of the outputs.
    """
    if len(documents) < 2 or len(documents) > MOST_GANGS:
        return _not_together("together_count")
    sheets: list[Sheet] = []
    for document, name in zip(documents, names, strict=True):
        if missing_parts(document):
            return _not_together("together_incomplete", name=name)
        sheets.append(sheet.read(document))
    found = together(sheets)
    feeding = [names[k] for k in found.feeding]
    swapped = [
        {"output": names[output], "circuit": names[circuit]}
        for output, circuit in enumerate(found.best.circuits)
        if output != circuit
    ]
    if found.swap_cures:
        code = "swap_cures"
    elif found.as_is.worst >= WELL_FROM_RATIO:
        code = "together_well"
    else:
        code = "swap_helps" if found.best.worst > found.as_is.worst + 0.02 else "swap_no_help"
    params = {
        "now": f"{found.as_is.worst * 100:.0f}",
        "then": f"{found.best.worst * 100:.0f}",
        "moves": "; ".join(text_of("swap_move", move) for move in swapped),
        "feed": feed_word(*(one.loop for one in sheets)),
    }
    return {
        "is_known": True,
        "text": text_of(code, params),
        "feeding_text": text_of("feeding", {"names": ", ".join(feeding)}) if feeding else text_of("feeding_none"),
        "swap_cures": found.swap_cures,
        "names": list(names),
        "positions": list(positions),
        "matrix": [list(row) for row in found.matrix],
        "best": list(found.best.circuits),
    }


def _not_together(code: str, **params: Any) -> Json:
    return {
        "is_known": False,
        "text": text_of(code, params),
        "feeding_text": "",
        "swap_cures": False,
        "names": [],
        "positions": [],
        "matrix": [],
        "best": [],
    }


def cure_answer(document: Json) -> list[Json]:
    """One filament lamp in place of one of the others, computed; best first."""
    given = complete(document)
    return [
        {
            "group": row.group + 1,
            "p_w": row.p_w,
            "share_ratio": row.share,
            "text": text_of(
                "filament_cures" if row.share >= WELL_FROM_RATIO else "filament_helps",
                {
                    "watts": with_unit(row.p_w, "W"),
                    "group": row.group + 1,
                    "percent": f"{row.share * 100:.0f}",
                    "feed": feed_word(given.loop),
                },
            ),
        }
        for row in filament_cures(given)
    ]


def threshold_words() -> list[Json]:
    """What the words of a verdict hang on, and why."""
    return [
        {
            "name": name,
            "value": with_unit(threshold.value, threshold.unit),
            "title": text_of(f"{threshold.reason}_title"),
            "reason": text_of(threshold.reason),
        }
        for name, threshold in THRESHOLDS.items()
    ]
