"""A file onto the shelf: looked at first, and taken whole or not at all."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from django.db import transaction

from accounts.models import User
from common.problems import Problem
from ember_core.catalogue.entry import Entry
from ember_core.catalogue.formats import BadRow, Reading, read_document, read_table
from parts.models import Part
from parts.services.entries import change_part, entry_of, make_part


class Format(StrEnum):
    """Open formats of the shelf."""

    CSV = "csv"
    JSON = "json"


@dataclass(frozen=True, slots=True, kw_only=True)
class Import:
    """What a file does to the shelf: parts that are new, that change, that stay; and what is wrong with it."""

    new: tuple[str, ...]
    changed: tuple[str, ...]
    unchanged: int
    bad: tuple[BadRow, ...]
    is_applied: bool


def import_parts(who: User | None, text: str, form: Format, *, apply: bool) -> Import:
    """Read a file; with `apply`, and nothing wrong in it, put it on the shelf in one transaction.

    Raises
    ------
    Problem : `apply` was asked for a file with something wrong; nothing is changed.
    """
    reading = read_table(text) if form is Format.CSV else read_document(text)
    if reading.bad:
        if apply:
            raise Problem(422, "import_refused", bad_count=len(reading.bad))
        return Import(new=(), changed=(), unchanged=0, bad=reading.bad, is_applied=False)
    with transaction.atomic():
        return _compared(who, reading, apply)


def _compared(who: User | None, reading: Reading, apply: bool) -> Import:
    there = {_key(part.maker, part.name): part for part in Part.objects.select_for_update().prefetch_related("claims")}
    new, changed, unchanged = [], [], 0
    for entry in reading.entries:
        part = there.get(_key(entry.maker, entry.name))
        name = f"{entry.maker} {entry.name}"
        if part is None:
            new.append(name)
            if apply:
                make_part(who, entry)
        elif _differs(entry_of(part), entry):
            changed.append(name)
            if apply:
                change_part(who, part, part.version, entry)
        else:
            unchanged += 1
    return Import(new=tuple(new), changed=tuple(changed), unchanged=unchanged, bad=(), is_applied=apply)


def _key(maker: str, name: str) -> tuple[str, str]:
    return maker.casefold(), name.casefold()


def _differs(old: Entry, new: Entry) -> bool:
    """Anything else than the order of the claims."""

    def ordered(entry: Entry) -> list[tuple[object, ...]]:
        return sorted((c.field, str(c.figure), c.in_use) for c in entry.claims)

    heads = [(e.category, e.kind, e.v_rms, e.note) for e in (old, new)]
    return heads[0] != heads[1] or ordered(old) != ordered(new)
