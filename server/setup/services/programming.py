"""Programs of a gang: kept, a week of them, what goes against what, hours of a year, a calendar."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any

from django.db import transaction
from icalendar import Calendar, Event

from accounts.models import User
from audit import trail
from common.problems import StaleVersion
from ember_core.errors import InputErrors
from ember_core.programs.conflicts import Conflict, conflicts
from ember_core.programs.entries import Plan, read
from ember_core.programs.simulate import run, spans_of
from loops.models import Gang
from setup.models import Programs
from setup.services.houses import house_of, house_row
from wording.texts import catalogue, fill

Json = dict[str, Any]
EMPTY: Json = {"programs": [], "device": {}}
SHOWN_DAYS, YEAR_DAYS = 8, 365
MOST_EVENTS = 800


def programs_row(gang: Gang) -> Programs:
    """What is kept; an unsaved empty one where nothing is."""
    return Programs.objects.filter(gang=gang).first() or Programs(gang=gang, document=dict(EMPTY), version=0)


def plan_of(gang: Gang, document: Json, first: date, days: int, more: Json | None = None) -> Plan:
    """The programs at their site.

    Raises
    ------
    InputErrors : the site has no zone or place yet, or a program cannot be.
    """
    house = house_row(gang.loop.site).document
    return read(
        {
            "zone": gang.loop.site.zone or None,
            "lat": house.get("lat"),
            "lon": house.get("lon"),
            "from": first.isoformat(),
            "days": days,
            "programs": document.get("programs", []),
            "device": document.get("device", {}),
            **(more or {}),
        }
    )


def keep_programs(who: User, gang_pk: Any, version: int, document: Json, today: date) -> Programs:
    """Keep the programs of a gang.

    Raises
    ------
    StaleVersion : somebody kept others meanwhile. InputErrors : something cannot be; nothing is kept.
    """
    with transaction.atomic():
        gang = Gang.objects.select_for_update().get(pk=gang_pk)
        row = programs_row(gang)
        if row.version != version:
            raise StaleVersion(
                yours=version, current_version=row.version, current={"document": row.document, "version": row.version}
            )
        spans_of(plan_of(gang, document, today, YEAR_DAYS))
        before = row.document
        row.document, row.version = document, version + 1
        row.save(force_insert=version == 0)
        trail.record(who, "programs kept", gang, before=before, after=document)
    return row


def programs_answer(
    gang: Gang, first: date, *, document: Json | None = None, outages: list[Json] | None = None
) -> Json:
    """The programs, eight days of the light, and what goes against what.

    Parameters
    ----------
    document : to be tried; None for what is kept. outages : to be tried with it.
    """
    row = programs_row(gang)
    tried = row.document if document is None else document
    answer: Json = {
        **{"document": tried, "version": row.version, "missing": []},
        **{"levels_how": _levels_how(gang), **_nothing()},
    }
    if document is None:
        try:
            plan = plan_of(gang, tried, first, SHOWN_DAYS)
        except InputErrors as errors:
            return {**answer, "missing": [one.code for one in errors.errors]}
    more = {"outages": outages or []}
    plan = plan_of(gang, tried, first, SHOWN_DAYS, more)
    found = run(plan)
    year = plan_of(gang, tried, first, YEAR_DAYS)
    whole = run(year)
    texts = catalogue("setup")
    watts = _watts(gang)
    against = conflicts(plan, found) if outages else (*conflicts(year, whole),)
    return {
        **answer,
        "first": first.isoformat(),
        "zone": str(plan.zone),
        "days": [_day(plan, first + timedelta(days=k)) for k in range(SHOWN_DAYS)],
        "on": [
            {"begin": one.begin.isoformat(), "end": one.end.isoformat(), "day": one.begin.date().isoformat()}
            for one in found.lit
        ],
        "hours": found.hours,
        "hours_a_year": whole.hours,
        "kwh_a_year": None if watts is None else whole.hours * watts / 1000.0,
        "conflicts": [_conflict(one, texts) for one in against],
        "clock_lost": [
            {"begin": begin.isoformat(), "end": None if end is None else end.isoformat()}
            for begin, end in found.clock_lost
        ],
    }


def _levels_how(gang: Gang) -> str:
    """How the levels of this gang's control are set; empty where no device is noted, or it has none."""
    device = house_of(gang.loop.site).of_gang(str(gang.pk))
    return (
        "" if device is None or not device.card.levels else str(catalogue("setup")["levels"][device.card.levels.value])
    )


def _nothing() -> Json:
    return {
        **{"first": "", "zone": "", "days": [], "on": [], "hours": 0.0, "hours_a_year": 0.0, "kwh_a_year": None},
        **{"conflicts": [], "clock_lost": []},
    }


def _day(plan: Plan, day: date) -> Json:
    """A local day with its length, and the sun's two times as the strip shows them."""
    begin = datetime(day.year, day.month, day.day, tzinfo=plan.zone)
    after = day + timedelta(days=1)
    end = datetime(after.year, after.month, after.day, tzinfo=plan.zone)
    hours = (end.astimezone(UTC) - begin.astimezone(UTC)).total_seconds() / 3600.0
    return {"day": day.isoformat(), "hours": hours, "begin": begin.isoformat()}


def _watts(gang: Gang) -> float | None:
    """Rated power of the gang's lamps as last judged; None where nobody knows it."""
    load = gang.load.get("watts") if isinstance(gang.load, dict) else None
    return float(load) if isinstance(load, int | float) else None


def _conflict(one: Conflict, texts: Json) -> Json:
    params = {
        "first": one.programs[0] + 1 if one.programs else 0,
        "second": one.programs[1] + 1 if len(one.programs) > 1 else 0,
        "times": one.times,
        "day": "" if one.day is None else one.day.isoformat(),
        **one.figures,
    }
    return {
        "code": one.code.value,
        "programs": list(one.programs),
        "day": None if one.day is None else one.day.isoformat(),
        "times": one.times,
        "text": fill(texts["conflicts"][one.code.value], params),
    }


def calendar(gang: Gang, first: date) -> bytes:
    """A year of the light as iCalendar (RFC 5545), each time with its zone's own offset, in UTC."""
    plan = plan_of(gang, programs_row(gang).document, first, YEAR_DAYS)
    made = Calendar()
    made.add("prodid", "-//Ember Thread//programs//EN")
    made.add("version", "2.0")
    name = gang.name or gang.loop.name
    for k, one in enumerate(run(plan).lit[:MOST_EVENTS]):
        event = Event()
        event.add("uid", f"{gang.pk}-{k}-{one.begin.strftime('%Y%m%dT%H%M%S')}@ember-thread.invalid")
        event.add("dtstamp", datetime(first.year, first.month, first.day, tzinfo=UTC))
        event.add("dtstart", one.begin.astimezone(UTC))
        event.add("dtend", one.end.astimezone(UTC))
        event.add("summary", f"{name}: {catalogue('setup')['light_on']}")
        made.add_component(event)
    return bytes(made.to_ical())
