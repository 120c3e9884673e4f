"""What is kept beside the loop: measured values, whose entry it is, and the record on paper."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime
from typing import Any
from unittest.mock import patch

from django.test import override_settings, tag

from accounts.models import Role
from loops.models import Gang, Loop, MeasuredValue
from survey.models import Lock, TakenReading
from survey.services import paper
from tests.server.base import LAMP, ServerTest, fit
from tests.server.test_survey import PAIRS, SurveyTest

MEMORY = {"default": {"BACKEND": "django.core.files.storage.InMemoryStorage"}}


class Measured(SurveyTest):
    """Values read off a gang are records of the loop."""

    def setUp(self) -> None:
        super().setUp()
        self.keep()
        self.address = f"/api/v1/gangs/{self.gang.pk}/measured/"

    def measure(self, api: Any = None, **changes: Any) -> Any:
        """Keep a value."""
        body = {
            "id": str(uuid.uuid4()),
            "occasion": "off_state",
            "reading": {"kind": "lamp_v", "value": 37.0, "meter_r_ohm": 1e7},
            "meter": "bench meter 2",
            **changes,
        }
        return (api or self.api).post(self.address, body, format="json")

    def test_a_value_is_kept_with_meter_person_and_time_and_struck_not_erased(self) -> None:
        """Everybody reads it; struck out it stays with its reason; a second striking is refused."""
        kept = self.measure().json()
        self.assertEqual((kept["meter"], kept["by"]), ("bench meter 2", "The technician"))
        (row,) = self.clients[Role.CHECKER].get(self.address).json()
        self.assertEqual(row["reading"]["value"], 37.0)
        at = f"/api/v1/measured/{kept['id']}/strike/"
        self.assertEqual(
            self.api.post(at, {"reason": "wrong lamp"}, format="json").json()["struck_reason"], "wrong lamp"
        )
        self.assertEqual(self.api.post(at, {"reason": "wrong lamp"}, format="json").status_code, 200)
        self.assertEqual(self.code(self.api.post(at, {"reason": "other"}, format="json")), (409, "already_struck"))
        self.assertEqual(MeasuredValue.objects.count(), 1)

    def test_it_is_kept_once_and_only_if_it_can_be(self) -> None:
        """The same twice is one; another content under its identity, a group that is not there: refused."""
        name = str(uuid.uuid4())
        for _ in range(2):
            self.assertEqual(self.measure(id=name).status_code, 201)
        self.assertEqual(self.code(self.measure(id=name, occasion="after_fitting")), (409, "entry_differs"))
        odd = {"kind": "seen", "seen": "glow", "group": 7}
        self.assertEqual(self.measure(reading=odd).status_code, 422)
        self.assertEqual(self.measure(self.clients[Role.CHECKER]).status_code, 403)
        self.assertEqual(MeasuredValue.objects.count(), 1)


class WhoseEntry(SurveyTest):
    """Nothing is signed by somebody who did not enter it."""

    def test_a_request_that_names_another_person_is_refused(self) -> None:
        """Somebody signed in meanwhile in the same browser: neither written nor answered as theirs."""
        self.save()
        body = {"id": str(uuid.uuid4()), "a": "c1", "b": "known_earth", "v": 230.0, "switches": {"1": "off"}}
        other = {"HTTP_X_EMBER_PERSON": str(self.people[Role.CHECKER].pk)}
        answer = self.api.post(self.at("readings/"), body, format="json", **other)
        self.assertEqual((answer.status_code, answer.json()["code"]), (401, "another_person"))
        self.assertEqual(self.api.get(self.at("survey/"), **other).status_code, 401)
        self.assertEqual(TakenReading.objects.count(), 0)
        own = {"HTTP_X_EMBER_PERSON": str(self.people[Role.TECHNICIAN].pk)}
        self.assertEqual(self.api.post(self.at("readings/"), body, format="json", **own).status_code, 201)

    def test_two_presses_make_one_gang(self) -> None:
        """By the identity that the press gave it."""
        body = {"id": str(uuid.uuid4())}
        for _ in range(2):
            self.assertEqual(
                self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", body, format="json").status_code, 201
            )
        self.assertEqual(Gang.objects.filter(loop=self.loop).count(), 2)

    def test_the_same_documents_sent_twice_are_one_save(self) -> None:
        """After an answer that was lost; others under an old version are still refused."""
        for _ in range(2):
            self.assertEqual(self.save().json()["version"], 1)
        self.assertEqual(self.code(self.save(practice="feed_at_ceiling")), (409, "stale_version"))

    def test_no_sentence_of_the_framework_reaches_people(self) -> None:
        """Null characters, missing fields, wrong types: told in our words, without field names."""
        for changes in ({"name": "a\x00b"}, {"name": ""}, {"site": "x"}, {"note": "n" * 600}, {"name": None}):
            body = {"site": str(self.site.pk), "name": "Loft", **changes}
            answer = self.api.post("/api/v1/loops/", body, format="json")
            self.assertEqual(answer.status_code, 400, changes)
            for entry in answer.json()["errors"]:
                self.assertNotIn("field", entry["text"].lower())
                self.assertNotIn("null", entry["text"].lower())
        self.assertEqual(Loop.objects.count(), 1)


class Told(ServerTest):
    """Names of the data stay in the data."""

    def test_a_missing_figure_is_told_by_what_it_means(self) -> None:
        """Not as v_start_v."""
        lamp = {name: value for name, value in LAMP.items() if name != "v_start_v"}
        answer = self.keep(lamps=[fit(lamp)])
        self.assertEqual(answer.status_code, 422)
        text = answer.json()["errors"][0]["text"]
        self.assertNotIn("_", text)
        self.assertIn("start", text)


@override_settings(STORAGES=MEMORY)
class OnPaper(SurveyTest):
    """Survey, isolations and proofs print, with times, persons, readings."""

    def html_of(self, make: Any) -> str:
        """The page that a paper is made from."""
        pages: list[str] = []

        class Sheet:
            def __init__(self, string: str, base_url: str) -> None:
                pages.append(string)

            def write_pdf(self) -> bytes:
                return b"%PDF-"

        with patch.object(paper, "HTML", Sheet):
            make()
        return pages[0]

    def test_everything_that_was_recorded_stands_on_it(self) -> None:
        """Roles, readings, locks, the failed proof beside the good one, steps, and the override on every paper."""
        self.save()
        self.read("c1", v=230.0)
        self.isolate()
        self.mark("open")
        proof = str(uuid.uuid4())
        self.event(proof, "tester_before")
        self.event(proof, "reading", a="c1", b="known_earth", v=60.0)
        self.prove(pairs=PAIRS)
        self.mark("photograph", override_reason="camera broken, sketch on paper")
        self.loop.refresh_from_db()
        who = self.people[Role.TECHNICIAN]
        html = self.html_of(lambda: paper.record_pdf(self.loop, who))
        for said in ("Breaker 7", "Lock of The technician", "NOT DEAD", "60.0 V", "230.0 V", "known earth", "still on"):
            self.assertIn(said, html)
        self.assertIn("A newer proof took its place", html)
        self.assertIn("tester proved on a known source, before", html)
        for make in (
            lambda: paper.record_pdf(self.loop, who),
            lambda: paper.visit_pdf(self.loop, who),
            lambda: paper.labels_pdf(self.site),
        ):
            self.assertIn("camera broken, sketch on paper", self.html_of(make))

    def test_a_lock_is_told_with_its_day(self) -> None:
        """It may hang for days: the hour alone would be taken for the day of the isolation."""
        self.save()
        self.isolate()
        type(self.site).objects.update(zone="America/New_York")
        Lock.objects.update(put_at=datetime(2026, 7, 1, 3, 50, tzinfo=UTC))
        loop = Loop.objects.get(pk=self.loop.pk)
        html = self.html_of(lambda: paper.record_pdf(loop, self.people[Role.TECHNICIAN]))
        self.assertIn("on 2026-06-30 23:50, still on", html)

    @tag("long")
    def test_the_papers_are_pdfs(self) -> None:
        """With nothing recorded and with everything; the loop sheet gets its page."""
        self.assertEqual(self.api.get(self.at("record.pdf")).content[:5], b"%PDF-")
        self.keep()
        before = len(self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf").content)
        self.save()
        self.isolate()
        self.prove()
        after = self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf").content
        self.assertEqual(after[:5], b"%PDF-")
        self.assertGreater(len(after), before)

    def test_simulated_values_are_marked(self) -> None:
        """On paper as on the screen."""
        self.save()
        with override_settings(DEMO=True):
            asked = {"function": "volts", "a": "c1", "b": "known_earth", "meter_r_ohm": 4e5, "switches": {"1": "off"}}
            shown = self.api.post(self.at("meter/"), asked, format="json").json()
            self.read("c1", v=shown["v"], meter_value=shown["id"])
        html = self.html_of(lambda: paper.record_pdf(self.loop, self.people[Role.TECHNICIAN]))
        self.assertIn("simulated", html)
        self.assertIn("they prove nothing on a real circuit", html)
