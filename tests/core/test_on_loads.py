"""The march of the on state on one load at a time, against what can be written down for it."""

from __future__ import annotations

from dataclasses import replace
from math import pi, sqrt
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from ember_core.compatibility.case_verdict import judge_case
from ember_core.compatibility.matrix import Goes
from ember_core.errors import InputErrors
from ember_core.onstate.case import (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    FilamentLoad,
    LinearLoad,
    OnCapacitor,
    OnCase,
    OnControl,
    OnResistor,
    Question,
    Source,
    TransformerLoad,
    read,
)
from ember_core.onstate.simulate import OnState, simulate

# A line with next to nothing in it.
STIFF = Source(v_rms=230.0, f_hz=50.0, r_source_ohm=0.01, l_source_h=0.0)
WHOLE = OnControl(r_on_ohm=1e-3, turn_off_deg=180.0)
FILAMENT = FilamentLoad(count=1, r_hot_ohm=1000.0)
LAMP = CapacitorInputLoad(count=1, c_bulk_f=4.7e-6, p_run_w=6.0)


def whole(*loads: Any, source: Source = STIFF, bypass: tuple[Any, ...] = ()) -> OnState:
    """Loads on the whole sine, nothing cut."""
    return simulate(OnCase(question=Question.TRAILING, source=source, control=WHOLE, loads=loads, bypass=bypass))


def fired(angle: float, *loads: Any, source: Source = STIFF, **control: float) -> OnState:
    """Loads on a leading-edge dimmer that holds from little current on."""
    made = OnControl(firing_deg=angle, **{"i_hold_a": 1e-3, "r_on_ohm": 0.1, **control})
    return simulate(OnCase(question=Question.LEADING, source=source, control=made, loads=loads))


class OneLoad(SimpleTestCase):
    """Each kind on the whole sine."""

    def test_a_filament_is_a_resistor(self) -> None:
        """I = V/R, at both mains."""
        for source in (STIFF, replace(STIFF, v_rms=120.0, f_hz=60.0)):
            self.assertAlmostEqual(whole(FILAMENT, source=source).i_rms_a / (source.v_rms / 1000.0), 1.0, places=3)

    def test_a_capacitor_takes_its_reactive_current(self) -> None:
        """I = 2π·f·C·V beside a filament of megohms."""
        idle = FilamentLoad(count=1, r_hot_ohm=1e6)
        found = whole(idle, bypass=(OnCapacitor(count=1, c_f=4.7e-7, r_series_ohm=1.0),))
        self.assertAlmostEqual(found.i_rms_a / (2.0 * pi * 50.0 * 4.7e-7 * 230.0), 1.0, delta=0.003)

    def test_resistors_in_parallel_add(self) -> None:
        """A bleeder of 2 kΩ beside a filament of 1 kΩ."""
        found = whole(FILAMENT, bypass=(OnResistor(count=1, r_ohm=2000.0),))
        self.assertAlmostEqual(found.i_rms_a / (230.0 / 1000.0 + 230.0 / 2000.0), 1.0, places=3)

    def test_a_linear_lamp_by_its_own_law(self) -> None:
        """min((|v| − v_f − 1.6)/r, I₀) over the sine, integrated by itself."""
        lamp = LinearLoad(count=2, r_in_ohm=10.0, v_string_v=250.0, r_string_ohm=100.0, i_limit_a=0.03)
        v = 230.0 * sqrt(2.0) * np.sin(np.linspace(0.0, pi, 200_001))
        i = 2.0 * np.clip((v - 251.6) / 110.0, 0.0, 0.03)
        self.assertAlmostEqual(whole(lamp).i_rms_a / float(np.sqrt(np.mean(i**2))), 1.0, delta=0.003)

    def test_a_dropper_by_its_charge(self) -> None:
        """Per half-cycle C·2·(V̂ − V_s − 1.6) goes through: the string's mean current is 4·f·C times that."""
        lamp = DropperLoad(
            count=1, c_series_f=3.3e-7, c_smooth_f=1e-5, v_string_v=84.0, r_string_ohm=150.0, r_in_ohm=10.0
        )
        found = whole(lamp)
        # While it conducts the current is that of the series capacitor, a piece of a cosine.
        v_peak = 230.0 * sqrt(2.0)
        mean = 4.0 * 50.0 * 3.3e-7 * (v_peak - 84.0 - 1.6)
        self.assertGreater(found.i_rms_a, mean)
        self.assertLess(found.i_rms_a, 2.0 * pi * 50.0 * 3.3e-7 * 230.0)
        self.assertAlmostEqual(found.i_peak_a / (2.0 * pi * 50.0 * 3.3e-7 * v_peak), 1.0, delta=0.03)

    def test_a_loaded_transformer_passes_its_load_on(self) -> None:
        """With a large magnetising inductance it is its load behind its winding."""
        made = TransformerLoad(count=1, r_winding_ohm=20.0, l_leakage_h=1e-4, l_magnetising_h=500.0, r_load_ohm=1000.0)
        self.assertAlmostEqual(whole(made).i_rms_a / (230.0 / 1020.0), 1.0, delta=0.003)

    def test_a_driver_draws_like_its_conductance(self) -> None:
        """Above its least voltage g·|v|; what the junctions and the dead beginning take is a few percent."""
        made = DriverLoad(count=3, c_film_f=1e-8, g_s=2e-4, v_min_v=10.0)
        self.assertAlmostEqual(whole(made).i_rms_a / (3 * 2e-4 * 230.0), 1.0, delta=0.03)

    def test_a_capacitor_input_lamp_draws_its_power_in_pulses(self) -> None:
        """A few times the current of a resistor of the same watts, around the crest only."""
        found = whole(LAMP)
        resistor = 6.0 / 230.0
        self.assertTrue(1.5 * resistor < found.i_rms_a < 5.0 * resistor, found.i_rms_a)
        busy = found.theta_deg[np.abs(found.i_line_a) > 0.05 * found.i_peak_a] % 180.0
        self.assertGreater(float(busy.min()), 30.0)
        self.assertLess(float(busy.max()), 110.0)


