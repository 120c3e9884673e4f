"""Resistance and temperature of a PTC bleeder at a voltage: its own heat decides."""

from __future__ import annotations

from math import exp

from ember_core.parts import PtcBypass

# Far above any switching temperature; only bounds the bisection.
_HOTTEST_K = 800.0


def resistance_ohm(part: PtcBypass, t_k: float) -> float:
    """Resistance at a temperature [Ω]: constant up to the switching temperature, then exponential.

    Parameters
    ----------
    t_k : temperature of the ceramic [K].
    """
    return part.r_cold_ohm * exp(part.alpha_per_k * max(0.0, t_k - part.t_switch_k))


def settled_temperature_k(part: PtcBypass, v_rms: float) -> float:
    """Temperature at which heat made and heat given off balance [K].

    Solves V²/R(T) = (T - T_ambient)/R_thermal by bisection; the left side never rises with T, so
    there is one solution.

    Parameters
    ----------
    v_rms : voltage across the part [V].
    """
    low, high = part.t_ambient_k, _HOTTEST_K
    for _ in range(60):
        middle = 0.5 * (low + high)
        made_w = v_rms * v_rms / resistance_ohm(part, middle)
        given_w = (middle - part.t_ambient_k) / part.r_thermal_k_per_w
        if made_w > given_w:
            low = middle
        else:
            high = middle
    return 0.5 * (low + high)


def settled_resistance_ohm(part: PtcBypass, v_rms: float) -> float:
    """Resistance once it has settled at a voltage [Ω]; 0 V gives the cold resistance."""
    return resistance_ohm(part, settled_temperature_k(part, v_rms))
