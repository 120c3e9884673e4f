"""Channels at 2.4 GHz: how much of each the site's Wi-Fi covers, and which is quietest."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ember_core.radio.budget import Band

FIRST_MESH, LAST_MESH = 11, 26
FIRST_WIFI, LAST_WIFI = 1, 13
MESH_WIDTH_MHZ, WIFI_WIDTH_MHZ = 2.0, 20.0
# Those that do not overlap each other.
WIFI_PROPOSED = (1, 6, 11)


def mesh_centre_mhz(channel: int) -> float:
    """Middle of a channel of IEEE 802.15.4, 11 to 26 [MHz]."""
    return 2405.0 + 5.0 * (channel - FIRST_MESH)


def wifi_centre_mhz(channel: int) -> float:
    """Middle of a channel of Wi-Fi, 1 to 13 [MHz]."""
    return 2412.0 + 5.0 * (channel - FIRST_WIFI)


@dataclass(frozen=True, slots=True, kw_only=True)
class Channels:
    """The quietest channel, and what of each is covered, summed over the networks of the site [MHz]."""

    best: int
    overlap_mhz: dict[int, float]


def channels(band: Band, wifi: Iterable[int]) -> Channels | None:
    """Which channel is proposed; None below 1 GHz, where Wi-Fi is far away.

    Where several are free the one farthest from Wi-Fi is taken; then one that every device has, so not the last.
    """
    networks = [wifi_centre_mhz(channel) for channel in wifi]
    if band is Band.SUB_GHZ:
        return None
    if band is Band.MESH:
        centres = {channel: mesh_centre_mhz(channel) for channel in range(FIRST_MESH, LAST_MESH + 1)}
        width = MESH_WIDTH_MHZ
    else:
        centres = {channel: wifi_centre_mhz(channel) for channel in WIFI_PROPOSED}
        width = WIFI_WIDTH_MHZ
    reach = 0.5 * (width + WIFI_WIDTH_MHZ)
    overlap = {
        channel: sum(max(0.0, min(width, reach - abs(centre - other))) for other in networks)
        for channel, centre in centres.items()
    }
    best = min(
        centres,
        key=lambda channel: (
            overlap[channel],
            channel == LAST_MESH,
            -min((abs(centres[channel] - other) for other in networks), default=0.0),
            channel,
        ),
    )
    return Channels(best=best, overlap_mhz=overlap)
