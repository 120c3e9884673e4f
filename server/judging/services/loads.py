"""Least and largest load of a draft: core in, words out; and what of it the round and the record keep."""

from __future__ import annotations

from typing import Any

from ember_core.compatibility.load_limits import From, LoadLimit, LoadLimits, LoadState, Side, load_limits
from ember_core.errors import SolverError
from ember_core.sheet import Sheet
from ember_core.spread.least_load import MOST_LAMPS
from ember_core.spread.most_load import Load
from judging.services.spreading import complete
from wording.quantities import with_unit
from wording.texts import catalogue, fill

Json = dict[str, Any]
_UNITS = {"most_current": "A", "most_mixed": "1", "most_transformer_va": "VA"}


def load_answer(document: Json) -> Json:
    """Every limit of a draft, as numbers of lamps, with the one that governs, in words.

    Raises
    ------
    InputErrors, SolverError : see core; an incomplete draft raises `InputErrors` with `missing`.
    """
    return limits_in_words(load_limits(complete(document)))


def limits_in_words(found: LoadLimits) -> Json:
    """The table with its words."""
    texts = catalogue("loads")
    rows = [_row(row, governs=k in (found.least, found.most) and not _is_open(row)) for k, row in enumerate(found.rows)]
    return {
        "group": found.group,
        "there": found.there,
        "state": found.state.value,
        "text": summary(kept(found)),
        "rows": rows,
        "caution": texts["amperes_caution"],
    }


def limits_of(given: Sheet) -> Json | None:
    """The table of a sheet with its words; None where it cannot be computed."""
    try:
        return limits_in_words(load_limits(given))
    except SolverError:
        return None


def kept(found: LoadLimits) -> Json:
    """What the round and the record keep of it: counts, what governs, and whether the load is within."""
    least = None if found.least is None else found.rows[found.least]
    most = None if found.most is None else found.rows[found.most]
    # Where the search ended without a limit there is none to tell.
    is_open = most is not None and _is_open(most)
    never = next((row.rule for row in found.rows if not row.is_reached), None)
    return {
        "state": found.state.value,
        "broken": [row.rule for row in found.rows if row.is_met is False],
        "group": found.group,
        "there": found.there,
        "watts": found.watts,
        "least": None if least is None else least.count,
        "least_rule": None if least is None else least.rule,
        "most": None if most is None or is_open else most.count,
        "most_rule": None if most is None else most.rule,
        "most_open": is_open,
        "never_rule": never,
    }


def kept_of(given: Sheet) -> Json:
    """The same of a sheet; empty where it cannot be computed."""
    try:
        return kept(load_limits(given))
    except SolverError:
        return {}


def summary(load: Json) -> str:
    """What is kept, as sentences."""
    texts = catalogue("loads")
    watts = "" if load["watts"] is None else f" ({with_unit(load['watts'], 'W')})"
    said = [fill(texts["there"], {"group": load["group"], "lamps": _lamps(load["there"]), "watts": watts})]
    if load["never_rule"] is not None:
        said.append(fill(texts["never"], {"rule": _within(texts["rules"][load["never_rule"]])}))
    elif load["least"] is not None:
        rule = _within(texts["rules"][load["least_rule"]])
        said.append(fill(texts["at_least"], {"lamps": _lamps(load["least"]), "rule": rule}))
    if load["most"] is not None:
        rule = _within(texts["rules"][load["most_rule"]])
        said.append(fill(texts["at_most"], {"lamps": _lamps(load["most"]), "rule": rule}))
    elif load.get("most_open"):
        said.append(fill(texts["most_open"], {"most_count": MOST_LAMPS}))
    else:
        said.append(texts["no_most"])
    if load["never_rule"] is None and None not in (load["least"], load["most"]) and load["least"] > load["most"]:
        said.append(texts["no_number"])
    said.append(texts[f"state_{load['state']}"])
    if load["state"] == LoadState.NOT_MET and load.get("broken"):
        rules = ", ".join(_within(texts["rules"][rule]) for rule in load["broken"])
        said[-1] = fill(texts["broken"], {"rules": rules})
        if load["broken"] == ["off"]:
            said.append(texts["broken_off"])
    return " ".join(said)


def short(load: Json) -> str:
    """The same for a row of the round: what is there of what is allowed; empty where nothing is kept."""
    if not load:
        return ""
    texts = catalogue("loads")
    if load["never_rule"] is not None:
        return str(texts["short_never"])
    if None not in (load["least"], load["most"]) and load["least"] > load["most"]:
        return str(texts["short_unsure"])
    has_least, has_most = load["least"] is not None, load["most"] is not None
    code = "short_between" if has_least and has_most else "short_most" if has_most else "short_least"
    if not has_least and not has_most:
        return ""
    counts = {"least": load["least"] or 0, "most": load["most"] or 0}
    return fill(texts[code], {"there": _lamps(load["there"]), **counts})


def _within(title: str) -> str:
    """A title within a sentence."""
    return title[:1].lower() + title[1:]


def _state(is_met: bool | None) -> str:
    return "unknown" if is_met is None else "met" if is_met else "not_met"


def _is_open(row: LoadLimit) -> bool:
    """Whether the search for the most lamps ended at its own end, so that no limit was found."""
    is_most = row.side is Side.MOST and row.origin is From.COMPUTED
    return is_most and row.count is not None and row.count >= MOST_LAMPS


def _lamps(count: int) -> str:
    return fill(catalogue("loads")["lamps"], {"lamp_count": count})


def _row(row: LoadLimit, *, governs: bool) -> Json:
    texts = catalogue("loads")
    if row.is_beside:
        text = texts["not_resistive"]
    elif row.load is not None:
        text = _declared(row.load)
    elif row.count is None:
        text = texts["no_count"] if not row.is_reached else texts["unknown"].get(row.rule, texts["not_sure"])
    else:
        text = ""
    if row.is_assumed and row.is_met is not None:
        text = f"{text} {texts['limit_assumed']}".strip()
    if row.watts_range is not None:
        low, high = (with_unit(watts, "W") for watts in row.watts_range)
        text = f"{text} {fill(texts['watts_decide'], {'low': low, 'high': high})}"
    if _is_open(row):
        text = fill(texts["row_open"], {"most_count": MOST_LAMPS})
    elif row.count is not None:
        watts = "" if row.watts is None else f" ({with_unit(row.watts, 'W')})"
        code = "row_least" if row.side is Side.LEAST else "row_most"
        text = f"{text} {fill(texts[code], {'lamps': _lamps(row.count), 'watts': watts})}".strip()
    return {
        "rule": row.rule,
        "title": texts["rules"][row.rule],
        "side": row.side.value,
        "origin": row.origin.value,
        "count": row.count,
        "text": text,
        "state": _state(row.is_met),
        "governs": governs,
    }


def _declared(load: Load) -> str:
    unit = _UNITS.get(load.rule, "W")
    shown = {
        "limit": "?" if load.limit is None else with_unit(load.limit, unit),
        "actual": "?" if load.actual is None else with_unit(load.actual, unit),
    }
    return fill(catalogue("loads")["declared" if load.limit is not None else "not_declared"], shown)
