"""Least and largest load of a control, whole: off, on, held, declared, derated and on its contact, and what governs.

Every limit is turned into a number of lamps of the largest group, the other groups staying as they are, so that limits
of different kinds can be compared; what cannot be is kept beside.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import inf
from typing import Any

from ember_core.compatibility.matrix import EDGES, Goes, class_of, declared_of, together
from ember_core.lit.decay import TURN_OFF_DEG, decay_spare_s
from ember_core.lit.holding import holds_to_deg, latches_from_deg, wanted_hold_deg
from ember_core.lit.ranges import SAMPLES, LitFigures, samples_of, typical_of
from ember_core.lit.spans import share_of
from ember_core.lit.stress import (
    inrush,
    largest_group,
    peak_allowed_a,
    rms_allowed_a,
    stiff,
    stress,
    with_count,
)
from ember_core.lit.supply import fed_while_on, gap_deg
from ember_core.loop import Loop
from ember_core.parts import Lamp, PhaseMode, is_led, is_transformer, rated_w, watts_name
from ember_core.quantities import Source
from ember_core.remembered import remembered
from ember_core.sheet import Sheet
from ember_core.spread.judged import SURE_RATIO
from ember_core.spread.least_load import MOST_LAMPS, least_load, share_there, smallest
from ember_core.spread.most_load import Load, declared_loads

LEAST_DECLARED = "least_declared"
# The control's own supply with the light on, through what draws like a resistor or through capacitance.
SUPPLIES = ("supply_gap", "supply_on")
# The rating of the control that a limit which is worked out is held against.
_RATED = {
    "peak": "p_max_filament_w",
    "rms": "p_max_filament_w",
    "inrush_peak": "i_inrush_max_a",
    "inrush_i2t": "i2t_max_a2s",
}
Holds = Callable[[Loop, LitFigures], bool]


class Side(StrEnum):
    """Whether a limit is one from below or from above."""

    LEAST = "least"
    MOST = "most"


class From(StrEnum):
    """Where a limit comes from: by the source of the figure that it rests on, or worked out."""

    DECLARED = "declared"
    MEASURED = "measured"
    ASSUMED = "assumed"
    COMPUTED = "computed"


class LoadState(StrEnum):
    """What all limits say together, from good to bad."""

    MET = "met"
    ASSUMED = "assumed"  # met, but a limit of the control is assumed
    UNKNOWN = "unknown"
    BELOW_DECLARED = "below_declared"
    NOT_MET = "not_met"


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadLimit:
    """One limit.

    Parameters
    ----------
    rule : what it is, a code. side : below or above. origin : see `From`.
    count : lamps of the group; None where it is not known or no number up to `MOST_LAMPS` meets it (`is_reached`).
    watts : of the whole load with that many; None where watts are not known.
    is_met : by the lamps that are there; None where it is not known, or in some of the samples only.
    is_reached : False where hardly a sample meets it with any number of lamps.
    load : the limit itself, of one that is stated and not worked out.
    is_assumed : it rests on a figure that nobody declares or measured.
    watts_range : fewest and most watts of the load where those of lamps are assumed, and it is kept with the ones and
        broken with the others; else None.
    """

    rule: str
    side: Side
    origin: From
    count: int | None
    watts: float | None
    is_met: bool | None
    is_reached: bool = True
    load: Load | None = None
    is_assumed: bool = False
    watts_range: tuple[float, float] | None = None

    @property
    def is_beside(self) -> bool:
        """A declared current beside lamps of which it says nothing."""
        return self.load is not None and self.load.rule == "most_current" and self.load.actual is None


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadLimits:
    """Every limit of a gang.

    Parameters
    ----------
    group : the group that is counted, from 1. there : lamps of it. watts : of the whole load.
    least, most : places in `rows` of the limits that govern; None where nothing is known.
    """

    group: int
    there: int
    watts: float | None
    rows: tuple[LoadLimit, ...]
    least: int | None
    most: int | None

    @property
    def state(self) -> LoadState:
        """What they say together, the light off among them."""
        return state_of(self.rows)


def state_of(rows: Iterable[LoadLimit]) -> LoadState:
    """What limits say together.

    Less than the least declared load is what a bypass is fitted for: whether it serves is computed, whether the maker
    bears with it only the maker says. That alone is neither kept nor broken.
    """
    told = [row for row in rows if not row.is_beside]
    broken = [row for row in told if row.is_met is False]
    if broken:
        return LoadState.BELOW_DECLARED if all(row.rule == LEAST_DECLARED for row in broken) else LoadState.NOT_MET
    if any(row.is_met is None for row in told):
        return LoadState.UNKNOWN
    return LoadState.ASSUMED if any(row.is_assumed for row in told) else LoadState.MET


@remembered
def load_limits(given: Sheet, *, headroom_ratio: float | None = None, seed: int = 1) -> LoadLimits:
    """Least and largest load of a gang, off and on.

    Computed limits hold for 95 of 100 samples of what nobody states, on a supply 10 % low or high as it is worse.

    Raises
    ------
    SolverError : the off state could not be computed.
    """
    loop = given.loop
    group = largest_group(loop)
    rows = [_off(given, group, seed)]
    rows += _declared_rows(given, group)
    dimming = _edges(loop)
    if PhaseMode.LEADING in dimming:
        rows += _leading(given, group, headroom_ratio, seed)
    if PhaseMode.TRAILING in dimming:
        rows += _trailing(given, group, seed)
    if not dimming:
        rows += _contact(given, group, seed)
    rows += [_transformer(given, k) for k, lamp in enumerate(loop.lamps) if getattr(lamp, "p_least_w", None)]
    known = [row for row in rows if row.count is not None]
    least = [row for row in known if row.side is Side.LEAST]
    most = [row for row in known if row.side is Side.MOST]
    return LoadLimits(
        group=group + 1,
        there=loop.lamps[group].count,
        watts=_watts(loop),
        rows=tuple(rows),
        least=rows.index(max(least, key=lambda row: row.count or 0)) if least else None,
        most=rows.index(min(most, key=lambda row: row.count or 0)) if most else None,
    )


def share_on(given: Sheet, *, seed: int = 1, samples: int = SAMPLES) -> float | None:
    """Share of samples in which control and load do with the light on what hangs on the load and its bypass [1].

    A leading edge holds, latches and finds its supply, a trailing one is emptied in time, a relay finds its supply;
    of a control that chooses its edge the worse one counts. None where nothing hangs on it.
    """
    loop = given.loop
    shares = []
    for edge, rules in _rules_on(loop):
        tried = samples_of(loop, samples, seed, given.figures, edge)
        shares.append(share_of([all(holds(loop, figures) for holds in rules) for figures in tried]))
    return min(shares, default=None)


def _rules_on(loop: Loop) -> list[tuple[PhaseMode, tuple[Holds, ...]]]:
    """What has to hold on each edge that counts."""
    has_feed = loop.control.standby is not None
    dimming = _edges(loop)
    found: list[tuple[PhaseMode, tuple[Holds, ...]]] = []
    if PhaseMode.LEADING in dimming:
        found.append((PhaseMode.LEADING, (_holds, _latches, *((_gap_fits,) if has_feed else ()))))
    if PhaseMode.TRAILING in dimming:
        found.append((PhaseMode.TRAILING, (_decays,)))
    if not dimming and has_feed:
        found.append((PhaseMode.ON_OFF, (fed_while_on,)))
    return found


def _edges(loop: Loop) -> tuple[PhaseMode, ...]:
    """The edges that a load must suit: of a control to be set the one it will be set to, of one that chooses both."""
    mode = loop.control.phase_mode
    if mode in (PhaseMode.LEADING, PhaseMode.TRAILING):
        return (mode,)
    if mode is PhaseMode.AUTOMATIC:
        return (PhaseMode.TRAILING, PhaseMode.LEADING)
    if mode is PhaseMode.SELECTABLE:
        loads = [(class_of(lamp), declared_of(lamp)) for lamp in loop.lamps]
        may = [edge for edge in EDGES if together(loads, edge).verdict is not Goes.MUST_NOT]
        return ((*may, *EDGES)[0],)
    return ()


def _watts(loop: Loop, group: int | None = None, count: int | None = None) -> float | None:
    """Watts of the whole load, with so many lamps in a group."""
    total = 0.0
    for k, lamp in enumerate(loop.lamps):
        each = rated_w(lamp)
        if each is None:
            return None
        total += each * (count if k == group and count is not None else lamp.count)
    return total


def _row(loop: Loop, group: int, rule: str, side: Side, count: int | None, *, is_met: bool | None) -> LoadLimit:
    return LoadLimit(
        rule=rule,
        side=side,
        origin=From.COMPUTED,
        count=count,
        watts=None if count is None else _watts(loop, group, count),
        is_met=is_met,
        is_reached=count is not None,
    )


def _off(given: Sheet, group: int, seed: int) -> LoadLimit:
    """Fewest lamps that stay dark and leave the control fed while off, with the bypass as it is."""
    found = least_load(given, group, seed=seed)
    # As sure as the lamps that are there are: the same share that the verdict on the light off is made of.
    share = share_there(given, seed=seed)
    is_met = True if share >= SURE_RATIO else None if share > 1.0 - SURE_RATIO else False
    return _row(given.loop, group, "off", Side.LEAST, found.count, is_met=is_met)


def _declared_rows(given: Sheet, group: int) -> list[LoadLimit]:
    """Declared limits; where assumed watts of lamps decide one, it is not known whether it is kept."""
    fewest, most = _at_ends(given)
    rows = []
    for load, low, high in zip(*(declared_loads(loop) for loop in (given.loop, fewest, most)), strict=True):
        row = _declared(given, group, load)
        if {load.is_met, low.is_met, high.is_met} == {True, False}:
            ends = _watts(fewest) or 0.0, _watts(most) or 0.0
            row = replace(row, is_met=None, watts_range=ends)
        rows.append(row)
    return rows


def _at_ends(given: Sheet) -> tuple[Loop, Loop]:
    """The loop with the fewest and with the most watts that its lamps are assumed to take."""
    ends: tuple[list[Lamp], list[Lamp]] = ([], [])
    for k, lamp in enumerate(given.loop.lamps):
        name = watts_name(lamp)
        figure = given.figures.get(f"lamps[{k}].{name}")
        is_assumed = figure is not None and figure.source is Source.ASSUMED
        for end, value in zip(ends, (figure.low, figure.high) if figure else (0.0, 0.0), strict=True):
            change: dict[str, Any] = {name: value} if is_assumed else {}
            end.append(replace(lamp, **change))
    return replace(given.loop, lamps=tuple(ends[0])), replace(given.loop, lamps=tuple(ends[1]))


def _declared(given: Sheet, group: int, load: Load) -> LoadLimit:
    """A declared limit; as a count by what the other groups leave of it."""
    loop = given.loop
    side = Side.LEAST if load.rule == LEAST_DECLARED else Side.MOST
    count = None
    each, rest = rated_w(loop.lamps[group]), _watts(loop, group, 0)
    # Amperes of a resistive load are never turned into watts of other lamps.
    is_told = load.actual is not None and load.rule != "most_mixed"
    if is_told and load.limit is not None and each and rest is not None:
        limit_w = load.limit * loop.supply.v_rms if load.rule == "most_current" else load.limit
        left = (limit_w - rest) / each
        # A hair of slack, so that 5 lamps of 6 W meet 30 W.
        count = max(0, -int(-(left - 1e-9) // 1) if side is Side.LEAST else int(left * (1.0 + 1e-9)))
    return LoadLimit(
        rule=load.rule,
        side=side,
        origin=_origin(given, load.ratings),
        count=count,
        watts=None if count is None else _watts(loop, group, count),
        is_met=load.is_met,
        load=load,
        is_assumed=_origin(given, load.ratings) is From.ASSUMED,
    )


def _resting_on(given: Sheet, rows: Iterable[LoadLimit]) -> list[LoadLimit]:
    """Limits that are worked out from a rating of the control, by rule, as sure as the rating is."""
    return [replace(row, is_assumed=_origin(given, (_RATED[row.rule],)) is From.ASSUMED) for row in rows]


def _origin(given: Sheet, ratings: Iterable[str]) -> From:
    """As little as the least of them is worth; what is missing is its maker's to say."""
    there = [name for name in ratings if getattr(given.loop.control, name) is not None]
    sources = {given.source_of(f"control.{name}") for name in there}
    return From(next((one for one in (Source.ASSUMED, Source.MEASURED) if one in sources), Source.DECLARED))


