"""A site's radio read from data, and the answer to it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ember_core.errors import InputErrors
from ember_core.radio.budget import BANDS, Band, Path, Station, Wall
from ember_core.radio.channels import FIRST_WIFI, LAST_WIFI, Channels, channels
from ember_core.radio.mesh import Between, Kind, Mesh, Node, mesh
from ember_core.reading import Reader

MOST_NODES, MOST_LINKS, MOST_NETWORKS = 400, 4000, 200
LONGEST_M = 1000.0
MOST_WALLS, MOST_FLOORS = 30, 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Site:
    """Devices of one network, what lies between them, and the Wi-Fi networks about them.

    Parameters
    ----------
    takes, has : how many devices the hub can have, and has; None where nobody knows. wifi : channel of each network.
    """

    band: Band
    nodes: tuple[Node, ...]
    betweens: tuple[Between, ...]
    takes: int | None = None
    has: int | None = None
    wifi: tuple[int, ...] = ()

    @property
    def joining(self) -> int:
        """How many devices there are besides the hub."""
        return sum(node.kind is not Kind.HUB for node in self.nodes)

    @property
    def left(self) -> int | None:
        """How many the hub still takes; None where nobody knows."""
        return None if self.takes is None or self.has is None else max(0, self.takes - self.has)

    @property
    def is_full(self) -> bool | None:
        """More join than the hub still takes; None where nobody knows how many that are."""
        return None if self.left is None else self.joining > self.left


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """Reach, room at the hub and channel."""

    mesh: Mesh
    is_full: bool | None
    channels: Channels | None


def solve(site: Site) -> Answer:
    """What the radio of a site does."""
    return Answer(
        mesh=mesh(site.band, site.nodes, site.betweens),
        is_full=site.is_full,
        channels=channels(site.band, site.wifi),
    )


def read(data: Any) -> Site:
    """A site from JSON.

    Raises
    ------
    InputErrors : all that is wrong, each with its place.
    """
    reader = Reader()
    given = reader.keys(data, "", {"band", "hub", "nodes", "links", "wifi_channels", "name", "note"})
    band = reader.word(given.get("band"), "band", Band)
    takes, has = _hub(reader, given.get("hub", {}))
    nodes = [
        _node(reader, one, f"nodes[{k}]", band)
        for k, one in enumerate(reader.entries(given.get("nodes"), "nodes", MOST_NODES))
    ]
    reader.unique([node.id for node in nodes], "nodes")
    if not reader.errors and sum(node.kind is Kind.HUB for node in nodes) != 1:
        reader.wrong("not_one_hub", "nodes")
    known = {node.id for node in nodes}
    betweens = [
        _between(reader, one, f"links[{k}]", known)
        for k, one in enumerate(reader.entries(given.get("links", []), "links", MOST_LINKS))
    ]
    pairs = ["|".join(sorted((one.a, one.b))) for one in betweens]
    for k, pair in enumerate(pairs):
        if pair in pairs[:k]:
            reader.wrong("link_twice", f"links[{k}]")
    wifi = [
        reader.whole(one, f"wifi_channels[{k}]", FIRST_WIFI, LAST_WIFI)
        for k, one in enumerate(reader.entries(given.get("wifi_channels", []), "wifi_channels", MOST_NETWORKS))
    ]
    if reader.errors:
        raise InputErrors(reader.errors)
    return Site(band=band, nodes=tuple(nodes), betweens=tuple(betweens), takes=takes, has=has, wifi=tuple(wifi))


def _hub(reader: Reader, data: Any) -> tuple[int | None, int | None]:
    given = reader.keys(data, "hub", {"takes", "has"})
    found = [
        None if given.get(key) is None else reader.whole(given[key], f"hub.{key}", 0, 100_000)
        for key in ("takes", "has")
    ]
    return found[0], found[1]


def _node(reader: Reader, data: Any, path: str, band: Band) -> Node:
    given = reader.keys(data, path, {"id", "kind", "tx_dbm", "sensitivity_dbm", "loss_db", "note"})
    of = BANDS[band]
    return Node(
        id=reader.text(given.get("id"), f"{path}.id"),
        kind=reader.word(given.get("kind"), f"{path}.kind", Kind),
        station=Station(
            tx_dbm=reader.number(given.get("tx_dbm", of.tx_dbm), f"{path}.tx_dbm", -40.0, 40.0, unit="dBm"),
            sensitivity_dbm=reader.number(
                given.get("sensitivity_dbm", of.sensitivity_dbm), f"{path}.sensitivity_dbm", -140.0, -20.0, unit="dBm"
            ),
            loss_db=reader.number(given.get("loss_db", 0.0), f"{path}.loss_db", 0.0, 100.0, unit="dB"),
        ),
    )


def _between(reader: Reader, data: Any, path: str, known: set[str]) -> Between:
    given = reader.keys(data, path, {"a", "b", "d_m", "walls", "floors", "note"})
    ends = [reader.text(given.get(key), f"{path}.{key}") for key in ("a", "b")]
    for key, end in zip(("a", "b"), ends, strict=True):
        if end and end not in known:
            reader.wrong("unknown_device", f"{path}.{key}", key=end)
    if ends[0] and ends[0] == ends[1]:
        reader.wrong("link_to_itself", path, key=ends[0])
    return Between(a=ends[0], b=ends[1], path=read_path(reader, given, path))


def read_path(reader: Reader, given: dict[str, Any], path: str) -> Path:
    """What lies between two places, of an object with `d_m`, `walls` and `floors`; what is wrong is told."""
    walls = reader.keys(given.get("walls", {}), f"{path}.walls", {wall.value for wall in Wall})
    return Path(
        d_m=reader.number(given.get("d_m"), f"{path}.d_m", 0.0, LONGEST_M, unit="m"),
        walls={
            wall: reader.whole(walls[wall.value], f"{path}.walls.{wall.value}", 0, MOST_WALLS)
            for wall in Wall
            if wall.value in walls
        },
        floors=reader.whole(given.get("floors", 0), f"{path}.floors", 0, MOST_FLOORS),
    )
