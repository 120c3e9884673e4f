"""Papers and sentences tell moments in the time of their site; another clock on the wall changes no record."""

from __future__ import annotations

from datetime import UTC, datetime
from unittest import TestCase
from unittest.mock import patch

from django.test import tag
from django.utils import translation
from weasyprint import HTML

from handover.models import Issue
from handover.services.issuing import differs
from handover.services.lines import lines_in
from sites.models import Site
from survey.models import Isolation
from tests.server.test_handover import HandoverTest
from wording.moments import duration_of, in_zone, minute_of, zone_word


class Moments(TestCase):
    """A moment in a zone."""

    def test_summer_winter_and_the_day_before(self) -> None:
        """The zone's own offset at that moment; its city names it all the year."""
        winter, summer = datetime(2026, 1, 1, 2, 30, tzinfo=UTC), datetime(2026, 7, 1, 2, 30, tzinfo=UTC)
        with in_zone("America/New_York"), translation.override("en"):
            self.assertEqual((minute_of(winter), minute_of(summer)), ("2025-12-31 21:30", "2026-06-30 22:30"))
            self.assertEqual(zone_word(), "New York time")
        with in_zone("Asia/Kolkata"), translation.override("de"):
            self.assertEqual((minute_of(winter), zone_word()), ("2026-01-01 08:00", "Ortszeit Kolkata"))
        with in_zone(""):
            self.assertEqual((minute_of(winter), zone_word()), ("2026-01-01 02:30", "UTC"))

    def test_how_long_is_told_in_hours_and_minutes(self) -> None:
        """Nothing is told that is none, but for no time at all."""
        for minutes, said in ((0, "0 min"), (59, "59 min"), (60, "1 h"), (400, "6 h 40 min")):
            self.assertEqual(duration_of(minutes), said)


@tag("whole")
class OnPaper(HandoverTest):
    """A site in New York."""

    def in_zone(self, name: str) -> None:
        """Set it over the API."""
        site = Site.objects.get(pk=self.site.pk)
        answer = self.api.patch(f"/api/v1/sites/{site.pk}/", {"version": site.version, "zone": name}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.loop.refresh_from_db()
        self.loop.site.refresh_from_db()

    def test_a_zone_that_is_none_is_refused(self) -> None:
        """With its place and in words; nothing is changed."""
        answer = self.api.patch(f"/api/v1/sites/{self.site.pk}/", {"version": 1, "zone": "Mars/Olympus"}, format="json")
        self.assertEqual(answer.status_code, 400)
        error = answer.json()["errors"][0]
        self.assertEqual((error["path"], bool(error["text"])), ("zone", True))
        self.assertEqual(Site.objects.get(pk=self.site.pk).zone, "")

    def test_lines_are_told_in_the_time_of_the_site(self) -> None:
        """Isolations, steps, proving: all of them, and each says whose time it is."""
        Isolation.objects.filter(loop=self.loop).update(opened_at=datetime(2026, 1, 1, 2, 30, tzinfo=UTC))
        before = [line.value for line in lines_in(self.loop, "en")]
        self.assertTrue(any("off 2026-01-01 02:30" in value and "UTC" in value for value in before), before)
        self.in_zone("America/New_York")
        after = [line.value for line in lines_in(self.loop, "en")]
        self.assertTrue(any("off 2025-12-31 21:30" in value and "New York time" in value for value in after), after)
        self.assertFalse(any(" UTC" in value for value in after), after)

    def test_printed_pages_too(self) -> None:
        """The record of the boxes, the loop sheet, the wire map."""
        Isolation.objects.filter(loop=self.loop).update(opened_at=datetime(2026, 1, 1, 2, 30, tzinfo=UTC))
        self.in_zone("America/New_York")
        for module, path in (
            ("survey.services.paper", self.at("record.pdf")),
            ("handover.services.sheet", f"/api/v1/gangs/{self.gang.pk}/sheet.pdf"),
        ):
            said: list[str] = []
            with patch(f"{module}.HTML", side_effect=_keeping(said)):
                self.assertEqual(self.api.get(path).status_code, 200)
            self.assertIn("2025-12-31 21:30 New York time", said[0])
            self.assertNotIn(" UTC", said[0])

    def test_another_zone_makes_no_new_issue(self) -> None:
        """What was frozen is compared in the time in which it was frozen; the next issue has the new one."""
        self.assertEqual(self.issue().status_code, 201)
        stage = self.stage()
        self.in_zone("America/New_York")
        self.assertEqual(differs(Issue.objects.get(loop=self.loop), self.loop), ())
        self.assertEqual(self.stage(), stage)


def _keeping(said: list[str]) -> object:
    """Lay out as ever, and keep what was laid out."""

    def made(**given: str) -> HTML:
        said.append(given["string"])
        return HTML(**given)

    return made
