"""A house: what is unknown stays unknown, a help that is named helps, what has joined carries others, what works."""

from __future__ import annotations

import unittest
from typing import Any
from unittest.mock import patch

from ember_cli import examples
from ember_core.house.document import House, read
from ember_core.house.fits import Help, fits, job_of
from ember_core.house.works import works
from ember_core.pairing.plan import plan
from ember_core.radio.budget import Verdict, margin_db
from ember_core.rules.paths import Failure, Works

Json = dict[str, Any]


def house(devices: list[Json], **changes: Any) -> House:
    """An office with a hub, a store beside it, a cellar behind thick walls."""
    return read(
        {
            "rooms": [{"id": "o", "name": "Office"}, {"id": "s", "name": "Store"}, {"id": "c", "name": "Cellar"}],
            "between": [
                {"a": "o", "b": "s", "d_m": 6, "walls": {"brick": 1}},
                {"a": "s", "b": "c", "d_m": 6, "walls": {"stone": 1}},
                {"a": "o", "b": "c", "d_m": 11, "walls": {"stone": 2, "brick": 1}, "floors": 1},
            ],
            "hubs": [{"id": "h", "name": "Hub", "room": "o", "bands": ["mesh_2g4"], "window_s": 60}],
            "devices": [{"hub": "h", "name": one["id"], **one} for one in devices],
            **changes,
        }
    )


PLUG: Json = {"id": "plug", "room": "s", "card": "plug_router"}
LAMP: Json = {
    "id": "lamp",
    "room": "c",
    "card": "two_wire_switch",
    "metal_box": False,
    "metal_plate": False,
    "gang": "g",
}


class Reach(unittest.TestCase):
    """In range or not."""

    def test_a_help_that_is_named_helps(self) -> None:
        """Alone the cellar is out of range; with the router that is proposed in the store it is reached surely."""
        alone = fits(house([LAMP]))[0].fits[0]
        self.assertIs(alone.verdict, Verdict.NO)
        self.assertIn(Help.ROUTER, alone.helps)
        self.assertIn(Help.MOVE_HUB, alone.helps)
        found = {fit.device.id: fit for fit in fits(house([PLUG, LAMP]))[0].fits}
        self.assertEqual((found["lamp"].hops, found["lamp"].trusted_hops), (2, 2))
        moved = house([LAMP], hubs=[{"id": "h", "name": "Hub", "room": "s", "bands": ["mesh_2g4"], "window_s": 60}])
        self.assertIn(fits(moved)[0].fits[0].verdict, (Verdict.SURE, Verdict.LIKELY))

    def test_what_nobody_noted_is_unknown(self) -> None:
        """No wall noted: neither in range nor out; nobody looked at box and plate: likely where it would be sure."""
        unknown = fits(house([LAMP], between=[]))[0].fits[0]
        self.assertEqual((unknown.verdict, unknown.known, unknown.helps), (None, False, (Help.NOTE_WALLS,)))
        near = {**LAMP, "room": "s"}
        seen = fits(house([near]))[0].fits[0].verdict
        unseen = fits(house([{**near, "metal_box": None, "metal_plate": None}]))[0].fits[0]
        self.assertEqual((seen, unseen.verdict), (Verdict.SURE, Verdict.LIKELY))
        plate = fits(house([{**near, "metal_plate": None}]))[0].fits[0]
        self.assertEqual((unseen.unseen_db, plate.unseen_db), (20.0, 8.0))
        plug = fits(house([{**PLUG, "room": "s", "metal_box": None, "metal_plate": None}]))[0].fits[0]
        self.assertEqual((plug.verdict, plug.unseen_db), (Verdict.SURE, 0.0))

    def test_metal_takes_margin(self) -> None:
        """Box and plate by their decibels."""
        margins = [
            fits(house([{**PLUG, "metal_box": box, "metal_plate": plate}]))[0].fits[0].weakest
            for box, plate in ((False, False), (True, False), (True, True))
        ]
        values = [one.margin_db.typical for one in margins if one is not None]
        self.assertAlmostEqual(values[0] - values[1], 10.0)
        self.assertAlmostEqual(values[1] - values[2], 6.0)

    def test_an_access_point_carries_no_more_than_it_takes(self) -> None:
        """Each Wi-Fi device hangs on the point that it hears best; one too many is told, one fewer is not."""
        points = [
            {"id": "near", "name": "Near", "room": "s", "channel": 6, "takes": 30, "has": 28},
            {"id": "far", "name": "Far", "room": "o", "channel": 1},
        ]
        hub = {"id": "h", "name": "Hub", "room": "o", "bands": ["wifi_2g4"], "window_s": 60}
        for count, full in ((2, []), (3, [("near", 3, 2)])):
            devices = [{"id": f"w{k}", "room": "s", "card": "wifi_switch"} for k in range(count)]
            found = fits(house(devices, hubs=[hub], access_points=points))[0]
            self.assertEqual([(point.id, wants, left) for point, wants, left in found.full_points], full)

    def test_a_leaflets_times_count_in_place_of_its_kind(self) -> None:
        """The device's own window and time to join; the kind's where nobody noted any."""
        of_kind = house([LAMP]).devices[0].card
        own = house([{**LAMP, "window_s": 30, "join_s": 12}]).devices[0].card
        self.assertEqual((own.window_s, own.join_s, own.act_s), (30.0, 12.0, of_kind.act_s))
        self.assertNotEqual(of_kind.window_s, 30.0)

    def test_a_large_house_is_answered_by_counting_links(self) -> None:
        """Sixty devices in twelve rooms, half of them out of range: each link is computed a few times, not for each."""
        made = read(examples.house_of(60))
        with patch("ember_core.house.fits.margin_db", wraps=margin_db) as counted:
            found = fits(made)[0]
        self.assertEqual(len(found.fits), 60)
        self.assertTrue(any(fit.helps for fit in found.fits))
        pairs = 60 * 59 // 2
        self.assertLess(counted.call_count, 12 * pairs)


