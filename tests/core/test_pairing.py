"""Joining devices: every plan on the simulated hub, every impossible one by a search, and what to redo after a miss."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace

from django.test import tag

from ember_core.errors import InputErrors
from ember_core.pairing.cards import Act, Companion, cards, read_card
from ember_core.pairing.job import Device, Hub, Job, Why
from ember_core.pairing.plan import Do, plan, redo
from ember_core.radio.budget import Band
from ember_core.radio.mesh import Kind
from ember_core.reading import Reader
from standins.hub_rules import SimulatedHub
from tests.core.pairings import carry_out, do, drawn_job, easy_job, reach, ready

SITES = 400


class EveryPlan(unittest.TestCase):
    """On the stand-in, step by step."""

    def test_what_is_possible_succeeds(self) -> None:
        """Drawn sites of both sorts: every step in its time, everything joined and linked, the network closed."""
        possible = 0
        for seed in range(SITES):
            draw = random.Random(seed)
            job = easy_job(draw, 14) if seed % 2 else drawn_job(draw, 8)
            made = plan(job)
            if not made.is_possible:
                continue
            possible += 1
            hub = SimulatedHub(job)
            for step in made.steps:
                carry_out(hub, step)
                if step.do in (Do.JOIN, Do.LINK):
                    done = hub.has_joined(step.device) if step.do is Do.JOIN else hub.is_linked(step.device)
                    self.assertTrue(done, (seed, step, hub.events[-3:]))
                    assert step.latest_s is not None
                    self.assertLessEqual(step.end_s, step.latest_s + 1e-9, (seed, step))
            self.assertTrue(hub.is_done() or not job.devices, (seed, hub.events))
            # Whoever wakes by the same breaker may ask in vain; nobody who is meant does.
            meant = {step.device for step in made.steps if step.do is Do.ENTER}
            vain = {one.code for one in hub.events if one.is_refusal and one.device in meant}
            self.assertLessEqual(vain, {"network_closed"}, seed)
            self.assertFalse(hub.left_over)
        self.assertGreater(possible, SITES // 2)

    def test_hands_do_one_thing_at_a_time(self) -> None:
        """Steps follow each other without a gap or an overlap; routers that can join come before end devices."""
        for seed in range(40):
            made = plan(easy_job(random.Random(seed), 14))
            for before, after in zip(made.steps, made.steps[1:], strict=False):
                self.assertAlmostEqual(before.end_s, after.begin_s)
                self.assertGreaterEqual(before.end_s, before.begin_s)

    @tag("whole")
    def test_what_is_impossible_is_impossible(self) -> None:
        """On small sites a search through every order of acts finds no way either; and one wherever a plan does."""
        tried = {True: 0, False: 0}
        for seed in range(400):
            job = drawn_job(random.Random(10_000 + seed), 2)
            if not job.devices:
                continue
            made = plan(job)
            if tried[made.is_possible] >= 25:
                continue
            tried[made.is_possible] += 1
            found = reach(job, ready(job), 8 if made.is_possible else 5)
            self.assertEqual(found is not None, made.is_possible, (seed, made.against, job))
        self.assertGreater(min(tried.values()), 20, tried)


class Misses(unittest.TestCase):
    """A window that closed."""

    def test_nothing_more_is_repeated_than_has_closed(self) -> None:
        """At drawn moments after a miss the advice works, and a search finds no way with fewer acts."""
        checked = 0
        for seed in range(600):
            draw = random.Random(seed)
            job = drawn_job(draw, 1)
            if not job.devices or not plan(job).is_possible or job.devices[0].card.companion is not Companion.NONE:
                continue
            device = job.devices[0]
            hub = ready(job)
            for _ in range(draw.randint(0, 3)):
                acts = (
                    [("open", ""), ("cycle", device.breaker)]
                    if device.card.by_power
                    else [("open", ""), ("enter", device.id)]
                )
                do(hub, draw.choice(acts), draw.uniform(1.0, 60.0))
            hub.advance(hub.now_s + draw.uniform(0.0, 40.0))
            if hub.has_joined(device.id) or hub._taking is not None:
                continue
            checked += 1
            steps = redo(
                job,
                device,
                network_left_s=hub.network_until_s - hub.now_s,
                window_left_s=hub.window_until_s(device.id) - hub.now_s,
            )
            least = reach(job, hub, 3, device.id)
            self.assertEqual(len(steps) - 1, least, (seed, steps))
        self.assertGreater(checked, 60)


class Impossible(unittest.TestCase):
    """Each reason by its name."""

    def setUp(self) -> None:
        self.card = cards()["two_wire_dimmer"]
        self.hub = Hub(id="hub", bands=frozenset({Band.MESH}), left=10, window_s=120.0)

    def reasons(
        self, *devices: Device, hub: Hub | None = None, hears: dict[str, frozenset[str]] | None = None
    ) -> list[Why]:
        """Why these cannot all join."""
        heard = {device.id: frozenset({"hub"}) for device in devices} if hears is None else hears
        made = plan(Job(hub=hub or self.hub, devices=devices, hears=heard))
        self.assertEqual(bool(made.steps), made.is_possible)
        return [one.why for one in made.against]

    def device(self, name: str = "a", **changes: object) -> Device:
        """A dimmer whose card is a little different."""
        return Device(id=name, card=replace(self.card, **changes), breaker="F1")  # type: ignore[arg-type]

    def test_one_too_many(self) -> None:
        """Exactly as many as are left fit; one more does not."""
        two = self.device("a"), self.device("b")
        self.assertEqual(self.reasons(*two, hub=replace(self.hub, left=2)), [])
        self.assertEqual(self.reasons(*two, hub=replace(self.hub, left=1)), [Why.FULL])

    def test_another_family_or_not_listed(self) -> None:
        """A hub speaks some families, and may list what it takes."""
        self.assertEqual(self.reasons(self.device(band=Band.WIFI)), [Why.FAMILY])
        listed = replace(self.hub, listed=frozenset({"plug_router"}))
        self.assertEqual(self.reasons(self.device(), hub=listed), [Why.NOT_LISTED])

    def test_out_of_range(self) -> None:
        """Behind an end device nobody is heard; behind a router it is."""
        hears = {"a": frozenset({"hub"}), "b": frozenset({"a"})}
        self.assertEqual(self.reasons(self.device("a"), self.device("b"), hears=hears), [Why.OUT_OF_RANGE])
        self.assertEqual(self.reasons(self.device("a", kind=Kind.ROUTER), self.device("b"), hears=hears), [])

    def test_a_window_of_just_the_right_length(self) -> None:
        """Opening the network takes 5 s: a window of 30 s takes a joining of 25 s, one of 29 s does not, either way."""
        hub = replace(self.hub, window_s=30.0)
        self.assertEqual(self.reasons(self.device(act_s=20.0, join_s=25.0, window_s=30.0), hub=hub), [])
        self.assertEqual(self.reasons(self.device(act_s=20.0, join_s=25.0, window_s=29.0), hub=hub), [Why.WINDOW])

    def test_cards_that_wait_for_each_other(self) -> None:
        """The ring is named, each device first in its own."""
        one = self.device("a", code="x", waits_for=("y",))
        other = self.device("b", code="y", waits_for=("x",))
        hears = {"a": frozenset({"hub"}), "b": frozenset({"hub"})}
        made = plan(Job(hub=self.hub, devices=(one, other), hears=hears))
        self.assertEqual(
            [(h.why, h.ring) for h in made.against],
            [
                (Why.WAITS_FOR_ITSELF, ("a", "b")),
                (Why.WAITS_FOR_ITSELF, ("b", "a")),
            ],
        )
        self.assertEqual(self.reasons(one), [Why.WAITS_FOR_NOBODY])

    def test_a_remote_without_its_dimmer(self) -> None:
        """It has nothing to be linked to."""
        remote = Device(id="r", card=cards()["battery_remote"], dimmer="nobody")
        self.assertEqual(self.reasons(remote), [Why.NO_DIMMER])


class Remotes(unittest.TestCase):
    """Which is joined where first."""

    def setUp(self) -> None:
        known = cards()
        dimmer = Device(id="dimmer", card=known["two_wire_dimmer"], breaker="F1", d_m=5.0)
        first = Device(id="first", card=known["battery_remote"], dimmer="dimmer")
        later = Device(id="later", card=known["battery_remote_later"], dimmer="dimmer")
        hub = Hub(id="hub", bands=frozenset({Band.MESH}), left=10, window_s=120.0)
        hears = {name: frozenset({"hub"}) for name in ("dimmer", "first", "later")}
        self.job = Job(hub=hub, devices=(dimmer, first, later), hears=hears)

    def test_the_order_of_links_and_joins(self) -> None:
        """The one is linked before the network opens; the other after it closed, and after the first window."""
        steps = plan(self.job).steps
        place = {(step.do, step.device): k for k, step in enumerate(steps)}
        opened = min(k for k, step in enumerate(steps) if step.do is Do.OPEN)
        self.assertLess(place[Do.LINK, "first"], opened)
        closed = place[Do.CLOSE, ""]
        self.assertLess(place[Do.JOIN, "later"], closed)
        self.assertEqual([step.do for step in steps[closed + 1 : closed + 5]], [Do.CYCLE, Do.WAIT, Do.ENTER, Do.LINK])
        wait = steps[closed + 2]
        self.assertEqual(wait.end_s - wait.begin_s, 15.0)

    def test_the_hub_takes_a_remote_over(self) -> None:
        """Asked while the network is open and before it was linked, it is the hub's; nothing links it any more."""
        hub = ready(self.job)
        do(hub, ("open", ""), 5.0)
        do(hub, ("enter", "first"), 5.0)
        hub.advance(hub.now_s + 20.0)
        self.assertEqual(hub.events[-1].code, "taken_over")
        do(hub, ("close", ""), 5.0)
        do(hub, ("ask", "dimmer"), 6.0)
        do(hub, ("enter", "first"), 5.0)
        hub.advance(hub.now_s + 30.0)
        self.assertFalse(hub.is_linked("first"))

    def test_in_its_first_window_a_dimmer_hears_the_hub_alone(self) -> None:
        """Asked then, it refuses."""
        hub = ready(self.job)
        do(hub, ("cycle", "F1"), 10.0)
        do(hub, ("ask", "dimmer"), 6.0)
        self.assertEqual(hub.events[-1].code, "listens_to_hub")


