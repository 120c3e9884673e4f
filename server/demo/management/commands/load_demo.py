"""`manage.py load_demo`: loads what is missing of the demo, changes nothing that is there."""

from __future__ import annotations

import uuid
from dataclasses import replace
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction
from django.utils import timezone

from accounts.api import DEMO_ACCOUNTS, DEMO_PASSWORD
from accounts.models import User
from bench.services.keep_gang import keep_gang
from bench.services.make_loop import TYPICAL_CABLE, add_gang, make_loop
from demo import radio, shelf, sites
from demo.cases import CASES
from demo.handovers import CONTACT, FOUND, HANDOVERS, scribble
from ember_core.routes.comparing import compare, rate
from ember_core.routes.ways import Way
from ember_core.survey.box import Conductor, Role, Terminal
from ember_core.survey.document import write_conductor
from ember_core.survey.isolation import Scope
from ember_core.survey.practices import BY_ID, conductors_of
from handover.models import Issue, Rules, Signer
from handover.services import signing
from handover.services.issuing import make_issue
from loops.models import Gang, Loop
from parts.models import Part
from parts.services.entries import make_part
from proving.models import Case
from proving.services import cases
from proving.services.listing import prove_standing
from proving.services.marking import mark_item
from proving.services.power import is_isolated
from setup.models import House, Programs
from setup.services.houses import keep_house
from setup.services.programming import keep_programs
from sites.models import Circuit, Site
from survey.models import Isolation
from survey.services import metering
from survey.services.answers import survey_answer
from survey.services.isolating import open_new, put_lock
from survey.services.recording import save_survey, take_reading
from visits.models import Plan
from visits.services import planning
from visits.services.planning import working_day
from work.models import CeilingPoint, CheckedDrawing, RouteChoice
from work.services.choosing import WORDS, choose_way, judged_choice, keep_drawing, see_ceiling
from work.services.finding import load
from work.services.mapping import wiring_document

Json = dict[str, Any]
MOST_DEMO_READINGS = 12
# What whoever surveyed a box of a practice marked its conductors with.
MARKS = {
    "feed_at_ceiling": (Role.PERMANENT_LIVE, Role.SWITCHED_LIVE, Role.EARTH),
    "fixture_fed_light_live": (Role.PERMANENT_LIVE, Role.SWITCHED_LIVE, Role.EARTH),
    "feed_at_switch": (
        Role.PERMANENT_LIVE,
        Role.NEUTRAL,
        Role.EARTH,
        Role.SWITCHED_LIVE,
        Role.NEUTRAL,
        Role.EARTH,
    ),
    "singles_in_conduit": (Role.PERMANENT_LIVE, Role.SWITCHED_LIVE),
    "two_way_feed_end": (
        Role.PERMANENT_LIVE,
        Role.TRAVELLER,
        Role.TRAVELLER,
        Role.NEUTRAL,
        Role.NEUTRAL,
        Role.EARTH,
        Role.EARTH,
    ),
    "two_way_far_end": (Role.SWITCHED_LIVE, Role.TRAVELLER, Role.TRAVELLER, Role.EARTH),
}


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
            load_ceilings(technician)
            load_work(technician)
            load_plans(technician)
            load_radio(technician)
            load_handovers(technician)
            load_cases(technician)
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
    elif not site.zone:
        # Of a copy that is older than time zones of sites.
        site.zone = site_data["zone"]
        site.save(update_fields=("zone",))
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


def load_ceilings(who: User) -> None:
    """What was seen at ceiling points, where nobody has said anything yet."""
    for name, points in sites.CEILINGS.items():
        loop = Loop.objects.filter(name=name).first()
        if loop is None:
            continue
        for gang, seen in zip(loop.gangs.order_by("position"), points, strict=False):
            if not CeilingPoint.objects.filter(gang=gang).exists():
                see_ceiling(who, gang.pk, 0, {**dict.fromkeys(WORDS, "unknown"), **seen})


def load_work(who: User) -> None:
    """A way that was chosen, and a leaflet whose drawing is wrong with its correction, where there is none."""
    for name, way, why in sites.CHOSEN:
        loop = Loop.objects.select_related("site", "circuit").filter(name=name).first()
        if loop is None or RouteChoice.objects.filter(loop=loop).exists():
            continue
        loaded = load(loop)
        wanted = compare(loaded.ask).favoured if way is None else Way(way)
        if wanted is not None:
            choose_way(who, loop.pk, uuid.uuid4(), 0, why, judged_choice(loaded, wanted, None))
    loop = Loop.objects.select_related("site", "circuit").filter(name=sites.LEAFLET[0]).first()
    if loop is None or CheckedDrawing.objects.filter(loop=loop).exists():
        return
    route = rate(load(loop).ask, Way.TWO_WIRE).route
    if route is None or route.wanted is None:
        return
    right = wiring_document(route.wanted, "as it must be")
    turned = {"ctl.L": "ctl.L1", "ctl.L1": "ctl.L"}
    wrong = {**right, "joints": [[turned.get(point, point) for point in joint] for joint in right["joints"]]}
    first = uuid.uuid4()
    for key, name, document, corrects in (
        (first, sites.LEAFLET[1], wrong, None),
        (uuid.uuid4(), sites.LEAFLET[2], right, first),
    ):
        source = sites.LEAFLET[3]
        keep_drawing(
            who, loop.pk, {"id": key, "name": name, "source": source, "document": document, "corrects": corrects}
        )


