"""Parts held against a loop: whether each works over the spread, what it does while on, and their order."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from math import inf

from ember_core.bypass import place as places
from ember_core.bypass import ratings
from ember_core.bypass.limits import LEADING, MOST_HEAT_W
from ember_core.bypass.ratings import E6, WhileOn, while_on
from ember_core.bypass.window import (
    Window,
    active_of,
    active_window,
    capacitor_of,
    capacitor_window,
    failing,
    look,
    resistor_of,
    resistor_window,
    sure_from,
    with_bypass,
    works,
)
from ember_core.compatibility.load_limits import share_on
from ember_core.errors import SolverError
from ember_core.findings import Finding, Severity
from ember_core.loop import Loop
from ember_core.parts import Bypass, CapacitorBypass, PtcBypass, ResistorBypass
from ember_core.quantities import Figure, Source
from ember_core.sheet import Sheet
from ember_core.spread.judged import SURE_RATIO, THREADS, GoesOn, look_over
from ember_core.spread.variables import DEFAULT_SAMPLES

WORKS_FROM_SHARE = 1.0
UNSURE_FROM_SHARE = 0.5
# A part that fails in all of these is not looked at further.
FIRST_SAMPLES = 8
# A margin above this is as good as any: it is no reason to prefer a part.
ENOUGH_MARGIN_RATIO = 1.5
# Heat above this share of what a luminaire bears is near its limit: a cooler part that does as well comes first.
NEAR_LIMIT_RATIO = 0.8
_MARGIN_STEP, _HEAT_STEP_W = 0.25, 0.25
# Values of a series on offer where the shelf has none: tolerance of a capacitor and of a resistor [assumptions].
CAPACITOR_TOLERANCE_RATIO, RESISTOR_TOLERANCE_RATIO = 0.2, 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A part that could be fitted; `bypass` None stands for none at all.

    Parameters
    ----------
    name : its identity. figures : ranges and sources by field. is_value : a value of a series, of no particular make.
    """

    name: str
    bypass: Bypass | None
    figures: dict[str, Figure]
    is_value: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """How one candidate fares.

    Parameters
    ----------
    verdict : `works`, `unsure` (over the spread it sometimes does not) or `rejected`. rank : from 1.
    samples : looked at; 0 while only its typical figures were.
    share : of the samples that are dark and fed [1]; without spread 1 or 0.
    on_share : of the samples that do with the light on what hangs on the load [1]; None where nothing does, or while
        only typical figures were looked at. margin : least margin to light, 5th
        percentile [1]. on : what it does while the light is on. parts_count : pieces to fit. price : or None.
    """

    name: str
    bypass: Bypass | None
    is_value: bool
    verdict: str
    rank: int
    samples: int
    share: float
    on_share: float | None
    margin: float
    on: WhileOn
    parts_count: int
    price: float | None
    findings: tuple[Finding, ...]

    @property
    def kind(self) -> str | None:
        """Kind of the part; None for none at all."""
        return None if self.bypass is None else self.bypass.kind


@dataclass(frozen=True, slots=True, kw_only=True)
class Choosing:
    """The windows and the candidates in order.

    Parameters
    ----------
    none_needed : it works without. none_cures : no bypass of any kind does; another route is needed.
    is_complete : everything was looked at over the ranges that was to be; until then what was not is unsure.
    """

    capacitor: Window
    resistor: Window
    active: Window
    none_needed: bool
    none_cures: bool
    choices: tuple[Choice, ...]
    is_complete: bool


# Told how far it is, and now and then what is known so far; False stops.
Progress = Callable[[int, int, "Choosing | None"], bool]


