"""A draft judged over its ranges, narrowed by readings, and its least load: core in, data and words out."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import asdict, replace
from typing import Any, Literal

from common.heavy import BUDGET_S
from ember_core import sheet
from ember_core.errors import InputError, InputErrors, SolverError
from ember_core.loop import Loop
from ember_core.offstate.results import OffState
from ember_core.offstate.solve import solve
from ember_core.parts import Bypass, CapacitorBypass, Lamp, ResistorBypass
from ember_core.sheet import Sheet
from ember_core.spread.disturbance import disturbance
from ember_core.spread.judged import GoesOn, Range, Spread, judge_spread
from ember_core.spread.least_load import MOST_LAMPS, least_loads
from ember_core.spread.narrow import Kind, Measurement, Narrowing, narrow
from judging.services.judging import missing_parts
from judging.services.kinds import field_of
from judging.services.words import input_words
from wording.quantities import with_unit
from wording.texts import catalogue, fill

Json = dict[str, Any]
Progress = Callable[[int, int], bool]
Ended = Literal["spread", "sweep", "choosing", "remedies"]
# Arrangements that the least load is shown for, beside none.
TYPICAL_BYPASSES: dict[str, tuple[Bypass, ...]] = {
    "capacitor_100n": (CapacitorBypass(c_f=1e-7, r_parallel_ohm=1e6),),
    "capacitor_220n": (CapacitorBypass(c_f=2.2e-7, r_parallel_ohm=1e6),),
    "resistor_22k": (ResistorBypass(r_ohm=2.2e4),),
}


def text_of(code: str, params: Json | None = None) -> str:
    """Words of the spread by code."""
    text = fill(catalogue("spread")[code], params or {})
    # An empty placeholder leaves no gap.
    return " ".join(text.split()).replace(" .", ".").replace(" ;", ";").replace(" ,", ",")


def ended(what: Ended, *, is_complete: bool, **params: object) -> str:
    """Why the work ended before it was done, and what that leaves open; empty where it was done."""
    if is_complete:
        return ""
    return text_of(f"ended_{what}", {"time": f"{BUDGET_S:.0f} s", **params})


def range_data(found: Range) -> Json:
    """A range as data; infinity as null."""
    return {name: value if math.isfinite(value) else None for name, value in asdict(found).items()}


def figure_words(path: str, given: Sheet) -> Json | None:
    """A figure by path with its words; None for a part that the words do not know."""
    words, found = input_words(path, given), field_of(path, given)
    if words is None or found is None:
        return None
    quantity, _ = found
    what = path.split(".")[0]
    group = int(what[what.index("[") + 1 : -1]) + 1 if "[" in what else 0
    where = text_of(f"of_{what.split('[')[0]}", {"group": group})
    # "the power the control needs, of the control" would say it twice.
    return {**words, "where": "" if what == "control" and "control" in quantity.meaning else where}


def spread_answer(given: Sheet, samples: int, seed: int, progress: Progress) -> Json:
    """Shares, margins, deciding figures, disturbance and the leakage table of a draft.

    Parameters
    ----------
    progress : called with how many samples are done, of how many; False stops, and what is done is judged.

    Raises
    ------
    SolverError : see core.
    """
    spread = judge_spread(given, samples=samples, seed=seed, progress=lambda done: progress(done, samples))
    return {
        **spread_data(spread, given),
        "disturbance": _disturbance(given.loop),
        "leakage": _leakage(given),
    }


def complete(document: Json) -> Sheet:
    """The sheet of a draft that lacks nothing; raises `InputErrors` with `missing` otherwise."""
    missing = missing_parts(document)
    if missing:
        raise InputErrors([InputError("missing", path=path, key=path) for path in missing])
    return sheet.read(document)


def spread_data(spread: Spread, given: Sheet) -> Json:
    """A judgement over ranges with its sentence."""
    count = len(spread.seen)
    well = round(spread.all_well * count)
    deciding = [
        {**figure, "correlation": entry.correlation}
        for entry in spread.deciding
        if (figure := figure_words(entry.path, given)) is not None
    ]
    return {
        "samples": count,
        "seed": spread.seed,
        "failed": spread.failed,
        "ended": ended("spread", is_complete=spread.is_complete, count=count),
        "all_well_ratio": spread.all_well,
        "title": text_of("well", {"well_count": well, "sample_count": count, "feed": _feed(spread)}),
        # That no figure changes it is not known of a few samples.
        "text": _sentence(spread.all_well, deciding) if spread.is_complete else "",
        "lamps": [
            {"shares": shares.by_state, "margin": range_data(margin)}
            for shares, margin in zip(spread.lamps, spread.margins, strict=True)
        ],
        "control": None if spread.control is None else spread.control.by_state,
        "lamp_v_rms": range_data(spread.lamp_v_rms),
        "line_i_rms_a": range_data(spread.line_i_rms_a),
        "deciding": deciding,
    }


def _feed(spread: Spread) -> str:
    """Whether there is a control that lamps feed: for the words of a title."""
    return "none" if spread.control is None else "through lamps"


def feed_word(*loops: Loop) -> str:
    """Whether lamps feed a control of any of these; else what is well is said to be dark, and nothing to be fed."""
    return "none" if all(loop.control.standby is None for loop in loops) else "through lamps"


def _sentence(all_well: float, deciding: Sequence[Json]) -> str:
    """What decides, and what to do about it."""
    if not deciding:
        return text_of("nothing_decides" if all_well in (0.0, 1.0) else "no_single_decides")
    first = deciding[0]
    code = "decides_measured" if first["source"] == "measured" else "decides"
    if all_well in (0.0, 1.0):
        code = "weighs_most"
    return text_of(code, {"label": first["label"], "where": first["where"]})


def _disturbance(loop: Loop) -> Json | None:
    try:
        found = disturbance(loop)
    except SolverError:
        return None
    step = found.largest_dark_step_ratio
    if all(not hasattr(lamp, "v_start_v") for lamp in loop.lamps):
        code = "step_no_start"
    elif step is None:
        code = "step_not_waiting"
    else:
        code = "step_dark_to" if found.flashes_first is not None else "step_dark_all"
    params = {
        "percent": f"{(step or 0.0) * 100:.0f}",
        "group": (found.flashes_first or 0) + 1,
        "lands": with_unit(found.lands_v or 0.0, "V"),
    }
    text = text_of(code, params)
    if found.notch_flashes:
        text = f"{text} {text_of('notch_flashes')}"
    return {"largest_dark_step_ratio": step, "notch_flashes": found.notch_flashes, "text": text}


def _leakage(given: Sheet) -> list[Json]:
    """Off-state current at low, nominal and high supply: total, per lamp, through the bypass and across the control."""
    supply = given.figures.get("supply.v_rms")
    low, high = (supply.low, supply.high) if supply else (given.loop.supply.v_rms, given.loop.supply.v_rms)
    rows = []
    for name, v_rms in (("low", low), ("nominal", given.loop.supply.v_rms), ("high", high)):
        try:
            loop = replace(given.loop, supply=replace(given.loop.supply, v_rms=v_rms))
            rows.append(_leakage_row(name, v_rms, solve(loop, with_power=False)))
        except SolverError:
            continue
    return rows


def _leakage_row(name: str, v_rms: float, off: OffState) -> Json:
    return {
        "name": name,
        "v_rms": v_rms,
        "line_i_rms_a": off.line_i_rms_a,
        "lamps_i_rms_a": [lamp.i_rms_a for lamp in off.lamps],
        "one_lamp_i_rms_a": [lamp.i_rms_a / lamp.count for lamp in off.lamps],
        "bypass_i_rms_a": list(off.shares.bypass_a),
        "across_i_rms_a": off.shares.across_a,
    }


def measurements(readings: Sequence[Json], document: Json) -> list[Measurement]:
    """The core's readings of what was sent.

    Raises
    ------
    InputErrors : a lamp that stood in for others cannot be.
    """
    return [
        Measurement(
            kind=Kind(entry["kind"]),
            value=entry["value"],
            meter_r_ohm=entry.get("meter_r_ohm") or 1e7,
            group=entry.get("group", 0),
            seen=entry.get("seen", ""),
            replacement=_replacement(entry.get("replacement"), document, index),
        )
        for index, entry in enumerate(readings)
    ]


def narrow_answer(document: Json, readings: Sequence[Json], seed: int, goes_on: GoesOn) -> Json:
    """The judgement with what was read: before, after, and what decides."""
    given = complete(document)
    try:
        found = narrow(given, measurements(readings, document), seed=seed, goes_on=goes_on)
    except InputError as error:
        raise InputErrors([error]) from error
    weighted = {"percent": f"{found.spread.all_well * 100:.0f}", "feed": _feed(found.spread)}
    return {
        **spread_data(found.spread, given),
        # What nothing explains has no verdict: the chances would be those of a loop that is not there.
        "title": text_of("well_weighted", weighted) if found.is_explained else text_of("withdrawn"),
        "is_explained": found.is_explained,
        "distance": found.distance,
        "effective": found.effective,
        "explanation": explanation(found, given),
        "figures": [
            {
                **words,
                "prior": range_data(row.prior),
                "posterior": range_data(row.posterior),
                "unit": _unit(row.path, given),
            }
            for row in found.figures
            if (words := figure_words(row.path, given)) is not None
        ],
    }


def explanation(found: Narrowing, given: Sheet) -> str:
    """Whether the readings are explained, and if not which assumption is most likely wrong: the same wherever told."""
    if found.is_explained:
        return text_of("explained")
    if not found.spread.is_complete:
        return text_of("ended_unexplained")
    wrong = found.likeliest_wrong
    figure = None if wrong is None else figure_words(wrong.path, given)
    if figure is None or wrong is None:
        return text_of("unexplained")
    value = with_unit(wrong.value, _unit(wrong.path, given))
    return text_of("unexplained_wrong", {"label": figure["label"], "where": figure["where"], "value": value})


def _replacement(figures: Json | None, document: Json, index: int) -> Lamp | None:
    """The lamp that stood in a group's place.

    Raises
    ------
    InputErrors : it is no lamp of a loop.
    """
    if figures is None:
        return None
    try:
        return sheet.read({**document, "lamps": [{"count": 1, **figures}]}).loop.lamps[0]
    except InputErrors as errors:
        path = f"readings[{index}].replacement"
        raise InputErrors([InputError(e.code, path=path, **e.params) for e in errors.errors]) from errors


def _unit(path: str, given: Sheet) -> str:
    found = field_of(path, given)
    return "" if found is None else found[0].unit


def least_load_answer(document: Json) -> list[Json]:
    """Fewest lamps of each group, alone on the loop, with no bypass and with typical ones."""
    given = complete(document)
    rows = []
    for group, lamp in enumerate(given.loop.lamps):
        for found in least_loads(given, group, TYPICAL_BYPASSES):
            lamps = "1 lamp" if found.count == 1 else f"{found.count} lamps"
            params = {"lamps": lamps, "most": MOST_LAMPS, "nominal": found.count_nominal or 0}
            code = "least_count" if found.count else "least_nominal_only" if found.count_nominal else "least_none"
            rows.append(
                {
                    "group": group + 1,
                    "bypass": text_of(f"bypass_{found.bypass or 'none'}"),
                    "count": found.count,
                    "count_nominal": found.count_nominal,
                    "watts": found.watts,
                    "text": text_of(code, params),
                    "is_enough": found.count is not None and lamp.count >= found.count,
                }
            )
    return rows
