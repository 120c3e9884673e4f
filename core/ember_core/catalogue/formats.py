"""The shelf in open formats: a table (CSV, a row a claim) and a document (JSON); read whole or not at all.

Values are SI, decimal points; the unit column is there for the eye and must be the figure's own.
"""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from ember_core.catalogue.entry import Category, Claim, Entry, check, fields_of
from ember_core.errors import InputError, InputErrors, Param
from ember_core.quantities import Figure, Quantity, Source

COLUMNS = (
    "maker",
    "name",
    "category",
    "kind",
    "v_rms",
    "note",
    "field",
    "low",
    "typical",
    "high",
    "unit",
    "source",
    "where",
    "in_use",
)
FORMAT_VERSION = 1
MOST_ENTRIES = 5000
_YES, _NO = "yes", "no"
_HEAD = ("maker", "name", "category", "kind", "v_rms", "note")
Json = dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class BadRow:
    """What is wrong at one place of a file.

    Parameters
    ----------
    line : from 1; of a JSON document the number of the part, from 1. column : a column's name, or a path.
    code, params : see `errors`.
    """

    line: int
    column: str
    code: str
    params: dict[str, Param]


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """A file that was read: its entries, and everything that is wrong; to be used only where nothing is."""

    entries: tuple[Entry, ...]
    bad: tuple[BadRow, ...]


