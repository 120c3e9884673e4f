"""What must hold of every gang with the light on, whatever its figures: at both supplies and over random loads."""

from __future__ import annotations

from dataclasses import replace
from math import inf

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from ember_core.bypass.limits import capacitor_limits, spike_limit_f
from ember_core.compatibility.gang import while_lit
from ember_core.compatibility.matrix import Goes, class_of, declared_of, together, worst
from ember_core.lit.decay import TURN_OFF_DEG, decay_spare_s
from ember_core.lit.holding import draws_after_crest, holds_to_deg, latches_from_deg, ring_settles
from ember_core.lit.light import drop_out_deg, light_curve, pop_on_deg
from ember_core.lit.loads import LOW_RATIO, capacitance_f, on_case, window_case
from ember_core.lit.ranges import LitFigures, on_ranges, samples_of, source_figures, typical_of
from ember_core.lit.stress import inrush, most_on_dimmer, stiff, stress, trapped_v, weak, with_count
from ember_core.lit.supply import fed_by_load, gap_deg, supply_gets_a, supply_needs_f
from ember_core.loop import Loop
from ember_core.onstate.simulate import simulate
from ember_core.onstate.switching import DECAYED_TO_V
from ember_core.parts import (
    Cable,
    CapacitorBypass,
    DimmableDriverLamp,
    FilamentLamp,
    IronCoreTransformerLamp,
    Lamp,
    LinearLamp,
    PhaseMode,
    RectifierLamp,
    ResistorBypass,
)
from ember_core.sheet import Sheet
from tests.core.loops import AMERICA, EUROPE, RELAY, logarithmic, loop

EXAMPLES = settings(max_examples=40, deadline=None)
SEEDS = st.integers(0, 10_000)
SUPPLIES = st.sampled_from((EUROPE, AMERICA))
COUNTS = st.integers(1, 12)
DRIVERS = st.builds(
    DimmableDriverLamp,
    count=COUNTS,
    c_x_f=logarithmic(2e-8, 2e-7),
    c_bulk_f=st.just(4.7e-6),
    v_start_v=st.just(100.0),
    v_stop_v=st.just(40.0),
    p_run_w=logarithmic(3.0, 20.0),
)
FILAMENTS = st.builds(
    FilamentLamp, count=st.integers(1, 4), r_cold_ohm=st.just(100.0), p_rated_w=logarithmic(15.0, 100.0)
)
RECTIFIERS = st.builds(
    RectifierLamp,
    count=COUNTS,
    c_x_f=logarithmic(1e-9, 1e-7),
    c_bulk_f=logarithmic(2e-6, 2e-5),
    v_start_v=st.just(100.0),
    v_stop_v=st.just(45.0),
    p_run_w=logarithmic(3.0, 12.0),
)
RESERVOIR = {"c_x_f": 2.2e-8, "c_bulk_f": 4.7e-6, "v_start_v": 100.0, "v_stop_v": 45.0, "p_run_w": 6.0}
DRIVER = DimmableDriverLamp(count=1, c_x_f=1e-7, c_bulk_f=4.7e-6, v_start_v=100.0, v_stop_v=40.0, p_run_w=8.0)
CREST_DEG = 90.0
# The node stands two junctions above the film that is emptied behind its bridge.
OF_JUNCTIONS_V = 2.0
LAMPS = st.one_of(DRIVERS, FILAMENTS, RECTIFIERS)


def gang(supply: object, *lamps: Lamp, **control: float) -> Loop:
    """Lamps behind a control, no bypass."""
    return loop(supply=supply, bypass=(), control=replace(RELAY, **control), lamps=lamps)


def drawn(on: Loop, seed: int) -> LitFigures:
    """One sample of a gang's figures."""
    return samples_of(on, 4, seed)[seed % 4]