def choose(
    sheet: Sheet,
    candidates: Sequence[Candidate],
    *,
    spread: bool = True,
    samples: int = DEFAULT_SAMPLES,
    seed: int = 1,
    place: places.Place | None = None,
    with_values: bool = False,
    progress: Progress | None = None,
) -> Choosing:
    """Windows by kind, and every candidate ranked.

    Works first, off and on, then heat with room to its limit, the margin to light, heat, number of pieces, price; what
    is not known comes after what is.

    Parameters
    ----------
    sheet : the loop; its own bypass is left out. spread : judge candidates over the ranges, else with typical figures.
    place : where it would go, if that was looked at. with_values : also rank values of the E series in the windows.
    progress : the first call brings the order by typical figures; returning False stops with what is known so far.
    """
    bare = without_bypass(sheet)
    room_f = _room_f(candidates, place)
    with ThreadPoolExecutor(max_workers=THREADS) as pool:
        # The longest first.
        at_once = (
            pool.submit(active_window, bare.loop),
            pool.submit(capacitor_window, bare.loop, room_f=room_f),
            pool.submit(resistor_window, bare.loop),
        )
    active, capacitor, resistor = (window.result() for window in at_once)
    offered = [Candidate(name="", bypass=None, figures={}), *candidates]
    if with_values:
        offered += _not_on(candidates, series_values(bare.loop, capacitor, resistor))
    judged = [_nominal(bare.loop, candidate, place) for candidate in offered]

    def so_far(is_complete: bool) -> Choosing:
        told = judged if is_complete else [_not_sure_yet(choice) for choice in judged]
        return _ordered(capacitor, resistor, active, told, is_complete)

    if not spread:
        return so_far(True)
    first = so_far(False)
    open_ones = [k for k, choice in enumerate(judged) if not _is_stopped(choice)]
    open_ones.sort(key=lambda k: (-judged[k].share, k))
    steps = len(open_ones) + 3
    if progress is not None and not progress(0, steps, first):
        return first
    for done, k in enumerate(open_ones, 1):

        def goes_on(before: int = done - 1) -> bool:
            return progress is None or progress(before, steps, None)

        found = _over_ranges(bare, offered[k], judged[k], samples, seed, goes_on)
        if found is None:
            return so_far(False)
        judged[k] = found
        if progress is not None and not progress(done, steps, None):
            return so_far(False)
    edges: list[float | None] = []
    ends: list[tuple[float | None, float | None, Callable[[float], Bypass]]] = [
        (capacitor.low, capacitor.high, capacitor_of),
        (resistor.high, resistor.low, resistor_of),
        (active.low, active.high, partial(active_of, bare.loop)),
    ]
    for done, (edge, end, make) in enumerate(ends, len(open_ones) + 1):
        edges.append(None if edge is None or end is None else sure_from(bare, make, edge, end, seed=seed))
        if progress is not None and not progress(done, steps, None):
            return so_far(False)
    capacitor, resistor, active = (
        replace(window, sure=edge) for window, edge in zip((capacitor, resistor, active), edges, strict=True)
    )
    return so_far(True)


def without_bypass(sheet: Sheet) -> Sheet:
    """The sheet with nothing fitted."""
    return replace(
        sheet,
        loop=with_bypass(sheet.loop, None),
        figures={path: figure for path, figure in sheet.figures.items() if not path.startswith("bypass")},
    )


def series_values(loop: Loop, capacitor: Window, resistor: Window) -> list[Candidate]:
    """Capacitors and resistors of the E6 series inside their windows, rated as such parts are [assumptions]."""
    found: list[Candidate] = []
    if capacitor.low is not None and capacitor.high is not None:
        for value in (step * 10.0**decade for decade in range(-9, -6) for step in E6):
            c_f = float(f"{value:.3g}")
            if capacitor.low <= c_f <= capacitor.high:
                part = CapacitorBypass(c_f=c_f, r_parallel_ohm=1e6, v_rated_v=_rated_v(loop))
                figure = _within(c_f, CAPACITOR_TOLERANCE_RATIO)
                found.append(Candidate(name=f"C {c_f:g}", bypass=part, figures={"c_f": figure}, is_value=True))
    if resistor.low is not None and resistor.high is not None:
        for value in (step * 10.0**decade for decade in range(2, 6) for step in E6):
            if resistor.low <= value <= resistor.high:
                figure = _within(value, RESISTOR_TOLERANCE_RATIO)
                part_r = ResistorBypass(r_ohm=value)
                found.append(Candidate(name=f"R {value:g}", bypass=part_r, figures={"r_ohm": figure}, is_value=True))
    return found


