"""What a record says here and in a bundle, in words, as somebody compares the two."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from accounts.models import User
from bundle.rows import Json, value_of
from bundle.tables import BY_MODEL, BY_NAME, PEOPLE, Nest, Table
from bundle.taking import Difference
from bundle.zipped import Opened
from loops.models import Gang, Loop
from sites.models import Circuit
from wording.differing import Line, column_word, cut, lines_between, value_words
from wording.moments import whole_minute
from wording.texts import catalogue, fill

MOST_LINES = 16
# What is worked out of others: nobody chooses by that, nor by how often a row was kept.
UNTOLD: Mapping[str, frozenset[str]] = {
    "gangs": frozenset({"verdict", "works", "overall", "judged_on", "line_i_rms_a", "load"}),
    "route_choices": frozenset({"favoured", "order", "rated", "wire_map", "basis", "core_version"}),
    "plans": frozenset({"is_optimal", "best", "bounds", "left_out"}),
    "measured": frozenset({"meter", "hung"}),
    "photographs": frozenset({"digest", "width_px", "height_px"}),
}
_NEVER_TOLD = frozenset({"id", "version"})
# Of rows within a row: which part it is stands in its label, and where it stands is told by its place.
_NEVER_TOLD_INSIDE = frozenset({"id", "part", "position"})
# What is called by one of its columns, since its site is told already.
_CALLED = {Circuit: "breaker", Loop: "name"}


def told_columns(table: Table) -> tuple[str, ...]:
    """The columns of a table that are told, what is within its rows among them."""
    untold = _NEVER_TOLD | UNTOLD.get(table.name, frozenset())
    names = [*(one.name for one in table.fields(is_whole=True)), *(nest.name for nest in table.nests)]
    return tuple(name for name in names if name not in untold and name != table.key_name)


class Telling:
    """Tells the differences of one bundle; who and what is named is looked for here first, then in the bundle."""

    def __init__(self, opened: Opened) -> None:
        self._opened = opened
        self._texts = catalogue("bundle")
        self._seen: dict[tuple[Any, str], Any] = {}

    def title(self, one: Difference) -> str:
        """Which record it is: its loop, and what it is called there."""
        row = one.there
        gang = row["id"] if one.table == "gangs" else row.get("gang")
        own = "" if one.title == one.id else one.title
        if gang is not None and one.table != "loops":
            own = own if own and one.table != "gangs" else self._name(Gang, gang, "name") or self._gang(gang)
        loop = row.get("loop") or (gang and self._value(Gang, gang, "loop_id", "loop"))
        name = self._name(Loop, loop, "name") if loop else ""
        return ", ".join(dict.fromkeys(part for part in (name, own) if part)) or one.title

    def lines(self, one: Difference) -> list[Line]:
        """What differs, here before the bundle; nothing where only what is worked out does, or how often it was
        kept."""
        table = BY_NAME[one.table]
        told = told_columns(table)
        fields = {field.name: field for field in table.fields(is_whole=True)}
        found: list[Line] = []
        for column in one.columns:
            name, here, there = column["name"], column["here"], column["there"]
            if name not in told:
                continue
            field = fields.get(name)
            if field is None:
                nest = next(one for one in table.nests if one.name == name)
                found += lines_between((name,), self._bare(nest, here), self._bare(nest, there))
            elif isinstance(here, dict | list | float) and not field.many_to_many:
                found += lines_between((name,), here, there)
            else:
                found.append(Line(column_word(name), self._column(field, here), self._column(field, there)))
        if len(found) <= MOST_LINES:
            return found
        more = fill(self._texts["more"], {"count": len(found) - MOST_LINES})
        return [*found[:MOST_LINES], Line(more, "", "")]

    def _here(self, model: Any, key: Any) -> Any:
        """The record that is here, asked for once; many differences are of one loop."""
        at = (model, str(key))
        if at not in self._seen:
            self._seen[at] = model._base_manager.filter(pk=key).first()
        return self._seen[at]

    def _gang(self, key: str) -> str:
        position = self._value(Gang, key, "position", "position")
        return "" if position is None else fill(self._texts["gang"], {"position": position})

    def _value(self, model: Any, key: str, attribute: str, column: str) -> Any:
        """Of the record that is here, or else of the bundle's."""
        row = self._here(model, key)
        if row is not None:
            return getattr(row, attribute)
        rows = self._opened.rows[BY_MODEL[model].name]
        return next((one[column] for one in rows if one["id"] == str(key)), None)

    def _name(self, model: Any, key: Any, column: str) -> str:
        return str(self._value(model, key, column, column) or "")

    def _column(self, field: Any, value: Any) -> str:
        """What stands in a column that is no structure."""
        if value is None or value in ("", []):
            return ""
        if field.related_model is not None:
            keys = value if field.many_to_many else [value]
            return cut(", ".join(self._named(field.related_model, key) for key in keys))
        if field.choices:
            return str(value).replace("_", " ")
        kept = value_of(field, value)
        if hasattr(kept, "hour"):
            return whole_minute(kept)
        return cut(value) if isinstance(value, str) else value_words(field.name, value)

    def _named(self, model: Any, key: str) -> str:
        row = self._here(model, key)
        if row is not None:
            return str(getattr(row, _CALLED.get(model, ""), row))
        of = PEOPLE if model is User else BY_MODEL[model].name if model in BY_MODEL else ""
        found = next((one for one in self._opened.rows.get(of, []) if one["id"] == key), {})
        return str(found.get("name") or found.get("breaker") or found.get("number") or "")

    def _bare(self, nest: Nest, rows: list[Json]) -> list[Json]:
        """Rows within a row, without what only the database knows them by, and by name what they lead to."""
        fields = [one for one in nest.fields if one.name not in _NEVER_TOLD_INSIDE]
        named = {one.name for one in fields if one.related_model is not None}
        return [
            {one.name: self._column(one, row[one.name]) if one.name in named else row[one.name] for one in fields}
            for row in rows
        ]
