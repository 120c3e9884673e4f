"""Ways from a hand, a clock or a rule to a lamp, each a path through parts; and what is left of them after a failure.

A way works while every part that it goes through works, and while the network still carries its radio legs. Nothing is
told here of how well it works: a mesh that has lost a router may be slow.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import networkx as nx

from ember_core.errors import InputError

MOST_WAYS = 40


class Part(StrEnum):
    """Kinds of parts on a way."""

    HAND = "hand"
    CONTROL = "control"
    SWITCH = "switch"
    REMOTE = "remote"
    SENSOR = "sensor"
    PHONE = "phone"
    ROUTER = "router"
    MESH_ROUTER = "mesh_router"
    HUB = "hub"
    INTERNET = "internet"
    CLOCK = "clock"
    LAMP = "lamp"


class Failure(StrEnum):
    """What may fail in a house, one at a time."""

    WALL_FLIPPED = "wall_flipped"
    HUB_DOWN = "hub_down"
    ROUTER_DOWN = "router_down"
    NO_INTERNET = "no_internet"
    BATTERY_FLAT = "battery_flat"
    MESH_ROUTER_OUT = "mesh_router_out"
    PHONE_AWAY = "phone_away"


class Works(StrEnum):
    """What is left of the ways to a lamp."""

    ALL = "all"
    SOME = "some"
    NONE = "none"


# Which kind of part each failure takes away.
TAKES: Mapping[Failure, Part] = {
    Failure.WALL_FLIPPED: Part.SWITCH,
    Failure.HUB_DOWN: Part.HUB,
    Failure.ROUTER_DOWN: Part.ROUTER,
    Failure.NO_INTERNET: Part.INTERNET,
    Failure.BATTERY_FLAT: Part.REMOTE,
    Failure.MESH_ROUTER_OUT: Part.MESH_ROUTER,
    Failure.PHONE_AWAY: Part.PHONE,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class House:
    """Parts by name, and which two of them are joined: by wire, by radio, by a network.

    Parameters
    ----------
    links : pairs of names, either way round.
    """

    parts: Mapping[str, Part]
    links: frozenset[tuple[str, str]]

    def graph(self, without: Iterable[str] = ()) -> nx.Graph[str]:
        """What is joined to what, without some parts."""
        gone = set(without)
        made: nx.Graph[str] = nx.Graph()
        made.add_nodes_from(name for name in self.parts if name not in gone)
        made.add_edges_from((a, b) for a, b in self.links if a not in gone and b not in gone)
        return made


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """One way to act on a lamp.

    Parameters
    ----------
    through : names of the parts in their order, the lamp last. Two that follow each other need not be joined: mesh
        routers between them are found. feeds : a switch that must stand on, as a lamp that is always fed needs it.
    """

    id: str
    lamp: str
    through: tuple[str, ...]
    feeds: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """What is left for one lamp after one failure.

    Parameters
    ----------
    left, lost : ways that still work, and those that do not. by : the part whose loss is the worst of its kind.
    """

    lamp: str
    failure: Failure
    works: Works
    left: tuple[str, ...]
    lost: tuple[str, ...]
    by: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Table:
    """Lamp × failure; a failure that nothing in the house can have is left out.

    Parameters
    ----------
    never : of each lamp the ways that do not work though nothing has failed; its cells tell of the others only.
    """

    cells: tuple[Cell, ...]
    never: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    def cell(self, lamp: str, failure: Failure) -> Cell | None:
        """One of its cells."""
        return next((one for one in self.cells if one.lamp == lamp and one.failure is failure), None)


def table(house: House, ways: Sequence[Way]) -> Table:
    """What still works of each lamp.

    Raises
    ------
    InputError : `unknown_part`, `too_many`.
    """
    if len(ways) > MOST_WAYS * max(1, len({way.lamp for way in ways})):
        raise InputError("too_many", path="ways", most=MOST_WAYS)
    for k, way in enumerate(ways):
        for name in (*way.through, *way.feeds):
            if name not in house.parts:
                raise InputError("unknown_part", path=f"ways[{k}]", key=name)
    whole = house.graph()
    lamps = sorted({way.lamp for way in ways})
    cells: list[Cell] = []
    never: dict[str, tuple[str, ...]] = {}
    for lamp in lamps:
        own = [way for way in ways if way.lamp == lamp and works(house, whole, way)]
        never[lamp] = tuple(way.id for way in ways if way.lamp == lamp and way not in own)
        for failure, kind in TAKES.items():
            suspects = [name for name, part in house.parts.items() if part is kind]
            if suspects:
                cells.append(_worst(house, lamp, own, failure, suspects))
    return Table(cells=tuple(cells), never=never)


def works(house: House, graph: nx.Graph[str], way: Way) -> bool:
    """Whether a way works on what is left of a house."""
    if any(name not in graph for name in (*way.through, *way.feeds)):
        return False
    return all(_is_carried(house, graph, a, b) for a, b in zip(way.through, way.through[1:], strict=False))


def _is_carried(house: House, graph: nx.Graph[str], a: str, b: str) -> bool:
    """Two parts are joined, or there are mesh routers all the way between them."""
    if graph.has_edge(a, b):
        return True
    between = [name for name in graph if house.parts[name] is Part.MESH_ROUTER or name in (a, b)]
    part = graph.subgraph(between)
    return bool(nx.has_path(part, a, b))


def _worst(house: House, lamp: str, ways: list[Way], failure: Failure, suspects: list[str]) -> Cell:
    """Of several parts of one kind the loss of the one that takes most."""
    cells = []
    for name in suspects:
        graph = house.graph(without=(name,))
        left = tuple(way.id for way in ways if works(house, graph, way))
        lost = tuple(way.id for way in ways if way.id not in left)
        how = Works.NONE if not left else Works.SOME if lost else Works.ALL
        cells.append(Cell(lamp=lamp, failure=failure, works=how, left=left, lost=lost, by=name if lost else ""))
    return min(cells, key=lambda cell: len(cell.left))
