"""The working window of a bypass on a draft, and the shelf's bypasses ranked for it, in words."""

from __future__ import annotations

import math
from typing import Any

from ember_core import sheet
from ember_core.bypass.choose import Candidate, Choice, choose
from ember_core.bypass.window import Window
from ember_core.errors import InputErrors
from judgements.services.spreading import complete
from parts.models import Category, Part
from wording.texts import catalogue, fill

Json = dict[str, Any]


def choose_answer(document: Json) -> Json:
    """Windows and ranked parts.

    Raises
    ------
    InputErrors, SolverError : see core; an incomplete draft raises `InputErrors` with `missing`.
    """
    given = complete(document)
    parts = {str(part.pk): part for part in Part.objects.filter(category=Category.BYPASS)}
    candidates = [made for key, part in parts.items() if (made := _candidate(key, part, document)) is not None]
    found = choose(given, candidates)
    return {
        "capacitor": _window(found.capacitor, "capacitor"),
        "resistor": _window(found.resistor, "resistor"),
        "none_needed": found.none_needed,
        "parts": [_choice(choice, parts.get(choice.name)) for choice in found.choices],
    }


def _candidate(key: str, part: Part, document: Json) -> Candidate | None:
    """A shelf part for this loop; None when its figures no longer make a part."""
    try:
        read = sheet.read({**document, "bypass": [part.figures]})
    except InputErrors:
        return None
    prefix = "bypass[0]."
    figures = {path.removeprefix(prefix): f for path, f in read.figures.items() if path.startswith(prefix)}
    return Candidate(name=key, bypass=read.loop.bypass[0], figures=figures)


def _window(window: Window, kind: str) -> Json:
    texts = catalogue("window")
    params = {"group": (window.lower_group or 0) + 1}
    works = window.low is not None
    return {
        "low": window.low,
        "high": window.high,
        "works": works,
        "lower_reason": window.lower_reason,
        "upper_reason": window.upper_reason,
        "lower_text": fill(texts[f"reason_{window.lower_reason}"], params),
        "upper_text": fill(texts[f"reason_{window.upper_reason}"], params),
        "text": fill(texts[f"{kind}_{'works' if works else 'never'}"], params),
    }


def _choice(choice: Choice, part: Part | None) -> Json:
    texts = catalogue("bypass")
    return {
        "part": None if part is None else str(part.pk),
        "name": catalogue("window")["none"] if part is None else f"{part.maker} {part.name}",
        "rank": choice.rank,
        "verdict": choice.verdict,
        "share_ratio": choice.share,
        "margin_ratio": choice.margin if math.isfinite(choice.margin) else None,
        "heat_w": choice.heat_w,
        "reactive_a": choice.reactive_a,
        "reasons": [
            {"severity": f.severity.value, "text": fill(texts[f.code], f.params)}
            for f in choice.findings
            if f.code != "bypass_works"
        ],
    }
