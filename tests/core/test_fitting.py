"""Fitting: the steps make the wanted wiring, no gate can be walked around, and what may be left is safe."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from unittest import TestCase

import numpy as np
from django.test import tag

from ember_core.errors import InputError
from ember_core.fitting.gates import Here, Outcome, Record, next_step, parted_places, rests_on, shortfalls
from ember_core.fitting.leaving import Leaving, as_it_is, dangers, ways_to_leave
from ember_core.fitting.materials import (
    PACK,
    SCREWS_M,
    Item,
    Job,
    Kit,
    Need,
    Tool,
    kit_of,
    merged,
    needs_of,
    stock_screw_m,
    tools_of,
    wanted_screw_m,
)
from ember_core.fitting.steps import Act, Power, Step, nodes_at, steps_of
from ember_core.parts.hardware import Demand, Hardware, Sort, YesNo
from ember_core.routes.devices import plain, word
from ember_core.routes.found import Feed, box, landing
from ember_core.routes.lines import LineKind, lines_back, lines_of
from ember_core.routes.seats import CAP, Seats, after_moves
from ember_core.routes.ways import Way, landing_routes, on_a_box, routes
from ember_core.survey import isolation
from ember_core.survey.box import Box, Conductor
from ember_core.survey.depth import ControlBody, DepthCheck, Fit, check_depth
from tests.core.test_routes import every

OFF = isolation.Cover(
    breakers=(isolation.LockPoint(name="7", is_off=True, is_locked=True, is_mine=True),),
    main=isolation.LockPoint(name="main", is_off=False, is_locked=False, is_mine=False),
)
ON = isolation.Cover(
    breakers=(isolation.LockPoint(name="7", is_off=False, is_locked=False, is_mine=False),), main=OFF.main
)


def proof(at_s: float, conductors: tuple[str, ...] = ("a",)) -> isolation.Proof:
    """A whole proof of dead, begun at a time."""
    kinds = isolation.EventKind
    readings = tuple(
        isolation.ProofEvent(kind=kinds.READING, at_s=at_s, a=a, b=b, v=0.0)
        for a, b in isolation.needed_pairs(conductors)
    )
    return isolation.Proof(
        conductors=conductors,
        points=frozenset({"7"}),
        events=(
            isolation.ProofEvent(kind=kinds.TESTER_BEFORE, at_s=at_s),
            *readings,
            isolation.ProofEvent(kind=kinds.TESTER_AFTER, at_s=at_s),
            isolation.ProofEvent(kind=kinds.CHARGE, at_s=at_s, charge=isolation.Charge.NONE_FITTED),
        ),
    )


def here(cover: isolation.Cover, now_s: float, proved_s: float | None) -> Here:
    """A place under a cover, proved dead at a time or not at all."""
    return Here(
        cover=cover,
        bench=isolation.Bench(conductors=("a",), cover=cover, now_s=now_s),
        proof=None if proved_s is None else proof(proved_s),
        has_photo=True,
    )


def works() -> Iterator[tuple[Seats, Seats]]:
    """Found and wanted of every way that changes something."""
    for wiring, route in every():
        if route.wanted is not None and lines_of(wiring, route.wanted):
            yield wiring, route.wanted


def walk(steps: tuple[Step, ...], upto: int | None = None) -> Record:
    """The record of somebody who does the first steps in their order."""
    done = steps[:upto]
    return Record(
        outcome={step.key: Outcome.DONE for step in done}, at_s={step.key: float(k) for k, step in enumerate(done)}
    )


@tag("long")
class Steps(TestCase):
    """What is done."""

    def test_all_lines_together_make_the_wanted_wiring(self) -> None:
        """Each move stands in one step and no more; undone in the other order they restore what was found."""
        for found, wanted in works():
            lines = list({step.line.key: step.line for step in steps_of(found, wanted) if step.line}.values())
            moves = [move for line in lines for move in line.moves]
            self.assertEqual(len({move.point for move in moves}), len(moves))
            self.assertEqual(after_moves(found.seat_of, moves), dict(wanted.seat_of))
            back = [move for line in lines_back(found, wanted) for move in line.moves]
            self.assertEqual(after_moves(wanted.seat_of, back), dict(found.seat_of))

    def test_keys_are_unique_and_rest_on_earlier_ones(self) -> None:
        """A list that can be done from top to bottom."""
        for found, wanted in works():
            seen: set[str] = set()
            for step in steps_of(found, wanted, metal=("box",)):
                self.assertNotIn(step.key, seen)
                self.assertLessEqual(set(step.after), seen, step.key)
                seen.add(step.key)

    def test_a_luminaire_has_a_proof_of_its_own(self) -> None:
        """A place where a core is touched is proved dead there, boxes before ceilings."""
        for found, wanted in works():
            steps = steps_of(found, wanted)
            proved = [step.place for step in steps if step.act is Act.SAFE]
            touched = {step.line.place for step in steps if step.line is not None and step.line.kind is LineKind.MOVE}
            self.assertLessEqual(touched - {"board"}, set(proved))
            self.assertEqual(proved, sorted(proved, key=lambda name: name.startswith("ceiling")))
            for step in steps:
                if step.line is not None:
                    self.assertIs(step.power, Power.DEAD)

    def test_sleeves_go_on_before_anything_is_parted(self) -> None:
        """Afterwards nobody knows which core is which; at every end that is opened, where it is proved dead."""
        for found, wanted in works():
            steps = steps_of(found, wanted)
            keys = [step.key for step in steps]
            proved = {step.place for step in steps if step.act is Act.SAFE}
            cores = {core.id: core for core in (*found.cores, *wanted.cores)}
            ends: dict[str, set[str]] = {}
            for step in steps:
                if step.line is None or step.line.sleeve is None:
                    continue
                ends.setdefault(step.line.sleeve.core, set()).add(step.place)
                self.assertIn(step.place, proved)
                if f"part@{step.place}" in keys:
                    self.assertLess(keys.index(step.key), keys.index(f"part@{step.place}"))
            for core, places in ends.items():
                self.assertEqual(places, {end.rstrip("'") for end in cores[core].ends} & proved)

    def test_inputs_and_links_come_after_line_and_load(self) -> None:
        """As the trade does it."""
        link = replace(plain(neutral=Demand.OPTIONAL), link=word(YesNo, YesNo.YES), outputs=1, inputs=0)
        found = box(Feed.CEILING)
        route = on_a_box(Way.TWO_WIRE, found, Feed.CEILING, link)
        assert route.wanted is not None
        keys = [step.line for step in steps_of(found, route.wanted) if step.line is not None]
        names = [[move.after for move in line.moves] for line in keys]
        at = next(k for k, seats in enumerate(names) if set(seats) == {"ctl.L", "ctl.N"})
        loads = [k for k, seats in enumerate(names) if "ctl.L1" in seats]
        self.assertGreater(at, max(loads))

    def test_a_way_that_changes_nothing_has_no_steps(self) -> None:
        """Nothing to tick off."""
        found = box(Feed.CEILING)
        self.assertEqual(steps_of(found, found), ())

    def test_every_lamp_is_tried_by_its_own_terminal(self) -> None:
        """Three gangs, three tries; a companion is tried too."""
        found = box(Feed.CEILING, 3)
        route = next(one for one in routes(found, Feed.CEILING) if one.way is Way.TWO_WIRE)
        assert route.wanted is not None
        tried = {step.lamp: step.terminals for step in steps_of(found, route.wanted) if step.act is Act.TRY_LAMP}
        self.assertEqual(tried, {f"lamp{k}": (f"ctl.L{k}",) for k in (1, 2, 3)})
        stair = next(one for one in landing_routes(landing()) if one.way is Way.CONTROL_AND_COMPANION)
        assert stair.wanted is not None
        acts = [step.act for step in steps_of(landing(), stair.wanted)]
        self.assertIn(Act.TRY_COMPANION, acts)
        self.assertEqual(acts.count(Act.SAFE_AGAIN), 2)

    def test_what_is_proved_dead_at_a_luminaire(self) -> None:
        """Each joint once, since its cores touch; a free core by itself."""
        self.assertEqual(set(nodes_at("ceiling1", box(Feed.CEILING))), {"L", "N", "E", "SL"})
        spare = set(nodes_at("ceiling1", box(Feed.CEILING, spare=True))) - {"L", "N", "E", "SL"}
        self.assertEqual(len(spare), 1)


class Gates(TestCase):
    """What must be on record."""

    def setUp(self) -> None:
        self.found = box(Feed.CEILING)
        route = next(one for one in routes(self.found, Feed.CEILING) if one.way is Way.WITH_BYPASS)
        assert route.wanted is not None
        self.wanted = route.wanted
        self.steps = steps_of(self.found, self.wanted)
        self.by_key = {step.key: step for step in self.steps}
        self.places = {step.place for step in self.steps if step.place}

    def codes(
        self, key: str, record: Record, cover: isolation.Cover, proved_s: float | None, now_s: float = 1e3
    ) -> list[str]:
        """What stands against a step."""
        places = {place: here(cover, now_s, proved_s) for place in self.places}
        return [finding.code for finding in shortfalls(self.by_key[key], record, places)]

    @tag("long")
    def test_each_opens_when_everything_before_it_is_done(self) -> None:
        """From top to bottom nothing stands against the next step, with the power as it asks."""
        for found, wanted in works():
            steps = steps_of(found, wanted)
            places = {step.place for step in steps if step.place}
            for k, step in enumerate(steps):
                record = walk(steps, k)
                cover = ON if step.power is Power.ON else OFF
                proved_s = float(k) - 0.5
                around = {place: here(cover, float(k), proved_s) for place in places}
                self.assertEqual(shortfalls(step, record, around), (), step.key)
                self.assertIs(next_step(steps, record), step)
            self.assertIsNone(next_step(steps, walk(steps)))

    def test_no_core_is_touched_without_a_proof(self) -> None:
        """Not isolated, isolated only, and proved too long ago."""
        line = next(step for step in self.steps if step.line is not None and step.line.moves)
        before = walk(self.steps, self.steps.index(line))
        self.assertIn("no_isolation_open", self.codes(line.key, before, ON, 900.0))
        self.assertEqual(self.codes(line.key, before, OFF, None), ["not_proved_yet"])
        now_s = 900.0 + isolation.PROOF_LASTS_S
        self.assertEqual(self.codes(line.key, before, OFF, 900.0, now_s), [])
        self.assertEqual(self.codes(line.key, before, OFF, 900.0, now_s + 1.0), ["proof_too_old"])

    def test_power_waits_for_everything(self) -> None:
        """Not while anything is isolated, nor while one line, pull or screw is open."""
        first = self.steps.index(self.by_key["power_on"])
        self.assertEqual(self.codes("power_on", walk(self.steps, first), ON, None), [])
        self.assertEqual(self.codes("power_on", walk(self.steps, first), OFF, None), ["still_isolated"])
        for left in self.steps[:first]:
            outcome = {step.key: Outcome.DONE for step in self.steps[:first] if step is not left}
            for what in (Outcome.OPEN, Outcome.TROUBLE):
                record = Record(outcome={**outcome, left.key: what})
                self.assertIn("step_before_it", self.codes("power_on", record, ON, None), left.key)
            record = Record(outcome={**outcome, left.key: Outcome.SKIPPED})
            self.assertEqual(self.codes("power_on", record, ON, None), [])

    def test_the_second_round_wants_a_proof_of_its_own(self) -> None:
        """One from before the power was on does not count."""
        at = self.steps.index(self.by_key["safe_again@box"])
        record = walk(self.steps, at)
        powered_s = record.at_s["power_on"]
        self.assertEqual(self.codes("safe_again@box", record, OFF, powered_s), ["proof_before_power"])
        self.assertEqual(self.codes("safe_again@box", record, OFF, powered_s + 1.0), [])

    def test_a_picture_is_a_picture(self) -> None:
        """The step is not done by saying so."""
        places = {place: replace(here(OFF, 1e3, 900.0), has_photo=False) for place in self.places}
        record = walk(self.steps, 1)
        codes = [finding.code for finding in shortfalls(self.by_key["photograph@box"], record, places)]
        self.assertEqual(codes, ["no_photo_yet"])

    def test_what_others_rest_on_is_not_taken_back(self) -> None:
        """The later one first."""
        record = walk(self.steps)
        self.assertIn("fold@box", rests_on(self.by_key["tug@box"], self.steps, record))
        self.assertEqual(rests_on(self.steps[-1], self.steps, record), ())

    @tag("long")
    def test_no_order_of_presses_brings_power_on_a_core_that_is_not_in_its_seat(self) -> None:
        """Drawn presses of a careless person: whatever passes the gates, the wiring is whole when the power is on."""
        rng = np.random.default_rng(3)
        cases = list(works())
        passed = 0
        for _ in range(400):
            found, wanted = cases[rng.integers(len(cases))]
            steps = steps_of(found, wanted)
            outcome: dict[str, Outcome] = {}
            at_s: dict[str, float] = {}
            places = {step.place for step in steps if step.place}
            skipped = steps[rng.integers(len(steps))] if rng.random() < 0.5 else None
            for k, step in enumerate([*steps, *rng.permutation(np.array(steps, dtype=object))]):
                cover = ON if step.power is Power.ON else OFF
                around = {place: here(cover, float(k), k - 0.5) for place in places}
                record = Record(outcome=outcome, at_s=at_s)
                if step is skipped or shortfalls(step, record, around):
                    continue
                outcome[step.key] = Outcome.DONE
                at_s[step.key] = float(k)
                if step.power is Power.ON:
                    passed += 1
                    done = [one.line for one in steps if one.line is not None and one.key in outcome]
                    seats, loose = as_it_is(done, sorted(places), found, wanted)
                    self.assertEqual((dict(seats.seat_of), loose), (dict(wanted.seat_of), ()))
                    self.assertEqual(parted_places(steps, Record(outcome=outcome)), ())
        self.assertGreater(passed, 400)


class Leaving_(TestCase):  # noqa: N801  # beside the word itself
    """Half done."""

    def prefixes(self) -> Iterator[tuple[Seats, Seats, tuple[Step, ...], Record]]:
        """Some work, broken off after each step."""
        for feed in Feed:
            found = box(feed, 2)
            for route in routes(found, feed):
                if route.wanted is None:
                    continue
                steps = steps_of(found, route.wanted)
                for k in range(len(steps) + 1):
                    yield found, route.wanted, steps, walk(steps, k)

    def test_nothing_is_asked_while_nothing_is_parted_or_all_is_held(self) -> None:
        """Before the first core is parted and after the last screw."""
        for found, wanted, steps, record in self.prefixes():
            is_parted = bool(parted_places(steps, record))
            self.assertEqual(bool(ways_to_leave(steps, record, found, wanted)), is_parted)
            if record.is_settled("power_on"):
                self.assertFalse(is_parted)

    def test_capped_it_is_safe_or_says_why_not(self) -> None:
        """With every loose end capped no live end is bare; with none capped one often is."""
        bare = 0
        for found, wanted, steps, record in self.prefixes():
            for way in ways_to_leave(steps, record, found, wanted):
                if way.leaving is not Leaving.CAPPED:
                    continue
                self.assertNotIn("loose_live_end", [finding.code for finding in way.against])
                self.assertNotIn("short_line_neutral", [finding.code for finding in way.against])
                done = [s.line for s in steps if s.line is not None and s.line.moves and record.is_settled(s.key)]
                partial, loose = as_it_is(done, parted_places(steps, record), found, wanted)
                self.assertEqual(way.caps, loose)
                if loose and any(finding.code == "loose_live_end" for finding in dangers(partial)):
                    bare += 1
        self.assertGreater(bare, 20)

    def test_going_back_restores_what_was_found(self) -> None:
        """Whatever was ticked, undone in turn."""
        for found, wanted, steps, record in self.prefixes():
            for way in ways_to_leave(steps, record, found, wanted):
                if way.leaving is Leaving.RESTORED:
                    done = [s.line for s in steps if s.line is not None and record.is_settled(s.key)]
                    there = after_moves(found.seat_of, [m for line in done for m in line.moves])
                    back = after_moves(there, [m for line in way.back for m in line.moves])
                    self.assertEqual(back, dict(found.seat_of))


def depth(fit: Fit, spacer_m: float | None = 0.0, needed_m: float = 0.05) -> DepthCheck:
    """A depth check that came out so."""
    return DepthCheck(
        fit=fit,
        needed_m=needed_m,
        available_m=0.047,
        spare_m=None,
        spacer_m=spacer_m,
        conductor_volume_m3=0.0,
        free_volume_m3=None,
        missing=(),
    )


class Materials(TestCase):
    """What is taken along."""

    def job(self, way: Way, feed: Feed = Feed.CEILING, **others: object) -> Job:
        """A loop with a way."""
        found = box(feed)
        route = next(one for one in routes(found, feed) if one.way is way)
        assert route.wanted is not None
        return Job(loop="Test", region="eu", found=found, wanted=route.wanted, **others)  # type: ignore[arg-type]

    def rows(self, job: Job) -> dict[str, float]:
        """Needs by kind, counted."""
        found: dict[str, float] = {}
        for need in needs_of(job):
            found[need.item.value] = found.get(need.item.value, 0.0) + need.count
        return found

    def test_a_bypass_needs_new_connectors_at_both_ends(self) -> None:
        """The joints that its leads go to hold one more."""
        plain_rows = self.rows(self.job(Way.TWO_WIRE, control="relay", controls=1))
        with_bypass = self.rows(self.job(Way.WITH_BYPASS, control="relay", controls=1, bypasses=("x2",)))
        self.assertEqual(with_bypass["connector"], plain_rows.get("connector", 0.0) + 2.0)
        self.assertEqual((with_bypass["bypass"], with_bypass["control"]), (1.0, 1.0))
        self.assertNotIn("bypass", plain_rows)

    @tag("long")
    def test_every_new_joint_and_cap_has_its_connector(self) -> None:
        """Counted anew from the two wirings, for every way of every box."""
        for found, wanted in works():
            job = Job(loop="x", region=found.region, found=found, wanted=wanted)
            before: dict[str, set[str]] = {}
            after: dict[str, set[str]] = {}
            for seats, joints in ((found, before), (wanted, after)):
                for point, seat in seats.seat_of.items():
                    if ":" in seat and not seat.startswith("board"):
                        joints.setdefault(seat, set()).add(point)
            caps = sum(seat == CAP and found.seat_of.get(point) != CAP for point, seat in wanted.seat_of.items())
            changed = sum(points != before.get(seat) for seat, points in after.items())
            self.assertEqual(self.rows(job).get("connector", 0.0), float(changed + caps))

    def test_a_companion_brings_its_battery(self) -> None:
        """One each."""
        rows = self.rows(self.job(Way.MODULE_AT_LAMP, control="module", controls=1))
        self.assertEqual((rows["companion"], rows["battery"]), (1.0, 1.0))

    def test_what_is_pulled_is_measured_there(self) -> None:
        """No length is made up."""
        needs = [n for n in needs_of(self.job(Way.NEW_NEUTRAL)) if n.item is Item.CABLE]
        self.assertTrue(needs)
        self.assertFalse(any(need.is_known for need in needs))
        (row,) = merged(needs)
        self.assertFalse(row.is_known)

    def test_screws_by_the_next_stock_length(self) -> None:
        """Frame 3, lug 6, thread 8 mm: 17 mm asks for 25; 16 just does where a millimetre less is asked."""
        self.assertEqual(stock_screw_m("eu", wanted_screw_m(0.0)), 0.025)
        self.assertEqual(stock_screw_m("eu", wanted_screw_m(0.0, lug_depth_m=0.005)), 0.016)
        self.assertEqual(stock_screw_m("eu", wanted_screw_m(0.016)), 0.035)
        self.assertEqual(stock_screw_m("na", wanted_screw_m(0.0)), 0.0191)
        self.assertIsNone(stock_screw_m("eu", wanted_screw_m(0.060)))
        tall = [
            n for n in needs_of(self.job(Way.TWO_WIRE, depth=depth(Fit.FITS_WITH_SPACER, 0.06))) if n.item is Item.SCREW
        ]
        self.assertEqual([need.is_known for need in tall], [False])
        for region, lengths in SCREWS_M.items():
            self.assertEqual(list(lengths), sorted(lengths), region)

    def test_spacer_and_deeper_box(self) -> None:
        """From the depth check; the screws grow with the spacer."""
        job = self.job(Way.TWO_WIRE, depth=depth(Fit.FITS_WITH_SPACER, 0.016))
        rows = {need.item: need for need in needs_of(job)}
        self.assertEqual(dict(rows[Item.SPACER].spec), {"height_m": 0.016})
        self.assertEqual(dict(rows[Item.SCREW].spec)["length_m"], 0.035)
        deep = {n.item: n for n in needs_of(self.job(Way.TWO_WIRE, depth=depth(Fit.DOES_NOT_FIT, None, 0.0512)))}
        self.assertAlmostEqual(float(dict(deep[Item.DEEPER_BOX].spec)["height_m"]), 0.055)
        real = check_depth(
            Box(conductors=(Conductor(id="a"),), circuits=1, depth_m=0.03, width_m=0.07, height_m=0.07),
            ControlBody(depth_m=0.03, width_m=0.045, height_m=0.045, lead_count=0),
        )
        self.assertIn(Item.SPACER, {need.item for need in needs_of(self.job(Way.TWO_WIRE, depth=real))})

    def test_spares_packs_and_the_van(self) -> None:
        """Ten and a tenth are eleven: one pack too few; with one in the van ten do."""
        needs = [Need(item=Item.CONNECTOR, spec={"cores": 2.0}, count=5.0, loop=name) for name in ("one", "other")]
        (row,) = merged(needs)
        self.assertEqual((row.needed, row.with_spare, row.to_buy), (10.0, 11.0, 2.0 * PACK["connector"]))
        self.assertEqual(row.loops, ("one", "other"))
        (less,) = merged(needs, {row.key: 1.0})
        self.assertEqual(less.to_buy, 10.0)
        (none,) = merged(needs, {row.key: 11.0})
        self.assertEqual(none.to_buy, 0.0)
        (many,) = merged([Need(item=Item.CONNECTOR, spec={"cores": 2.0}, count=21.0)])
        self.assertEqual(many.with_spare, 24.0)
        with self.assertRaises(InputError):
            merged(needs, {row.key: -1.0})

    def test_one_test_lamp_for_all(self) -> None:
        """And different sizes are different rows."""
        lamps = [Need(item=Item.TEST_LAMP, loop=name) for name in "abc"]
        self.assertEqual(merged(lamps)[0].with_spare, 1.0)
        sizes = [Need(item=Item.SLEEVE, spec={"says": "live", "size_m2": size}) for size in (1.5e-6, 2.5e-6)]
        self.assertEqual(len(merged(sizes)), 2)

    def test_a_capped_lead_is_named_too(self) -> None:
        """Parted at the luminaire, the lamp's own lead waits like a core."""
        job = self.job(Way.MODULE_WITH_SWITCH)
        steps = steps_of(job.found, job.wanted)
        upto = [step.key for step in steps].index("part@ceiling1") + 1
        capped = next(
            way
            for way in ways_to_leave(steps, walk(steps, upto), job.found, job.wanted)
            if way.leaving is Leaving.CAPPED
        )
        self.assertIn("lamp1.1", capped.caps)

    def test_tools_by_what_is_done(self) -> None:
        """Steps for a luminaire, a torque screwdriver where somebody declares a torque."""
        box_only, ceiling = self.job(Way.TWO_WIRE), self.job(Way.WITH_BYPASS)
        self.assertNotIn(Tool.STEPS, tools_of([box_only]))
        self.assertIn(Tool.STEPS, tools_of([box_only, ceiling]))
        self.assertNotIn(Tool.TORQUE, tools_of([ceiling]))
        self.assertIn(Tool.TORQUE, tools_of([replace(box_only, hardware=Hardware(torque_nm=0.5))]))

    def test_a_kit_by_what_the_control_is(self) -> None:
        """Leads want connectors, a link its piece; a module has no plate."""
        control = plain()
        self.assertIn(Kit.PLATE, kit_of(control))
        self.assertNotIn(Kit.CONNECTORS, kit_of(replace(control, leads=0)))
        self.assertIn(Kit.CONNECTORS, kit_of(replace(control, leads=3)))
        self.assertIn(Kit.LINK, kit_of(replace(control, link=word(YesNo, YesNo.YES))))
        self.assertNotIn(Kit.PLATE, kit_of(plain(sort=Sort.MODULE)))
        self.assertIn(Kit.BATTERY, kit_of(plain(sort=Sort.TIMER)))
