"""Telling a person something that concerns their safety, until they say that they have seen it."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from accounts.models import User
from survey.models import Notice
from wording.texts import catalogue, fill

Json = dict[str, Any]


def tell(person: User, code: str, **params: str) -> Notice:
    """Leave a notice; call it inside the transaction that makes it true."""
    return Notice.objects.create(person=person, code=code, params=params)


def notices_of(person: User) -> list[Json]:
    """What a person has not seen yet, oldest first."""
    words = catalogue("survey")["notices"]
    return [
        {"id": str(row.pk), "code": row.code, "text": fill(words[row.code], row.params, {}), "at": row.at}
        for row in Notice.objects.filter(person=person, seen_at=None)
    ]


def seen(person: User, pk: Any) -> None:
    """A person has seen a notice of their own; raises `Notice.DoesNotExist` for another's."""
    row = Notice.objects.get(pk=pk, person=person)
    if row.seen_at is None:
        row.seen_at = timezone.now()
        row.save(update_fields=("seen_at",))
