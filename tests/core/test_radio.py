"""Link budgets against the formulas, reach against a search of its own, channels against their frequencies."""

from __future__ import annotations

import itertools
import math
import random
import unittest

from ember_core.errors import InputErrors
from ember_core.radio.budget import (
    BANDS,
    FADE_MARGIN_DB,
    Band,
    Path,
    Spread,
    Station,
    Verdict,
    Wall,
    margin_db,
    verdict,
)
from ember_core.radio.channels import channels, mesh_centre_mhz, wifi_centre_mhz
from ember_core.radio.mesh import Between, Kind, Node, mesh
from ember_core.radio.site import read, solve


class Budget(unittest.TestCase):
    """Decibels."""

    def test_margins_are_those_of_the_formula(self) -> None:
        """Drawn links of each band, written out once more from ITU-R P.1238 and the table of walls."""
        lost = {"plasterboard": 3.0, "brick": 7.0, "stone": 15.0, "concrete": 14.0, "foil": 20.0}
        f_mhz = {"mesh_2g4": 2440.0, "wifi_2g4": 2440.0, "sub_ghz": 868.0}
        draw = random.Random(1)
        for _ in range(300):
            band = draw.choice(tuple(Band))
            d_m, floors = draw.uniform(1.0, 80.0), draw.randint(0, 4)
            counts = {kind: draw.randint(0, 3) for kind in lost}
            tx, back, sens, sens_back = (draw.uniform(-5.0, 20.0), draw.uniform(-5.0, 20.0), -90.0, -100.0)
            losses = draw.uniform(0.0, 12.0), draw.uniform(0.0, 12.0)
            through = 15.0 + 4.0 * (floors - 1) if floors else 0.0
            walls = sum(lost[kind] * count for kind, count in counts.items()) * (0.6 if band is Band.SUB_GHZ else 1.0)
            path = 20.0 * math.log10(f_mhz[band.value]) + 28.0 * math.log10(d_m) + through - 28.0
            wanted = min(tx - sens_back, back - sens) - path - walls - sum(losses)
            found = margin_db(
                band,
                Station(tx_dbm=tx, sensitivity_dbm=sens, loss_db=losses[0]),
                Station(tx_dbm=back, sensitivity_dbm=sens_back, loss_db=losses[1]),
                Path(d_m=d_m, walls={Wall(kind): count for kind, count in counts.items()}, floors=floors),
            )
            self.assertAlmostEqual(found.typical, wanted, delta=0.1)
            self.assertLess(found.low, found.typical)
            self.assertLess(found.typical, found.high)

    def test_more_between_is_never_better(self) -> None:
        """Another wall, another floor, another metre takes margin, at every end of the range."""
        one = Station(tx_dbm=4.0, sensitivity_dbm=-97.0)
        before = Path(d_m=5.0, walls={Wall.BRICK: 1})
        for after in (
            Path(d_m=6.0, walls={Wall.BRICK: 1}),
            Path(d_m=5.0, walls={Wall.BRICK: 2}),
            Path(d_m=5.0, walls={Wall.BRICK: 1, Wall.PLASTERBOARD: 1}),
            Path(d_m=5.0, walls={Wall.BRICK: 1}, floors=1),
        ):
            a, b = (margin_db(Band.MESH, one, one, path) for path in (before, after))
            self.assertLess(b.typical, a.typical)
            self.assertLess(b.low, a.low)

    def test_verdicts_just_inside_and_outside(self) -> None:
        """Sure keeps the fade margin at its low end, likely in the middle; poor has less, no has nothing."""
        d = 0.01
        for low, typical, wanted in (
            (FADE_MARGIN_DB, 20.0, Verdict.SURE),
            (FADE_MARGIN_DB - d, 20.0, Verdict.LIKELY),
            (3.0, FADE_MARGIN_DB, Verdict.LIKELY),
            (3.0, FADE_MARGIN_DB - d, Verdict.POOR),
            (-8.0, 0.0, Verdict.POOR),
            (-8.0, -d, Verdict.NO),
        ):
            self.assertIs(verdict(Spread(low=low, typical=typical, high=30.0)), wanted)