class Held(SimpleTestCase):
    """Holding, latching and the ring."""

    @given(SUPPLIES, DRIVERS, FILAMENTS, SEEDS)
    @EXAMPLES
    def test_a_filament_beside_drivers_never_lets_go_earlier(
        self, supply: object, driver: Lamp, filament: Lamp, seed: int
    ) -> None:
        """Nor does it need more conduction to latch."""
        bare, helped = gang(supply, driver), gang(supply, driver, filament)
        figures = drawn(helped, seed)
        alone = replace(figures, lamps=figures.lamps[:1])
        self.assertGreaterEqual(holds_to_deg(helped, figures), holds_to_deg(bare, alone) - 1e-9)
        self.assertLessEqual(latches_from_deg(helped, figures), latches_from_deg(bare, alone))

    @given(SUPPLIES, DRIVERS, logarithmic(1e-8, 1e-6), SEEDS)
    @EXAMPLES
    def test_a_bypass_capacitor_never_holds_longer(self, supply: object, driver: Lamp, c_f: float, seed: int) -> None:
        """After the crest its current opposes, before it helps; a resistor helps all along."""
        bare = gang(supply, driver)
        figures = drawn(bare, seed)
        before = holds_to_deg(bare, figures)
        if before > 0.0:
            with_c = replace(bare, bypass=(CapacitorBypass(c_f=c_f),))
            self.assertLessEqual(holds_to_deg(with_c, figures), max(before, CREST_DEG) + 1e-9)
        with_r = replace(bare, bypass=(ResistorBypass(r_ohm=1e4),))
        self.assertGreaterEqual(holds_to_deg(with_r, figures), before - 1e-9)

    @given(SUPPLIES, LAMPS, SEEDS)
    @EXAMPLES
    def test_more_holding_current_lets_go_earlier(self, supply: object, lamp: Lamp, seed: int) -> None:
        """And capacitor-input lamps alone are never held."""
        on = gang(supply, lamp)
        figures = drawn(on, seed)
        more = figures.with_control(i_hold_a=2.0 * figures.control["i_hold_a"])
        self.assertLessEqual(holds_to_deg(on, more), holds_to_deg(on, figures))
        if type(lamp) is RectifierLamp:
            self.assertFalse(draws_after_crest(on, figures))
            self.assertEqual((holds_to_deg(on, figures), latches_from_deg(on, figures)), (0.0, inf))

    @given(SUPPLIES, DRIVERS, SEEDS)
    @EXAMPLES
    def test_a_longer_gate_pulse_is_never_worse(self, supply: object, driver: Lamp, seed: int) -> None:
        """Where a short one outlasts the ring a long one does."""
        on = gang(supply, driver)
        figures = drawn(on, seed)
        long_gate = figures.with_control(t_gate_s=10.0 * figures.control["t_gate_s"])
        self.assertGreaterEqual(ring_settles(on, long_gate), ring_settles(on, figures))


