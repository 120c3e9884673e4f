"""The ways through one loop side by side: what each does off and on, whether it goes in, what is lost, time and price.

Each way is judged with the control that is planned, where that serves it, else with the one of the shelf that fares
best; its wiring is proved, its depth checked. Which is favoured follows an order of values that a firm may set.
Figures marked [A] are engineering assumptions.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from ember_core.bypass.choose import Candidate as BypassCandidate
from ember_core.bypass.choose import choose, without_bypass
from ember_core.bypass.place import Place, Where
from ember_core.errors import SolverError
from ember_core.judgement import judge
from ember_core.overall import Overall, Works, overall
from ember_core.parts import PhaseMode
from ember_core.parts.controls import Control, StandbyFeed
from ember_core.parts.hardware import Hardware, Sort, WithoutHub, YesNo
from ember_core.quantities import quantities_of
from ember_core.routes.making import gangs_of
from ember_core.routes.surveyed import Surveyed
from ember_core.routes.tasks import Known, tasks_of
from ember_core.routes.ways import (
    ALOFT,
    COMPANION_AT_WALL,
    MODULES,
    WITH_NEUTRAL,
    WITHOUT_A_CONTROL,
    Route,
    Way,
    on_a_box,
    on_a_landing,
    serves,
    ways_for,
)
from ember_core.sheet import Sheet
from ember_core.survey.box import Box
from ember_core.survey.depth import ControlBody, DepthCheck, Fit, check_depth
from ember_core.times.minutes import Minutes, Task, estimate
from ember_core.wiring.drawing import Companion
from ember_core.wiring.drawing import Control as WiredControl


class Value(StrEnum):
    """What a firm weighs, in an order of its own."""

    SAFETY = "safety"
    CERTAINTY = "certainty"
    FUNCTION = "function"
    COST = "cost"


ORDER = tuple(Value)
# What the old switch takes of the depth where it stays in front of a module [m] [A].
OLD_SWITCH_DEPTH_M = 0.022
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
_NOT_REVERSIBLE = (Way.NEW_NEUTRAL,)
_WORKS_RANK = {Works.WORKS: 0, Works.PROBABLY: 0, Works.NOT_SURE: 1, Works.UNKNOWN: 2, Works.DOES_NOT: 3}
_VERDICT_ORDER = ("dark", "close", "marginal", "unknown", "glow", "blink", "starved")
# So many bypasses are looked at over the ranges; the others stand behind them already by their typical figures.
MOST_BYPASSES = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Offered:
    """A control of the shelf.

    Parameters
    ----------
    key : its identity. sheets : for each gang the loop with it in place and no bypass; none where a gang lacks lamps.
    is_assumed : nobody says what terminals it has. is_there : it is fitted already, and need not be bought.
    """

    key: str
    hardware: Hardware
    sheets: Mapping[int, Sheet]
    is_assumed: bool = False
    is_there: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """A loop and what may be done with it.

    Parameters
    ----------
    as_found : for each gang the loop with its ordinary switch. planned : for each gang the control of the bench.
    kept : gangs whose ordinary switch stays. bypasses : those of the shelf.
    fitted_bypass : for each gang the bypass on the bench. bypass_there : gangs where it hangs already.
    places : where a bypass goes.
    box : for the depth; None while it was not surveyed. known : what of the job is settled.
    minutes : the firm's own of each task; class figures where it has none.
    order : what is weighed first.
    """

    found: Surveyed
    offered: Sequence[Offered]
    planned: Mapping[int, str]
    as_found: Mapping[int, Sheet]
    kept: Sequence[int] = ()
    bypasses: Sequence[BypassCandidate] = ()
    fitted_bypass: Mapping[int, BypassCandidate] = ()  # type: ignore[assignment]  # an empty one
    bypass_there: Sequence[int] = ()
    places: Mapping[int, Place] = ()  # type: ignore[assignment]  # an empty one
    box: Box | None = None
    spacers_m: tuple[float, ...] = ()
    known: Known = field(default_factory=Known)
    minutes: Mapping[Task, Minutes] = field(default_factory=dict)
    order: tuple[Value, ...] = ORDER


@dataclass(frozen=True, slots=True, kw_only=True)
class Rated:
    """One way with everything that is weighed.

    Parameters
    ----------
    against : code of what stands against it; the rest is then empty.
    control : key of the part; None for a way without one. others : keys of further parts that serve it.
    bypass : for each gang the key of the bypass that it is judged with.
    works : of the gang that fares worst, as `overall` says it; None where lamps are not known.
    depth : None where box or part has no size. dims : phase mode of a dimmer, None for one that switches only.
    losses : codes of what is lost against what is planned.
    minutes : as likely more as less, and nine of ten within [min].
    price : of what must be bought; None where one price is not known.
    """

    way: Way
    against: str | None
    route: Route | None = None
    control: str | None = None
    others: tuple[str, ...] = ()
    bypass: Mapping[int, str] | None = None
    works: Works = Works.UNKNOWN
    overall: Overall | None = None
    gang: int = 1
    depth: DepthCheck | None = None
    dims: PhaseMode | None = None
    without_hub: str = ""
    after_power: str = ""
    losses: tuple[str, ...] = ()
    minutes: tuple[float, float] = (0.0, 0.0)
    price: float | None = None
    is_reversible: bool = True
    scores: Mapping[Value, float] | None = None

    @property
    def is_usable(self) -> bool:
        """It can be, works as far as anybody knows, and goes in."""
        fits = self.depth is None or self.depth.fit is not Fit.DOES_NOT_FIT
        return self.against is None and self.works in (Works.WORKS, Works.PROBABLY, Works.NOT_SURE) and fits


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """The ways in order.

    Parameters
    ----------
    favoured : the first that is usable; None where none is. because : the value that puts it before the next, and that
        next. elsewhere : with another value first, what would be favoured, where that differs.
    """

    rows: tuple[Rated, ...]
    favoured: Way | None
    because: tuple[Value, Way] | None
    elsewhere: Mapping[Value, Way]
    is_complete: bool


# Told how many ways are rated, of how many, and the order so far; False stops.
Progress = Callable[[int, int, Comparison], bool]


def compare(ask: Asked, progress: Progress | None = None) -> Comparison:
    """Rate every way; with a progress that stops, those that were rated by then.

    Raises
    ------
    InputError : the order of values is not one of all four.
    """
    found = ask.found
    if found.seats is None:
        return _ordered((), ask.order, is_complete=True)
    ways = ways_for(found.seats, is_landing=found.is_landing)
    rows: list[Rated] = []
    for done, way in enumerate(ways, 1):
        rows.append(rate(ask, way))
        so_far = _ordered(rows, ask.order, is_complete=done == len(ways))
        if progress is not None and not progress(done, len(ways), so_far):
            return so_far
    return _ordered(rows, ask.order, is_complete=True)


def rate(ask: Asked, way: Way, control: str | None = None) -> Rated:
    """One way, with the control that is asked for, or the planned one, or the best of the shelf."""
    if way in WITHOUT_A_CONTROL:
        route = route_of(ask, way, None)
        if route.against is not None:
            return Rated(way=way, against=route.against, route=route)
        return _judged(ask, way, None, route, ask.as_found, ())
    able = [one for one in ask.offered if serves(one.hardware, way)]
    if not able:
        route = route_of(ask, way, None)
        return Rated(way=way, against=route.against or "no_part_on_the_shelf", route=route)
    routed = [(one, route_of(ask, way, one.hardware)) for one in able]
    possible = [(one, route) for one, route in routed if route.against is None]
    if not possible:
        first = next((route for one, route in routed if one.key in ask.planned.values()), routed[0][1])
        return Rated(way=way, against=first.against, route=first)
    ranked = sorted(possible, key=lambda entry: _first_look(ask, way, entry[0], control))
    one, route = ranked[0]
    return _judged(ask, way, one, route, one.sheets, tuple(entry.key for entry, _ in ranked[1:]))


def route_of(ask: Asked, way: Way, hardware: Hardware | None) -> Route:
    """One way through what was found."""
    found = ask.found
    if found.seats is None:
        return Route(way=way, against=found.against)
    if found.is_landing:
        ends = (found.near, found.far, found.middle)
        return on_a_landing(way, found.seats, *ends, hardware, found.feed, found.stair)
    in_junction = [gang for gang, place in dict(ask.places).items() if place.where is Where.JUNCTION_BOX]
    return on_a_box(way, found.seats, found.feed, hardware, ask.kept, in_junction)


def _first_look(ask: Asked, way: Way, one: Offered, control: str | None) -> tuple[float, ...]:
    """What is asked for first, then what is planned, then by typical figures, depth, the wish to dim, and price."""
    fits = _depth(ask, way, one)
    wish = _dims(ask)
    return (
        one.key != control,
        one.key not in ask.planned.values(),
        max((_VERDICT_ORDER.index(_nominal(sheet, way)) for sheet in one.sheets.values()), default=3),
        fits is not None and fits.fit is Fit.DOES_NOT_FIT,
        way in (*COMPANION_AT_WALL, Way.CONTROL_AND_COMPANION) and one.hardware.word("companion") is YesNo.NO,
        wish != any(_is_dimmer(sheet) for sheet in one.sheets.values()),
        one.hardware.price or 1e6,
    )


def _nominal(sheet: Sheet, way: Way) -> str:
    try:
        return judge(wired_for(sheet, way), with_meter=False).verdict.value
    except SolverError:
        return "unknown"


def wired_for(sheet: Sheet, way: Way) -> Sheet:
    """The loop as a way has it: fed straight its electronics take nothing through the lamps; a pair stands twice."""
    if way in WITH_NEUTRAL:
        return _with_control(sheet, replace(sheet.loop.control, standby=None))
    return _with_control(sheet, pair_of(sheet.loop.control), _PAIR) if way is Way.PAIR else sheet


def _with_control(sheet: Sheet, control: Control, factors: Mapping[str, float] | None = None) -> Sheet:
    """The sheet with another control; ranges of its figures go along, scaled, or go with what is not there."""
    figures = {}
    for path, figure in sheet.figures.items():
        if control.standby is None and path.startswith("control.standby"):
            continue
        factor = (factors or {}).get(path, 1.0)
        figures[path] = replace(
            figure, low=figure.low * factor, typical=figure.typical * factor, high=figure.high * factor
        )
    return replace(sheet, loop=replace(sheet.loop, control=control), figures=figures)


# What two equal controls side by side are against one; voltages stay, and so does what only one of them carries.
_PAIR: Mapping[str, float] = {
    "control.c_snubber_f": 2.0,
    "control.r_leak_ohm": 0.5,
    "control.p_min_w": 2.0,
    "control.standby.p_w": 2.0,
    "control.standby.i_a": 2.0,
    "control.standby.c_series_f": 2.0,
    "control.standby.c_reservoir_f": 2.0,
    "control.standby.r_in_ohm": 0.5,
    "control.standby.r_reservoir_ohm": 0.5,
    "control.standby.r_discharge_ohm": 0.5,
    "control.standby.r_shunt_ohm": 0.5,
}


def pair_of(control: Control) -> Control:
    """Two equal controls side by side: what passes through them while off is doubled, voltages stay."""
    feed = control.standby
    doubled = None if feed is None else replace(feed, **_scaled(feed, "control.standby."))
    return replace(control, standby=doubled, **_scaled(control, "control."))


def _scaled(part: Control | StandbyFeed, prefix: str) -> dict[str, Any]:
    """The figures of a part that a pair has otherwise."""
    kind: Any = type(part)
    return {
        name: value * _PAIR[f"{prefix}{name}"]
        for name, _ in quantities_of(kind)
        if f"{prefix}{name}" in _PAIR and (value := getattr(part, name)) is not None
    }


def _judged(
    ask: Asked, way: Way, one: Offered | None, route: Route, sheets: Mapping[int, Sheet], others: tuple[str, ...]
) -> Rated:
    bypass: dict[int, BypassCandidate] = {}
    worst: tuple[Overall, int] | None = None
    # A gang that lacks its lamps, or that cannot be computed, leaves the whole unknown.
    is_whole = all(gang in sheets for gang in _gangs(ask, way))
    for gang, plain in sheets.items():
        sheet = wired_for(plain, way)
        if way is Way.DROP_AS_FEED:
            continue
        if way is Way.WITH_BYPASS and plain.loop.control.standby is not None:
            found, chosen = _best_bypass(ask, gang, sheet)
            if chosen is None:
                return Rated(way=way, against="no_bypass_does", route=route)
            bypass[gang] = chosen
        else:
            found = _overall(sheet)
        is_whole = is_whole and found is not None
        if found is not None and (worst is None or _rank(found) > _rank(worst[0])):
            worst = (found, gang)
    if way is Way.WITH_BYPASS and not bypass:
        return Rated(way=way, against="no_bypass_does", route=route)
    depth = _depth(ask, way, one)
    dims = next((mode for sheet in sheets.values() if (mode := _mode(sheet)) is not None), None)
    losses = _losses(ask, way, one, dims)
    works = Works.PROBABLY if way is Way.DROP_AS_FEED else Works.UNKNOWN if worst is None else worst[0].works
    if way is not Way.DROP_AS_FEED and not is_whole and works is not Works.DOES_NOT:
        works = Works.UNKNOWN
    price = _price(ask, one, route, bypass)
    made = Rated(
        way=way,
        against=None,
        route=route,
        control=None if one is None else one.key,
        others=others,
        bypass={gang: chosen.name for gang, chosen in bypass.items()},
        works=works,
        overall=None if worst is None else worst[0],
        gang=1 if worst is None else worst[1],
        depth=depth,
        dims=dims,
        without_hub="" if one is None else (one.hardware.word("without_hub") or ""),
        after_power="" if one is None else (one.hardware.word("after_power") or ""),
        losses=losses,
        minutes=minutes_of(ask, route, one, depth, dims is not None, is_in_place=_is_in_place(ask, way, one, bypass)),
        price=price,
        is_reversible=way not in _NOT_REVERSIBLE,
    )
    return replace(made, scores=_scores(ask, made))


def minutes_of(
    ask: Asked, route: Route, one: Offered | None, depth: DepthCheck | None, dims: bool, *, is_in_place: bool
) -> tuple[float, float]:
    """Minutes of a way [min]: as likely more as less, and nine of ten within."""
    if route.wanted is None or ask.found.seats is None:
        return 0.0, 0.0
    hardware = None if one is None else one.hardware
    known = replace(ask.known, is_in_place=is_in_place)
    tasks = tasks_of(ask.found.seats, route.wanted, known=known, hardware=hardware, depth=depth, dims=dims)
    found = estimate(tasks, ask.minutes)
    return found.likely, found.within


def _is_in_place(ask: Asked, way: Way, one: Offered | None, bypass: Mapping[int, BypassCandidate]) -> bool:
    """The control is fitted, and so is the bypass that the way wants and no other."""
    if one is None or not one.is_there or way not in (Way.TWO_WIRE, Way.WITH_BYPASS):
        return False
    fitted = {gang: candidate.name for gang, candidate in dict(ask.fitted_bypass).items()}
    wanted = {gang: candidate.name for gang, candidate in bypass.items()}
    return wanted == fitted and all(gang in ask.bypass_there for gang in wanted)


def _gangs(ask: Asked, way: Way) -> list[int]:
    """Gangs whose judgement a way hangs on."""
    if ask.found.seats is None:
        return [1]
    if ask.found.is_landing:
        return [ask.found.stair]
    return [gang for gang in gangs_of(ask.found.seats) if way is Way.LEAVE or gang not in ask.kept]


def _rank(found: Overall) -> tuple[int, float]:
    share = found.well_count / found.sample_count if found.sample_count else 0.0
    return _WORKS_RANK[found.works], -share


def _overall(sheet: Sheet) -> Overall | None:
    try:
        return overall(sheet, judge(sheet, with_meter=False))
    except SolverError:
        return None


def _best_bypass(ask: Asked, gang: int, sheet: Sheet) -> tuple[Overall | None, BypassCandidate | None]:
    """That of the bench where there is one, else the best by typical figures, looked at over the ranges."""
    fitted = dict(ask.fitted_bypass).get(gang)
    on_bench = None if fitted is None else _overall(_bypassed(sheet, fitted))
    if fitted is not None and on_bench is not None and _WORKS_RANK[on_bench.works] == 0:
        return on_bench, fitted
    place = dict(ask.places).get(gang)
    choosing = choose(sheet, ask.bypasses, spread=False, place=place)
    by_name = {candidate.name: candidate for candidate in ask.bypasses}
    names = [c.name for c in choosing.choices if c.bypass is not None and c.verdict != "rejected"][:MOST_BYPASSES]
    found = [(_overall(_bypassed(sheet, by_name[name])), by_name[name]) for name in names]
    looked = [(one, candidate) for one, candidate in found if one is not None]
    if fitted is not None and on_bench is not None:
        looked.insert(0, (on_bench, fitted))
    return min(looked, key=lambda entry: _rank(entry[0]), default=(None, None))


def _bypassed(sheet: Sheet, candidate: BypassCandidate) -> Sheet:
    bare = without_bypass(sheet)
    loop = replace(bare.loop, bypass=() if candidate.bypass is None else (candidate.bypass,))
    figures = {**bare.figures, **{f"bypass[0].{name}": figure for name, figure in candidate.figures.items()}}
    return replace(bare, loop=loop, figures=figures)


def _depth(ask: Asked, way: Way, one: Offered | None) -> DepthCheck | None:
    return depth_of(way, None if one is None else one.hardware, ask.box, ask.spacers_m)


def depth_of(way: Way, hardware: Hardware | None, box: Box | None, spacers_m: tuple[float, ...]) -> DepthCheck | None:
    """Whether it goes into the box; None where nothing goes there, or nobody knows box or part."""
    if hardware is None or box is None or hardware.depth_m is None or way in ALOFT:
        return None
    body = ControlBody(
        depth_m=hardware.depth_m + (OLD_SWITCH_DEPTH_M if way is Way.MODULE_BEHIND_SWITCH else 0.0),
        width_m=hardware.width_m or 0.045,
        height_m=hardware.height_m or 0.045,
        lead_count=hardware.count("leads", 0),
    )
    return check_depth(box, body, spacers_m) if spacers_m else check_depth(box, body)


def _mode(sheet: Sheet) -> PhaseMode | None:
    mode = sheet.loop.control.phase_mode
    return None if mode is PhaseMode.ON_OFF else mode


def _is_dimmer(sheet: Sheet) -> bool:
    return _mode(sheet) is not None


def _dims(ask: Asked) -> bool:
    """Whether what is planned dims."""
    return any(
        _is_dimmer(sheet) for one in ask.offered if one.key in ask.planned.values() for sheet in one.sheets.values()
    )


def _wish(ask: Asked) -> Sort | None:
    """What the planned control is; None where an ordinary switch is, or nothing is planned and nothing may be said."""
    for one in ask.offered:
        if one.key in ask.planned.values():
            return one.hardware.word("sort")
    return None if ask.planned else Sort.CONTROL


def _losses(ask: Asked, way: Way, one: Offered | None, dims: PhaseMode | None) -> tuple[str, ...]:
    found: list[str] = []
    wish = _wish(ask)
    has_radio = wish in (Sort.CONTROL, Sort.MODULE)
    if has_radio and way in (Way.LEAVE, Way.TIMER):
        found.append("no_remote")
    if wish is Sort.TIMER and way is Way.LEAVE:
        found.append("no_program")
    if wish in (Sort.TIMER, None) and way not in (Way.LEAVE, Way.TIMER):
        found.append("more_than_asked")
    if _dims(ask) and dims is None:
        found.append("no_dimming")
    if way is Way.DROP_AS_FEED:
        found.append("no_wired_control")
    if way is Way.NEW_NEUTRAL:
        found.append("conduit_may_be_full" if ask.known.in_conduit else "fabric_opened")
    if wish is Sort.MODULE and way not in (*MODULES, Way.LEAVE, Way.TIMER):
        found.append("not_the_old_switch")
    if way in COMPANION_AT_WALL:
        found.append("battery_at_the_wall")
    if one is not None and one.hardware.word("without_hub") is WithoutHub.NOTHING:
        found.append("nothing_without_hub")
    wants_one = way in (*COMPANION_AT_WALL, Way.CONTROL_AND_COMPANION)
    if wants_one and one is not None and one.hardware.word("companion") is YesNo.NO:
        found.append("no_companion")
    return tuple(found)


_THE_PURPOSE = ("no_remote", "no_program")
_WEIGHT = {
    "no_remote": 3.0,
    "no_wired_control": 3.0,
    "no_companion": 3.0,
    "no_program": 3.0,
    "no_dimming": 2.0,
    "fabric_opened": 2.0,
}


def _price(ask: Asked, one: Offered | None, route: Route, bypass: Mapping[int, BypassCandidate]) -> float | None:
    if one is None:
        return 0.0
    if one.hardware.price is None:
        return None
    devices = () if route.wanted is None else route.wanted.devices
    count = max(1, sum(isinstance(device, WiredControl) for device in devices))
    total = one.hardware.price * max(0, count - (1 if one.is_there else 0))
    companions = sum(isinstance(device, Companion) for device in devices)
    if companions:
        plates = [
            o.hardware.price for o in ask.offered if o.hardware.word("sort") is Sort.COMPANION and o.hardware.price
        ]
        total += companions * min(plates, default=0.0)
    there = {candidate.name for candidate in dict(ask.fitted_bypass).values()}
    for chosen in bypass.values():
        if chosen.name in there:
            continue
        if chosen.bypass is None or chosen.bypass.price is None:
            return None
        total += chosen.bypass.price
    return total


def _scores(ask: Asked, row: Rated) -> Mapping[Value, float]:
    """What counts against it, value by value; less is better."""
    spare = row.way is Way.SPARE_AS_NEUTRAL and "spare_not_proved" in ask.found.assumed
    safety = float(_SAFETY.get(row.way, 1 if spare else 0))
    share = 1.0
    if row.overall is not None and row.overall.sample_count:
        share = row.overall.well_count / row.overall.sample_count
    certainty = float(_WORKS_RANK[row.works]) + (1.0 - round(share * 20.0) / 20.0)
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


def _ordered(rows: Sequence[Rated], order: tuple[Value, ...], *, is_complete: bool) -> Comparison:
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