class Grouping(SimpleTestCase):
    """How loads are counted."""

    def test_two_of_a_kind_are_one_group_of_two(self) -> None:
        """Also in the other order, and beside something else."""
        pair = fired(90.0, replace(LAMP, count=2), FILAMENT)
        split = fired(90.0, LAMP, FILAMENT, LAMP)
        for name in ("i_peak_a", "i_rms_a", "lamp_v_rms", "drop_out_deg"):
            self.assertAlmostEqual(getattr(pair, name) / getattr(split, name), 1.0, places=6)

    def test_the_half_cycles_mirror_each_other(self) -> None:
        """What is drawn of the second is the first with its sign turned."""
        found = fired(60.0, FILAMENT)
        half = len(found.theta_deg) // 2
        first, second = found.i_line_a[:half], found.i_line_a[half : 2 * half]
        self.assertLess(float(np.abs(first + second).max()), 0.02 * found.i_peak_a)


class Cutting(SimpleTestCase):
    """What cutting does to a resistor."""

    def test_rms_of_a_cut_sine(self) -> None:
        """Leading: √(1 − (α − ½·sin 2α)/π) of the whole; trailing at the same conduction is the same."""
        for angle in (30.0, 90.0, 135.0):
            alpha = angle * pi / 180.0
            wanted = 230.0 * sqrt(1.0 - (alpha - 0.5 * np.sin(2.0 * alpha)) / pi)
            self.assertAlmostEqual(fired(angle, FILAMENT).lamp_v_rms / wanted, 1.0, delta=0.01)
            control = OnControl(r_on_ohm=1e-3, turn_off_deg=180.0 - angle)
            case = OnCase(question=Question.TRAILING, source=STIFF, control=control, loads=(FILAMENT,))
            self.assertAlmostEqual(simulate(case).lamp_v_rms / wanted, 1.0, delta=0.01)

    def test_a_larger_choke_makes_a_smaller_pulse(self) -> None:
        """And so does a softer line."""
        load = DriverLoad(count=3, c_x_f=1e-7, r_damp_ohm=100.0, c_film_f=3.3e-8, g_s=1.5e-4)
        peaks = [fired(90.0, load, l_choke_h=choke).i_peak_a for choke in (5e-4, 1.5e-3, 3e-3)]
        self.assertEqual(peaks, sorted(peaks, reverse=True))
        soft = replace(STIFF, r_source_ohm=1.0, l_source_h=8e-4)
        self.assertLess(fired(90.0, load, source=soft, l_choke_h=5e-4).i_peak_a, peaks[0])

    def test_holding_current_decides_where_it_lets_go(self) -> None:
        """More of it, earlier; less than it from the start, at once."""
        load = FilamentLoad(count=1, r_hot_ohm=3000.0)
        angles = [fired(60.0, load, i_hold_a=hold).drop_out_deg or 180.0 for hold in (0.005, 0.02, 0.05)]
        self.assertEqual(angles, sorted(angles, reverse=True))
        at_once = fired(60.0, load, i_hold_a=0.5, t_gate_s=1e-4).conduction_deg
        assert at_once is not None
        self.assertLess(at_once, 4.0)