class Stressed(SimpleTestCase):
    """Peaks, rms and counts."""

    @given(SUPPLIES, LAMPS, SEEDS)
    @EXAMPLES
    def test_a_stiff_supply_is_the_worse_one(self, supply: object, lamp: Lamp, seed: int) -> None:
        """For the peak of each half-cycle and for inrush; into reservoirs nearly."""
        on = gang(supply, lamp)
        figures = drawn(on, seed)
        hard, soft = stiff(on, figures), weak(on, figures)
        # Reservoirs that outlast a half-cycle turn at other angles on another supply.
        near = 0.9 if isinstance(lamp, RectifierLamp) else 0.999
        self.assertGreaterEqual(stress(on, hard).i_peak_a, near * stress(on, soft).i_peak_a)
        self.assertGreaterEqual(inrush(on, hard).i_peak_a, 0.999 * inrush(on, soft).i_peak_a)

    @given(SUPPLIES, DRIVERS, SEEDS)
    @EXAMPLES
    def test_twice_the_lamps_bear_more_but_not_twice_the_peak(self, supply: object, driver: Lamp, seed: int) -> None:
        """They share the choke; crest and ratios stay finite."""
        on = gang(supply, driver)
        figures = drawn(on, seed)
        one, two = stress(on, figures), stress(with_count(on, 0, 2 * driver.count), figures)
        self.assertTrue(one.i_peak_a <= two.i_peak_a <= 2.001 * one.i_peak_a)
        self.assertLess(one.crest_ratio, inf)
        self.assertGreater(one.rms_ratio or 0.0, 0.5)

    @given(SUPPLIES, DRIVERS, logarithmic(100.0, 1000.0), st.floats(1.5, 5.0))
    @settings(max_examples=15, deadline=None)
    def test_headroom_and_rating_only_help(self, supply: object, driver: Lamp, watts: float, headroom: float) -> None:
        """More of either never allows fewer lamps."""
        on = gang(supply, driver, p_max_filament_w=watts)
        figures = typical_of(on)
        base = most_on_dimmer(on, figures, headroom)
        more = most_on_dimmer(on, figures, headroom + 1.0)
        larger = most_on_dimmer(gang(supply, driver, p_max_filament_w=1.5 * watts), figures, headroom)
        assert base is not None
        assert more is not None
        assert larger is not None
        self.assertGreaterEqual(more[0], base[0])
        self.assertGreaterEqual(larger[0], base[0])

    @given(SUPPLIES, RECTIFIERS, SEEDS, st.floats(1e-4, 3e-3))
    @EXAMPLES
    def test_closing_off_the_crossing_is_never_worse_than_at_the_crest(
        self, supply: object, lamp: Lamp, seed: int, off_s: float
    ) -> None:
        """And rises with how far off it is."""
        on = gang(supply, lamp)
        figures = drawn(on, seed)
        near, nearer = (inrush(on, figures, off_crossing_s=one).i_peak_a for one in (off_s, 0.5 * off_s))
        self.assertLessEqual(nearer, near * 1.001)
        self.assertLessEqual(near, inrush(on, figures).i_peak_a * 1.02)

    @given(SUPPLIES, DRIVERS, logarithmic(100.0, 1000.0))
    @settings(max_examples=15, deadline=None)
    def test_the_window_of_a_bypass_ends_where_its_spike_does(self, supply: object, driver: Lamp, watts: float) -> None:
        """The limit of the leading edge is the one of the firing pulse, and more resistance in series lifts it."""
        on = gang(supply, driver, phase=1.0, p_max_filament_w=watts)
        limit = spike_limit_f(on, 0.1)
        assert limit is not None
        by_reason = {one.reason.value: one.value for one in capacitor_limits(on)}
        self.assertEqual(by_reason["leading_spike"], limit)
        self.assertGreaterEqual(spike_limit_f(on, 100.0) or 0.0, limit)


