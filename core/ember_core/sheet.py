"""The loop sheet: one gang as JSON, read and written without loss, and its JSON Schema.

A sheet is what files and the API carry. Any number may stand as itself or as
`{"low": …, "typical": …, "high": …, "source": …, "note": …}`; then the typical value goes into the loop and
the rest is kept by path.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import MISSING, dataclass, field, fields, replace
from difflib import get_close_matches
from typing import Any

from ember_core.errors import InputError, InputErrors
from ember_core.loop import MOST_BYPASSES, MOST_LAMP_GROUPS, Loop
from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Control, SmartLamp, Supply
from ember_core.quantities import Figure, Quantity, Source, quantity_of

SHEET_VERSION = 1
LONGEST_NAME = 200
SCHEMA_ID = "urn:ember-thread:loop-sheet:1"
HAS_NEUTRAL = "has_neutral"

Json = dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """A loop with its name and the sources of its figures.

    Parameters
    ----------
    loop : nominal figures.
    name : free text; may be empty.
    figures : range and source by path, as in `lamps[0].v_start_v`, of every number that carries them.
    """

    loop: Loop
    name: str = ""
    figures: Mapping[str, Figure] = field(default_factory=dict)

    def source_of(self, path: str) -> Source:
        """Where the figure at a path comes from; a bare number counts as assumed."""
        figure = self.figures.get(path)
        return Source.ASSUMED if figure is None else figure.source

    def __hash__(self) -> int:
        """Of the loop; sheets of one loop with other sources or ranges differ by comparison."""
        return hash(self.loop)


class Reader:
    """Reads one sheet, collecting every error instead of stopping at the first."""

    def __init__(self) -> None:
        self.errors: list[InputError] = []
        self.figures: dict[str, Figure] = {}

    def fail(self, code: str, path: str, **params: str | int | float) -> None:
        self.errors.append(InputError(code, path=path, **params))

    def mapping(self, value: object, path: str) -> Json | None:
        if not isinstance(value, dict):
            self.fail("not_an_object", path)
            return None
        return value

    def number(self, value: object, quantity: Quantity, path: str) -> float | int | None:
        try:
            if not isinstance(value, dict):
                return quantity.check(value, path)
            unknown = set(value) - {"low", "typical", "high", "source", "note"}
            if unknown:
                self.fail("unknown_key", f"{path}.{min(unknown)}", key=min(unknown), near="")
                return None
            typical = quantity.check(value.get("typical"), f"{path}.typical")
            low = quantity.check(value.get("low", typical), f"{path}.low")
            high = quantity.check(value.get("high", typical), f"{path}.high")
            if not low <= typical <= high:
                raise InputError("range_not_in_order", path=path, low=low, typical=typical, high=high)
            source = value.get("source", Source.ASSUMED)
            if source not in tuple(Source):
                raise InputError("unknown_source", path=f"{path}.source", value=str(source)[:40])
            note = value.get("note", "")
            if not isinstance(note, str) or len(note) > LONGEST_NAME:
                raise InputError("bad_text", path=f"{path}.note", most=LONGEST_NAME)
        except InputError as error:
            self.errors.append(error)
            return None
        self.figures[path] = Figure(
            low=float(low), typical=float(typical), high=float(high), source=Source(source), note=note
        )
        return typical

    def part(self, value: object, part_class: type[Any], path: str) -> Any:
        """One part, or None when something in it is wrong."""
        given = self.mapping(value, path)
        if given is None:
            return None
        before = len(self.errors)
        specs = {spec.name: spec for spec in fields(part_class)}
        self.unknown_keys(given, {*specs, *(("kind",) if hasattr(part_class, "kind") else ())}, path)
        values: Json = {}
        for name, spec in specs.items():
            quantity = quantity_of(spec)
            at = f"{path}.{name}"
            if name in given and quantity is not None:
                if given[name] is None and quantity.optional:
                    continue
                values[name] = self.number(given[name], quantity, at)
            elif name == "standby" and given.get(name) is not None:
                values[name] = self.kind(given[name], FEED_CLASSES, at)
            elif name == HAS_NEUTRAL and name in given:
                values[name] = self.flag(given[name], at)
            elif quantity is not None and spec.default is MISSING:
                self.fail("missing", at, key=name)
        if values.get(HAS_NEUTRAL) and values.get("standby") is not None:
            self.fail("fed_twice", f"{path}.{HAS_NEUTRAL}")
        if len(self.errors) > before:
            return None
        return part_class(**values)

    def flag(self, value: object, path: str) -> bool:
        """Yes or no."""
        if not isinstance(value, bool):
            self.fail("not_a_flag", path)
            return False
        return value

    def kind(self, value: object, classes: tuple[type[Any], ...], path: str) -> Any:
        """One part of a kind that the sheet names."""
        given = self.mapping(value, path)
        if given is None:
            return None
        kinds = {part_class.kind: part_class for part_class in classes}
        wanted = given.get("kind")
        if wanted == SmartLamp.kind:
            self.fail("smart_lamp_refused", f"{path}.kind")
            return None
        if not isinstance(wanted, str) or wanted not in kinds:
            self.fail("unknown_kind", f"{path}.kind", value=str(wanted)[:40], known=", ".join(kinds))
            return None
        return self.part(given, kinds[wanted], path)

    def kinds(self, value: object, classes: tuple[type[Any], ...], path: str, most: int) -> tuple[Any, ...]:
        if not isinstance(value, list):
            self.fail("not_a_list", path)
            return ()
        if len(value) > most:
            self.fail("too_many", path, most=most)
            return ()
        return tuple(self.kind(item, classes, f"{path}[{k}]") for k, item in enumerate(value))

    def unknown_keys(self, given: Json, known: set[str], path: str) -> None:
        for key in given:
            if key not in known:
                near = get_close_matches(str(key), known, n=1)
                self.fail("unknown_key", f"{path}.{key}" if path else str(key), key=str(key)[:60], near="".join(near))


_TOP_KEYS = {"sheet_version", "name", "supply", "control", "cable", "bypass", "lamps", "meter_r_ohm"}


def read(document: object) -> Sheet:
    """A sheet from parsed JSON.

    Raises
    ------
    InputErrors : everything that is wrong with it, each with code and path.
    """
    reader = Reader()
    given = reader.mapping(document, "")
    if given is None:
        raise InputErrors(reader.errors)
    reader.unknown_keys(given, _TOP_KEYS, "")
    version = given.get("sheet_version", SHEET_VERSION)
    if version != SHEET_VERSION or isinstance(version, bool):
        reader.fail("unknown_version", "sheet_version", known=SHEET_VERSION)
    name = given.get("name", "")
    if not isinstance(name, str) or len(name) > LONGEST_NAME:
        reader.fail("bad_text", "name", most=LONGEST_NAME)
    for key in ("supply", "control", "lamps"):
        if key not in given:
            reader.fail("missing", key, key=key)
    supply = reader.part(given["supply"], Supply, "supply") if "supply" in given else None
    control = reader.part(given["control"], Control, "control") if "control" in given else None
    cable = reader.part(given.get("cable", {}), Cable, "cable")
    bypass = reader.kinds(given.get("bypass", []), BYPASS_CLASSES, "bypass", MOST_BYPASSES)
    lamps = reader.kinds(given.get("lamps", []), LAMP_CLASSES, "lamps", MOST_LAMP_GROUPS)
    meter = None
    if given.get("meter_r_ohm") is not None:
        spec = next(spec for spec in fields(Loop) if spec.name == "meter_r_ohm")
        quantity = quantity_of(spec)
        meter = reader.number(given["meter_r_ohm"], quantity, "meter_r_ohm") if quantity else None
    if reader.errors or supply is None or control is None:
        raise InputErrors(reader.errors)
    try:
        loop = Loop(supply=supply, control=control, cable=cable, bypass=bypass, lamps=lamps, meter_r_ohm=meter)
    except InputError as error:
        raise InputErrors([error]) from error
    return Sheet(loop=loop, name=name, figures=reader.figures)


def read_text(text: str) -> Sheet:
    """A sheet from JSON text; NaN and infinity are refused as no JSON."""
    return read(parse_json(text))


def parse_json(text: str) -> Any:
    """JSON text as data.

    Raises
    ------
    InputErrors : `not_json`, with line and column.
    """

    def refuse(word: str) -> float:
        raise InputErrors([InputError("not_finite", value=word, unit="")])

    try:
        return json.loads(text, parse_constant=refuse)
    except json.JSONDecodeError as error:
        raise InputErrors([InputError("not_json", line=error.lineno, column=error.colno)]) from error
    except RecursionError as error:
        raise InputErrors([InputError("not_json", line=1, column=1)]) from error


def write(sheet: Sheet) -> Json:
    """The sheet as JSON data; `read` gives back the same sheet."""

    def number(value: Any, path: str, words: tuple[str, ...] = ()) -> Any:
        figure = sheet.figures.get(path)
        if words:
            value = words[int(value)]
        if figure is None:
            return value
        if words:
            return {"typical": value, "source": figure.source.value, **({"note": figure.note} if figure.note else {})}
        return {
            "low": figure.low,
            "typical": value,
            "high": figure.high,
            "source": figure.source.value,
            **({"note": figure.note} if figure.note else {}),
        }

    def part(value: Any, path: str) -> Json:
        written: Json = {"kind": value.kind} if hasattr(value, "kind") else {}
        for spec in fields(value):
            entry = getattr(value, spec.name)
            if entry is None:
                continue
            at = f"{path}.{spec.name}"
            quantity = quantity_of(spec)
            words = () if quantity is None else quantity.words
            if spec.name == HAS_NEUTRAL:
                # Said only where it is so: a sheet without it is what it was before there was such a key.
                written |= {HAS_NEUTRAL: True} if entry else {}
            else:
                written[spec.name] = part(entry, at) if spec.name == "standby" else number(entry, at, words)
        return written

    loop = sheet.loop
    document: Json = {"sheet_version": SHEET_VERSION}
    if sheet.name:
        document["name"] = sheet.name
    document["supply"] = part(loop.supply, "supply")
    document["control"] = part(loop.control, "control")
    document["cable"] = part(loop.cable, "cable")
    document["bypass"] = [part(item, f"bypass[{k}]") for k, item in enumerate(loop.bypass)]
    document["lamps"] = [part(item, f"lamps[{k}]") for k, item in enumerate(loop.lamps)]
    if loop.meter_r_ohm is not None:
        document["meter_r_ohm"] = number(loop.meter_r_ohm, "meter_r_ohm")
    return document


def with_meter(sheet: Sheet, r_ohm: float) -> Sheet:
    """The same sheet with a meter on the lamp terminals."""
    return replace(sheet, loop=replace(sheet.loop, meter_r_ohm=r_ohm))


def _number_schema(quantity: Quantity) -> Json:
    bare: Json = {
        "type": "integer" if quantity.integer else "number",
        "minimum": quantity.low,
        "maximum": quantity.high,
    }
    if quantity.words:
        bare = {"anyOf": [{"enum": list(quantity.words)}, bare]}
    ranged: Json = {
        "type": "object",
        "additionalProperties": False,
        "required": ["typical"],
        "properties": {
            "low": bare,
            "typical": bare,
            "high": bare,
            "source": {"enum": [source.value for source in Source]},
            "note": {"type": "string", "maxLength": LONGEST_NAME},
        },
    }
    options = [bare, ranged, *([{"type": "null"}] if quantity.optional else [])]
    unit = "" if quantity.unit == "1" else f" [{quantity.unit}]"
    return {"description": f"{quantity.meaning}{unit}", "anyOf": options}


def _part_schema(part_class: type[Any]) -> Json:
    properties: Json = {}
    needed: list[str] = []
    kind = getattr(part_class, "kind", None)
    if kind is not None:
        properties["kind"] = {"const": kind}
        needed.append("kind")
    for spec in fields(part_class):
        quantity = quantity_of(spec)
        if quantity is not None:
            properties[spec.name] = _number_schema(quantity)
            if spec.default is MISSING:
                needed.append(spec.name)
        elif spec.name == "standby":
            properties["standby"] = {"anyOf": [*map(_part_schema, FEED_CLASSES), {"type": "null"}]}
        elif spec.name == HAS_NEUTRAL:
            properties[spec.name] = {
                "description": "a neutral of its own feeds it; not beside `standby`",
                "type": "boolean",
                "default": False,
            }
    summary = (part_class.__doc__ or "").strip().splitlines()[0]
    twice = {"standby": {"type": "object"}, HAS_NEUTRAL: {"const": True}}
    return {
        **({"not": {"required": list(twice), "properties": twice}} if HAS_NEUTRAL in properties else {}),
        "description": summary,
        "type": "object",
        "additionalProperties": False,
        "required": needed,
        "properties": properties,
    }


def json_schema() -> Json:
    """The JSON Schema (draft 2020-12) of a loop sheet."""
    meter = next(quantity_of(spec) for spec in fields(Loop) if spec.name == "meter_r_ohm")
    assert meter is not None  # noqa: S101  (the field is declared with a quantity)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": SCHEMA_ID,
        "title": "Ember Thread loop sheet",
        "description": "One gang: supply, control, cable, bypass and lamps, in SI units.",
        "type": "object",
        "additionalProperties": False,
        "required": ["supply", "control", "lamps"],
        "properties": {
            "sheet_version": {"const": SHEET_VERSION},
            "name": {"type": "string", "maxLength": LONGEST_NAME},
            "supply": _part_schema(Supply),
            "control": _part_schema(Control),
            "cable": _part_schema(Cable),
            "bypass": {
                "type": "array",
                "maxItems": MOST_BYPASSES,
                "items": {"anyOf": [_part_schema(item) for item in BYPASS_CLASSES]},
            },
            "lamps": {
                "type": "array",
                "minItems": 1,
                "maxItems": MOST_LAMP_GROUPS,
                "items": {"anyOf": [_part_schema(item) for item in LAMP_CLASSES]},
            },
            "meter_r_ohm": _number_schema(meter),
        },
    }
