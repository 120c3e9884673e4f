"""Proving: the list, what passes, the watch, taps, and which reading tells most."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from django.test import tag

from ember_core.diagnosis.symptoms import Symptom
from ember_core.errors import InputError
from ember_core.proving.items import (
    ACCUSTOM_S,
    BAD,
    GOOD,
    WATCH_S,
    Act,
    Gang,
    Item,
    Mark,
    Outcome,
    is_proved,
    items_of,
    outcome_of,
    results_of,
    rhythm_of,
)
from ember_core.proving.worth import Read, worth
from ember_core.sheet import read
from ember_core.spread.information import binned, information_bits
from ember_core.spread.predictions import predict
from tests.core.faulty import CAPACITOR, loop_sheet

LAMP = Gang(position=1, lamps=4, dims=True, feeds=True)
PLAIN = Gang(position=2, lamps=1, dims=False, feeds=False)
WATCH = Item(key="flicker_watch:1", act=Act.FLICKER_WATCH, gang=1)


class TheList(TestCase):
    """What is to be proved follows from what is there."""

    def test_it_follows_gangs_places_and_demands(self) -> None:
        """Levels only where it dims, each lamp only where there are several, others only beside others."""
        keys = [item.key for item in items_of([LAMP, PLAIN], ["box1", "box2"], wants_earth=True)]
        self.assertEqual(keys[0], "plate_earth")
        self.assertIn("switches:1:box2", keys)
        self.assertIn("levels:1", keys)
        self.assertNotIn("levels:2", keys)
        self.assertNotIn("each_lamp:2", keys)
        self.assertIn("others_dark:2", keys)
        self.assertNotIn("reading:2", keys)
        alone = [item.key for item in items_of([PLAIN], ["box1"], wants_earth=False)]
        self.assertEqual(alone, ["switches:2:box1", "flicker_watch:2"])

    def test_what_needs_the_dark_comes_after_what_needs_light(self) -> None:
        """One person does it in this order."""
        acts = [item.act for item in items_of([LAMP], ["box1"], wants_earth=False)]
        self.assertLess(acts.index(Act.LEVELS), acts.index(Act.FLICKER_WATCH))
        self.assertEqual(acts[-1], Act.POWER_ON)

    def test_nothing_that_was_not_done_counts(self) -> None:
        """Proved is each item passed or excused; an empty list proves nothing."""
        items = items_of([PLAIN], ["box1"], wants_earth=False)
        marks = {items[0].key: Mark(outcome=Outcome.PASSED)}
        self.assertFalse(is_proved(items, marks))
        self.assertTrue(is_proved(items, {**marks, items[1].key: Mark(outcome=Outcome.EXCUSED)}))
        self.assertFalse(is_proved(items, {**marks, items[1].key: Mark(outcome=Outcome.FAILED)}))
        self.assertFalse(is_proved((), {}))

    def test_each_bad_result_is_a_complaint(self) -> None:
        """So that a case can be opened with it; only a reading is none."""
        self.assertEqual(set(GOOD), set(Act))
        for act, bad in BAD.items():
            for result, symptom in bad.items():
                self.assertIn(result, results_of(act))
                self.assertEqual(symptom is None, act is Act.READING)
                self.assertTrue(symptom is None or symptom in Symptom)


class Watching(TestCase):
    """The flicker watch and its rhythm."""

    def test_dark_takes_the_whole_watch(self) -> None:
        """A second less is not enough; what was seen at work needs no clock."""
        whole = float(ACCUSTOM_S + WATCH_S)
        self.assertIs(outcome_of(WATCH, "dark", watched_s=whole), Outcome.PASSED)
        for seconds in (None, 0.0, whole - 1.0):
            with self.assertRaisesRegex(InputError, "watched_too_short"):
                outcome_of(WATCH, "dark", watched_s=seconds)
        self.assertIs(outcome_of(WATCH, "blink"), Outcome.FAILED)
        with self.assertRaisesRegex(InputError, "unknown_word"):
            outcome_of(WATCH, "sparkles")

    def test_taps_give_their_rhythm_in_spite_of_a_missed_and_a_doubled_one(self) -> None:
        """The median over drawn hands lies within a twentieth of the truth; the spread says how steady they were."""
        random = np.random.default_rng(4)
        for period in (0.3, 0.62, 2.5, 20.0):
            times = np.arange(14) * period + random.normal(0.0, 0.02 * period, 14)
            times = np.delete(times, 6)
            times = np.sort(np.append(times, times[3] + 0.02))
            found = rhythm_of(list(times))
            self.assertAlmostEqual(found.period_s, period, delta=0.05 * period)
            self.assertLess(found.spread_s, 0.2 * period)

    def test_taps_that_are_no_rhythm_are_refused(self) -> None:
        """Too few, out of order, all at once, not a number."""
        for taps, code in (
            ([0.0, 1.0, 2.0], "too_few_taps"),
            ([0.0, 2.0, 1.0, 3.0], "taps_not_in_order"),
            ([0.0, 0.0, 0.0, 0.0, 0.0], "no_period"),
            ([0.0, 400.0, 800.0, 1200.0], "no_period"),
            ([0.0, float("nan"), 1.0, 2.0], "taps_not_in_order"),
            ([float(k) for k in range(300)], "too_many_taps"),
        ):
            with self.assertRaisesRegex(InputError, code):
                rhythm_of(taps)


class OneRange(TestCase):
    """What a meter should show stands on two screens."""

    @tag("long")
    def test_what_is_expected_is_what_instruments_are_predicted_to_show(self) -> None:
        """Volts with either meter, and the rhythm of what blinks: the same range from the same draw."""
        for count, bypass in ((1, ()), (4, (CAPACITOR,))):
            given = read(loop_sheet("rectifier", count, *bypass, phase="on_off"))
            predicted, expected = predict(given), worth(given)
            volts = {one.meter_r_ohm: one.expected for one in expected if one.meter_r_ohm is not None}
            self.assertEqual(volts, {reading.r_ohm: reading.v_rms for reading in predicted.readings})
            periods = [one.expected for one in expected if one.read is Read.PERIOD]
            self.assertEqual(periods, [] if predicted.period_s is None else [predicted.period_s])


class Worth(TestCase):
    """Which reading tells most."""

    @tag("long")
    def test_readings_are_in_the_order_of_what_they_tell(self) -> None:
        """With their ranges, the meter in the loop: the one of low impedance shows less."""
        found = worth(read(loop_sheet("rectifier", 1, phase="on_off")))
        self.assertEqual([one.gain_bits for one in found], sorted((one.gain_bits for one in found), reverse=True))
        by_read = {one.read: one for one in found}
        self.assertLess(by_read[Read.LAMP_V_LOW_Z].expected.p50, by_read[Read.LAMP_V].expected.p50)
        self.assertGreater(found[0].gain_bits, 0.2)
        self.assertLess(by_read[Read.PERIOD].blinking_ratio, 1.0)

    def test_a_loop_without_ranges_is_told_nothing_by_a_reading(self) -> None:
        """There is nothing open: one sample, no gain; and no period where nothing blinks."""
        sheet = loop_sheet("rectifier", 2, CAPACITOR)
        exact = {
            **sheet,
            "supply": {"v_rms": 230.0, "f_hz": 50.0},
            "control": {"c_snubber_f": 4.7e-9},
            "lamps": [
                {name: one["typical"] if isinstance(one, dict) else one for name, one in lamp.items()}
                for lamp in sheet["lamps"]
            ],
        }
        found = worth(read(exact))
        self.assertTrue(all(one.gain_bits == 0.0 for one in found))
        self.assertNotIn(Read.PERIOD, {one.read for one in found})

    def test_information_is_that_of_the_textbook(self) -> None:
        """One bit where a sure outcome tells two even things apart, none where it tells nothing."""
        sure = np.array([[1.0, 0.0], [1.0, 0.0], [0.0, 1.0], [0.0, 1.0]])
        self.assertAlmostEqual(information_bits(["a", "a", "b", "b"], sure), 1.0)
        self.assertAlmostEqual(information_bits(["a", "b", "a", "b"], sure), 0.0)
        table = binned(np.array([0.0, 1.0, 2.0, np.nan]), np.full(4, 0.1), 4)
        np.testing.assert_allclose(table.sum(axis=1), 1.0)
        self.assertEqual(table[3, -1], 1.0)
