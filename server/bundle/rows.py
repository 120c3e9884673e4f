"""A record as plain data and back, and the schema that says what each is."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Iterable, Iterator
from datetime import UTC, date, datetime
from typing import Any

from django.db.models import BinaryField, Field, Model
from django.utils.dateparse import parse_date, parse_datetime

from accounts.models import User
from audit.models import Change
from bundle.scope import Scope
from bundle.tables import BY_NAME, OWN_ACTIONS, PEOPLE, TABLES, TRAIL, Nest, Table, names_a_person

Json = dict[str, Any]
Rows = dict[str, list[Json]]
UUID_FORM = "^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$"
TIME_FORM = r"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d{6})?\+00:00$"
AT_ONCE = 500


def rows_of(scope: Scope) -> Rows:
    """Every record of a scope as data, table by table, with the people that they name."""
    found: Rows = {table.name: list(told(table, table.rows(scope), is_whole=scope.is_whole)) for table in TABLES}
    subjects = {row[BY_NAME[name].key_name] for name, rows in found.items() for row in rows}
    if not scope.is_whole:
        subjects -= {str(scope.site), *(row["id"] for row in found["parts"])}
    found[TRAIL.name] = [row for keys in _split(sorted(subjects)) for row in _trail(keys)]
    found[TRAIL.name].sort(key=lambda row: str(row["id"]))
    named = people_in(found)
    found[PEOPLE] = [
        {"id": str(person.pk), "name": str(person)} for person in User.objects.filter(pk__in=named).order_by("pk")
    ]
    return found


def _trail(keys: list[str]) -> Iterator[Json]:
    rows = Change.objects.filter(subject_id__in=keys).exclude(action__in=OWN_ACTIONS)
    return told(TRAIL, rows, is_whole=True)


def _split(keys: list[str]) -> Iterator[list[str]]:
    for start in range(0, len(keys), AT_ONCE):
        yield keys[start : start + AT_ONCE]


def told(table: Table, rows: Any, *, is_whole: bool) -> Iterator[Json]:
    """Rows of a table as data, in the order in which they were made where that has a number."""
    fields = table.fields(is_whole=is_whole)
    many = [one.name for one in fields if one.many_to_many]
    found = list(rows.order_by("pk").defer(*_heavy(table)).prefetch_related(*many))
    inner = {nest.name: _nested(nest, found) for nest in table.nests}
    for row in found:
        data = {one.name: _plain(one, row) for one in fields}
        yield data | {name: of[row.pk] for name, of in inner.items()}


def _heavy(table: Table) -> list[str]:
    return [one.name for one in table.model._meta.concrete_fields if isinstance(one, BinaryField)]


def _nested(nest: Nest, owners: list[Any]) -> dict[Any, list[Json]]:
    found: dict[Any, list[Json]] = defaultdict(list)
    rows = nest.model._base_manager.filter(**{f"{nest.owner}__in": [one.pk for one in owners]}).order_by("pk")
    for row in rows:
        found[getattr(row, f"{nest.owner}_id")].append({one.name: _plain(one, row) for one in nest.fields})
    return found


def _plain(one: Field, row: Model) -> Any:
    if one.many_to_many:
        return sorted(str(other.pk) for other in getattr(row, one.name).all())
    value = one.value_from_object(row)
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    return str(value) if isinstance(value, uuid.UUID) else value


def value_of(one: Field, value: Any) -> Any:
    """What a column holds, of what a bundle says."""
    kind = _kind(one)
    if value is None or one.many_to_many:
        return value
    if kind == "DateTimeField":
        return parse_datetime(value)
    if kind == "DateField":
        return parse_date(value)
    return uuid.UUID(value) if kind == "UUIDField" else value


def people_in(rows: Rows) -> set[str]:
    """The accounts that rows name, in their columns."""
    found: set[str] = set()
    for name, of in rows.items():
        if name == PEOPLE:
            continue
        table = BY_NAME[name]
        for fields, data in _each(table, of):
            for one in fields:
                if names_a_person(one):
                    value = data.get(one.name)
                    found |= set(value or ()) if one.many_to_many else ({value} if value else set())
    return found


def _each(table: Table, rows: Iterable[Json]) -> Iterator[tuple[tuple[Field, ...], Json]]:
    fields = table.fields(is_whole=True)
    for row in rows:
        yield fields, row
        for nest in table.nests:
            for inner in row[nest.name]:
                yield nest.fields, inner


def leads(rows: Rows) -> Iterator[tuple[str, Any, str]]:
    """Every way from a row to another that is no account: where it is, to which model, by which key."""
    for name, of in rows.items():
        if name in (PEOPLE, TRAIL.name):
            continue
        for fields, data in _each(BY_NAME[name], of):
            for one in fields:
                value = data.get(one.name)
                if one.related_model is None or names_a_person(one) or value is None:
                    continue
                for key in value if one.many_to_many else [value]:
                    yield f"{name}.{one.name}", one.related_model, key


def _kind(one: Any) -> str:
    """The kind of a column; of one that leads to another table, of the key there."""
    return str((one.target_field if one.is_relation and not one.many_to_many else one).get_internal_type())


def _schema_of_field(one: Any) -> Json:
    if one.many_to_many:
        return {"type": "array", "items": {"type": "string", "pattern": UUID_FORM}, "uniqueItems": True}
    kind = _kind(one)
    simple: dict[str, Json] = {
        "UUIDField": {"type": "string", "pattern": UUID_FORM},
        "DateTimeField": {"type": "string", "pattern": TIME_FORM},
        "DateField": {"type": "string", "pattern": r"^\d{4}-\d\d-\d\d$"},
        "BooleanField": {"type": "boolean"},
        "FloatField": {"type": "number"},
        "PositiveIntegerField": {"type": "integer", "minimum": 0, "maximum": 2**31 - 1},
        "PositiveSmallIntegerField": {"type": "integer", "minimum": 0, "maximum": 2**15 - 1},
        "TextField": {"type": "string"},
        "JSONField": {"type": ["object", "array"]},
    }
    shape = simple.get(kind, {"type": "string", "maxLength": one.max_length})
    if one.choices:
        shape = {"enum": sorted({value for value, _ in one.choices} | ({""} if one.blank else set()))}
    if one.null:
        shape = {"anyOf": [shape, {"type": "null"}]}
    words = str(one.help_text)
    return {**shape, "description": words} if words else shape


def _object(properties: Json) -> Json:
    return {"type": "object", "properties": properties, "required": sorted(properties), "additionalProperties": False}


def schema_of(table: Table, *, is_whole: bool) -> Json:
    """The JSON schema of the file of a table."""
    properties = {one.name: _schema_of_field(one) for one in table.fields(is_whole=is_whole)}
    for nest in table.nests:
        inner = _object({one.name: _schema_of_field(one) for one in nest.fields})
        properties[nest.name] = {"type": "array", "items": inner}
    doc = (table.model.__doc__ or "").strip().splitlines()[0]
    return {"description": doc, "type": "array", "items": _object(properties)}


def schemas(*, is_whole: bool) -> Json:
    """One JSON schema for each table of a bundle; what is whole has more columns than a single loop."""
    of = {table.name: schema_of(table, is_whole=is_whole) for table in (*TABLES, TRAIL)}
    person = {"id": {"type": "string", "pattern": UUID_FORM}, "name": {"type": "string", "maxLength": 150}}
    of[PEOPLE] = {"description": "Who is named in the other tables.", "type": "array", "items": _object(person)}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Tables of a bundle of one site" if is_whole else "Tables of a bundle of one loop",
        "$defs": dict(sorted(of.items())),
    }
