"""What was measured of a gang: kept as records, beside what was computed."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from audit.striking import strike
from bench.services.keep_gang import update_loop
from common.problems import Problem
from judging.services.spreading import measurements
from loops.documents import hung_of, sheet_document
from loops.models import Gang, Loop, MeasuredValue, Occasion

Json = dict[str, Any]
MOST_A_GANG = 200


def keep_measured(who: User, gang_pk: Any, given: Json) -> MeasuredValue:
    """Keep one value; the same identity twice is the same value.

    Parameters
    ----------
    given : `id`, `occasion`, `meter`, `made_at`, `reading` as one measurement, and `hung`: the mark of the parts that
        it was read of, as `hung_of` gives it; empty where that is what hangs there now.

    Raises
    ------
    InputErrors, Problem : no such lamp group, or a value that cannot be; nothing is kept.
    """
    with transaction.atomic():
        # The loop first, as whoever keeps, fits or proves does.
        Loop.everything.select_for_update().get(pk=Gang.objects.only("loop_id").get(pk=gang_pk).loop_id)
        gang = Gang.objects.select_for_update().get(pk=gang_pk)
        known = MeasuredValue.objects.filter(pk=given["id"]).first()
        if known is not None:
            if (known.gang_id, known.occasion, known.data) != (gang.pk, given["occasion"], given["reading"]):
                raise Problem(409, "entry_differs", path="id")
            return known
        sheet = sheet_document(gang)
        measurements([given["reading"]], sheet)
        if given["reading"].get("group", 0) >= max(1, len(sheet["lamps"])):
            raise Problem(422, "no_such_group", path="reading.group", group=given["reading"]["group"] + 1)
        if gang.measured.count() >= MOST_A_GANG:
            raise Problem(422, "too_many", path="reading", most=MOST_A_GANG)
        row = MeasuredValue.objects.create(
            pk=given["id"],
            gang=gang,
            occasion=given["occasion"],
            data=given["reading"],
            hung=given["hung"] or hung_of(gang),
            meter=given["meter"],
            made_at=given["made_at"],
            by=who,
        )
        trail.record(who, "measured", gang, after={"id": str(row.pk), "occasion": row.occasion, **row.data})
        if row.occasion == Occasion.AFTER_FITTING:
            # What an earlier reading proved may not be proved any more.
            update_loop(gang.loop)
    return row


def strike_measured(who: User, pk: Any, reason: str) -> MeasuredValue:
    """Strike a value out; it stays on record with the reason."""
    with transaction.atomic():
        row = MeasuredValue.objects.select_for_update().get(pk=pk)
        if strike(who, row, reason, row.gang, "measured"):
            # What was proved by it is not proved any more.
            update_loop(row.gang.loop)
    return row
