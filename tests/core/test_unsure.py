"""A good answer that is not known is not given."""

from __future__ import annotations

from dataclasses import replace
from unittest.mock import patch

from django.test import SimpleTestCase

from ember_core import judgement
from ember_core.judgement import BALANCE_WITHIN_RATIO, CODES, Judgement, Verdict, judge
from ember_core.offstate.results import OffState
from ember_core.offstate.solve import solve
from ember_core.overall import Works, overall
from ember_core.sheet import Sheet
from tests.core.loops import capacitor, loop


class Unsure(SimpleTestCase):
    """Margin and energy of a loop that is dark and fed."""

    def setUp(self) -> None:
        self.sheet = Sheet(loop=loop(bypass=(capacitor(4.7e-7),)))
        self.off = solve(self.sheet.loop)

    def judged(self, off: OffState) -> Judgement:
        """A loop with this off state."""
        with patch.object(judgement, "solve", return_value=off):
            return judge(self.sheet, with_meter=False)

    def verdict(self, off: OffState) -> Verdict:
        """Of a loop with this off state."""
        return self.judged(off).verdict

    def test_a_margin_that_was_not_found_is_not_called_enough(self) -> None:
        """Dark and fed with a margin, not known without."""
        self.assertIs(self.verdict(self.off), Verdict.DARK)
        open_margin = replace(self.off, control=replace(self.off.control, power_ratio=None, p_available_w=None))
        self.assertIs(self.verdict(open_margin), Verdict.UNKNOWN)

    def test_energy_that_does_not_add_up_gates_what_is_good(self) -> None:
        """Just inside and just outside, on either side of zero."""
        for sign in (-1.0, 1.0):
            for share, wanted in ((0.99, Verdict.DARK), (1.01, Verdict.UNKNOWN)):
                ratio = sign * share * BALANCE_WITHIN_RATIO
                numerics = replace(self.off.numerics, energy_balance_ratio=ratio)
                made = self.judged(replace(self.off, numerics=numerics))
                self.assertIs(made.verdict, wanted, ratio)
                told = {finding.code: set(finding.params) for finding in made.findings}
                self.assertEqual(
                    told.get("energy_not_balanced"),
                    set(CODES["energy_not_balanced"]) if wanted is Verdict.UNKNOWN else None,
                )

    def test_the_one_verdict_follows(self) -> None:
        """Not sure, however the samples do, with the reason that part of it could not be computed."""
        found = judge(self.sheet, with_meter=False)
        open_one = replace(found, verdict=Verdict.UNKNOWN)
        self.assertIn(overall(self.sheet, found).works, (Works.WORKS, Works.PROBABLY))
        unsure = overall(self.sheet, open_one)
        self.assertEqual((unsure.works, unsure.cause), (Works.NOT_SURE, "light_off_unsolved"))
