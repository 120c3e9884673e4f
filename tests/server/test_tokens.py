"""Tokens for programs: what they may, when they end, what is kept of them; the examples of the document, run."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.test import LiveServerTestCase
from django.urls import get_resolver
from django.utils import timezone
from rest_framework.test import APIClient

from accounts.models import Role, Token, User
from accounts.policy import JUDGE
from audit.models import Change
from bench.services.make_loop import make_loop
from loops.models import Loop
from sites.models import Site
from tests.server.base import ServerTest, draft
from tests.server.test_access import api_addresses

Json = dict[str, Any]
API_DOCUMENT = Path(__file__).resolve().parents[2] / "docs" / "api.md"
WRITES = ("post", "put", "patch", "delete")


def made_by(office: Any, scope: str, *sites: Site, days: int = 30) -> Json:
    """A token as an administrator makes it."""
    body = {"name": "Order desk", "scope": scope, "sites": [str(site.pk) for site in sites], "days": days}
    answer = office.post("/api/v1/tokens/", body, format="json")
    assert answer.status_code == 201, answer.content
    return dict(answer.json())


def program(token: str) -> APIClient:
    """Whoever shows a token, with no session."""
    api = APIClient()
    api.credentials(HTTP_AUTHORIZATION=f"Bearer {token}")
    return api


class Tokens(ServerTest):
    """What a program may."""

    def setUp(self) -> None:
        super().setUp()
        self.office = self.clients[Role.ADMINISTRATOR]

    def token(self, scope: str = "read", **more: Any) -> Json:
        """One for the mill."""
        return made_by(self.office, scope, self.site, **more)

    def test_a_reader_reads_its_sites_and_judges_and_writes_nothing(self) -> None:
        """The mill but not the cannery; a judgement that stores nothing; no write anywhere."""
        api = program(self.token()["token"])
        names = [row["name"] for row in api.get("/api/v1/sites/").json()["results"]]
        self.assertEqual(names, ["Kestrel Mill"])
        self.assertEqual(api.get(f"/api/v1/sites/{self.other_site.pk}/").status_code, 404)
        judged = api.post(f"/api/v1/gangs/{self.gang.pk}/judge/", draft(), format="json")
        self.assertEqual(judged.status_code, 200, judged.content)
        before = Change.objects.count()
        body = {"site": str(self.site.pk), "circuit": None, "name": "Sail loft", "note": ""}
        refused = api.post("/api/v1/loops/", body, format="json")
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "not_for_programs"))
        self.assertEqual(Change.objects.count(), before)

    def test_no_token_writes_but_where_programs_may(self) -> None:
        """Every address with every method, walked: computing is open to both scopes, a few records to the wider."""
        views = {}
        for entry, address in zip(get_resolver().url_patterns[0].url_patterns, api_addresses(), strict=True):
            views[address] = entry.callback.view_class
        open_to_all = {"/api/v1/health/", "/api/v1/session/", "/api/v1/schema/"}
        for scope in ("read", "write"):
            api, walked = program(self.token(scope)["token"]), 0
            for address, view in views.items():
                may = getattr(view, "action_name", "") == JUDGE
                may = may or (scope == "write" and getattr(view, "takes_programs", False))
                if address in open_to_all or may:
                    continue
                for method in WRITES:
                    if hasattr(view, method):
                        self.assertIn(getattr(api, method)(address).status_code, (403, 404), f"{method} {address}")
                        walked += 1
            self.assertGreater(walked, 60)

    def test_a_writer_makes_loops_and_signs_nothing(self) -> None:
        """What it enters is signed by the token's name; isolating and proving are for somebody in person."""
        api = program(self.token("write")["token"])
        body = {"site": str(self.site.pk), "circuit": None, "name": "Sail loft", "note": ""}
        self.assertEqual(api.post("/api/v1/loops/", body, format="json").status_code, 201)
        made = Loop.objects.get(name="Sail loft")
        self.assertEqual([str(one.who) for one in Change.objects.filter(subject_id=made.pk)], ["Order desk"])
        elsewhere = {**body, "site": str(self.other_site.pk)}
        self.assertIn(api.post("/api/v1/loops/", elsewhere, format="json").status_code, (400, 404, 422))
        for path in ("isolations/", "proof-events/", "steps/", "issues/", "prove/marks/", "fit/marks/"):
            refused = api.post(f"/api/v1/loops/{self.loop.pk}/{path}", {}, format="json")
            self.assertEqual((refused.status_code, refused.json()["code"]), (403, "not_for_programs"), path)

    def test_it_ends_by_itself_and_by_hand(self) -> None:
        """A second after its end, or after an administrator ended it, it opens nothing."""
        made = self.token(days=1)
        api = program(made["token"])
        row = Token.objects.get(pk=made["id"])
        self.assertAlmostEqual((row.ends_at - timezone.now()).total_seconds(), 86400, delta=60)
        self.assertEqual(api.get("/api/v1/loops/").status_code, 200)
        Token.objects.update(ends_at=timezone.now() - timedelta(seconds=1))
        answer = api.get("/api/v1/loops/")
        self.assertEqual((answer.status_code, answer.json()["code"]), (401, "token_ended"))
        Token.objects.update(ends_at=timezone.now() + timedelta(seconds=60))
        self.assertEqual(api.get("/api/v1/loops/").status_code, 200)
        self.assertEqual(self.office.post(f"/api/v1/tokens/{made['id']}/end/").status_code, 200)
        self.assertEqual(api.get("/api/v1/loops/").json()["code"], "token_ended")
        self.assertEqual(program("ember_guess").get("/api/v1/loops/").json()["code"], "token_unknown")

    def test_nothing_kept_opens_anything(self) -> None:
        """Only the digest is there; list and trail tell the beginning; the account takes no password."""
        made = self.token()
        row = Token.objects.get(pk=made["id"])
        self.assertNotIn(made["token"], row.digest + row.start)
        self.assertNotIn(made["token"], self.office.get("/api/v1/tokens/").content.decode())
        self.assertNotIn(made["token"], str(list(Change.objects.values_list("after", flat=True))))
        self.assertFalse(row.account.has_usable_password())
        self.assertEqual(program(row.digest).get("/api/v1/loops/").status_code, 401)
        given = self.office.post(f"/api/v1/accounts/{row.account_id}/password/", {"password": "a long enough one"})
        self.assertEqual(given.status_code, 404)
        raised = self.office.patch(
            f"/api/v1/accounts/{row.account_id}/", {"version": 1, "role": "administrator"}, format="json"
        )
        self.assertEqual(raised.status_code, 404)
        self.assertNotIn("Order desk", self.office.get("/api/v1/accounts/").content.decode())

    def test_whoever_keeps_the_site_takes_it_off(self) -> None:
        """A token is among those who work there, marked as a program; left out, it sees the site no more."""
        api = program(self.token()["token"])
        members = self.office.get(f"/api/v1/sites/{self.site.pk}/members/").json()
        found = {one["display_name"]: one for one in members if one["works_here"]}
        self.assertTrue(found["Order desk"]["is_program"])
        self.assertFalse(found["The technician"]["is_program"])
        stay = [one["id"] for name, one in found.items() if name != "Order desk"]
        body = {"members": stay, "before": [one["id"] for one in found.values()]}
        self.office.put(f"/api/v1/sites/{self.site.pk}/members/", body, format="json")
        self.assertEqual(api.get("/api/v1/loops/").json()["count"], 0)

    def test_only_administrators_make_them_and_for_sites_that_are_there(self) -> None:
        """Nobody else lists, makes or ends one; no site, a wrong site, no end, too late an end: refused."""
        made = self.token()
        for role in (Role.TECHNICIAN, Role.CHECKER):
            self.assertEqual(self.clients[role].get("/api/v1/tokens/").status_code, 403)
            self.assertEqual(self.clients[role].post(f"/api/v1/tokens/{made['id']}/end/").status_code, 403)
        body = {"name": "Desk", "scope": "read", "sites": [str(self.site.pk)], "days": 30}
        for wrong in (
            {"sites": []},
            {"sites": ["00000000-0000-4000-8000-000000000000"]},
            {"days": 0},
            {"days": 731},
            {"scope": "all"},
            {"name": " "},
        ):
            answer = self.office.post("/api/v1/tokens/", {**body, **wrong}, format="json")
            self.assertIn(answer.status_code, (400, 422), wrong)
        self.assertEqual(Token.objects.count(), 1)


