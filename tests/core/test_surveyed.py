"""From a surveyed box to a wiring: what is found works as it is found, whatever control then goes in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from itertools import product
from unittest import TestCase

import numpy as np
from django.test import tag

from ember_core.parts.hardware import Demand, Hardware, InputUse, Sort, YesNo
from ember_core.routes.aloft import At, CeilingPoint, HangsOn, Junction, LampsThere, OwnNeutral
from ember_core.routes.boxes import SurveyedBox, usual_box
from ember_core.routes.devices import control_of, plain, word
from ember_core.routes.found import Feed
from ember_core.routes.points import BOX
from ember_core.routes.seats import CAP, after_moves
from ember_core.routes.surveyed import Surveyed, found_of
from ember_core.routes.ways import (
    MODULES,
    WAYS_ON_A_BOX,
    WAYS_ON_A_LANDING,
    WITH_NEUTRAL,
    Route,
    Way,
    on_a_box,
    on_a_landing,
    serves,
)
from ember_core.survey.box import Box, Conductor, Role, Terminal, Ways
from ember_core.survey.practices import BY_ID, conductors_of
from ember_core.wiring.cores import live_cores
from ember_core.wiring.drawing import Companion, Control, Mark
from ember_core.wiring.nets import Joined, State, fixed_pairs
from ember_core.wiring.proof import prove
from ember_core.wiring.told import LampIs
from tests.core.wirings import second_volts

LIVE, SWITCHED, NEUTRAL, EARTH, TRAVELLER = (
    Role.PERMANENT_LIVE,
    Role.SWITCHED_LIVE,
    Role.NEUTRAL,
    Role.EARTH,
    Role.TRAVELLER,
)
ROLES = {
    "feed_at_ceiling": (LIVE, SWITCHED, EARTH),
    "fixture_fed_light_live": (LIVE, SWITCHED, EARTH),
    "feed_at_switch": (LIVE, NEUTRAL, EARTH, SWITCHED, NEUTRAL, EARTH),
    "singles_in_conduit": (LIVE, SWITCHED),
    "two_way_feed_end": (LIVE, TRAVELLER, TRAVELLER, NEUTRAL, NEUTRAL, EARTH, EARTH),
    "two_way_far_end": (SWITCHED, TRAVELLER, TRAVELLER, EARTH),
    "intermediate": (TRAVELLER,) * 4 + (NEUTRAL,) * 2 + (EARTH,) * 2,
}
ONE_WAY = ("feed_at_ceiling", "fixture_fed_light_live", "feed_at_switch", "singles_in_conduit")
DRAWN = 1200
MISTAKES = 4_000


def surveyed(practice: str, region: str = "eu", gangs: int = 1, *, turned: bool = False) -> SurveyedBox:
    """A box with every role known; turned, the live is on the other terminal of each switch."""
    conductors: list[Conductor] = []
    roles: dict[str, tuple[Role, int | None]] = {}
    for gang in range(1, gangs + 1):
        drawn = conductors_of(BY_ID[practice], region, gang, first=len(conductors) + 1)
        for conductor, role in zip(drawn, ROLES[practice], strict=True):
            if turned and conductor.terminal in (Terminal.COMMON, Terminal.L1):
                role = SWITCHED if role is LIVE else LIVE
            roles[conductor.id] = (role, gang if role in (LIVE, SWITCHED) else None)
        conductors += drawn
    ways = (BY_ID[practice].ways,) * gangs
    return SurveyedBox(
        box=Box(gangs=ways, conductors=tuple(conductors), circuits=1), roles=roles, sure=frozenset(roles)
    )


def found(practice: str, region: str = "eu", gangs: int = 1, **seen: object) -> Surveyed:
    turned = bool(seen.pop("turned", False))
    ceiling = {gang: CeilingPoint(**seen) for gang in range(1, gangs + 1)} if seen else {}  # type: ignore[arg-type]
    return found_of(
        [surveyed(practice, region, gangs, turned=turned)],
        region=region,
        ceiling=ceiling,
        singles=practice == "singles_in_conduit",
    )


def returning(one: SurveyedBox) -> SurveyedBox:
    """What was a bundle of neutrals is the switched live that passes the box."""
    bundle = {c.id: (SWITCHED, 1) for c in one.box.conductors if c.terminal is Terminal.JOINT_1}
    return replace(one, roles={**one.roles, **bundle})


def boxes_of_stair(
    region: str = "eu", *, middle: bool = False, reverse: bool = False, returns: bool = False
) -> list[SurveyedBox]:
    """The surveys of a stair's boxes in their order; see `stair`."""
    boxes = [surveyed("two_way_feed_end", region), surveyed("two_way_far_end", region)]
    if reverse:
        boxes.reverse()
    if middle:
        boxes.append(surveyed("intermediate", region))
    return [returning(box) for box in boxes] if returns else boxes


def stair(
    region: str = "eu",
    *,
    middle: bool = False,
    reverse: bool = False,
    looped: bool = False,
    returns: bool = False,
    junction: Junction = Junction.UNKNOWN,
) -> Surveyed:
    """The boxes of a stair; looped, the supply comes in at the luminaire, or in the junction box before it.

    Where it returns, a third core comes back from the far switch and is joined in the box of the line with the one to
    the lamp; else both bundles are neutrals and the lamp hangs on the far box.
    """
    boxes = boxes_of_stair(region, middle=middle, reverse=reverse, returns=returns)
    line = At.YES if looped else At.UNKNOWN
    neutral = OwnNeutral.OWN if looped else OwnNeutral.UNKNOWN
    ceiling = {1: CeilingPoint(line=line, neutral=neutral, junction=junction)}
    return found_of(boxes, region=region, ceiling=ceiling)


def mixed(region: str = "eu", *, stair_first: bool = False, boxes: int = 2) -> list[SurveyedBox]:
    """A box with a gang that is switched there alone and one that is switched from a second box too."""
    order = ("two_way_feed_end", "feed_at_ceiling") if stair_first else ("feed_at_ceiling", "two_way_feed_end")
    conductors: list[Conductor] = []
    roles: dict[str, tuple[Role, int | None]] = {}
    for gang, practice in enumerate(order, 1):
        one = surveyed(practice, region)
        for conductor in one.box.conductors:
            name = f"c{len(conductors) + 1}"
            moved = replace(conductor, id=name, cable=f"{gang}{conductor.cable}", gang=gang if conductor.gang else None)
            conductors.append(moved)
            role, of = one.roles[conductor.id]
            roles[name] = (role, gang if of else None)
    ways = tuple(BY_ID[practice].ways for practice in order)
    box = Box(gangs=ways, conductors=tuple(conductors), circuits=1)
    near = SurveyedBox(box=box, roles=roles, sure=frozenset(roles))
    return [near, surveyed("two_way_far_end", region)][:boxes]


