"""The pieces under the inference: shapes of readings, what each state predicts, which assignments a box allows."""

from __future__ import annotations

import json
from itertools import product
from math import inf

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from ember_core.errors import InputError, InputErrors
from ember_core.survey import hypotheses as states
from ember_core.survey import potentials
from ember_core.survey.box import Box, Conductor, Role, Terminal, Ways
from ember_core.survey.colours import COLOURS, USUAL, contradicts, usual_roles
from ember_core.survey.document import read_box, read_conductor, read_enquiry, read_survey, write_conductor
from ember_core.survey.inference import believe, certainty_of
from ember_core.survey.next_reading import _outcomes, _Weighed
from ember_core.survey.potentials import Net, Potential
from ember_core.survey.practices import BY_ID, PRACTICES, conductors_of
from ember_core.survey.predict import Predictor, reference_state
from ember_core.survey.readings import Position, Reading, Reference, check
from ember_core.survey.weighing import role_of
from ember_core.wiring import metered
from tests.core.survey_boxes import simulated

V_RMS = 230.0
JSON = st.recursive(
    st.none() | st.booleans() | st.floats(allow_nan=False) | st.text(max_size=8) | st.integers(-9, 9),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=4),
    max_leaves=12,
)
BOX_KEYS = ("gangs", "conductors", "depth_m", "circuits", "material", "all_listed", "neutral_seen", "earth_found")


class Shapes(SimpleTestCase):
    """Mixtures of plain shapes."""

    def test_every_mixture_is_a_probability(self) -> None:
        """Densities integrate to one over all readings, and so do the classes; either end may come first."""
        x = np.linspace(0.0, 4.0, 8001)
        for a, b in product(Potential, Potential):
            for low_impedance in (False, True):
                mixture = potentials.voltage(a, b, low_impedance)
                self.assertEqual(mixture, potentials.voltage(b, a, low_impedance))
                area = float(np.trapezoid([potentials.voltage_density(mixture, v) for v in x], x))
                self.assertAlmostEqual(area, 1.0, delta=0.01, msg=f"{a!r} {b!r}")
                self.assertAlmostEqual(sum(potentials.voltage_bins(mixture)), 1.0, delta=0.01)

    def test_density_and_share_below_belong_together(self) -> None:
        """The derivative of the share below a value is the density there."""
        for shape in (
            potentials.Shape(1.0, "normal", 1.0, 0.06),
            potentials.Shape(1.0, "half_normal", 0.0, 0.05),
            potentials.Shape(1.0, "uniform", 0.1, 0.7),
            potentials.Shape(1.0, "exponential", 0.0, 0.2),
        ):
            for x in (0.2, 0.5, 0.95):
                slope = (shape.below(x + 1e-5) - shape.below(x - 1e-5)) / 2e-5
                self.assertAlmostEqual(slope, shape.density(x), delta=1e-3 * max(1.0, shape.density(x)))
            self.assertEqual(shape.below(inf), 1.0)

    def test_continuity_classes_are_probabilities_and_say_what_they_should(self) -> None:
        """The same net is closed, strangers are open, neutral and earth are mostly joined unless every pole is off."""
        nets = [*map(int, Net), 20, 21]
        for a, b in product(nets, nets):
            for has_lamp in (False, True):
                self.assertAlmostEqual(sum(potentials.continuity_bins(a, b, has_lamp)), 1.0, places=9)
        self.assertGreater(potentials.continuity_bins(20, 20, False)[0], 0.98)
        self.assertGreater(potentials.continuity_bins(20, 21, False)[2], 0.97)
        self.assertGreater(potentials.continuity_bins(Net.NEUTRAL, Net.EARTH, False)[0], 0.5)
        self.assertLess(potentials.continuity_bins(Net.NEUTRAL, Net.EARTH_ALONE, False)[0], 0.01)
        self.assertGreater(potentials.continuity_bins(Net.NEUTRAL, Net.NEUTRAL_LIFTED, False)[0], 0.98)
        for other in (Net.EARTH, Net.FOREIGN_NEUTRAL):
            self.assertLess(potentials.continuity_bins(other, Net.NEUTRAL_LIFTED, False)[0], 0.01)

    def test_classes_of_resistance(self) -> None:
        """Just below and above 5 Ω and 100 kΩ; open is open."""
        for r_ohm, expected in ((4.99, 0), (5.01, 1), (99_000.0, 1), (101_000.0, 2), (None, 2)):
            self.assertEqual(potentials.ohm_bin(r_ohm), expected)


