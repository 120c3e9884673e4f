"""What server tests share: people, a site, a loop, and a signed-in client for each role."""

from __future__ import annotations

import io
from typing import Any
from unittest.mock import patch

from django.core.cache import cache
from django.core.management import call_command
from django.test import TestCase, override_settings
from django.utils import translation
from rest_framework.test import APIClient

from accounts.models import Role, User
from bench.services.make_loop import make_loop
from jobs.services import worker
from loops.models import Gang, Loop
from sites.models import Circuit, Site
from tests.demo_copy import load_once
from tests.unhurried import unhurried

Json = dict[str, Any]
LAMP: Json = {
    "kind": "rectifier",
    "count": 1,
    "c_x_f": 2.2e-8,
    "r_in_ohm": 22.0,
    "c_bulk_f": 4.7e-6,
    "r_start_ohm": 1e6,
    "v_start_v": {"low": 95.0, "typical": 110.0, "high": 120.0, "source": "measured", "note": "bench"},
    "v_stop_v": 45.0,
    "p_run_w": 6.0,
}
CONTROL: Json = {
    "c_snubber_f": 4.7e-9,
    "standby": {
        "kind": "switching",
        "p_w": {"typical": 0.2, "source": "declared", "note": "leaflet"},
        "c_reservoir_f": 4.7e-6,
        "v_min_v": 40.0,
        "r_reservoir_ohm": 1e6,
    },
}
BYPASS: Json = {"kind": "capacitor", "c_f": 1e-7, "r_parallel_ohm": 1e6}


def stated(value: float) -> Json:
    """A figure by its maker; a bare number is assumed."""
    return {"typical": value, "source": "declared"}


def fit(figures: Json) -> Json:
    """A part on a gang."""
    return {"part": None, "label": "own", "status": "planned", "figures": figures}


def draft(**changes: Any) -> Json:
    """A complete gang, dark and fed, with changes."""
    return {
        "name": "",
        "cable": {"c_line_to_switched_f": 8e-10, "c_switched_to_neutral_f": 4e-10},
        "control": fit(CONTROL),
        "bypasses": [fit(BYPASS)],
        "lamps": [fit(LAMP)],
        **changes,
    }


class SignedIn(TestCase):
    """`self.clients[role]` is signed in as somebody of `people`."""

    people: dict[str, User]

    def setUp(self) -> None:
        cache.clear()
        self.enterContext(unhurried())
        # A request leaves the language of whoever asked behind.
        self.enterContext(translation.override(translation.get_language()))
        self.clients = {}
        for role, person in self.people.items():
            self.clients[role] = APIClient(enforce_csrf_checks=False)
            self.clients[role].force_login(person)
        self.api: APIClient = self.clients[Role.TECHNICIAN]


def do_jobs() -> None:
    """What waits in the queue, here and now; the connection, with a test's transaction on it, stays open."""
    with patch("django_tasks_db.management.commands.db_worker.close_old_connections"):
        worker.do_all()


def load_whole_demo(said: io.StringIO | None = None) -> None:
    """Everything that ships as an example, as the demo copy does it."""
    with override_settings(DEMO=True):
        call_command("load_demo", stdout=said or io.StringIO())


@override_settings(DEMO=True)
class DemoTest(SignedIn):
    """What the demo copy shows to those whose accounts it brings."""

    @classmethod
    def setUpTestData(cls) -> None:
        load_once("whole", load_whole_demo)
        names = {Role.TECHNICIAN: "wren", Role.CHECKER: "odell", Role.ADMINISTRATOR: "fenna"}
        cls.people = {role: User.objects.get(username=name) for role, name in names.items()}


class ServerTest(SignedIn):
    """A mill with one loop."""

    @classmethod
    def setUpTestData(cls) -> None:
        cls.people = {
            role: User.objects.create(
                username=f"{role}-person", display_name=f"The {role}", role=role, keeps_sites=True, keeps_shelf=True
            )
            for role in Role.values
        }
        cls.site = Site.objects.create(name="Kestrel Mill", region="eu", v_rms=230.0, f_hz=50.0)
        cls.other_site = Site.objects.create(name="Larkspur Cannery", region="na", v_rms=120.0, f_hz=60.0)
        for site in (cls.site, cls.other_site):
            site.members.set(cls.people.values())
        cls.circuit = Circuit.objects.create(site=cls.site, breaker="7", label_as_found="kiln")
        cls.loop: Loop = make_loop(None, site=cls.site, circuit=cls.circuit, name="Kiln room")
        cls.gang: Gang = cls.loop.gangs.get()

    def keep(self, version: int = 1, **changes: Any) -> Any:
        """Keep a draft on the gang."""
        return self.api.put(f"/api/v1/gangs/{self.gang.pk}/", {"version": version, **draft(**changes)}, format="json")
