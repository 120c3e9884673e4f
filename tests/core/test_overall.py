"""The one verdict: its three aspects, what settles it, and what to do next."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

from django.test import SimpleTestCase

from ember_core.compatibility.load_limits import From, LoadLimit, LoadLimits, LoadState, Side
from ember_core.compatibility.matrix import Goes
from ember_core.judgement import Verdict, judge
from ember_core.offstate.states import LampState
from ember_core.overall import Aspect, NextAction, Works, light_off, light_on, load, overall, together
from ember_core.quantities import Source
from ember_core.sheet import Sheet
from ember_core.spread.judged import Spread, judge_spread
from tests.core.loops import LAMP, capacitor, loop
from tests.core.test_spread import ranged, uncertain

GOOD_TO_BAD = (Works.WORKS, Works.PROBABLY, Works.NOT_SURE, Works.DOES_NOT)


def limits(*met: bool | None, rule: str = "rms") -> LoadLimits:
    """Limits that are kept, not kept or not known."""
    rows = tuple(
        LoadLimit(rule=rule, side=Side.MOST, origin=From.COMPUTED, count=4, watts=None, is_met=is_met) for is_met in met
    )
    return LoadLimits(group=1, there=1, watts=None, rows=rows, least=None, most=None)


class Aspects(SimpleTestCase):
    """Each by itself, just inside and just outside."""

    def test_light_off_goes_by_the_share_that_does_well(self) -> None:
        """Surely only where every drawn loop does well; hopeless where hardly one does."""
        for share, wanted in (
            (1.0, Works.WORKS),
            (0.999, Works.PROBABLY),
            (0.95, Works.PROBABLY),
            (0.949, Works.NOT_SURE),
            (0.201, Works.NOT_SURE),
            (0.2, Works.DOES_NOT),
            (0.0, Works.DOES_NOT),
        ):
            self.assertIs(light_off(Verdict.DARK, share), wanted, share)

    def test_typical_figures_that_fail_are_never_called_good(self) -> None:
        """Whatever the share; little to spare is at best probable."""
        for verdict in (Verdict.STARVED, Verdict.BLINK, Verdict.GLOW):
            self.assertIs(light_off(verdict, 1.0), Works.NOT_SURE)
        for verdict in (Verdict.CLOSE, Verdict.MARGINAL):
            self.assertIs(light_off(verdict, 1.0), Works.PROBABLY)

    def test_what_could_not_be_solved_neither_does_well_nor_fails(self) -> None:
        """60 of 64 unsolved are not sure, whatever the other four do; a few are no reason to call it hopeless."""
        self.assertIs(light_off(Verdict.DARK, 4 / 64, 60 / 64), Works.NOT_SURE)
        self.assertIs(light_off(Verdict.DARK, 63 / 64, 1 / 64), Works.PROBABLY)
        self.assertIs(light_off(Verdict.DARK, 10 / 64, 2 / 64), Works.DOES_NOT)
        self.assertIs(light_off(Verdict.DARK, 10 / 64, 4 / 64), Works.NOT_SURE)

    def test_failures_never_improve_a_verdict(self) -> None:
        """Of a gang that does well: the more samples cannot be solved, the worse or the same."""
        given = uncertain()
        spread, nominal = judge_spread(given), judge(given).verdict
        places = []
        for failed in (0, 1, 3, 10, 60, 1000):
            found = together(given, nominal, replace(spread, failed=failed), Goes.GOES, limits(True))
            places.append(GOOD_TO_BAD.index(found.aspects[Aspect.LIGHT_OFF]))
            self.assertEqual(found.sample_count, len(spread.seen) + failed)
        self.assertEqual(places, sorted(places))
        self.assertGreater(places[-1], 0)

    def test_light_on_and_load_say_unknown_where_nobody_says(self) -> None:
        """What could not be computed is not sure, never good."""
        self.assertIs(light_on(None), Works.NOT_SURE)
        self.assertIs(light_on(Goes.UNKNOWN), Works.NOT_SURE)
        self.assertIs(light_on(Goes.MUST_NOT), Works.DOES_NOT)
        self.assertIs(load(None), Works.NOT_SURE)
        self.assertIs(load(limits(True, None)), Works.PROBABLY)
        self.assertIs(load(limits(True, None, False)), Works.DOES_NOT)
        self.assertIs(load(limits(True)), Works.WORKS)

    def test_a_limit_that_is_assumed_makes_nothing_more_than_probable(self) -> None:
        """It is named where nothing is open, after whatever is broken or open; broken it stops what it stopped."""
        supposed = replace(limits(True).rows[0], rule="most_led_w", is_assumed=True)
        kept = replace(limits(True), rows=(*limits(True).rows, supposed))
        self.assertIs(load(kept), Works.PROBABLY)
        given = uncertain()
        well = replace(judge_spread(given, samples=16), all_well=1.0)
        whole = together(given, Verdict.DARK, well, Goes.GOES, kept)
        self.assertEqual((whole.works, whole.cause), (Works.PROBABLY, "loads_assumed"))
        self.assertEqual((whole.limit_rule, whole.next_action), ("most_led_w", NextAction.SHEET))
        for open_or_broken, wanted in ((None, Works.PROBABLY), (False, Works.DOES_NOT)):
            found = replace(kept, rows=(supposed, *limits(open_or_broken).rows))
            self.assertIs(load(found), wanted)
            self.assertEqual(together(given, Verdict.DARK, well, Goes.GOES, found).limit_rule, "rms")
        self.assertIs(load(replace(kept, rows=(replace(supposed, is_met=False),))), Works.DOES_NOT)

    def test_less_than_the_least_declared_load_is_the_makers_to_judge(self) -> None:
        """A bypass is fitted for just that: not sure, never good, and not hopeless; with another limit broken it is."""
        least = limits(True, False, rule="least_declared")
        self.assertIs(load(least), Works.NOT_SURE)
        self.assertIs(least.state, LoadState.BELOW_DECLARED)
        self.assertIs(load(replace(least, rows=(*least.rows, *limits(False).rows))), Works.DOES_NOT)

    def test_a_supply_that_hangs_in_the_balance_is_not_probable(self) -> None:
        """Fed while on in some of the samples only: not sure, unless its maker names a least load that is there."""
        for rule in ("supply_on", "supply_gap"):
            supply = limits(True, None, rule=rule)
            for least, wanted in ((True, Works.PROBABLY), (None, Works.NOT_SURE), (False, Works.NOT_SURE)):
                rows = (*limits(least, rule="least_declared").rows, *limits(None).rows, *supply.rows)
                found = replace(supply, rows=rows)
                self.assertIs(load(found), wanted, (rule, least))
                supposed = [replace(one, origin=From.ASSUMED) for one in rows if one.rule == "least_declared"]
                self.assertIs(load(replace(found, rows=(*rows, *supposed))), wanted, (rule, least))
                alone = tuple(one for one in rows if one.rule != "least_declared")
                self.assertIs(load(replace(found, rows=(*alone, *supposed))), Works.NOT_SURE, (rule, least))
            self.assertIs(load(supply), Works.NOT_SURE)
            self.assertIs(load(limits(False, rule=rule)), Works.DOES_NOT)
            self.assertIs(load(limits(True, rule=rule)), Works.WORKS)
            given = uncertain()
            found = replace(supply, rows=(*limits(None).rows, *supply.rows))
            well = replace(judge_spread(given, samples=16), all_well=1.0)
            whole = together(given, Verdict.DARK, well, Goes.GOES_IF, found)
            self.assertEqual((whole.works, whole.deciding), (Works.NOT_SURE, Aspect.LOADS))
            self.assertEqual((whole.cause, whole.limit_rule), ("loads_supply_open", rule))
            self.assertIs(whole.next_action, NextAction.LOADS)

    def test_the_limit_of_the_light_off_is_not_counted_twice(self) -> None:
        """The share says it already; the two could not tell different stories."""
        self.assertIs(load(limits(False, rule="off")), Works.WORKS)

    def test_the_table_and_the_aspect_tell_one_story(self) -> None:
        """Over every mixture of limits without the light off: as bad as each other, whatever is broken or open."""
        stories = {"met": "works", "assumed": "probably", "unknown": "probably"}
        stories |= {"below_declared": "not_sure", "not_met": "does_not"}
        seen = set()
        told = (True, None, False)
        for declared, computed, beside, first in product(told, told, (True, None), (0, 1)):
            found = limits(computed, beside)
            rows = (*found.rows, *limits(declared, rule="least_declared").rows)
            found = replace(found, rows=(replace(rows[0], is_assumed=first == 1), *rows[1:]))
            self.assertEqual(load(found).value, stories[found.state.value], (declared, computed, beside))
            seen.add(found.state.value)
        self.assertEqual(seen, set(stories))


class OneVerdict(SimpleTestCase):
    """The three together."""

    def spread(self) -> tuple[Sheet, Spread]:
        """A loop that does well throughout."""
        given = uncertain()
        return given, judge_spread(given, samples=16)

    def test_the_worst_aspect_is_the_answer_and_is_named(self) -> None:
        """Over every combination; of two that fare alike the first is named."""
        given, spread = self.spread()
        shares = {1.0: Works.WORKS, 0.97: Works.PROBABLY, 0.5: Works.NOT_SURE, 0.1: Works.DOES_NOT}
        lits = {Goes.GOES: Works.WORKS, Goes.GOES_IF: Works.PROBABLY, Goes.UNKNOWN: Works.NOT_SURE}
        loads = {True: Works.WORKS, None: Works.PROBABLY, False: Works.DOES_NOT}
        for (share, off), (lit, on), (met, held) in product(shares.items(), lits.items(), loads.items()):
            found = together(given, Verdict.DARK, replace(spread, all_well=share), lit, limits(met))
            with self.subTest(share=share, lit=lit, met=met):
                worst = max((off, on, held), key=GOOD_TO_BAD.index)
                self.assertIs(found.works, worst)
                order = dict(zip(Aspect, (off, on, held), strict=True))
                self.assertIs(found.deciding, next(aspect for aspect in Aspect if order[aspect] is worst))

    def test_the_cause_is_what_most_failing_loops_do(self) -> None:
        """Not what the typical figures happen to do."""
        given, spread = self.spread()
        seen = tuple(replace(s, lamps=(LampState.BLINK,)) if k % 2 else s for k, s in enumerate(spread.seen))
        found = together(given, Verdict.DARK, replace(spread, seen=seen, all_well=0.5), Goes.GOES, limits(True))
        self.assertEqual((found.works, found.cause), (Works.NOT_SURE, "light_off_blink"))

    def test_what_hangs_on_a_figure_that_nobody_measured_is_measured_first(self) -> None:
        """Measured already, or hopeless: a remedy is looked for."""
        given = uncertain(
            loop=loop(lamps=(replace(LAMP, v_start_v=60.0, v_stop_v=30.0),), bypass=(capacitor(1e-7),)),
            figures={"lamps[0].v_start_v": ranged(40.0, 60.0, 110.0)},
        )
        spread = judge_spread(given, samples=48)
        half = replace(spread, all_well=0.5)
        self.assertNotEqual(half.deciding, ())
        found = together(given, Verdict.DARK, half, Goes.GOES, limits(True))
        self.assertEqual((found.next_action, found.deciding_path), (NextAction.MEASURE, "lamps[0].v_start_v"))
        figure = replace(given.figures["lamps[0].v_start_v"], source=Source.MEASURED)
        measured = replace(given, figures={"lamps[0].v_start_v": figure})
        self.assertIs(together(measured, Verdict.DARK, half, Goes.GOES, limits(True)).next_action, NextAction.REMEDY)
        hopeless = together(given, Verdict.BLINK, replace(half, all_well=0.0), Goes.GOES, limits(True))
        self.assertIs(hopeless.next_action, NextAction.REMEDY)

    def test_a_gang_is_weighed_whole(self) -> None:
        """A loop whose lamps blink throughout does not work, and the counts are those of the samples."""
        given = uncertain(loop=loop(bypass=(), lamps=(replace(LAMP, v_start_v=60.0, v_stop_v=30.0),)))
        given = replace(given, figures={k: f for k, f in given.figures.items() if not k.startswith("bypass")})
        found = overall(given, judge(given, with_meter=False))
        self.assertEqual((found.works, found.cause), (Works.DOES_NOT, "light_off_blink"))
        self.assertEqual((found.well_count, found.sample_count), (0, 64))
