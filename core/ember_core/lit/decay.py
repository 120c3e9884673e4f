"""The fall of the switched live after a trailing edge, against the time to the next zero crossing."""

from __future__ import annotations

from math import pi, radians, sin, sqrt

from ember_core.lit.loads import LOW_RATIO, capacitance_f, draws_of
from ember_core.lit.ranges import LitFigures
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.onstate.switching import DECAYED_TO_V

# Turn-off angles over which a trailing-edge control is moved.
TURN_OFF_DEG = (60.0, 75.0, 90.0, 105.0, 120.0, 135.0, 150.0)
HIGH_FREQUENCY_RATIO = 1.01


def decay_spare_s(loop: Loop, figures: LitFigures, turn_off_deg: float) -> float:
    """Time to spare between the decay after a turn-off and the next zero crossing, at low mains [s].

    A decay that never ends counts as one of a second.
    """
    f_hz = HIGH_FREQUENCY_RATIO * loop.supply.f_hz
    beta = radians(turn_off_deg)
    there = (pi - beta) / (2.0 * pi * f_hz) - figures.control["detection_s"]
    needed = closed_form.fall_s(
        LOW_RATIO * sqrt(2.0) * loop.supply.v_rms * sin(beta),
        DECAYED_TO_V,
        capacitance_f(loop, figures, with_film=True),
        draws_of(loop, figures),
    )
    return max(0.0, there) - min(needed, 1.0)
