"""Judgements on something that has changed since: said, and judged again at a press."""

from __future__ import annotations

from unittest.mock import patch

from bench.services.serving import mark_older
from loops.models import Gang, Loop
from parts.models import Part
from tests.server.base import CONTROL, ServerTest, draft, fit


class OutOfDate(ServerTest):
    """Supply, core, shelf."""

    def setUp(self) -> None:
        super().setUp()
        self.keep()

    def said(self) -> str:
        """What the round says of the loop."""
        text: str = self.api.get("/api/v1/loops/").json()["results"][0]["outdated"]
        return text

    def again(self) -> None:
        """Judge every gang again that the list names."""
        for row in self.api.get("/api/v1/outdated/").json():
            answer = self.api.post(f"/api/v1/gangs/{row['gang']}/judge-again/")
            self.assertEqual(answer.status_code, 200, answer.content)

    def test_a_fresh_judgement_is_not_out_of_date(self) -> None:
        """Nor is a gang that was never judged."""
        self.assertEqual(self.said(), "")
        self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {}, format="json")
        self.assertEqual(self.api.get("/api/v1/outdated/").json(), [])

    def test_another_supply_tolerance_or_region_is_told_until_judged_again(self) -> None:
        """The verdict that stands is marked, not silently kept; judged again it is that of the new supply."""
        before = Gang.objects.get(pk=self.gang.pk).line_i_rms_a
        for change in ({"v_rms": 240.0}, {"f_hz": 60.0}, {"tolerance_ratio": 0.05}, {"region": "na"}):
            version = self.api.get(f"/api/v1/sites/{self.site.pk}/").json()["version"]
            answer = self.api.patch(f"/api/v1/sites/{self.site.pk}/", {"version": version, **change}, format="json")
            self.assertEqual(answer.status_code, 200, answer.content)
            with self.subTest(change):
                self.assertIn("supply or region changed", self.said())
                self.assertEqual(len(self.api.get("/api/v1/outdated/").json()), 1)
                self.again()
                self.assertEqual(self.said(), "")
        self.assertNotAlmostEqual(Gang.objects.get(pk=self.gang.pk).line_i_rms_a, before)

    def test_another_core_is_told(self) -> None:
        """What an earlier computation said is not passed off as the present one's."""
        with patch("loops.basis.CORE_VERSION", "99.0.0"):
            self.assertIn("earlier version", self.said())
            self.again()
            self.assertEqual(self.said(), "")

    def test_a_part_whose_figures_changed_is_told_and_taken_over(self) -> None:
        """The gang's copy stays as it is until then."""
        part = Part.objects.create(
            category="control", kind="switching", maker="Quill", name="Relay", v_rms=230.0, figures=CONTROL
        )
        gang = Gang.objects.get(pk=self.gang.pk)
        self.keep(version=gang.version, control={**fit(CONTROL), "part": str(part.pk)})
        self.assertEqual(self.said(), "")
        part.figures = {**CONTROL, "standby": {**CONTROL["standby"], "v_min_v": 60.0}}
        part.save()
        mark_older(part)
        self.assertIn("part on the shelf changed", self.said())
        control = Gang.objects.get(pk=self.gang.pk).control.figures
        self.assertEqual(control["standby"]["v_min_v"], CONTROL["standby"]["v_min_v"])
        self.again()
        self.assertEqual(self.said(), "")
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).control.figures["standby"]["v_min_v"], 60.0)

    def test_another_supply_is_no_leave_to_change_the_figures_of_a_part(self) -> None:
        """Judged again for the supply's sake, a gang keeps the figures that somebody kept."""
        part = Part.objects.create(
            category="control", kind="switching", maker="Quill", name="Relay", v_rms=230.0, figures={**CONTROL, "x": 1}
        )
        gang = Gang.objects.get(pk=self.gang.pk)
        self.keep(version=gang.version, control={**fit(CONTROL), "part": str(part.pk)})
        version = self.api.get(f"/api/v1/sites/{self.site.pk}/").json()["version"]
        self.api.patch(f"/api/v1/sites/{self.site.pk}/", {"version": version, "v_rms": 240.0}, format="json")
        self.again()
        self.assertEqual(self.said(), "")
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).control.figures, CONTROL)

    def test_a_checker_sees_it_and_judges_nothing_again(self) -> None:
        """Judging again writes a record."""
        Gang.objects.filter(pk=self.gang.pk).update(judged_on={"core": "0"})
        checker = self.clients["checker"]
        self.assertEqual(len(checker.get("/api/v1/outdated/").json()), 1)
        self.assertEqual(checker.post(f"/api/v1/gangs/{self.gang.pk}/judge-again/").status_code, 403)

    def test_two_gangs_of_which_one_is_old_make_the_loop_old(self) -> None:
        """A fresh gang hides no old one."""
        second = self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {}, format="json").json()
        Gang.objects.filter(pk=self.gang.pk).update(judged_on={"core": "0"})
        self.api.put(f"/api/v1/gangs/{second['id']}/", {"version": second["version"], **draft()}, format="json")
        self.assertEqual(Loop.objects.get(pk=self.loop.pk).judged_on, {"core": "0"})
        self.assertNotEqual(self.said(), "")