def _not_on(shelf: Sequence[Candidate], values: Sequence[Candidate]) -> list[Candidate]:
    """Values that no part of the shelf has."""

    def value(part: Bypass | None) -> tuple[str, float]:
        if isinstance(part, CapacitorBypass):
            return part.kind, part.c_f
        return ("resistor", part.r_ohm) if isinstance(part, ResistorBypass) else ("", 0.0)

    there = {(kind, f"{size:.2g}") for kind, size in (value(candidate.bypass) for candidate in shelf)}
    return [c for c in values if (value(c.bypass)[0], f"{value(c.bypass)[1]:.2g}") not in there]


def _rated_v(loop: Loop) -> float:
    """Rated voltage of a class X2 capacitor for this mains [V]: 275 V, which also stands 120 V."""
    return 275.0 if 1.1 * loop.supply.v_rms <= 275.0 else 310.0


def _within(value: float, ratio: float) -> Figure:
    return Figure(low=value * (1 - ratio), typical=value, high=value * (1 + ratio), source=Source.ASSUMED)


def _room_f(candidates: Sequence[Candidate], place: places.Place | None) -> float | None:
    """Largest capacitor on the shelf that goes into the place; None where all do, or nobody knows."""
    if place is None or place.room_m is None:
        return None
    sized = [c.bypass for c in candidates if isinstance(c.bypass, CapacitorBypass) and c.bypass.height_m is not None]
    fits = [part.c_f for part in sized if (part.height_m or inf) <= place.room_m]
    return None if len(fits) == len(sized) else max(fits, default=0.0)


def is_forbidden(loop: Loop, bypass: Bypass | None, place: places.Place | None) -> bool:
    """Whether a rating, a limit or its place forbids a bypass, whatever it would do while off."""
    found = ratings.findings(with_bypass(loop, bypass), bypass)
    if place is not None:
        found = [*found, *places.findings(place, bypass)]
    return any(finding.severity is Severity.STOP for finding in found)


def _not_sure_yet(choice: Choice) -> Choice:
    """What was looked at with typical figures alone neither works nor fails for sure."""
    return choice if choice.samples or _is_stopped(choice) else replace(choice, verdict="unsure")


def _is_stopped(choice: Choice) -> bool:
    """Rejected for something else than what it does while off."""
    return any(f.severity is Severity.STOP and f.code != "bypass_does_not_do" for f in choice.findings)


def _nominal(loop: Loop, candidate: Candidate, place: places.Place | None) -> Choice:
    """A candidate with typical figures: states, ratings, place."""
    fitted = with_bypass(loop, candidate.bypass)
    sample = look(fitted)
    share, margin = (1.0 if works(sample) else 0.0), 0.0 if sample is None else min(sample.margins)
    reason, group = failing(sample)
    found = [*_off_findings(share, reason, group), *ratings.findings(fitted, candidate.bypass)]
    if isinstance(candidate.bypass, PtcBypass):
        found += _while_hot(loop, candidate.bypass)
    if isinstance(candidate.bypass, CapacitorBypass) and loop.control.phase_mode in LEADING:
        found.append(Finding(code="bypass_lowers_hold", severity=Severity.WARN))
    if place is not None:
        found += places.findings(place, candidate.bypass)
    return _choice(fitted, candidate, share, margin, 0, found)


def _choice(
    loop: Loop,
    candidate: Candidate,
    share: float,
    margin: float,
    samples: int,
    found: Sequence[Finding],
    on_share: float | None = None,
) -> Choice:
    stopped = any(finding.severity is Severity.STOP for finding in found)
    is_sure = share >= WORKS_FROM_SHARE and (on_share is None or on_share >= SURE_RATIO)
    verdict = "rejected" if stopped or share < UNSURE_FROM_SHARE else "works" if is_sure else "unsure"
    return Choice(
        name=candidate.name,
        bypass=candidate.bypass,
        is_value=candidate.is_value,
        verdict=verdict,
        rank=0,
        samples=samples,
        share=share,
        on_share=on_share,
        margin=margin,
        on=while_on(loop, candidate.bypass),
        parts_count=0 if candidate.bypass is None else 1,
        price=None if candidate.bypass is None else candidate.bypass.price,
        findings=tuple(found),
    )


