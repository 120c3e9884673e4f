"""Does it fit the site: what each device hears, over what, and what would help where that is not enough."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import combinations

from ember_core.house.document import House, HubPlace, Placed
from ember_core.pairing.cards import Companion, cards
from ember_core.pairing.job import Device, Hub, Job
from ember_core.radio.budget import (
    METAL_BOX,
    METAL_PLATE,
    Band,
    Path,
    Spread,
    Station,
    Verdict,
    margin_db,
    station,
    verdict,
)
from ember_core.radio.channels import Channels, channels
from ember_core.radio.mesh import MOST_CHILDREN, TRUSTED, Between, Kind, Link, Mesh, Node, mesh

# Two places in one room are about so far apart, and nothing is between them [m].
SAME_ROOM = Path(d_m=4.0, walls={})


class Help(StrEnum):
    """What would bring a device into range."""

    ROUTER = "router_between"
    MOVE_HUB = "move_hub"
    PLATE = "plate_not_metal"
    OTHER_BAND = "other_band"
    NOTE_WALLS = "note_what_is_between"


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """One device: its way to the hub.

    Parameters
    ----------
    hops, trusted_hops : None where there is no way, or where nobody noted what lies between.
    weakest : of the links on its best way the one with the least margin. verdict : of that link; None where unknown.
    known : somebody noted what is between its room and any other with a radio.
    """

    device: Placed
    hops: int | None
    trusted_hops: int | None
    weakest: Link | None
    verdict: Verdict | None
    known: bool
    helps: tuple[Help, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class HubFits:
    """One hub with what hangs on it.

    Parameters
    ----------
    left : devices that it still takes; None where nobody knows. is_full : more are to join than that.
    cut_points : routers whose loss cuts others off. wrong_family, not_listed : devices that it does not take.
    crowded : routers on which more hang than one carries surely.
    """

    hub: HubPlace
    fits: tuple[Fit, ...]
    links: tuple[Link, ...]
    left: int | None
    is_full: bool | None
    channels: Channels | None
    cut_points: tuple[str, ...]
    wrong_family: tuple[str, ...]
    not_listed: tuple[str, ...]
    crowded: tuple[str, ...]


def fits(house: House) -> tuple[HubFits, ...]:
    """Every hub of a house."""
    return tuple(_hub(house, hub) for hub in house.hubs)


def of_hub(house: House, hub: HubPlace) -> list[Placed]:
    """The devices that are meant for a hub."""
    return [device for device in house.devices if device.hub == hub.id]


def band_of(hub: HubPlace) -> Band:
    """The family that a hub's own devices mostly speak: a mesh before Wi-Fi."""
    return next(band for band in Band if band in hub.bands)


def _hub(house: House, hub: HubPlace) -> HubFits:
    devices = of_hub(house, hub)
    speaking = [device for device in devices if device.card.band in hub.bands]
    by_band: dict[Band, Mesh] = {
        band: _mesh(house, hub, band, [device for device in speaking if device.card.band is band])
        for band in Band
        if band in hub.bands
    }
    left = None if hub.takes is None or hub.has is None else max(0, hub.takes - hub.has)
    wifi = [*(point.channel for point in house.access_points), *house.neighbours]
    return HubFits(
        hub=hub,
        fits=tuple(_fit(house, hub, device, by_band[device.card.band]) for device in speaking),
        links=tuple(link for one in by_band.values() for link in one.links),
        left=left,
        is_full=None if left is None else len(devices) > left,
        channels=channels(Band.MESH, wifi) if Band.MESH in hub.bands else None,
        cut_points=tuple(name for one in by_band.values() for name in one.cut_points),
        wrong_family=tuple(device.id for device in devices if device.card.band not in hub.bands),
        not_listed=tuple(
            device.id for device in speaking if hub.listed is not None and device.card.code not in hub.listed
        ),
        crowded=tuple(
            name for one in by_band.values() for name, count in one.children.items() if count > MOST_CHILDREN
        ),
    )


