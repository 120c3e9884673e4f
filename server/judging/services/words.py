"""A judgement's data with its words, for the screen and for paper."""

from __future__ import annotations

from typing import Any

from ember_core.judgement import VERDICT_OF
from ember_core.sheet import Sheet
from judging.services.kinds import field_of
from wording.quantities import with_unit
from wording.texts import catalogue, fill, meaning_of, reference_words, vocabulary_of

Json = dict[str, Any]


def verdict_words(verdict: str, *, is_switch: bool) -> Json:
    """Word, title and sentence of a verdict."""
    entry = catalogue("verdicts")[verdict]
    return {
        "word": entry["word"],
        "title": entry["switch_title" if is_switch else "title"],
        "text": entry["switch_text" if is_switch else "text"] or entry["text"],
    }


def finding_words(finding: Json, given: Sheet, region: str) -> Json:
    """A finding with title, figure, sentence, formula and inputs, and the verdict that it alone would make."""
    entry = catalogue("findings")[finding["code"]]
    vocabulary = vocabulary_of(region)
    return {
        **finding,
        "verdict": VERDICT_OF.get(finding["code"]),
        "title": fill(entry["title"], finding["params"], vocabulary),
        "figure": fill(entry["figure"], finding["params"], vocabulary),
        "text": fill(entry["text"], finding["params"], vocabulary),
        "formula": entry["formula"],
        "inputs": [words for path in finding["refs"] if (words := input_words(path, given))],
    }


def input_words(path: str, given: Sheet) -> Json | None:
    """An input by path: what it is, its value with range, where it is from; None when the loop has none."""
    found = field_of(path, given)
    if found is None:
        return None
    quantity, value = found
    figure = given.figures.get(path)
    ends = {}
    if figure is not None and figure.low < figure.high:
        ends = {end: with_unit(getattr(figure, end), quantity.unit) for end in ("low", "high")}
    return {
        "path": path,
        "label": meaning_of(quantity),
        "value": with_unit(value, quantity.unit),
        "range": fill(catalogue("papers")["range"], ends) if ends else "",
        "source": given.source_of(path).value,
        "note": reference_words(figure.note) if figure else "",
    }


def caution_words(codes: list[str], region: str) -> list[Json]:
    """Cautions with their sentences in the region's words."""
    texts = catalogue("cautions")
    return [{"code": code, "text": fill(texts[code], {}, vocabulary_of(region))} for code in codes]
