"""What would cure a gang at its lamps: one filament lamp in place of one of the others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from ember_core.catalogue.class_defaults import typical_lamp
from ember_core.errors import InputError, SolverError
from ember_core.loop import MOST_LAMP_GROUPS
from ember_core.parts import FilamentLamp, is_led
from ember_core.sheet import Sheet
from ember_core.spread.judged import look_over

# Watts of the filament lamp that is tried.
FILAMENT_P_W = (25.0, 40.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class FilamentCure:
    """One filament lamp in place of one lamp of a group.

    Parameters
    ----------
    group : whose lamp is replaced, from 0. p_w : of the filament lamp. share : dark and fed then [1].
    """

    group: int
    p_w: float
    share: float


def filament_cures(
    sheet: Sheet, *, powers_w: Sequence[float] = FILAMENT_P_W, samples: int = 64, seed: int = 1
) -> tuple[FilamentCure, ...]:
    """How the gang fares with one filament lamp among its lamps, a group and a power each; best first."""
    rows = []
    for group, lamp in enumerate(sheet.loop.lamps):
        if not is_led(lamp):
            continue
        for p_w in powers_w:
            try:
                share = look_over(with_filament(sheet, group, p_w), samples=samples, seed=seed).all_well
            except (SolverError, InputError):
                continue
            rows.append(FilamentCure(group=group, p_w=p_w, share=share))
    return tuple(sorted(rows, key=lambda row: (-row.share, row.p_w)))


def with_filament(sheet: Sheet, group: int, p_w: float) -> Sheet:
    """The sheet with one lamp of a group replaced by a typical filament lamp.

    Raises
    ------
    InputError : no room for another group, or no filament lamp of that power.
    """
    _, figures = typical_lamp("filament", sheet.loop.supply, p_w)
    made = FilamentLamp(count=1, **{name: figure.typical for name, figure in figures.items()})
    lamp: Any = sheet.loop.lamps[group]
    rest = [*sheet.loop.lamps]
    kept = dict(sheet.figures)
    if lamp.count > 1:
        if len(rest) >= MOST_LAMP_GROUPS:
            raise InputError("too_many_groups", path="lamps", most=MOST_LAMP_GROUPS)
        rest[group] = replace(lamp, count=lamp.count - 1)
        rest.append(made)
        at = len(rest) - 1
    else:
        rest[group] = made
        at = group
        kept = {path: figure for path, figure in kept.items() if not path.startswith(f"lamps[{group}].")}
    kept |= {f"lamps[{at}].{name}": figure for name, figure in figures.items()}
    return replace(sheet, loop=replace(sheet.loop, lamps=tuple(rest)), figures=kept)
