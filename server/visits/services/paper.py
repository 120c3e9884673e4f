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
from wording.quantities import local_number
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


def materials_pdf(row: Plan, who: User) -> bytes:
    """What is bought for a plan: of what, how much, for which loops, at which price; what has no price is counted."""
    answer = materials_answer(row)
    bought = [{**entry, "loops": ", ".join(entry["loops"])} for entry in answer["rows"]]
    cost = local_number(f"{answer['cost']:.2f}") if any(entry["price"] is not None for entry in bought) else ""
    return pdf_of(
        "visits/materials.html",
        {
            "plan": row,
            "site": row.site,
            "rows": [{**entry, **_written(entry)} for entry in bought],
            "tools": answer["tools"],
            "cost": cost,
            "unpriced": answer["unpriced"],
            "unmeasured": sum(not entry["is_known"] for entry in bought),
            "kits": [{**kit, "missing": ", ".join(kit["missing"])} for kit in answer["kits"]],
            "printed_by": who,
        },
    )


def _written(entry: Json) -> Json:
    """Amounts and prices as they are read; nothing where nobody knows."""
    unit = f" {entry['unit']}" if entry["unit"] else ""
    told = {name: f"{local_number(f'{entry[name]:.3g}')}{unit}" for name in ("with_spare", "in_van", "to_buy")}
    if not entry["is_known"]:
        told = dict.fromkeys(told, "?")
    for name in ("price", "cost"):
        is_told = entry[name] is not None and entry["is_known"]
        told[name] = local_number(f"{entry[name]:.2f}") if is_told else ""
    return told


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
