"""The ways through one loop side by side: what each does off and on, whether it goes in, what is lost, time and price.

Each way is judged with the control that is planned, where that serves it, else with the one of the shelf that fares
best; its wiring is proved, its depth checked. Figures marked [A] are engineering assumptions.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ember_core.bypass.choose import Candidate as BypassCandidate
from ember_core.bypass.choose import choose, without_bypass
from ember_core.bypass.place import Where
from ember_core.errors import SolverError
from ember_core.judgement import judge
from ember_core.overall import Overall, Works, overall
from ember_core.parts.hardware import Hardware, YesNo
from ember_core.routes.as_wired import wired_for
from ember_core.routes.losses import losses_of, mode_of, price_of, wants_to_dim
from ember_core.routes.making import gangs_of
from ember_core.routes.rated import WORKS_RANK, Asked, Comparison, Offered, Progress, Rated
from ember_core.routes.tasks import tasks_of
from ember_core.routes.ways import (
    ALOFT,
    COMPANION_AT_WALL,
    WITHOUT_A_CONTROL,
    Route,
    Way,
    on_a_box,
    on_a_landing,
    serves,
    ways_for,
)
from ember_core.routes.weighing import ordered, scores_of
from ember_core.sheet import Sheet
from ember_core.survey.box import Box
from ember_core.survey.depth import ControlBody, DepthCheck, Fit, check_depth
from ember_core.times.minutes import estimate

# What the old switch takes of the depth where it stays in front of a module [m] [A].
OLD_SWITCH_DEPTH_M = 0.022
_NOT_REVERSIBLE = (Way.NEW_NEUTRAL,)
_VERDICT_ORDER = ("dark", "close", "marginal", "unknown", "glow", "blink", "starved")
# So many bypasses are looked at over the ranges; the others stand behind them already by their typical figures.
MOST_BYPASSES = 2


def compare(ask: Asked, progress: Progress | None = None) -> Comparison:
    """Rate every way; with a progress that stops, those that were rated by then.

    Raises
    ------
    InputError : the order of values is not one of all four.
    """
    found = ask.found
    if found.seats is None:
        return ordered((), ask.order, is_complete=True)
    ways = ways_for(found.seats, is_landing=found.is_landing)
    rows: list[Rated] = []
    for done, way in enumerate(ways, 1):
        rows.append(rate(ask, way))
        so_far = ordered(rows, ask.order, is_complete=done == len(ways))
        if progress is not None and not progress(done, len(ways), so_far):
            return so_far
    return ordered(rows, ask.order, is_complete=True)


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
    wish = wants_to_dim(ask)
    return (
        one.key != control,
        one.key not in ask.planned.values(),
        max((_VERDICT_ORDER.index(_nominal(sheet, way)) for sheet in one.sheets.values()), default=3),
        fits is not None and fits.fit is Fit.DOES_NOT_FIT,
        way in (*COMPANION_AT_WALL, Way.CONTROL_AND_COMPANION) and one.hardware.word("companion") is YesNo.NO,
        wish != any(sheet.loop.control.is_dimmer for sheet in one.sheets.values()),
        one.hardware.price or 1e6,
    )


def _nominal(sheet: Sheet, way: Way) -> str:
    try:
        return judge(wired_for(sheet, way), with_meter=False).verdict.value
    except SolverError:
        return "unknown"


def _judged(
    ask: Asked, way: Way, one: Offered | None, route: Route, sheets: Mapping[int, Sheet], others: tuple[str, ...]
) -> Rated:
    bypass: dict[int, BypassCandidate] = {}
    worst: tuple[Overall, int] | None = None
    # A gang that lacks its lamps, or that cannot be computed, leaves the whole unknown.
    is_whole = all(gang in sheets for gang in gangs_of_way(ask, way))
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
    dims = next((mode for sheet in sheets.values() if (mode := mode_of(sheet)) is not None), None)
    losses = losses_of(ask, way, one, dims)
    works = Works.PROBABLY if way is Way.DROP_AS_FEED else Works.UNKNOWN if worst is None else worst[0].works
    if way is not Way.DROP_AS_FEED and not is_whole and works is not Works.DOES_NOT:
        works = Works.UNKNOWN
    price = price_of(ask, one, route, bypass)
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
    return replace(made, scores=scores_of(ask, made))


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


def gangs_of_way(ask: Asked, way: Way) -> list[int]:
    """Gangs whose judgement a way hangs on."""
    if ask.found.seats is None:
        return [1]
    if ask.found.is_landing:
        return [ask.found.stair]
    return [gang for gang in gangs_of(ask.found.seats) if way is Way.LEAVE or gang not in ask.kept]


def _rank(found: Overall) -> tuple[int, float]:
    share = found.well_count / found.sample_count if found.sample_count else 0.0
    return WORKS_RANK[found.works], -share


def _overall(sheet: Sheet) -> Overall | None:
    try:
        return overall(sheet, judge(sheet, with_meter=False))
    except SolverError:
        return None


def _best_bypass(ask: Asked, gang: int, sheet: Sheet) -> tuple[Overall | None, BypassCandidate | None]:
    """That of the bench where there is one, else the best by typical figures, looked at over the ranges."""
    fitted = dict(ask.fitted_bypass).get(gang)
    on_bench = None if fitted is None else _overall(_bypassed(sheet, fitted))
    if fitted is not None and on_bench is not None and WORKS_RANK[on_bench.works] == 0:
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
