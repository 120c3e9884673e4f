"""Whether the power of a loop was off when something was done there, by the record of isolations."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.utils import timezone

from loops.models import Loop
from survey.models import Isolation, Survey
from survey.services.covering import circuits_of, open_isolations, touching


def circuits_feeding(loop: Loop) -> list[Any]:
    """Every breaker of every box of a loop."""
    found = [circuit for survey in Survey.boxes.filter(loop=loop) for circuit in circuits_of(survey, loop)]
    return found or ([loop.circuit] if loop.circuit else [])


def is_isolated(loop: Loop) -> bool:
    """The power of a loop is off, by the record."""
    return bool(touching(circuits_feeding(loop), open_isolations(loop.site_id)))


def was_isolated(loop: Loop, made_at: datetime | None) -> bool:
    """The power was off when an entry was made, which may arrive long afterwards.

    Parameters
    ----------
    made_at : by the clock of the device; None for now. A time that is still to come counts as now.
    """
    now = timezone.now()
    moment = now if made_at is None else min(made_at, now)
    rows = Isolation.objects.filter(site=loop.site_id).prefetch_related("circuits")
    return any(row.is_off_at(moment) for row in touching(circuits_feeding(loop), rows))


def was_isolated_since(loop: Loop, since: datetime) -> bool:
    """The power was off at some time since then, or still is."""
    rows = Isolation.objects.filter(site=loop.site_id).prefetch_related("circuits")
    held = [row for row in rows if row.closed_at is None or row.closed_at >= since]
    return bool(touching(circuits_feeding(loop), held))