class Predictions(SimpleTestCase):
    """What each state predicts, against the network model of the same box."""

    def test_the_kind_of_every_point_agrees_with_the_network(self) -> None:
        """For every practice, conductor and position of its switches: mains, nothing, or something between."""
        seen = set()
        for practice in ("feed_at_ceiling", "feed_at_switch", "two_way_feed_end", "two_way_far_end"):
            for seed in range(6):
                hidden = simulated([practice], "eu", seed)
                for here, there in product(Position, Position):
                    switches = {"1": here, "1:other": there}
                    joined = hidden.closures(switches)
                    predictor, of = self._true(hidden, practice)
                    for conductor, state in of.items():
                        at = (here is Position.ON, there is Position.ON)
                        kind = predictor.potential(state, at, True)
                        read = metered.read_voltage(
                            hidden.wiring, joined, (conductor, "earth"), v_rms=V_RMS, f_hz=50.0, meter_r_ohm=2e4
                        )
                        seen.add(kind)
                        is_mains = kind is Potential.MAINS
                        self.assertEqual(read > 0.9 * V_RMS, is_mains, f"{practice} {seed} {conductor} {switches}")
                        if kind is Potential.ZERO:
                            self.assertLess(read, 3.0)
        self.assertEqual(seen, {Potential.MAINS, Potential.ZERO, Potential.VIA_LAMP, Potential.FLOATING})

    def _true(self, hidden, practice: str):
        """A predictor with the hidden facts of a box, and the true state of each conductor that has one."""
        crossed = False
        if 1 in hidden.far_ends:
            # At the load side the crossing of the other switch is counted from this one's first traveller.
            crossed = hidden.far_ends[1][1]
        variant = states.Variant(
            is_line_side=(practice != "two_way_far_end",), is_crossed=(crossed,), is_far_first=(True,)
        )
        of = {}
        for conductor in hidden.box.conductors:
            match hidden.roles[conductor.id]:
                case Role.PERMANENT_LIVE | Role.LOOPED_LIVE:
                    of[conductor.id] = states.LINE
                case Role.SWITCHED_LIVE:
                    of[conductor.id] = states.switched(1)
                case Role.NEUTRAL:
                    of[conductor.id] = states.NEUTRAL
                case Role.EARTH:
                    of[conductor.id] = states.EARTH
                case Role.TRAVELLER:
                    of[conductor.id] = states.traveller(1, 0 if conductor.terminal is Terminal.L1 else 1)
        return Predictor(hidden.box, variant, V_RMS), of

    def test_a_position_that_was_not_noted_is_taken_both_ways(self) -> None:
        """The likelihood is the mean of both."""
        box = simulated(["feed_at_ceiling"], "eu", 1).box
        predictor = Predictor(box, states.variants(box)[0], V_RMS)
        likelihoods = []
        for switches in ({}, {"1": Position.OFF}, {"1": Position.ON}):
            reading = Reading(id="r", a="c1", b="known_earth", v=229.0, meter_r_ohm=4e5, switches=switches)
            likelihoods.append(predictor.likelihood(reading, states.switched(1), states.EARTH, wrong_share=0.0))
        self.assertAlmostEqual(likelihoods[0], 0.5 * (likelihoods[1] + likelihoods[2]), places=9)

    def test_what_a_reading_may_show_is_weighed_by_its_own_states(self) -> None:
        """For known points that are no state, and for conductors: the classes of every assignment are its states'."""
        box = simulated(["feed_at_switch"], "eu", 1).box
        belief = believe(box, [], V_RMS, "eu")
        weighed = _Weighed(belief)
        for b in (Reference.EARTH_ALONE.value, Reference.NEUTRAL.value, Reference.LINE.value, "c4"):
            reading = Reading(id="r", a="c2", b=b, is_open=True, supply_on=False, switches={"1": Position.OFF})
            found = _outcomes(belief, weighed, reading)
            node_a, _ = belief.predictors[0].states_at("c2")
            node_b, state_b = belief.predictors[0].states_at(b)
            for row, bins in list(zip(weighed.rows, found, strict=True))[::40]:
                end = int(row[node_b]) if node_b is not None else int(state_b or 0)
                expected = belief.predictors[0].outcome_bins(reading, int(row[node_a or 0]), end)
                np.testing.assert_allclose(bins, expected)

    def test_known_points_have_their_states(self) -> None:
        """Line, neutral, earth, and the lamps of each gang."""
        self.assertEqual(reference_state(Reference.LINE), states.LINE)
        self.assertEqual(reference_state(Reference.LAMP_3), states.switched(3))
        self.assertLess(reference_state(Reference.EARTH_ALONE), 0)
        self.assertLess(reference_state(Reference.NEUTRAL), 0)


