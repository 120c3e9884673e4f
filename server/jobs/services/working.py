"""Doing a job: gang after gang, each kept by itself, so that it can be stopped, cut off and taken up again."""

from __future__ import annotations

import logging
from datetime import timedelta
from typing import Any

from django.db import InterfaceError, OperationalError, transaction
from django.utils import timezone
from django_tasks import task
from django_tasks_db.models import DBTaskResult

from accounts.policy import EDIT, SHELF, may
from bench.services.serving import Turned, again_gangs, judge_one, serve_gangs, serve_one
from common.locking import is_held, named
from common.problems import Problem, StaleVersion
from ember_core.errors import EmberError
from jobs.models import OPEN, Job, Kind, State

logger = logging.getLogger(__name__)
Json = dict[str, Any]
# What says that the database is not there.
AWAY = (OperationalError, InterfaceError)
# A job that breaks off again and again at one gang is not begun for ever.
MOST_TRIES = 20
# Between a worker that takes an entry from the queue and one that begins its job.
BEGINS_WITHIN = timedelta(seconds=10)
KEPT_IN_QUEUE = timedelta(days=1)
NEEDS = {Kind.AGAIN: EDIT, Kind.SERVE: SHELF}


@task()
def work(pk: str) -> None:
    """Do a job, or go on with one that was cut off; nothing where somebody is at it, or it has ended."""
    job = Job.objects.get(pk=pk)
    with named(job.lock) as is_ours:
        if not is_ours or not _begin(job):
            return
        try:
            _go_through(job)
        except AWAY:
            # The database is, or was: it is taken up again.
            raise
        except Exception:
            logger.exception("job %s broke off", job.pk)
            _end(job, State.BROKEN)


def _begin(job: Job) -> bool:
    with transaction.atomic():
        held = Job.objects.select_for_update().get(pk=job.pk)
        if held.state not in OPEN:
            return False
        held.tries += 1
        held.state = State.RUNNING
        held.save(update_fields=("tries", "state"))
    job.refresh_from_db()
    if job.tries > MOST_TRIES:
        _end(job, State.BROKEN)
        return False
    if not _goes_on(job):
        _end(job, State.STOPPED)
        return False
    return True


def _goes_on(job: Job) -> bool:
    """Nobody asked to stop it, and whoever asked for it still may."""
    now = Job.objects.select_related("by").get(pk=job.pk)
    return not now.is_stop_asked and now.by.is_active and may(now.by, NEEDS[Kind(now.kind)])


def _go_through(job: Job) -> None:
    refused = {entry["gang"] for entry in job.refused}
    gangs = [gang for gang in _gangs(job) if str(gang) not in refused]
    job.of = job.done + len(gangs)
    _keep(job, "of")
    for gang in gangs:
        if not _goes_on(job):
            _end(job, State.STOPPED)
            return
        try:
            job.changed += _turn_at_last(job, gang) is Turned.CHANGED
        except (EmberError, Problem) as error:
            # One that cannot be kept, or that somebody is just changing, holds up nobody else.
            job.refused = [*job.refused, _refusal(gang, error)]
        except AWAY:
            raise
        except Exception:
            # Nor does one that we have an error with.
            logger.exception("job %s could not do gang %s", job.pk, gang)
            job.refused = [*job.refused, {"gang": str(gang), "code": "gang_failed", "path": "", "params": {}}]
        job.done += 1
        # It gets on: what was tried before does not count.
        job.tries = 0
        _keep(job, "done", "changed", "refused", "tries")
    _end(job, State.DONE)


def _gangs(job: Job) -> list[Any]:
    if job.kind == Kind.AGAIN:
        return again_gangs(job.by)
    assert job.part is not None  # noqa: S101  # such a job has one
    return serve_gangs(job.by, job.part)


def _turn_at_last(job: Job, gang: Any) -> Turned:
    try:
        return _turn(job, gang)
    except StaleVersion:
        # Somebody kept it meanwhile, perhaps the job of a colleague over the same gangs: looked at once more.
        return _turn(job, gang)


def _turn(job: Job, gang: Any) -> Turned:
    if job.kind == Kind.AGAIN:
        return judge_one(job.by, gang)
    return serve_one(job.by, gang, job.part_id)


def _refusal(gang: Any, error: EmberError | Problem) -> Json:
    """Codes and figures: the words are those of whoever reads them."""
    named_errors = getattr(error, "errors", None)
    first = named_errors[0] if named_errors else error
    return {"gang": str(gang), "code": first.code, "path": first.path, "params": dict(first.params)}


def _keep(job: Job, *fields: str) -> None:
    job.save(update_fields=fields)


def _end(job: Job, state: State) -> None:
    job.state, job.ended_at = state, timezone.now()
    _keep(job, "state", "ended_at")
    old = timezone.now() - KEPT_IN_QUEUE
    DBTaskResult.objects.finished().filter(finished_at__lt=old).delete()


def take_up() -> int:
    """Put jobs into the queue again whose worker is gone; how many."""
    return sum(_take_up(pk) for pk in list(Job.objects.filter(state__in=OPEN).values_list("pk", flat=True)))


def _take_up(pk: Any) -> bool:
    with transaction.atomic():
        job = Job.objects.select_for_update(skip_locked=True).filter(pk=pk, state__in=OPEN).first()
        if job is None or is_held(job.lock):
            return False
        entry = DBTaskResult.objects.filter(pk=job.task).first()
        if job.state == State.WAITING and entry is not None and not _is_lost(entry):
            return False
        job.state = State.WAITING
        enqueue(job)
        job.save(update_fields=("state", "task"))
    return True


def _is_lost(entry: DBTaskResult) -> bool:
    """Somebody took it from the queue, and never began."""
    return entry.started_at is not None and entry.started_at < timezone.now() - BEGINS_WITHIN


def enqueue(job: Job) -> None:
    """An entry in the queue; inside the transaction that writes the job."""
    job.task = str(work.enqueue(str(job.pk)).id)
