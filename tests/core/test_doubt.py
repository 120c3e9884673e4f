"""Certain is certain: contradictions, voltages that stay, guesses of a preset, and boxes with mishaps."""

from __future__ import annotations

from dataclasses import replace
from random import Random

from django.test import SimpleTestCase, tag

from ember_core.survey.box import Box, Conductor, Role, Terminal, Ways
from ember_core.survey.inference import Belief, Certainty, believe, believed, contradictions
from ember_core.survey.judge import judge_box
from ember_core.survey.next_reading import Proposal, Why, propose
from ember_core.survey.practices import BY_ID, conductors_of, guessed
from ember_core.survey.presence import Presence
from ember_core.survey.readings import Position, Reading
from tests.core.survey_boxes import (
    MISHAPS,
    SUPPLIES,
    Hidden,
    Operator,
    simulated,
    struck,
    switch_in_neutral,
    without_one,
)
from tests.core.test_survey import OFF, one_way, volts
from tests.drawn import drawn

LIGHT = ("feed_at_ceiling", "feed_at_switch", "singles_in_conduit", "fixture_fed_light_live", "two_way_far_end")
MOST_READINGS = 24
# Of boxes that something goes wrong in, seven or more ways each; a usual run has a hundred, a thorough one a thousand.
SEEDS = drawn(36, 143, usual=12)


def codes(box: Box, readings: list[Reading], region: str = "eu") -> dict[str, tuple[str, ...]]:
    """Codes of findings with what they refer to."""
    return {f.code: f.refs for f in contradictions(believe(box, readings, 230.0, region))}


def with_loose() -> Box:
    """A one-way switch and a core that hangs free."""
    return one_way(conductors=(*one_way().conductors, Conductor(id="c3", terminal=Terminal.LOOSE)))


class Contradictions(SimpleTestCase):
    """Two readings that cannot both be right."""

    def test_mains_and_then_nothing_is_told_with_both_values_and_nothing_is_sure(self) -> None:
        """229 V at low impedance, then 0.4 V under the same conditions: both are named, and it is asked for again."""
        readings = [volts("c3", 229.0), volts("c3", 0.4, number=2)]
        belief = believe(with_loose(), readings, 230.0, "eu")
        (found,) = [f for f in contradictions(belief) if f.code == "readings_contradict"]
        self.assertEqual((found.params["v"], found.params["v_then"]), (229.0, 0.4))
        self.assertEqual(found.refs, ("readings.r1", "readings.r2"))
        entry = next(e for e in believed(belief) if e.conductor == "c3")
        self.assertEqual(entry.certainty, Certainty.OPEN)
        self.assertNotEqual(entry.role, Role.UNUSED)
        again = propose(belief, dead=False)
        assert again is not None
        self.assertEqual((again.reading.a, again.why), ("c3", Why.CONTRADICTS))

    def test_the_mains_weigh_more_than_the_nothing(self) -> None:
        """An open lead reads nothing: as long as it is not clear, the conductor is taken for live."""
        belief = believe(one_way(), [volts("c1", 229.0), volts("c1", 0.4, number=2)], 230.0, "eu")
        entry = believed(belief)[0]
        self.assertEqual((entry.role, entry.certainty), (Role.PERMANENT_LIVE, Certainty.OPEN))

    def test_struck_out_it_is_clear_again(self) -> None:
        """Taken a third time and the odd one struck out, the finding is gone and the role is no longer open."""
        box = one_way()
        taken = [
            volts("c1", 229.0),
            volts("c1", 0.4, number=2),
            volts("c1", 230.5, number=3),
            volts("c2", 0.3, number=4),
        ]
        left = struck(box, taken, 230.0)
        self.assertEqual([reading.id for reading in left], ["r1", "r3", "r4"])
        self.assertNotIn("readings_contradict", codes(box, left))
        self.assertNotEqual(believed(believe(box, left, 230.0, "eu"))[0].certainty, Certainty.OPEN)

    def test_other_conditions_are_no_contradiction(self) -> None:
        """The switch the other way, another impedance, another point."""
        for other in (
            volts("c2", 0.4, number=2, switches={"1": "on"}),
            volts("c2", 0.4, number=2, b="c1"),
        ):
            self.assertNotIn("readings_contradict", codes(one_way(), [volts("c2", 229.0), other]))

    def test_continuity_that_was_closed_and_then_open(self) -> None:
        """The same of the dead method."""
        closed = Reading(id="r1", a="c1", b="known_line", r_ohm=0.2, supply_on=False, switches=OFF)
        found = codes(one_way(), [closed, replace(closed, id="r2", r_ohm=None, is_open=True)])
        self.assertEqual(found["continuity_contradicts"], ("readings.r1", "readings.r2"))


