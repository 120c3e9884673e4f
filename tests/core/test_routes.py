"""Ways through a box: each offered one is proved, its moves make it, and the same moves backwards restore the box."""

from __future__ import annotations

from itertools import product

import numpy as np
from django.test import SimpleTestCase, tag

from ember_cli.routing import answer
from ember_core.errors import InputError, InputErrors
from ember_core.parts import Supply as Mains
from ember_core.routes.found import Feed, box, landing
from ember_core.routes.half_wave import (
    DETECTOR_A,
    EACH_V_PEAK,
    EACH_W,
    USED_RATIO,
    detector_chain,
    on_half_waves,
)
from ember_core.routes.seats import CAP, Seats, after_moves, moves_between
from ember_core.routes.ways import Route, Way, landing_routes, routes
from ember_core.sheet import read as read_sheet
from ember_core.spread.half_wave import HalfWave
from ember_core.wiring.drawing import Lamp
from ember_core.wiring.proof import prove
from ember_core.wiring.told import LampIs, Supply
from tests.core.faulty import loop_sheet

MISTAKES = 2_000


def every() -> list[tuple[Seats, Route]]:
    """Each route of each box that one can meet, in both regions."""
    found = []
    for feed, gangs, region, spare, smart in product(Feed, (1, 2, 3), ("eu", "na"), (False, True), (False, True)):
        wiring = box(feed, gangs, region=region, spare=spare, smart=smart)
        found += [(wiring, route) for route in routes(wiring, feed)]
    for region in ("eu", "na"):
        wiring = landing(region=region)
        found += [(wiring, route) for route in landing_routes(wiring)]
    return found


class Boxes(SimpleTestCase):
    """What is found."""

    def test_each_box_works_as_found(self) -> None:
        """With ordinary lamps; the switch of each gang lights its own lamp."""
        for feed, gangs, region in product(Feed, (1, 2, 3), ("eu", "na")):
            proof = prove(box(feed, gangs, region=region).drawing())
            self.assertTrue(proof.works, (feed, gangs, region, proof.findings))
        self.assertTrue(prove(landing().drawing()).works)


class Offered(SimpleTestCase):
    """Routes that can be."""

    @tag("long")
    def test_none_is_offered_that_fails_its_proof(self) -> None:
        """And none is kept back for a fault of its own: what stands against one is of the box."""
        for wiring, route in every():
            self.assertNotEqual(route.against, "fails_its_proof", (wiring.name, route.way, route.proof))
            if route.wanted is None:
                self.assertIsNotNone(route.against)
                continue
            assert route.proof is not None
            self.assertTrue(route.proof.works)
            for row in route.proof.rows:
                self.assertNotIn(Supply.NONE, row.supplied.values(), (wiring.name, route.way))
                for lamp in (one for one in route.wanted.devices if isinstance(one, Lamp) and one.smart):
                    self.assertIs(row.lamps[lamp.id], LampIs.ON)

    def test_what_stands_against_one(self) -> None:
        """A neutral that is not there, a spare core, lamps without electronics, several gangs, smart lamps."""
        plain = {route.way: route.against for route in routes(box(Feed.CEILING), Feed.CEILING)}
        self.assertEqual(plain[Way.NEUTRAL_PRESENT], "no_neutral")
        self.assertEqual(plain[Way.SPARE_AS_NEUTRAL], "no_spare_core")
        self.assertEqual(plain[Way.DROP_AS_FEED], "lamps_not_smart")
        self.assertIsNone(plain[Way.TWO_WIRE])
        spare = {r.way: r.against for r in routes(box(Feed.CEILING, spare=True), Feed.CEILING)}
        self.assertIsNone(spare[Way.SPARE_AS_NEUTRAL])
        smart = {r.way: r.against for r in routes(box(Feed.CEILING, smart=True), Feed.CEILING)}
        self.assertIsNone(smart[Way.DROP_AS_FEED])
        self.assertEqual(smart[Way.TWO_WIRE], "smart_lamps")
        several = {r.way: r.against for r in routes(box(Feed.SWITCH, 2), Feed.SWITCH)}
        self.assertEqual(several[Way.TIMER], "one_gang_only")
        self.assertIsNone(several[Way.MODULE_AT_LAMP])
        self.assertEqual(several[Way.DROP_AS_FEED], "no_drop")
        self.assertIsNone(several[Way.NEUTRAL_PRESENT])

    def test_a_pair_stands_side_by_side(self) -> None:
        """Either control lights the lamp alone; both are fed while both are off."""
        pair = next(route for route in landing_routes(landing()) if route.way is Way.PAIR)
        assert pair.proof is not None
        lit = {(row.positions["ctl"], row.positions["ctl2"]): row.lamps["lamp1"] for row in pair.proof.rows}
        self.assertEqual([at for at, is_so in lit.items() if is_so is LampIs.OFF], [("off", "off")])
        self.assertEqual(set(pair.proof.rows[0].supplied.values()), {Supply.LOOP})


