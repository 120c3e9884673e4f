"""What the record says to whoever runs the firm: each number is the count of the loops behind it, and of no others."""

from __future__ import annotations

import uuid
from typing import Any

from django.test import tag

from accounts.models import Role, User
from loops.models import Loop
from proving.models import Case, CaseEvent
from tests.server.test_handover import HandoverTest
from work.models import RouteChoice, TaskRecord

Json = dict[str, Any]


@tag("long")
class Statistics(HandoverTest):
    """A loop that was proved, with a case that was closed, opened again and closed."""

    def prepare(self) -> None:
        """Proved, timed, complained about."""
        who = self.people[Role.TECHNICIAN]
        choice = RouteChoice.objects.get(loop=self.loop)
        TaskRecord.objects.filter(choice=choice).delete()
        TaskRecord.objects.create(loop=self.loop, choice=choice, task="fit", minutes=90.0, count=3)
        case = Case.objects.create(id=uuid.uuid4(), number=1, loop=self.loop, gang=self.gang, told=[], by=who)
        for is_closing, remedy in ((True, "fit_bypass"), (False, ""), (True, "other_bypass")):
            cause = "leakage_feeds_lamps" if is_closing else ""
            CaseEvent.objects.create(
                id=uuid.uuid4(), case=case, is_closing=is_closing, cause=cause, remedy=remedy, by=who
            )

    def found(self, api: Any = None, **query: str) -> Json:
        """The answer."""
        answer = (api or self.api).get("/api/v1/statistics/", query)
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())

    def test_stages_are_those_of_the_round(self) -> None:
        """The same counts as its filter; every loop stands somewhere once."""
        found = self.found()
        for row in found["stages"]:
            listed = self.api.get("/api/v1/loops/", {"stage": row["stage"]}).json()
            self.assertEqual(row["count"], listed["count"], row["stage"])
            self.assertEqual({one["id"] for one in row["loops"]}, {one["id"] for one in listed["results"]})
        self.assertEqual(sum(row["count"] for row in found["stages"]), Loop.objects.count())

    def test_minutes_stand_against_the_plan(self) -> None:
        """Three times in ninety minutes are thirty each, outside of the plan; the firm's own range counts."""
        (row,) = self.found()["minutes"]
        self.assertEqual((row["times"], row["median_min"], row["is_outside"]), (3, 30.0, True))
        self.assertEqual((row["low_min"], row["high_min"]), (8.0, 25.0))
        office = self.clients[Role.ADMINISTRATOR]
        given = {"task": "fit", "version": 0, "low": 20.0, "typical": 30.0, "high": 40.0}
        self.assertEqual(office.put("/api/v1/task-minutes/", given, format="json").status_code, 200)
        (row,) = self.found()["minutes"]
        self.assertEqual((row["is_outside"], row["typical_min"]), (False, 30.0))

    def test_a_remedy_that_did_not_hold(self) -> None:
        """Closed, opened again, closed: the first did not hold, the second did so far."""
        (cause,) = self.found()["causes"]
        self.assertEqual(cause["count"], 2)
        self.assertEqual(
            {cure["remedy"]: (cure["held"], cure["count"]) for cure in cause["remedies"]},
            {"fit_bypass": (0, 1), "other_bypass": (1, 1)},
        )
        self.assertEqual([one["name"] for one in cause["loops"]], ["Kiln room"])

    def test_parts_where_somebody_complained(self) -> None:
        """Lamp and control of the gang of the case, with its loop behind the number."""
        parts = {row["kind"]: row for row in self.found()["parts"]}
        self.assertEqual(set(parts), {"lamp", "control"})
        for row in parts.values():
            self.assertEqual((row["trouble"], row["gangs"]), (1, 1))
            self.assertEqual([one["name"] for one in row["loops"]], ["Kiln room"])

    def test_of_one_site_and_of_those_where_one_works(self) -> None:
        """The cannery has nothing; a stranger to the mill sees none of its numbers; a wrong site is told."""
        empty = self.found(site=str(self.other_site.pk))
        self.assertEqual([empty[name] for name in ("minutes", "causes", "parts")], [[], [], []])
        self.assertEqual(sum(row["count"] for row in empty["stages"]), 0)
        self.assertEqual(len(self.found(site=str(self.site.pk))["causes"]), 1)
        User.objects.get(pk=self.people[Role.CHECKER].pk).sites.clear()
        stranger = self.found(self.checker)
        self.assertEqual((stranger["causes"], sum(row["count"] for row in stranger["stages"])), ([], 0))
        self.assertEqual(self.found(self.checker, site=str(self.site.pk))["parts"], [])
        self.assertEqual(self.api.get("/api/v1/statistics/", {"site": "mill"}).status_code, 400)