def on_two_circuits(region: str = "eu", junction: Junction = Junction.NONE) -> Surveyed:
    """Two gangs in one box, the second on another circuit."""
    two = surveyed("feed_at_ceiling", region, 2)
    ceiling = {
        gang: CeilingPoint(hangs_on=circuit, junction=junction)
        for gang, circuit in ((1, HangsOn.OWN), (2, HangsOn.OTHER))
    }
    return found_of([replace(two, box=replace(two.box, circuits=2))], region=region, ceiling=ceiling)


def ways_of(base: Surveyed, kept: Sequence[int] = (), hardware: Hardware | None = None) -> list[Route]:
    """Every way through what was found."""
    assert base.seats is not None, base.against
    if base.is_landing:
        ends = (base.near, base.far, base.middle, hardware, base.feed, base.stair)
        return [on_a_landing(way, base.seats, *ends) for way in WAYS_ON_A_LANDING]
    return [on_a_box(way, base.seats, base.feed, hardware, kept) for way in WAYS_ON_A_BOX]


def most(practice: str) -> int:
    """Gangs of a practice whose conductors a survey holds."""
    return 2 if practice == "feed_at_switch" else 3


def hardware() -> list[Hardware]:
    """Controls that span sorts, demands and terminals."""
    made = []
    for sort, neutral, earth, cores, link, outputs in product(
        (Sort.CONTROL, Sort.MODULE), Demand, Demand, (1, 2), YesNo, (1, 3)
    ):
        one = plain(sort=sort, neutral=neutral, earth=earth)
        made.append(replace(one, cores_per_terminal=cores, link=word(YesNo, link), outputs=outputs))
    made.append(replace(plain(sort=Sort.TIMER), cores_per_terminal=1))
    return made


