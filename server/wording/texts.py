"""The text catalogue: ICU messages in `texts/<language>/*.json` in the project's root, by code."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import fields
from functools import cache
from typing import Any

from django.conf import settings
from django.utils import translation

from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Control, Hardware, Supply
from ember_core.quantities import Quantity, quantity_of
from ember_core.survey.box import Box, Conductor
from ember_core.survey.depth import ControlBody
from wording.messages import message_of
from wording.quantities import with_unit

# The language that every message is written in first; what a person chose is asked of Django.
FIRST_LANGUAGE = "en"


def language() -> str:
    """The language of whoever asks: chosen, or the browser's, or English."""
    asked = (translation.get_language() or FIRST_LANGUAGE).split("-")[0]
    return asked if asked in _spoken() else FIRST_LANGUAGE


@cache
def _spoken() -> frozenset[str]:
    return frozenset(code for code, _ in settings.LANGUAGES)


def catalogue(name: str) -> dict[str, Any]:
    """One file of the catalogue, in the language of whoever asks."""
    return _file(language(), name)


@cache
def _file(spoken: str, name: str) -> dict[str, Any]:
    path = settings.ROOT / "texts" / spoken / f"{name}.json"
    loaded: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    return loaded


def fill(text: str, params: Mapping[str, Any], vocabulary: Mapping[str, str] | None = None) -> str:
    """A message with its placeholders filled: parameters with units, and words of the site's region.

    Raises
    ------
    KeyError : a placeholder that is neither a parameter nor a word of the region.
    """
    message = message_of(language(), text)
    if any(name not in params for name in message.names):
        params = {**(vocabulary or vocabulary_of("eu")), **params}
    return message.filled({name: params[name] for name in message.names})


def vocabulary_of(region: str) -> dict[str, str]:
    """The region's own words: permanent live or line, earth or ground."""
    vocabularies: dict[str, dict[str, str]] = catalogue("vocabulary")
    return vocabularies.get(region, vocabularies["eu"])


def error_text(code: str, params: Mapping[str, Any]) -> str:
    """What is wrong and what to do, for an error code."""
    errors = catalogue("errors")
    if code.startswith("field_") and code not in errors:
        # The framework's own sentences are for developers.
        return str(errors["field_invalid"])
    if isinstance(params.get("key"), str):
        params = {**params, "key": figure_word(params["key"])}
    is_plain = params.get("unit") == "1"
    try:
        text = fill(errors[code], {**params, "unit": ""} if is_plain else params)
    except KeyError:
        return str(errors["invalid"])
    # A number of its own kind has no unit to stand before the full stop.
    return text.replace(" .", ".") if is_plain else text


def placed_text(path: str, code: str, params: Mapping[str, Any]) -> str:
    """The same with the figure that it is about, for where no field stands beside it."""
    text = error_text(code, params)
    is_figure = path.rsplit(".", 1)[-1] in _quantities()
    return f"{figure_word(path)}: {text}" if is_figure else text


@cache
def _quantities() -> dict[str, Quantity]:
    """Every figure of every part, by its name."""
    parts = (
        Supply,
        Cable,
        Control,
        Hardware,
        *FEED_CLASSES,
        *BYPASS_CLASSES,
        *LAMP_CLASSES,
        Box,
        Conductor,
        ControlBody,
    )
    found: dict[str, Quantity] = {}
    for part in parts:
        for spec in fields(part):
            quantity = quantity_of(spec)
            if quantity is not None:
                found.setdefault(spec.name, quantity)
    return found


def meaning_of(quantity: Quantity) -> str:
    """What a figure means: as the core says it, or in the words of another language."""
    if language() == FIRST_LANGUAGE:
        return quantity.meaning
    meanings: dict[str, str] = catalogue("figures")
    return meanings[quantity.meaning]


def reference_words(note: str) -> str:
    """Where a figure of a class is from, in the language of whoever asks; what somebody wrote stays as it is."""
    return note if language() == FIRST_LANGUAGE else str(catalogue("references").get(note, note))


def figure_word(name: str) -> str:
    """A figure's meaning instead of its name in the data; a plain word where it has none."""
    last = name.rsplit(".", 1)[-1].replace(" ", "_")
    quantity = _quantities().get(last)
    return last.replace("_", " ") if quantity is None else meaning_of(quantity)


def figure_value(name: str, value: float) -> str | None:
    """A figure's value with its unit, or the word that it stands for; None where no figure has this name."""
    quantity = _quantities().get(name)
    if quantity is None:
        return None
    if not quantity.words:
        return with_unit(value, quantity.unit)
    return str(catalogue("choices")[quantity.words[int(value)]]) if 0 <= value < len(quantity.words) else None


def word_labels(quantity: Quantity) -> list[dict[str, str]]:
    """The words of a figure and what they are called, in their places; none for a number."""
    return [{"word": word, "label": catalogue("choices")[word]} for word in quantity.words]