def load_plans(who: User) -> None:
    """A planned day at each site, where none is; on the next working day, computed like any other."""
    for wanted in sites.PLANS:
        site = Site.objects.filter(name=wanted["site"]).first()
        loops = Loop.objects.filter(site=site, name__in=wanted["loops"]) if site else None
        if site is None or not loops or Plan.objects.filter(site=site).exists():
            continue
        circuits = {circuit.breaker: circuit.pk for circuit in Circuit.objects.filter(site=site)}
        people = list(User.objects.filter(username__in=wanted["people"], sites=site))
        if not people:
            continue
        given = {
            "name": wanted["name"],
            "first_day": working_day(timezone.localdate(), 1),
            "begins_min": 480,
            "visit_minutes": 480,
            "isolate_minutes": 8,
            "walk_minutes": 2,
            "people": [{"id": person.pk, "skills": []} for person in people],
            "windows": [
                {"circuit": circuits[breaker], "begins_min": begins, "ends_min": ends}
                for breaker, (begins, ends) in wanted["windows"].items()
            ],
            "jobs": [{"loop": loop.pk, "minutes": None, "skill": "", "needs": [], "ready_on": None} for loop in loops],
        }
        row = planning.save(who, site, None, 0, given, uuid.uuid4())
        planning.take(who, row.pk, planning.computed(planning.load(row))["token"])


def load_radio(who: User) -> None:
    """The radio of the sites, and programs, where there are none."""
    for name, wanted in radio.HOUSES.items():
        site = Site.objects.filter(name=name).first()
        if site is None or House.objects.filter(site=site).exists():
            continue
        gangs = {gang.loop.name: str(gang.pk) for gang in Gang.objects.filter(loop__site=site, position=1)}
        keep_house(who, site.pk, 0, radio.document(wanted, gangs))
    for (name, loop), document in radio.PROGRAMS.items():
        gang = Gang.objects.filter(loop__site__name=name, loop__name=loop, position=1).first()
        if gang is not None and not Programs.objects.filter(gang=gang).exists():
            keep_programs(who, gang.pk, 0, document, timezone.now().date())


def load_handovers(who: User) -> None:
    """Loops that were proved and handed over, where there is no issue yet: before the complaints about them."""
    if Issue.objects.exists():
        return
    checker = User.objects.get(username="odell")
    Rules.objects.get_or_create(defaults={"contact": CONTACT})
    for k, wanted in enumerate(HANDOVERS):
        loop = Loop.objects.filter(name=wanted["loop"]).first()
        # In a copy that is older than these stories somebody may be at work there.
        if loop is None or is_isolated(loop) or Case.objects.filter(loop=loop).exists():
            continue
        for item in prove_standing(loop).items:
            found: Json = FOUND.get(item.act.value, {"result": "excused", "reason": wanted["excused"]})
            rest: Json = {"reason": "", "watched_s": None, "taps_s": [], "basis": "", "made_at": None}
            mark_item(who, loop.pk, {"id": uuid.uuid4(), "item": item.key, **rest, **found})
        issue = make_issue(who, loop.pk, {"id": uuid.uuid4(), "note": wanted["note"]})
        for n, role in enumerate(wanted["signed"]):
            given = {"role": role, "way": "drawn", "strokes": scribble(3 * k + n), "chain": issue.chain, "reason": ""}
            name = wanted.get("client", "") if role == Signer.CLIENT else ""
            person = checker if role == Signer.CHECKER else who
            signing.sign(person, issue.pk, {"id": uuid.uuid4(), "name": name, **given})
        if "asked_back" in wanted:
            signing.ask_back(checker, issue.pk, {"id": uuid.uuid4(), "note": wanted["asked_back"]})


def load_cases(who: User) -> None:
    """Complaints where there are none: opened, asked about, two of them closed, the way a technician would."""
    if Case.objects.exists():
        return
    for wanted in CASES:
        loop = Loop.objects.filter(name=wanted["loop"]).first()
        # In a copy that is older than these stories somebody may be at work there.
        if loop is None or is_isolated(loop):
            continue
        told = {"told": wanted["told"], "heard": wanted.get("heard", "told"), "since": wanted["since"]}
        entry = {"id": uuid.uuid4(), "gang": loop.gangs.get(position=1).pk, "note": wanted["note"], "made_at": None}
        case = cases.open_case(who, loop.pk, {**entry, **told})
        for data in wanted["evidence"]:
            found = {"id": uuid.uuid4(), "value": None, "meter_r_ohm": None, "note": "", "made_at": None, **data}
            cases.keep_evidence(who, case.pk, found)
        if "closing" in wanted:
            cases.close_case(who, case.pk, wanted["closing"], {})


def survey_document(loop: Loop, wanted: Json) -> Json:
    """A box as somebody who has looked at it writes it down: the conductors of its practice, gang by gang."""
    practice = BY_ID[wanted["practice"]]
    gangs = loop.gangs.count()
    conductors: list[Json] = []
    for gang in range(1, gangs + 1):
        drawn = conductors_of(practice, loop.site.region, gang, first=len(conductors) + 1)
        marks = MARKS[practice.id] if wanted.get("is_marked") else ()
        labelled = [replace(conductor, label=mark) for conductor, mark in zip(drawn, marks, strict=False)] or drawn
        conductors += [write_conductor(conductor) for conductor in labelled]
    if "spare" in wanted:
        free = Conductor(
            id=f"c{len(conductors) + 1}",
            cable="A",
            colour=wanted["spare"],
            terminal=Terminal.LOOSE,
            label=Role.UNUSED,
        )
        conductors.append(write_conductor(free))
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
