"""Least and largest load: each limit with a load just inside and just outside, and which one governs."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.test import SimpleTestCase, tag

from ember_core.compatibility.gang import while_lit
from ember_core.compatibility.load_limits import From, LoadLimit, LoadLimits, LoadState, Side, load_limits
from ember_core.findings import Severity
from ember_core.lit.holding import holds_to_deg, wanted_hold_deg
from ember_core.lit.loads import capacitance_f
from ember_core.lit.ranges import SAMPLES, samples_of, typical_of
from ember_core.lit.stress import inrush, peak_allowed_a, stiff, stress, with_count
from ember_core.lit.supply import supply_needs_f
from ember_core.loop import Loop
from ember_core.parts import (
    DimmableDriverLamp,
    ElectronicTransformerLamp,
    FilamentLamp,
    IronCoreTransformerLamp,
    Lamp,
    PhaseMode,
)
from ember_core.quantities import Figure, Source
from ember_core.sheet import Sheet
from ember_core.spread.judged import is_well
from ember_core.spread.least_load import MOST_LAMPS
from ember_core.spread.most_load import declared_loads
from ember_core.spread.observe import observe
from tests.core.drawn import drawn_sheets
from tests.core.loops import LAMP, RELAY, capacitor, loop

DRIVER = DimmableDriverLamp(count=3, c_x_f=6.8e-8, c_bulk_f=4.7e-6, v_start_v=100.0, v_stop_v=40.0, p_run_w=8.0)
FILAMENT = FilamentLamp(count=1, r_cold_ohm=110.0, p_rated_w=40.0)
IRON = IronCoreTransformerLamp(count=2, r_winding_ohm=20.0, l_magnetising_h=6.0, p_rated_w=50.0)
ELECTRONIC = ElectronicTransformerLamp(
    count=1, c_bulk_f=1e-7, v_start_v=60.0, v_stop_v=12.0, p_run_w=35.0, p_least_w=40.0
)

RATINGS = ("p_min_w", "p_max_led_w", "p_max_filament_w", "i_max_a", "i_inrush_max_a", "i2t_max_a2s")


def gang(mode: PhaseMode | None, *lamps: Lamp, **control: Any) -> Loop:
    """A control of a mode with lamps and no bypass."""
    phase = None if mode is None else float(list(PhaseMode).index(mode))
    return loop(bypass=(), control=replace(RELAY, phase=phase, **control), lamps=lamps)


def limits(given: Loop) -> LoadLimits:
    """Of a gang of which every figure is a point."""
    return load_limits(Sheet(loop=given))


def told(given: Loop, **sources: str) -> LoadLimits:
    """Of a gang whose control has every limit declared, except as named."""
    stated = {name: getattr(given.control, name) for name in (*RATINGS, *sources)}
    figures = {
        f"control.{name}": Figure.point(value, Source(sources.get(name, "declared")))
        for name, value in stated.items()
        if value is not None
    }
    return load_limits(Sheet(loop=given, figures=figures))


def row(found: LoadLimits, rule: str) -> LoadLimit:
    """One of the limits."""
    (one,) = [entry for entry in found.rows if entry.rule == rule]
    return one


class Computed(SimpleTestCase):
    """Limits that are computed, at their edges."""

    def test_off_is_the_first_count_that_is_well(self) -> None:
        """That many lamps stay dark and feed the control, one fewer does not; a bypass lowers it."""
        given = gang(PhaseMode.ON_OFF, LAMP)
        count = row(limits(given), "off").count
        assert count is not None
        self.assertTrue(is_well(observe(with_count(given, 0, count))))
        self.assertFalse(is_well(observe(with_count(given, 0, count - 1))))
        helped = row(limits(replace(given, bypass=(capacitor(2.2e-7),))), "off").count
        self.assertLess(helped or MOST_LAMPS, count)

    def test_holding_is_the_first_count_that_surely_holds(self) -> None:
        """Over the same samples: all but a twentieth hold with it, fewer with one lamp less."""
        given = gang(PhaseMode.LEADING, DRIVER)
        count = row(limits(given), "holds").count
        assert count is not None
        tried = samples_of(given, SAMPLES, 1, {}, PhaseMode.LEADING)
        for lamps, is_sure in ((count, True), (count - 1, False)):
            on = with_count(given, 0, lamps)
            held = [holds_to_deg(on, figures) >= wanted_hold_deg(on) for figures in tried]
            self.assertEqual(sum(held) >= 0.95 * len(held), is_sure)

    def test_peak_is_the_last_count_that_is_borne(self) -> None:
        """On a stiff supply; a larger rating allows more."""
        given = gang(PhaseMode.LEADING, DRIVER, p_max_filament_w=250.0)
        count = row(limits(given), "peak").count
        assert count is not None
        allowed = peak_allowed_a(given, 3.0)
        assert allowed is not None
        for lamps, is_borne in ((count, True), (count + 1, False)):
            on = with_count(given, 0, lamps)
            self.assertEqual(stress(on, stiff(on, typical_of(on))).i_peak_a <= allowed, is_borne)
        more = row(limits(gang(PhaseMode.LEADING, DRIVER, p_max_filament_w=500.0)), "peak").count
        self.assertGreater(more or 0, count)

    def test_inrush_is_the_last_count_that_the_contact_stands(self) -> None:
        """Peak and I²t each by itself."""
        given = gang(PhaseMode.ON_OFF, LAMP, i_inrush_max_a=80.0, i2t_max_a2s=0.5)
        found = limits(given)
        for rule, name, most in (("inrush_peak", "i_peak_a", 80.0), ("inrush_i2t", "i2t_a2s", 0.5)):
            count = row(found, rule).count
            assert count is not None
            for lamps, is_borne in ((count, True), (count + 1, False)):
                on = with_count(given, 0, lamps)
                self.assertEqual(getattr(inrush(on, stiff(on, typical_of(on))), name) <= most, is_borne)

    def test_the_supply_while_on_is_a_matter_of_capacitance(self) -> None:
        """The count whose input capacitors give what nearly every sample needs; a filament makes one lamp enough."""
        given = gang(PhaseMode.ON_OFF, LAMP)
        count = row(limits(given), "supply_on").count
        assert count is not None
        tried = samples_of(given, SAMPLES, 1, {}, PhaseMode.ON_OFF)
        for lamps, is_sure in ((count, True), (count - 1, False)):
            on = with_count(given, 0, lamps)
            fed = [capacitance_f(on, one, with_film=False) >= supply_needs_f(on, one) for one in tried]
            self.assertEqual(sum(fed) >= 0.95 * len(fed), is_sure)
        self.assertEqual(row(limits(gang(PhaseMode.ON_OFF, LAMP, FILAMENT)), "supply_on").count, 1)

    @tag("whole")
    def test_a_finding_and_a_limit_are_of_the_same_samples(self) -> None:
        """Over drawn gangs on each edge: where the one is sure the other calls the limit met, and only there."""
        sure = {
            "on_supply_fed": "supply_on",
            "on_supply_by_load": "supply_on",
            "on_holds": "holds",
            "on_decays": "decays",
        }
        unsure = {"on_supply_unsure": "supply_on", "on_lets_go_early": "holds", "on_decays_late": "decays"}
        told = dict.fromkeys((*sure, *unsure), 0)
        for mode, count in ((None, 80), (PhaseMode.LEADING, 16), (PhaseMode.TRAILING, 60)):
            for given in drawn_sheets(count, 31, least_bypass=1):
                phase = None if mode is None else float(list(PhaseMode).index(mode))
                one = replace(given, loop=replace(given.loop, control=replace(given.loop.control, phase=phase)))
                found = load_limits(one).rows
                rows = {row.rule: row.is_met for row in found}
                reached = {row.rule: row.is_reached for row in found}
                for finding in while_lit(one, with_picture=False).findings:
                    if finding.code in told:
                        told[finding.code] += 1
                        rule = {**sure, **unsure}[finding.code]
                        self.assertEqual(rows[rule] is True, finding.code in sure, (finding.code, rows))
                        if rule != "supply_on":
                            # What stops the light on is no more than broken, what asks for a setting no less than open.
                            is_broken = finding.severity is Severity.STOP
                            self.assertEqual(rows[rule] is False, is_broken, (finding, rows))
                            self.assertTrue(is_broken or reached[rule], (finding, rows))
        self.assertEqual([code for code, count in told.items() if count < 2], [])

    def test_what_no_number_of_lamps_does_is_said(self) -> None:
        """Capacitor-input lamps never hold a triac; drivers that decay in some samples are unsure, not failed."""
        never = row(limits(gang(PhaseMode.LEADING, LAMP)), "holds")
        self.assertEqual((never.count, never.is_met, never.is_reached), (None, False, False))
        unsure = row(limits(gang(PhaseMode.TRAILING, DRIVER)), "decays")
        self.assertEqual((unsure.count, unsure.is_met, unsure.is_reached), (None, None, True))

    def test_what_is_not_rated_is_unknown(self) -> None:
        """Neither met nor not met, and then the whole is not known."""
        found = limits(gang(PhaseMode.LEADING, FILAMENT))
        self.assertIsNone(row(found, "peak").is_met)
        self.assertIs(found.state, LoadState.UNKNOWN)


class Declared(SimpleTestCase):
    """Limits that the maker states."""

    def test_watts_become_lamps_beside_the_other_groups(self) -> None:
        """60 W of filament allow one of 40 W; beside drivers all kinds count as shares."""
        found = limits(gang(None, FILAMENT, p_max_filament_w=60.0))
        self.assertEqual((row(found, "most_filament_w").count, row(found, "most_filament_w").is_met), (1, True))
        mixed = limits(gang(None, FILAMENT, DRIVER, p_max_filament_w=60.0, p_max_led_w=100.0))
        self.assertEqual((row(mixed, "most_mixed").count, row(mixed, "most_mixed").is_met), (None, True))
        over = limits(gang(None, FILAMENT, DRIVER, p_max_filament_w=50.0, p_max_led_w=100.0))
        self.assertFalse(row(over, "most_mixed").is_met)

    def test_transformers_count_on_their_own_rating(self) -> None:
        """100 W on 90 and on 110 VA."""
        for va, is_met in ((90.0, False), (110.0, True)):
            (load,) = declared_loads(
                replace(
                    gang(None, IRON, s_max_transformer_va=va),
                    control=replace(RELAY, standby=None, s_max_transformer_va=va),
                )
            )
            self.assertEqual((load.rule, load.is_met), ("most_transformer_va", is_met))

    def test_amperes_say_nothing_of_led_lamps(self) -> None:
        """Told beside, no count, and not in the way of a yes."""
        control = {"p_max_led_w": 100.0, "i_max_a": 6.0, "i_inrush_max_a": 400.0, "p_min_w": 5.0}
        found = told(gang(PhaseMode.ON_OFF, replace(DRIVER, count=4), **control))
        beside = row(found, "most_current")
        self.assertTrue(beside.is_beside)
        self.assertEqual((beside.count, beside.is_met, found.state), (None, None, LoadState.MET))
        resistive = row(limits(gang(None, FILAMENT, i_max_a=0.5)), "most_current")
        self.assertEqual((resistive.count, resistive.is_beside), (2, False))

    def test_a_limit_comes_from_where_its_figures_do(self) -> None:
        """Declared, measured or supposed, by the least of them; what is missing is its maker's to say."""
        both = gang(None, DRIVER, FILAMENT, p_min_w=5.0, p_max_led_w=60.0, p_max_filament_w=200.0)
        for sources, least, mixed in (
            (("declared", "declared", "declared"), From.DECLARED, From.DECLARED),
            (("measured", "declared", "measured"), From.MEASURED, From.MEASURED),
            (("declared", "measured", "assumed"), From.DECLARED, From.ASSUMED),
            (("assumed", "declared", "declared"), From.ASSUMED, From.DECLARED),
        ):
            names = ("p_min_w", "p_max_led_w", "p_max_filament_w")
            figures = {
                f"control.{name}": Figure.point(getattr(both.control, name), Source(source))
                for name, source in zip(names, sources, strict=True)
            }
            found = load_limits(Sheet(loop=both, figures=figures))
            self.assertEqual((row(found, "least_declared").origin, row(found, "most_mixed").origin), (least, mixed))
        missing = row(limits(gang(None, DRIVER)), "most_led_w")
        self.assertEqual((missing.is_met, missing.origin), (None, From.DECLARED))

    def test_an_assumed_limit_that_is_kept_settles_nothing(self) -> None:
        """Each rating that a limit rests on, one assumed at a time: within, but not surely; broken stays broken."""
        relay = gang(
            PhaseMode.ON_OFF,
            replace(DRIVER, count=4),
            **{"p_min_w": 5.0, "p_max_led_w": 100.0, "i_inrush_max_a": 400.0, "i2t_max_a2s": 40.0},
        )
        dimmer = gang(PhaseMode.LEADING, replace(FILAMENT, count=3), p_min_w=20.0, p_max_filament_w=400.0)
        dimmer = replace(dimmer, control=replace(dimmer.control, standby=None))
        for given, rules in (
            (
                relay,
                {
                    "p_min_w": ("least_declared",),
                    "p_max_led_w": ("most_led_w",),
                    "i_inrush_max_a": ("inrush_peak",),
                    "i2t_max_a2s": ("inrush_i2t",),
                },
            ),
            (dimmer, {"p_min_w": ("least_declared",), "p_max_filament_w": ("most_filament_w", "peak", "rms")}),
        ):
            self.assertIs(told(given).state, LoadState.MET)
            for name, assumed in rules.items():
                found = told(given, **{name: "assumed"})
                self.assertIs(found.state, LoadState.ASSUMED, name)
                self.assertEqual(tuple(one.rule for one in found.rows if one.is_assumed), assumed)
                self.assertIs(told(given, **{name: "measured"}).state, LoadState.MET)
        over = replace(relay, control=replace(relay.control, p_max_led_w=30.0))
        self.assertIs(told(over, p_max_led_w="assumed").state, LoadState.NOT_MET)
        beside = replace(relay, control=replace(relay.control, i_max_a=6.0))
        self.assertIs(told(beside, i_max_a="assumed").state, LoadState.MET)

    def test_assumed_watts_of_lamps_that_decide_a_limit_leave_it_open(self) -> None:
        """Just inside and just outside at each end of their range, from below and above; declared ones count as are."""
        five = gang(PhaseMode.ON_OFF, replace(DRIVER, count=5, p_run_w=6.0))
        for low, high, source, least, most in (
            (5.0, 7.9, "assumed", True, True),
            (5.0, 8.1, "assumed", True, None),
            (3.9, 7.9, "assumed", None, True),
            (3.9, 8.1, "assumed", None, None),
            (3.9, 8.1, "declared", True, True),
            (3.9, 8.1, "measured", True, True),
        ):
            given = replace(five, control=replace(five.control, p_min_w=20.0, p_max_led_w=40.0))
            watts = Figure(low=low, typical=6.0, high=high, source=Source(source), note="")
            found = load_limits(Sheet(loop=given, figures={"lamps[0].p_run_w": watts}))
            below, above = row(found, "least_declared"), row(found, "most_led_w")
            self.assertEqual((below.is_met, above.is_met), (least, most), (low, high, source))
            for one in (below, above):
                self.assertEqual(one.watts_range, (5 * low, 5 * high) if one.is_met is None else None)
        over = replace(five, control=replace(five.control, p_max_led_w=10.0))
        watts = Figure(low=3.0, typical=6.0, high=12.0, source=Source.ASSUMED, note="")
        self.assertIs(
            row(load_limits(Sheet(loop=over, figures={"lamps[0].p_run_w": watts})), "most_led_w").is_met, False
        )

    def test_a_transformer_s_least_load_is_a_row(self) -> None:
        """Of what hangs on it, not of how many there are."""
        one = row(limits(gang(PhaseMode.TRAILING, ELECTRONIC)), "transformer")
        self.assertEqual((one.side, one.count, one.is_met), (Side.LEAST, None, False))