def write_table(entries: Iterable[Entry]) -> str:
    """A CSV table, a row a claim, in the order given."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for entry in entries:
        known = fields_of(entry.category, entry.kind)
        head = [entry.maker, entry.name, entry.category.value, entry.kind]
        head += ["" if entry.v_rms is None else repr(entry.v_rms), entry.note]
        for claim in entry.claims:
            figure = claim.figure
            quantity = known[claim.field][0]
            row = [claim.field, *_cells(quantity, figure), quantity.unit]
            writer.writerow([*head, *row, figure.source.value, figure.note, _YES if claim.in_use else _NO])
        if not entry.claims:
            writer.writerow([*head, *[""] * (len(COLUMNS) - len(_HEAD))])
    return out.getvalue()


def _cells(quantity: Quantity, figure: Figure) -> list[str]:
    """Low, typical and high; a word stands alone."""
    if quantity.words:
        return ["", quantity.words[int(figure.typical)], ""]
    return [repr(figure.low), repr(figure.typical), repr(figure.high)]


def read_table(text: str) -> Reading:
    """Entries of a CSV table; rows of one maker and name make one entry."""
    try:
        rows = list(csv.reader(io.StringIO(text.removeprefix("\ufeff")), strict=True))
    except csv.Error:
        return _broken("not_a_table")
    if not rows or [cell.strip() for cell in rows[0]] != list(COLUMNS):
        return _broken("wrong_columns", columns=", ".join(COLUMNS))
    reader = _Table()
    for line, cells in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) != len(COLUMNS):
            reader.bad.append(BadRow(line=line, column="", code="wrong_cell_count", params={"most": len(COLUMNS)}))
            continue
        reader.row(line, dict(zip(COLUMNS, (cell.strip() for cell in cells), strict=True)))
    return reader.done()


def _broken(code: str, **params: Param) -> Reading:
    return Reading(entries=(), bad=(BadRow(line=1, column="", code=code, params=params),))


class _Table:
    """Collects rows into entries, and what is wrong with them."""

    def __init__(self) -> None:
        self.bad: list[BadRow] = []
        self.heads: dict[tuple[str, str], tuple[int, Json]] = {}
        self.claims: dict[tuple[str, str], list[tuple[int, Claim]]] = {}
        # Parts with a row that could not be read: what they lack is not told on top of that.
        self.broken: set[tuple[str, str]] = set()

    def fail(self, line: int, column: str, code: str, **params: Param) -> None:
        self.bad.append(BadRow(line=line, column=column, code=code, params=params))

    def row(self, line: int, cells: dict[str, str]) -> None:
        """One row."""
        key = (cells["maker"].casefold(), cells["name"].casefold())
        head = {name: cells[name] for name in _HEAD}
        if key not in self.heads:
            self.heads[key] = (line, head)
            self.claims[key] = []
        else:
            first, known = self.heads[key]
            for name in _HEAD:
                if known[name] != head[name]:
                    self.fail(line, name, "differs_from_first_row", first_line=first)
                    return
        if not cells["field"]:
            return
        claim = self._claim(line, cells)
        self._check_unit(line, cells)
        if claim is None:
            self.broken.add(key)
        else:
            self.claims[key].append((line, claim))

    def _check_unit(self, line: int, cells: dict[str, str]) -> None:
        """A unit that is written must be the figure's own: 100 with nF beside it is not 100 F."""
        if not cells["unit"] or cells["category"] not in tuple(Category):
            return
        try:
            known = fields_of(Category(cells["category"]), cells["kind"])
        except InputError:
            return
        if cells["field"] in known and known[cells["field"]][0].unit != cells["unit"]:
            wanted = known[cells["field"]][0].unit
            self.fail(line, "unit", "wrong_unit", value=cells["unit"][:20], unit=wanted)

    def _claim(self, line: int, cells: dict[str, str]) -> Claim | None:
        before = len(self.bad)
        typical = self._number(line, cells, "typical")
        low = self._number(line, cells, "low") if cells["low"] else typical
        high = self._number(line, cells, "high") if cells["high"] else typical
        if cells["source"] not in tuple(Source):
            self.fail(line, "source", "unknown_source")
        if cells["in_use"] not in (_YES, _NO, ""):
            self.fail(line, "in_use", "not_yes_or_no", value=cells["in_use"][:40])
        if len(self.bad) > before or typical is None or low is None or high is None:
            return None
        figure = Figure(low=low, typical=typical, high=high, source=Source(cells["source"]), note=cells["where"])
        return Claim(field=cells["field"], figure=figure, in_use=cells["in_use"] != _NO)

    def _number(self, line: int, cells: dict[str, str], column: str) -> float | None:
        words = _words(cells)
        if cells[column] in words:
            return float(words.index(cells[column]))
        try:
            value = float(cells[column])
        except ValueError:
            if words:
                self.fail(line, column, "unknown_word", value=cells[column][:40], known=", ".join(words))
            else:
                self.fail(line, column, "not_a_number")
            return None
        if not math.isfinite(value):
            self.fail(line, column, "not_finite")
            return None
        return value

    def done(self) -> Reading:
        """Entries that hold together, and the rest as bad rows."""
        entries = []
        for key, (line, head) in self.heads.items():
            category = head["category"]
            if category not in tuple(Category):
                self.fail(line, "category", "unknown_kind", value=category[:40], known=", ".join(Category))
                continue
            v_rms = self._number(line, head, "v_rms") if head["v_rms"] else None
            if head["v_rms"] and v_rms is None:
                continue
            entry = Entry(
                maker=head["maker"],
                name=head["name"],
                category=Category(category),
                kind=head["kind"],
                v_rms=v_rms,
                note=head["note"],
                claims=tuple(claim for _, claim in self.claims[key]),
            )
            if key not in self.broken:
                self._check(entry, line, self.claims[key])
            entries.append(entry)
        bad = sorted(self.bad, key=lambda row: (row.line, row.column))
        return Reading(entries=tuple(entries), bad=tuple(bad))

    def _check(self, entry: Entry, line: int, claims: Sequence[tuple[int, Claim]]) -> None:
        try:
            check(entry)
        except InputErrors as errors:
            for error in errors.errors:
                at, column = _place(error, line, claims)
                self.bad.append(BadRow(line=at, column=column, code=error.code, params=dict(error.params)))


def _words(cells: dict[str, str]) -> tuple[str, ...]:
    """The words that a row's figure can be; none for a number."""
    try:
        known = fields_of(Category(cells["category"]), cells["kind"])
    except (InputError, ValueError):
        return ()
    return known[cells["field"]][0].words if cells.get("field") in known else ()


def _place(error: InputError, line: int, claims: Sequence[tuple[int, Claim]]) -> tuple[int, str]:
    """Line and column that an entry's error is about."""
    if not error.path.startswith("figures"):
        return line, error.path
    name = error.path.removeprefix("figures").strip("[].").removesuffix("]")
    lines = [at for at, claim in claims if claim.field == name]
    if not lines:
        return line, "field"
    column = {"unknown_key": "field", "not_one_in_use": "in_use", "bad_text": "where"}.get(error.code, "typical")
    return (lines[-1] if error.code == "not_one_in_use" else lines[0]), column


