"""Ways compared: judged as the bench judges, a pair as two, weighed in an order, and told why."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

from ember_core.bypass.choose import Candidate
from ember_core.judgement import judge
from ember_core.offstate.solve import solve
from ember_core.overall import Works, overall
from ember_core.parts import CapacitorBypass
from ember_core.parts.hardware import Demand, Hardware, Sort, WithoutHub, YesNo
from ember_core.quantities import Figure, Source
from ember_core.routes.aloft import At, OwnNeutral
from ember_core.routes.as_wired import Wired, figures_as_wired, pair_of, wired_by, wired_for, wirings_of
from ember_core.routes.comparing import OLD_SWITCH_DEPTH_M, compare, rate
from ember_core.routes.devices import plain, word
from ember_core.routes.rated import ORDER, Asked, Offered, Value
from ember_core.routes.ways import Way
from ember_core.sheet import Sheet, read
from ember_core.survey.box import Box, Ways
from ember_core.survey.depth import Fit
from tests.core.test_surveyed import found

LAMP = {
    "kind": "rectifier",
    "count": 1,
    "c_x_f": 2.2e-8,
    "r_in_ohm": 22.0,
    "c_bulk_f": 4.7e-6,
    "r_start_ohm": 1e6,
    "v_start_v": {"low": 95.0, "typical": 110.0, "high": 120.0, "source": "measured", "note": "bench"},
    "v_stop_v": 45.0,
    "p_run_w": 6.0,
}
RELAY = {
    "c_snubber_f": 4.7e-9,
    "standby": {"kind": "switching", "p_w": 0.2, "c_reservoir_f": 4.7e-6, "v_min_v": 40.0, "r_reservoir_ohm": 1e6},
    "p_max_led_w": 150.0,
    "i_need_on_a": 5e-5,
}
BARE = {"c_snubber_f": 0.0, "p_max_led_w": 150.0}


def sheet(control: dict[str, object], lamps: int = 1) -> Sheet:
    return read(
        {
            "sheet_version": 1,
            "name": "way",
            "supply": {"v_rms": 230.0, "f_hz": 50.0},
            "cable": {"c_line_to_switched_f": 8e-10, "c_switched_to_neutral_f": 4e-10},
            "control": control,
            "bypass": [],
            "lamps": [{**LAMP, "count": lamps}],
        }
    )


def asked(lamps: int = 1, **changes: object) -> Asked:
    """One gang, a relay planned, a module, a fed control and a timer on the shelf; everything was looked at."""
    relay = replace(plain(), price=30.0, companion=word(YesNo, YesNo.YES), depth_m=0.024, width_m=0.045, height_m=0.045)
    offered = [
        Offered(key="relay", hardware=relay, sheets={1: sheet(RELAY, lamps)}),
        Offered(
            key="module",
            hardware=replace(plain(sort=Sort.MODULE, neutral=Demand.REQUIRED), price=31.0),
            sheets={1: sheet(BARE, lamps)},
        ),
        Offered(
            key="fed", hardware=replace(plain(neutral=Demand.REQUIRED), price=28.0), sheets={1: sheet(BARE, lamps)}
        ),
        Offered(key="timer", hardware=replace(plain(sort=Sort.TIMER), price=36.0), sheets={1: sheet(BARE, lamps)}),
    ]
    figure = {"c_f": Figure(low=8e-8, typical=1e-7, high=1.2e-7, source=Source.DECLARED)}
    part = Candidate(name="X2", bypass=CapacitorBypass(c_f=1e-7, r_parallel_ohm=1e6, price=2.0), figures=figure)
    made = Asked(
        found=found("feed_at_ceiling", line=At.YES, neutral=OwnNeutral.OWN),
        offered=offered,
        planned={1: "relay"},
        as_found={1: sheet(BARE, lamps)},
        bypasses=[part],
    )
    return replace(made, **changes)  # type: ignore[arg-type]


class Judged(TestCase):
    """Each way by the engines."""

    def test_a_way_says_what_the_bench_says(self) -> None:
        """The two-wire way is the loop as it is judged everywhere; one lamp blinks on it, ten do not."""
        for lamps in (1, 10):
            row = rate(asked(lamps), Way.TWO_WIRE)
            plain_one = sheet(RELAY, lamps)
            assert row.overall is not None
            self.assertEqual(row.overall, overall(plain_one, judge(plain_one, with_meter=False)))
        self.assertIs(rate(asked(1), Way.TWO_WIRE).works, Works.DOES_NOT)

    def test_a_bypass_cures_what_blinks(self) -> None:
        """Chosen from the shelf; that of the bench goes before it where it does."""
        row = rate(asked(1), Way.WITH_BYPASS)
        self.assertEqual(row.bypass, {1: "X2"})
        self.assertIn(row.works, (Works.WORKS, Works.PROBABLY, Works.NOT_SURE))
        assert row.overall is not None
        self.assertEqual(row.overall.well_count, row.overall.sample_count)
        own = replace(asked(1).bypasses[0], name="own")
        self.assertEqual(rate(asked(1, fitted_bypass={1: own}), Way.WITH_BYPASS).bypass, {1: "own"})
        self.assertEqual(rate(asked(1, bypasses=[]), Way.WITH_BYPASS).against, "no_bypass_does")

    def test_fed_straight_nothing_flows_through_the_lamps(self) -> None:
        """The same relay fed by line and neutral leaves only its snubber in the loop."""
        through = solve(sheet(RELAY).loop).line_i_rms_a
        straight = solve(wired_for(sheet(RELAY), Way.NEUTRAL_PRESENT).loop).line_i_rms_a
        self.assertLess(straight, through)
        control = wired_for(sheet(RELAY), Way.NEUTRAL_PRESENT).loop.control
        self.assertEqual((control.standby, control.has_neutral, control.has_electronics), (None, True, True))

    def test_a_leaflet_says_how_a_control_may_hang(self) -> None:
        """By its neutral alone where it demands one, by two wires where it knows none, any way where it is silent."""
        required, none = Hardware(neutral=2.0), Hardware(neutral=0.0)
        self.assertEqual(wirings_of(required), (Wired.STRAIGHT,))
        self.assertEqual(wirings_of(none), (Wired.LOOP, Wired.PAIR))
        for silent in (Hardware(), Hardware(neutral=1.0)):
            self.assertEqual(wirings_of(silent), (Wired.LOOP, Wired.STRAIGHT, Wired.PAIR))

    def test_a_pair_is_judged_as_two(self) -> None:
        """About twice the off-state current where the lamps pass it; the same voltages on the control's own parts."""
        lamps = sheet(RELAY, 10)
        one, two = solve(lamps.loop), solve(wired_for(lamps, Way.PAIR).loop)
        self.assertAlmostEqual(two.line_i_rms_a / one.line_i_rms_a, 2.0, delta=0.35)
        doubled = pair_of(lamps.loop.control)
        self.assertEqual(pair_of(doubled).c_snubber_f, 4.0 * lamps.loop.control.c_snubber_f)

    def test_ranges_go_along_with_a_pair(self) -> None:
        """A figure known within a tenth is known within a tenth of its double; one pair is one pair of all figures."""
        ranged = sheet(
            {
                **RELAY,
                "standby": {
                    **RELAY["standby"],
                    "p_w": {"low": 0.18, "typical": 0.2, "high": 0.22, "source": "declared"},
                },
            }
        )  # type: ignore[dict-item]
        paired = wired_for(ranged, Way.PAIR)
        figure = paired.figures["control.standby.p_w"]
        self.assertEqual((figure.low, figure.typical, figure.high), (0.36, 0.4, 0.44))
        self.assertEqual(paired.loop.control.standby.p_w, 0.4)  # type: ignore[union-attr]
        self.assertNotIn("control.standby.p_w", wired_for(ranged, Way.NEUTRAL_PRESENT).figures)
        self.assertEqual(paired.figures["lamps[0].v_start_v"], ranged.figures["lamps[0].v_start_v"])

    def test_what_a_record_says_is_what_the_comparison_judged(self) -> None:
        """The control's entry changed before the sheet is read, or the sheet that was read: the same loop."""
        p_w = {"low": 0.18, "typical": 0.2, "high": 0.22, "source": "declared"}
        control = {**RELAY, "standby": {**RELAY["standby"], "p_w": p_w}}
        for way in (Way.TWO_WIRE, Way.PAIR, Way.NEUTRAL_PRESENT):
            of_record = sheet(figures_as_wired(control, wired_by(way)))
            of_way = wired_for(sheet(control), way)  # type: ignore[arg-type]
            self.assertEqual((of_record.loop, of_record.figures), (of_way.loop, of_way.figures), way)
        self.assertIs(wired_by(Way.NEUTRAL_PRESENT), Wired.STRAIGHT)
        self.assertEqual(figures_as_wired({"c_snubber_f": "much"}, Wired.PAIR), {"c_snubber_f": "much"})

    def test_a_gang_of_which_nothing_is_known_leaves_the_whole_unknown(self) -> None:
        """Two gangs, one without lamps: no way is called good by the other; what does not work still does not."""
        two = found("feed_at_ceiling", gangs=2, line=At.YES, neutral=OwnNeutral.OWN)
        for lamps, works in ((10, Works.UNKNOWN), (1, Works.DOES_NOT)):
            row = rate(asked(lamps, found=two), Way.TWO_WIRE)
            self.assertIs(row.works, works)
            self.assertFalse(row.is_usable)
        self.assertIs(rate(asked(10, found=two), Way.LEAVE).works, Works.UNKNOWN)
        self.assertIsNot(rate(asked(10, found=two, kept=[2]), Way.TWO_WIRE).works, Works.UNKNOWN)

    def test_a_gang_that_no_bypass_cures_stands_against_it(self) -> None:
        """Though another gang has one that does: it is not left out of the answer."""
        two = found("feed_at_ceiling", gangs=2, line=At.YES, neutral=OwnNeutral.OWN)
        ask = asked(1, found=two)
        offered = [replace(one, sheets={1: sheet(RELAY, 1), 2: sheet(RELAY, 1)}) for one in ask.offered[:1]]
        lone = replace(offered[0], hardware=replace(offered[0].hardware, outputs=1))
        huge = Candidate(name="huge", bypass=CapacitorBypass(c_f=5e-6, r_parallel_ohm=1e6), figures={})
        row = rate(replace(ask, offered=[lone], fitted_bypass={1: ask.bypasses[0]}, bypasses=[huge]), Way.WITH_BYPASS)
        self.assertEqual(row.against, "no_bypass_does")

    def test_what_is_planned_goes_before_the_rest_of_the_shelf(self) -> None:
        """Though another is cheaper; asked for by name the other is taken."""
        cheap = Offered(key="cheap", hardware=replace(plain(), price=1.0), sheets={1: sheet(RELAY, 10)})
        ask = asked(10)
        ask = replace(ask, offered=[*ask.offered, cheap])
        self.assertEqual(rate(ask, Way.TWO_WIRE).control, "relay")
        self.assertEqual(rate(ask, Way.TWO_WIRE, "cheap").control, "cheap")
        self.assertEqual(rate(replace(ask, planned={}), Way.TWO_WIRE).control, "cheap")

    def test_depth_counts(self) -> None:
        """A box that is too shallow makes a way unusable, a measured one that has room does not."""
        shallow = Box(gangs=(Ways.ONE_WAY,), circuits=1, room_left_m=0.001)
        row = rate(asked(10, box=shallow), Way.TWO_WIRE)
        assert row.depth is not None
        self.assertIs(row.depth.fit, Fit.DOES_NOT_FIT if row.depth.spacer_m is None else Fit.FITS_WITH_SPACER)
        tight = rate(asked(10, box=shallow, spacers_m=(0.002,)), Way.TWO_WIRE)
        self.assertFalse(tight.is_usable)
        roomy = rate(asked(10, box=replace(shallow, room_left_m=0.04)), Way.TWO_WIRE)
        self.assertTrue(roomy.is_usable)

    def test_what_goes_into_the_box_counts_and_nothing_else(self) -> None:
        """A module at the luminaire takes none of its depth; behind a switch the switch takes some too."""
        box = Box(gangs=(Ways.ONE_WAY,), circuits=1, room_left_m=0.03)
        ask = asked(10, box=box, spacers_m=(0.002,))
        module = replace(ask.offered[1].hardware, depth_m=0.018)
        behind = replace(plain(sort=Sort.MODULE), depth_m=0.018)
        offered = [
            replace(ask.offered[1], hardware=module),
            Offered(key="behind", hardware=behind, sheets={1: sheet(RELAY, 10)}),
        ]
        ask = replace(ask, offered=offered)
        self.assertIsNone(rate(ask, Way.MODULE_AT_LAMP).depth)
        row = rate(ask, Way.MODULE_BEHIND_SWITCH)
        assert row.depth is not None
        self.assertAlmostEqual(row.depth.needed_m, 0.018 + OLD_SWITCH_DEPTH_M)
        self.assertFalse(row.is_usable)