class Governing(SimpleTestCase):
    """Which limit counts."""

    def test_the_highest_least_and_the_lowest_most_govern(self) -> None:
        """Over every row that is known."""
        found = limits(gang(PhaseMode.LEADING, DRIVER, p_max_filament_w=250.0, p_max_led_w=60.0, p_min_w=5.0))
        assert found.least is not None
        assert found.most is not None
        least = [one.count for one in found.rows if one.side is Side.LEAST and one.count is not None]
        most = [one.count for one in found.rows if one.side is Side.MOST and one.count is not None]
        self.assertEqual(found.rows[found.least].count, max(least))
        self.assertEqual(found.rows[found.most].count, min(most))
        self.assertEqual((found.group, found.there, found.watts), (1, 3, 24.0))

    def test_the_largest_group_is_counted(self) -> None:
        """The others stay: one filament helps the drivers to hold."""
        found = limits(gang(PhaseMode.LEADING, FILAMENT, DRIVER))
        self.assertEqual(found.group, 2)
        self.assertEqual(row(found, "holds").count, 1)

    def test_a_dimmer_to_be_set_is_counted_on_the_edge_it_will_be_set_to(self) -> None:
        """Trailing for drivers, leading for an iron core; one that chooses by itself on both."""
        for mode, lamp, wanted in (
            (PhaseMode.SELECTABLE, replace(DRIVER, dimming=3.0), {"decays"}),
            (PhaseMode.SELECTABLE, IRON, {"holds"}),
            (PhaseMode.AUTOMATIC, DRIVER, {"decays", "holds"}),
        ):
            rules = {one.rule for one in limits(gang(mode, lamp)).rows}
            self.assertEqual({"decays", "holds"} & rules, wanted)
