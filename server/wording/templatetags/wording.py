"""Words on paper, from the same catalogue as everything else."""

from __future__ import annotations

from typing import Any

from django import template

from wording.moments import duration_of, zone_word
from wording.texts import catalogue, fill, language

register = template.Library()
register.filter("duration", duration_of)


def word_at(path: str) -> str:
    """A message of the papers by its path, as in `sheet.title`."""
    found: Any = catalogue("papers")
    for name in path.split("."):
        found = found[name]
    return str(found)


@register.simple_tag
def say(path: str, **params: Any) -> str:
    """A message of the papers with its placeholders filled."""
    given = {name: "" if value is None else str(value) for name, value in params.items()}
    return fill(word_at(path), {"zone": zone_word(), **given})


@register.simple_tag
def word(table: str, code: Any) -> str:
    """The word of a table for a code; the code itself where the table does not know it."""
    found: Any = catalogue("papers")
    for name in table.split("."):
        found = found[name]
    return str(found.get(str(code), code))


@register.simple_tag
def spoken() -> str:
    """The language of the paper, for its reader's program."""
    return language()


@register.simple_tag
def page_of() -> str:
    """The page number as style sheets of paper write it: text and counters, in the order of the language."""
    text = fill(word_at("page"), {"page": '" counter(page) "', "pages": '" counter(pages) "'})
    return f'"{text}"'
