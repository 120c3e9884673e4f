"""What works when something fails, against trying every part by hand; and names that are confused."""

from __future__ import annotations

import itertools
import random
import unittest

from ember_core.errors import InputError
from ember_core.rules.names import Confusion, confusions, proposed
from ember_core.rules.paths import TAKES, Failure, House, Part, Way, Works, table

PARTS = {
    "wall": Part.CONTROL,
    "remote": Part.REMOTE,
    "phone": Part.PHONE,
    "router": Part.ROUTER,
    "internet": Part.INTERNET,
    "hub": Part.HUB,
    "plug": Part.MESH_ROUTER,
    "lamp": Part.LAMP,
    "hand": Part.HAND,
}
LINKS = frozenset(
    {
        ("hand", "wall"),
        ("wall", "lamp"),
        ("remote", "wall"),
        ("phone", "router"),
        ("router", "hub"),
        ("hub", "plug"),
        ("plug", "wall"),
        ("phone", "internet"),
        ("internet", "router"),
    }
)
WAYS = (
    Way(id="wall", lamp="lamp", through=("hand", "wall", "lamp")),
    Way(id="remote", lamp="lamp", through=("remote", "wall", "lamp")),
    Way(id="phone", lamp="lamp", through=("phone", "router", "hub", "wall", "lamp")),
    Way(id="away", lamp="lamp", through=("phone", "internet", "router", "hub", "wall", "lamp")),
)


class TheTable(unittest.TestCase):
    """Lamp by failure."""

    def test_a_wired_control_with_everything_about_it(self) -> None:
        """The wall always works; each failure takes just what goes through it."""
        found = table(House(parts=PARTS, links=LINKS), WAYS)
        wanted = {
            Failure.HUB_DOWN: {"phone", "away"},
            Failure.ROUTER_DOWN: {"phone", "away"},
            Failure.NO_INTERNET: {"away"},
            Failure.BATTERY_FLAT: {"remote"},
            Failure.MESH_ROUTER_OUT: {"phone", "away"},
            Failure.PHONE_AWAY: {"phone", "away"},
        }
        for failure, lost in wanted.items():
            cell = found.cell("lamp", failure)
            assert cell is not None
            self.assertEqual(set(cell.lost), lost, failure)
            self.assertIs(cell.works, Works.SOME)
        self.assertIsNone(found.cell("lamp", Failure.WALL_FLIPPED))

    def test_a_lamp_that_is_always_fed_dies_with_the_switch(self) -> None:
        """A smart lamp behind an old switch: whoever flips it takes everything; a rule through the hub dies with it."""
        parts = {**PARTS, "old": Part.SWITCH, "button": Part.REMOTE}
        links = LINKS | {("button", "hub"), ("hub", "lamp")}
        ways = (Way(id="rule", lamp="lamp", through=("button", "hub", "lamp"), feeds=("old",)),)
        found = table(House(parts=parts, links=links), ways)
        for failure in (Failure.WALL_FLIPPED, Failure.HUB_DOWN, Failure.BATTERY_FLAT):
            cell = found.cell("lamp", failure)
            assert cell is not None
            self.assertIs(cell.works, Works.NONE)
        cell = found.cell("lamp", Failure.NO_INTERNET)
        assert cell is not None
        self.assertIs(cell.works, Works.ALL)

    def test_drawn_houses_by_walking(self) -> None:
        """Against a walk over links that knows no graph package: one part gone, over mesh routers only."""
        for seed in range(150):
            draw = random.Random(seed)
            kinds = [
                Part.HUB,
                Part.LAMP,
                Part.CONTROL,
                *(draw.choice((Part.MESH_ROUTER, Part.REMOTE)) for _ in range(5)),
            ]
            parts = {f"p{k}": kind for k, kind in enumerate(kinds)}
            links = frozenset(pair for pair in itertools.combinations(parts, 2) if draw.random() < 0.4)
            through = (*draw.sample([name for name in parts if name != "p1"], 3), "p1")
            ways = (Way(id="w", lamp="p1", through=through),)
            found = table(House(parts=parts, links=links), ways)
            whole = self.walks(parts, links, through, None)
            self.assertEqual(found.never["p1"], () if whole else ("w",))
            for failure, kind in TAKES.items():
                gone = [name for name, part in parts.items() if part is kind]
                if not gone:
                    continue
                cell = found.cell("p1", failure)
                assert cell is not None
                wanted = whole and all(self.walks(parts, links, through, name) for name in gone)
                self.assertEqual(bool(cell.left), wanted, (seed, failure))

    def walks(
        self, parts: dict[str, Part], links: frozenset[tuple[str, str]], through: tuple[str, ...], gone: str | None
    ) -> bool:
        """Every leg is there, over mesh routers that are left."""
        if gone in through:
            return False
        both = {(a, b) for a, b in links} | {(b, a) for a, b in links}
        for a, b in itertools.pairwise(through):
            seen, edge = {a}, [a]
            while edge:
                at = edge.pop()
                for name, kind in parts.items():
                    if name in seen or name == gone or (at, name) not in both:
                        continue
                    if name == b or kind is Part.MESH_ROUTER:
                        seen.add(name)
                        if name != b:
                            edge.append(name)
            if b not in seen:
                return False
        return True

    def test_a_part_that_is_not_there(self) -> None:
        """Is named."""
        with self.assertRaises(InputError) as caught:
            table(House(parts=PARTS, links=LINKS), (Way(id="x", lamp="lamp", through=("ghost", "lamp")),))
        self.assertEqual((caught.exception.code, caught.exception.params["key"]), ("unknown_part", "ghost"))


class Names(unittest.TestCase):
    """Spoken across a room."""

    def test_what_is_confused(self) -> None:
        """Same, contained, alike, by side, unspeakable; and pairs that are told apart."""
        for names, wanted in (
            (["Glaze store ceiling", "glaze store  Ceiling"], Confusion.SAME),
            (["Stair", "Stair top"], Confusion.CONTAINED),
            (["Studio two", "Studio too"], Confusion.SOUNDS_ALIKE),
            (["Kiln room wall", "Kilm room wall"], Confusion.SOUNDS_ALIKE),
            (["Kitchen left"], Confusion.SIDE),
            (["– –"], Confusion.UNSPEAKABLE),
            (["A name that is longer than anybody ever says"], Confusion.TOO_LONG),
        ):
            self.assertEqual([one.why for one in confusions(names)], [wanted], names)
        for names in (["Studio 1", "Studio 2"], ["Stair top", "Stair foot"], ["Gallery wall", "Office wall"]):
            self.assertEqual(confusions(names), (), names)

    def test_a_proposal_says_no_word_twice(self) -> None:
        """Room, what and place."""
        self.assertEqual(proposed("Glaze store", "store ceiling"), "Glaze store ceiling")