def _least(loop: Loop, group: int, holds: Callable[[Loop], bool]) -> int | None:
    """Fewest lamps of the group for which it holds; None when up to `MOST_LAMPS` none does."""
    return smallest(lambda count: holds(with_count(loop, group, count)), 1)


def _most(loop: Loop, group: int, holds: Callable[[Loop], bool]) -> int:
    """Most lamps of the group for which it holds, up to `MOST_LAMPS`."""
    low, high = 0, MOST_LAMPS + 1
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if holds(with_count(loop, group, middle)) else (low, middle)
    return low


def _search(
    loop: Loop, group: int, tried: Sequence[LitFigures], rules: Sequence[tuple[str, Side, Holds]]
) -> list[LoadLimit]:
    rows = []
    for rule, side, holds in rules:

        def share(on: Loop, holds: Holds = holds) -> float:
            return share_of([holds(on, figures) for figures in tried])

        def surely(on: Loop) -> bool:
            return share(on) >= SURE_RATIO

        count = _least(loop, group, surely) if side is Side.LEAST else _most(loop, group, surely)
        there = share(loop)
        is_met = True if there >= SURE_RATIO else None if there > 1.0 - SURE_RATIO else False
        row = _row(loop, group, rule, side, count, is_met=is_met)
        if count is None:
            best = max(there, share(with_count(loop, group, MOST_LAMPS)))
            row = replace(row, is_reached=best > 1.0 - SURE_RATIO)
        rows.append(row)
    return rows


