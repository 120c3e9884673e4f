"""What fails never makes a verdict better, and what changes nothing in the loop changes nothing in the answer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any
from unittest.mock import patch

from django.test import SimpleTestCase, tag

from ember_core import overall as overall_module
from ember_core.errors import SolverError
from ember_core.judgement import judge
from ember_core.loop import Loop
from ember_core.offstate import power
from ember_core.offstate.solve import solve
from ember_core.overall import Works, overall
from ember_core.quantities import Figure, Source
from ember_core.spread import judged
from ember_core.spread.judged import judge_spread
from ember_core.spread.observe import observe_each
from tests.core.drawn import drawn_sheets

GANGS = 12
FROM_GOOD_TO_BAD = (Works.WORKS, Works.PROBABLY, Works.NOT_SURE, Works.DOES_NOT)


def fails(*_: object, **__: object) -> object:
    """As a solver that gives up."""
    raise SolverError("injected")


@tag("long")
class Injected(SimpleTestCase):
    """A solver that gives up here and there."""

    @tag("whole")
    def test_failed_trials_never_improve_a_verdict(self) -> None:
        """One, half and all but one of the trials fail: the verdict stays or gets worse; it never says a sure yes."""
        for number, given in enumerate(drawn_sheets(GANGS, 71)):
            found = judge(given, with_meter=False)
            ranged = replace(given, figures={**given.figures, **wide(given)})
            whole = overall(ranged, found, spread=judge_spread(ranged, samples=24))
            for every, kept in ((24, 23), (2, 1), (24, 1)):
                turns = iter(range(1000))

                def sometimes(loops: Sequence[Loop], _every: int = every, _kept: int = kept, **more: Any) -> Any:
                    found = observe_each(loops, **more)
                    return [sample if next(turns) % _every < _kept else None for sample in found]  # noqa: B023

                with patch.object(judged, "observe_each", sometimes):
                    spread = judge_spread(ranged, samples=24, threads=1)
                worse = overall(ranged, found, spread=spread)
                with self.subTest(number, failed=spread.failed):
                    if spread.failed:
                        self.assertIsNot(worse.aspects[overall_module.Aspect.LIGHT_OFF], Works.WORKS)
                        rank = FROM_GOOD_TO_BAD.index
                        was, now = (one.aspects[overall_module.Aspect.LIGHT_OFF] for one in (whole, worse))
                        # What is hopeless may become open, never good.
                        self.assertTrue(rank(now) >= rank(was) or now is Works.NOT_SURE, (was, now))

    def test_what_cannot_be_computed_with_the_light_on_is_never_better(self) -> None:
        """Neither the on state nor the limits of the load: not sure at best."""
        for given in drawn_sheets(GANGS, 72):
            found = judge(given, with_meter=False)
            spread = judge_spread(given, samples=8)
            for part in ("while_lit", "load_limits"):
                with patch.object(overall_module, part, fails):
                    self.assertGreaterEqual(
                        FROM_GOOD_TO_BAD.index(overall(given, found, spread=spread).works),
                        FROM_GOOD_TO_BAD.index(Works.NOT_SURE),
                    )

    def test_a_power_that_is_not_found_is_no_margin(self) -> None:
        """The curve fails: dark and fed is not said, whatever the loop; a worse word stays."""
        for given in drawn_sheets(GANGS, 73):
            before = judge(given, with_meter=False).verdict
            with patch.object(power, "available", fails):
                after = judge(given, with_meter=False).verdict
            if given.loop.control.standby is not None:
                self.assertNotIn(after, ("dark", "close", "marginal"), (before, after))


def wide(given):
    """Its supply a tenth either way."""
    v = given.loop.supply.v_rms
    low, high = max(81.0, 0.93 * v), min(279.0, 1.07 * v)
    return {"supply.v_rms": Figure(low=low, typical=v, high=high, source=Source.MEASURED)}


class Metamorphic(SimpleTestCase):
    """The same loop told otherwise."""

    def test_two_halves_are_one_whole(self) -> None:
        """Each lamp group told as two, each capacitor as two of half: same volts, amperes, states and margin."""
        for number, given in enumerate(drawn_sheets(60, 74)):
            told = given.loop
            if any(lamp.count % 2 or len(told.lamps) > 2 for lamp in told.lamps) or len(told.bypass) > 1:
                continue
            if any(part.kind not in ("capacitor", "resistor") for part in told.bypass):
                continue
            halves = tuple(half for lamp in told.lamps for half in (replace(lamp, count=lamp.count // 2),) * 2)
            parts = tuple(half for part in told.bypass for half in (halved(part),) * 2)
            one, two = solve(told), solve(replace(told, lamps=halves, bypass=parts))
            with self.subTest(number):
                self.assertEqual({lamp.state for lamp in one.lamps}, {lamp.state for lamp in two.lamps})
                self.assertEqual(one.control.state, two.control.state)
                self.assertAlmostEqual(two.lamp_v_rms, one.lamp_v_rms, delta=0.03 * one.lamp_v_rms + 0.01)
                self.assertAlmostEqual(two.line_i_rms_a, one.line_i_rms_a, delta=0.03 * one.line_i_rms_a)


def halved(part):
    """One of two that are the part together."""
    if part.kind == "resistor":
        return replace(part, r_ohm=2.0 * part.r_ohm)
    across = None if part.r_parallel_ohm is None else 2.0 * part.r_parallel_ohm
    return replace(part, c_f=0.5 * part.c_f, r_parallel_ohm=across, r_series_ohm=2.0 * part.r_series_ohm)
