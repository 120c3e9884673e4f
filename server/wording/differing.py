"""What differs between two states of a record, told as somebody compares them: one line for each thing."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.utils.dateparse import parse_datetime

from wording.moments import whole_minute
from wording.quantities import in_words, local_number
from wording.texts import catalogue, figure_value, figure_word

LONGEST_TOLD = 160
# By what only the database knows a row, and how often it was kept.
_NEVER_TOLD = frozenset({"id", "version"})
# Says nothing that what is in it does not say.
_BARE = frozenset({"figures", "document", "data"})
# What somebody wrote stands as it was written; everything else that looks like one is a code.
_WRITTEN = frozenset({"name", "note", "caption", "reason", "why", "place", "feeds", "maker", "where", "since"})
# Between which minutes of the day, as pairs.
_OF_THE_DAY = frozenset({"windows"})
_CODE = re.compile(r"[a-z0-9]+(_[a-z0-9]+)+")
_MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d")

# Column and key of another record, and what that one is called; empty where nobody knows.
Named = Callable[[str, str], str]


@dataclass(frozen=True, slots=True)
class Line:
    """One thing that differs: what it is, and what it is on either side; empty where there is nothing."""

    name: str
    before: str
    after: str


def nobody(column: str, key: str) -> str:
    """Where no record is known by its key."""
    return ""


def column_word(name: str) -> str:
    """A column of a record, or an entry of a document, as people call it."""
    return str(catalogue("records")["columns"].get(name) or figure_word(name))


def lines_between(path: tuple[str, ...], before: Any, after: Any, named: Named = nobody) -> Iterator[Line]:
    """Each leaf of a structure that differs, by the words on the way to it.

    Parameters
    ----------
    path : names on the way, the column first. before, after : plain data; None where there is nothing.
    """
    if before == after or path[-1] in _NEVER_TOLD:
        return
    pair = [after if before is None else before, before if after is None else after]
    if all(isinstance(one, dict) and "typical" not in one for one in pair):
        for key in dict.fromkeys((*(before or ()), *(after or ()))):
            yield from lines_between((*path, key), (before or {}).get(key), (after or {}).get(key), named)
    elif all(isinstance(one, list) for one in pair) and any(isinstance(one, dict) for of in pair for one in of):
        for k in range(max(len(before or ()), len(after or ()))):
            one, other = (of[k] if of and k < len(of) else None for of in (before, after))
            yield from lines_between((*path, str(k + 1)), one, other, named)
    else:
        name = next((step for step in reversed(path) if not step.isdigit()), path[-1])
        told = _clocks if path[0] in _OF_THE_DAY else partial(value_words, name, named=named)
        one, other = (cut(told(value)) for value in (before, after))
        if one == other and isinstance(before, float) and isinstance(after, float):
            # Closer than three digits tell.
            one, other = (local_number(f"{value:.9g}") for value in (before, after))
        if one != other:
            words = [_step_word(step, named) for step in path if step not in _BARE]
            yield Line(" · ".join(words), one, other)


def _clocks(minutes: Any) -> str:
    """From when to when; open where nobody says."""
    told = ["…" if one is None else f"{one // 60}:{one % 60:02d}" for one in minutes or ()]
    return "–".join(told)


def _step_word(step: str, named: Named) -> str:
    """One step of the way: a place as it is, the key of a breaker by its name."""
    if step.isdigit():
        return step
    return (named("circuit", step) or step) if is_key(step) else column_word(step)


def value_words(name: str, value: Any, named: Named = nobody) -> str:
    """What stands in a column or entry of this name."""
    texts = catalogue("records")
    if value is None or value in ("", [], {}):
        return ""
    if isinstance(value, bool):
        return str(texts["yes" if value else "no"])
    if isinstance(value, dict):
        if "typical" in value:
            return _figure(name, value)
        return ", ".join(
            filter(None, (value_words(key, inner, named) for key, inner in value.items() if key not in _NEVER_TOLD))
        )
    if isinstance(value, list):
        return ", ".join(filter(None, (value_words(name, one, named) for one in value)))
    if isinstance(value, str):
        return _text(name, value, named)
    if name.endswith("count") and float(value).is_integer():
        return str(int(value))
    return _number(name, value)


def _number(name: str, value: float) -> str:
    # A whole name may be a unit, as in `v_rms`.
    return figure_value(name, value) or in_words(f"_{name}", value)


def cut(text: str) -> str:
    """Long ones are cut."""
    return text if len(text) <= LONGEST_TOLD else f"{text[:LONGEST_TOLD]} …"


def _figure(name: str, value: dict[str, Any]) -> str:
    """A figure with its source, of a source of the shelf with the name of what it says."""
    texts = catalogue("records")
    field = str(value.get("field", name))
    told = [
        figure_word(field) if "field" in value else "",
        _number(field.rsplit(".", 1)[-1], value["typical"]),
        texts["sources"].get(value.get("source"), ""),
        f"({texts['columns']['in_use']})" if value.get("in_use") is True else "",
    ]
    return " ".join(filter(None, told))


def _text(name: str, value: str, named: Named) -> str:
    if name in _WRITTEN:
        return value
    if is_key(value):
        return named(name, value)
    moment = parse_datetime(value) if _MOMENT.match(value) else None
    if moment is not None and moment.tzinfo is not None:
        return whole_minute(moment)
    word: str | None = catalogue("records")["values"].get(value)
    return word or (value.replace("_", " ") if _CODE.fullmatch(value) else value)


def is_key(value: str) -> bool:
    """Whether it is the key of a record."""
    try:
        return str(uuid.UUID(value)) == value
    except ValueError:
        return False
