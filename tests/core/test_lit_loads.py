"""A gang as loads of the on state, counted by hand; and what the matrix must never say."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

from django.test import SimpleTestCase

from ember_core.bypass.limits import decay_limit_f
from ember_core.bypass.window import active_of, active_window, capacitor_of, sure_from, with_bypass
from ember_core.compatibility.matrix import DECLARATIONS, Goes, LoadClass, class_of, rule_for, together, worst
from ember_core.lit.loads import capacitance_f, conductance_s, draws_of, on_case
from ember_core.lit.ranges import typical_of
from ember_core.lit.stress import stress
from ember_core.offstate.solve import solve
from ember_core.offstate.states import LampState, StandbyState
from ember_core.onstate.case import (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    FilamentLoad,
    LinearLoad,
    OnBleeder,
    OnCapacitor,
    OnResistor,
    Question,
)
from ember_core.parts import (
    ActiveBypass,
    CapacitorBypass,
    DimmableDriverLamp,
    FilamentLamp,
    LinearLamp,
    PhaseMode,
    PtcBypass,
    ResistorBypass,
)
from ember_core.sheet import Sheet
from tests.core.loops import CABLE, DROPPER, FEED, LAMP, RELAY, loop

DRIVER = DimmableDriverLamp(count=3, c_x_f=6.8e-8, c_bulk_f=4.7e-6, v_start_v=100.0, v_stop_v=40.0, p_run_w=8.0)
FILAMENT = FilamentLamp(count=2, r_cold_ohm=110.0, p_rated_w=40.0)
LINEAR = LinearLamp(count=1, c_x_f=1e-9, r_in_ohm=330.0, v_string_v=240.0)


class Cases(SimpleTestCase):
    """From the loop to the march."""

    def test_each_kind_of_lamp_becomes_its_load(self) -> None:
        """With the figures that the sheet has, and the typical ones for the rest."""
        given = loop(lamps=(LAMP, DRIVER, DROPPER, LINEAR, FILAMENT), bypass=())
        loads = on_case(given, PhaseMode.LEADING, 80.0, typical_of(given)).loads
        kinds = (CapacitorInputLoad, DriverLoad, DropperLoad, LinearLoad, FilamentLoad)
        self.assertEqual(tuple(type(load) for load in loads), kinds)
        driver, filament, linear = loads[1], loads[4], loads[3]
        assert isinstance(driver, DriverLoad)
        assert isinstance(filament, FilamentLoad)
        assert isinstance(linear, LinearLoad)
        self.assertAlmostEqual(driver.g_s, 8.0 / 230.0**2)
        self.assertEqual((driver.count, driver.c_x_f), (3, 6.8e-8))
        self.assertAlmostEqual(filament.r_hot_ohm, 230.0**2 / 40.0)
        self.assertEqual(linear.i_limit_a, typical_of(given).lamps[3]["i_limit_a"])

    def test_a_filament_without_watts_is_hot_by_its_class(self) -> None:
        """Cold resistance times the ratio of its kind."""
        given = loop(lamps=(replace(FILAMENT, p_rated_w=None),), bypass=())
        (load,) = on_case(given, PhaseMode.LEADING, 80.0, typical_of(given)).loads
        assert isinstance(load, FilamentLoad)
        self.assertAlmostEqual(load.r_hot_ohm, 110.0 * typical_of(given).lamps[0]["hot_to_cold_ratio"])

    def test_bypasses_come_along_with_the_cable(self) -> None:
        """Capacitor, resistor and electronic bleeder as they are, a PTC at its hot point."""
        ptc = PtcBypass(r_cold_ohm=2200.0, t_switch_k=353.15, r_thermal_k_per_w=60.0)
        active = ActiveBypass(i_limit_a=0.02, r_on_ohm=800.0, v_cutoff_v=60.0)
        parts = (CapacitorBypass(c_f=1e-7), ResistorBypass(r_ohm=22e3), ptc, active)
        given = loop(bypass=parts)
        bypass = on_case(given, PhaseMode.TRAILING, 80.0, typical_of(given)).bypass
        self.assertEqual(
            tuple(type(part) for part in bypass), (OnCapacitor, OnResistor, OnResistor, OnBleeder, OnCapacitor)
        )
        hot = bypass[2]
        assert isinstance(hot, OnResistor)
        self.assertGreater(hot.r_ohm, 10.0 * 2200.0)

    def test_the_edge_is_the_question(self) -> None:
        """And the level its angle."""
        for edge, question, name in (
            (PhaseMode.LEADING, Question.LEADING, "firing_deg"),
            (PhaseMode.TRAILING, Question.TRAILING, "turn_off_deg"),
            (PhaseMode.ON_OFF, Question.RELAY_INRUSH, "closing_deg"),
        ):
            case = on_case(loop(), edge, 77.0, typical_of(loop()))
            self.assertEqual((case.question, getattr(case.control, name)), (question, 77.0))


class ByHand(SimpleTestCase):
    """Sums over a gang."""

    def test_conductance_counts_what_draws_like_a_resistor(self) -> None:
        """Drivers and hot filaments by their watts, bleeders by their ohms; capacitor-input lamps not at all."""
        given = loop(lamps=(DRIVER, FILAMENT, LAMP), bypass=(ResistorBypass(r_ohm=22e3), CapacitorBypass(c_f=1e-7)))
        wanted = (3 * 8.0 + 2 * 40.0) / 230.0**2 + 1.0 / 22e3
        self.assertAlmostEqual(conductance_s(given, typical_of(given)), wanted)
        without = loop(lamps=(LAMP, DROPPER), bypass=())
        self.assertEqual(conductance_s(without, typical_of(without)), 0.0)

    def test_capacitance_counts_filters_films_bypass_and_cable(self) -> None:
        """The film only where the bridge conducts."""
        given = loop(lamps=(DRIVER, LAMP), bypass=(CapacitorBypass(c_f=1e-7),))
        without = 3 * 6.8e-8 + 2.2e-8 + 1e-7 + CABLE.c_switched_to_neutral_f
        self.assertAlmostEqual(capacitance_f(given, typical_of(given), with_film=False), without)
        with_film = without + 3 * typical_of(given).lamps[0]["c_film_f"]
        self.assertAlmostEqual(capacitance_f(given, typical_of(given), with_film=True), with_film)

    def test_each_load_empties_by_its_own_law(self) -> None:
        """A driver's stage down to where it stops, or its bleeder; an electronic bypass below its cut-off."""
        active = ActiveBypass(i_limit_a=0.02, r_on_ohm=800.0, v_cutoff_v=60.0)
        given = loop(lamps=(DRIVER,), bypass=(active,))
        own = typical_of(given).lamps[0]
        _, driver, bypass = draws_of(given, typical_of(given))
        self.assertAlmostEqual(driver.i_a, 3 * own["i_bleed_a"])
        self.assertEqual(driver.stops_v, own["v_stage_min_v"])
        self.assertEqual((bypass.i_a, bypass.g_s, bypass.opens_v), (0.02, 0.0, 60.0))

    def test_the_peak_grows_slower_than_the_count(self) -> None:
        """They share the choke."""
        gangs = [loop(lamps=(replace(LAMP, count=n),), bypass=()) for n in (1, 4, 16)]
        peaks = [stress(given, typical_of(given)).i_peak_a for given in gangs]
        self.assertEqual(peaks, sorted(peaks))
        self.assertLess(peaks[2] / 16.0, peaks[1] / 4.0)

    def test_the_decay_allows_what_the_lamps_leave(self) -> None:
        """Their own capacitance is taken off; a capacitor already there does not count against itself."""
        control = replace(RELAY, phase=2.0)
        bare = loop(lamps=(FILAMENT,), bypass=(), control=control)
        most, _ = decay_limit_f(bare)
        self.assertAlmostEqual(decay_limit_f(with_bypass(bare, capacitor_of(1e-7)))[0], most)
        more = replace(bare, cable=replace(CABLE, c_switched_to_neutral_f=1e-7))
        self.assertAlmostEqual(most - decay_limit_f(more)[0], 1e-7 - CABLE.c_switched_to_neutral_f)