def _mesh(house: House, hub: HubPlace, band: Band, devices: list[Placed]) -> Mesh:
    nodes = [Node(id=hub.id, kind=Kind.HUB, station=station(band))]
    nodes += [Node(id=device.id, kind=device.card.kind, station=_station(device)) for device in devices]
    rooms = {hub.id: hub.room, **{device.id: device.room for device in devices}}
    # A Wi-Fi device speaks to the access point that it hears best: that one stands for the hub.
    betweens = []
    for a, b in combinations(rooms, 2):
        path = between(house, rooms[a], rooms[b])
        if path is not None:
            betweens.append(Between(a=a, b=b, path=path))
    if band is Band.WIFI:
        return _wifi(house, hub, nodes, rooms)
    return mesh(band, nodes, betweens)


def _wifi(house: House, hub: HubPlace, nodes: list[Node], rooms: Mapping[str, str]) -> Mesh:
    """Each device to the access point that it hears best; without one noted, nothing is known."""
    betweens = []
    for node in nodes[1:]:
        paths = [between(house, rooms[node.id], point.room) for point in house.access_points]
        known = [path for path in paths if path is not None]
        if known:
            trials = [mesh(Band.WIFI, [nodes[0], node], [Between(a=hub.id, b=node.id, path=path)]) for path in known]
            best = max(range(len(known)), key=lambda k: trials[k].links[0].margin_db.typical)
            betweens.append(Between(a=hub.id, b=node.id, path=known[best]))
    return mesh(Band.WIFI, nodes, betweens)


def between(house: House, a: str, b: str) -> Path | None:
    """What lies between two rooms; None where nobody noted it."""
    if a == b:
        return SAME_ROOM
    return next((one.path for one in house.apart if {one.a, one.b} == {a, b}), None)


def _station(device: Placed) -> Station:
    return station(device.card.band, metal_box=device.metal_box is True, metal_plate=device.metal_plate is True)


def _fit(house: House, hub: HubPlace, device: Placed, found: Mesh) -> Fit:
    way = _way(found, hub.id, device.id)
    weakest = min(way, key=lambda link: link.margin_db.typical) if way else None
    known = any(device.id in (link.a, link.b) for link in found.links)
    said = None if not known else weakest.verdict if weakest is not None else Verdict.NO
    return Fit(
        device=device,
        hops=found.reached.get(device.id),
        trusted_hops=found.trusted.get(device.id),
        weakest=weakest,
        verdict=_unsure(said, weakest, device),
        known=known,
        helps=_helps(house, hub, device, said, found),
    )


def _unsure(said: Verdict | None, weakest: Link | None, device: Placed) -> Verdict | None:
    """Where nobody looked whether box or plate are metal, sure is only what would stand that too."""
    if said is not Verdict.SURE or weakest is None or device.id not in (weakest.a, weakest.b):
        return said
    lost = METAL_BOX.high * (device.metal_box is None) + METAL_PLATE.high * (device.metal_plate is None)
    margin = weakest.margin_db
    less = Spread(low=margin.low - lost, typical=margin.typical, high=margin.high)
    return verdict(less)


def _way(found: Mesh, hub: str, name: str) -> list[Link]:
    """The links of the best way, from the device to the hub: fewest hops, then the most margin."""
    way: list[Link] = []
    hops = found.reached
    at = name
    while at != hub:
        here = hops.get(at)
        steps = [
            (link, link.b if link.a == at else link.a)
            for link in found.links
            if at in (link.a, link.b) and link.verdict is not Verdict.NO
        ]
        nearer = [(link, to) for link, to in steps if here is not None and hops.get(to) == here - 1]
        if not nearer:
            return []
        link, at = max(nearer, key=lambda step: step[0].margin_db.typical)
        way.append(link)
    return way


