"""Diagnosing: the data, what a world shows, evidence, shares, the next test, remedies, and drawn loops."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
from django.test import tag

from ember_core.diagnosis import wired
from ember_core.diagnosis.by_itself import BY_ITSELF
from ember_core.diagnosis.changes import INJECTED, changed_world
from ember_core.diagnosis.evidence import ASKED, Case, Evidence, Told, outcomes_of, read
from ember_core.diagnosis.inference import Diagnosis, diagnose, population_of
from ember_core.diagnosis.knowledge import Area, Danger, Power, TestKind, knowledge
from ember_core.diagnosis.outcomes import found_by
from ember_core.diagnosis.population import base_worlds, priors
from ember_core.diagnosis.posterior import EXPLAINS_FROM
from ember_core.diagnosis.remedies import CURES, OFFERED, cured
from ember_core.diagnosis.shows import Shows
from ember_core.diagnosis.symptoms import Symptom
from ember_core.diagnosis.world import Air, BoxIs, BypassIs, ContactIs, HubIs, LampsAre, SettingsAre
from ember_core.errors import InputErrors
from ember_core.offstate.states import LampState
from ember_core.routes.as_wired import wired_for
from ember_core.routes.ways import Way
from ember_core.sheet import Sheet
from ember_core.sheet import read as read_sheet
from ember_core.spread.observe import observe
from ember_core.spread.shown import rhythm_s
from ember_core.spread.variables import draw, loop_at, variables
from tests.core import faulty
from tests.core.faulty import CAPACITOR, loop_sheet

BLINKS = loop_sheet("rectifier", 1, phase="on_off")
QUIET = loop_sheet("rectifier", 2, CAPACITOR, phase="on_off")
DIMMED = loop_sheet("dimmable_driver", 6, phase="selectable", p_max_led_w=150.0)


def asked(sheet: Sheet, *codes: str, **found: str) -> Diagnosis:
    """A case of some symptoms and outcomes."""
    evidence = tuple(Evidence(test=test, outcome=outcome) for test, outcome in found.items())
    told = tuple(Told(code=Symptom(code)) for code in codes)
    return diagnose(Case(sheet=sheet, told=told, evidence=evidence))


class Data(TestCase):
    """What is known besides what is simulated."""

    def test_every_cause_can_be_simulated_and_has_a_remedy(self) -> None:
        """At least forty over six areas; nothing is offered that does not exist, nothing exists that is not offered."""
        known = knowledge()
        self.assertGreaterEqual(len(known.causes), 40)
        self.assertEqual({cause.area for cause in known.causes.values()}, set(Area))
        self.assertEqual(set(known.causes), set(INJECTED) | set(BY_ITSELF))
        self.assertEqual(set(known.causes), set(OFFERED))
        self.assertEqual(set(known.remedies), set(CURES))
        self.assertEqual({name for offered in OFFERED.values() for name in offered}, set(CURES))
        for cause in known.causes.values():
            self.assertTrue(cause.because, cause.code)
            self.assertTrue(cause.follows, cause.code)
            self.assertLessEqual(set(cause.follows), set(known.tests["changed_asked"].outcomes), cause.code)

    def test_tests_that_open_a_box_want_it_isolated(self) -> None:
        """And what is looked at in the dark of an isolated loop is none; danger is priced."""
        known = knowledge()
        for test in known.tests.values():
            if test.danger in (Danger.DEAD, Danger.LEADS):
                self.assertIn(test.power, (Power.OFF, Power.BOTH), test.code)
                self.assertGreater(known.cost_min(test), test.minutes, test.code)
            if test.kind is TestKind.ASK:
                self.assertEqual((test.danger, test.power), (Danger.NONE, Power.ANY), test.code)

    def test_outcomes_of_every_test_are_those_that_a_world_can_have(self) -> None:
        """Chances sum to one, and each outcome has a word."""
        shows = Shows(base_worlds(read_sheet(DIMMED), 3, 4)[0])
        for test in knowledge().tests.values():
            if not test.is_value:
                chances = found_by(shows, test.code, (Symptom.FLICKER_LOW,))
                self.assertLessEqual(set(chances), set(test.outcomes), test.code)
                self.assertAlmostEqual(sum(chances.values()), 1.0, msg=test.code)


class Worlds(TestCase):
    """What a cause does, by the solvers."""

    def test_every_cause_shows_something_somewhere(self) -> None:
        """In a dozen drawn loops each cause that can be put in brings a symptom that was not there before."""
        shown: set[str] = set()
        for sheet in faulty.sheets():
            worlds = [Shows(world) for world in base_worlds(sheet, 5, 10)]
            for code in set(INJECTED) - shown:
                for k, before in enumerate(worlds):
                    made = changed_world(code, before.world, np.random.default_rng([1, k]), "nothing")
                    if made is None:
                        continue
                    after = Shows(made)
                    if any(after.symptom(one) > before.symptom(one) + 0.2 for one in Symptom):
                        shown.add(code)
                        break
        self.assertEqual(set(INJECTED) - shown, set())

    def test_wiring_faults_are_told_by_the_proof_of_the_wiring(self) -> None:
        """The box as it should be works and shows nothing; each fault shows what it does."""
        self.assertTrue(wired.as_mapped().works)
        self.assertEqual(wired.signs(BoxIs.AS_MAPPED), frozenset())
        self.assertIn(wired.DEAD_CONTROL, wired.signs(BoxIs.LINE_LOAD))
        self.assertIn(wired.DEAD_CONTROL, wired.signs(BoxIs.LINK))
        self.assertIn(wired.OTHER_LAMP, wired.signs(BoxIs.GANGS))
        self.assertIn(wired.DEPENDS, wired.signs(BoxIs.TRAVELLERS))
        self.assertIn(wired.PLATE_LIVE, wired.signs(BoxIs.EARTH))

    def test_a_starved_control_looks_like_radio(self) -> None:
        """It drops off the network as one that is out of range does, and restarts, which that does not."""
        worlds = base_worlds(read_sheet(QUIET), 1, 8)
        starved = Shows(replace(worlds[0], box=BoxIs.LINK))
        far = Shows(replace(worlds[0], air=Air(margin_db=-5.0)))
        self.assertEqual(starved.symptom(Symptom.DROPS_OFF_NETWORK), 1.0)
        self.assertGreater(far.symptom(Symptom.DROPS_OFF_NETWORK), 0.9)
        self.assertEqual(far.symptom(Symptom.CONTROL_RESTARTS), 0.0)
        near = Shows(replace(worlds[0], air=Air(margin_db=30.0)))
        self.assertLess(near.symptom(Symptom.DROPS_OFF_NETWORK), 0.01)

    def test_a_half_wave_flickers_or_halves_by_the_lamp(self) -> None:
        """A driver with little reservoir flickers; a filament burns at less than its light."""
        for stage, symptom in (("dimmable_driver", Symptom.FLICKER_ON), ("filament", Symptom.NOT_FULL)):
            sheet = read_sheet(loop_sheet(stage, 2, phase="leading", p_w=40.0 if stage == "filament" else 8.0))
            worlds = [replace(one, contact=ContactIs.HALF) for one in base_worlds(sheet, 1, 6)]
            self.assertTrue(any(Shows(one).symptom(symptom) == 1.0 for one in worlds), stage)

    def test_the_quick_rhythm_is_that_of_the_long_look(self) -> None:
        """Within an eighth for half of the drawn loops that blink, two fifths for nine of ten."""
        sheet = read_sheet(BLINKS)
        found = variables(sheet)
        errors = []
        for row in draw(found, 40, 3):
            loop = loop_at(sheet.loop, found, row)
            seen = observe(loop)
            if LampState.BLINK in seen.lamps and seen.shown is not None and seen.shown.period_s is not None:
                errors.append(abs(np.log((rhythm_s(loop) or 1e-9) / seen.shown.period_s)))
        self.assertGreater(len(errors), 8)
        self.assertLess(np.quantile(errors, 0.5), 0.12)
        self.assertLess(np.quantile(errors, 0.9), 0.4)


class Reading(TestCase):
    """Cases as data."""

    def errors_of(self, **document: object) -> dict[str, str]:
        """Codes by path."""
        with self.assertRaises(InputErrors) as raised:
            read({"sheet": QUIET, "symptoms": [{"code": "blink_off"}], **document})
        return {error.path: error.code for error in raised.exception.errors}

    def test_what_cannot_be_is_said_all_at_once(self) -> None:
        """A period of none, an unknown symptom, a value without a number, an outcome that a test cannot have."""
        found = self.errors_of(
            symptoms=[{"code": "blink_off", "period_s": 0}, {"code": "purple"}, {"code": "buzz", "period_s": 1.0}],
            evidence=[
                {"test": "lamp_v"},
                {"test": "dowsing", "outcome": "yes"},
                {"test": "wall_pressed", "outcome": "maybe"},
                {"test": "lamp_v", "v_rms": "37"},
                {"test": "asked_purple", "outcome": "yes"},
                {"test": "wall_pressed", "outcome": "works", "more": 1},
            ],
        )
        self.assertEqual(found["symptoms[0].period_s"], "out_of_bounds")
        self.assertEqual(found["symptoms[1].code"], "unknown_kind")
        self.assertEqual(found["symptoms[2].period_s"], "no_rhythm")
        self.assertEqual(found["evidence[0].v_rms"], "missing")
        self.assertEqual(found["evidence[1].test"], "unknown_kind")
        self.assertEqual(found["evidence[2].outcome"], "unknown_word")
        self.assertEqual(found["evidence[3].v_rms"], "not_a_number")
        self.assertEqual(found["evidence[4].test"], "unknown_kind")
        self.assertEqual(found["evidence[5].more"], "unknown_key")

    def test_a_sheet_that_is_wrong_is_named_inside_the_case(self) -> None:
        """Its places begin with `sheet`."""
        with self.assertRaises(InputErrors) as raised:
            read({"sheet": {**QUIET, "lamps": []}, "symptoms": [{"code": "blink_off"}]})
        self.assertTrue(all(error.path.startswith("sheet") for error in raised.exception.errors))

    def test_contradictions_are_refused(self) -> None:
        """One test with two outcomes; a symptom told twice; told and then denied. Not knowing contradicts nothing."""
        twice = [{"test": "wall_pressed", "outcome": "works"}, {"test": "wall_pressed", "outcome": "nothing"}]
        self.assertEqual(self.errors_of(evidence=twice)["evidence[1]"], "evidence_contradicts")
        told = [{"code": "buzz"}, {"code": "buzz"}]
        self.assertEqual(self.errors_of(symptoms=told)["symptoms[1]"], "told_twice")
        denied = [{"test": f"{ASKED}blink_off", "outcome": "no"}]
        self.assertEqual(self.errors_of(evidence=denied)["evidence[0]"], "evidence_contradicts")
        unsure = [{"test": "wall_pressed", "outcome": "works"}, {"test": "wall_pressed", "outcome": "dont_know"}]
        case = read({"sheet": QUIET, "symptoms": [{"code": "blink_off"}], "evidence": unsure})
        self.assertEqual([one.says for one in case.evidence], [True, False])

    def test_nothing_told_is_no_case(self) -> None:
        """At least one symptom."""
        self.assertEqual(self.errors_of(symptoms=[]), {"symptoms": "no_symptom"})

    def test_a_meter_of_low_impedance_makes_another_test(self) -> None:
        """Whatever it is called, the meter decides."""
        for meter, test in ((1e7, "lamp_v"), (4e5, "lamp_v_low_z")):
            given = [{"test": "lamp_v", "v_rms": 37, "meter_r_ohm": meter}]
            case = read({"sheet": QUIET, "symptoms": [{"code": "blink_off"}], "evidence": given})
            self.assertEqual((case.evidence[0].test, case.evidence[0].value), (test, 37.0))


class Weighing(TestCase):
    """Shares, the next test, remedies."""

    @tag("long")
    def test_what_is_seen_at_the_bypass_settles_where_it_is(self) -> None:
        """Each finding brings the cause that it stands for to the front, and its own remedy."""
        sheet = read_sheet(QUIET)
        for outcome, cause, remedy in (
            ("missing", "bypass_missing", "replace_bypass"),
            ("other_gang", "bypass_other_gang", "move_bypass"),
            ("across_control", "bypass_across_control", "move_bypass"),
        ):
            found = asked(sheet, "blink_off", bypass_looked_at=outcome)
            self.assertEqual(found.causes[0].code, cause)
            self.assertGreater(found.causes[0].share, 0.6, outcome)
            self.assertTrue(found.explained)
            chances = {one.code: one.chance for one in found.remedies}
            self.assertGreater(chances[remedy], 0.6, outcome)

    def test_the_loop_as_recorded_is_suspected_where_it_does_it_by_itself(self) -> None:
        """Without a bypass the lamp that the solver lets blink needs one; the remedy cures it."""
        found = asked(read_sheet(BLINKS), "blink_off", lamps_looked_at="as_recorded", box_looked_at="as_mapped")
        self.assertEqual(found.causes[0].code, "no_bypass")
        self.assertEqual(found.remedies[0].code, "fit_bypass")
        self.assertGreater(found.remedies[0].chance, 0.9)

    @tag("whole")
    def test_either_half_of_a_loop_may_have_been_what_was_changed(self) -> None:
        """The lamp that blinks needs a bypass, whether it came to the control or the control to it."""
        for changed in ("lamps", "control"):
            found = asked(read_sheet(BLINKS), "blink_off", changed_asked=changed)
            self.assertEqual((found.causes[0].code, found.explained), ("no_bypass", True), changed)
        found = asked(read_sheet(BLINKS), "blink_off", changed_asked="network")
        self.assertFalse(found.explained)

    def test_whatever_a_cause_may_follow_is_likely_to_be_told_of_it(self) -> None:
        """So likely that a case with this cause counts as explained by it, whichever of its changes is remembered."""
        known = knowledge()
        world = base_worlds(read_sheet(DIMMED), 1, 2)[0]
        wrong, outcomes = known.wrong_ratio[TestKind.ASK], known.tests["changed_asked"].outcomes
        for cause in known.causes.values():
            said = found_by(Shows(replace(world, changed=cause.follows)), "changed_asked", ())
            self.assertAlmostEqual(sum(said.values()), 1.0)
            for one in cause.follows:
                self.assertGreater(said[one] * (1.0 - wrong) + wrong / len(outcomes), 1.1 * EXPLAINS_FROM, cause.code)

    @tag("long")
    def test_swapped_gangs_tell_what_hangs_on_the_feed(self) -> None:
        """Where a swap makes it work, the bypass of the other gang is likelier than a dead radio, and than before."""
        sheet = read_sheet(QUIET)
        before = {one.code: one.share for one in asked(sheet, "drops_off_network").causes}
        after = {one.code: one.share for one in asked(sheet, "drops_off_network", gangs_swapped="works").causes}
        self.assertLess(after.get("out_of_range", 0.0), before["out_of_range"])
        blinks = asked(sheet, "blink_off", gangs_swapped="works", lamps_looked_at="as_recorded")
        self.assertEqual(blinks.causes[0].code, "bypass_other_gang")

    @tag("long")
    def test_looking_goes_before_opening(self) -> None:
        """The first test of a complaint needs neither ladder nor isolation, and tells something."""
        for code in ("blink_off", "drops_off_network", "nothing_lights"):
            found = asked(read_sheet(QUIET), code)
            first = found.tests[0]
            danger = knowledge().tests[first.code].danger if first.code in knowledge().tests else Danger.NONE
            self.assertEqual(danger, Danger.NONE, code)
            self.assertGreater(first.gain_bits, 0.1, code)

    @tag("long")
    def test_nothing_is_asked_twice(self) -> None:
        """Neither what was answered nor what nobody could answer."""
        found = asked(read_sheet(QUIET), "blink_off", wall_pressed="works", changed_asked="cannot")
        codes = {one.code for one in found.tests}
        self.assertFalse(codes & {"wall_pressed", "changed_asked"})
        self.assertNotIn(f"{ASKED}blink_off", codes)

    @tag("long")
    def test_evidence_moves_the_shares_the_way_it_speaks(self) -> None:
        """A symptom speaks for the causes that show it; an answer that nobody had moves nothing."""
        sheet = read_sheet(QUIET)
        found = asked(sheet, "drops_off_network", network_looked_at="weak")
        best = found.causes[0]
        self.assertEqual(knowledge().causes[best.code].area, Area.RADIO)
        self.assertTrue(all(one.bits > 0.0 for one in best.speaks))
        before = asked(sheet, "drops_off_network")
        unsure = asked(sheet, "drops_off_network", network_looked_at="dont_know")
        self.assertEqual([one.share for one in before.causes], [one.share for one in unsure.causes])

    def test_two_causes_at_once_are_found(self) -> None:
        """A dead lamp and a bad setting, which no single cause makes likely together."""
        found = asked(
            read_sheet(DIMMED),
            "one_lamp_dark",
            "lights_after_outage",
            lamps_looked_at="some_dark",
            settings_looked_at="power_on",
        )
        self.assertEqual(set(found.causes[0].code.split("+")), {"lamp_dead", "power_on_setting"})
        self.assertTrue(found.explained)

    def test_nothing_explains_it_is_an_answer(self) -> None:
        """Answers of many causes at once: said so, with what does not fit, and no remedy that is sure."""
        found = asked(
            read_sheet(QUIET),
            "plate_tingles",
            wall_pressed="stays_on",
            network_looked_at="full",
            lamps_looked_at="smart_lamp",
            settings_looked_at="input",
            box_looked_at="travellers_mixed",
        )
        self.assertFalse(found.explained)
        self.assertGreater(found.none_share, 0.5)
        self.assertTrue(all(one.chance < 0.5 for one in found.remedies))

    @tag("long")
    def test_the_same_case_gets_the_same_answer(self) -> None:
        """Seeds are fixed; solved once or solved anew."""
        sheet = read_sheet(QUIET)
        case = Case(sheet=sheet, told=(Told(code=Symptom.BLINK_OFF, period_s=0.6),))
        one = diagnose(case)
        population_of.__globals__["_population"].cache_clear()
        self.assertEqual(one, diagnose(case))

    @tag("long")
    def test_shares_sum_to_one(self) -> None:
        """With none of these, and whatever weighs too little to be named."""
        found = asked(read_sheet(DIMMED), "flicker_low")
        total = sum(one.share for one in found.causes) + found.none_share
        self.assertLessEqual(total, 1.0 + 1e-9)
        self.assertGreater(total, 0.97)

    def test_what_is_not_in_a_loop_is_no_cause_of_it(self) -> None:
        """No bypass recorded: none dried out. No dimmer: no edge. An ordinary switch: no radio."""
        plain = loop_sheet("rectifier", 2)
        plain["control"] = {"c_snubber_f": 1e-9}
        codes = {one.cause for one in population_of(read_sheet(plain)).particles}
        self.assertFalse(codes & {"bypass_dried", "bypass_missing", "edge_wrong", "least_too_low", "hub_full"})
        self.assertIn("locator_lamp", codes)

    def test_radio_is_suspected_of_whatever_is_fed(self) -> None:
        """One with a neutral of its own has a network to lose, as one fed through the lamps; a switch has none."""
        looks = "network_looked_at"
        through_lamps = read_sheet(QUIET)
        by_neutral = wired_for(through_lamps, Way.NEUTRAL_PRESENT)
        for sheet in (through_lamps, by_neutral):
            found = asked(sheet, "drops_off_network")
            self.assertIn(knowledge().causes[found.causes[0].code].area, (Area.RADIO, Area.FED), found.causes[0])
            self.assertIn(looks, {one.code for one in found.tests})
        control = replace(by_neutral.loop.control, has_neutral=False)
        switch = replace(by_neutral, loop=replace(by_neutral.loop, control=control))
        self.assertNotIn(looks, {one.code for one in asked(switch, "drops_off_network").tests})

    def test_closed_cases_teach_without_a_jump(self) -> None:
        """One case moves a share by little; many bring it to what the firm sees."""
        known = knowledge()
        before = priors(known, {})
        self.assertAlmostEqual(sum(before.values()), 1.0)
        one = priors(known, {"choke_left_in": 1})
        self.assertLess(one["choke_left_in"] - before["choke_left_in"], 0.02)
        many = priors(known, {"choke_left_in": 600, "lamp_dead": 400})
        self.assertAlmostEqual(many["choke_left_in"], 0.6, delta=0.05)
        rising = [priors(known, {"choke_left_in": count})["choke_left_in"] for count in range(0, 40, 5)]
        self.assertEqual(rising, sorted(rising))

    def test_a_remedy_cures_only_what_showed(self) -> None:
        """And makes nothing new."""
        sound = Shows(base_worlds(read_sheet(QUIET), 1, 8)[0])
        broken = Shows(replace(sound.world, settings=SettingsAre.POWER_ON), sound)
        told = (Symptom.LIGHTS_AFTER_OUTAGE,)
        self.assertTrue(cured("set_power_on", broken, sound, told))
        self.assertFalse(cured("fit_bypass", broken, sound, told))
        self.assertFalse(cured("set_power_on", sound, sound, told))

    def test_lamps_and_places_that_are_found_are_named_as_the_data_names_them(self) -> None:
        """What a world is found to be is an outcome of the test that looks at it."""
        tests = knowledge().tests
        self.assertEqual({one.value for one in LampsAre}, set(tests["lamps_looked_at"].outcomes))
        self.assertEqual({one.value for one in SettingsAre}, set(tests["settings_looked_at"].outcomes))
        self.assertEqual({one.value for one in BoxIs}, set(tests["box_looked_at"].outcomes))
        self.assertEqual({one.value for one in HubIs} | {"weak"}, set(tests["network_looked_at"].outcomes))
        self.assertEqual({one.value for one in BypassIs} - {"none"}, set(tests["bypass_looked_at"].outcomes))
        self.assertEqual(outcomes_of(f"{ASKED}buzz"), ("yes", "no"))


@tag("whole")
class DrawnLoops(TestCase):
    """Faulty loops with their truth, answered with errors: a part of the three hundred of `tests.core.faulty`."""

    def test_the_true_cause_comes_first_and_its_remedy_cures(self) -> None:
        """After at most four suggested tests; the bounds are those asked for, less what so few loops may be off."""
        made = faulty.run(36, with_ladder=False)
        count = len(made)
        self.assertGreater(count, 30)
        self.assertGreaterEqual(sum(one.place == 0 for one in made) / count, 0.78)
        self.assertGreaterEqual(sum(one.place is not None and one.place < 3 for one in made) / count, 0.91)
        self.assertLessEqual(sum(one.is_sure_of_other for one in made), 2)
        self.assertGreaterEqual(sum(one.cures for one in made) / count, 0.83)

    def test_suggested_tests_take_less_time_than_the_ladder(self) -> None:
        """A third less at least until one cause stands out."""
        made = faulty.run(24, seed=3)
        self.assertLess(sum(one.minutes for one in made), 0.7 * sum(one.ladder_minutes for one in made))
