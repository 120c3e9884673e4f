"""Between the stored part and the core's entry; writing one with its trail."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from common.problems import Problem, StaleVersion
from ember_core.catalogue.entry import Category, Claim, Entry, check, figure_data, piece
from ember_core.quantities import Figure, Source
from parts import hooks
from parts.models import Part, PartClaim

Json = dict[str, Any]


def part_key(text: str) -> uuid.UUID | None:
    """A part's identity from what is kept of a choice; None for what is not of the shelf."""
    try:
        return uuid.UUID(text)
    except ValueError:
        return None


def entry_of(part: Part) -> Entry:
    """The core's entry of a stored part; prefetch `claims`."""
    return Entry(
        maker=part.maker,
        name=part.name,
        category=Category(part.category),
        kind=part.kind,
        v_rms=part.v_rms,
        note=part.note,
        claims=tuple(claim_of(row) for row in part.claims.all()),
    )


def claim_of(row: PartClaim) -> Claim:
    """The core's claim of a stored one."""
    figure = Figure(low=row.low, typical=row.typical, high=row.high, source=Source(row.source), note=row.where)
    return Claim(field=row.field, figure=figure, in_use=row.in_use)


def entry_data(entry: Entry) -> Json:
    """An entry for the trail."""
    return {
        "maker": entry.maker,
        "name": entry.name,
        "category": entry.category.value,
        "kind": entry.kind,
        "v_rms": entry.v_rms,
        "note": entry.note,
        "claims": [
            {"field": claim.field, "in_use": claim.in_use, **figure_data(claim.figure)} for claim in entry.claims
        ],
    }


def make_part(who: User | None, entry: Entry) -> Part:
    """A new part.

    Raises
    ------
    InputErrors : the entry is not whole. Problem : maker and name are taken.
    """
    check(entry)
    with transaction.atomic():
        if Part.objects.filter(maker=entry.maker, name=entry.name).exists():
            raise Problem(409, "name_taken", path="name")
        part = Part(maker=entry.maker, name=entry.name, version=0)
        _write(who, part, entry)
        trail.record(who, "made", part, after=entry_data(entry))
    return part


def change_part(who: User | None, part: Part, version: int, entry: Entry) -> Part:
    """Replace what is said of a part; call it with a part locked for the write.

    Raises
    ------
    StaleVersion : someone wrote in the meantime. InputErrors : the entry is not whole.
    """
    before = entry_of(part)
    if part.version != version:
        raise StaleVersion(yours=version, current_version=part.version, current=entry_data(before))
    check(entry)
    with transaction.atomic():
        _write(who, part, entry)
        trail.record(who, "changed", part, before=entry_data(before), after=entry_data(entry))
        for tell in hooks.changed:
            tell(part)
    return part


def _write(who: User | None, part: Part, entry: Entry) -> None:
    """Fields and claims; a claim that stays keeps its row, and with it who stated it and when."""
    part.category, part.kind, part.v_rms, part.note = entry.category.value, entry.kind, entry.v_rms, entry.note
    part.figures = piece(entry)
    part.version += 1
    part.save()
    kept = {_key(claim_of(row)): row for row in part.claims.all()}
    new: list[PartClaim] = []
    for position, claim in enumerate(entry.claims):
        row = kept.pop(_key(claim), None)
        if row is None:
            row = PartClaim(part=part, field=claim.field, by=who, where=claim.figure.note)
            row.low, row.typical, row.high = claim.figure.low, claim.figure.typical, claim.figure.high
            row.source, row.position, row.in_use = claim.figure.source.value, position, claim.in_use
            new.append(row)
        elif (row.position, row.in_use) != (position, claim.in_use):
            row.position, row.in_use = position, claim.in_use
            row.save()
    PartClaim.objects.bulk_create(new)
    PartClaim.objects.filter(pk__in=[row.pk for row in kept.values()]).delete()
    # What was read beforehand is not what is stored now.
    getattr(part, "_prefetched_objects_cache", {}).pop("claims", None)


def _key(claim: Claim) -> tuple[str, Figure]:
    return claim.field, claim.figure