class Reach(unittest.TestCase):
    """Who is reached over whom."""

    def drawn(self, seed: int) -> tuple[list[Node], list[Between]]:
        """Some devices, and links that work or do not."""
        draw = random.Random(seed)
        of = BANDS[Band.MESH]
        station = Station(tx_dbm=of.tx_dbm, sensitivity_dbm=of.sensitivity_dbm)
        kinds = [Kind.HUB, *(draw.choice((Kind.ROUTER, Kind.END)) for _ in range(draw.randint(1, 8)))]
        nodes = [Node(id=f"n{k}", kind=kind, station=station) for k, kind in enumerate(kinds)]
        pairs = [pair for pair in itertools.combinations(nodes, 2) if draw.random() < 0.4]
        betweens = [
            Between(a=a.id, b=b.id, path=Path(d_m=draw.choice((5.0, 500.0)), walls={Wall.BRICK: 1})) for a, b in pairs
        ]
        return nodes, betweens

    def test_hops_and_cut_points_by_trying_every_way(self) -> None:
        """Against a search that walks every way through routers, with and without each of them."""
        for seed in range(200):
            nodes, betweens = self.drawn(seed)
            found = mesh(Band.MESH, nodes, betweens)
            kind = {node.id: node.kind for node in nodes}
            near = {frozenset((link.a, link.b)) for link in found.links if link.verdict is not Verdict.NO}
            wanted = self.walked(kind, near)
            self.assertEqual(dict(found.reached), {name: wanted.get(name) for name in kind}, seed)
            cuts = [
                name
                for name in kind
                if kind[name] is Kind.ROUTER
                and name in wanted
                and set(self.walked({n: k for n, k in kind.items() if n != name}, near)) != set(wanted) - {name}
            ]
            self.assertEqual(sorted(found.cut_points), sorted(cuts), seed)
            ends = [name for name in wanted if kind[name] is Kind.END]
            self.assertEqual(sum(found.children.values()), len(ends), seed)

    def walked(self, kind: dict[str, Kind], near: set[frozenset[str]]) -> dict[str, int]:
        """The least number of links to each device, by relaxing until nothing changes."""
        hops = {"n0": 0}
        for _ in kind:
            for pair in near:
                for a, b in itertools.permutations(pair):
                    if a in hops and b in kind and kind.get(a) in (Kind.HUB, Kind.ROUTER):
                        hops[b] = min(hops.get(b, 99), hops[a] + 1)
        return hops

    def test_a_poor_link_reaches_but_is_not_trusted(self) -> None:
        """Both are told."""
        station = Station(tx_dbm=4.0, sensitivity_dbm=-97.0)
        nodes = [Node(id="h", kind=Kind.HUB, station=station), Node(id="e", kind=Kind.END, station=station)]
        found = mesh(Band.MESH, nodes, [Between(a="h", b="e", path=Path(d_m=20.0, walls={Wall.STONE: 1}))])
        self.assertIs(found.links[0].verdict, Verdict.POOR)
        self.assertEqual((found.reached["e"], found.trusted["e"]), (1, None))


class Channel(unittest.TestCase):
    """At 2.4 GHz."""

    def test_frequencies(self) -> None:
        """First and last of both plans."""
        self.assertEqual((mesh_centre_mhz(11), mesh_centre_mhz(26)), (2405.0, 2480.0))
        self.assertEqual((wifi_centre_mhz(1), wifi_centre_mhz(13)), (2412.0, 2472.0))

    def test_between_the_three_of_wifi(self) -> None:
        """1, 6 and 11 leave the gaps at 15, 20, 25 and 26; what is taken is clear and not the last."""
        found = channels(Band.MESH, [1, 6, 11])
        assert found is not None
        free = [channel for channel, mhz in found.overlap_mhz.items() if mhz == 0.0]
        self.assertEqual(free, [15, 20, 25, 26])
        self.assertEqual(found.best, 25)
        self.assertEqual(found.overlap_mhz[12], 2.0)

    def test_overlap_by_counting_hertz(self) -> None:
        """Drawn networks: the overlap is the length of what both cover."""
        draw = random.Random(3)
        for _ in range(50):
            wifi = [draw.randint(1, 13) for _ in range(draw.randint(0, 6))]
            found = channels(Band.MESH, wifi)
            assert found is not None
            for channel, mhz in found.overlap_mhz.items():
                centre = 2405 + 5 * (channel - 11)
                tenths = range(10 * centre - 10, 10 * centre + 10)
                counted = sum(sum(abs(t + 0.5 - 10 * (2412 + 5 * (n - 1))) < 100 for t in tenths) / 10.0 for n in wifi)
                self.assertAlmostEqual(mhz, counted)
            self.assertEqual(found.overlap_mhz[found.best], min(found.overlap_mhz.values()))

    def test_below_one_gigahertz_there_is_none(self) -> None:
        """Wi-Fi is far away."""
        self.assertIsNone(channels(Band.SUB_GHZ, [1]))


class Door(unittest.TestCase):
    """What cannot be read."""

    def test_everything_wrong_is_told_with_its_place(self) -> None:
        """No hub, an end that is not there, a link to itself, a wall of glass, a Wi-Fi channel 14."""
        with self.assertRaises(InputErrors) as caught:
            read(
                {
                    "band": "mesh_2g4",
                    "nodes": [{"id": "a", "kind": "end"}],
                    "links": [{"a": "a", "b": "z", "d_m": 3}, {"a": "a", "b": "a", "d_m": -1, "walls": {"glass": 1}}],
                    "wifi_channels": [14],
                }
            )
        self.assertEqual(
            {(error.code, error.path) for error in caught.exception.errors},
            {
                ("not_one_hub", "nodes"),
                ("unknown_device", "links[0].b"),
                ("link_to_itself", "links[1]"),
                ("unknown_key", "links[1].walls.glass"),
                ("out_of_bounds", "links[1].d_m"),
                ("out_of_bounds", "wifi_channels[0]"),
            },
        )

    def test_full_to_the_last_place(self) -> None:
        """As many as are left are not too many; where nobody knows, nothing is said."""
        data = {"band": "sub_ghz", "nodes": [{"id": "h", "kind": "hub"}, {"id": "a", "kind": "end"}], "links": []}
        for hub, wanted in (({"takes": 25, "has": 24}, False), ({"takes": 25, "has": 25}, True), ({}, None)):
            self.assertIs(solve(read({**data, "hub": hub})).is_full, wanted)