def write_document(entries: Iterable[Entry]) -> str:
    """A JSON document."""
    parts = [
        {
            "maker": entry.maker,
            "name": entry.name,
            "category": entry.category.value,
            "kind": entry.kind,
            "v_rms": entry.v_rms,
            "note": entry.note,
            "figures": [
                {
                    "field": claim.field,
                    "low": claim.figure.low,
                    "typical": claim.figure.typical,
                    "high": claim.figure.high,
                    "source": claim.figure.source.value,
                    "where": claim.figure.note,
                    "in_use": claim.in_use,
                }
                for claim in entry.claims
            ],
        }
        for entry in entries
    ]
    return json.dumps({"parts_version": FORMAT_VERSION, "parts": parts}, ensure_ascii=False, indent=1) + "\n"


def read_document(text: str) -> Reading:
    """Entries of a JSON document; `line` of what is wrong is the number of the part."""
    try:
        given = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as error:
        line = getattr(error, "lineno", 1)
        return Reading(
            entries=(),
            bad=(BadRow(line=line, column="", code="not_json", params={"line": line, "column": 1}),),
        )
    parts = given.get("parts") if isinstance(given, dict) else None
    if not isinstance(parts, list) or given.get("parts_version") != FORMAT_VERSION:
        return _broken("wrong_parts_document", known=FORMAT_VERSION)
    if len(parts) > MOST_ENTRIES:
        return _broken("too_many", most=MOST_ENTRIES)
    entries: list[Entry] = []
    bad: list[BadRow] = []
    seen: set[tuple[str, str]] = set()
    for number, part in enumerate(parts, 1):
        try:
            entry = _entry(part)
            key = (entry.maker.casefold(), entry.name.casefold())
            if key in seen:
                raise InputErrors([InputError("twice_in_file", path="name")])
            seen.add(key)
            check(entry)
            entries.append(entry)
        except InputErrors as errors:
            bad += [
                BadRow(line=number, column=error.path, code=error.code, params=dict(error.params))
                for error in errors.errors
            ]
    return Reading(entries=tuple(entries), bad=tuple(bad))


def _entry(part: Any) -> Entry:
    if not isinstance(part, dict):
        raise InputErrors([InputError("not_an_object")])
    unknown = set(part) - {*_HEAD, "figures"}
    if unknown:
        raise InputErrors([InputError("unknown_key", path=min(unknown), key=min(unknown)[:60], near="")])
    texts = {name: part.get(name, "") for name in ("maker", "name", "category", "kind", "note")}
    for name, value in texts.items():
        if not isinstance(value, str):
            raise InputErrors([InputError("bad_text", path=name, most=120)])
    if texts["category"] not in tuple(Category):
        known = ", ".join(Category)
        raise InputErrors([InputError("unknown_kind", path="category", value=texts["category"][:40], known=known)])
    v_rms = part.get("v_rms")
    if v_rms is not None:
        v_rms = _value(v_rms, "v_rms")
    figures = part.get("figures", [])
    if not isinstance(figures, list):
        raise InputErrors([InputError("not_a_list", path="figures")])
    return Entry(
        **{**texts, "category": Category(texts["category"])},
        v_rms=v_rms,
        claims=tuple(_claim(entry, f"figures[{k}]") for k, entry in enumerate(figures)),
    )


def _claim(given: Any, path: str) -> Claim:
    if not isinstance(given, dict):
        raise InputErrors([InputError("not_an_object", path=path)])
    unknown = set(given) - {"field", "low", "typical", "high", "source", "where", "in_use"}
    if unknown:
        raise InputErrors([InputError("unknown_key", path=f"{path}.{min(unknown)}", key=min(unknown)[:60], near="")])
    typical = _value(given.get("typical"), f"{path}.typical")
    source, where, in_use = given.get("source"), given.get("where", ""), given.get("in_use", True)
    if source not in tuple(Source):
        raise InputErrors([InputError("unknown_source", path=f"{path}.source")])
    if not isinstance(where, str) or not isinstance(given.get("field"), str):
        raise InputErrors([InputError("bad_text", path=path, most=120)])
    if not isinstance(in_use, bool):
        raise InputErrors([InputError("not_yes_or_no", path=f"{path}.in_use", value=str(in_use)[:40])])
    return Claim(
        field=given["field"],
        figure=Figure(
            low=_value(given.get("low", typical), f"{path}.low"),
            typical=typical,
            high=_value(given.get("high", typical), f"{path}.high"),
            source=Source(source),
            note=where,
        ),
        in_use=in_use,
    )


def _value(value: Any, path: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise InputErrors([InputError("not_a_number", path=path)])
    if not math.isfinite(value):
        raise InputErrors([InputError("not_finite", path=path)])
    return float(value)
