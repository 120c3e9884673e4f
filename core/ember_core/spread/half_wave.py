"""A lamp on half-wave supply, for the bench test with a diode in front of it: steady, flickering or dark.

The reservoir of a rectifier lamp is filled once a cycle instead of twice, and must hold the driver above its stop
threshold for the rest: V_end = √(V_top² - 2·P·T/C). The test is for the bench, never left in an installation.
"""

from __future__ import annotations

from enum import StrEnum
from math import sqrt

from ember_core.offstate.network import V_BRIDGE
from ember_core.parts import CapacitiveDropperLamp, FilamentLamp, IronCoreTransformerLamp, Lamp, LinearLamp, Supply


class HalfWave(StrEnum):
    """What is seen."""

    STEADY = "steady"
    FLICKERS = "flickers"
    DARK = "half_wave_dark"
    MUST_NOT = "half_wave_must_not"


def on_half_wave(lamp: Lamp, supply: Supply) -> HalfWave:
    """What one lamp does on half-wave supply.

    A filament lights at half its power; a dropper's series capacitor charges to the peak and passes nothing more; a
    linear lamp, without reservoir, follows the half-waves. An iron core saturates on them: never tried.
    """
    if isinstance(lamp, IronCoreTransformerLamp):
        return HalfWave.MUST_NOT
    if isinstance(lamp, FilamentLamp):
        return HalfWave.STEADY
    if isinstance(lamp, CapacitiveDropperLamp):
        return HalfWave.DARK
    if isinstance(lamp, LinearLamp):
        return HalfWave.FLICKERS
    v_top = supply.v_peak - V_BRIDGE
    left = v_top**2 - 2.0 * lamp.p_run_w / (supply.f_hz * lamp.c_bulk_f)
    return HalfWave.STEADY if left > 0.0 and sqrt(left) > lamp.v_stop_v else HalfWave.FLICKERS
