"""Light over conduction for each kind of lamp, where lamps go out and come on, and the trims that follow.

Angles are degrees of conduction; they mean the same on either edge. The worst lamp type decides.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import acos, asin, degrees, inf, radians

import numpy as np
from numpy.typing import NDArray

from ember_core.lit.decay import decay_spare_s
from ember_core.lit.holding import latches_from_deg
from ember_core.lit.loads import LOW_RATIO
from ember_core.lit.ranges import Figures, LitFigures
from ember_core.lit.spans import Span, over, share_of, span_of
from ember_core.lit.supply import gap_deg
from ember_core.loop import Loop
from ember_core.onstate import closed_form
from ember_core.parts import (
    CapacitiveDropperLamp,
    DimmableDriverLamp,
    ElectronicTransformerLamp,
    Lamp,
    LinearLamp,
    PhaseMode,
    RectifierLamp,
)
from ember_core.spread.judged import SURE_RATIO

Floats = NDArray[np.float64]
CURVE_POINTS = 41
# Margin above the worst sample that is proposed [assumption].
MARGIN_DEG = 5.0
# Light of a filament goes with about this power of its voltage [assumption].
FILAMENT_EXPONENT = 3.4
_TOPS_DEG = tuple(float(angle) for angle in range(175, 25, -5))


@dataclass(frozen=True, slots=True, kw_only=True)
class GroupLight:
    """Light of one lamp group over the angles of its curve: 5th, 50th and 95th percentile, shares of full light [1]."""

    group: int
    low: tuple[float, ...]
    middle: tuple[float, ...]
    high: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """A trim on the control's own scale: the setting and how many there are."""

    at: int
    of: int


@dataclass(frozen=True, slots=True, kw_only=True)
class LightCurve:
    """Light over conduction [deg], and the trims proposed.

    Parameters
    ----------
    groups : of each lamp type that dims. worst : place in `groups` of the type that goes out first.
    drop_out_deg : conduction at which the first lamps go out from above. pop_on_deg : at which the last come on.
    latch_deg : from which the load latches the triac; None on a trailing edge.
    least_deg, start_deg, most_deg : proposed: minimum, start level, top; least is what the worst sample needs.
    governs : what decides the least level: `drop_out` or `latching`; and the top: `gap`, `decay` or nothing.
    settings : the three on the control's own scale; None where that is not known.
    least_light, most_light : light of the worst type at least level and top, typical [1].
    """

    gamma_deg: tuple[float, ...]
    groups: tuple[GroupLight, ...]
    worst: int
    drop_out_deg: Span
    pop_on_deg: Span
    latch_deg: Span | None
    least_deg: float
    start_deg: float
    most_deg: float
    least_governs: str
    most_governs: str | None
    settings: tuple[Setting, Setting, Setting] | None
    least_light: float
    most_light: float


def group_drop_out_deg(loop: Loop, lamp: Lamp, figures: Figures) -> float:
    """Conduction below which a lamp goes out, at 10 % low mains [°]; 0 for one that never does.

    A driver's stage must feed itself: acos(1 − 2·r/k). A linear lamp needs its string voltage, an electronic
    transformer the start of its oscillator: asin(v/V̂).
    """
    if isinstance(lamp, DimmableDriverLamp):
        return degrees(acos(max(-1.0, 1.0 - 2.0 * figures["aux_ratio"] / LOW_RATIO)))
    v = lamp.v_string_v if isinstance(lamp, LinearLamp) else 0.0
    v = lamp.v_start_v if isinstance(lamp, ElectronicTransformerLamp) else v
    return degrees(asin(min(1.0, v / (LOW_RATIO * loop.supply.v_peak))))


def drop_out_deg(loop: Loop, figures: LitFigures) -> float:
    """Conduction at which the first lamps of a gang go out [°]."""
    return max(group_drop_out_deg(loop, lamp, own) for lamp, own in zip(loop.lamps, figures.lamps, strict=True))


def pop_on_deg(loop: Loop, figures: LitFigures) -> float:
    """Conduction at which the last of them come on from dark [°]: a driver needs more to start than to go on."""
    return max(
        group_drop_out_deg(loop, lamp, own) + (own["pop_on_above_deg"] if isinstance(lamp, DimmableDriverLamp) else 0.0)
        for lamp, own in zip(loop.lamps, figures.lamps, strict=True)
    )


def full_deg(loop: Loop, figures: LitFigures) -> float:
    """Conduction above which no driver gets brighter [°]."""
    return max(
        own["gamma_full_deg"]
        for lamp, own in zip(loop.lamps, figures.lamps, strict=True)
        if isinstance(lamp, DimmableDriverLamp)
    )


def has_driver(loop: Loop) -> bool:
    """Whether a driver decodes the conduction."""
    return any(isinstance(lamp, DimmableDriverLamp) for lamp in loop.lamps)


def dims(lamp: Lamp) -> bool:
    """Whether its light follows the conduction at all: not that of plain reservoirs and droppers."""
    return not isinstance(lamp, CapacitiveDropperLamp) and type(lamp) is not RectifierLamp


