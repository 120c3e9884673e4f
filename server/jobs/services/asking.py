"""Asking for a job, seeing one's own, and stopping one."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from accounts.models import User
from accounts.policy import may
from audit import trail
from common.problems import Problem
from jobs.models import OPEN, Job, Kind
from jobs.services.working import NEEDS, enqueue
from parts.models import Part

Json = dict[str, Any]
# Of jobs that have ended so many days are shown, and so many.
SHOWN, MOST_SHOWN = timedelta(days=2), 20


def ask(who: User, given: Json) -> Job:
    """A job; the same entry twice is one.

    Parameters
    ----------
    given : `id`, `kind`, `part`.

    Raises
    ------
    Problem : not allowed, no such part, another entry of that identity, or the same is under way.
    """
    kind = Kind(given["kind"])
    if not may(who, NEEDS[kind]):
        raise Problem(403, "not_allowed")
    part = None
    if kind == Kind.SERVE:
        part = Part.objects.filter(pk=given["part"]).first()
        if part is None:
            raise Problem(422, "unknown_part", path="part")
    with transaction.atomic():
        # One at a time for a person: two presses at once do not both find nothing.
        User.objects.select_for_update().get(pk=who.pk)
        known = Job.objects.filter(pk=given["id"]).first()
        if known is not None:
            if (known.by_id, known.kind, known.part_id) != (who.pk, kind.value, part and part.pk):
                raise Problem(409, "entry_differs", path="id")
            return known
        if Job.objects.filter(by=who, kind=kind, part=part, state__in=OPEN).exists():
            raise Problem(409, "job_runs")
        job = Job(pk=given["id"], kind=kind, part=part, by=who)
        enqueue(job)
        job.save(force_insert=True)
        trail.record(who, "asked", job, after={"kind": kind.value, "part": None if part is None else str(part)})
    return job


def jobs_of(who: User) -> QuerySet[Job]:
    """One's own jobs: those that are open, and those that ended lately; newest first."""
    lately = Q(state__in=OPEN) | Q(ended_at__gt=timezone.now() - SHOWN)
    return Job.objects.filter(lately, by=who).select_related("part")[:MOST_SHOWN]


def stop(who: User, pk: Any) -> Job:
    """Ask that a job ends after the gang that it is at; one that has ended stays as it is."""
    with transaction.atomic():
        job = Job.objects.select_for_update().filter(pk=pk, by=who).first()
        if job is None:
            raise Problem(404, "not_found")
        if job.state in OPEN and not job.is_stop_asked:
            job.is_stop_asked = True
            job.save(update_fields=("is_stop_asked",))
            trail.record(who, "stopped", job, after={"done": job.done, "of": job.of})
    return job
