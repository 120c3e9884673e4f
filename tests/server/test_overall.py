"""One loop, one story: the same verdict in the round, on the bench, in the record and on paper."""

from __future__ import annotations

from unittest.mock import patch

from django.test import tag

from ember_core import sheet
from ember_core.judgement import judge
from ember_core.spread.judged import judge_spread
from judgements.models import Judgement
from judging.services.spreading import spread_data
from loops.documents import sheet_document
from loops.models import Gang, Loop
from tests.server.base import CONTROL, LAMP, DemoTest, ServerTest, draft, fit, stated

# The quick look of many loops against the full solution of one.
OWN_ERROR = 0.08


class OneStory(ServerTest):
    """A gang of one's own."""

    def test_round_bench_record_and_paper_say_the_same(self) -> None:
        """Title, cause and next step, from one computation."""
        tried = {"bypasses": [], "lamps": [fit({**LAMP, "v_start_v": 60.0, "v_stop_v": 30.0})]}
        self.keep(**tried)
        bench = self.api.post(f"/api/v1/gangs/{self.gang.pk}/overall/", draft(**tried), format="json").json()
        self.assertEqual((bench["works"], bench["title"]), ("does_not", "Does not work"))
        row = self.api.get("/api/v1/loops/").json()["results"][0]
        self.assertEqual((row["works"], row["why"], row["next_step"]), (bench["works"], bench["text"], "remedy"))
        self.assertIn("0 of 64 trials", bench["text"])
        gang = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["gangs"][0]
        self.assertEqual(gang["works"], bench["works"])
        self.assertEqual(Judgement.objects.first().result["overall"]["works"], bench["works"])
        with patch("handover.services.sheet.HTML") as page:
            page.return_value.write_pdf.return_value = b"%PDF"
            self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf")
        paper = page.call_args.kwargs["string"]
        self.assertIn(f"<b>{bench['title']}.</b> {bench['text']}", paper)

    def test_a_gang_that_lacks_a_part_is_not_judged(self) -> None:
        """And the next step is that part."""
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/overall/", draft(lamps=[]), format="json").json()
        self.assertEqual((answer["works"], answer["next_action"]), ("unknown", "lamps"))

    def test_a_condition_is_written_out(self) -> None:
        """Not "if conditions are met": the condition itself, on the bench and in the round."""
        tried = {"control": fit({**CONTROL, "p_min_w": stated(5.0)}), "lamps": [fit(LAMP)]}
        self.keep(**tried)
        bench = self.api.post(f"/api/v1/gangs/{self.gang.pk}/overall/", draft(**tried), format="json").json()
        self.assertEqual(bench["works"], "probably")
        self.assertTrue(bench["text"].startswith("Light on: control and lamps go together on this condition: "))
        self.assertGreater(len(bench["text"].split(": ")[2]), 10)
        row = self.api.get("/api/v1/loops/").json()["results"][0]
        self.assertEqual(row["why"], bench["text"])

    def test_a_supply_that_nobody_answers_for_is_not_sure(self) -> None:
        """No least load in the leaflet: not sure, with what settles it, and the load is looked at next."""
        self.keep(lamps=[fit(LAMP)])
        bench = self.api.post(f"/api/v1/gangs/{self.gang.pk}/overall/", draft(lamps=[fit(LAMP)]), format="json").json()
        self.assertEqual((bench["works"], bench["next_action"]), ("not_sure", "loads"))
        self.assertIn("it is not sure that the control is fed while the light is on", bench["text"])
        row = self.api.get("/api/v1/loops/").json()["results"][0]
        self.assertEqual((row["works"], row["why"], row["next_step"]), ("not_sure", bench["text"], "loads"))

    def test_a_least_load_that_nobody_declared_answers_for_nothing(self) -> None:
        """One that somebody supposes is told as supposed, and the supply is as little sure as without it."""
        for least, works, origin in ((5.0, "not_sure", "assumed"), (stated(5.0), "probably", "declared")):
            tried = draft(control=fit({**CONTROL, "p_min_w": least}), lamps=[fit(LAMP)])
            bench = self.api.post(f"/api/v1/gangs/{self.gang.pk}/overall/", tried, format="json").json()
            loads = self.api.post(f"/api/v1/gangs/{self.gang.pk}/loads/", tried, format="json").json()
            (row,) = [row for row in loads["rows"] if row["rule"] == "least_declared"]
            self.assertEqual((bench["works"], row["origin"], row["state"]), (works, origin, "met"))

    @tag("long")
    def test_what_nothing_explains_has_no_verdict(self) -> None:
        """Neither tab tells a chance, and both name the same likeliest wrong assumption."""
        readings = [{"kind": "lamp_v", "value": 180.0, "meter_r_ohm": 1e7, "group": 0, "seen": ""}]
        body = {**draft(), "readings": readings}
        narrowed = self.api.post(f"/api/v1/gangs/{self.gang.pk}/narrow/", body, format="json").json()
        after = self.api.post(f"/api/v1/gangs/{self.gang.pk}/after-fitting/", body, format="json").json()
        self.assertFalse(narrowed["is_explained"])
        self.assertEqual(narrowed["title"], "No verdict")
        self.assertEqual(narrowed["explanation"], after["text"])
        self.assertEqual((after["works_chance"], after["remedies"]), (None, []))


class TheDemo(DemoTest):
    """Every gang that is shown to a newcomer."""

    @tag("long")
    def test_each_figure_as_typed_lies_within_its_own_range(self) -> None:
        """Current and volts of the drawing against the ranges beside it."""
        for gang in Gang.objects.filter(lamps__isnull=False, control__isnull=False).distinct():
            given = sheet.read(sheet_document(gang))
            nominal = judge(given, with_meter=False).off_state
            told = spread_data(judge_spread(given), given)
            for name, value in (("lamp_v_rms", nominal.lamp_v_rms), ("line_i_rms_a", nominal.line_i_rms_a)):
                with self.subTest(gang=str(gang), name=name):
                    self.assertGreaterEqual(value * (1 + OWN_ERROR), told[name]["p05"])
                    self.assertLessEqual(value * (1 - OWN_ERROR), told[name]["p95"])

    def test_no_loop_that_may_fail_is_sent_to_the_printer(self) -> None:
        """The next step of what is not sure, or does not work, is never the sheet."""
        for loop in Loop.objects.filter(works__in=("not_sure", "does_not")):
            self.assertNotEqual(loop.next_step, "sheet", str(loop))
        self.assertGreater(Loop.objects.filter(works="does_not").count(), 2)
        self.assertGreater(Loop.objects.filter(works="probably").count(), 2)

    def test_the_round_says_of_a_load_what_the_verdict_says(self) -> None:
        """Kept, open, below what is declared or broken, wherever the light off is not what breaks it."""
        stories = {"met": "works", "assumed": "probably", "unknown": "probably"}
        stories |= {"below_declared": "not_sure", "not_met": "does_not"}
        seen = set()
        for gang in Gang.objects.exclude(load={}):
            if "off" in gang.load["broken"]:
                self.assertEqual(gang.load["state"], "not_met", str(gang))
                continue
            shown = stories[gang.load["state"]]
            # What is open only with the light off is told there.
            allowed = (shown, "works") if shown == "probably" else (shown,)
            self.assertIn(gang.overall["aspects"]["loads"], allowed, str(gang))
            seen.add(gang.load["state"])
        self.assertGreaterEqual(seen, {"met", "unknown", "below_declared", "not_met"})
