"""What limits a bypass from above: each limit on its own, with its figure and the reason.

A bypass is wanted while the control is off; while it is on it is in the way, and there its limits come from.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from math import inf, pi, radians, sqrt

from ember_core.lit.decay import HIGH_FREQUENCY_RATIO, TURN_OFF_DEG
from ember_core.lit.loads import HIGH_RATIO, LOW_RATIO, capacitance_f, draws_of
from ember_core.lit.ranges import typical_of
from ember_core.lit.stress import R_LEAST_OHM, peak_allowed_a, pulse_into, trapped_v
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.parts import (
    Bypass,
    CapacitorBypass,
    PhaseMode,
)

# Above these a bypass is not sensible at a luminaire [assumptions]: reactive current while on, and heat, at +10 %.
MOST_REACTIVE_A = 0.03
MOST_HEAT_W = 2.5
LEADING = (PhaseMode.LEADING, PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC)
TRAILING = (PhaseMode.TRAILING, PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC)


class LimitReason(StrEnum):
    """What ends a window above."""

    REACTIVE_CURRENT = "reactive_current"
    DECLARED = "declared"
    LEADING_SPIKE = "leading_spike"
    TRAILING_DECAY = "trailing_decay"
    ROOM = "room"
    HEAT = "heat"


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """One limit of a window.

    Parameters
    ----------
    reason : see `LimitReason`. value : F, Ω or A; infinity where nothing limits, None where it is not known.
    params : the figures behind it, SI.
    """

    reason: LimitReason
    value: float | None
    params: dict[str, float] = field(default_factory=dict)


def reactive_limit_f(loop: Loop) -> float:
    """Largest capacitance by current while on: C = I / (2π·f·1.1·V) [F]."""
    return MOST_REACTIVE_A / (2.0 * pi * loop.supply.f_hz * HIGH_RATIO * loop.supply.v_rms)


def heat_limit_ohm(loop: Loop) -> float:
    """Least resistance by heat while on: R = (1.1·V)² / P [Ω]."""
    return float((HIGH_RATIO * loop.supply.v_rms) ** 2 / MOST_HEAT_W)


def active_on_w(i_limit_a: float, v_cutoff_v: float, v_rms: float) -> float:
    """Heat of an electronic bleeder while on, mean [W]: it conducts only below its cut-off.

    P = I · mean of |v| where |v| < V_cut = I · (2/π)·V̂·(1 − √(1 − (V_cut/V̂)²)).
    """
    v_peak = sqrt(2.0) * v_rms
    ratio = min(1.0, v_cutoff_v / v_peak)
    return i_limit_a * 2.0 / pi * v_peak * (1.0 - sqrt(1.0 - ratio * ratio))


def heat_limit_a(loop: Loop, v_cutoff_v: float) -> float:
    """Largest current of an electronic bleeder by heat while on [A]."""
    return MOST_HEAT_W / active_on_w(1.0, v_cutoff_v, HIGH_RATIO * loop.supply.v_rms)


def firing_spike(loop: Loop, bypass: CapacitorBypass) -> closed_form.Pulse:
    """The worst pulse that a leading-edge control sends into a bypass capacitor: fired at the crest at +10 %.

    Into the bypass alone: what lamps take beside it only softens it. The switched live may still hold charge of the
    other polarity.
    """
    figures = typical_of(loop, source="stiff")
    step = HIGH_RATIO * loop.supply.v_peak + trapped_v(loop, figures)
    return pulse_into([(bypass.c_f, max(bypass.r_series_ohm, R_LEAST_OHM))], figures, step)


def spike_allowed_a(loop: Loop) -> float | None:
    """Repetitive peak that the control stands, as far as is known or assumed [A]; None if it is not rated."""
    return peak_allowed_a(loop, typical_of(loop).control["headroom_ratio"])


def spike_limit_f(loop: Loop, r_series_ohm: float) -> float | None:
    """Largest capacitance whose firing spike the control stands [F]; None where its rating is not known."""
    most = spike_allowed_a(loop)
    if most is None:
        return None
    low, high = 1e-10, 1e-3
    if firing_spike(loop, CapacitorBypass(c_f=2e-5, r_series_ohm=r_series_ohm)).i_peak_a <= most:
        return inf
    for _ in range(60):
        middle = sqrt(low * high)
        at = firing_spike(loop, CapacitorBypass(c_f=min(middle, 2e-5), r_series_ohm=r_series_ohm))
        low, high = (middle, high) if at.i_peak_a <= most else (low, middle)
    return low


def decay_limit_f(loop: Loop) -> tuple[float, float]:
    """Most bypass capacitance that a trailing-edge control bears (F, 0 where even none decays) and the angle [deg].

    At 10 % low mains, where the drivers draw least, and 1 % high frequency; over every turn-off angle. Filaments and
    drivers empty the switched live, bleeders too; capacitor-input lamps draw nothing while their reservoir is above it.
    """
    bare = replace(loop, bypass=tuple(part for part in loop.bypass if not isinstance(part, CapacitorBypass)))
    figures = typical_of(bare)
    angles = [radians(degrees) for degrees in TURN_OFF_DEG]
    v_peak, f_hz = LOW_RATIO * loop.supply.v_peak, HIGH_FREQUENCY_RATIO * loop.supply.f_hz
    most, at = closed_form.largest_capacitance_f(
        v_peak, f_hz, draws_of(bare, figures), angles, figures.control["detection_s"]
    )
    return max(0.0, most - capacitance_f(bare, figures, with_film=True)), at * 180.0 / pi


def capacitor_limits(loop: Loop, *, r_series_ohm: float = 0.1, room_f: float | None = None) -> tuple[Limit, ...]:
    """Every limit of a capacitor for this loop, the least first; those not known last.

    Parameters
    ----------
    r_series_ohm : in series with it. room_f : largest that goes into the ceiling point, if that is known.
    """
    limits = [
        Limit(
            reason=LimitReason.REACTIVE_CURRENT,
            value=reactive_limit_f(loop),
            params={"most_a": MOST_REACTIVE_A},
        )
    ]
    mode, declared = loop.control.phase_mode, loop.control.c_bypass_max_f
    if declared is not None:
        limits.append(Limit(reason=LimitReason.DECLARED, value=declared))
    if mode in LEADING:
        allowed = spike_allowed_a(loop)
        params = (
            {} if allowed is None else {"most_a": allowed, "headroom_ratio": typical_of(loop).control["headroom_ratio"]}
        )
        limits.append(Limit(reason=LimitReason.LEADING_SPIKE, value=spike_limit_f(loop, r_series_ohm), params=params))
    if mode in TRAILING:
        most, angle = decay_limit_f(loop)
        limits.append(Limit(reason=LimitReason.TRAILING_DECAY, value=most, params={"turn_off_deg": angle}))
    if room_f is not None:
        limits.append(Limit(reason=LimitReason.ROOM, value=room_f))
    return tuple(sorted(limits, key=lambda limit: inf if limit.value is None else limit.value))


def least(limits: Sequence[Limit]) -> Limit | None:
    """The limit that governs."""
    known = [limit for limit in limits if limit.value is not None and limit.value < inf]
    return min(known, key=lambda limit: limit.value or 0.0) if known else None


def resistance_limits(loop: Loop) -> tuple[Limit, ...]:
    """Limits of a resistor, from below."""
    return (Limit(reason=LimitReason.HEAT, value=heat_limit_ohm(loop), params={"most_w": MOST_HEAT_W}),)


def heats(bypass: Bypass | None) -> bool:
    """Whether it makes heat on purpose."""
    return bypass is not None and not isinstance(bypass, CapacitorBypass)