class Ghosts(SimpleTestCase):
    """What may be a ghost, and what is none."""

    def test_volts_that_stay_at_low_impedance_are_no_ghost(self) -> None:
        """55.6 V under load: never "gone at low impedance", never sure; the dead method settles it."""
        readings = [volts("c1", 231.0), volts("c2", 0.3, number=2), volts("c3", 55.6, number=3)]
        found = codes(with_loose(), readings)
        self.assertIn("voltage_stays", found)
        self.assertNotIn("ghost_voltage", found)
        entry = believed(believe(with_loose(), readings, 230.0, "eu"))[2]
        self.assertEqual(entry.certainty, Certainty.OPEN)
        on = {"1": Position.ON}
        readings += [volts("c1", 230.0, number=4, switches=on), volts("c2", 230.0, number=5, switches=on)]
        asked = propose(believe(with_loose(), readings, 230.0, "eu"), dead=True)
        assert asked is not None
        self.assertEqual(asked.reading.a, "c3")

    def test_just_below_and_above_what_counts_as_staying(self) -> None:
        """10 V and a little more."""
        for v, stays in ((9.9, False), (12.0, True)):
            readings = [volts("c1", 231.0), volts("c2", 0.3, number=2), volts("c3", v, number=3)]
            self.assertEqual("voltage_stays" in codes(with_loose(), readings), stays, v)

    def test_a_ghost_is_called_one_only_when_low_impedance_found_it_gone(self) -> None:
        """On 10 MΩ alone it may be one."""
        high = volts("c3", 80.0, number=3, meter_r_ohm=1e7)
        base = [volts("c1", 231.0), volts("c2", 0.3, number=2), high]
        self.assertIn("perhaps_ghost", codes(with_loose(), base))
        self.assertIn("ghost_voltage", codes(with_loose(), [*base, volts("c3", 0.5, number=4)]))


class Guesses(SimpleTestCase):
    """What nobody looked at, and what nobody read."""

    def test_a_preset_makes_nothing_certain_and_fills_no_colour(self) -> None:
        """Travellers drawn by a preset are open; seen, they are likely at the most until they are read."""
        drawn = guessed(BY_ID["two_way_far_end"], "eu")
        self.assertEqual({conductor.colour for conductor in drawn}, {""})
        for conductors, least in ((drawn, Certainty.OPEN), (conductors_of(BY_ID["two_way_far_end"], "eu"), None)):
            box = Box(gangs=(Ways.TWO_WAY,), conductors=conductors, circuits=1, all_listed=True)
            for entry in believed(believe(box, [], 230.0, "eu")):
                self.assertEqual(entry.certainty, Certainty.OPEN)
            one = [Reading(id="r1", a="c1", b="known_earth", v=230.0, meter_r_ohm=4e5)]
            for entry in believed(believe(box, one, 230.0, "eu"))[1:]:
                self.assertNotEqual(entry.certainty, Certainty.SURE)
                self.assertFalse(entry.is_read)
                if least is not None:
                    self.assertEqual(entry.certainty, least)

    def test_one_conductor_without_a_reading_is_open(self) -> None:
        """However the list looks."""
        box = Box(conductors=(Conductor(id="c1", terminal=Terminal.COMMON, gang=1),), circuits=1, all_listed=True)
        self.assertEqual(believed(believe(box, [], 230.0, "eu"))[0].certainty, Certainty.OPEN)

    def test_where_readings_are_in_doubt_no_neutral_is_excluded(self) -> None:
        """A contradiction at one core leaves the verdict on the neutral open."""
        clear = [volts("c1", 231.0), volts("c2", 0.3, number=2), volts("c2", 230.0, number=3, switches={"1": "on"})]
        self.assertEqual(judge_box(one_way(), clear, v_rms=230.0, region="eu").neutral.verdict, Presence.ABSENT)
        doubt = [*clear, volts("c2", 229.0, number=4)]
        self.assertEqual(judge_box(one_way(), doubt, v_rms=230.0, region="eu").neutral.verdict, Presence.UNKNOWN)

    @tag("long")
    def test_what_was_just_read_is_not_asked_for_again(self) -> None:
        """Unless something speaks against it, or all rests on it; then the proposal says so."""
        for name in LIGHT:
            for seed in range(3):
                hidden = simulated([name], "eu", seed)
                done: list[Reading] = []
                random = Random(seed)
                for number in range(MOST_READINGS):
                    asked = propose(believe(hidden.box, done, 230.0, "eu"))
                    if asked is None:
                        break
                    keys = [(r.a, r.b, r.is_voltage, tuple(r.switches.items())) for r in done]
                    asks = asked.reading
                    repeats = (asks.a, asks.b, asks.is_voltage, tuple(asks.switches.items())) in keys
                    self.assertEqual(repeats, asked.why is not Why.TELLS_MOST)
                    done.append(replace(hidden.answer(asks, random), id=f"r{number}"))


