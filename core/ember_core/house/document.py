"""The document of a house, read strictly. What nobody noted is None or missing, and stays unknown."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from ember_core.errors import InputErrors
from ember_core.pairing.cards import LONGEST_WINDOW_S, SHORTEST_WINDOW_S, Card, Companion, cards
from ember_core.radio.budget import Band, Path
from ember_core.radio.channels import FIRST_WIFI, LAST_WIFI
from ember_core.radio.site import read_path
from ember_core.reading import Reader

MOST_ROOMS, MOST_BETWEEN, MOST_HUBS, MOST_POINTS, MOST_DEVICES = 120, 600, 8, 30, 250
MOST_AT_HUB = 10_000


class Keeps(StrEnum):
    """Where the programs of a control are kept; nowhere where it has none."""

    CONTROL = "control"
    HUB = "hub"
    NOWHERE = "nowhere"


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """A room, and on which floor it is; None where nobody noted it."""

    id: str
    name: str
    floor: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Apart:
    """What lies between two rooms, middle to middle."""

    a: str
    b: str
    path: Path


@dataclass(frozen=True, slots=True, kw_only=True)
class HubPlace:
    """A hub at its place.

    Parameters
    ----------
    takes, has : devices it can have, and has; None where nobody knows. window_s : its network stays open for so long.
    listed : cards that it knows; None where it takes any of its families. needs_internet : nothing goes without.
    """

    id: str
    name: str
    room: str
    bands: frozenset[Band]
    takes: int | None
    has: int | None
    window_s: float
    listed: frozenset[str] | None
    needs_internet: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class AccessPoint:
    """A Wi-Fi access point; no name and no key of a network is kept.

    Parameters
    ----------
    takes, has : devices that it can carry at once, and carries; None where nobody knows.
    """

    id: str
    name: str
    room: str
    channel: int
    takes: int | None = None
    has: int | None = None

    @property
    def left(self) -> int | None:
        """How many it still carries; None where nobody knows."""
        return None if self.takes is None or self.has is None else max(0, self.takes - self.has)


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A device that joins: a control of a gang, a remote, a plug.

    Parameters
    ----------
    card : of its kind, with the times of its own leaflet in place of the kind's where somebody noted them.
    gang : identity of the gang that it controls; empty for what controls none. dimmer : whose remote it is; of one
        that is not linked, what the hub does for it.
    metal_box, metal_plate : None where nobody looked. behind_switch : an old switch still cuts its supply.
    """

    id: str
    name: str
    room: str
    card: Card
    hub: str
    gang: str = ""
    dimmer: str = ""
    metal_box: bool | None = None
    metal_plate: bool | None = None
    behind_switch: bool = False
    keeps: Keeps = Keeps.NOWHERE


@dataclass(frozen=True, slots=True, kw_only=True)
class House:
    """Everything that was noted of a house.

    Parameters
    ----------
    lat_deg, lon_deg : north and east positive; None where nobody named them.
    neighbours : channels of Wi-Fi networks that are not ours. left_over : names that a test left, by hub.
    """

    lat_deg: float | None
    lon_deg: float | None
    rooms: tuple[Room, ...]
    apart: tuple[Apart, ...]
    hubs: tuple[HubPlace, ...]
    access_points: tuple[AccessPoint, ...]
    neighbours: tuple[int, ...]
    devices: tuple[Placed, ...]
    left_over: Mapping[str, tuple[str, ...]]

    def hub(self, name: str) -> HubPlace | None:
        """One of its hubs."""
        return next((hub for hub in self.hubs if hub.id == name), None)

    def of_gang(self, gang: str) -> Placed | None:
        """The control of a gang."""
        return next((one for one in self.devices if one.gang == gang), None)


EMPTY: dict[str, Any] = {
    **{"lat": None, "lon": None, "rooms": [], "between": [], "hubs": [], "access_points": []},
    **{"neighbours": [], "devices": []},
}


