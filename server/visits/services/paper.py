"""A plan out of the house: the day sheet on paper, and a calendar."""

from __future__ import annotations

from datetime import UTC, datetime, time, timedelta
from typing import Any

import icalendar

from accounts.models import User
from survey.services.paper import pdf_of
from visits.models import Plan
from visits.services.answers import clock, plan_answer
from visits.services.materials import materials_answer
from wording.texts import catalogue, fill, vocabulary_of

Json = dict[str, Any]
_CAUTIONS = ("isolate_and_prove_dead", "no_borrowed_neutral", "local_code")


def day_sheet_pdf(row: Plan, who: User) -> bytes:
    """A page a visit: whom to warn that which circuit is off when, the loops in order, what is taken along."""
    answer = plan_answer(row)
    visits = [
        {
            **visit,
            "begins": clock(row.begins_min),
            "ends": clock(visit["ends_min"]),
            "stops": [
                {**stop, "begins": clock(stop["begins_min"]), "ends": clock(stop["ends_min"])}
                for stop in visit["stops"]
            ],
            "dark": [
                {**dark, "begins": clock(dark["begins_min"]), "ends": clock(dark["ends_min"])} for dark in visit["dark"]
            ],
            "materials": materials_answer(row, visit["number"]),
        }
        for visit in answer["planned"]
        if visit["stops"]
    ]
    vocabulary = vocabulary_of(row.site.region)
    return pdf_of(
        "visits/day_sheet.html",
        {
            "plan": answer,
            "site": row.site,
            "visits": visits,
            "cautions": [fill(catalogue("cautions")[code], {}, vocabulary) for code in _CAUTIONS],
            "printed_by": who,
        },
    )


def calendar(row: Plan) -> bytes:
    """The visits as events of an iCalendar file (RFC 5545), in the site's own clock time: no zone, as on its wall."""
    answer = plan_answer(row)
    texts = catalogue("visits")["calendar"]
    made = icalendar.Calendar()
    made.add("prodid", "-//Ember Thread//plan//")
    made.add("version", "2.0")
    for visit in answer["planned"]:
        if not visit["stops"]:
            continue
        midnight = datetime.combine(visit["date"], time())
        event = icalendar.Event()
        event.add("uid", f"{row.pk}-{visit['number']}@ember-thread.invalid")
        event.add("dtstamp", row.at.astimezone(UTC))
        event.add("sequence", row.version)
        event.add("dtstart", midnight + timedelta(minutes=row.begins_min))
        event.add("dtend", midnight + timedelta(minutes=visit["ends_min"]))
        event.add("summary", fill(texts["summary"], {"site": row.site.name, "person": visit["person_name"]}))
        event.add("location", f"{row.site.name}, {row.site.place}".strip(", "))
        lines = [
            fill(
                texts["stop"],
                {"begins": clock(stop["begins_min"]), "loop": stop["name"], "breaker": stop["breaker"]},
            )
            for stop in visit["stops"]
        ]
        lines += [
            fill(
                texts["dark"],
                {"breaker": d["breaker"], "begins": clock(d["begins_min"]), "ends": clock(d["ends_min"])},
            )
            for d in visit["dark"]
        ]
        event.add("description", "\n".join(lines))
        made.add_component(event)
    written: bytes = made.to_ical()
    return written