def _helps(house: House, hub: HubPlace, device: Placed, said: Verdict | None, found: Mesh) -> tuple[Help, ...]:
    """What would help, by trying it: a plate, another room for the hub, a router, the other band."""
    if said is None:
        return (Help.NOTE_WALLS,)
    if said in (Verdict.SURE, Verdict.LIKELY):
        return ()
    helps: list[Help] = []
    if device.metal_plate is True:
        other = replace(device, metal_plate=False)
        made = _mesh(
            house, hub, device.card.band, [other if one.id == device.id else one for one in _same(house, hub, device)]
        )
        if made.trusted.get(device.id) is not None:
            helps.append(Help.PLATE)
    if device.card.band is Band.MESH and any(_with_router(house, hub, device, room.id) for room in house.rooms):
        helps.append(Help.ROUTER)
    for room in house.rooms:
        if room.id == hub.room:
            continue
        made = _mesh(house, replace(hub, room=room.id), device.card.band, _same(house, hub, device))
        kept = [name for name, hops in found.trusted.items() if hops is not None]
        if made.trusted.get(device.id) is not None and all(made.trusted.get(name) is not None for name in kept):
            helps.append(Help.MOVE_HUB)
            break
    path = between(house, hub.room, device.room)
    if device.card.band is not Band.SUB_GHZ and path is not None:
        lost = _station(device).loss_db
        here = replace(station(Band.SUB_GHZ), loss_db=lost)
        if verdict(margin_db(Band.SUB_GHZ, station(Band.SUB_GHZ), here, path)) in TRUSTED:
            helps.append(Help.OTHER_BAND)
    return tuple(helps)


def _with_router(house: House, hub: HubPlace, device: Placed, room: str) -> bool:
    """A router in a room would carry it over links that keep what fading takes."""
    router = Placed(id="~router", name="", room=room, card=cards()["plug_router"], hub=hub.id)
    made = _mesh(house, hub, Band.MESH, [*_same(house, hub, device), router])
    return made.trusted.get(device.id) is not None


def _same(house: House, hub: HubPlace, device: Placed) -> list[Placed]:
    return [one for one in of_hub(house, hub) if one.card.band is device.card.band]


def job_of(house: House, hub: HubPlace, breakers: Mapping[str, str], joined: frozenset[str] = frozenset()) -> Job:
    """What is to be joined at a hub, for the plan.

    Parameters
    ----------
    breakers : by gang, what feeds its control. joined : devices that are in already: they carry others, and take no
        time any more; they count among what the hub has.
    """
    found = _hub(house, hub)
    ends: dict[str, set[str]] = {}
    for link in found.links:
        if link.verdict is not Verdict.NO:
            ends.setdefault(link.a, set()).add(link.b)
            ends.setdefault(link.b, set()).add(link.a)
    devices = of_hub(house, hub)
    # What has joined and carries others stands for the hub.
    carriers = {device.id for device in devices if device.id in joined and device.card.kind is Kind.ROUTER}
    hears = {
        name: frozenset({hub.id if other in carriers else other for other in others}) for name, others in ends.items()
    }
    return Job(
        hub=Hub(
            id=hub.id,
            bands=hub.bands,
            left=MOST_UNKNOWN if found.left is None else max(0, found.left - len(joined)),
            window_s=hub.window_s,
            listed=hub.listed,
        ),
        devices=tuple(
            Device(
                id=device.id,
                card=device.card,
                breaker=""
                if device.card.companion is not Companion.NONE
                else breakers.get(device.gang, f"~{device.id}"),
                dimmer=device.dimmer,
                d_m=_distance(house, hub, device),
            )
            for device in devices
            if device.id not in joined
        ),
        hears=hears,
        left_over=house.left_over.get(hub.id, ()),
    )


# Of a hub of which nobody knows what it takes nothing is said.
MOST_UNKNOWN = 1_000_000
FAR_M = 1_000.0


def _distance(house: House, hub: HubPlace, device: Placed) -> float:
    path = between(house, hub.room, device.room)
    return FAR_M if path is None else path.d_m