def _leading(given: Sheet, group: int, headroom_ratio: float | None, seed: int) -> list[LoadLimit]:
    loop = given.loop
    tried = samples_of(loop, SAMPLES, seed, given.figures, PhaseMode.LEADING)
    rules: list[tuple[str, Side, Holds]] = [
        ("holds", Side.LEAST, _holds),
        ("latches", Side.LEAST, _latches),
    ]
    if loop.control.standby is not None:
        rules.append(("supply_gap", Side.LEAST, _gap_fits))
    rows = _search(loop, group, tried, rules)
    headroom = headroom_ratio or typical_of(loop, given.figures).control["headroom_ratio"]
    peak_a, rms_a = peak_allowed_a(loop, headroom), rms_allowed_a(loop)
    if peak_a is None or rms_a is None:
        unknown = [
            replace(_row(loop, group, rule, Side.MOST, None, is_met=None), is_reached=True) for rule in ("peak", "rms")
        ]
        return rows + unknown
    # As everywhere with a count of lamps on a peak: typical figures, on a stiff supply.
    hard = [stiff(loop, typical_of(loop, given.figures, PhaseMode.LEADING))]
    borne = _search(
        loop,
        group,
        hard,
        [
            ("peak", Side.MOST, lambda on, figures: stress(on, figures).i_peak_a <= peak_a),
            ("rms", Side.MOST, lambda on, figures: stress(on, figures).i_rms_a <= rms_a),
        ],
    )
    return rows + _resting_on(given, borne)


