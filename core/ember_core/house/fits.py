"""Does it fit the site: what each device hears, over what, and what would help where that is not enough."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import combinations

from ember_core.house.document import AccessPoint, House, HubPlace, Placed
from ember_core.pairing.cards import cards
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
from ember_core.radio.mesh import MOST_CHILDREN, TRUSTED, Kind, Link, Mesh, Node, mesh_of, trusted_of

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
    unseen_db : what box and plate take at most of the weakest link where nobody looked whether they are metal [dB];
        0 of what sits in no box.
    """

    device: Placed
    hops: int | None
    trusted_hops: int | None
    weakest: Link | None
    verdict: Verdict | None
    known: bool
    helps: tuple[Help, ...]
    unseen_db: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HubFits:
    """One hub with what hangs on it.

    Parameters
    ----------
    left : devices that it still takes; None where nobody knows. is_full : more are to join than that.
    cut_points : routers whose loss cuts others off. wrong_family, not_listed : devices that it does not take.
    crowded : routers on which more hang than one carries surely. full_points : access points on which more are to
        hang than they still carry, with how many and how many they carry.
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
    full_points: tuple[tuple[AccessPoint, int, int], ...]


def fits(house: House) -> tuple[HubFits, ...]:
    """Every hub of a house."""
    return tuple(_hub(house, hub) for hub in house.hubs)


def of_hub(house: House, hub: HubPlace) -> list[Placed]:
    """The devices that are meant for a hub."""
    return [device for device in house.devices if device.hub == hub.id]


def band_of(hub: HubPlace) -> Band:
    """The family that a hub's own devices mostly speak: a mesh before Wi-Fi."""
    return next(band for band in Band if band in hub.bands)


# Hops to each device over links that keep what fading takes.
Trusted = Mapping[str, int | None]


class _Net:
    """One family of a hub: its devices, what each hears, and what they would hear if something were otherwise."""

    def __init__(self, house: House, hub: HubPlace, band: Band) -> None:
        self._house, self._hub, self._band = house, hub, band
        self._paths = {frozenset((one.a, one.b)): one.path for one in house.apart}
        self.devices = [device for device in of_hub(house, hub) if device.card.band is band]
        self._nodes = [Node(id=hub.id, kind=Kind.HUB, station=station(band))]
        self._nodes += [Node(id=one.id, kind=one.card.kind, station=_station(one)) for one in self.devices]
        self._among = [] if band is Band.WIFI else self._links(combinations(self.devices, 2))
        self.mesh = mesh_of(self._nodes, self._with_hub(hub.room))
        self._moved: list[Trusted] | None = None

    def path(self, a: str, b: str) -> Path | None:
        """What lies between two rooms; None where nobody noted it."""
        return SAME_ROOM if a == b else self._paths.get(frozenset((a, b)))

    def moved(self) -> list[Trusted]:
        """Who is reached with the hub in each of the other rooms."""
        if self._moved is None:
            rooms = [] if self._band is Band.WIFI else [room.id for room in self._house.rooms]
            self._moved = [trusted_of(self._nodes, self._with_hub(room)) for room in rooms if room != self._hub.room]
        return self._moved

    def instead(self, device: Placed) -> Trusted:
        """Who is reached with a device in place of the one of the same name."""
        others = [other for other in self.devices if other.id != device.id]
        among = [link for link in self._among if device.id not in (link.a, link.b)]
        if self._band is not Band.WIFI:
            among += self._links((device, other) for other in others)
        return trusted_of(self._nodes, self._with_hub(self._hub.room, among, [*others, device]))

    def reaches(self, device: Placed, by: Placed) -> bool:
        """A router in between would carry a device over links that keep what fading takes."""
        if self._trusted(by, device) is False:
            return False
        relays = [
            one for one in self.devices if one.card.kind is Kind.ROUTER and self.mesh.trusted.get(one.id) is not None
        ]
        path = self.path(by.room, self._hub.room)
        hub = self._link(by.id, self._hub.id, _station(by), station(self._band), path)
        return (hub is not None and hub.verdict in TRUSTED) or any(self._trusted(by, one) for one in relays)

    def _trusted(self, one: Placed, other: Placed) -> bool:
        path = self.path(one.room, other.room)
        link = self._link(one.id, other.id, _station(one), _station(other), path)
        return link is not None and link.verdict in TRUSTED

    def _links(self, pairs: Iterable[tuple[Placed, Placed]]) -> list[Link]:
        found = (
            self._link(a.id, b.id, _station(a), _station(b), self.path(a.room, b.room))
            for a, b in pairs
            if Kind.ROUTER in (a.card.kind, b.card.kind)
        )
        return [link for link in found if link is not None]

    def _link(self, a: str, b: str, one: Station, other: Station, path: Path | None) -> Link | None:
        if path is None:
            return None
        margin = margin_db(self._band, one, other, path)
        return Link(a=a, b=b, margin_db=margin, verdict=verdict(margin))

    def _with_hub(self, room: str, among: list[Link] | None = None, devices: list[Placed] | None = None) -> list[Link]:
        here = self.devices if devices is None else devices
        links = list(self._among if among is None else among)
        for device in here:
            links += self._to_hub(device, room)
        return links

    def _to_hub(self, device: Placed, room: str) -> list[Link]:
        """To the hub itself; a Wi-Fi device to the access point that it hears best, which stands for the hub."""
        if self._band is Band.WIFI:
            best = self._best_point(device)
            return [] if best is None else [best[1]]
        link = self._to(device, room)
        return [] if link is None else [link]

    def _to(self, device: Placed, room: str) -> Link | None:
        return self._link(self._hub.id, device.id, station(self._band), _station(device), self.path(device.room, room))

    def _best_point(self, device: Placed) -> tuple[AccessPoint, Link] | None:
        """The access point that a device hears best, where it hears any."""
        tried = [(point, self._to(device, point.room)) for point in self._house.access_points]
        heard = [(point, link) for point, link in tried if link is not None]
        return max(heard, key=lambda found: found[1].margin_db.typical) if heard else None

    def by_point(self) -> list[tuple[AccessPoint, int]]:
        """How many Wi-Fi devices would hang on each access point; only on those that carry what they hear."""
        if self._band is not Band.WIFI:
            return []
        best = [self._best_point(device) for device in self.devices]
        hangs = Counter(found[0].id for found in best if found is not None and found[1].verdict is not Verdict.NO)
        return [(point, hangs[point.id]) for point in self._house.access_points]


