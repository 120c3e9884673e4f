"""The one verdict on a gang: what the light off, the light on and the load say together, why, and what to do next.

Light off is judged by the share of drawn loops that stay dark and fed, light on by whether control and lamps go
together, the load by its limits. The worst of the three is the answer, and names its cause.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ember_core.compatibility.gang import WhileLit, while_lit
from ember_core.compatibility.load_limits import (
    LEAST_DECLARED,
    SUPPLIES,
    From,
    LoadLimit,
    LoadLimits,
    LoadState,
    load_limits,
    state_of,
)
from ember_core.compatibility.matrix import Goes
from ember_core.compatibility.trims import SiteTrims
from ember_core.errors import SolverError
from ember_core.judgement import Judgement, Verdict
from ember_core.offstate.states import LampState, StandbyState
from ember_core.quantities import Source
from ember_core.remembered import remembered
from ember_core.sheet import Sheet
from ember_core.spread.judged import Spread, judge_spread

# So many of the drawn loops have to do well before it is called probable, and so few before it is called hopeless.
PROBABLY_FROM_RATIO = 0.95
HOPELESS_BELOW_RATIO = 0.2
UNSOLVED = "unsolved"
_NOT_AS_IT_IS = (Verdict.STARVED, Verdict.BLINK, Verdict.GLOW)


class Works(StrEnum):
    """Whether the loop does what it should, from good to bad; unknown stands for what lacks a part."""

    WORKS = "works"
    PROBABLY = "probably"
    NOT_SURE = "not_sure"
    DOES_NOT = "does_not"
    UNKNOWN = "unknown"


class Aspect(StrEnum):
    """What is looked at; of two that fare alike the first is named."""

    LIGHT_OFF = "light_off"
    LIGHT_ON = "light_on"
    LOADS = "loads"


class NextAction(StrEnum):
    """What to do next at a gang."""

    LAMPS = "lamps"
    CONTROL = "control"
    REMEDY = "remedy"  # choose a bypass, or another part
    MEASURE = "measure"  # the figure that decides is assumed: read it
    LIGHT_ON = "light_on"  # look at control and lamps with the light on
    LOADS = "loads"
    SHEET = "sheet"


_ORDER = (Works.WORKS, Works.PROBABLY, Works.NOT_SURE, Works.DOES_NOT)
_WORKS_OF = {
    LoadState.MET: Works.WORKS,
    LoadState.ASSUMED: Works.PROBABLY,
    LoadState.UNKNOWN: Works.PROBABLY,
    LoadState.BELOW_DECLARED: Works.NOT_SURE,
    LoadState.NOT_MET: Works.DOES_NOT,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Overall:
    """The one verdict.

    Parameters
    ----------
    works : see `Works`. aspects : each by itself. deciding : the one that settles it.
    cause : why, a code with the aspect's name in front, as in `light_off_blink`.
    next_action : see `NextAction`.
    well_count, sample_count : drawn loops that stay dark and fed, of how many; 0 where none was drawn.
    limit_rule : the first limit of the load that is not kept, or else not known; or else assumed; empty where all
        are kept.
    deciding_path : the figure that decides most with the light off; empty where none stands out.
    conditions : what has to be seen to for control and lamps to go together, by the codes of the matrix.
    """

    works: Works
    aspects: Mapping[Aspect, Works]
    deciding: Aspect
    cause: str
    next_action: NextAction
    well_count: int
    sample_count: int
    limit_rule: str
    deciding_path: str
    conditions: tuple[str, ...] = ()


def overall(
    sheet: Sheet, judgement: Judgement, *, site: SiteTrims | None = None, spread: Spread | None = None
) -> Overall:
    """The one verdict on a complete gang.

    Parameters
    ----------
    judgement : that of the same sheet. site : what was found and set of a dimmer on site.
    spread : the gang over its ranges where it is there already; else it is drawn.

    Raises
    ------
    SolverError : no drawn loop settles.
    """
    if spread is None:
        return _over_its_ranges(sheet, judgement.verdict, site)
    return _weighed(sheet, judgement.verdict, site, spread)


@remembered
def _over_its_ranges(sheet: Sheet, nominal: Verdict, site: SiteTrims | None) -> Overall:
    return _weighed(sheet, nominal, site, judge_spread(sheet))


def _weighed(sheet: Sheet, nominal: Verdict, site: SiteTrims | None, spread: Spread) -> Overall:
    try:
        found: WhileLit | None = while_lit(sheet, site=site, with_picture=False)
    except SolverError:
        found = None
    try:
        loads: LoadLimits | None = load_limits(sheet)
    except SolverError:
        loads = None
    weighed = together(sheet, nominal, spread, None if found is None else found.verdict, loads)
    return weighed if found is None else replace(weighed, conditions=_conditions(found))


def together(sheet: Sheet, nominal: Verdict, spread: Spread, lit: Goes | None, loads: LoadLimits | None) -> Overall:
    """The one verdict of what was found; None for what could not be computed.

    A drawn loop that could not be solved counts as one of all that were drawn, and as none of those that do well.
    """
    drawn = len(spread.seen) + spread.failed
    well_ratio, open_ratio = spread.all_well * len(spread.seen) / drawn, spread.failed / drawn
    aspects = {
        Aspect.LIGHT_OFF: light_off(nominal, well_ratio, open_ratio),
        Aspect.LIGHT_ON: light_on(lit),
        Aspect.LOADS: load(loads),
    }
    works = max(aspects.values(), key=_ORDER.index)
    deciding = next(aspect for aspect in Aspect if aspects[aspect] is works)
    path = spread.deciding[0].path if spread.deciding else ""
    return Overall(
        works=works,
        aspects=aspects,
        deciding=deciding,
        cause=_cause(deciding, works, nominal, spread, lit, loads),
        next_action=_next(sheet, deciding, works, path),
        well_count=round(spread.all_well * len(spread.seen)),
        sample_count=drawn,
        limit_rule=_limit(loads),
        deciding_path=path,
    )


def _conditions(found: WhileLit) -> tuple[str, ...]:
    """The conditions of every lamp group, each once, in the order of the groups."""
    asked = [rule.test for rule in found.together.members if rule.verdict is Goes.GOES_IF and rule.test]
    return tuple(dict.fromkeys(asked))


def light_off(nominal: Verdict, well_ratio: float, open_ratio: float = 0.0) -> Works:
    """By the share that does well; typical figures that blink, glow, starve or are not known are never called good.

    Parameters
    ----------
    open_ratio : share that could not be solved: it neither does well nor fails.
    """
    if well_ratio + open_ratio <= HOPELESS_BELOW_RATIO:
        return Works.DOES_NOT
    if well_ratio < PROBABLY_FROM_RATIO or nominal in (*_NOT_AS_IT_IS, Verdict.UNKNOWN):
        return Works.NOT_SURE
    return Works.WORKS if well_ratio >= 1.0 and nominal is Verdict.DARK else Works.PROBABLY


def light_on(lit: Goes | None) -> Works:
    """By whether control and lamps go together."""
    if lit is None:
        return Works.NOT_SURE
    return {
        Goes.GOES: Works.WORKS,
        Goes.GOES_IF: Works.PROBABLY,
        Goes.UNKNOWN: Works.NOT_SURE,
        Goes.MUST_NOT: Works.DOES_NOT,
    }[lit]


def load(loads: LoadLimits | None) -> Works:
    """By the limits of the load; what the light off says is not said twice.

    Where fewer than 95 of 100 samples feed the control while it is on, and its maker names no least load that is there,
    nothing makes it probable that it goes on.
    """
    if loads is None:
        return Works.NOT_SURE
    rows = _on_limits(loads)
    by_limits = _WORKS_OF[state_of(rows)]
    return Works.NOT_SURE if by_limits is Works.PROBABLY and _open_supply(rows) else by_limits


def _open_supply(rows: Sequence[LoadLimit]) -> str:
    """The limit by which the control's supply with the light on hangs in the balance; empty where its maker answers."""
    if any(row.rule == LEAST_DECLARED and row.is_met and row.origin is not From.ASSUMED for row in rows):
        return ""
    return next((row.rule for row in rows if row.rule in SUPPLIES and row.is_met is None), "")


