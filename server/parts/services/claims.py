"""One more source for a figure of a part, and which source is in use."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.db import transaction

from accounts.models import User
from common.problems import Problem
from ember_core.catalogue.entry import Claim, check_claim, fields_of
from ember_core.errors import InputError, InputErrors
from parts.models import Part, PartClaim
from parts.services.entries import change_part, claim_of, entry_of


def add_claim(who: User, pk: Any, version: int, claim: Claim) -> Part:
    """Keep what another source says; the one that is in use so far stays on record, out of use if the new one is used.

    Raises
    ------
    InputErrors : the kind has no such figure, or the value cannot be. StaleVersion : see `change_part`.
    """
    with transaction.atomic():
        part = Part.objects.select_for_update().get(pk=pk)
        entry = entry_of(part)
        try:
            check_claim(claim, fields_of(entry.category, entry.kind))
        except InputError as error:
            raise InputErrors([error]) from error
        others = [
            replace(other, in_use=False) if claim.in_use and other.field == claim.field else other
            for other in entry.claims
        ]
        if not claim.in_use and not any(other.field == claim.field for other in others):
            claim = replace(claim, in_use=True)
        return change_part(who, part, version, replace(entry, claims=(*others, claim)))


def use_claim(who: User, pk: Any, version: int, claim_pk: Any) -> Part:
    """Calculate with this source from now on.

    Raises
    ------
    Problem : the part has no such claim. InputErrors : the part would not hold together with it.
    """
    with transaction.atomic():
        part = Part.objects.select_for_update().get(pk=pk)
        chosen = PartClaim.objects.filter(part=part, pk=claim_pk).first()
        if chosen is None:
            raise Problem(404, "not_found")
        wanted = claim_of(chosen)
        entry = entry_of(part)
        claims = [
            replace(claim, in_use=claim.figure == wanted.figure) if claim.field == wanted.field else claim
            for claim in entry.claims
        ]
        return change_part(who, part, version, replace(entry, claims=tuple(claims)))
