"""Iron-core and electronic transformers, off and on."""

from __future__ import annotations

from dataclasses import replace
from math import pi, sqrt
from typing import Any

from django.test import SimpleTestCase

from ember_core.catalogue.class_defaults import typical_lamp
from ember_core.compatibility.gang import while_lit
from ember_core.compatibility.matrix import Goes, LoadClass, class_of
from ember_core.lit.holding import holds_to_deg
from ember_core.lit.loads import on_case
from ember_core.lit.ranges import typical_of
from ember_core.lit.stress import lost_half_wave
from ember_core.loop import Loop
from ember_core.netlist import write
from ember_core.offstate.network import lamp_stage
from ember_core.offstate.solve import solve
from ember_core.offstate.states import LampState
from ember_core.onstate.case import ElectronicTransformerLoad, TransformerLoad
from ember_core.onstate.simulate import simulate
from ember_core.parts import (
    DimmableDriverLamp,
    ElectronicTransformerLamp,
    FilamentLamp,
    IronCoreTransformerLamp,
    PhaseMode,
    is_led,
    is_transformer,
)
from ember_core.sheet import Sheet, read
from ember_core.spread.half_wave import HalfWave, on_half_wave
from tests.core.loops import AMERICA, EUROPE, LAMP, RELAY, loop

IRON = IronCoreTransformerLamp(count=1, r_winding_ohm=20.0, l_magnetising_h=6.0, p_rated_w=50.0)
HALOGEN = replace(IRON, r_load_cold_ohm=88.0)
ELECTRONIC = ElectronicTransformerLamp(
    count=1, r_in_ohm=4.7, c_bulk_f=1e-7, r_start_ohm=3.3e5, v_start_v=60.0, v_stop_v=12.0, p_run_w=35.0, p_least_w=20.0
)


def gang(mode: PhaseMode, *lamps: Any, **control: float) -> Loop:
    """A control of a mode with transformers."""
    return loop(bypass=(), control=replace(RELAY, phase=float(list(PhaseMode).index(mode)), **control), lamps=lamps)


def codes(given: Loop) -> dict[str, Any]:
    """Findings by code."""
    return {one.code: one.params for one in while_lit(Sheet(loop=given), with_picture=False).findings}


class Off(SimpleTestCase):
    """While the control is off."""

    def test_an_iron_core_is_its_impedance(self) -> None:
        """√(R² + X²) unloaded; with cold filaments behind it nearly theirs; n of them n times as much conductance."""
        x = 2.0 * pi * 50.0 * 6.0
        self.assertAlmostEqual(lamp_stage(IRON, 50.0).g_s, 1.0 / sqrt(20.0**2 + x**2))
        self.assertAlmostEqual(1.0 / lamp_stage(HALOGEN, 50.0).g_s, 108.0, delta=1.0)
        self.assertAlmostEqual(lamp_stage(replace(IRON, count=3), 50.0).g_s, 3.0 * lamp_stage(IRON, 50.0).g_s)

    def test_iron_keeps_the_volts_low_and_stays_dark(self) -> None:
        """Volts at the winding, milliwatts in its filaments, at both supplies."""
        for supply in (EUROPE, AMERICA):
            for lamp in (IRON, HALOGEN):
                found = solve(loop(supply=supply, bypass=(), lamps=(lamp,)))
                self.assertLess(found.lamp_v_rms, 12.0)
                self.assertIs(found.lamps[0].state, LampState.DARK)

    def test_its_netlist_has_winding_core_and_load(self) -> None:
        """The core as an inductance, which the solver takes by its size only."""
        text = write(loop(bypass=(), lamps=(HALOGEN,)))
        for line in ("Rw0 s0 m0 20", "Lm0 m0 0 6", "Rl0 m0 0 88"):
            self.assertIn(line, text)

    def test_an_electronic_transformer_tries_to_start(self) -> None:
        """Its oscillator starts at 60 V: alone behind a hungry control it blinks, beside a filament it is dark."""
        alone = solve(loop(bypass=(), lamps=(ELECTRONIC,)))
        self.assertIsNot(alone.lamps[0].state, LampState.DARK)
        filament = FilamentLamp(count=1, r_cold_ohm=110.0, p_rated_w=40.0)
        self.assertIs(solve(loop(bypass=(), lamps=(ELECTRONIC, filament))).lamps[0].state, LampState.DARK)

    def test_an_iron_core_is_never_tried_on_half_waves(self) -> None:
        """It saturates."""
        self.assertIs(on_half_wave(IRON, EUROPE), HalfWave.MUST_NOT)

    def test_a_sheet_carries_them_and_their_classes_know_them(self) -> None:
        """Read back as they were; the typical ones are complete lamps of their kinds."""
        for stage, kind in (
            ("iron_core_halogen", IRON),
            ("iron_core_led", IRON),
            ("electronic_transformer", ELECTRONIC),
        ):
            for supply in (EUROPE, AMERICA):
                found, figures = typical_lamp(stage, supply, 50.0)
                document = {
                    "sheet_version": 1,
                    "supply": {"v_rms": supply.v_rms, "f_hz": supply.f_hz},
                    "control": {},
                    "lamps": [
                        {"kind": found, "count": 2, **{name: figure.typical for name, figure in figures.items()}}
                    ],
                }
                (lamp,) = read(document).loop.lamps
                self.assertIs(type(lamp), type(kind))
                self.assertTrue(is_transformer(lamp))
                self.assertFalse(is_led(lamp))