def read(data: Any) -> House:
    """A house from JSON.

    Raises
    ------
    InputErrors : all that is wrong, each with its place.
    """
    reader = Reader()
    # Houses of before had a time zone of their own; now it is the site's.
    given = reader.keys(data, "", {*EMPTY, "zone"})
    lat, lon = (_degrees(reader, given, key, most) for key, most in (("lat", 90.0), ("lon", 180.0)))
    if (lat is None) is not (lon is None):
        reader.wrong("place_half_given", "lon" if lon is None else "lat")
    rooms = [_room(reader, one, f"rooms[{k}]") for k, one in _each(reader, given, "rooms", MOST_ROOMS)]
    reader.unique([room.id for room in rooms], "rooms")
    known = {room.id for room in rooms}
    apart = [_apart(reader, one, f"between[{k}]", known) for k, one in _each(reader, given, "between", MOST_BETWEEN)]
    pairs = ["|".join(sorted((one.a, one.b))) for one in apart]
    for k, pair in enumerate(pairs):
        if pair in pairs[:k]:
            reader.wrong("link_twice", f"between[{k}]")
    hubs = [_hub(reader, one, f"hubs[{k}]", known) for k, one in _each(reader, given, "hubs", MOST_HUBS)]
    points = [
        _point(reader, one, f"access_points[{k}]", known)
        for k, one in _each(reader, given, "access_points", MOST_POINTS)
    ]
    devices = [
        _device(reader, one, f"devices[{k}]", known, {hub.id for hub, _ in hubs})
        for k, one in _each(reader, given, "devices", MOST_DEVICES)
    ]
    placed = [device for device in devices if device is not None]
    reader.unique([*(hub.id for hub, _ in hubs), *(device.id for device in placed)], "devices")
    reader.unique([device.gang for device in placed if device.gang], "devices")
    _check_dimmers(reader, placed)
    neighbours = [
        reader.whole(one, f"neighbours[{k}]", FIRST_WIFI, LAST_WIFI)
        for k, one in _each(reader, given, "neighbours", 200)
    ]
    if reader.errors:
        raise InputErrors(reader.errors)
    return House(
        lat_deg=lat,
        lon_deg=lon,
        rooms=tuple(rooms),
        apart=tuple(apart),
        hubs=tuple(hub for hub, _ in hubs),
        access_points=tuple(points),
        neighbours=tuple(neighbours),
        devices=tuple(placed),
        left_over={hub.id: left for hub, left in hubs},
    )


def _each(reader: Reader, given: dict[str, Any], key: str, most: int) -> list[tuple[int, Any]]:
    return list(enumerate(reader.entries(given.get(key, []), key, most)))


def _degrees(reader: Reader, given: dict[str, Any], key: str, most: float) -> float | None:
    return None if given.get(key) is None else reader.number(given[key], key, -most, most, unit="°")


def _room(reader: Reader, data: Any, path: str) -> Room:
    given = reader.keys(data, path, {"id", "name", "floor"})
    floor = given.get("floor")
    return Room(
        id=reader.text(given.get("id"), f"{path}.id"),
        name=reader.text(given.get("name"), f"{path}.name"),
        floor=None if floor is None else reader.whole(floor, f"{path}.floor", -10, 100),
    )


def _apart(reader: Reader, data: Any, path: str, rooms: set[str]) -> Apart:
    given = reader.keys(data, path, {"a", "b", "d_m", "walls", "floors"})
    ends = [_in_room(reader, given.get(key), f"{path}.{key}", rooms) for key in ("a", "b")]
    if ends[0] and ends[0] == ends[1]:
        reader.wrong("link_to_itself", path, key=ends[0])
    return Apart(a=ends[0], b=ends[1], path=read_path(reader, given, path))


def _in_room(reader: Reader, data: Any, path: str, rooms: set[str]) -> str:
    name = reader.text(data, path)
    if name and name not in rooms:
        reader.wrong("unknown_room", path, key=name)
    return name


def _hub(reader: Reader, data: Any, path: str, rooms: set[str]) -> tuple[HubPlace, tuple[str, ...]]:
    given = reader.keys(
        data,
        path,
        {"id", "name", "room", "bands", "takes", "has", "window_s", "listed", "needs_internet", "left_over"},
    )
    takes, has = _counts(reader, given, path)
    bands = reader.entries(given.get("bands", []), f"{path}.bands", len(Band))
    if not bands:
        reader.wrong("no_band", f"{path}.bands")
    listed = given.get("listed")
    left = reader.entries(given.get("left_over", []), f"{path}.left_over", 50)
    hub = HubPlace(
        id=reader.text(given.get("id"), f"{path}.id"),
        name=reader.text(given.get("name"), f"{path}.name"),
        room=_in_room(reader, given.get("room"), f"{path}.room", rooms),
        bands=frozenset(reader.word(one, f"{path}.bands[{k}]", Band) for k, one in enumerate(bands)),
        takes=takes,
        has=has,
        window_s=reader.number(
            given.get("window_s"), f"{path}.window_s", SHORTEST_WINDOW_S, LONGEST_WINDOW_S, unit="s"
        ),
        listed=None
        if listed is None
        else frozenset(
            _card(reader, one, f"{path}.listed[{k}]")
            for k, one in enumerate(reader.entries(listed, f"{path}.listed", 60))
        ),
        needs_internet=reader.flag(given.get("needs_internet", False), f"{path}.needs_internet"),
    )
    return hub, tuple(reader.text(one, f"{path}.left_over[{k}]") for k, one in enumerate(left))


