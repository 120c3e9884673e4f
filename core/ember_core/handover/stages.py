"""Where a loop stands, from asked to handed over: each stage has a condition that is computed, none is ticked."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Stage(StrEnum):
    """Where a loop stands, in working order."""

    ASKED = "asked"
    SURVEYED = "surveyed"
    JUDGED = "judged"
    ROUTE_CHOSEN = "route_chosen"
    PLANNED = "planned"
    FITTED = "fitted"
    PROVED = "proved"
    HANDED_OVER = "handed_over"
    REOPENED = "reopened"


class Lack(StrEnum):
    """What keeps a loop from a stage."""

    NO_BOX = "no_box"
    CONDUCTORS = "conductors"
    NOT_JUDGED = "not_judged"
    NO_WAY = "no_way"
    NO_VISIT = "no_visit"
    NOT_FITTED = "not_fitted"
    NOT_PROVED = "not_proved"
    FAILED = "failed"
    COMPLAINT = "complaint"
    NO_ISSUE = "no_issue"
    NOT_SIGNED = "not_signed"
    CHANGED = "changed"


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """What is on record of a loop.

    Parameters
    ----------
    boxes, boxes_known : boxes of which conductors were noted, and those of which every conductor is known.
    gangs, gangs_judged : gangs, and those that were judged; whether it still holds is for whoever checks.
    has_way : a way was chosen. is_planned : it stands in a visit, or work on it was begun.
    steps, steps_left : of the way's work. parts_hang : without a way: every part on record hangs there.
    items, items_left, items_failed : of what is to be proved, on what hangs there now.
    open_cases : complaints that are not closed.
    issues : papers that were frozen. is_signed : the newest bears every signature that the firm wants.
    is_held : what was frozen there is what hangs there now. was_handed_over : any of them was ever signed.
    """

    boxes: int = 0
    boxes_known: int = 0
    gangs: int = 0
    gangs_judged: int = 0
    has_way: bool = False
    is_planned: bool = False
    steps: int = 0
    steps_left: int = 0
    parts_hang: bool = False
    items: int = 0
    items_left: int = 0
    items_failed: int = 0
    open_cases: int = 0
    issues: int = 0
    is_signed: bool = False
    is_held: bool = False
    was_handed_over: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """Where a loop stands.

    Parameters
    ----------
    gaps : stages before it whose condition is not met, with what is lacking.
    lacks : what the next stage wants; empty where nothing is left to do.
    """

    stage: Stage
    gaps: dict[Stage, tuple[Lack, ...]]
    next: Stage | None
    lacks: tuple[Lack, ...]


ORDER = tuple(Stage)[: tuple(Stage).index(Stage.REOPENED)]


def lacks_of(facts: Facts) -> dict[Stage, tuple[Lack, ...]]:
    """What each stage wants that is not there; a stage whose tuple is empty is met.

    What was never fitted is not proved, whatever somebody saw; what is not proved is not handed over.
    """
    is_fitted = facts.steps_left == 0 if facts.has_way and facts.steps else not facts.has_way and facts.parts_hang
    fitted = () if is_fitted else (Lack.NOT_FITTED,)
    proved = (
        *fitted,
        *((Lack.NOT_PROVED,) if facts.items == 0 or facts.items_left else ()),
        *((Lack.FAILED,) if facts.items_failed else ()),
        *((Lack.COMPLAINT,) if facts.open_cases else ()),
    )
    paper = (
        (Lack.NO_ISSUE,)
        if facts.issues == 0
        else (Lack.CHANGED,)
        if not facts.is_held
        else ()
        if facts.is_signed
        else (Lack.NOT_SIGNED,)
    )
    survey = (Lack.NO_BOX,) if facts.boxes == 0 else (Lack.CONDUCTORS,) if facts.boxes_known < facts.boxes else ()
    return {
        Stage.ASKED: (),
        Stage.SURVEYED: survey,
        Stage.JUDGED: () if facts.gangs and facts.gangs_judged == facts.gangs else (Lack.NOT_JUDGED,),
        Stage.ROUTE_CHOSEN: () if facts.has_way else (Lack.NO_WAY,),
        Stage.PLANNED: () if facts.is_planned else (Lack.NO_VISIT,),
        Stage.FITTED: fitted,
        Stage.PROVED: proved,
        Stage.HANDED_OVER: (*proved, *paper),
    }


def standing_of(facts: Facts) -> Standing:
    """The furthest stage that is met; a complaint about what was handed over opens it again."""
    lacks = lacks_of(facts)
    reached = max((stage for stage in ORDER if not lacks[stage]), key=ORDER.index)
    if facts.was_handed_over and facts.open_cases:
        return Standing(
            stage=Stage.REOPENED, gaps={}, next=Stage.HANDED_OVER, lacks=tuple(dict.fromkeys(lacks[Stage.HANDED_OVER]))
        )
    at = ORDER.index(reached)
    following = ORDER[at + 1] if at + 1 < len(ORDER) else None
    return Standing(
        stage=reached,
        gaps={stage: lacks[stage] for stage in ORDER[:at] if lacks[stage]},
        next=following,
        lacks=() if following is None else lacks[following],
    )