class Moves(SimpleTestCase):
    """What hands do."""

    @tag("long")
    def test_they_make_it_and_undo_it(self) -> None:
        """There and back, for every route; nothing moves that sits right already."""
        for wiring, route in every():
            if route.wanted is None:
                continue
            made = after_moves(wiring.seat_of, route.moves)
            self.assertEqual(made, route.wanted.seat_of, (wiring.name, route.way))
            back = after_moves(made, [move.back() for move in reversed(route.moves)])
            self.assertEqual(back, wiring.seat_of)
            self.assertTrue(all(move.before != move.after for move in route.moves))
            self.assertEqual(moves_between(route.wanted, route.wanted), ())

    def test_a_move_that_was_made_is_refused_a_second_time(self) -> None:
        """With the end that it is about."""
        route = routes(box(Feed.CEILING), Feed.CEILING)[0]
        found = box(Feed.CEILING)
        once = after_moves(found.seat_of, route.moves[:1])
        with self.assertRaises(InputError) as caught:
            after_moves(once, route.moves[:1])
        self.assertEqual((caught.exception.code, caught.exception.path), ("moved_already", route.moves[0].point))

    @tag("long")
    def test_the_earth_is_first_and_what_is_left_over_is_capped_early(self) -> None:
        """Before anything goes to a terminal."""
        for _, route in every():
            kinds = ["earth" if (m.after or "").endswith((":earth", ".PE")) else m.after or "" for m in route.moves]
            if "earth" in kinds:
                self.assertEqual(kinds[0], "earth", route.way)
            terminals = [k for k, kind in enumerate(kinds) if "." in kind and kind != "earth"]
            caps = [k for k, kind in enumerate(kinds) if kind == CAP]
            if terminals and caps:
                self.assertLess(max(caps), min(terminals), route.way)

    @tag("whole")
    def test_a_single_mistake_in_a_map_is_noticed(self) -> None:
        """Two ends exchanged, a cap forgotten, an end elsewhere: a finding of its own, or the same behaviour."""
        random = np.random.default_rng(3)
        whole = [(route.wanted, route.proof) for _, route in every() if route.wanted and route.proof]
        for _ in range(MISTAKES):
            wanted, before = whole[int(random.integers(len(whole)))]
            points = [point for point in wanted.seat_of if "@" in point]
            one, other = (str(random.choice(points)) for _ in range(2))
            seats = dict(wanted.seat_of)
            match int(random.integers(3)):
                case 0:
                    seats[one], seats[other] = seats[other], seats[one]
                case 1:
                    seats[one] = seats[other]
                case _:
                    seats.pop(one)
            made = wanted.changed(name="mistake", seats={})
            drawing = Seats(
                name=made.name,
                circuits=made.circuits,
                devices=made.devices,
                cores=made.cores,
                seat_of=seats,
                intended=made.intended,
            ).drawing()
            after = prove(drawing)
            known = {(f.code, *f.params.items()) for f in before.findings}
            if {(f.code, *f.params.items()) for f in after.findings if f.code != "live_when_off"} - known:
                continue
            lamps = [sorted(repr(dict(row.lamps)) for row in proof.rows) for proof in (after, before)]
            self.assertEqual(*lamps, (wanted.name, one, other))


