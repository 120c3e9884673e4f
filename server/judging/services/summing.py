"""The one verdict on a gang: core in; codes for the record, words for the screen and for paper."""

from __future__ import annotations

from typing import Any

from ember_core.compatibility.trims import SiteTrims
from ember_core.errors import SolverError
from ember_core.judgement import Judgement, judge
from ember_core.overall import overall
from ember_core.sheet import Sheet
from judging.services.judging import missing_parts
from judging.services.spreading import complete, figure_words
from wording.texts import catalogue, fill

Json = dict[str, Any]
# The cause whose conditions are written out.
CONDITIONAL = "light_on_goes_if"


def overall_kept(given: Sheet, judgement: Judgement, trims: Json | None) -> Json:
    """What the record keeps of it: codes and counts, no words; empty where it cannot be computed."""
    try:
        found = overall(given, judgement, site=SiteTrims(**trims) if trims else None)
    except SolverError:
        return {}
    return {
        "works": found.works.value,
        "aspects": {aspect.value: works.value for aspect, works in found.aspects.items()},
        "cause": found.cause,
        "next_action": found.next_action.value,
        "well_count": found.well_count,
        "sample_count": found.sample_count,
        "limit_rule": found.limit_rule,
        "deciding_path": found.deciding_path,
        "conditions": list(found.conditions),
    }


def overall_answer(document: Json, trims: Json | None) -> Json:
    """The one verdict on a draft in words; of an incomplete one what it lacks.

    Raises
    ------
    InputErrors, SolverError : see core.
    """
    missing = missing_parts(document)
    if missing:
        return unknown("lamps" if "lamps" in missing else missing[0])
    given = complete(document)
    return overall_words(overall_kept(given, judge(given, with_meter=False), trims), given)


def unknown(lacks: str = "lamps") -> Json:
    """The words for a gang that lacks a part."""
    texts = catalogue("overall")
    return {
        "works": "unknown",
        "title": texts["works"]["unknown"]["title"],
        "text": "",
        "next_action": lacks,
        "next_text": texts["next"][lacks],
        "aspects": [],
        "well_count": 0,
        "sample_count": 0,
    }


def overall_words(kept: Json, given: Sheet | None = None) -> Json:
    """What was kept, in words.

    Parameters
    ----------
    given : the sheet, to name the figure that decides; without it none is named.
    """
    if not kept:
        return unknown("remedy")
    texts = catalogue("overall")
    figure = figure_words(kept["deciding_path"], given) if given is not None and kept["deciding_path"] else None
    action = kept["next_action"]
    text = texts["next"][action] if action != "measure" or figure is not None else texts["next"]["remedy"]
    return {
        "works": kept["works"],
        "title": texts["works"][kept["works"]]["title"],
        "text": cause_text(kept),
        "next_action": action,
        "next_text": " ".join(fill(text, figure or {}).split()),
        "aspects": [
            {"aspect": aspect, "name": texts["aspects"][aspect], "works": works, "word": texts["works"][works]["word"]}
            for aspect, works in kept["aspects"].items()
        ],
        "well_count": kept["well_count"],
        "sample_count": kept["sample_count"],
    }


def _cause_of(kept: Json) -> str:
    entry = catalogue("overall")["causes"][kept["cause"]]
    return str(entry if isinstance(entry, str) else entry[kept["works"]])


def tells_share(kept: Json) -> bool:
    """The sentence of why says in how many trials it works with the light off."""
    return bool(kept) and "{well_count}" in _cause_of(kept)


def cause_text(kept: Json) -> str:
    """Why, in a sentence or two; empty where nothing was judged."""
    if not kept:
        return ""
    text = _cause_of(kept)
    if kept["cause"] == CONDITIONAL and kept.get("conditions"):
        tests = catalogue("dimming")["tests"]
        return fill(
            catalogue("overall")["on_condition"], {"conditions": " ".join(tests[code] for code in kept["conditions"])}
        )
    rule = catalogue("loads")["rules"].get(kept["limit_rule"], "")
    return fill(
        text,
        {
            "well_count": kept["well_count"],
            "sample_count": kept["sample_count"],
            "limit": rule[:1].lower() + rule[1:],
        },
    )