def _card(reader: Reader, data: Any, path: str) -> str:
    if data not in cards():
        reader.wrong("unknown_kind", path, value=str(data)[:40], known=", ".join(cards()))
        return ""
    return str(data)


def _point(reader: Reader, data: Any, path: str, rooms: set[str]) -> AccessPoint:
    given = reader.keys(data, path, {"id", "name", "room", "channel", "takes", "has"})
    takes, has = _counts(reader, given, path)
    return AccessPoint(
        id=reader.text(given.get("id"), f"{path}.id"),
        name=reader.text(given.get("name"), f"{path}.name"),
        room=_in_room(reader, given.get("room"), f"{path}.room", rooms),
        channel=reader.whole(given.get("channel"), f"{path}.channel", FIRST_WIFI, LAST_WIFI),
        takes=takes,
        has=has,
    )


def _counts(reader: Reader, given: dict[str, Any], path: str) -> list[int | None]:
    """How many something takes, and has; None where nobody knows."""
    return [
        None if given.get(key) is None else reader.whole(given[key], f"{path}.{key}", 0, MOST_AT_HUB)
        for key in ("takes", "has")
    ]


def _device(reader: Reader, data: Any, path: str, rooms: set[str], hubs: set[str]) -> Placed | None:
    given = reader.keys(
        data,
        path,
        {
            *("id", "name", "room", "card", "hub", "gang", "dimmer", "metal_box", "metal_plate"),
            *("behind_switch", "keeps", "window_s", "join_s"),
        },
    )
    card = _of_leaflet(reader, given, path, cards().get(_card(reader, given.get("card"), f"{path}.card")))
    hub = reader.text(given.get("hub"), f"{path}.hub")
    if hub and hub not in hubs:
        reader.wrong("unknown_hub", f"{path}.hub", key=hub)
    metal = [
        None if given.get(key) is None else reader.flag(given[key], f"{path}.{key}")
        for key in ("metal_box", "metal_plate")
    ]
    made = Placed(
        id=reader.text(given.get("id"), f"{path}.id"),
        name=reader.text(given.get("name"), f"{path}.name"),
        room=_in_room(reader, given.get("room"), f"{path}.room", rooms),
        card=card or next(iter(cards().values())),
        hub=hub,
        gang=reader.text(given["gang"], f"{path}.gang") if given.get("gang") else "",
        dimmer=reader.text(given["dimmer"], f"{path}.dimmer") if given.get("dimmer") else "",
        metal_box=metal[0],
        metal_plate=metal[1],
        behind_switch=reader.flag(given.get("behind_switch", False), f"{path}.behind_switch"),
        keeps=reader.word(given.get("keeps", "nowhere"), f"{path}.keeps", Keeps),
    )
    return None if card is None else made


def _of_leaflet(reader: Reader, given: dict[str, Any], path: str, card: Card | None) -> Card | None:
    """The card with what the leaflet of this device says instead."""
    window_s, join_s = (
        None if given.get(key) is None else reader.number(given[key], f"{path}.{key}", low, LONGEST_WINDOW_S, unit="s")
        for key, low in (("window_s", SHORTEST_WINDOW_S), ("join_s", 0.0))
    )
    if card is None:
        return None
    return replace(
        card,
        window_s=card.window_s if window_s is None else window_s,
        join_s=card.join_s if join_s is None else join_s,
    )


def _check_dimmers(reader: Reader, devices: list[Placed]) -> None:
    by_id = {device.id: device for device in devices}
    for k, device in enumerate(devices):
        if device.dimmer and device.dimmer not in by_id:
            reader.wrong("unknown_device", f"devices[{k}].dimmer", key=device.dimmer)
        elif device.dimmer and by_id[device.dimmer].card.companion is not Companion.NONE:
            reader.wrong("no_dimmer", f"devices[{k}].dimmer", key=device.dimmer)