def _while_hot(loop: Loop, part: PtcBypass) -> list[Finding]:
    """Just after switching off a PTC is still hot: what it does then, and for how long."""
    course = ratings.ptc_course(loop, part)
    reason, _ = failing(look(with_bypass(loop, resistor_of(min(course.r_hot_ohm, 1e8)))))
    if reason == "none":
        return [Finding(code="bypass_ptc_hot_works", severity=Severity.GOOD)]
    params: dict[str, float | int | str] = {"reason": reason}
    if course.cools_s is None:
        return [Finding(code="bypass_ptc_hot_fails", severity=Severity.WARN, params=params)]
    params["cools_s"] = course.cools_s
    return [Finding(code="bypass_ptc_hot_fails_for", severity=Severity.WARN, params=params)]


def _over_ranges(
    bare: Sheet, candidate: Candidate, nominal: Choice, samples: int, seed: int, goes_on: GoesOn
) -> Choice | None:
    """The same candidate over the ranges; what never works in a first few is not looked at further.

    None where it was ended before enough was seen of it.
    """

    def progress(_: int) -> bool:
        return goes_on()

    loop = with_bypass(bare.loop, candidate.bypass)
    figures = {**bare.figures, **{f"bypass[0].{name}": figure for name, figure in candidate.figures.items()}}
    sheet = replace(bare, loop=loop, figures=figures)
    kept = [finding for finding in nominal.findings if finding.code not in ("bypass_works", "bypass_does_not_do")]
    reason, group = ("none", None) if nominal.share else failing(look(loop))
    looked = samples
    try:
        if not nominal.share:
            looked = min(FIRST_SAMPLES, samples)
        found = look_over(sheet, samples=looked, seed=seed, with_shown=looked == samples, progress=progress)
        if looked < samples and found.all_well > 0.0 and found.is_complete:
            looked = samples
            found = look_over(sheet, samples=looked, seed=seed, progress=progress)
        if not found.is_complete:
            return None
        share, margin = found.all_well, found.margin
    except SolverError:
        share, margin = 0.0, 0.0
    lit = None if share < UNSURE_FROM_SHARE else share_on(sheet, seed=seed)
    return _choice(
        loop,
        candidate,
        share,
        margin,
        looked,
        [*_off_findings(share, reason, group), *_on_findings(lit), *kept],
        on_share=lit,
    )


def _ordered(
    capacitor: Window, resistor: Window, active: Window, judged: Sequence[Choice], is_complete: bool
) -> Choosing:
    order = {"works": 0, "unsure": 1, "rejected": 2}

    def key(choice: Choice) -> tuple[float, ...]:
        heat = choice.on.heat_w
        return (
            order[choice.verdict],
            -round(min(choice.share, 1.0 if choice.on_share is None else choice.on_share), 2),
            heat is not None and heat > NEAR_LIMIT_RATIO * MOST_HEAT_W,
            -(min(choice.margin, ENOUGH_MARGIN_RATIO) // _MARGIN_STEP),
            inf if heat is None else heat // _HEAT_STEP_W,
            choice.parts_count,
            choice.is_value,
            inf if choice.price is None else choice.price,
            inf if heat is None else heat,
            choice.on.reactive_a,
        )

    ranked = sorted(judged, key=key)
    nothing = next(choice for choice in judged if choice.bypass is None)
    none_needed = nothing.verdict == "works"
    return Choosing(
        capacitor=capacitor,
        resistor=resistor,
        active=active,
        none_needed=none_needed,
        none_cures=all(choice.verdict == "rejected" for choice in judged),
        choices=tuple(replace(choice, rank=k) for k, choice in enumerate(ranked, 1)),
        is_complete=is_complete,
    )


def _on_findings(share: float | None) -> list[Finding]:
    if share is None or share >= SURE_RATIO:
        return []
    return [Finding(code="bypass_unsure_on", severity=Severity.WARN, params={"share_ratio": share})]


def _off_findings(share: float, reason: str, group: int | None) -> list[Finding]:
    if share >= WORKS_FROM_SHARE:
        return [Finding(code="bypass_works", severity=Severity.GOOD, params={"share_ratio": share})]
    params: dict[str, float | int | str] = {"share_ratio": share, "reason": reason}
    if group is not None:
        params["group"] = group + 1
    severity = Severity.WARN if share >= UNSURE_FROM_SHARE else Severity.STOP
    return [Finding(code="bypass_does_not_do", severity=severity, params=params)]
