"""Isolation and proving dead as rules: covers, the one order, what ends a proof, what each step waits for."""

from __future__ import annotations

from dataclasses import replace
from itertools import permutations
from random import Random

from django.test import SimpleTestCase

from ember_core.errors import InputError
from ember_core.findings import Severity
from ember_core.survey import isolation as rules
from ember_core.survey.isolation import Charge, EventKind, LockPoint, Proof, ProofEvent, ProofState, Step

CONDUCTORS = ("c1", "c2", "c3")
KINDS = (EventKind.TESTER_BEFORE, EventKind.READING, EventKind.TESTER_AFTER, EventKind.CHARGE)


def point(name: str = "6", **changes: bool) -> LockPoint:
    """A breaker that is off under one's own lock."""
    return LockPoint(**{"name": name, "is_off": True, "is_locked": True, "is_mine": True, **changes})


def main(**changes: bool) -> LockPoint:
    """The main switch, on."""
    return LockPoint(**{"name": "main", "is_off": False, "is_locked": False, "is_mine": False, **changes})


def cover(*breakers: LockPoint, of_all: LockPoint | None = None) -> rules.Cover:
    """What keeps the power off."""
    return rules.Cover(breakers=breakers or (point(),), main=of_all or main())


def bench(**changes: object) -> rules.Bench:
    """Everything as it was when the proof began."""
    return rules.Bench(**{"conductors": CONDUCTORS, "cover": cover(), "now_s": 100.0, **changes})  # type: ignore[arg-type]


def whole(v: float = 0.2) -> Proof:
    """A proof taken in order, every pair at the same volts."""
    pairs = rules.needed_pairs(CONDUCTORS)
    events = (
        ProofEvent(kind=EventKind.TESTER_BEFORE, at_s=0.0),
        *(ProofEvent(kind=EventKind.READING, at_s=1.0, a=a, b=b, v=v) for a, b in pairs),
        ProofEvent(kind=EventKind.TESTER_AFTER, at_s=2.0),
        ProofEvent(kind=EventKind.CHARGE, at_s=3.0, charge=Charge.NONE_FITTED),
    )
    return Proof(conductors=CONDUCTORS, points=frozenset({"6"}), events=events)


def codes(found: tuple[object, ...]) -> list[str]:
    """Codes of findings."""
    return [finding.code for finding in found]  # type: ignore[attr-defined]


class Covers(SimpleTestCase):
    """What keeps the power off a box, for one person."""

    def test_every_breaker_of_the_box_and_a_lock_of_ones_own(self) -> None:
        """Each thing that is missing is named; the main switch stands for all of them."""
        off = point(is_off=False, is_locked=False, is_mine=False)
        for given, expected in (
            (cover(), []),
            (cover(off), ["no_isolation_open"]),
            (cover(point(), replace(off, name="9")), ["breaker_not_off"]),
            (cover(point(is_mine=False)), ["no_lock_of_yours"]),
            (cover(off, of_all=point("main")), []),
            (cover(off, of_all=point("main", is_mine=False)), ["no_lock_of_yours"]),
            (cover(point(), of_all=point("main", is_mine=False)), []),
            (rules.Cover(breakers=(), main=main()), ["no_isolation_open"]),
            (rules.Cover(breakers=(), main=point("main")), []),
        ):
            self.assertEqual(codes(rules.cover_shortfalls(given)), expected)


class Order(SimpleTestCase):
    """Tester, every pair, tester again, charge."""

    def take(self, proof: Proof, event: ProofEvent, **changes: object) -> Proof:
        """The proof with an event that is allowed."""
        rules.check_event(proof, event, v_rms=230.0, is_control_fitted=bool(changes.get("fitted", False)))
        return replace(proof, events=(*proof.events, event))

    def test_of_all_orders_only_one_is_taken(self) -> None:
        """Every permutation of the four kinds, with one conductor: exactly the right one goes through."""
        passed = []
        for kinds in permutations(KINDS):
            proof = Proof(conductors=("c1",), points=frozenset({"6"}))
            try:
                for kind in kinds:
                    charge = Charge.DISCHARGED if kind is EventKind.CHARGE else None
                    event = ProofEvent(kind=kind, at_s=0.0, a="c1", b="known_earth", v=0.1, charge=charge)
                    proof = self.take(proof, event)
            except InputError:
                continue
            passed.append(kinds)
        self.assertEqual(passed, [KINDS])

    def test_no_sequence_of_events_makes_a_live_pair_dead(self) -> None:
        """Two hundred random sequences with one reading of 60 V somewhere: none of them ends proved."""
        random = Random(4)
        for _ in range(200):
            proof = Proof(conductors=CONDUCTORS, points=frozenset({"6"}))
            proof = self.take(proof, ProofEvent(kind=EventKind.TESTER_BEFORE, at_s=0.0))
            pairs = rules.needed_pairs(CONDUCTORS) * 2
            random.shuffle(pairs)
            live = random.randrange(6)
            for number, (a, b) in enumerate(pairs):
                v = 60.0 if number == live else random.uniform(0.0, 9.9)
                try:
                    proof = self.take(proof, ProofEvent(kind=EventKind.READING, at_s=1.0, a=a, b=b, v=v))
                except InputError as error:
                    self.assertEqual(error.code, "proof_failed")
            for kind in (EventKind.TESTER_AFTER, EventKind.CHARGE):
                with self.assertRaises(InputError):
                    self.take(proof, ProofEvent(kind=kind, at_s=2.0, charge=Charge.NONE_FITTED))
            self.assertEqual(rules.state_of(proof, bench()), ProofState.FAILED)
            self.assertEqual(set(codes(rules.proof_shortfalls(proof, bench()))), {"still_live"})

    def test_the_limit_just_inside_and_just_outside(self) -> None:
        """10.0 V is dead, 10.01 V is not."""
        self.assertEqual(rules.state_of(whole(rules.DEAD_LIMIT_V), bench()), ProofState.PROVED)
        self.assertEqual(rules.state_of(whole(rules.DEAD_LIMIT_V + 0.01), bench()), ProofState.FAILED)

    def test_a_pair_may_be_read_either_way_round(self) -> None:
        """c2 to c1 is c1 to c2."""
        proof = replace(whole(), events=tuple(replace(e, a=e.b, b=e.a) for e in whole().events))
        self.assertEqual(proof.open_pairs(), [])