class Weighed(TestCase):
    """The order of values."""

    def test_certainty_goes_before_cost_and_the_other_way_round(self) -> None:
        """One lamp: the two-wire way does not work; what works and serves is favoured, by the order."""
        found_so = compare(asked(1))
        rows = {row.way: row for row in found_so.rows}
        self.assertFalse(rows[Way.TWO_WIRE].is_usable)
        assert found_so.favoured is not None
        first = rows[found_so.favoured]
        for row in found_so.rows:
            if row.is_usable and row.scores is not None and first.scores is not None and "no_remote" not in row.losses:
                self.assertLessEqual(
                    [first.scores[value] for value in ORDER], [row.scores[value] for value in ORDER], row.way
                )
        by_cost = compare(asked(1, order=(Value.COST, Value.SAFETY, Value.CERTAINTY, Value.FUNCTION)))
        costs = [r.scores[Value.COST] for r in by_cost.rows if r.is_usable and r.scores and "no_remote" not in r.losses]
        self.assertEqual(costs, sorted(costs))

    def test_what_was_asked_for_goes_before_what_is_cheap(self) -> None:
        """Leaving the switch costs nothing and is sure; it is favoured only where no radio is planned."""
        self.assertIsNot(compare(asked(10)).favoured, Way.LEAVE)
        self.assertIs(compare(asked(10, planned={1: ""})).favoured, Way.LEAVE)
        self.assertIs(compare(asked(10, planned={1: "timer"})).favoured, Way.TIMER)

    def test_what_nobody_saw_makes_a_way_at_the_ceiling_less_certain(self) -> None:
        """By half a step, so that it comes after what is as good and was seen."""
        seen, unseen = (
            rate(asked(10), Way.MODULE_WITH_SWITCH),
            rate(asked(10, found=found("feed_at_ceiling")), Way.MODULE_WITH_SWITCH),
        )
        assert seen.scores is not None
        assert unseen.scores is not None
        self.assertAlmostEqual(unseen.scores[Value.CERTAINTY] - seen.scores[Value.CERTAINTY], 0.5)

    def test_losses_are_told(self) -> None:
        """No companion, nothing without a hub, the fabric opened, a battery at the wall."""
        lone = replace(
            plain(sort=Sort.MODULE, neutral=Demand.REQUIRED),
            companion=word(YesNo, YesNo.NO),
            without_hub=float(list(WithoutHub).index(WithoutHub.NOTHING)),
        )
        only = Offered(key="lone", hardware=lone, sheets={1: sheet(BARE, 10)})
        row = rate(asked(10, offered=[only], planned={}), Way.MODULE_AT_LAMP)
        self.assertEqual(set(row.losses), {"battery_at_the_wall", "nothing_without_hub", "no_companion"})
        self.assertIsNone(row.price)
        ask = asked(10)
        self.assertIn("fabric_opened", rate(ask, Way.NEW_NEUTRAL).losses)
        drawn_in = replace(ask, known=replace(ask.known, in_conduit=True))
        self.assertEqual(rate(drawn_in, Way.NEW_NEUTRAL).losses, ("conduit_may_be_full",))

    def test_it_stops_when_it_is_told_to(self) -> None:
        """With what was rated by then, and says that it is not all."""
        seen: list[int] = []

        def told(done: int, of: int, so_far: object) -> bool:
            seen.append(done)
            return done < 2

        stopped = compare(asked(10), told)
        self.assertEqual((seen, len(stopped.rows), stopped.is_complete), ([1, 2], 2, False))

    def test_nothing_is_favoured_where_nothing_is_known(self) -> None:
        """Without lamps every way is unknown; without a wiring there is none."""
        empty = [replace(one, sheets={}) for one in asked().offered]
        unknown = compare(asked(offered=empty, as_found={}))
        self.assertIsNone(unknown.favoured)
        self.assertEqual({row.works for row in unknown.rows}, {Works.UNKNOWN})
        lost = compare(asked(found=replace(asked().found, seats=None, against="box_not_surveyed")))
        self.assertEqual(lost.rows, ())