class Emptied(SimpleTestCase):
    """Trailing edge and supply."""

    @given(SUPPLIES, DRIVERS, FILAMENTS, logarithmic(1e-9, 1e-6), SEEDS)
    @EXAMPLES
    def test_capacitance_slows_the_decay_and_a_filament_speeds_it(
        self, supply: object, driver: Lamp, filament: Lamp, c_f: float, seed: int
    ) -> None:
        """At every level."""
        helped = gang(supply, driver, filament)
        figures = drawn(helped, seed)
        alone = replace(figures, lamps=figures.lamps[:1])
        bare = gang(supply, driver)
        slowed = replace(bare, bypass=(CapacitorBypass(c_f=c_f),))
        for angle in TURN_OFF_DEG:
            spare = decay_spare_s(bare, alone, angle)
            self.assertLessEqual(decay_spare_s(slowed, alone, angle), spare)
            self.assertGreaterEqual(decay_spare_s(helped, figures, angle), spare)

    @given(DRIVERS, st.one_of(FILAMENTS, RECTIFIERS, DRIVERS), SEEDS, st.sampled_from(TURN_OFF_DEG))
    @settings(max_examples=25, deadline=None)
    def test_what_is_said_to_decay_has_decayed_in_the_march(
        self, driver: Lamp, other: Lamp, seed: int, angle: float
    ) -> None:
        """The closed form may err to the safe side only: where it has time to spare the march is below the limit."""
        on = gang(EUROPE, driver, other)
        figures = drawn(on, seed)
        if decay_spare_s(on, figures, angle) < 0.0:
            return
        low = replace(on, supply=replace(EUROPE, v_rms=0.9 * EUROPE.v_rms, f_hz=1.01 * EUROPE.f_hz))
        found = simulate(on_case(low, PhaseMode.TRAILING, angle, figures))
        self.assertLessEqual(abs(found.v_at_zero_crossing_v or 0.0), DECAYED_TO_V + OF_JUNCTIONS_V)

    def test_a_stage_that_stops_above_the_limit_is_not_said_to_decay(self) -> None:
        """Without a bleeder its film keeps what it stopped at; with the least of resistors the answer hardly moves."""
        on = gang(EUROPE, replace(DRIVER, count=3))
        figures = typical_of(on, None, PhaseMode.TRAILING)
        own = {**figures.lamps[0], "v_stage_min_v": 45.0, "i_bleed_a": 0.0}
        stopped = replace(figures, lamps=(own,))
        self.assertLess(decay_spare_s(on, stopped, 90.0), -0.5)
        leaky = replace(on, bypass=(ResistorBypass(r_ohm=1e8),))
        self.assertLess(decay_spare_s(leaky, stopped, 90.0), 0.0)
        found = simulate(on_case(on, PhaseMode.TRAILING, 90.0, stopped))
        self.assertGreater(abs(found.v_at_zero_crossing_v or 0.0), DECAYED_TO_V)

    def test_a_hundred_megohms_feed_no_control_and_empty_nothing(self) -> None:
        """Conductance counts by amount: the least of bleeders changes neither a finding nor a limit."""
        on = gang(EUROPE, RectifierLamp(count=2, **RESERVOIR))
        leaky = replace(on, bypass=(ResistorBypass(r_ohm=1e8),))
        for edge in (PhaseMode.ON_OFF, PhaseMode.LEADING):
            bare, less = (typical_of(one, None, edge) for one in (on, leaky))
            self.assertFalse(fed_by_load(leaky, less))
            self.assertAlmostEqual(trapped_v(leaky, less) / trapped_v(on, bare), 1.0, delta=0.01)
        filament = gang(EUROPE, FilamentLamp(count=1, r_cold_ohm=100.0, p_rated_w=40.0))
        self.assertTrue(fed_by_load(filament, typical_of(filament, None, PhaseMode.ON_OFF)))

    def test_no_driver_is_said_to_feed_its_control_that_does_not(self) -> None:
        """Marched at low mains with a gap of just that angle it gets what it needs, though the stage stops low down."""
        random = np.random.default_rng(4)
        said = 0
        for seed in range(60):
            on = gang(EUROPE, replace(DRIVER, count=int(random.integers(2, 13)), c_x_f=0.0))
            on = replace(on, cable=Cable())
            figures = drawn(on, seed)
            angle = gap_deg(on, figures)
            if angle > 60.0:
                continue
            said += 1
            low = replace(on, supply=replace(on.supply, v_rms=LOW_RATIO * on.supply.v_rms))
            found = simulate(window_case(low, figures.with_control(gap_deg=angle)))
            need = figures.control["i_need_on_a"]
            self.assertGreaterEqual(found.i_supply_avg_a or 0.0, 0.98 * need, f"{seed}: {angle:.1f}°")
        self.assertGreaterEqual(said, 20)

    @given(SUPPLIES, FILAMENTS, SEEDS)
    @EXAMPLES
    def test_the_gap_grows_with_what_the_control_needs(self, supply: object, filament: Lamp, seed: int) -> None:
        """And shrinks with the load."""
        on = gang(supply, filament)
        figures = drawn(on, seed)
        hungry = figures.with_control(i_need_on_a=2.0 * figures.control["i_need_on_a"])
        self.assertGreaterEqual(gap_deg(on, hungry), gap_deg(on, figures))
        self.assertLessEqual(gap_deg(with_count(on, 0, filament.count + 2), figures), gap_deg(on, figures))

    @given(SUPPLIES, RECTIFIERS, SEEDS)
    @EXAMPLES
    def test_what_it_needs_and_what_it_gets_are_one_formula(self, supply: object, lamp: Lamp, seed: int) -> None:
        """With just the capacitance it needs at its lamps it gets just the current it needs."""
        on = gang(supply, lamp)
        figures = drawn(on, seed)
        needed = supply_needs_f(on, figures)
        there = capacitance_f(on, figures, with_film=False)
        if there < needed < 2e-5 + there:
            filled = replace(on, bypass=(CapacitorBypass(c_f=needed - there),)) if needed - there >= 1e-10 else on
            got = supply_gets_a(filled, figures)
            self.assertAlmostEqual(got / figures.control["i_need_on_a"], 1.0, delta=0.01)