@tag("long")
class Mishaps(SimpleTestCase):
    """Hundreds of boxes in which something goes wrong: never sure and wrong."""

    def setUp(self) -> None:
        self.weighed: dict[str, tuple[Belief, Proposal | None]] = {}

    def weigh(self, hidden: Hidden, done: list[Reading]) -> tuple[Belief, Proposal | None]:
        """What is believed of a box and asked next; boxes whose mishap comes later are weighed once until then."""
        key = repr((hidden.box, hidden.region, done))
        if key not in self.weighed:
            belief = believe(hidden.box, done, SUPPLIES[hidden.region][0], hidden.region)
            self.weighed[key] = belief, propose(belief)
        return self.weighed[key]

    def ends(self, hidden: Hidden, seed: int, mishap: str = "") -> tuple[bool, list[str]]:
        """Whether every likeliest role is right, and what is sure and wrong."""
        random = Random(seed + 5)
        operator = Operator(hidden=hidden, random=random, mishap=mishap, when=random.randrange(4) if mishap else -1)
        v_rms = SUPPLIES[hidden.region][0]
        done: list[Reading] = []
        for number in range(MOST_READINGS):
            done = struck(hidden.box, done, v_rms)
            asked = self.weigh(hidden, done)[1]
            if asked is None:
                break
            done.append(replace(operator.take(asked.reading), id=f"r{number}"))
        found = believed(self.weigh(hidden, done)[0])
        wrong = [
            f"{entry.conductor}: {entry.role}, is {hidden.roles[entry.conductor]}"
            for entry in found
            if entry.certainty is Certainty.SURE and entry.role is not hidden.roles[entry.conductor]
        ]
        return all(entry.role is hidden.roles[entry.conductor] for entry in found), wrong

    def test_whatever_goes_wrong(self) -> None:
        """Contradictory, mistyped, wrong-range and wrong-terminal readings, a core nobody listed, a switch in the
        neutral: none is sure and wrong, and at least 98 of 100 end with every likeliest role right."""
        boxes = right = 0
        for seed in range(SEEDS):
            self.weighed.clear()
            region = "eu" if seed % 2 else "na"
            hidden = simulated([LIGHT[seed % len(LIGHT)]], region, seed)
            unlisted = without_one(hidden, Random(seed), all_listed=bool(seed % 3))
            cases = [(hidden, mishap) for mishap in MISHAPS]
            cases += [(unlisted, ""), (unlisted, "mistyped"), (switch_in_neutral(region, seed), "")]
            for case, mishap in cases:
                is_right, wrong = self.ends(case, seed, mishap)
                self.assertEqual(wrong, [], f"{seed} {mishap} {case.roles}")
                boxes += 1
                right += is_right
        self.assertGreaterEqual(boxes, 7 * SEEDS)
        self.assertGreaterEqual(right, 0.98 * boxes)

    @tag("whole")
    def test_three_gangs_with_joined_groups_and_sixteen_conductors(self) -> None:
        """The largest boxes there are: never sure and wrong."""
        for practices in (
            ["feed_at_switch", "feed_at_switch", "feed_at_ceiling"],
            ["two_way_feed_end", "feed_at_switch", "feed_at_ceiling"],
        ):
            hidden = simulated(practices, "eu", 1)
            self.assertGreaterEqual(len(hidden.box.conductors), 15)
            is_right, wrong = self.ends(hidden, 1)
            self.assertEqual((is_right, wrong), (True, []))
