"""The largest load, from declared ratings by class of load; what is not declared stays unknown."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ember_core.loop import Loop
from ember_core.parts import Lamp, is_led, is_transformer, rated_w


@dataclass(frozen=True, slots=True, kw_only=True)
class Load:
    """A declared limit beside what is there.

    Parameters
    ----------
    rule : `most_led_w`, `most_filament_w`, `most_transformer_va`, `most_mixed`, `most_current` or `least_declared`.
    limit, actual : W (or VA), or A for the current, or the sum of shares of a mixed load [1]; None where unknown.
    most_count : lamps of the only group that the limit allows (or, of the least load, asks for); None where unknown.
    is_met : None where something is unknown.
    ratings : the figures of the control that it rests on, by their names in the sheet.
    """

    rule: str
    limit: float | None
    actual: float | None
    most_count: int | None
    is_met: bool | None
    ratings: tuple[str, ...] = ()


def declared_loads(loop: Loop) -> tuple[Load, ...]:
    """Least and largest load as declared. LED lamps on an LED rating, filaments on theirs, both as shares of both;
    the ampere figure holds for resistive loads only and is never turned into watts of LED lamps."""
    control = loop.control
    led, filament, transformer = (_watts(loop, kind) for kind in (is_led, _is_filament, is_transformer))
    total = None if None in (led, filament, transformer) else (led or 0.0) + (filament or 0.0) + (transformer or 0.0)
    rows = []
    if control.standby is not None or control.p_min_w is not None:
        rows.append(_row("least_declared", "p_min_w", total, loop, at_least=True))
    has_led = any(is_led(lamp) for lamp in loop.lamps)
    has_filament = any(_is_filament(lamp) for lamp in loop.lamps)
    has_transformer = any(is_transformer(lamp) for lamp in loop.lamps)
    if has_led + has_filament + has_transformer > 1:
        rows.append(
            _mixed(loop, {"p_max_led_w": led, "p_max_filament_w": filament, "s_max_transformer_va": transformer})
        )
    elif has_transformer:
        rows.append(_row("most_transformer_va", "s_max_transformer_va", transformer, loop))
    elif has_led:
        rows.append(_row("most_led_w", "p_max_led_w", led, loop))
    else:
        rows.append(_row("most_filament_w", "p_max_filament_w", filament, loop))
    if control.i_max_a is not None:
        actual = None if has_led or has_transformer or filament is None else filament / loop.supply.v_rms
        met = None if actual is None else actual <= control.i_max_a
        rows.append(
            Load(
                rule="most_current",
                limit=control.i_max_a,
                actual=actual,
                most_count=None,
                is_met=met,
                ratings=("i_max_a",),
            )
        )
    return tuple(rows)


def _is_filament(lamp: Lamp) -> bool:
    return not is_led(lamp) and not is_transformer(lamp)


def _watts(loop: Loop, counts: Callable[[Lamp], bool]) -> float | None:
    """Watts of the lamps of a kind; None where some are not known."""
    total = 0.0
    for lamp in loop.lamps:
        if counts(lamp):
            each = rated_w(lamp)
            if each is None:
                return None
            total += lamp.count * each
    return total


def _row(rule: str, rating: str, actual: float | None, loop: Loop, *, at_least: bool = False) -> Load:
    limit: float | None = getattr(loop.control, rating)
    met = None
    if limit is not None and actual is not None:
        met = actual >= limit if at_least else actual <= limit
    each = rated_w(loop.lamps[0]) if len(loop.lamps) == 1 else None
    count = None
    if limit is not None and each:
        # A hair of slack, so that 5 lamps of 6 W meet 30 W.
        count = -int(-(limit / each) // 1) if at_least else int(limit / each * (1.0 + 1e-9))
    return Load(rule=rule, limit=limit, actual=actual, most_count=count, is_met=met, ratings=(rating,))


def _mixed(loop: Loop, there: Mapping[str, float | None]) -> Load:
    """Each kind as a share of its own rating; together at most 1."""
    share = 0.0
    asked = tuple(rating for rating, watts in there.items() if watts != 0.0)
    for rating in asked:
        watts, limit = there[rating], getattr(loop.control, rating)
        if watts is None or limit is None:
            return Load(rule="most_mixed", limit=1.0, actual=None, most_count=None, is_met=None, ratings=asked)
        share += watts / limit
    return Load(rule="most_mixed", limit=1.0, actual=share, most_count=None, is_met=share <= 1.0, ratings=asked)
