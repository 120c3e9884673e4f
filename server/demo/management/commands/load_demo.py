"""`manage.py load_demo`: loads what is missing of the demo, changes nothing that is there."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from accounts.api import DEMO_ACCOUNTS, DEMO_PASSWORD
from accounts.models import User
from demo import shelf, sites
from ember_core.survey.document import write_conductor
from ember_core.survey.isolation import Scope
from ember_core.survey.practices import BY_ID, conductors_of
from loops.models import Loop
from loops.services.keep_gang import keep_gang
from loops.services.make_loop import TYPICAL_CABLE, add_gang, make_loop
from parts.models import Part
from parts.services.entries import make_part
from sites.models import Circuit, Site
from survey.models import Isolation
from survey.services import metering
from survey.services.answers import survey_answer
from survey.services.isolating import open_new, put_lock
from survey.services.recording import save_survey, take_reading

Json = dict[str, Any]
MOST_DEMO_READINGS = 12


class Command(BaseCommand):
    """Idempotent."""

    help = "Load the demo sites, parts and accounts where they are missing."

    def handle(self, *args: Any, **options: Any) -> None:
        """Accounts, shelf, sites."""
        if not settings.DEMO:
            raise CommandError("the demo's accounts and sites do not belong into a copy with real work")
        with transaction.atomic():
            technician = load_accounts()
            load_shelf(technician)
            made = load_site(technician, sites.MILL, sites.MILL_CIRCUITS, sites.MILL_LOOPS)
            made += load_site(technician, sites.CANNERY, sites.CANNERY_CIRCUITS, sites.CANNERY_LOOPS)
            load_surveys(technician)
            load_isolation()
        self.stdout.write(f"demo data: {made} loops loaded" if made else "demo data: already there")


def load_accounts() -> User:
    """The ready accounts; returns the technician."""
    for name, display_name, role in DEMO_ACCOUNTS:
        user, is_new = User.objects.get_or_create(username=name, defaults={"display_name": display_name, "role": role})
        if is_new:
            # One of the two technicians keeps sites and shelf, the other works with what is there.
            user.keeps_sites = user.keeps_shelf = name == DEMO_ACCOUNTS[0][0]
            user.set_password(DEMO_PASSWORD)
            user.save()
    return User.objects.get(username=DEMO_ACCOUNTS[0][0])


def load_shelf(who: User | None) -> None:
    """The parts."""
    there = set(Part.objects.values_list("maker", "name"))
    for entry in shelf.entries():
        if (entry.maker, entry.name) not in there:
            make_part(who, entry)


def load_site(who: User, site_data: Json, circuits: Any, loops: Any) -> int:
    """One site with its loops, each kept the way a technician would; returns how many were made."""
    site, is_new = Site.everything.get_or_create(name=site_data["name"], defaults=site_data)
    if is_new:
        site.members.set(User.objects.filter(username__in=[name for name, *_ in DEMO_ACCOUNTS]))
    by_breaker = {}
    for breaker, label, feeds in circuits:
        by_breaker[breaker], _ = Circuit.objects.get_or_create(
            site=site, breaker=breaker, defaults={"label_as_found": label, "feeds": feeds}
        )
    made = 0
    for name, breaker, note, gangs in loops:
        if Loop.everything.filter(site=site, name=name).exists():
            continue
        loop = make_loop(who, site=site, circuit=by_breaker[breaker], name=name, note=note)
        for position, wanted in enumerate(gangs):
            gang = loop.gangs.get(position=1) if position == 0 else add_gang(who, loop.pk)
            keep_gang(who, gang.pk, gang.version, gang_values(wanted))
        made += 1
    return made


def load_surveys(who: User) -> None:
    """Surveys of some loops where there is none: saved, and read, the way a technician would."""
    for name, wanted in sites.SURVEYS.items():
        loop = Loop.objects.select_related("site", "circuit").filter(name=name).first()
        if loop is None or loop.surveys.exists():
            continue
        save_survey(who, loop.pk, 0, survey_document(loop, wanted))
        if "second" in wanted:
            second = {**wanted, "enquiry": {}, **wanted["second"]}
            save_survey(who, loop.pk, 0, {**survey_document(loop, second), "place": 2})
        if wanted["reads"]:
            read_what_is_asked(who, loop)


def survey_document(loop: Loop, wanted: Json) -> Json:
    """A box as somebody who has looked at it writes it down: the conductors of its practice, gang by gang."""
    practice = BY_ID[wanted["practice"]]
    gangs = loop.gangs.count()
    conductors: list[Json] = []
    for gang in range(1, gangs + 1):
        drawn = conductors_of(practice, loop.site.region, gang, first=len(conductors) + 1)
        conductors += [write_conductor(conductor) for conductor in drawn]
    return {
        "place": 1,
        "name": wanted.get("name", ""),
        "travellers_m": wanted.get("travellers_m"),
        "enquiry": wanted["enquiry"],
        "box": {
            **wanted["box"],
            "gangs": [practice.ways.value] * gangs,
            "circuits": 1,
            "conductors": conductors,
        },
        "practice": practice.id,
        "control_body": wanted["control_body"],
        "spacers_m": [],
        "other_circuits": [],
    }


def load_isolation() -> None:
    """One breaker that is off when the demo is opened, where none was ever."""
    site, breaker, loop_name, username = sites.ISOLATED
    loop = Loop.objects.filter(site__name=site, name=loop_name).first()
    if loop is None or Isolation.objects.filter(site=loop.site_id).exists():
        return
    who = User.objects.get(username=username)
    circuit = Circuit.objects.get(site=loop.site_id, breaker=breaker)
    row = open_new(who, loop.pk, uuid.uuid4(), Scope.BREAKERS.value, [circuit.pk])
    put_lock(who, row.pk, uuid.uuid4(), loop.pk)


def read_what_is_asked(who: User, loop: Loop) -> None:
    """Take the readings that are asked for by the stand-in, supply on, until none is."""
    for _ in range(MOST_DEMO_READINGS):
        asked = survey_answer(loop, 1, who)["judgement"]["next_live"]
        if asked is None:
            return
        ends = {name: asked[name] for name in ("a", "b", "meter_r_ohm", "switches")}
        shown = metering.read(who, loop, {"function": "volts", "place": 1, **ends})
        reading = {**ends, "v": shown["v"], "r_ohm": None, "is_open": False, "supply_on": True}
        kept = {"id": uuid.uuid4(), "place": 1, "made_at": None, "meter_value": shown["id"]}
        take_reading(who, loop.pk, {**kept, **reading})


def gang_values(wanted: Json) -> Json:
    """A gang document from the names of its parts."""
    status = "fitted" if wanted["fitted"] else "planned"

    def fit(name: str, **more: Any) -> Json:
        part = Part.objects.get(name=name)
        return {
            "part": part.pk,
            "label": f"{part.maker} {part.name}",
            "status": status,
            "figures": {**part.figures, **more},
        }

    return {
        "name": wanted["name"],
        "cable": TYPICAL_CABLE,
        "control": fit(wanted["control"]),
        "place": wanted["place"],
        "bypasses": [fit(name) for name in wanted["bypasses"]],
        "lamps": [fit(name, count=count) for name, count in wanted["lamps"]],
    }