class Examples(LiveServerTestCase):
    """What docs/api.md shows."""

    def run_example(self, number: int, token: str) -> str:
        """One block of the document, as anybody runs it."""
        blocks = re.findall(r"```python\n(.*?)```", API_DOCUMENT.read_text(encoding="utf-8"), re.DOTALL)
        self.assertEqual(len(blocks), 3)
        done = subprocess.run(
            [sys.executable, "-c", blocks[number]],
            env={"PATH": os.environ["PATH"], "EMBER_URL": self.live_server_url, "EMBER_TOKEN": token},
            capture_output=True,
            text=True,
            timeout=120,
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout

    def test_each_example_does_what_it_says(self) -> None:
        """The list, the loop with its verdict and the refused second write, the bundle with whole files."""
        site = Site.objects.create(name="Kestrel Mill", region="eu", v_rms=230.0, f_hz=50.0)
        make_loop(None, site=site, circuit=None, name="Kiln room")
        office = APIClient()
        office.force_login(User.objects.create(username="fenna", display_name="Fenna", role=Role.ADMINISTRATOR))
        reader, writer = (made_by(office, scope, site)["token"] for scope in ("read", "write"))
        self.assertEqual(self.run_example(0, reader), "Kestrel Mill;Kiln room;asked;unknown;lamps\n")
        said = self.run_example(1, writer).splitlines()
        self.assertRegex(said[0], r"^Glaze store is judged: (works|probably|not_sure|does_not)$")
        self.assertEqual(said[1], "409 stale_version")
        self.assertEqual(self.run_example(2, reader).split(",")[0], "Kestrel Mill 2 loops")
