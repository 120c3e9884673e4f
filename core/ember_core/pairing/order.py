"""In which order devices join: whoever can join now, routers first, nearest first; and who never can.

A device that has joined keeps nobody else from joining, so taking any that can is never wrong: where this comes to an
end with some left over, no other order would have helped them.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import networkx as nx

from ember_core.pairing.cards import Companion
from ember_core.pairing.job import Device, Hindrance, Job, Why, fits_link, fits_window
from ember_core.radio.mesh import Kind


def order_of(job: Job) -> tuple[tuple[Device, ...], tuple[Hindrance, ...]]:
    """Devices in their order, and what keeps the others, or the whole, from joining."""
    against = list(_by_themselves(job))
    stopped = {one.device for one in against}
    order: list[Device] = []
    left = [device for device in job.devices if device.id not in stopped]
    while left:
        able = [device for device in left if is_able(job, device, order)]
        if not able:
            break
        best = min(able, key=lambda device: (device.card.kind is not Kind.ROUTER, device.d_m, device.id))
        order.append(best)
        left.remove(best)
    against += _stuck(job, left, {job.hub.id, *(device.id for device in order)})
    if len(job.devices) > job.hub.left:
        against.append(Hindrance(why=Why.FULL))
    return tuple(order), tuple(against)


def is_able(job: Job, device: Device, joined: Sequence[Device]) -> bool:
    """Whether a device can join now, after those that have."""
    names = {job.hub.id, *(other.id for other in joined)}
    return _hears(job, device, names) and _waits_no_more(job, device, joined)


def _hears(job: Job, device: Device, joined: set[str]) -> bool:
    """It hears the hub, or a router that has joined."""
    for other in job.hears.get(device.id, frozenset()) & joined:
        if other == job.hub.id or job.device(other).card.kind is Kind.ROUTER:
            return True
    return False


def _waits_no_more(job: Job, device: Device, order: Iterable[Device]) -> bool:
    there = {other.card.code for other in order}
    return all(code in there for code in device.card.waits_for)


def _by_themselves(job: Job) -> Iterable[Hindrance]:
    """What keeps a device from joining whatever the others do."""
    by_id = {device.id: device for device in job.devices}
    codes = {device.card.code for device in job.devices}
    for device in job.devices:
        card = device.card
        if card.band not in job.hub.bands:
            yield Hindrance(why=Why.FAMILY, device=device.id)
        elif job.hub.listed is not None and card.code not in job.hub.listed:
            yield Hindrance(why=Why.NOT_LISTED, device=device.id)
        elif not fits_window(job.hub, card):
            yield Hindrance(why=Why.WINDOW, device=device.id)
        elif not set(card.waits_for) <= codes:
            yield Hindrance(why=Why.WAITS_FOR_NOBODY, device=device.id)
        elif card.companion is not Companion.NONE:
            dimmer = by_id.get(device.dimmer)
            if dimmer is None or dimmer.card.link_window_s <= 0.0:
                yield Hindrance(why=Why.NO_DIMMER, device=device.id)
            elif not fits_link(card, dimmer.card):
                yield Hindrance(why=Why.LINK_WINDOW, device=device.id)


def _ring(waits: nx.DiGraph[str], name: str) -> tuple[str, ...]:
    """The shortest ring of waiting through a device, itself first; empty where there is none."""
    if name not in waits:
        return ()
    ways = [nx.shortest_path(waits, after, name) for after in waits[name] if nx.has_path(waits, after, name)]
    return (name, *min(ways, key=len)[:-1]) if ways else ()


def _stuck(job: Job, left: list[Device], joined: set[str]) -> Iterable[Hindrance]:
    """Why those that are left over cannot join: they wait in a ring, or nobody is in range."""
    waits: nx.DiGraph[str] = nx.DiGraph()
    there = {job.device(name).card.code for name in joined if name != job.hub.id}
    for device in left:
        for code in device.card.waits_for:
            if code not in there:
                waits.add_edges_from((device.id, other.id) for other in left if other.card.code == code)
    for device in left:
        if ring := _ring(waits, device.id):
            yield Hindrance(why=Why.WAITS_FOR_ITSELF, device=device.id, ring=ring)
        elif not _waits_no_more(job, device, [job.device(name) for name in joined if name != job.hub.id]):
            yield Hindrance(why=Why.WAITS_FOR_NOBODY, device=device.id)
        else:
            yield Hindrance(why=Why.OUT_OF_RANGE, device=device.id)
