"""Lists as tables: every row of one's own sites, of one of them, and no cell a formula."""

from __future__ import annotations

import csv
import io
import uuid
from typing import Any

from django.test import tag

from accounts.models import Role, User
from handover.api.lists import LISTS
from proving.models import Case
from sites.models import Circuit
from survey.models import Isolation
from tests.server.test_handover import HandoverTest
from visits.models import Plan, PlanJob, PlanVisit

Row = dict[str, str]


@tag("whole")
class Lists(HandoverTest):
    """A loop that was handed over, complained about and planned again."""

    def prepare(self) -> None:
        """One record of each kind beside those of the hand-over."""
        who = self.people[Role.TECHNICIAN]
        self.assertEqual(self.issue(note="first").status_code, 201)
        self.assertEqual(self.sign("technician").status_code, 201)
        self.ask_back()
        told = [{"code": "glow_off"}]
        Case.objects.create(id=uuid.uuid4(), number=1, loop=self.loop, gang=self.gang, told=told, note="=1+1", by=who)
        plan = Plan.objects.create(site=self.site, name="Friday", first_day="2026-12-04", by=who)
        PlanVisit.objects.create(plan=plan, number=0, person=who)
        PlanJob.objects.create(plan=plan, loop=self.loop, visit=0, minutes=40)
        Circuit.objects.create(site=self.other_site, breaker="3", label_as_found="dock")

    def rows(self, name: str, api: Any = None, **query: str) -> list[Row]:
        """A list as a spreadsheet reads it."""
        answer = (api or self.api).get(f"/api/v1/lists/{name}.csv", query)
        self.assertEqual(answer.status_code, 200)
        return list(csv.DictReader(io.StringIO(b"".join(answer.streaming_content).decode())))

    def test_each_tells_what_is_on_record(self) -> None:
        """The circuit with its loop, every isolation, the case, the issue with who signed, the planned job."""
        circuits = {row["breaker"]: row for row in self.rows("circuits")}
        self.assertEqual((circuits["7"]["loops"], circuits["7"]["site"]), ("Kiln room", "Kestrel Mill"))
        isolations = self.rows("isolations")
        self.assertEqual(len(isolations), Isolation.objects.count())
        self.assertTrue(all(row["begun_at_loop"] == "Kiln room" for row in isolations))
        (case,) = self.rows("cases")
        self.assertEqual((case["told"], case["is_open"], case["gang"]), ("glow_off", "true", "1"))
        (issue,) = self.rows("issues")
        self.assertEqual((issue["issue"], issue["note"], issue["signed_as"]), ("1", "first", "technician"))
        self.assertEqual(issue["asked_back"], "show the earth of the plate")
        (job,) = self.rows("visits")
        self.assertEqual((job["person"], job["visit"], job["minutes_by_hand"]), ("The technician", "1", "40"))
        self.assertEqual(job["first_day"], "2026-12-04")

    def test_no_cell_is_a_formula(self) -> None:
        """A note that begins like one is text."""
        self.assertEqual(self.rows("cases")[0]["note"], "'=1+1")

    def test_of_one_site_and_of_ones_own(self) -> None:
        """The cannery has one circuit and nothing else; a stranger gets heads alone; what is no list is none."""
        here = {name: len(self.rows(name, site=str(self.other_site.pk))) for name in LISTS}
        self.assertEqual(here, {"circuits": 1, "isolations": 0, "cases": 0, "issues": 0, "visits": 0})
        stranger = self.api.__class__()
        stranger.force_login(User.objects.create(username="stranger", role=Role.TECHNICIAN))
        self.assertEqual({len(self.rows(name, stranger)) for name in LISTS}, {0})
        self.assertEqual(self.api.get("/api/v1/lists/secrets.csv").status_code, 404)
        self.assertEqual(self.api.get("/api/v1/lists/cases.csv", {"site": "mill"}).status_code, 400)
