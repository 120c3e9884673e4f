"""The order of ways: what counts against each, value by value, by the order that a firm may set.

Figures marked [A] are engineering assumptions.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ember_core.routes.rated import WORKS_RANK, Asked, Comparison, Rated, Value
from ember_core.routes.ways import ALOFT, Way
from ember_core.survey.depth import Fit

# A minute of work weighs as much as this much money of the site [A].
MONEY_PER_MINUTE = 1.0
# Ways that ask for more than care: a written warning, or a core that nobody has proved.
_SAFETY = {Way.DROP_AS_FEED: 2, Way.HALF_WAVE: 3}
# Ways that need the ceiling point as it is taken to be; while nobody looked they are this much less certain.
_AT_THE_CEILING = (
    Way.WITH_BYPASS,
    *ALOFT,
    Way.DROP_AS_FEED,
    Way.SPARE_AS_NEUTRAL,
    Way.NEW_NEUTRAL,
)
UNSEEN = 0.5
_THE_PURPOSE = ("no_remote", "no_program")
_WEIGHT = {
    "no_remote": 3.0,
    "no_wired_control": 3.0,
    "no_companion": 3.0,
    "no_program": 3.0,
    "no_dimming": 2.0,
    "fabric_opened": 2.0,
}


def scores_of(ask: Asked, row: Rated) -> Mapping[Value, float]:
    """What counts against it, value by value; less is better."""
    spare = row.way is Way.SPARE_AS_NEUTRAL and "spare_not_proved" in ask.found.assumed
    safety = float(_SAFETY.get(row.way, 1 if spare else 0))
    share = 1.0
    if row.overall is not None and row.overall.sample_count:
        share = row.overall.well_count / row.overall.sample_count
    certainty = float(WORKS_RANK[row.works]) + (1.0 - round(share * 20.0) / 20.0)
    if row.way in _AT_THE_CEILING and "ceiling_not_seen" in ask.found.assumed:
        certainty += UNSEEN
    if row.depth is not None:
        certainty += {Fit.DOES_NOT_FIT: 4.0, Fit.UNKNOWN: 0.0}.get(row.depth.fit, 0.0)
    function = sum(_WEIGHT.get(loss, 1.0) for loss in row.losses)
    return {
        Value.SAFETY: safety,
        Value.CERTAINTY: certainty,
        Value.FUNCTION: function,
        Value.COST: row.minutes[0] * MONEY_PER_MINUTE + (100.0 if row.price is None else row.price),
    }


def _key(row: Rated, order: Sequence[Value]) -> tuple[float, ...]:
    if row.scores is None:
        return (3.0,)
    # What was asked for and is not given comes after what is, however cheap it is.
    misses = any(loss in _THE_PURPOSE for loss in row.losses)
    return (2.0 if not row.is_usable else 1.0 if misses else 0.0, *(row.scores[value] for value in order))


def ordered(rows: Sequence[Rated], order: tuple[Value, ...], *, is_complete: bool) -> Comparison:
    """Ways with the best first, what is favoured and why, and what another order would favour."""
    ranked = sorted(rows, key=lambda row: _key(row, order))
    usable = [row for row in ranked if row.is_usable]
    because = None
    if len(usable) > 1 and usable[0].scores is not None and usable[1].scores is not None:
        one, other = usable[0].scores, usable[1].scores
        because = next(((value, usable[1].way) for value in order if one[value] < other[value]), None)
    elsewhere: dict[Value, Way] = {}
    for first in order:
        turned = (first, *(value for value in order if value is not first))
        best = min(usable, key=lambda row: _key(row, turned), default=None)  # used at once
        if best is not None and best.way is not usable[0].way:
            elsewhere[first] = best.way
    return Comparison(
        rows=tuple(ranked),
        favoured=usable[0].way if usable else None,
        because=because,
        elsewhere=elsewhere,
        is_complete=is_complete,
    )