def light(loop: Loop, lamp: Lamp, figures: Figures, gamma_deg: Floats) -> Floats:
    """Light of a lamp at conductions, as a share of its full light [1].

    A driver decodes: ((γ − γ_dark)/(γ_full − γ_dark))^p. A linear lamp follows its current, which flows above its
    string only. Filaments, on a transformer or not, follow their voltage.
    """
    if isinstance(lamp, DimmableDriverLamp):
        dark, full = figures["gamma_dark_deg"], figures["gamma_full_deg"]
        clipped = np.clip((gamma_deg - dark) / (full - dark), 0.0, 1.0)
        return np.asarray(clipped ** figures["light_exponent"], dtype=np.float64)
    if isinstance(lamp, LinearLamp):
        theta = np.radians(np.linspace(0.0, 180.0, 721))
        over_string = np.clip(loop.supply.v_peak * np.sin(theta) - lamp.v_string_v, 0.0, None) / lamp.r_in_ohm
        drawn = np.cumsum(np.minimum(over_string, figures["i_limit_a"]))
        whole = drawn[-1] if drawn[-1] > 0.0 else 1.0
        return np.asarray(np.interp(gamma_deg, np.degrees(theta), drawn / whole), dtype=np.float64)
    ratios = [closed_form.rms_ratio(radians(180.0 - float(gamma))) for gamma in gamma_deg]
    return np.asarray(ratios, dtype=np.float64) ** FILAMENT_EXPONENT


def light_curve(loop: Loop, edge: PhaseMode, tried: Sequence[LitFigures]) -> LightCurve | None:
    """Light of a gang over conduction, and its trims; None where nothing in it dims."""
    groups = [k for k, lamp in enumerate(loop.lamps) if dims(lamp)]
    if not groups:
        return None
    gammas = np.linspace(0.0, 180.0, CURVE_POINTS)
    made = []
    for k in groups:
        curves = np.array([light(loop, loop.lamps[k], figures.lamps[k], gammas) for figures in tried])
        low, middle, high = np.quantile(curves, [1.0 - SURE_RATIO, 0.5, SURE_RATIO], axis=0)
        made.append(
            GroupLight(group=k + 1, low=tuple(low.tolist()), middle=tuple(middle.tolist()), high=tuple(high.tolist()))
        )
    outs = [[group_drop_out_deg(loop, loop.lamps[k], figures.lamps[k]) for figures in tried] for k in groups]
    worst = max(range(len(groups)), key=lambda place: span_of(outs[place]).p95)
    drops, pops = over(tried, lambda f: drop_out_deg(loop, f)), over(tried, lambda f: pop_on_deg(loop, f))
    latching = None
    if edge is PhaseMode.LEADING:
        latching = [angle for f in tried if (angle := latches_from_deg(loop, f)) < inf]
    needs = {"drop_out": span_of(drops).p95, "latching": span_of(latching).p95 if latching else 0.0}
    governs = max(needs, key=lambda name: needs[name])
    least = needs[governs] + MARGIN_DEG
    start = max(span_of(pops).p95, needs[governs]) + MARGIN_DEG
    most, most_governs = _top(loop, edge, tried)
    curve = np.array(made[worst].middle)
    return LightCurve(
        gamma_deg=tuple(gammas.tolist()),
        groups=tuple(made),
        worst=worst,
        drop_out_deg=span_of(drops),
        pop_on_deg=span_of(pops),
        latch_deg=span_of(latching) if latching else None,
        least_deg=least,
        start_deg=start,
        most_deg=most,
        least_governs=governs,
        most_governs=most_governs,
        settings=_settings(loop, (least, start, most)),
        least_light=float(np.interp(least, gammas, curve)),
        most_light=float(np.interp(most, gammas, curve)),
    )


def _top(loop: Loop, edge: PhaseMode, tried: Sequence[LitFigures]) -> tuple[float, str | None]:
    """Largest conduction, and what ends it: the control's own supply, or the decay of the switched live."""
    gap = 0.0
    if loop.control.standby is not None:
        longest = [figures.control["gap_deg"] for figures in tried]
        found = over(tried, lambda figures: gap_deg(loop, figures))
        gap = span_of([min(one, most) for one, most in zip(found, longest, strict=True)]).p95
    top, governs = 180.0 - gap, "gap" if gap > 0.0 else None
    if edge is PhaseMode.TRAILING:
        for angle in _TOPS_DEG:
            if share_of([decay_spare_s(loop, figures, angle) >= 0.0 for figures in tried]) >= SURE_RATIO:
                return (angle, "decay") if angle < top else (top, governs)
        return top, governs
    return top, governs


def _settings(loop: Loop, angles: tuple[float, float, float]) -> tuple[Setting, Setting, Setting] | None:
    """Angles as settings of the control's own scale, rounded to the safe side: up, but the top down."""
    control = loop.control
    low, high, count = control.setting_low_deg, control.setting_high_deg, control.settings
    if low is None or high is None or count is None or high <= low:
        return None
    steps = [1.0 + (angle - low) / (high - low) * (count - 1.0) for angle in angles]
    least, start, most = (min(max(step, 1.0), count) for step in steps)
    return (
        Setting(at=int(np.ceil(least - 1e-9)), of=int(count)),
        Setting(at=int(np.ceil(start - 1e-9)), of=int(count)),
        Setting(at=int(np.floor(most + 1e-9)), of=int(count)),
    )


def acts_at_deg(edge: PhaseMode, conduction_deg: float) -> float:
    """Angle in the half-cycle at which a dimmer acts for a conduction: fires for its rest or turns off after it [°]."""
    return 180.0 - conduction_deg if edge is PhaseMode.LEADING else conduction_deg
