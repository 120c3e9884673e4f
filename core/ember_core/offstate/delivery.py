"""How much of its need a stand-by feed gets: one rule for the full solution and for a drawn sample."""

from __future__ import annotations

from math import inf

from ember_core.offstate.measure import Readings
from ember_core.offstate.meters import Of
from ember_core.parts import StandbyFeed, SwitchingFeed


def delivered_ratio(feed: StandbyFeed | None, reading: Readings, times: float = 1.0) -> float:
    """What reaches the control's load over so many times its need [1]; infinity for a switch that needs nothing.

    A converter of constant power by its power. A shunt-regulated feed by its current, and by its voltage on its own:
    the regulator holds the voltage, so more of that is never to be had.
    """
    if feed is None:
        return inf
    if isinstance(feed, SwitchingFeed):
        return reading.of(0, Of.DRAWN_W) / (times * feed.p_w)
    return min(reading.of(0, Of.DRAWN_MEAN) / (times * feed.i_a), reading.of(0, Of.HELD_MEAN) / feed.v_shunt_v)
