"""The kinds of parts and their fields, as the core declares them, for forms and for words."""

from __future__ import annotations

import re
from dataclasses import MISSING, fields
from typing import Any

from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Control
from ember_core.quantities import Quantity, quantity_of
from ember_core.sheet import Sheet
from wording.texts import meaning_of, word_labels

Json = dict[str, Any]
_STEP = re.compile(r"([a-z_0-9]+)(?:\[(\d+)\])?")


def field_data(spec: Any, quantity: Quantity) -> Json:
    """One field of a part."""
    return {
        "name": spec.name,
        "label": meaning_of(quantity),
        "unit": quantity.unit,
        "low": quantity.low,
        "high": quantity.high,
        "optional": quantity.optional,
        "integer": quantity.integer,
        "rating": quantity.is_rating,
        "lit": quantity.is_lit,
        "words": word_labels(quantity),
        "default": None if spec.default is MISSING or spec.default is None else spec.default,
    }


def kind_data(part_class: type[Any], category: str) -> Json:
    """One kind with its fields; what only starts a transient run is left out."""
    return {
        "category": category,
        "kind": getattr(part_class, "kind", category),
        "summary": (part_class.__doc__ or "").strip().splitlines()[0],
        "fields": [
            field_data(spec, quantity)
            for spec in fields(part_class)
            if (quantity := quantity_of(spec)) is not None and spec.name != "v0_v"
        ],
    }


def all_kinds() -> list[Json]:
    """Every kind: lamps, bypasses, stand-by feeds, control and cable."""
    return [
        *(kind_data(part_class, "lamp") for part_class in LAMP_CLASSES),
        *(kind_data(part_class, "bypass") for part_class in BYPASS_CLASSES),
        *(kind_data(part_class, "standby") for part_class in FEED_CLASSES),
        kind_data(Control, "control"),
        kind_data(Cable, "cable"),
    ]


def field_of(path: str, given: Sheet) -> tuple[Quantity, float] | None:
    """Quantity and value at a path of a sheet; None where the path names no number that is there."""
    target: Any = given.loop
    parent: Any = None
    name = ""
    for step in path.split("."):
        match = _STEP.fullmatch(step)
        if match is None:
            return None
        parent, name = target, match.group(1)
        target = getattr(target, name, None)
        if match.group(2) is not None and isinstance(target, tuple):
            target = target[int(match.group(2))]
    if isinstance(target, bool) or not isinstance(target, int | float):
        return None
    quantity = next((quantity_of(spec) for spec in fields(parent) if spec.name == name), None)
    return None if quantity is None else (quantity, float(target))
