"""The history of a loop: readable, whole, in both languages, of one's own sites only."""

from __future__ import annotations

from typing import Any

from django.test import tag
from django.utils import translation

from accounts.models import User
from audit.models import Change
from handover.services.history import history_of
from loops.models import Loop
from tests.server.base import LAMP, DemoTest, fit
from tests.server.test_handover import HandoverTest

Json = dict[str, Any]


@tag("whole")
class History(HandoverTest):
    """Of a loop that went the whole way."""

    def prepare(self) -> None:
        self.issue()
        self.sign("technician")

    def told(self, **headers: str) -> list[str]:
        """The lines, oldest first."""
        lines = self.api.get(self.at("history/"), headers=headers).json()
        return [line["text"] for line in reversed(lines)]

    def test_the_whole_way_in_its_order(self) -> None:
        """Made, surveyed, chosen, off, proved dead as one line, each step, each item, issue, signature."""
        told = self.told()
        order = [
            "The loop was made.",
            "3 readings at the box.",
            "Way chosen: Two-wire control with a bypass",
            "Breaker 7: off.",
            "Proving dead,",
            "(“shown in a test”)",
            "Issue 1 made.",
            "Issue 1: technician, signed by hand.",
        ]
        at = 0
        for wanted in order:
            found = next((k for k in range(at, len(told)) if wanted in told[k]), None)
            self.assertIsNotNone(found, (wanted, told[at:]))
            at = int(found or 0)
        in_german = self.told(**{"Accept-Language": "de"})
        self.assertTrue(any("(„shown in a test“)" in line for line in in_german), in_german)
        self.assertFalse(any("”" in line for line in in_german), in_german)

    def test_what_changed_of_the_parts_is_told_from_what_to_what(self) -> None:
        """Three lamps in place of four: that, and nothing else; in German too."""
        gang = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["gangs"][0]
        body = {name: gang[name] for name in ("name", "cable", "control", "bypasses", "version")}
        lamps = [{**gang["lamps"][0], "figures": {**LAMP, "count": 3}}]
        answer = self.api.put(f"/api/v1/gangs/{gang['id']}/", {**body, "lamps": lamps}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertRegex(self.told()[-1], r"^lamps: 4 × own \(\w+\) → 3 × own \(\w+\)$")
        self.assertRegex(self.told(**{"Accept-Language": "de"})[-1], r"^Lampen: 4 × own \(\w+\) → 3 × own \(\w+\)$")
        self.assertNotIn(fit(LAMP)["label"], self.told()[0])

    def test_a_stranger_reads_none(self) -> None:
        """As of everything else of a site where they do not work."""
        User.objects.get(pk=self.people["technician"].pk).sites.clear()
        self.assertEqual(self.api.get(self.at("history/")).status_code, 404)


@tag("long")
class OfTheDemo(DemoTest):
    """Every kind of entry that the demo makes."""

    def test_no_line_is_a_code(self) -> None:
        """In no language: neither an action's name nor a placeholder."""
        codes = set(Change.objects.values_list("action", flat=True))
        for spoken in ("en", "de"):
            with translation.override(spoken):
                for loop in Loop.objects.select_related("site", "circuit"):
                    for line in history_of(loop):
                        self.assertNotIn(line["text"], codes, loop)
                        self.assertNotIn("{", line["text"])
                        self.assertNotRegex(line["text"], r"\b[a-z]+_[a-z]+\b")
                        self.assertTrue(line["text"].strip())