class Joining(unittest.TestCase):
    """What is still to be joined."""

    def test_what_has_joined_carries_others(self) -> None:
        """With the plug in, the cellar's lamp can be planned alone; without it, it cannot."""
        made = house([PLUG, LAMP])
        hub = made.hubs[0]
        with_plug = job_of(made, hub, {}, frozenset({"plug"}))
        self.assertEqual([device.id for device in with_plug.devices], ["lamp"])
        self.assertTrue(plan(with_plug).is_possible)
        self.assertFalse(plan(job_of(house([LAMP]), hub, {})).is_possible)


class Failing(unittest.TestCase):
    """What still works."""

    def test_a_router_between_and_a_hub_that_needs_the_internet(self) -> None:
        """Unplugged, phone and programs are lost and the wall works; without internet such a hub is as good as none."""
        made = house([PLUG, {**LAMP, "keeps": "hub"}])
        cell = works(made).cell("~lamp:g", Failure.MESH_ROUTER_OUT)
        assert cell is not None
        self.assertEqual((cell.works, cell.left, cell.by), (Works.SOME, ("wall",), "plug"))
        hub = {"id": "h", "name": "Hub", "room": "o", "bands": ["mesh_2g4"], "window_s": 60, "needs_internet": True}
        cell = works(house([PLUG, {**LAMP, "keeps": "hub"}], hubs=[hub])).cell("~lamp:g", Failure.NO_INTERNET)
        assert cell is not None
        self.assertEqual(cell.left, ("wall",))

    def test_a_rule_of_the_hub_dies_with_it_and_a_linked_remote_does_not(self) -> None:
        """A button that only the hub knows, beside a remote that is linked to the dimmer."""
        dimmer = {**LAMP, "card": "two_wire_dimmer"}
        button = {"id": "button", "room": "s", "card": "battery_button", "dimmer": "lamp"}
        remote = {"id": "remote", "room": "s", "card": "battery_remote", "dimmer": "lamp"}
        table = works(house([PLUG, dimmer, button, remote]))
        cell = table.cell("~lamp:g", Failure.HUB_DOWN)
        assert cell is not None
        self.assertIn("remote:button", cell.lost)
        self.assertIn("remote:remote", cell.left)
        flat = table.cell("~lamp:g", Failure.BATTERY_FLAT)
        assert flat is not None
        self.assertEqual(len(flat.lost), 1)
        self.assertTrue(plan(job_of(house([PLUG, dimmer, button]), house([]).hubs[0], {})).is_possible)

    def test_an_old_switch_before_it_takes_everything(self) -> None:
        """Flipped, nothing works."""
        cell = works(house([PLUG, {**LAMP, "behind_switch": True}])).cell("~lamp:g", Failure.WALL_FLIPPED)
        assert cell is not None
        self.assertIs(cell.works, Works.NONE)