class Assignments(SimpleTestCase):
    """What a box allows."""

    def enumerated(self, box: Box) -> list[states.Hypotheses]:
        """All variants, nothing known."""
        blank = np.zeros((len(box.nodes), states.state_count(box)))
        return [states.enumerate_states(box, variant, blank) for variant in states.variants(box)]

    def test_a_switched_live_and_each_traveller_stand_once(self) -> None:
        """In every assignment of every practice."""
        for practice in PRACTICES:
            box = Box(gangs=(practice.ways,), conductors=conductors_of(practice, "eu"), circuits=1)
            for found in self.enumerated(box):
                for row in found.states:
                    once = [state for state in row if state >= states.switched(1)]
                    self.assertEqual(len(once), len(set(once)), practice.id)

    def test_a_bare_one_way_switch_has_two_likely_assignments(self) -> None:
        """Line here and switched live there, or the other way round; they weigh the same and nearly all."""
        box = Box(
            conductors=(
                Conductor(id="a", terminal=Terminal.COMMON, gang=1),
                Conductor(id="b", terminal=Terminal.L1, gang=1),
            ),
            circuits=1,
            all_listed=True,
        )
        found, in_neutral = self.enumerated(box)
        self.assertLess(float(np.exp(in_neutral.log_weight).sum()), 0.05 * float(np.exp(found.log_weight).sum()))
        weights = np.exp(found.log_weight)
        ranked = sorted(weights / weights.sum(), reverse=True)
        self.assertAlmostEqual(ranked[0], ranked[1], places=9)
        self.assertGreater(ranked[0] + ranked[1], 0.95)

    def test_a_two_way_gang_hides_its_end_and_its_crossing(self) -> None:
        """Four variants; an intermediate two; a one-way two, its switch in the live or in the neutral."""
        for ways, count in ((Ways.ONE_WAY, 2), (Ways.TWO_WAY, 4), (Ways.INTERMEDIATE, 2)):
            self.assertEqual(len(states.variants(Box(gangs=(ways,), circuits=1))), count)

    def test_too_many_assignments_are_cut_to_the_likeliest(self) -> None:
        """Twelve loose ends: the one that a reading speaks for stays."""
        box = Box(conductors=tuple(Conductor(id=f"c{k}", terminal=Terminal.LOOSE) for k in range(12)), circuits=1)
        blank = np.zeros((12, states.state_count(box)))
        blank[3, states.NEUTRAL] = 12.0
        found = states.enumerate_states(box, states.variants(box)[0], blank)
        self.assertLessEqual(found.log_weight.size, states.MOST_HYPOTHESES)
        self.assertTrue(np.all(found.states[:, 3] == states.NEUTRAL))

    def test_words_of_certainty_at_their_edges(self) -> None:
        """Sure from 0.985, likely from 0.80."""
        for share, word in ((0.985, "sure"), (0.984, "likely"), (0.8, "likely"), (0.79, "open")):
            self.assertEqual(certainty_of(share), word)

    def test_every_state_has_a_role(self) -> None:
        """And its gang where it has one."""
        box = Box(gangs=(Ways.TWO_WAY, Ways.INTERMEDIATE), conductors=(Conductor(id="a"),), circuits=1)
        node = box.nodes[0]
        for state in range(states.state_count(box)):
            role, gang = role_of(state, node)
            self.assertEqual(gang is not None, role in (Role.SWITCHED_LIVE, Role.TRAVELLER, Role.SWITCHED_NEUTRAL))


