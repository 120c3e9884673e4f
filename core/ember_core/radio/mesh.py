"""Who is reached over whom: hops from the hub, routers whose loss cuts others off, and what hangs on each router."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

import networkx as nx

from ember_core.radio.budget import Band, Path, Spread, Station, Verdict, margin_db, verdict

# Fewer than this a usual router carries surely [1].
MOST_CHILDREN = 20
USABLE = (Verdict.SURE, Verdict.LIKELY, Verdict.POOR)
TRUSTED = (Verdict.SURE, Verdict.LIKELY)


class Kind(StrEnum):
    """What a device does for others: only hubs and routers pass on what is not for them."""

    HUB = "hub"
    ROUTER = "router"
    END = "end"


@dataclass(frozen=True, slots=True, kw_only=True)
class Node:
    """A device at its place."""

    id: str
    kind: Kind
    station: Station


@dataclass(frozen=True, slots=True, kw_only=True)
class Between:
    """What lies between two devices."""

    a: str
    b: str
    path: Path


@dataclass(frozen=True, slots=True, kw_only=True)
class Link:
    """A link with its margin [dB] and what that is worth."""

    a: str
    b: str
    margin_db: Spread
    verdict: Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class Mesh:
    """What the radio of a site does.

    Parameters
    ----------
    reached : hops from the hub over links that work at all, None where there is no way. trusted : the same over links
        that keep what fading takes. cut_points : routers whose loss cuts others off.
    children : devices that hang on each router or hub, each on the one that it hears best.
    """

    links: tuple[Link, ...]
    reached: Mapping[str, int | None]
    trusted: Mapping[str, int | None]
    cut_points: tuple[str, ...]
    children: Mapping[str, int]


def mesh(band: Band, nodes: Iterable[Node], betweens: Iterable[Between]) -> Mesh:
    """Links, reach and weak points.

    Parameters
    ----------
    nodes : one of them the hub. betweens : each pair once; pairs that are not named do not hear each other.
    """
    by_id = {node.id: node for node in nodes}
    return mesh_of(by_id.values(), [_link(band, by_id, between) for between in betweens])


def mesh_of(nodes: Iterable[Node], links: Iterable[Link]) -> Mesh:
    """The same, of links that are known."""
    by_id = {node.id: node for node in nodes}
    links = tuple(links)
    usable = graph_of(by_id.values(), [link for link in links if link.verdict in USABLE])
    hub = next(node.id for node in by_id.values() if node.kind is Kind.HUB)
    return Mesh(
        links=links,
        reached=_all(usable, hub, by_id),
        trusted=trusted_of(by_id.values(), links),
        cut_points=cut_points(usable, hub),
        children=_children(usable, hops_from(usable, hub)),
    )


def trusted_of(nodes: Iterable[Node], links: Iterable[Link]) -> dict[str, int | None]:
    """Hops over links that keep what fading takes; None where there is no such way."""
    by_id = {node.id: node for node in nodes}
    hub = next(node.id for node in by_id.values() if node.kind is Kind.HUB)
    return _all(graph_of(by_id.values(), [link for link in links if link.verdict in TRUSTED]), hub, by_id)


def _all(graph: nx.Graph[str], hub: str, names: Iterable[str]) -> dict[str, int | None]:
    hops = hops_from(graph, hub)
    return {name: hops.get(name) for name in names}


def _link(band: Band, nodes: Mapping[str, Node], between: Between) -> Link:
    margin = margin_db(band, nodes[between.a].station, nodes[between.b].station, between.path)
    return Link(a=between.a, b=between.b, margin_db=margin, verdict=verdict(margin))


def graph_of(nodes: Iterable[Node], links: Iterable[Link]) -> nx.Graph[str]:
    """Devices with `relays`, and their links with the margin [dB]; end devices do not hear each other."""
    graph: nx.Graph[str] = nx.Graph()
    for node in nodes:
        graph.add_node(node.id, relays=node.kind is not Kind.END)
    for link in links:
        if graph.nodes[link.a]["relays"] or graph.nodes[link.b]["relays"]:
            graph.add_edge(link.a, link.b, margin_db=link.margin_db.typical)
    return graph


def hops_from(graph: nx.Graph[str], hub: str, without: str | None = None) -> dict[str, int]:
    """Links from the hub to each device that is reached, over routers only."""

    def passes(a: str, b: str) -> bool:
        return b != without and bool(graph.nodes[a]["relays"])

    # One way from each device that passes on: an end device is a place where a way ends.
    ways: nx.DiGraph[str] = nx.DiGraph()
    ways.add_node(hub)
    ways.add_edges_from((a, b) for one, other in graph.edges for a, b in ((one, other), (other, one)) if passes(a, b))
    return dict(nx.single_source_shortest_path_length(ways, hub)) if hub != without else {}


def cut_points(graph: nx.Graph[str], hub: str) -> tuple[str, ...]:
    """Routers without which some other device that is reached would be reached no more."""
    reached = set(hops_from(graph, hub))
    routers = [name for name in sorted(reached) if name != hub and graph.nodes[name]["relays"]]
    return tuple(name for name in routers if set(hops_from(graph, hub, without=name)) != reached - {name})


def _children(graph: nx.Graph[str], hops: Mapping[str, int]) -> dict[str, int]:
    found = {name: 0 for name in hops if graph.nodes[name]["relays"]}
    for name in hops:
        if graph.nodes[name]["relays"]:
            continue
        parents = [other for other in graph[name] if other in found]
        found[max(parents, key=lambda other: (graph.edges[name, other]["margin_db"], other))] += 1
    return found