class Closing(SimpleTestCase):
    """A contact that closes once."""

    def inrush(self, angle: float, count: int = 10, **source: float) -> OnState:
        """Empty lamps behind a contact."""
        line = Source(v_rms=230.0, f_hz=50.0, **{"r_source_ohm": 0.4, "l_source_h": 1.5e-4, **source})
        load = CapacitorInputLoad(count=count, c_bulk_f=4.7e-6, p_run_w=0.01)
        control = OnControl(r_on_ohm=0.05, closing_deg=angle)
        return simulate(OnCase(question=Question.RELAY_INRUSH, source=line, control=control, loads=(load,)))

    def test_closing_at_the_crossing_spares_the_contact(self) -> None:
        """A tenth of the peak at the crest, rising with the error of the timing."""
        peaks = [self.inrush(angle).i_peak_a for angle in (1.0, 9.0, 18.0, 90.0)]
        self.assertEqual(peaks, sorted(peaks))
        self.assertLess(peaks[0], 0.15 * peaks[-1])

    def test_more_lamps_take_more_but_less_each(self) -> None:
        """They share the line."""
        one, ten, forty = (self.inrush(90.0, count).i_peak_a for count in (1, 10, 40))
        self.assertTrue(one < ten < forty)
        self.assertLess(forty / 40.0, ten / 10.0)

    def test_a_stiffer_line_makes_it_worse(self) -> None:
        """Peak and I²t."""
        stiff, soft = self.inrush(90.0, r_source_ohm=0.1, l_source_h=4e-5), self.inrush(90.0, r_source_ohm=1.0)
        self.assertGreater(stiff.i_peak_a, soft.i_peak_a)
        self.assertGreater(stiff.i2t_a2s, soft.i2t_a2s)


class Supply(SimpleTestCase):
    """A control that feeds itself in series."""

    def window(self, c_f: float, closes_deg: float) -> float:
        """Current that a relay's supply gets while open at the beginning of each half-cycle."""
        control = OnControl(
            r_on_ohm=0.3, closed_from_deg=closes_deg, closed_to_deg=179.5, v_supply_v=15.0, r_off_ohm=1e8
        )
        case = OnCase(
            question=Question.SUPPLY_WINDOW,
            source=STIFF,
            control=control,
            loads=(LAMP,),
            bypass=(OnCapacitor(count=1, c_f=c_f, r_series_ohm=10.0),),
        )
        return simulate(case).i_supply_avg_a or 0.0

    def test_it_goes_with_capacitance_and_gap(self) -> None:
        """Twice the capacitance gives twice the current; a longer gap gives more; by I = 2·f·C·(V̂·sin θ − u)."""
        base = self.window(1e-7, 35.0)
        self.assertAlmostEqual(self.window(2e-7, 35.0) / base, 2.0, delta=0.1)
        self.assertGreater(self.window(1e-7, 45.0), base)
        by_hand = 2.0 * 50.0 * 1e-7 * (230.0 * sqrt(2.0) * np.sin(35.0 * pi / 180.0) - 16.6)
        self.assertAlmostEqual(base / by_hand, 1.0, delta=0.05)


class CaseVerdicts(SimpleTestCase):
    """What a case means in words."""

    def verdict(self, document: dict[str, Any]) -> tuple[Goes, set[str]]:
        """Verdict and codes."""
        case = read(document)
        found = judge_case(case, simulate(case))
        return found.verdict, {finding.code for finding in found.findings}

    def test_each_question_has_its_finding(self) -> None:
        """Held, left at the crossing, fed too little, inrush, and the matrix for the load."""
        supply = {"v_rms": 230.0, "f_hz": 50.0}
        filament = [{"kind": "filament", "count": 1, "r_hot_ohm": 1322.0}]
        lamp = [{"kind": "rectifier", "count": 1, "c_bulk_f": 4.7e-6, "p_run_w": 6.0}]
        large = [{"kind": "capacitor", "c_f": 2e-6}]
        rows: tuple[tuple[dict[str, Any], Goes, str], ...] = (
            ({"question": "leading", "control": {"firing_deg": 90.0}, "lamps": filament}, Goes.GOES, "on_held"),
            (
                {"question": "leading", "control": {"firing_deg": 90.0}, "lamps": lamp},
                Goes.MUST_NOT,
                "on_dropped_out_early",
            ),
            (
                {"question": "trailing", "control": {"turn_off_deg": 90.0}, "lamps": filament, "bypass": large},
                Goes.GOES_IF,
                "on_left_at_crossing",
            ),
            ({"question": "trailing", "control": {"turn_off_deg": 90.0}, "lamps": filament}, Goes.GOES, "on_decayed"),
            (
                {
                    "question": "supply window",
                    "control": {"closed_window_deg": [35.0, 179.5], "v_supply_v": 15.0, "i_supply_need_a": 0.01},
                    "lamps": lamp,
                },
                Goes.GOES_IF,
                "on_supply_gets_too_little",
            ),
            (
                {"question": "relay inrush", "control": {"closing_deg": 90.0}, "lamps": lamp},
                Goes.GOES_IF,
                "on_inrush_found",
            ),
        )
        for document, verdict, code in rows:
            got, codes = self.verdict({"supply": supply, **document})
            self.assertEqual((got, code in codes), (verdict, True), (document["question"], got, codes))

    def test_a_window_that_is_no_pair_is_refused(self) -> None:
        """With its path."""
        with self.assertRaises(InputErrors) as caught:
            read(
                {
                    "question": "supply window",
                    "supply": {"v_rms": 230.0, "f_hz": 50.0},
                    "control": {"closed_window_deg": [35.0], "v_supply_v": 15.0},
                    "lamps": [{"kind": "filament", "count": 1, "r_hot_ohm": 1000.0}],
                }
            )
        self.assertEqual(caught.exception.errors[0].path, "control.closed_window_deg")