class Ends(SimpleTestCase):
    """What a proof does not outlive."""

    def test_each_of_them(self) -> None:
        """A new conductor, a lock off, a breaker more, another breaker, age; a conductor less does not end it."""
        for changes, expected in (
            ({}, ProofState.PROVED),
            ({"conductors": ("c1", "c2")}, ProofState.PROVED),
            ({"conductors": (*CONDUCTORS, "c4")}, ProofState.ENDED),
            ({"cover": cover(point(is_locked=False, is_mine=False))}, ProofState.ENDED),
            ({"cover": cover(point(), point("9"))}, ProofState.ENDED),
            ({"cover": cover(point("7"))}, ProofState.ENDED),
            ({"now_s": rules.PROOF_LASTS_S}, ProofState.PROVED),
            ({"now_s": rules.PROOF_LASTS_S + 1.0}, ProofState.ENDED),
        ):
            self.assertEqual(rules.state_of(whole(), bench(**changes)), expected, changes)

    def test_a_simulated_reading_proves_nothing_unless_simulated_ones_count(self) -> None:
        """One among many is enough."""
        events = list(whole().events)
        events[2] = replace(events[2], is_simulated=True)
        proof = replace(whole(), events=tuple(events))
        self.assertEqual(codes(rules.proof_shortfalls(proof, bench())), ["proof_is_simulated"])
        self.assertEqual(rules.proof_shortfalls(proof, bench(simulated_counts=True)), ())

    def test_an_ended_proof_takes_nothing_more(self) -> None:
        """Whatever comes."""
        proof = replace(whole(), ended="re_energised")
        with self.assertRaises(InputError) as caught:
            rules.check_event(proof, ProofEvent(kind=EventKind.CHARGE, at_s=9.0), v_rms=230.0, is_control_fitted=False)
        self.assertEqual(caught.exception.code, "proof_ended")


class Gates(SimpleTestCase):
    """What each step waits for."""

    def missing(self, step: Step, proof: Proof | None = None, **changes: object) -> list[str]:
        """Codes of what stands against a step."""
        facts = {"has_photo": True, "unmarked": (), "in_doubt": (), "done": set(Step), **changes}
        found = rules.step_shortfalls(step, rules.BoxFacts(**facts), proof, bench())  # type: ignore[arg-type]
        return codes(found)

    def test_every_step_with_everything_there_is_open(self) -> None:
        """Nothing stands against it."""
        for step in Step:
            self.assertEqual(self.missing(step, whole()), [], step)

    def test_each_gate_names_what_is_missing(self) -> None:
        """One thing taken away at a time."""
        for step, changes, expected in (
            (Step.DISCONNECT, {"proof": None}, ["not_proved_yet"]),
            (Step.FIT, {"done": {Step.OPEN, Step.PHOTOGRAPH}}, ["step_before_it"]),
            (Step.FIT, {"in_doubt": ("c2",)}, ["conductor_in_doubt"]),
            (Step.DISCONNECT, {"unmarked": ("c1",)}, ["conductors_not_marked"]),
            (Step.PHOTOGRAPH, {"has_photo": False}, ["no_photo_yet"]),
            (Step.PHOTOGRAPH, {"done": set()}, ["step_before_it"]),
        ):
            given = {"proof": whole(), **changes}
            self.assertEqual(self.missing(step, **given), expected, step)  # type: ignore[arg-type]

    def test_nothing_that_concerns_power_can_be_overridden(self) -> None:
        """Findings about isolation, locks and proof are stops; those of order, photograph, marks and doubt are not."""
        nothing = rules.BoxFacts(has_photo=False, unmarked=("c1",), in_doubt=("c1",), done=set())
        for step in Step:
            for proof, where in (
                (None, bench()),
                (whole(60.0), bench()),
                (whole(), bench(cover=cover(point(is_mine=False)))),
            ):
                for finding in rules.step_shortfalls(step, nothing, proof, where):
                    is_order = finding.code in (
                        "step_before_it",
                        "no_photo_yet",
                        "conductors_not_marked",
                        "conductor_in_doubt",
                    )
                    self.assertEqual(finding.severity is Severity.WARN, is_order, finding.code)

    def test_a_step_is_taken_back_after_those_that_rest_on_it(self) -> None:
        """Opening holds all the others."""
        self.assertEqual(rules.later_done(Step.OPEN, {Step.OPEN, Step.FIT}), (Step.FIT,))
        self.assertEqual(rules.later_done(Step.FIT, set(Step)), ())