def _holds(loop: Loop, figures: LitFigures) -> bool:
    return holds_to_deg(loop, figures) >= wanted_hold_deg(loop)


def _latches(loop: Loop, figures: LitFigures) -> bool:
    return latches_from_deg(loop, figures) < inf


def _decays(loop: Loop, figures: LitFigures) -> bool:
    return min(decay_spare_s(loop, figures, angle) for angle in TURN_OFF_DEG) >= 0.0


def _gap_fits(loop: Loop, figures: LitFigures) -> bool:
    return gap_deg(loop, figures) <= figures.control["gap_deg"]


def _trailing(given: Sheet, group: int, seed: int) -> list[LoadLimit]:
    """The decay, which is hardly a matter of the count: lamps bring their capacitance and what empties it.

    Where it decays at the lowest level the top can be set so that it does: not known, and neither broken nor out of
    reach.
    """
    tried = samples_of(given.loop, SAMPLES, seed, given.figures, PhaseMode.TRAILING)
    (row,) = _search(given.loop, group, tried, [("decays", Side.LEAST, _decays)])
    lowest = share_of([decay_spare_s(given.loop, figures, TURN_OFF_DEG[0]) >= 0.0 for figures in tried])
    can_be_set = row.is_met is False and lowest > 1.0 - SURE_RATIO
    return [replace(row, is_met=None, is_reached=True) if can_be_set else row]


def _contact(given: Sheet, group: int, seed: int) -> list[LoadLimit]:
    loop = given.loop
    tried = samples_of(loop, SAMPLES, seed, given.figures, PhaseMode.ON_OFF)
    rows = _search(loop, group, tried, [("supply_on", Side.LEAST, fed_while_on)]) if loop.control.standby else []
    hard = [stiff(loop, typical_of(loop, given.figures, PhaseMode.ON_OFF))]
    rated_a, rated_a2s = loop.control.i_inrush_max_a, loop.control.i2t_max_a2s
    rules: list[tuple[str, Side, Holds]] = []
    if rated_a is not None:
        rules.append(("inrush_peak", Side.MOST, lambda on, figures: inrush(on, figures).i_peak_a <= rated_a))
    if rated_a2s is not None:
        rules.append(("inrush_i2t", Side.MOST, lambda on, figures: inrush(on, figures).i2t_a2s <= rated_a2s))
    rows += _resting_on(given, _search(loop, group, hard, rules))
    if not rules and any(is_led(lamp) for lamp in loop.lamps):
        rows.append(replace(_row(loop, group, "inrush_peak", Side.MOST, None, is_met=None), is_reached=True))
    return rows


def _transformer(given: Sheet, group: int) -> LoadLimit:
    """Least load of an electronic transformer: of what hangs on each one, not of their number."""
    lamp: Lamp = given.loop.lamps[group]
    least, watts = getattr(lamp, "p_least_w", None), rated_w(lamp)
    is_met = None if least is None or watts is None or not is_transformer(lamp) else watts >= least
    origin = From(given.source_of(f"lamps[{group}].p_least_w"))
    return LoadLimit(
        rule="transformer",
        side=Side.LEAST,
        origin=origin,
        count=None,
        watts=least,
        is_met=is_met,
        load=Load(rule="transformer", limit=least, actual=watts, most_count=None, is_met=is_met),
        is_assumed=origin is From.ASSUMED,
    )
