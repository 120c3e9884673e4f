"""Which remedy to try first: by the share of worlds that it cures, and by what it costs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ember_core.diagnosis.knowledge import RemedyClass, Undo
from ember_core.diagnosis.posterior import Posterior
from ember_core.diagnosis.remedies import OFFERED, cured

# Worlds drawn by their weight to try remedies on.
TRIED = 40
# From this share on causes are looked at for remedies.
WORTH_CURING, MOST_REMEDIES = 0.02, 8
# A remedy within this ratio of the best chance may be named before it where it costs less.
AS_GOOD_RATIO = 0.97
# Minutes that money and what cannot be taken back count for [assumption].
MINUTES_PER_PRICE = 1.0
UNDO_MIN: Mapping[Undo, float] = {Undo.EASILY: 0.0, Undo.HARDLY: 20.0, Undo.NEVER: 60.0}


@dataclass(frozen=True, slots=True, kw_only=True)
class RemedyChance:
    """A remedy and the share of the weight in which it cures [1]."""

    code: str
    chance: float
    minutes: float
    price: float
    undo: Undo


def ranked_remedies(posterior: Posterior) -> tuple[RemedyChance, ...]:
    """Remedies of the causes that weigh, tried in worlds drawn by their weight."""
    drawn = posterior.drawn(TRIED)
    offered: dict[str, None] = {}
    for code, share in sorted(posterior.shares(posterior.weights).items(), key=lambda item: -item[1]):
        if share >= WORTH_CURING:
            for part in code.split("+"):
                offered |= dict.fromkeys(OFFERED[part])
    told = posterior.case.complained
    rows = []
    for name in offered:
        well = [cured(name, one.shows, one.sound, told) for one in drawn]
        of = posterior.known.remedies[name]
        chance = float(np.mean(well) * (1.0 - posterior.none)) if well else 0.0
        rows.append(RemedyChance(code=name, chance=chance, minutes=of.minutes, price=of.price, undo=of.undo))
    return _in_order(rows)


def _in_order(rows: Sequence[RemedyChance]) -> tuple[RemedyChance, ...]:
    """First of those about as likely as the best the one that costs least, then the same of the rest."""
    left = [row for row in rows if row.chance >= 0.02]
    ordered: list[RemedyChance] = []
    while left and len(ordered) < MOST_REMEDIES:
        best = max(row.chance for row in left)
        as_good = [row for row in left if row.chance >= AS_GOOD_RATIO * best]
        first = min(as_good, key=cost_of)
        ordered.append(first)
        left.remove(first)
    return tuple(ordered)


def cost_of(remedy: RemedyChance | RemedyClass) -> float:
    """Minutes of a remedy, with its price and what cannot be taken back counted as minutes."""
    return remedy.minutes + MINUTES_PER_PRICE * remedy.price + UNDO_MIN[remedy.undo]
