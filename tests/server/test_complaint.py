"""The complaint with its rhythm: entered, held beside the computation, kept with the state before the cure, printed."""

from __future__ import annotations

from unittest.mock import patch

from django.test import tag

from judgements.models import Judgement
from survey.models import Survey
from tests.server.base import CONTROL, LAMP, ServerTest, draft, fit
from tests.server.test_survey import ONE_WAY

BLINKS = {**LAMP, "v_start_v": 60.0, "v_stop_v": 30.0}


def fitted(figures: dict[str, object]) -> dict[str, object]:
    """A part that is there."""
    return {**fit(figures), "status": "fitted"}


class OfALoop(ServerTest):
    """Somebody complained that it flashes."""

    def complain(self, **enquiry: object) -> None:
        """As it stands in the survey."""
        Survey.objects.update_or_create(loop=self.loop, place=1, defaults={"enquiry": enquiry})

    def asked(self, **changes: object) -> dict[str, object]:
        """The complaint beside a draft."""
        path = f"/api/v1/gangs/{self.gang.pk}/complaint/"
        return self.api.post(path, draft(**changes), format="json").json()

    def test_a_planned_bypass_does_not_hide_what_was_complained_of(self) -> None:
        """The loop is compared as it was found: with what is fitted, without what is planned."""
        self.complain(complaint="flicker_off")
        found = self.asked(control=fitted(CONTROL), lamps=[fitted(BLINKS)])
        self.assertEqual(found["agreement"], "agrees", found["text"])
        self.assertIn("From flash to flash", found["text"].replace("Computed from", "From"))
        cured = self.asked(
            control=fitted(CONTROL), lamps=[fitted(BLINKS)], bypasses=[fitted({"kind": "capacitor", "c_f": 4.7e-7})]
        )
        self.assertEqual(cured["agreement"], "disagrees")

    def test_a_rhythm_far_from_the_computed_one_is_said_to_be(self) -> None:
        """In words that name the rhythm told and the one computed."""
        self.complain(complaint="flicker_off", flash_period_s=90.0)
        found = self.asked(control=fitted(CONTROL), lamps=[fitted(BLINKS)])
        self.assertEqual(found["agreement"], "other_rhythm")
        self.assertIn("every 90.0 s", found["complaint_text"])

    def test_what_is_only_planned_cannot_be_compared(self) -> None:
        """A new control was not there when it flashed."""
        self.complain(complaint="flicker_off")
        found = self.asked(lamps=[fitted(BLINKS)])
        self.assertIsNone(found["agreement"])
        self.assertIn("mark the parts that were there as fitted", found["text"])

    def test_nobody_complained(self) -> None:
        """Nothing is said."""
        found = self.asked(control=fitted(CONTROL), lamps=[fitted(BLINKS)])
        self.assertEqual((found["agreement"], found["text"], found["before"]), (None, "", None))

    @tag("long")
    def test_the_state_before_the_cure_is_kept_and_printed(self) -> None:
        """Judged ill, then cured: screen and paper tell the first."""
        self.complain(complaint="flicker_off", flash_period_s=0.5)
        ill = {"control": fitted(CONTROL), "lamps": [fitted(BLINKS)], "bypasses": []}
        self.keep(**ill)
        self.assertIsNone(self.asked(**ill)["before"])
        self.keep(2, **{**ill, "bypasses": [fit({"kind": "capacitor", "c_f": 4.7e-7, "r_parallel_ohm": 1e6})]})
        before = self.asked(**ill)["before"]
        self.assertEqual((before["verdict"], before["title"]), ("blink", "Lamps blink when off"))
        Judgement.objects.filter(verdict="dark").update(verdict="unknown")
        self.assertIsNone(self.asked(**ill)["before"], "what is not known is no cure")
        Judgement.objects.filter(verdict="unknown").update(verdict="dark")
        self.assertRegex(before["figures"], r"^\d.* V, \d.* mA, every \d")
        with patch("handover.services.sheet.HTML") as page:
            page.return_value.write_pdf.return_value = b"%PDF"
            self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf")
        paper = page.call_args.kwargs["string"]
        self.assertIn("Complaint: flickers or flashes when off, every 0.500 s.", paper)
        self.assertIn("Before the cure, ", paper)
        self.assertIn(before["figures"], paper)

    def test_a_rhythm_that_cannot_be_is_refused(self) -> None:
        """And nothing is kept."""
        enquiry = {"complaint": "flicker_off", "flash_period_s": 4000.0}
        body = {"version": 0, "enquiry": enquiry, "box": ONE_WAY}
        answer = self.api.put(f"/api/v1/loops/{self.loop.pk}/survey/", body, format="json")
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(answer.json()["errors"][0]["path"], "enquiry.flash_period_s")
        self.assertFalse(Survey.objects.exists())