class Judged(SimpleTestCase):
    """The whole verdict."""

    @given(SUPPLIES, st.lists(LAMPS, min_size=1, max_size=3), st.sampled_from(list(PhaseMode)), SEEDS)
    @settings(max_examples=25, deadline=None)
    def test_figures_never_make_it_better_than_the_matrix(
        self, supply: object, lamps: list[Lamp], mode: PhaseMode, seed: int
    ) -> None:
        """A verdict is the matrix's or worse; every finding is there once; the same seed says the same."""
        on = gang(supply, *lamps, phase=float(list(PhaseMode).index(mode)), p_max_filament_w=300.0)
        found = while_lit(Sheet(loop=on), seed=seed, samples=8, with_picture=False)
        loads = [(class_of(lamp), declared_of(lamp)) for lamp in lamps]
        by_matrix = together(loads, found.edge if mode is not PhaseMode.AUTOMATIC else mode).verdict
        self.assertIs(worst([found.verdict, by_matrix]), found.verdict)
        self.assertEqual(len(found.findings), len(set(map(repr, found.findings))))
        again = while_lit(Sheet(loop=on), seed=seed, samples=8, with_picture=False)
        self.assertEqual((again.verdict, again.findings), (found.verdict, found.findings))
        if mode is PhaseMode.ON_OFF:
            self.assertIsNot(found.together.verdict, Goes.MUST_NOT)

    @given(SUPPLIES, DRIVERS, SEEDS)
    @settings(max_examples=20, deadline=None)
    def test_trims_stand_in_order(self, supply: object, driver: Lamp, seed: int) -> None:
        """Out below on, both below start level, the least above where lamps go out, light growing between."""
        on = gang(supply, driver, phase=2.0)
        tried = samples_of(on, 16, seed)
        for figures in tried:
            self.assertLess(drop_out_deg(on, figures), pop_on_deg(on, figures))
        curve = light_curve(on, PhaseMode.TRAILING, tried)
        assert curve is not None
        self.assertLess(curve.drop_out_deg.p95, curve.least_deg)
        self.assertLessEqual(curve.least_deg, curve.start_deg)
        self.assertLessEqual(curve.least_light, curve.most_light)


class Ranges(SimpleTestCase):
    """Figures that nobody states."""

    def test_they_scale_as_they_say_with_the_mains(self) -> None:
        """A choke with the square of the volts, a source with the volts, a holding current not at all."""
        ratio = 120.0 / 230.0
        for one in on_ranges():
            self.assertAlmostEqual(one.on(120.0).typical / one.typical, ratio**one.power)
        powers = {one.name: one.power for one in on_ranges()}
        self.assertEqual((powers["l_choke_h"], powers["l_source_h"], powers["i_hold_a"]), (2, 1, 0))

    def test_a_dimmer_s_own_supply_asks_for_more_than_a_relay_s(self) -> None:
        """On either edge; a contact keeps the relay's range."""
        on = gang(EUROPE, LinearLamp(count=1, r_in_ohm=330.0, v_string_v=240.0))
        relay = typical_of(on, {}, PhaseMode.ON_OFF).control["i_need_on_a"]
        for edge in (PhaseMode.LEADING, PhaseMode.TRAILING):
            self.assertGreater(typical_of(on, {}, edge).control["i_need_on_a"], relay)

    def test_stiff_and_weak_are_the_ends_of_the_supply_s_range(self) -> None:
        """At both mains, and nothing else moves."""
        for supply in (EUROPE, AMERICA):
            on = gang(supply, IronCoreTransformerLamp(count=1, r_winding_ohm=20.0, l_magnetising_h=6.0))
            hard, soft = (source_figures(supply.v_rms, end) for end in ("stiff", "weak"))
            self.assertTrue(all(hard[name] < soft[name] for name in hard))
            self.assertEqual(typical_of(on, source="stiff"), stiff(on, typical_of(on)))
            self.assertEqual(typical_of(on, source="weak"), weak(on, typical_of(on)))