class Cards(unittest.TestCase):
    """What a card may say."""

    def test_a_window_of_nothing_and_a_card_that_waits_for_itself(self) -> None:
        """Both are told by their place."""
        reader = Reader()
        read_card(
            reader,
            {
                **{
                    "code": "x",
                    "band": "mesh_2g4",
                    "kind": "end",
                    "act": "hold",
                    "act_s": 5,
                    "window_s": 0,
                    "join_s": 5,
                },
                "waits_for": ["x"],
            },
            "cards[0]",
        )
        found = {(error.code, error.path) for error in reader.errors}
        self.assertEqual(found, {("waits_for_itself", "cards[0].waits_for"), ("out_of_bounds", "cards[0].window_s")})

    def test_every_card_fits_its_own_windows(self) -> None:
        """Each that ships can join a hub whose network is open for a minute, and names how it is reset."""
        for card in cards().values():
            hub = Hub(id="hub", bands=frozenset({card.band}), left=1, window_s=60.0)
            device = Device(id="a", card=replace(card, companion=Companion.NONE), breaker="F1")
            made = plan(Job(hub=hub, devices=(device,), hears={"a": frozenset({"hub"})}))
            self.assertEqual(made.against, (), card.code)
            self.assertIn(card.reset, tuple(Act))

    def test_errors_are_one_list(self) -> None:
        """A table of cards with something wrong is refused whole."""
        reader = Reader()
        read_card(reader, {}, "cards[0]")
        self.assertTrue(reader.errors)
        with self.assertRaises(InputErrors):
            raise InputErrors(reader.errors)