class On(SimpleTestCase):
    """With the light on."""

    def test_each_becomes_its_load_and_class(self) -> None:
        """Figures of the sheet, the leakage assumed."""
        given = gang(PhaseMode.LEADING, IRON, ELECTRONIC)
        figures = typical_of(given)
        iron, electronic = on_case(given, PhaseMode.LEADING, 90.0, figures).loads
        assert isinstance(iron, TransformerLoad)
        assert isinstance(electronic, ElectronicTransformerLoad)
        self.assertEqual((iron.r_load_ohm, iron.l_leakage_h), (230.0**2 / 50.0, figures.lamps[0]["l_leakage_h"]))
        self.assertEqual((electronic.c_film_f, electronic.v_min_v), (1e-7, 12.0))
        self.assertEqual(
            [class_of(lamp) for lamp in given.lamps], [LoadClass.IRON_CORE, LoadClass.ELECTRONIC_TRANSFORMER]
        )

    def test_an_electronic_transformer_draws_its_watts(self) -> None:
        """Marched on the whole sine: V times the power is nearly its load."""
        given = gang(PhaseMode.TRAILING, ELECTRONIC)
        found = simulate(on_case(given, PhaseMode.TRAILING, 180.0, typical_of(given)))
        watts = float((found.v_lamp_v * found.i_line_a).mean())
        self.assertAlmostEqual(watts / 35.0, 1.0, delta=0.04)

    def test_an_iron_core_on_a_trailing_edge_must_not(self) -> None:
        """Loaded hundreds of volts to kilovolts, unloaded kilovolts; marched as well."""
        told = codes(gang(PhaseMode.TRAILING, IRON))["on_iron_spike"]
        self.assertGreater(told["v_spike_v"], 600.0)
        self.assertGreater(told["v_unloaded_v"], told["v_spike_v"])
        found = while_lit(Sheet(loop=gang(PhaseMode.TRAILING, IRON)), with_picture=False)
        self.assertIs(found.verdict, Goes.MUST_NOT)
        given = gang(PhaseMode.TRAILING, IRON)
        case = on_case(given, PhaseMode.TRAILING, 90.0, typical_of(given))
        control = replace(case.control, c_filter_f=given.control.c_snubber_f)
        marched = simulate(replace(case, control=control)).v_peak_v
        self.assertTrue(0.4 * told["v_spike_v"] < marched < 1.3 * told["v_spike_v"], (marched, told))

    def test_a_lost_half_wave_by_hand(self) -> None:
        """V̂·(1 + cos α)/(2π) over the winding; at 90 degrees 51.8 V."""
        one = lost_half_wave(sqrt(2.0) * 230.0, 50.0, pi / 2.0, 20.4, 6.0)
        self.assertAlmostEqual(one.v_dc_v, sqrt(2.0) * 230.0 / (2.0 * pi))
        self.assertAlmostEqual(one.i_dc_a, one.v_dc_v / 20.4)
        self.assertAlmostEqual(one.over_magnetising_ratio, one.i_dc_a * 2.0 * pi * 50.0 * 6.0 / (sqrt(2.0) * 230.0))
        whole = lost_half_wave(sqrt(2.0) * 230.0, 50.0, 0.0, 20.4, 6.0)
        self.assertAlmostEqual(whole.v_dc_v, 2.0 * one.v_dc_v)
        self.assertIn("on_half_wave_lost", codes(gang(PhaseMode.LEADING, IRON)))

    def test_an_iron_core_holds_the_triac_past_the_crossing(self) -> None:
        """Its current lags: the closed form holds to the crossing, the march lets go after it."""
        given = gang(PhaseMode.LEADING, IRON)
        figures = typical_of(given)
        self.assertGreaterEqual(holds_to_deg(given, figures), 180.0)
        marched = simulate(on_case(given, PhaseMode.LEADING, 90.0, figures)).drop_out_deg
        self.assertTrue(marched is None or marched > 180.0)

    def test_iron_beside_electronics_has_no_legal_mode(self) -> None:
        """It drives spikes into them."""
        driver = DimmableDriverLamp(count=1, c_bulk_f=4.7e-6, v_start_v=100.0, v_stop_v=40.0, p_run_w=8.0, dimming=3.0)
        found = while_lit(Sheet(loop=gang(PhaseMode.LEADING, IRON, driver)), with_picture=False)
        self.assertEqual((found.verdict, found.together.mixed), (Goes.MUST_NOT, "iron_core_with_electronics"))

    def test_an_electronic_transformer_just_below_and_above_its_least_load(self) -> None:
        """With 19 W it does not start, with 21 W it does."""
        for watts, code in ((19.0, "on_transformer_light"), (21.0, "on_transformer_loaded")):
            self.assertIn(code, codes(gang(PhaseMode.TRAILING, replace(ELECTRONIC, p_run_w=watts))))

    def test_a_selectable_dimmer_is_judged_on_both_edges(self) -> None:
        """For an iron core leading is the better one, and it is looked at; each edge says what speaks against it."""
        found = while_lit(Sheet(loop=gang(PhaseMode.SELECTABLE, IRON, p_max_filament_w=300.0)), with_picture=False)
        self.assertEqual([one.edge for one in found.edges], [PhaseMode.LEADING, PhaseMode.TRAILING])
        self.assertEqual([one.verdict for one in found.edges], [Goes.GOES_IF, Goes.MUST_NOT])
        self.assertEqual((found.edge, found.verdict), (PhaseMode.LEADING, Goes.GOES_IF))
        self.assertEqual([finding.code for finding in found.edges[1].against], ["on_iron_spike"])

    def test_one_that_chooses_by_itself_goes_only_if_it_chooses_well(self) -> None:
        """An iron core, whichever edge is looked at; with a load for which the matrix forbids it, it must not."""
        given = Sheet(loop=gang(PhaseMode.AUTOMATIC, IRON, p_max_filament_w=300.0))
        for edge in (PhaseMode.LEADING, PhaseMode.TRAILING):
            found = while_lit(given, edge=edge, with_picture=False)
            self.assertEqual((found.edge, found.verdict), (edge, Goes.GOES_IF))
        lamps = Sheet(loop=gang(PhaseMode.AUTOMATIC, LAMP, p_max_filament_w=300.0))
        self.assertIs(while_lit(lamps, with_picture=False).verdict, Goes.MUST_NOT)
