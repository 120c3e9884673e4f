"""Cutting the power and putting it back: breakers off, everybody's own lock, and the last one off."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from accounts.models import User
from accounts.policy import RELEASE, may
from audit import trail
from common.problems import Problem
from ember_core.survey.isolation import Scope
from loops.models import Loop
from sites.models import Circuit, Site
from survey.hooks import may_not_energise
from survey.models import Isolation, Lock
from survey.services.covering import end_proofs_under, locks_on, open_isolations
from survey.services.notices import tell

Json = dict[str, Any]
SHORTEST_REASON = 10


def isolation_data(row: Isolation) -> Json:
    """An isolation as the trail keeps it."""
    return {
        "id": str(row.pk),
        "scope": row.scope,
        "breakers": [circuit.breaker for circuit in row.circuits.all()],
        "locks": [
            {"person": str(lock.person), "is_on": lock.off_at is None} for lock in Lock.objects.filter(isolation=row)
        ],
        "closed": row.closed_at is not None,
    }


def open_new(
    who: User, loop_pk: Any, isolation_pk: Any, scope: str, circuit_pks: list[Any], made_at: datetime | None = None
) -> Isolation:
    """Record that breakers, or the whole installation, are switched off.

    Parameters
    ----------
    made_at : when it was entered on the device; None for now.

    Raises
    ------
    Problem : a breaker is off already under another isolation (put a lock on that one), or is another site's.
    """
    with transaction.atomic():
        # Held, so that nobody archives it meanwhile.
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        # Two people at one board: the second waits here, and then finds the first one's isolation.
        Site.objects.select_for_update().get(pk=loop.site_id)
        known = Isolation.objects.filter(pk=isolation_pk).first()
        if known is not None:
            same = known.loop_id == loop.pk and known.scope == scope
            if not same or {c.pk for c in known.circuits.all()} != set(circuit_pks):
                raise Problem(409, "entry_differs", path="id")
            return known
        circuits = _circuits(loop, circuit_pks)
        if scope == Scope.BREAKERS and not circuits:
            raise Problem(422, "no_breaker_named", path="circuits")
        for row in open_isolations(loop.site_id):
            taken = [c.breaker for c in row.circuits.all() if c in circuits]
            if taken or (scope == row.scope == Scope.WHOLE):
                raise Problem(
                    409,
                    "isolated_already",
                    path="circuits",
                    extra={"isolation": str(row.pk)},
                    what=", ".join(taken) or "the whole installation",
                    who=_name(row.opened_by),
                )
        row = Isolation.objects.create(
            pk=isolation_pk, site=loop.site, loop=loop, scope=scope, opened_by=who, opened_made_at=made_at
        )
        row.circuits.set(circuits if scope == Scope.BREAKERS else [])
        trail.record(who, "isolated", loop, after=isolation_data(row))
    return row


def _name(person: User | None) -> str:
    return str(person) if person else "somebody"


def _circuits(loop: Loop, wanted: list[Any]) -> list[Circuit]:
    found = list(Circuit.objects.filter(pk__in=wanted))
    if len(found) != len(set(wanted)) or any(circuit.site_id != loop.site_id for circuit in found):
        raise Problem(422, "circuit_of_other_site", path="circuits")
    return found


def _held(pk: Any) -> Isolation:
    """An isolation, held for a change."""
    return Isolation.objects.select_for_update().select_related("site").get(pk=pk)


def put_lock(who: User, isolation_pk: Any, lock_pk: Any, loop_pk: Any) -> Lock:
    """Put one's own lock on; a person has one on an isolation at a time."""
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        row = _held(isolation_pk)
        known = Lock.objects.filter(pk=lock_pk).first()
        if known is not None:
            if known.isolation_id != row.pk or known.person_id != who.pk:
                raise Problem(409, "entry_differs", path="id")
            return known
        if row.closed_at is not None:
            raise Problem(409, "isolation_closed", path="")
        if loop.site_id != row.site_id:
            raise Problem(422, "loop_of_other_site", path="loop")
        if any(lock.person_id == who.pk for lock in locks_on(row)):
            raise Problem(409, "lock_is_on", path="")
        lock = Lock.objects.create(pk=lock_pk, isolation=row, person=who, loop=loop)
        trail.record(who, "lock put on", loop, after=isolation_data(row))
    return lock


def take_lock_off(who: User, lock_pk: Any, reason: str) -> Lock:
    """Take a lock off; another person's only with the role for it and a reason, and both are told.

    When the last lock is off nothing keeps the breaker from being switched on: every proof under it ends.
    """
    with transaction.atomic():
        lock = Lock.objects.select_related("person", "loop").get(pk=lock_pk)
        row = _held(lock.isolation_id)
        lock.refresh_from_db(fields=("off_at", "off_by"))
        if lock.off_at is not None:
            if lock.off_by_id == who.pk:
                return lock
            raise Problem(409, "lock_is_off", path="", who=_name(lock.off_by))
        is_mine = lock.person_id == who.pk
        if not is_mine:
            if not may(who, RELEASE):
                raise Problem(403, "lock_of_another", path="", who=str(lock.person))
            if len(reason.strip()) < SHORTEST_REASON:
                raise Problem(422, "reason_needed", path="reason", least=SHORTEST_REASON)
        lock.off_at, lock.off_by, lock.off_reason = timezone.now(), who, reason.strip()
        lock.save(update_fields=("off_at", "off_by", "off_reason"))
        if not Lock.objects.filter(isolation=row, off_at=None).exists():
            end_proofs_under(row, "last_lock_off")
        if not is_mine:
            what = _what(row)
            tell(lock.person, "your_lock_taken_off", who=str(who), what=what, reason=lock.off_reason)
            tell(who, "you_took_lock_off", who=str(lock.person), what=what, reason=lock.off_reason)
        trail.record(
            who,
            "lock taken off" if is_mine else "another's lock taken off",
            lock.loop,
            after={**isolation_data(row), "owner": str(lock.person), "reason": lock.off_reason},
        )
    return lock


def _what(row: Isolation) -> str:
    breakers = ", ".join(circuit.breaker for circuit in row.circuits.all())
    return f"breaker {breakers}" if breakers else "the whole installation"


def energise(who: User, isolation_pk: Any, entry: Any, note: str, made_at: datetime | None = None) -> Isolation:
    """Put the power back: only when nobody's lock is on any more.

    Raises
    ------
    Problem : locks are on (whose is told), it is closed already, or a loop under it has loose ends.
    """
    with transaction.atomic():
        row = _held(isolation_pk)
        if row.closed_at is not None:
            if row.closing_entry == entry:
                return row
            raise Problem(409, "isolation_closed", path="")
        if held := locks_on(row):
            raise Problem(409, "locks_still_on", path="", who=", ".join(sorted(str(lock.person) for lock in held)))
        if reasons := [reason for ask in may_not_energise for reason in ask(row)]:
            raise Problem(409, "loops_half_done", path="", extra={"reasons": reasons}, reason=reasons[0]["text"])
        row.closed_at, row.closed_by, row.closing_note, row.closing_entry = timezone.now(), who, note, entry
        row.closed_made_at = made_at
        row.save(update_fields=("closed_at", "closed_by", "closing_note", "closing_entry", "closed_made_at"))
        end_proofs_under(row, "re_energised")
        trail.record(who, "re-energised", row.loop, after={**isolation_data(row), "note": note})
    return row
