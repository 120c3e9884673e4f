"""How much of its need a stand-by feed gets: one rule for the full solution and for a drawn sample."""

from __future__ import annotations

from math import inf

import numpy as np

from ember_core.offstate.measure import Recording
from ember_core.parts import StandbyFeed, SwitchingFeed


def delivered_ratio(feed: StandbyFeed | None, recording: Recording, times: float = 1.0) -> float:
    """What reaches the control's load over so many times its need [1]; infinity for a switch that needs nothing.

    A converter of constant power by its power. A shunt-regulated feed by its current, and by its voltage on its own:
    the regulator holds the voltage, so more of that is never to be had.
    """
    if feed is None:
        return inf
    held, drawn = recording.reservoir(0), recording.drawn(0)
    if isinstance(feed, SwitchingFeed):
        return float(np.mean(drawn * held)) / (times * feed.p_w)
    return min(float(np.mean(drawn)) / (times * feed.i_a), float(np.mean(held)) / feed.v_shunt_v)
