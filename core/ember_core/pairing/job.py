"""What is to be joined: hub, devices, who hears whom; and why some of it cannot be."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from ember_core.pairing.cards import Card, Companion
from ember_core.radio.budget import Band

# Finding the hub in service, opening and closing its network, switching a breaker, typing a name, removing one [s].
FIND_S, OPEN_S, CLOSE_S, POWER_S, NAME_S, REMOVE_S = 60.0, 5.0, 5.0, 10.0, 30.0, 20.0
# Asking a dimmer to be linked [s].
ASK_S = 6.0


class Why(StrEnum):
    """What keeps a plan from being possible."""

    FULL = "hub_full"
    FAMILY = "wrong_family"
    NOT_LISTED = "not_listed"
    OUT_OF_RANGE = "out_of_range"
    WINDOW = "window_too_short"
    LINK_WINDOW = "link_window_too_short"
    WAITS_FOR_ITSELF = "waits_for_itself"
    WAITS_FOR_NOBODY = "waits_for_nobody"
    NO_DIMMER = "no_dimmer"


@dataclass(frozen=True, slots=True, kw_only=True)
class Hub:
    """What a hub takes.

    Parameters
    ----------
    bands : families. left : how many more devices. window_s : its network stays open for so long, once opened.
    listed : cards that it knows; None where it takes any of its families.
    """

    id: str
    bands: frozenset[Band]
    left: int
    window_s: float
    listed: frozenset[str] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """One device at its place.

    Parameters
    ----------
    breaker : what feeds it; empty for a battery. dimmer : whose remote it is. d_m : from the hub, for who is first [m].
    """

    id: str
    card: Card
    breaker: str = ""
    dimmer: str = ""
    d_m: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """Everything that one person joins.

    Parameters
    ----------
    hears : by device, those that it has a link with; the hub among them. left_over : names of test devices to remove.
    """

    hub: Hub
    devices: tuple[Device, ...]
    hears: Mapping[str, frozenset[str]]
    left_over: tuple[str, ...] = ()

    def device(self, name: str) -> Device:
        """One of the devices."""
        return next(one for one in self.devices if one.id == name)


@dataclass(frozen=True, slots=True, kw_only=True)
class Hindrance:
    """What keeps one device, or all, from joining.

    Parameters
    ----------
    ring : those that wait for each other, in their order.
    """

    why: Why
    device: str = ""
    ring: tuple[str, ...] = ()


def fits_window(hub: Hub, card: Card) -> bool:
    """Whether a device can join while its own window and the network's are open, whichever is opened first."""
    act_s = POWER_S if card.by_power else card.act_s
    if card.join_s > min(hub.window_s, card.window_s):
        return False
    return act_s + card.join_s <= hub.window_s or OPEN_S + card.join_s <= card.window_s


def fits_link(remote: Card, dimmer: Card) -> bool:
    """Whether a remote can be linked to its dimmer while both are asking for it."""
    if remote.link_s > min(remote.window_s, dimmer.link_window_s):
        return False
    if remote.companion is Companion.LINK_LATER:
        # The dimmer's window opens by itself, after the one in which it listens to the hub; the remote is asked in
        # it, in the window before it, or before the dimmer is switched off and on.
        late = max(0.0, remote.act_s - dimmer.first_window_s)
        return remote.link_s <= dimmer.link_window_s - late or (
            POWER_S + dimmer.first_window_s + remote.link_s <= remote.window_s
        )
    return remote.act_s + remote.link_s <= dimmer.link_window_s or ASK_S + remote.link_s <= remote.window_s