def _hub(house: House, hub: HubPlace) -> HubFits:
    devices = of_hub(house, hub)
    nets = {band: _Net(house, hub, band) for band in Band if band in hub.bands}
    speaking = [device for device in devices if device.card.band in nets]
    left = None if hub.takes is None or hub.has is None else max(0, hub.takes - hub.has)
    wifi = [*(point.channel for point in house.access_points), *house.neighbours]
    meshes = [net.mesh for net in nets.values()]
    return HubFits(
        hub=hub,
        fits=tuple(_fit(house, hub, device, nets[device.card.band]) for device in speaking),
        links=tuple(link for one in meshes for link in one.links),
        left=left,
        is_full=None if left is None else len(devices) > left,
        channels=channels(Band.MESH, wifi) if Band.MESH in hub.bands else None,
        cut_points=tuple(name for one in meshes for name in one.cut_points),
        wrong_family=tuple(device.id for device in devices if device.card.band not in hub.bands),
        not_listed=tuple(
            device.id for device in speaking if hub.listed is not None and device.card.code not in hub.listed
        ),
        crowded=tuple(name for one in meshes for name, count in one.children.items() if count > MOST_CHILDREN),
        full_points=tuple(
            (point, count, point.left)
            for net in nets.values()
            for point, count in net.by_point()
            if point.left is not None and count > point.left
        ),
    )


def _station(device: Placed) -> Station:
    return station(device.card.band, metal_box=device.metal_box is True, metal_plate=device.metal_plate is True)


def _fit(house: House, hub: HubPlace, device: Placed, net: _Net) -> Fit:
    found = net.mesh
    way = _way(found, hub.id, device.id)
    weakest = min(way, key=lambda link: link.margin_db.typical) if way else None
    known = any(device.id in (link.a, link.b) for link in found.links)
    said = None if not known else weakest.verdict if weakest is not None else Verdict.NO
    unseen_db = _unseen_db(weakest, device)
    return Fit(
        device=device,
        hops=found.reached.get(device.id),
        trusted_hops=found.trusted.get(device.id),
        weakest=weakest,
        verdict=_unsure(said, weakest, unseen_db),
        known=known,
        helps=_helps(house, hub, device, said, net),
        unseen_db=unseen_db,
    )


def _unseen_db(weakest: Link | None, device: Placed) -> float:
    if weakest is None or device.id not in (weakest.a, weakest.b) or not device.card.in_box:
        return 0.0
    return METAL_BOX.high * (device.metal_box is None) + METAL_PLATE.high * (device.metal_plate is None)


def _unsure(said: Verdict | None, weakest: Link | None, unseen_db: float) -> Verdict | None:
    """Where nobody looked whether box or plate are metal, sure is only what would stand that too."""
    if said is not Verdict.SURE or weakest is None:
        return said
    margin = weakest.margin_db
    return verdict(Spread(low=margin.low - unseen_db, typical=margin.typical, high=margin.high))


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


def _helps(house: House, hub: HubPlace, device: Placed, said: Verdict | None, net: _Net) -> tuple[Help, ...]:
    """What would help, by trying it: a plate, a router, another room for the hub, the other band."""
    if said is None:
        return (Help.NOTE_WALLS,)
    if said in TRUSTED:
        return ()
    helps: list[Help] = []
    if device.metal_plate is True and net.instead(replace(device, metal_plate=False)).get(device.id) is not None:
        helps.append(Help.PLATE)
    plug = cards()["plug_router"]
    if device.card.band is Band.MESH and any(
        net.reaches(device, Placed(id="~router", name="", room=room.id, card=plug, hub=hub.id)) for room in house.rooms
    ):
        helps.append(Help.ROUTER)
    kept = [name for name, hops in net.mesh.trusted.items() if hops is not None]
    if any(all(made.get(name) is not None for name in (device.id, *kept)) for made in net.moved()):
        helps.append(Help.MOVE_HUB)
    path = net.path(hub.room, device.room)
    if device.card.band is not Band.SUB_GHZ and path is not None:
        here = replace(station(Band.SUB_GHZ), loss_db=_station(device).loss_db)
        if verdict(margin_db(Band.SUB_GHZ, station(Band.SUB_GHZ), here, path)) in TRUSTED:
            helps.append(Help.OTHER_BAND)
    return tuple(helps)


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
                breaker="" if device.card.battery else breakers.get(device.gang, f"~{device.id}"),
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
    if device.room == hub.room:
        return SAME_ROOM.d_m
    ends = {hub.room, device.room}
    return next((one.path.d_m for one in house.apart if {one.a, one.b} == ends), FAR_M)