class NeverSaid(SimpleTestCase):
    """What no rule of the matrix may answer."""

    def test_what_its_maker_calls_not_dimmable_is_never_dimmed(self) -> None:
        """Nor what has an interface of its own; a filament and an iron core need no declaration."""
        electronic = set(LoadClass) - {LoadClass.FILAMENT, LoadClass.IRON_CORE}
        for load, mode in product(electronic, set(PhaseMode) - {PhaseMode.ON_OFF}):
            for declared in ("not_dimmable", "own_interface"):
                self.assertIs(rule_for(load, declared, mode).verdict, Goes.MUST_NOT, (load, declared, mode))

    def test_a_relay_is_never_forbidden(self) -> None:
        """It switches anything, under conditions."""
        for load, declared in product(LoadClass, DECLARATIONS):
            self.assertIn(rule_for(load, declared, PhaseMode.ON_OFF).verdict, (Goes.GOES, Goes.GOES_IF))

    def test_an_iron_core_is_never_cut_on_the_trailing_edge(self) -> None:
        """Whatever is declared."""
        for declared in DECLARATIONS:
            self.assertIs(rule_for(LoadClass.IRON_CORE, declared, PhaseMode.TRAILING).verdict, Goes.MUST_NOT)

    def test_not_knowing_is_never_better_than_the_best_and_never_a_yes(self) -> None:
        """An unknown declaration of an electronic load gives no yes on any edge."""
        for load in (LoadClass.DRIVER, LoadClass.LINEAR, LoadClass.ELECTRONIC_TRANSFORMER):
            for mode in (PhaseMode.LEADING, PhaseMode.TRAILING):
                self.assertIs(rule_for(load, "unknown", mode).verdict, Goes.UNKNOWN)

    def test_adding_a_load_never_makes_it_better(self) -> None:
        """Over every pair, in every mode."""
        everything = list(product(LoadClass, ("both", "unknown", "trailing")))
        for first, second in product(everything, everything):
            for mode in PhaseMode:
                pair = together([first, second], mode).verdict
                alone = together([first], mode).verdict
                self.assertIs(worst([pair, alone]), pair)

    def test_a_control_that_no_lamp_feeds_is_not_asked_about_its_supply(self) -> None:
        """The verdict, the reason and every other condition are the same, and so are the figures of what is left."""
        for load, declared, mode in product(LoadClass, DECLARATIONS, PhaseMode):
            fed, unfed = (together([(load, declared)], mode, has_feed=has) for has in (True, False))
            (before,), (after,) = fed.members, unfed.members
            self.assertEqual((fed.verdict, fed.mixed), (unfed.verdict, unfed.mixed))
            self.assertEqual((before.id, before.reason), (after.id, after.reason))
            if "supply" in (before.test or ""):
                self.assertNotIn("supply", after.test or "supply")
                self.assertFalse(any(code.startswith(("on_supply", "on_gap")) for code in after.figures))
                self.assertLess(set(after.figures), set(before.figures))
            else:
                self.assertEqual(before, after)

    def test_every_lamp_has_a_class(self) -> None:
        """As it stands in the loop."""
        wanted = {
            LAMP: LoadClass.CAPACITOR_INPUT,
            DRIVER: LoadClass.DRIVER,
            DROPPER: LoadClass.DROPPER,
            LINEAR: LoadClass.LINEAR,
            FILAMENT: LoadClass.FILAMENT,
        }
        for lamp, load in wanted.items():
            self.assertIs(class_of(lamp), load)


class ActiveWindows(SimpleTestCase):
    """Electronic bleeders by their current."""

    def test_its_edge_is_where_the_full_solution_turns(self) -> None:
        """3 % below it fails, 3 % above it works."""
        given = loop(bypass=(), lamps=(replace(LAMP, v_start_v=80.0, v_stop_v=35.0),))
        edge = active_window(given).low
        assert edge is not None
        for ratio, is_well in ((0.97, False), (1.03, True)):
            off = solve(with_bypass(given, active_of(given, ratio * edge)))
            well = off.lamps[0].state is LampState.DARK and off.control.state is StandbyState.FED
            self.assertEqual(well, is_well, ratio)

    def test_where_nothing_is_sure_there_is_no_sure_edge(self) -> None:
        """A control that no allowed value feeds."""
        hungry = loop(bypass=(), control=replace(RELAY, standby=replace(FEED, p_w=4.0)))
        self.assertIsNone(sure_from(Sheet(loop=hungry), capacitor_of, 1e-7, 3e-7))
