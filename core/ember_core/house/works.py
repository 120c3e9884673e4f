"""The ways to the lamps of a house, as parts and links, for what still works when something fails."""

from __future__ import annotations

from ember_core.house.document import House, HubPlace, Keeps, Placed
from ember_core.house.fits import fits
from ember_core.pairing.cards import Companion
from ember_core.radio.budget import Band, Verdict
from ember_core.radio.mesh import Kind
from ember_core.rules.paths import House as Parts
from ember_core.rules.paths import Part, Table, Way, table

HAND, PHONE, ROUTER, INTERNET = "~hand", "~phone", "~router", "~internet"


def works(house: House, joined: frozenset[str] | None = None) -> Table:
    """What still works of each gang's lamp.

    Parameters
    ----------
    joined : devices that are in their networks; None for all that are meant to be.
    """
    parts, links = _parts(house, joined)
    ways = [way for device in house.devices if device.gang for way in _ways(house, device, joined)]
    return table(Parts(parts=parts, links=frozenset(links)), ways)


def _parts(house: House, joined: frozenset[str] | None) -> tuple[dict[str, Part], set[tuple[str, str]]]:
    parts = {HAND: Part.HAND, PHONE: Part.PHONE, ROUTER: Part.ROUTER, INTERNET: Part.INTERNET}
    links = {(PHONE, ROUTER), (PHONE, INTERNET), (INTERNET, ROUTER)}
    for hub in house.hubs:
        parts[hub.id] = Part.HUB
        links.add((ROUTER, hub.id))
    for device in house.devices:
        if device.gang:
            parts[device.id] = Part.CONTROL
            parts[_lamp(device)] = Part.LAMP
            links |= {(HAND, device.id), (device.id, _lamp(device))}
        else:
            parts[device.id] = Part.REMOTE if device.card.battery else Part.MESH_ROUTER
        if device.behind_switch:
            parts[_switch(device)] = Part.SWITCH
        if device.dimmer and device.card.companion is not Companion.NONE:
            links.add((device.id, device.dimmer))
    for found in fits(house):
        # What the hub does not take is in no network of it, and carries nobody.
        taken = {fit.device.id for fit in found.fits} - set(found.not_listed)
        inside = {found.hub.id, *(taken if joined is None else taken & joined)}
        links |= {(one.a, one.b) for one in found.links if one.verdict is not Verdict.NO and {one.a, one.b} <= inside}
        for fit in found.fits:
            # A Wi-Fi device is at the router, not at a hub.
            if fit.device.card.band is Band.WIFI:
                links.discard((found.hub.id, fit.device.id))
                if fit.hops is not None and fit.device.id in inside:
                    links.add((ROUTER, fit.device.id))
    return parts, links


def _lamp(device: Placed) -> str:
    return f"~lamp:{device.gang}"


def _switch(device: Placed) -> str:
    return f"~switch:{device.id}"


def _to_hub(hub: HubPlace | None) -> tuple[str, ...]:
    """What a rule goes through: the hub, and the internet where it can do nothing without."""
    if hub is None:
        return ()
    return (hub.id, ROUTER, INTERNET, ROUTER, hub.id) if hub.needs_internet else (hub.id,)


def _ways(house: House, device: Placed, joined: frozenset[str] | None) -> list[Way]:
    """Hand at the wall, remotes, phone at home and away, programs."""
    lamp = _lamp(device)
    feeds = (_switch(device),) if device.behind_switch else ()
    hub = house.hub(device.hub)
    through = (device.id,) if device.card.band is Band.WIFI else (device.hub, device.id)
    needs_net = hub is not None and hub.needs_internet

    def way(name: str, *parts: str) -> Way:
        return Way(id=name, lamp=lamp, through=(*parts, lamp), feeds=feeds)

    made = [way("wall", HAND, device.id)]
    remotes = [one for one in house.devices if one.dimmer == device.id]
    # A remote that is linked speaks to its dimmer; any other is a rule of the hub.
    made += [
        way(f"remote:{one.id}", one.id, *(() if one.card.companion is not Companion.NONE else _to_hub(hub)), device.id)
        for one in remotes
    ]
    made.append(way("phone", PHONE, *((INTERNET, ROUTER) if needs_net else (ROUTER,)), *through))
    made.append(way("away", PHONE, INTERNET, ROUTER, *through))
    if device.keeps is Keeps.CONTROL:
        made.append(way("program", device.id))
    elif device.keeps is Keeps.HUB:
        first = (INTERNET, ROUTER, *through) if needs_net else through
        made.append(way("program", *first))
    return made


def unknown(house: House) -> frozenset[str]:
    """Devices of which nobody can say whether they are in range: what lies between is not noted.

    Not among them is what its hub does not take, wherever it is.
    """
    return frozenset(
        fit.device.id
        for found in fits(house)
        for fit in found.fits
        if fit.verdict is None and fit.device.id not in found.not_listed
    )


def relays(house: House) -> frozenset[str]:
    """Devices that carry others in a mesh."""
    return frozenset(one.id for one in house.devices if one.card.kind is Kind.ROUTER)