class Command(SimpleTestCase):
    """`./ember routes`."""

    def test_it_tells_the_ways_and_refuses_what_is_no_box(self) -> None:
        """Keys of the answer; every error with its place."""
        told = answer({"practice": "feed_at_switch", "gangs": 2})
        self.assertTrue(told["works_as_found"])
        by_way = {route["way"]: route for route in told["routes"]}
        self.assertEqual(by_way["timer"], {"way": "timer", "against": "one_gang_only"})
        self.assertIn({"point": "D11@box", "from": "sw1.L1", "to": "ctl.L1"}, by_way["two_wire"]["moves"])
        self.assertEqual(
            {r["way"]: r["against"] for r in answer({"practice": "two_way"})["routes"]},
            {
                "pair": None,
                "control_and_companion": None,
                "module_at_lamp": None,
                "module_with_switch": "no_drop",
                "timer": None,
                "leave": None,
            },
        )
        with self.assertRaises(InputErrors) as caught:
            answer({"practice": "by_magic", "gangs": 9, "region": "mars", "spare": 1, "colour": "red"})
        found = {error.path: error.code for error in caught.exception.errors}
        self.assertEqual(
            found,
            {
                "colour": "unknown_key",
                "practice": "unknown_word",
                "gangs": "out_of_bounds",
                "region": "unknown_word",
                "spare": "not_a_truth_value",
            },
        )
        with self.assertRaises(InputError):
            answer([1])


class HalfWaveExperiment(SimpleTestCase):
    """What is told of the bench experiment is computed."""

    def test_which_lamps_stand_half_waves(self) -> None:
        """Filaments always, droppers never, linear lamps flicker, an iron core is never tried; shares sum to one."""
        for stage, state in (
            ("filament", HalfWave.STEADY),
            ("capacitive_dropper", HalfWave.DARK),
            ("linear", HalfWave.FLICKERS),
        ):
            p_w = 40.0 if stage == "filament" else 8.0
            (group,) = on_half_waves(read_sheet(loop_sheet(stage, 2, p_w=p_w)))
            self.assertEqual(group.shares, {state: 1.0}, stage)
        (group,) = on_half_waves(read_sheet(loop_sheet("rectifier", 2)))
        self.assertAlmostEqual(sum(group.shares.values()), 1.0)

    def test_a_lamp_with_more_reservoir_stands_them_more_often(self) -> None:
        """A driver that flickers at one size burns on with ten times of it."""
        sheet = loop_sheet("dimmable_driver", 1)
        lamp = sheet["lamps"][0]
        lamp["c_bulk_f"] = 5e-7
        (small,) = on_half_waves(read_sheet(sheet))
        lamp["c_bulk_f"] = 1e-4
        (large,) = on_half_waves(read_sheet(sheet))
        self.assertLess(small.shares.get(HalfWave.STEADY, 0.0), large.shares.get(HalfWave.STEADY, 0.0))

    def test_three_resistors_by_heat_and_voltage_not_one(self) -> None:
        """At 230 V; one alone would bear more than it may of both. Each of the chain stays within both."""
        chain = detector_chain(Mains(v_rms=230.0, f_hz=50.0))
        self.assertEqual((chain.count, chain.by_heat, chain.by_voltage), (3, 3, 2))
        self.assertGreater(chain.alone_w, USED_RATIO * EACH_W)
        self.assertGreater(chain.alone_v_peak, EACH_V_PEAK)
        for v_rms in (100.0, 120.0, 230.0, 240.0):
            chain = detector_chain(Mains(v_rms=v_rms, f_hz=50.0))
            self.assertLessEqual(chain.each_w, USED_RATIO * EACH_W)
            self.assertLessEqual(chain.each_v_peak, EACH_V_PEAK)
            self.assertGreaterEqual(chain.count * chain.each_ohm, v_rms / DETECTOR_A)