class AsFound(TestCase):
    """The wiring that a survey says."""

    def test_every_practice_works_as_it_is_found(self) -> None:
        """One to three gangs, both regions, the switch either way round: the lamps follow their switches."""
        for practice, region, gangs, turned in product(ONE_WAY, ("eu", "na"), (1, 2, 3), (False, True)):
            if gangs > most(practice):
                continue
            made = found(practice, region, gangs, turned=turned)
            assert made.seats is not None, (practice, made.against)
            self.assertTrue(prove(made.seats.drawing()).works, (practice, region, gangs, turned))
        for region, middle, reverse, looped, returns in product(("eu", "na"), *((False, True),) * 4):
            made = stair(region, middle=middle, reverse=reverse, looped=looped, returns=returns)
            assert made.seats is not None, made.against
            self.assertTrue(prove(made.seats.drawing()).works)
            self.assertEqual(len(made.middle), int(middle))

    def test_where_the_supply_comes_in(self) -> None:
        """By the cable, unless the practice or the ceiling point says otherwise."""
        self.assertIs(found("feed_at_ceiling").feed, Feed.CEILING)
        self.assertIs(found("feed_at_switch").feed, Feed.SWITCH)
        self.assertIs(found("singles_in_conduit").feed, Feed.SINGLES)
        self.assertIs(found("feed_at_ceiling", line=At.NO).feed, Feed.SWITCH)
        self.assertIs(found("feed_at_ceiling", line=At.YES).feed, Feed.CEILING)
        self.assertEqual((stair().feed, stair(looped=True).feed), (Feed.SWITCH, Feed.CEILING))
        self.assertIn("ceiling_not_seen", stair().assumed)
        self.assertIn("stair_fed_at_lamp", stair(looped=True).assumed)

    def test_a_live_in_the_drop_is_where_the_drop_ends(self) -> None:
        """None seen there contradicts the box; none seen at the luminaire says that a junction box lies between."""
        for end, says in product(Junction, At):
            made = found("feed_at_ceiling", line=says, junction=end, neutral=OwnNeutral.OWN)
            is_no = says is At.NO
            refused = "live_in_the_drop" if is_no and end is not Junction.UNKNOWN else None
            self.assertEqual(made.against, refused, (end, says))
            self.assertEqual("box_between" in made.assumed, is_no and end is Junction.UNKNOWN, (end, says))
        # So is another breaker's live, where its gang hangs there.
        two = surveyed("feed_at_ceiling", gangs=2)
        own = tuple(replace(one, cable="AB"[k // 3]) for k, one in enumerate(two.box.conductors))
        both = replace(two, box=replace(two.box, conductors=own, circuits=2))
        there = CeilingPoint(hangs_on=HangsOn.OTHER, line=At.NO, junction=Junction.FIRST)
        for role in (LIVE, Role.FOREIGN_LIVE):
            given = replace(both, roles={**both.roles, "c4": (role, 2 if role is LIVE else None)})
            made = found_of([given], region="eu", ceiling={1: CeilingPoint(hangs_on=HangsOn.OWN), 2: there})
            self.assertEqual(made.against, "live_in_the_drop", role)
        # The live of another cable, of single cores, or of a name that several cables bear says nothing of it.
        box = surveyed("feed_at_ceiling")
        live, switched, earth = box.box.conductors
        for conductors, singles in (
            ((replace(live, cable="B"), switched, earth), False),
            ((live, replace(switched, colour="brown"), earth), False),
            ((live, switched, replace(earth, colour="")), False),
            ((live, switched, earth), True),
        ):
            given = replace(box, box=replace(box.box, conductors=conductors))
            seen = {1: CeilingPoint(line=At.NO, junction=Junction.NONE)}
            made = found_of([given], region="eu", ceiling=seen, singles=singles)
            self.assertEqual((made.against, "box_between" in made.assumed), (None, False), (conductors, singles))

    def test_what_nobody_saw_is_told(self) -> None:
        """Seen it is told no more; roles that are not settled are named."""
        self.assertEqual(found("feed_at_ceiling").assumed, ("neutral_not_seen", "ceiling_not_seen"))
        self.assertEqual(found("feed_at_ceiling", line=At.YES, neutral=OwnNeutral.OWN).assumed, ())
        open_box = replace(surveyed("feed_at_ceiling"), sure=frozenset({"c1"}))
        self.assertEqual(found_of([open_box], region="eu", ceiling={}).open_roles, ("c2", "c3"))
        self.assertEqual(
            found_of([usual_box("na", 2)], region="na", ceiling={}).open_roles, tuple(f"c{k}" for k in range(1, 7))
        )

    def test_what_cannot_be_drawn_says_why(self) -> None:
        """A switch in the neutral, an end nobody noted, one box of a stair, roles that contradict each other."""
        box = surveyed("feed_at_ceiling")
        in_neutral = replace(box, roles={**box.roles, "c2": (Role.SWITCHED_NEUTRAL, 1)})
        nowhere = replace(
            box,
            box=replace(
                box.box,
                conductors=(
                    replace(box.box.conductors[0], terminal=Terminal.UNKNOWN, gang=None),
                    *box.box.conductors[1:],
                ),
            ),
        )
        both_live = replace(box, roles={**box.roles, "c2": (LIVE, 1)})
        for given, code in (
            ([in_neutral], "switch_in_neutral"),
            ([nowhere], "ends_not_known"),
            ([both_live], "found_does_not_work"),
            ([surveyed("two_way_feed_end")], "other_box_not_surveyed"),
            ([surveyed("two_way_feed_end"), surveyed("two_way_feed_end")], "other_box_not_surveyed"),
            ([replace(box, box=Box(circuits=1))], "box_not_surveyed"),
        ):
            made = found_of(given, region="eu", ceiling={})
            self.assertEqual((made.against, made.seats), (code, None))

    def test_no_gang_of_the_loop_is_left_out(self) -> None:
        """Each is a switch of the box, just inside and just outside; a box may hold more."""
        two = usual_box("eu", 2)
        for gangs in ([1, 2], [2], [1]):
            self.assertIsNone(found_of([two], region="eu", ceiling={}, gangs=gangs).against, gangs)
        for gangs in ([1, 3], [3]):
            made = found_of([two], region="eu", ceiling={}, gangs=gangs)
            self.assertEqual((made.against, made.seats), ("gang_not_in_box", None))

    def test_which_gang_hangs_on_which_circuit_must_be_known(self) -> None:
        """One control over both would borrow a neutral; one gang beside a foreign circuit is drawn."""
        two = surveyed("feed_at_ceiling", gangs=2)
        both = replace(two, box=replace(two.box, circuits=2))
        self.assertEqual(found_of([both], region="eu", ceiling={}).against, "several_circuits")
        half = {1: CeilingPoint(hangs_on=HangsOn.OWN)}
        self.assertEqual(found_of([both], region="eu", ceiling=half).against, "several_circuits")
        three = replace(two, box=replace(two.box, circuits=3))
        self.assertEqual(found_of([three], region="eu", ceiling={}).against, "too_many_circuits")
        one = surveyed("feed_at_ceiling")
        beside = replace(one, box=replace(one.box, circuits=2))
        self.assertIsNone(found_of([beside], region="eu", ceiling={}).against)

    def test_gangs_of_two_circuits_share_nothing(self) -> None:
        """Each has a control of its own, whatever outputs there are; none takes the other's neutral."""
        for junction, region in product((Junction.NONE, Junction.FIRST), ("eu", "na")):
            base = on_two_circuits(region, junction)
            several = replace(plain(), outputs=4)
            for route in ways_of(base, hardware=several)[:2]:
                assert route.wanted is not None, route.against
                controls = [one for one in route.wanted.devices if isinstance(one, Control)]
                self.assertEqual([one.loads for one in controls], [("L1",), ("L1",)], route.way)
            against = {route.way: route.against for route in ways_of(base)}
            self.assertEqual(against[Way.NEW_NEUTRAL], "other_circuits_neutral")
            self.assertIsNone(against[Way.MODULE_AT_LAMP])

    def test_a_gang_said_to_hang_on_the_wrong_circuit_is_noticed(self) -> None:
        """A live of the other circuit at a gang of the own one borrows a neutral: drawn, and told at each control."""
        two = surveyed("feed_at_ceiling", gangs=2)
        roles = {**two.roles, "c4": (Role.FOREIGN_LIVE, 2)}
        box = replace(two, box=replace(two.box, circuits=2), roles=roles)
        own = {gang: CeilingPoint(hangs_on=HangsOn.OWN, neutral=OwnNeutral.OWN) for gang in (1, 2)}
        wrong = found_of([box], region="eu", ceiling=own)
        for route in ways_of(wrong):
            self.assertIsNotNone(route.against, route.way)
        right = found_of([box], region="eu", ceiling={**own, 2: replace(own[2], hangs_on=HangsOn.OTHER)})
        self.assertIsNone(ways_of(right)[0].against)

    def test_a_box_that_mixes_gangs_changes_one_sort_at_a_time(self) -> None:
        """What is kept stays as it is and goes on working; both at once are told, not guessed."""
        for region, stair_first in product(("eu", "na"), (False, True)):
            alone, stairs = (2, 1) if stair_first else (1, 2)
            boxes = mixed(region, stair_first=stair_first)
            self.assertEqual(found_of(boxes, region=region, ceiling={}).against, "mixed_gangs")
            of_box = found_of(boxes, region=region, ceiling={}, kept=[stairs])
            self.assertFalse(of_box.is_landing)
            of_stair = found_of(boxes, region=region, ceiling={}, kept=[alone])
            self.assertEqual((of_stair.is_landing, of_stair.stair), (True, stairs))
            for base, kept in ((of_box, [stairs]), (of_stair, [alone])):
                for route in ways_of(base, kept):
                    self.assertNotEqual(route.against, "fails_its_proof", route.way)
                    if route.wanted is None or route.proof is None:
                        continue
                    for row in route.proof.rows:
                        on = [row.lamps[f"lamp{gang}"] is LampIs.ON for gang in (alone, stairs)]
                        if base is of_box:
                            self.assertEqual(on[1], row.positions["box"] == row.positions["box2"], route.way)
                        else:
                            self.assertEqual(on[0], row.positions[f"sw{alone}"] == "closed", route.way)

    def test_more_gangs_in_the_other_box_are_left_out_and_told(self) -> None:
        """Only what is of the stair is drawn from there; which of two stairs it would be is not guessed."""
        far = surveyed("two_way_far_end")
        near = mixed(stair_first=False)[0]
        for order in ((Ways.TWO_WAY, Ways.ONE_WAY), (Ways.ONE_WAY, Ways.TWO_WAY)):
            stairs = 1 + order.index(Ways.TWO_WAY)
            other = mixed(stair_first=stairs == 1)[0]
            # The supply of the stair comes in at the box with the other gang; the lamp goes from the plain one.
            made = found_of([far, other], region="eu", ceiling={})
            assert made.seats is not None, (made.against, made.findings)
            self.assertIn("other_gangs_not_drawn", made.assumed)
            plain_pair = found_of([far, surveyed("two_way_feed_end")], region="eu", ceiling={})
            assert plain_pair.seats is not None
            self.assertEqual(len(made.seats.cores), len(plain_pair.seats.cores))
            for route in ways_of(made):
                self.assertNotEqual(route.against, "fails_its_proof", route.way)
        two = replace(near, box=replace(near.box, gangs=(Ways.TWO_WAY, Ways.TWO_WAY)))
        self.assertEqual(found_of([far, two], region="eu", ceiling={}).against, "several_stairs")
        alone = surveyed("feed_at_ceiling")
        self.assertEqual(found_of([far, alone], region="eu", ceiling={}).against, "other_box_not_surveyed")

    def test_circuits_said_before_the_box_had_one_count_no_more(self) -> None:
        """What is asked for two circuits is not heard where there is one."""
        said = {1: CeilingPoint(hangs_on=HangsOn.OTHER), 2: CeilingPoint(hangs_on=HangsOn.OWN)}
        made = found_of([surveyed("feed_at_ceiling", gangs=2)], region="eu", ceiling=said)
        assert made.seats is not None
        self.assertEqual(made.seats.circuits, ("1",))

    def test_a_stair_that_stays_needs_no_second_box(self) -> None:
        """Its switch stays where it is; to change it, the other box is wanted first."""
        boxes = mixed(boxes=1)
        left = found_of(boxes, region="eu", ceiling={}, kept=[2])
        self.assertIn("stair_left_alone", left.assumed)
        for route in ways_of(left, [2]):
            self.assertNotEqual(route.against, "fails_its_proof", route.way)
            if route.wanted is not None:
                self.assertIn("box", [one.id for one in route.wanted.devices])
        self.assertEqual(found_of(boxes, region="eu", ceiling={}, kept=[1]).against, "other_box_not_surveyed")
        two_stairs = replace(boxes[0], box=replace(boxes[0].box, gangs=(Ways.TWO_WAY, Ways.TWO_WAY)))
        self.assertEqual(found_of([two_stairs], region="eu", ceiling={}).against, "several_stairs")

    def test_a_junction_box_stands_between(self) -> None:
        """A module goes into it, or past it to the luminaire; a drop is turned there."""
        for practice in ("feed_at_ceiling", "singles_in_conduit"):
            base = found(practice, gangs=2, junction=Junction.FIRST, line=At.YES)
            self.assertIs(base.feed, Feed.CEILING)
            self.assertIn("junction_as_usual", base.assumed)
            routes = {route.way: route for route in ways_of(base)}
            self.assertEqual(routes[Way.MODULE_WITH_SWITCH].against, "junction_between")
            module = routes[Way.MODULE_IN_JUNCTION]
            assert module.wanted is not None, module.against
            at = {seat for point, seat in module.wanted.seat_of.items() if "@junction1" in point}
            self.assertLessEqual({"ctl1.L", "ctl1.N", "ctl1.L1", "ctl2.L", "ctl2.N", "ctl2.L1"}, at)
            past = routes[Way.MODULE_AT_LAMP]
            assert past.wanted is not None, past.against
            at = {seat for point, seat in past.wanted.seat_of.items() if "@ceiling2" in point}
            self.assertLessEqual({"ctl2.L", "ctl2.N", "ctl2.L1"}, at)
        smart = found("feed_at_ceiling", junction=Junction.SECOND, line=At.YES, lamps=LampsThere.SMART)
        turned = next(route for route in ways_of(smart) if route.way is Way.DROP_AS_FEED)
        assert turned.wanted is not None, turned.against
        self.assertEqual(turned.wanted.seat_of["c2@junction2"], "junction2:neutral")
        bridged = found("feed_at_switch", junction=Junction.FIRST, line=At.NO)
        for way, place in ((Way.MODULE_AT_LAMP, "ceiling1"), (Way.MODULE_IN_JUNCTION, "junction1")):
            module = next(route for route in ways_of(bridged) if route.way is way)
            assert module.wanted is not None, module.against
            self.assertIn("ctl.L", {seat for point, seat in module.wanted.seat_of.items() if f"@{place}" in point})
        for way in (Way.MODULE_IN_JUNCTION, Way.JUNCTION_WITH_SWITCH):
            plain_box = found("feed_at_ceiling")
            assert plain_box.seats is not None
            self.assertEqual(on_a_box(way, plain_box.seats, plain_box.feed, None).against, "no_junction_box")
            self.assertNotIn(way, [row.way for row in ways_of(stair()) if row.against != "no_junction_box"])

    def test_the_bypass_goes_where_somebody_put_it(self) -> None:
        """Into the junction box where the place says so, else to the luminaire."""
        base = found("feed_at_ceiling", junction=Junction.FIRST, line=At.YES)
        assert base.seats is not None
        for in_junction, place in (([], "ceiling1"), ([1], "junction1")):
            route = on_a_box(Way.WITH_BYPASS, base.seats, base.feed, None, (), in_junction)
            assert route.wanted is not None, route.against
            leads = {seat for point, seat in route.wanted.seat_of.items() if point.startswith("byp.")}
            self.assertTrue(all(seat.startswith(f"{place}:") for seat in leads), leads)

    def test_a_live_that_goes_on_keeps_its_drop(self) -> None:
        """A drop that feeds something else too is neither taken away nor made an input."""
        box = surveyed("feed_at_ceiling")
        onward = Conductor(id="c9", cable="C", colour="brown", terminal=Terminal.COMMON, gang=1)
        roles = {**box.roles, "c1": (Role.LOOPED_LIVE, 1), "c9": (Role.LOOPED_LIVE, 1)}
        looped = replace(box, box=replace(box.box, conductors=(*box.box.conductors, onward)), roles=roles)
        made = found_of([looped], region="eu", ceiling={})
        assert made.seats is not None
        for way in (Way.MODULE_AT_LAMP, Way.MODULE_WITH_SWITCH):
            self.assertEqual(on_a_box(way, made.seats, made.feed, None).against, "goes_on", way)
        self.assertIsNone(on_a_box(Way.TWO_WIRE, made.seats, made.feed, None).against)

    def test_a_borrowed_neutral_is_found_and_stands_against_every_control(self) -> None:
        """It is a fault of the loop, not of the survey: drawn, and told at each way."""
        made = found("fixture_fed_light_live", neutral=OwnNeutral.OTHER)
        assert made.seats is not None
        self.assertEqual(made.seats.circuits, ("1", "2"))
        for way in (Way.TWO_WIRE, Way.WITH_BYPASS, Way.LEAVE, Way.TIMER, Way.MODULE_BEHIND_SWITCH):
            self.assertEqual(on_a_box(way, made.seats, made.feed, None).against, "borrowed_neutral", way)

    def test_a_live_that_goes_on_from_a_stair_stays_fed(self) -> None:
        """No module takes it away with the drop; where the line comes to the box it is joined through."""
        near, far = surveyed("two_way_feed_end"), surveyed("two_way_far_end")
        onward = Conductor(id="c99", cable="C", colour="brown", terminal=Terminal.COMMON, gang=1)
        live = next(name for name, (role, _) in near.roles.items() if role is LIVE)
        roles = {**near.roles, live: (Role.LOOPED_LIVE, 1), "c99": (Role.LOOPED_LIVE, 1)}
        looped = replace(near, box=replace(near.box, conductors=(*near.box.conductors, onward)), roles=roles)
        for seen in (At.YES, At.NO):
            made = found_of([looped, far], region="eu", ceiling={1: CeilingPoint(line=seen, neutral=OwnNeutral.OWN)})
            assert made.seats is not None, made.against
            for way in WAYS_ON_A_LANDING:
                route = on_a_landing(way, made.seats, made.near, made.far, made.middle, None, made.feed)
                if way in (Way.MODULE_AT_LAMP, Way.MODULE_WITH_SWITCH) and seen is At.YES:
                    self.assertEqual(route.against, "goes_on", way)
                for row in route.proof.rows if route.wanted is not None and route.proof is not None else ():
                    assert route.wanted is not None
                    self.assertIn("c99", live_cores(route.wanted.drawing(), row.positions), way)

    def test_a_lamp_that_hangs_on_the_box_of_the_line(self) -> None:
        """The core from the far switch ends where the one to the lamp begins, told by the cable of the travellers."""
        made = stair(returns=True)
        assert made.seats is not None, made.against
        ends = {core.id: core.points for core in made.seats.cores}
        back, drop = ends["c5 · c1 (2)"], ends["c4"]
        seat = made.seats.seat_of
        self.assertEqual([seat[point] for point in back], ["box:joint_1", "box2.COM"])
        self.assertEqual([seat[point] for point in drop], ["box:joint_1", "ceiling1:switched"])
        self.assertNotIn("return_not_told", made.assumed)

    def test_a_lamp_that_hangs_between_two_switches(self) -> None:
        """The core comes back as far as the box of the intermediate switch; the lamp follows all three."""
        boxes = [surveyed("two_way_feed_end"), surveyed("two_way_far_end"), returning(surveyed("intermediate"))]
        made = found_of(boxes, region="eu", ceiling={})
        assert made.seats is not None, made.against
        lamp = [core.id for core in made.seats.cores if any(at.startswith("ceiling") for at in core.ends)]
        self.assertEqual([name for name in lamp if name.endswith("(3)")], ["c5 (3)"])
        for way in (Way.CONTROL_AND_COMPANION, Way.MODULE_AT_LAMP, Way.TIMER, Way.LEAVE):
            route = on_a_landing(way, made.seats, made.near, made.far, made.middle, None, made.feed)
            self.assertIsNone(route.against, way)
        gone = [boxes[0], boxes[1], replace(boxes[2], roles={**boxes[2].roles, "c6": (Role.UNUSED, None)})]
        self.assertEqual(found_of(gone, region="eu", ceiling={}).against, "return_not_joined")

    def test_a_live_that_passes_the_box_of_the_lamp_is_told_as_that(self) -> None:
        """The mirror image: nothing is wrong with its roles, and nothing is drawn."""
        passed, other = returning(surveyed("two_way_feed_end")), surveyed("two_way_far_end")
        mirror = {LIVE: SWITCHED, SWITCHED: Role.LOOPED_LIVE}
        one = {name: (mirror.get(role, role), gang) for name, (role, gang) in passed.roles.items()}
        two = {name: ({SWITCHED: LIVE}.get(role, role), gang) for name, (role, gang) in other.roles.items()}
        made = found_of([replace(passed, roles=one), replace(other, roles=two)], region="eu", ceiling={})
        self.assertEqual(made.against, "live_passes_the_box")

    def test_which_of_two_joined_cores_comes_back_is_no_guess_unless_told(self) -> None:
        """Without a colour a cable says nothing: taken by order, and told; either way the lamp follows both."""
        near, far = returning(surveyed("two_way_feed_end")), surveyed("two_way_far_end")
        bare = tuple(replace(one, colour="") for one in near.box.conductors)
        made = found_of([replace(near, box=replace(near.box, conductors=bare)), far], region="eu", ceiling={})
        self.assertIn("return_not_told", made.assumed)
        assert made.seats is not None
        route = on_a_landing(Way.CONTROL_AND_COMPANION, made.seats, made.near, made.far, made.middle, None, made.feed)
        self.assertIsNone(route.against)

    def test_travellers_are_matched_by_colours_that_somebody_noted(self) -> None:
        """Crossed or straight where colours say it; where none does, or they say both, by order, and told as that."""

        def drawn(near_colours: Sequence[str], far_colours: Sequence[str]) -> tuple[set[str], set[str]]:
            boxes = []
            for practice, colours in (("two_way_feed_end", near_colours), ("two_way_far_end", far_colours)):
                one, left = surveyed(practice), list(colours)
                conductors = tuple(
                    replace(c, colour=left.pop(0)) if c.terminal in (Terminal.L1, Terminal.L2) else c
                    for c in one.box.conductors
                )
                boxes.append(replace(one, box=replace(one.box, conductors=conductors)))
            made = found_of(boxes, region="eu", ceiling={})
            assert made.seats is not None, made.against
            between = {core.id for core in made.seats.cores if " · " in core.id}
            return between, {code for code in made.assumed if code.startswith("travellers")}

        straight, crossed = {"c2 · c2 (2)", "c3 · c3 (2)"}, {"c2 · c3 (2)", "c3 · c2 (2)"}
        by_colour, by_order = {"travellers_by_colour"}, {"travellers_by_order"}
        self.assertEqual(drawn(("black", "grey"), ("black", "grey")), (straight, by_colour))
        self.assertEqual(drawn(("black", "grey"), ("grey", "black")), (crossed, by_colour))
        self.assertEqual(drawn(("black", "red"), ("blue", "black")), (crossed, by_colour))
        self.assertEqual(drawn(("", ""), ("", "")), (straight, by_order))
        self.assertEqual(drawn(("black", "black"), ("black", "black")), (straight, by_order))
        self.assertEqual(drawn(("black", "grey"), ("red", "blue")), (straight, by_order))

    def test_a_core_that_comes_back_is_joined_or_not_drawn(self) -> None:
        """Loose in the box of the line; a third core in the joint; nothing told at the far switch."""
        near, far = returning(surveyed("two_way_feed_end")), surveyed("two_way_far_end")

        def against(*conductors: Conductor, other: SurveyedBox = far) -> str | None:
            box = replace(near, box=replace(near.box, conductors=conductors), roles={**near.roles, "c9": (SWITCHED, 1)})
            return found_of([box, other], region="eu", ceiling={}).against

        here = near.box.conductors
        loose = [replace(one, terminal=Terminal.LOOSE) if one.id == "c5" else one for one in here]
        self.assertEqual(against(*loose), "return_not_joined")
        third = Conductor(id="c9", cable="C", colour="blue", terminal=Terminal.JOINT_1)
        self.assertEqual(against(*here, third), "return_not_joined")
        silent = replace(far, roles={**far.roles, "c1": (Role.UNUSED, None)})
        self.assertEqual(against(*here, other=silent), "both_ends_in_one_box")

    def test_a_stair_that_borrows_its_neutral_is_told_too(self) -> None:
        """What was seen at the luminaire counts where it is switched from several places."""
        boxes = [surveyed("two_way_feed_end"), surveyed("two_way_far_end")]
        made = found_of(boxes, region="eu", ceiling={1: CeilingPoint(neutral=OwnNeutral.OTHER)})
        assert made.seats is not None
        for way in WAYS_ON_A_LANDING:
            route = on_a_landing(way, made.seats, made.near, made.far, made.middle, None, made.feed)
            self.assertIn(route.against, ("borrowed_neutral", "no_drop", "no_junction_box"), way)

    def test_smart_lamps_open_a_drop_and_close_a_control(self) -> None:
        """They want to be fed always."""
        made = found("feed_at_ceiling", lamps=LampsThere.SMART)
        assert made.seats is not None
        self.assertIsNone(on_a_box(Way.DROP_AS_FEED, made.seats, made.feed, None).against)
        self.assertEqual(on_a_box(Way.TWO_WIRE, made.seats, made.feed, None).against, "smart_lamps")

    def test_a_loop_on_stays_fed(self) -> None:
        """Two lives under one terminal: the one that goes on keeps its live, whatever goes in."""
        box = surveyed("feed_at_switch")
        onward = Conductor(id="c9", cable="C", colour="brown", terminal=Terminal.COMMON, gang=1)
        roles = {**box.roles, "c1": (Role.LOOPED_LIVE, 1), "c9": (Role.LOOPED_LIVE, 1)}
        looped = replace(box, box=replace(box.box, conductors=(*box.box.conductors, onward)), roles=roles)
        made = found_of([looped], region="eu", ceiling={})
        assert made.seats is not None
        for cores in (1, 2):
            route = on_a_box(Way.TWO_WIRE, made.seats, made.feed, replace(plain(), cores_per_terminal=cores))
            assert route.wanted is not None, route.against
            for row in route.proof.rows if route.proof else ():
                self.assertIn("c9", live_cores(route.wanted.drawing(), row.positions))


class AnyControl(TestCase):
    """Hardware against ways."""

    @tag("long")
    def test_whatever_serves_is_proved_or_told(self) -> None:
        """No way fails its own proof, with any control, on any practice; moves make it and undo it."""
        random = np.random.default_rng(16)
        every = hardware()
        made = 0
        for _ in range(DRAWN):
            practice = str(random.choice(ONE_WAY))
            region, gangs = str(random.choice(["eu", "na"])), int(random.integers(1, 1 + most(practice)))
            junction = Junction(str(random.choice(list(Junction))))
            base = found(practice, region, gangs, turned=bool(random.integers(2)), junction=junction)
            one = every[int(random.integers(len(every)))]
            way = WAYS_ON_A_BOX[int(random.integers(len(WAYS_ON_A_BOX)))]
            if not serves(one, way):
                continue
            assert base.seats is not None
            kept = [gang for gang in range(2, gangs + 1) if random.integers(3) == 0]
            route = on_a_box(way, base.seats, base.feed, one, kept)
            made += self.checked(base, route, kept)
        self.assertGreater(made, 80)

    @tag("long")
    def test_on_a_stair_too(self) -> None:
        """Either end first, with and without a switch between, the supply at a box or at the luminaire."""
        stairs = [
            stair(middle=m, reverse=r, looped=at, returns=back) for m, r, at, back in product(*((False, True),) * 4)
        ]
        for one, way, base in product(hardware(), WAYS_ON_A_LANDING, stairs):
            if serves(one, way):
                assert base.seats is not None
                self.checked(base, on_a_landing(way, base.seats, base.near, base.far, base.middle, one, base.feed))

    def test_a_module_has_all_switches_of_a_stair_as_its_input(self) -> None:
        """Turning any one of them changes the contact between its terminals; the lamp follows the module alone."""
        for middle, reverse, returns in product(*((False, True),) * 3):
            base = stair(middle=middle, reverse=reverse, looped=True, returns=returns)
            assert base.seats is not None
            route = on_a_landing(Way.MODULE_WITH_SWITCH, base.seats, base.near, base.far, base.middle, None, base.feed)
            assert route.wanted is not None, route.against
            assert route.proof is not None
            drawing = route.wanted.drawing()
            fixed = Joined(fixed_pairs(drawing))
            closed = {}
            for row in route.proof.rows:
                self.assertEqual(row.lamps["lamp1"] is LampIs.ON, row.positions["ctl"] == "L1")
                state = State(drawing, fixed, row.positions)
                hands = tuple((name, at) for name, at in row.positions.items() if name != "ctl")
                closed[hands] = state.joined.touch("ctl.S", "ctl.S1")
            self.assertEqual(len(closed), 2 ** (2 + middle))
            for hands, is_closed in closed.items():
                for other, is_other in closed.items():
                    if sum(one != two for one, two in zip(hands, other, strict=True)) == 1:
                        self.assertNotEqual(is_closed, is_other, (hands, other))

    def test_a_stair_gives_its_switches_up_for_a_module(self) -> None:
        """A companion for each; fed at the luminaire nothing at the walls stays live, else only what leads on."""
        for middle, looped, returns in product(*((False, True),) * 3):
            base = stair(middle=middle, looped=looped, returns=returns)
            assert base.seats is not None
            route = on_a_landing(Way.MODULE_AT_LAMP, base.seats, base.near, base.far, base.middle, None, base.feed)
            assert route.wanted is not None, route.against
            assert route.proof is not None
            companions = [one for one in route.wanted.devices if isinstance(one, Companion)]
            self.assertEqual(len(companions), 2 + middle)
            at_walls = {core.id for core in route.wanted.cores if any(end.startswith(BOX) for end in core.ends)}
            live = {name for row in route.proof.rows for name in live_cores(route.wanted.drawing(), row.positions)}
            self.assertEqual(bool(live & at_walls), not looped)

    def test_an_input_takes_what_its_module_says(self) -> None:
        """No input, one for a push, one of which nobody says that it takes two-way switches."""
        base = stair(looped=True)
        assert base.seats is not None
        for changes, code in (
            ({"inputs": 0}, "no_input"),
            ({"input_use": word(InputUse, InputUse.PUSH)}, "input_wants_push"),
            ({"two_way_input": None}, "input_not_two_way"),
            ({"two_way_input": word(YesNo, YesNo.NO)}, "input_not_two_way"),
            ({"input_use": word(InputUse, InputUse.EITHER)}, None),
        ):
            one = replace(plain(sort=Sort.MODULE, neutral=Demand.REQUIRED), **changes)
            made = on_a_landing(Way.MODULE_WITH_SWITCH, base.seats, base.near, base.far, (), one, base.feed)
            self.assertEqual(made.against, code, changes)
        push = replace(plain(sort=Sort.MODULE), input_use=word(InputUse, InputUse.PUSH))
        one_way = found("feed_at_switch")
        assert one_way.seats is not None
        behind = on_a_box(Way.MODULE_BEHIND_SWITCH, one_way.seats, one_way.feed, push)
        self.assertEqual(behind.against, "input_wants_push")

    def test_each_gang_has_its_module_at_its_own_luminaire(self) -> None:
        """Those that are kept stay; each lamp follows its own module, whatever the others do."""
        for way, kept in product((Way.MODULE_AT_LAMP, Way.MODULE_WITH_SWITCH), ([], [2], [1, 3])):
            base = found("feed_at_ceiling", gangs=3)
            assert base.seats is not None
            route = on_a_box(way, base.seats, base.feed, None, kept)
            assert route.wanted is not None, (way, kept, route.against)
            assert route.proof is not None
            modules = {one.id for one in route.wanted.devices if isinstance(one, Control)}
            self.assertEqual(modules, {f"ctl{gang}" for gang in (1, 2, 3) if gang not in kept})
            for name in modules:
                at = {seat for point, seat in route.wanted.seat_of.items() if f"@ceiling{name[3:]}" in point}
                self.assertIn(f"{name}.N", at)
            for row in route.proof.rows:
                for gang in (1, 2, 3):
                    on = row.positions[f"sw{gang}"] != "open" if gang in kept else row.positions[f"ctl{gang}"] == "L1"
                    self.assertEqual(row.lamps[f"lamp{gang}"] is LampIs.ON, on, (way, kept, row.positions))

    def checked(self, base: Surveyed, route: Route, kept: Sequence[int] = ()) -> bool:
        """The route is proved and can be made and undone, or says what stands against it."""
        assert base.seats is not None
        self.assertNotEqual(route.against, "fails_its_proof", (route.way, route.proof))
        if route.wanted is None:
            self.assertIsNotNone(route.against)
            return False
        after = after_moves(base.seats.seat_of, route.moves)
        self.assertEqual(after, dict(route.wanted.seat_of))
        self.assertEqual(after_moves(after, [move.back() for move in reversed(route.moves)]), dict(base.seats.seat_of))
        codes = [finding.code for finding in route.proof.findings] if route.proof else []
        if route.way is not Way.LEAVE:
            self.assertNotIn("terminal_overfilled", codes, route.way)
        if route.way not in (Way.LEAVE, *MODULES) and not kept:
            self.assertNotIn("neutral_colour_live", codes, route.way)
        return True

    def test_a_demand_that_is_not_met_stands_against_it(self) -> None:
        """An earth, an input, outputs, a neutral terminal."""
        singles = found("singles_in_conduit", gangs=3)
        assert singles.seats is not None
        wants = plain(earth=Demand.REQUIRED)
        self.assertEqual(on_a_box(Way.TWO_WIRE, singles.seats, singles.feed, wants).against, "no_earth")
        two = replace(plain(), outputs=2)
        self.assertEqual(on_a_box(Way.TWO_WIRE, singles.seats, singles.feed, two).against, "outputs_do_not_match")
        self.assertIsNone(on_a_box(Way.TWO_WIRE, singles.seats, singles.feed, two, [3]).against)
        deaf = replace(plain(sort=Sort.MODULE), inputs=0)
        self.assertEqual(on_a_box(Way.MODULE_BEHIND_SWITCH, singles.seats, singles.feed, deaf).against, "no_input")

    def test_a_link_is_in_the_map_and_its_absence_is_noticed(self) -> None:
        """A two-mode control without a neutral is linked, with one it is not."""
        base = found("feed_at_switch")
        assert base.seats is not None
        two_mode = replace(plain(neutral=Demand.OPTIONAL), link=word(YesNo, YesNo.YES))
        linked = on_a_box(Way.TWO_WIRE, base.seats, base.feed, two_mode)
        assert linked.wanted is not None
        link = next(p for p, seat in linked.wanted.seat_of.items() if seat == "ctl.N")
        forgotten = replace(linked.wanted, seat_of={**linked.wanted.seat_of, link: CAP})
        self.assertIn("mode_link_missing", [f.code for f in prove(forgotten.drawing()).findings])
        fed = on_a_box(Way.NEUTRAL_PRESENT, base.seats, base.feed, two_mode)
        assert fed.wanted is not None
        at_n = [p for p, seat in fed.wanted.seat_of.items() if seat == "ctl.N"]
        self.assertEqual(len(at_n), 1)

    def test_no_sleeve_says_live_of_a_core_that_is_dead(self) -> None:
        """What is parted and capped at both ends is live in no state of the wanted wiring."""
        bases = [
            found(practice, region, junction=end, line=At.UNKNOWN)
            for practice, region, end in product(ONE_WAY, ("eu", "na"), (Junction.UNKNOWN, Junction.FIRST))
        ]
        bases += [
            stair(region, looped=looped, returns=returns, junction=end)
            for region, looped, returns, end in product(
                ("eu", "na"), (False, True), (False, True), (Junction.UNKNOWN, Junction.FIRST)
            )
        ]
        told = set()
        for base in bases:
            for route in ways_of(base):
                if route.wanted is None or route.proof is None:
                    continue
                drawing = route.wanted.drawing()
                live = set().union(*(live_cores(drawing, row.positions) for row in route.proof.rows))
                said = {one.core for one in route.sleeves if one.after is Mark.LIVE}
                self.assertLessEqual(said, live, (base.feed, route.way))
                told |= {route.way for _ in said}
        self.assertLessEqual({Way.TWO_WIRE, Way.JUNCTION_WITH_SWITCH}, told)

    def test_sleeves_say_what_a_core_is_from_now_on(self) -> None:
        """A blue core that is live gets one, a brown one none; one that becomes a neutral loses the older sleeve."""
        base = found("feed_at_ceiling")
        assert base.seats is not None
        route = on_a_box(Way.TWO_WIRE, base.seats, base.feed, None)
        self.assertEqual([(s.core, s.after) for s in route.sleeves], [("c2", Mark.LIVE)])
        smart = found("feed_at_ceiling", lamps=LampsThere.SMART)
        assert smart.seats is not None
        cores = tuple(replace(core, marked=Mark.LIVE) if core.id == "c2" else core for core in smart.seats.cores)
        turned = on_a_box(Way.DROP_AS_FEED, replace(smart.seats, cores=cores), smart.feed, None)
        self.assertIn(("c2", Mark.LIVE, Mark.NEUTRAL), [(s.core, s.before, s.after) for s in turned.sleeves])

    def test_who_serves_what(self) -> None:
        """A companion nothing; a control that must have a neutral no two-wire way; a module no box of its own."""
        self.assertFalse(any(serves(plain(sort=Sort.COMPANION), way) for way in Way))
        self.assertFalse(any(serves(Hardware(), way) for way in Way))
        fed = plain(neutral=Demand.REQUIRED)
        self.assertEqual(
            [way for way in Way if serves(fed, way)], [w for w in Way if w in WITH_NEUTRAL and w not in MODULES]
        )
        module = plain(sort=Sort.MODULE)
        self.assertEqual([way for way in Way if serves(module, way)], [Way.MODULE_BEHIND_SWITCH])
        self.assertEqual(control_of(module, "ctl", 2, with_neutral=False).inputs, ("S", "S1", "S2"))


@cache
def every_map() -> tuple[tuple[Surveyed, Route], ...]:
    """Every way of every kind of box and stair, in both regions; made once for all tests of a process."""
    made = []
    for practice, region, turned in product(ONE_WAY, ("eu", "na"), (False, True)):
        for gangs in range(1, 1 + most(practice)):
            base = found(practice, region, gangs, turned=turned)
            assert base.seats is not None
            for way in WAYS_ON_A_BOX:
                made.append((base, on_a_box(way, base.seats, base.feed, None)))
    for region, end, middle, reverse, looped, returns in product(
        ("eu", "na"), (Junction.UNKNOWN, Junction.FIRST), *((False, True),) * 4
    ):
        base = stair(region, middle=middle, reverse=reverse, looped=looped, returns=returns, junction=end)
        made += [(base, route) for route in ways_of(base)]
    for practice, region, line in product(ONE_WAY, ("eu", "na"), At):
        for gangs in range(1, 1 + most(practice)):
            base = found(practice, region, gangs, junction=Junction.FIRST, line=line)
            if base.against != "live_in_the_drop":
                made += [(base, route) for route in ways_of(base)]
    for region, junction in product(("eu", "na"), (Junction.NONE, Junction.FIRST)):
        base = on_two_circuits(region, junction)
        made += [(base, route) for route in ways_of(base)]
    for region, stair_first, boxes in product(("eu", "na"), (False, True), (1, 2)):
        alone, stairs = (2, 1) if stair_first else (1, 2)
        for kept in ([stairs], [alone])[:boxes]:
            base = found_of(mixed(region, stair_first=stair_first, boxes=boxes), region=region, ceiling={}, kept=kept)
            made += [(base, route) for route in ways_of(base, kept)]
    return tuple((base, route) for base, route in made if route.wanted is not None)


@tag("long")
class Mistakes(TestCase):
    """Maps of surveyed boxes with real terminals, spoiled in one place."""

    def test_none_goes_unnoticed(self) -> None:
        """Ends exchanged, moved, left loose; a lead of the bypass moved; a piece left out: told, or nothing changes."""
        random = np.random.default_rng(17)
        maps = every_map()
        noticed = 0
        for _ in range(MISTAKES):
            _, route = maps[int(random.integers(len(maps)))]
            wanted, before = route.wanted, route.proof
            assert wanted is not None
            assert before is not None
            seats = dict(wanted.seat_of)
            ends = [point for point in seats if "@" in point]
            pieces = sorted({point.split("@")[0] for point in seats if point.startswith("new")})
            leads = [point for point in seats if point.startswith("byp")]
            one, other = (str(random.choice(ends)) for _ in range(2))
            match int(random.integers(5)):
                case 0:
                    seats[one], seats[other] = seats[other], seats[one]
                case 1:
                    seats[one] = seats[other]
                case 2:
                    seats.pop(one)
                case 3 if leads:
                    seats[str(random.choice(leads))] = seats[one]
                case 4 if pieces:
                    gone = str(random.choice(pieces))
                    seats = {point: seat for point, seat in seats.items() if not point.startswith(f"{gone}@")}
                case _:
                    continue
            after = prove(replace(wanted, seat_of=seats).drawing())
            known = {(f.code, *f.params.items()) for f in before.findings}
            if {(f.code, *f.params.items()) for f in after.findings if f.code != "live_when_off"} - known:
                noticed += 1
                continue
            one_so, other_so = (sorted(repr(dict(row.lamps)) for row in proof.rows) for proof in (before, after))
            self.assertEqual(one_so, other_so, (route.way, wanted.name, one, other))
        self.assertGreater(noticed, MISTAKES // 3)

    def test_a_lamp_behind_a_switch_that_no_drawn_lamp_hangs_on_is_told(self) -> None:
        """A traveller of the stair that stays comes back to the common of the other gang instead of its live."""
        base = found_of(mixed(stair_first=True, boxes=1), region="eu", ceiling={}, kept=[1])
        assert base.seats is not None, base.against
        seats = dict(base.seats.seat_of)
        self.assertEqual((seats["c8@box"], seats["c3@onward2"]), ("sw2.COM", CAP))
        seats["c8@box"], seats["c3@onward2"] = CAP, "sw2.COM"
        after = prove(replace(base.seats, seat_of=seats).drawing())
        self.assertIn("lamp_behind_another", [finding.code for finding in after.findings])

    def test_a_second_model_agrees(self) -> None:
        """Nodal voltages say of every map in every state which lamp is lit and which core is live."""
        looked = 0
        for _, route in every_map():
            assert route.wanted is not None
            assert route.proof is not None
            drawing = route.wanted.drawing()
            for row in route.proof.rows:
                volts = second_volts(drawing, row.positions)
                for lamp, is_so in row.lamps.items():
                    share = abs(volts[f"{lamp}.1"] - volts[f"{lamp}.2"])
                    self.assertEqual(share > 0.9, is_so is LampIs.ON, (route.way, lamp, share))
                live = {core.id for core in drawing.cores if volts[core.points[0]] > 0.9}
                self.assertEqual(live, set(live_cores(drawing, row.positions)), (route.way, row.positions))
                looked += 1
        self.assertGreater(looked, 500)