class Documents(SimpleTestCase):
    """Boxes as JSON."""

    def test_every_preset_comes_back_from_json(self) -> None:
        """In both regions."""
        for practice, region in product(PRACTICES, ("eu", "na")):
            for conductor in conductors_of(practice, region, gang=1):
                self.assertEqual(read_conductor(json.loads(json.dumps(write_conductor(conductor))), "c"), conductor)
        self.assertEqual(set(BY_ID), {practice.id for practice in PRACTICES})

    @settings(max_examples=150, deadline=None)
    @given(st.dictionaries(st.sampled_from(BOX_KEYS), JSON, max_size=6))
    def test_whatever_is_sent_is_read_or_refused_as_data(self, document: dict[str, object]) -> None:
        """Any JSON: a box, or an input error; never anything else."""
        try:
            read_box(document)
        except InputError as error:
            self.assertTrue(error.code)
        try:
            read_survey({"box": document, "v_rms": 230})
        except InputErrors as errors:
            self.assertTrue(errors.errors)

    @settings(max_examples=80, deadline=None)
    @given(st.dictionaries(st.sampled_from(("wired_year", "complaint", "radio", "devices_left", "lamps")), JSON))
    def test_an_enquiry_is_read_or_refused_as_data(self, document: dict[str, object]) -> None:
        """The same for what was learned by telephone."""
        try:
            read_enquiry(document)
        except InputError as error:
            self.assertTrue(error.code)

    def test_readings_between_conductors_may_be_between_phases(self) -> None:
        """To earth 1.3 times the supply, between conductors 2.2 times."""
        box = Box(conductors=(Conductor(id="a"), Conductor(id="b")), circuits=2)
        check(Reading(id="r", a="a", b="b", v=2.19 * V_RMS), box, V_RMS)
        for b, v in (("b", 2.21 * V_RMS), ("known_earth", 1.31 * V_RMS)):
            with self.assertRaises(InputError):
                check(Reading(id="r", a="a", b=b, v=v), box, V_RMS)
        with self.assertRaises(InputError) as caught:
            check(Reading(id="r", a="a", b="known_line", v=1.0), box, V_RMS)
        self.assertEqual(caught.exception.code, "voltage_to_earth_or_conductor")
        with self.assertRaises(InputError) as caught:
            check(Reading(id="r", a="a", b="b", is_open=True), box, V_RMS)
        self.assertEqual(caught.exception.code, "continuity_while_live")


class Colours(SimpleTestCase):
    """What colours usually mean."""

    def test_a_sleeve_counts_before_the_colour_below(self) -> None:
        """Blue with a brown sleeve is a live."""
        self.assertTrue(contradicts("eu", "blue", "", Role.PERMANENT_LIVE))
        self.assertFalse(contradicts("eu", "blue", "brown", Role.PERMANENT_LIVE))
        self.assertFalse(contradicts("na", "black", "", Role.SWITCHED_LIVE))
        self.assertTrue(contradicts("na", "white", "", Role.PERMANENT_LIVE))

    def test_nothing_is_said_of_an_unknown_colour(self) -> None:
        """No colour, no contradiction; an unused core may have any."""
        self.assertEqual(usual_roles("eu", "", ""), frozenset())
        self.assertFalse(contradicts("eu", "green_yellow", "", Role.UNUSED))

    def test_every_colour_of_a_region_is_on_the_list(self) -> None:
        """So that it can be chosen."""
        for table in USUAL.values():
            self.assertLessEqual(set(table), set(COLOURS))
