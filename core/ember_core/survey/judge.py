"""A box judged as a whole: roles, sides, neutral and earth, contradictions, and what to read next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ember_core.findings import Finding
from ember_core.survey import presence
from ember_core.survey.box import METAL_BOX, Box
from ember_core.survey.inference import Believed, Certainty, Side, believe, believed, contradictions, sides
from ember_core.survey.next_reading import Proposal, propose
from ember_core.survey.presence import Present
from ember_core.survey.readings import Reading


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxJudgement:
    """What is known of a box.

    Parameters
    ----------
    conductors : role of each, with how sure. sides : for each gang, which end of a two-way circuit this is.
    neutral, earth : whether the box holds them, with the reason.
    findings : contradictions, ghosts, readings that fit nothing.
    next_dead, next_live : the reading that settles most by the dead method, and with the supply on; None when
        nothing is left to settle or none helps.
    is_known : every conductor is sure.
    """

    conductors: tuple[Believed, ...]
    sides: tuple[Side | None, ...]
    neutral: Present
    earth: Present
    findings: tuple[Finding, ...]
    next_dead: Proposal | None
    next_live: Proposal | None
    is_known: bool


def judge_box(box: Box, readings: Sequence[Reading], *, v_rms: float, region: str) -> BoxJudgement:
    """Judge a box by its readings.

    Parameters
    ----------
    v_rms : nominal supply [V]. region : `eu` or `na`, for what colours usually mean.

    Raises
    ------
    InputError : a reading that cannot be of this box.
    """
    belief = believe(box, readings, v_rms, region)
    found = believed(belief)
    return BoxJudgement(
        conductors=found,
        sides=sides(belief),
        neutral=presence.neutral(belief),
        earth=presence.earth(belief),
        findings=contradictions(belief),
        next_dead=propose(belief, dead=True) if box.conductors else None,
        next_live=propose(belief, dead=False) if box.conductors else None,
        is_known=bool(box.conductors)
        and all(entry.certainty is Certainty.SURE for entry in found if entry.conductor != METAL_BOX),
    )