def _on_limits(loads: LoadLimits) -> list[LoadLimit]:
    return [row for row in loads.rows if row.rule != "off" and not row.is_beside]


def _limit(loads: LoadLimits | None) -> str:
    rows = [] if loads is None else _on_limits(loads)
    supply = _open_supply(rows)
    # What breaks is told before what is not known, and a declared least load last of what breaks.
    by_weight = sorted(rows, key=lambda row: (row.is_met is not False, row.rule == LEAST_DECLARED, row.rule != supply))
    open_or_broken = [row.rule for row in by_weight if row.is_met is not True]
    return (open_or_broken or [row.rule for row in rows if row.is_assumed] or [""])[0]


def _cause(
    deciding: Aspect, works: Works, nominal: Verdict, spread: Spread, lit: Goes | None, loads: LoadLimits | None
) -> str:
    if works is Works.WORKS:
        return "all_well"
    if deciding is Aspect.LIGHT_OFF:
        return f"light_off_{_worst_state(nominal, spread)}"
    if deciding is Aspect.LIGHT_ON:
        return "light_on_not_computed" if lit is None else f"light_on_{lit.value}"
    if loads is None:
        return "loads_not_computed"
    state = state_of(_on_limits(loads))
    is_supply_open = works is Works.NOT_SURE and state is LoadState.UNKNOWN
    return "loads_supply_open" if is_supply_open else f"loads_{state.value}"


def _worst_state(nominal: Verdict, spread: Spread) -> str:
    """What most drawn loops that do not do well do; where all do, what is not known or the typical figures lack."""
    counts = dict.fromkeys(_NOT_AS_IT_IS, 0.0)
    for sample, weight in zip(spread.seen, spread.weights, strict=True):
        if sample.control is StandbyState.STARVED:
            counts[Verdict.STARVED] += float(weight)
        if LampState.BLINK in sample.lamps:
            counts[Verdict.BLINK] += float(weight)
        elif LampState.GLOW in sample.lamps:
            counts[Verdict.GLOW] += float(weight)
    worst = max(counts, key=lambda state: counts[state])
    if counts[worst] > 0.0:
        return worst
    if spread.failed or nominal is Verdict.UNKNOWN:
        return UNSOLVED
    return nominal if nominal is not Verdict.DARK else Verdict.MARGINAL


def _next(sheet: Sheet, deciding: Aspect, works: Works, path: str) -> NextAction:
    if works in (Works.WORKS, Works.PROBABLY):
        return NextAction.SHEET
    if deciding is Aspect.LIGHT_ON:
        return NextAction.LIGHT_ON
    if deciding is Aspect.LOADS:
        return NextAction.LOADS
    # What hangs in the balance of a figure that nobody measured is measured first.
    is_open = works is Works.NOT_SURE and path != "" and sheet.source_of(path) is not Source.MEASURED
    return NextAction.MEASURE if is_open else NextAction.REMEDY
