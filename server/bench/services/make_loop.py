"""Make a loop with its first gang, or another gang on it."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Max

from accounts.models import User
from accounts.policy import EDIT, may
from audit import trail
from audit.archiving import delete
from bench.services.keep_gang import WORDS, keep_words, update_loop
from common.problems import Problem
from ember_core.handover.stages import Stage
from loops.documents import gang_document
from loops.models import FittedBypass, FittedControl, Gang, LampGroup, Loop
from sites.access import sees_all
from sites.models import Circuit, Site

MOST_GANGS = 6
# Twin and earth or flat cable, 100 to 150 pF a metre between cores, some 8 m: until it is measured or counted.
TYPICAL_CABLE = {
    "c_line_to_switched_f": {"low": 4e-10, "typical": 1e-9, "high": 2.5e-9, "source": "assumed", "note": "8 m drop"},
    "c_switched_to_neutral_f": {"low": 2e-10, "typical": 5e-10, "high": 1.5e-9, "source": "assumed", "note": "8 m"},
}


def make_loop(who: User | None, *, site: Site, circuit: Circuit | None, name: str, note: str = "") -> Loop:
    """A loop with one empty gang.

    Raises
    ------
    Problem : the breaker is another site's, or the name is taken.
    """
    check_circuit(site, circuit)
    try:
        with transaction.atomic():
            loop = Loop.objects.create(site=site, circuit=circuit, name=name, note=note, stage=Stage.ASKED)
            Gang.objects.create(loop=loop, position=1, cable=TYPICAL_CABLE)
            keep_words(loop)
            loop.save(update_fields=WORDS)
            trail.record(who, "made", loop, after={"name": name, "site": str(site.pk)})
    except IntegrityError as error:
        raise Problem(409, "name_taken", path="name") from error
    return loop


def check_circuit(site: Site, circuit: Circuit | None) -> None:
    """A loop hangs on a breaker of its own site."""
    if circuit is not None and circuit.site_id != site.pk:
        raise Problem(422, "circuit_of_other_site", path="circuit")


def check_assigned(site: Site, assigned: User | None) -> None:
    """Work goes to somebody who may do it and sees the site."""
    if assigned is None:
        return
    is_there = sees_all(assigned) or site.members.filter(pk=assigned.pk).exists()
    if not (is_there and assigned.is_active and may(assigned, EDIT)) or hasattr(assigned, "token"):
        raise Problem(422, "not_their_work", path="assigned", name=str(assigned))


def add_gang(who: User, loop_pk: Any, gang_pk: Any = None) -> Gang:
    """Another empty gang at the end of a loop; the same identity twice is one gang."""
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = Gang.everything.filter(pk=gang_pk).first() if gang_pk else None
        if known is not None:
            if known.loop_id != loop.pk:
                raise Problem(409, "entry_differs", path="id")
            return known
        count = loop.gangs.count()
        if count >= MOST_GANGS:
            raise Problem(422, "too_many", path="gangs", most=MOST_GANGS)
        last = Gang.everything.filter(loop=loop).aggregate(last=Max("position"))["last"] or 0
        gang = Gang.objects.create(pk=gang_pk or uuid.uuid4(), loop=loop, position=last + 1, cable=TYPICAL_CABLE)
        update_loop(loop)
        trail.record(who, "made", gang, after=gang_document(gang))
    return gang


def delete_loop(who: User, pk: Any) -> None:
    """Delete a loop that holds no record.

    Raises
    ------
    Problem : `has_record`.
    """
    loop = Loop.everything.get(pk=pk)

    def belongings() -> None:
        for gang in Gang.everything.filter(loop=loop):
            _bare(gang)
            gang.delete()

    delete(who, loop, belongings)


def delete_gang(who: User, pk: Any) -> None:
    """Delete a gang that holds no record.

    Raises
    ------
    Problem : `has_record`, or `last_gang`.
    """
    with transaction.atomic():
        gang = Gang.everything.select_related("loop").get(pk=pk)
        # Held, so that two are not taken away at once.
        Loop.everything.select_for_update().get(pk=gang.loop_id)
        if not Gang.objects.filter(loop=gang.loop_id).exclude(pk=gang.pk).exists():
            raise Problem(409, "last_gang")
        delete(who, gang, lambda: _bare(gang))
        update_loop(gang.loop)


def _bare(gang: Gang) -> None:
    """Without what is fitted: part of a gang, no record of its own."""
    for fit in (FittedControl, FittedBypass, LampGroup):
        fit.objects.filter(gang=gang).delete()
