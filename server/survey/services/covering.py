"""What keeps the power off a box: the open isolations of its site, and whose locks are on them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.conf import settings
from django.db.models import Q, QuerySet, prefetch_related_objects
from django.utils import timezone

from accounts.models import User
from ember_core.survey import isolation as rules
from loops.models import FitStatus, Gang, Loop, WiredWord
from sites.models import Circuit
from survey.hooks import has_fitted_control
from survey.models import Isolation, Lock, Proof, ProofEvent, Survey
from survey.services.documents import box_of

MAIN = "main"


def open_isolations(site_pk: Any) -> QuerySet[Isolation]:
    """The isolations of a site that are open, oldest first, with their breakers and locks."""
    return (
        Isolation.objects.filter(site=site_pk, closed_at=None)
        .select_related("loop", "opened_by")
        .prefetch_related("circuits", "locks__person", "locks__loop")
        .order_by("opened_at", "id")
    )


def hold_power(site_pk: Any) -> None:
    """Nobody takes a last lock off, or puts the power back, while something is entered that rests on its being off."""
    list(Isolation.objects.select_for_update().filter(site=site_pk, closed_at=None).order_by("pk"))


def circuits_of(survey: Survey, loop: Loop, first: Survey | None = None) -> list[Circuit]:
    """The breakers of a box: the loop's own first. A luminaire hangs on those of the first box, which switches it.

    Parameters
    ----------
    first : the survey of the first box, where it is at hand.
    """
    if not survey.is_box:
        survey = first or Survey.boxes.filter(loop=loop, place=1).first() or Survey(loop=loop, version=0)
    found = [loop.circuit] if loop.circuit else []
    if survey.version:
        found += [circuit for circuit in survey.other_circuits.all() if circuit not in found]
    return found


def locks_on(isolation: Isolation) -> list[Lock]:
    """The locks that are on, from what was prefetched."""
    return [lock for lock in isolation.locks.all() if lock.off_at is None]


def touching(circuits: Iterable[Circuit], isolations: Iterable[Isolation]) -> list[Isolation]:
    """Of these isolations those that keep something off that feeds the box."""
    wanted = {circuit.pk for circuit in circuits}
    return [
        row
        for row in isolations
        if row.scope == rules.Scope.WHOLE or any(circuit.pk in wanted for circuit in row.circuits.all())
    ]


def cover_of(circuits: Iterable[Circuit], isolations: Iterable[Isolation], who: User | None) -> rules.Cover:
    """What is off and locked of a box's breakers, for one person."""
    rows = list(isolations)

    def point(name: str, holding: list[Isolation]) -> rules.LockPoint:
        locks = [lock for row in holding for lock in locks_on(row)]
        return rules.LockPoint(
            name=name,
            is_off=bool(holding),
            is_locked=bool(locks),
            is_mine=who is not None and any(lock.person_id == who.pk for lock in locks),
        )

    return rules.Cover(
        breakers=tuple(
            point(circuit.breaker, [row for row in rows if any(c.pk == circuit.pk for c in row.circuits.all())])
            for circuit in circuits
        ),
        main=point(MAIN, [row for row in rows if row.scope == rules.Scope.WHOLE]),
    )


def core_event(row: ProofEvent) -> rules.ProofEvent:
    """A stored event for core's rules; its time is when it was made, never later than when it arrived."""
    made = min(row.made_at, row.at) if row.made_at else row.at
    return rules.ProofEvent(
        kind=rules.EventKind(row.kind),
        at_s=made.timestamp(),
        a=row.a,
        b=row.b,
        v=row.v,
        charge=rules.Charge(row.charge) if row.charge else None,
        is_simulated=row.origin == "simulated",
    )


def core_proof(row: Proof) -> rules.Proof:
    """A stored proof for core's rules."""
    return rules.Proof(
        conductors=tuple(row.conductors),
        points=frozenset(row.points),
        events=tuple(core_event(event) for event in row.events.all()),
        ended=row.ended_reason,
    )


def newest_proof(loop: Loop, place: int) -> Proof | None:
    """The proof that counts, if any does: the newest of the box."""
    return newest_proofs(loop, (place,)).get(place)


def newest_proofs(loop: Loop, places: Iterable[int]) -> dict[int, Proof]:
    """The same of several places, with their events, in as many queries as for one."""
    found: dict[int, Proof] = {}
    for row in Proof.objects.filter(loop=loop, place__in=list(places)):
        found.setdefault(row.place, row)
    prefetch_related_objects(list(found.values()), "events")
    return found


def bench_of(loop: Loop, survey: Survey, cover: rules.Cover) -> rules.Bench:
    """What a proof of this box is held against now."""
    return rules.Bench(
        conductors=tuple(conductor.id for conductor in box_of(survey.box).conductors),
        cover=cover,
        now_s=timezone.now().timestamp(),
        lasts_s=loop.site.proof_lasts_s,
        simulated_counts=settings.DEMO,
    )


def is_control_fitted(loop: Loop) -> bool:
    """The record says that a control with electronics is in one of the gangs."""
    for gang in Gang.objects.filter(loop=loop).select_related("control"):
        control = getattr(gang, "control", None)
        if control is None or control.status != FitStatus.FITTED:
            continue
        if control.figures.get("standby") or control.wired == WiredWord.STRAIGHT:
            return True
    return any(ask(loop) for ask in has_fitted_control)


def end_proofs(loop_pk: Any, reason: str, place: int | None = None) -> int:
    """End every proof of a loop (or of one of its boxes) that still counts; returns how many."""
    asked = Q(loop=loop_pk, ended_reason="")
    if place is not None:
        asked &= Q(place=place)
    return Proof.objects.filter(asked).update(ended_at=timezone.now(), ended_reason=reason)


def end_proofs_under(isolation: Isolation, reason: str) -> int:
    """End every proof that rests on an isolation."""
    found = Proof.objects.filter(isolations=isolation, ended_reason="").values_list("pk", flat=True)
    return Proof.objects.filter(pk__in=list(found)).update(ended_at=timezone.now(), ended_reason=reason)
