"""`manage.py load_demo`: loads what is missing of the demo, changes nothing that is there."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction

from accounts.api import DEMO_ACCOUNTS, DEMO_PASSWORD
from accounts.models import User
from demo import shelf, sites
from loops.models import Loop
from loops.services.keep_gang import keep_gang
from loops.services.make_loop import TYPICAL_CABLE, add_gang, make_loop
from parts.models import Category, Part
from sites.models import Circuit, Site

Json = dict[str, Any]


class Command(BaseCommand):
    """Idempotent."""

    help = "Load the demo sites, parts and accounts where they are missing."

    def handle(self, *args: Any, **options: Any) -> None:
        """Accounts, shelf, sites."""
        with transaction.atomic():
            technician = load_accounts()
            load_shelf()
            made = load_site(technician, sites.MILL, sites.MILL_CIRCUITS, sites.MILL_LOOPS)
            made += load_site(technician, sites.CANNERY, sites.CANNERY_CIRCUITS, sites.CANNERY_LOOPS)
        self.stdout.write(f"demo data: {made} loops loaded" if made else "demo data: already there")


def load_accounts() -> User:
    """The ready accounts; returns the technician."""
    for name, display_name, role in DEMO_ACCOUNTS:
        user, is_new = User.objects.get_or_create(username=name, defaults={"display_name": display_name, "role": role})
        if is_new:
            user.set_password(DEMO_PASSWORD)
            user.save()
    return User.objects.get(username=DEMO_ACCOUNTS[0][0])


def load_shelf() -> None:
    """The parts."""
    for category, entries in (
        (Category.LAMP, shelf.LAMPS),
        (Category.CONTROL, shelf.CONTROLS),
        (Category.BYPASS, shelf.BYPASSES),
    ):
        for maker, name, v_rms, note, figures in entries:
            kind = figures.get("kind") or (figures.get("standby") or {}).get("kind", "switch")
            Part.objects.get_or_create(
                maker=maker,
                name=name,
                defaults={"category": category, "kind": kind, "v_rms": v_rms, "note": note, "figures": figures},
            )


def load_site(who: User, site_data: Json, circuits: Any, loops: Any) -> int:
    """One site with its loops, each kept the way a technician would; returns how many were made."""
    site, _ = Site.objects.get_or_create(name=site_data["name"], defaults=site_data)
    by_breaker = {}
    for breaker, label, feeds in circuits:
        by_breaker[breaker], _ = Circuit.objects.get_or_create(
            site=site, breaker=breaker, defaults={"label_as_found": label, "feeds": feeds}
        )
    made = 0
    for name, breaker, note, gangs in loops:
        if Loop.objects.filter(site=site, name=name).exists():
            continue
        loop = make_loop(who, site=site, circuit=by_breaker[breaker], name=name, note=note)
        for position, wanted in enumerate(gangs):
            gang = loop.gangs.get(position=1) if position == 0 else add_gang(who, loop.pk)
            keep_gang(who, gang.pk, gang.version, gang_values(wanted))
        made += 1
    return made


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
        "bypasses": [fit(name) for name in wanted["bypasses"]],
        "lamps": [fit(name, count=count) for name, count in wanted["lamps"]],
    }
