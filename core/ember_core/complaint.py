"""A complaint beside what is computed of the loop as it was found: does the one explain the other?

What was told counts as it was told. Where nothing of it is in any drawn loop, something is not what it was taken for.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ember_core.errors import SolverError
from ember_core.offstate.states import LampState, StandbyState
from ember_core.sheet import Sheet
from ember_core.spread.judged import Range, each_abreast, quantiles
from ember_core.spread.observe import observe_each
from ember_core.spread.variables import draw, loop_at, variables
from ember_core.survey.visit import Complaint

SAMPLES = 32
# Nobody on the telephone tells a rhythm more exactly than to a third of it.
PERIOD_TOLD_RATIO = 1.33
# So many of the drawn loops have to do what was told before the computation is said to agree with it.
AGREES_FROM_RATIO = 0.5


class Agreement(StrEnum):
    """What the computation says to a complaint."""

    AGREES = "agrees"
    CAN_BE = "can_be"  # some of the drawn loops do it
    OTHER_RHYTHM = "other_rhythm"  # they blink, but not as told
    DISAGREES = "disagrees"  # none does


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """A complaint beside the drawn loops.

    Parameters
    ----------
    agreement : see there. doing_count, sample_count : loops that do what was told, of how many.
    period_s : from flash to flash over those that blink [s]; None where none does, or it was not asked about.
    """

    agreement: Agreement
    doing_count: int
    sample_count: int
    period_s: Range | None


def concerns_off_state(complaint: Complaint) -> bool:
    """Whether the loop while off can have to do with it."""
    return complaint in (Complaint.FLICKER_OFF, Complaint.GLOW_OFF, Complaint.DROP_OUT)


def compare(complaint: Complaint, flash_period_s: float | None, sheet: Sheet, *, seed: int = 1) -> Compared:
    """A complaint about the light off beside the loop as found.

    Parameters
    ----------
    complaint : one that `concerns_off_state`. flash_period_s : from flash to flash as told [s]; None where nobody said.
    sheet : the loop as it was when it was complained of.

    Raises
    ------
    ValueError : a complaint that has nothing to do with the light off.
    SolverError : no drawn loop could be solved.
    """
    if not concerns_off_state(complaint):
        raise ValueError(complaint)
    found = variables(sheet)
    loops = [loop_at(sheet.loop, found, row) for row in draw(found, SAMPLES, seed)[: SAMPLES if found else 1]]
    seen = [sample for sample in each_abreast(loops, observe_each) if sample is not None]
    if not seen:
        raise SolverError("no_sample_settles", samples=len(loops))
    periods = [sample.shown.period_s if sample.shown else None for sample in seen if LampState.BLINK in sample.lamps]
    known = np.array([period for period in periods if period is not None], dtype=np.float64)
    period = None
    if complaint is Complaint.FLICKER_OFF and known.size:
        period = quantiles(known, np.full(known.size, 1.0 / known.size))
    if complaint is Complaint.FLICKER_OFF:
        doing = [LampState.BLINK in sample.lamps for sample in seen]
    elif complaint is Complaint.GLOW_OFF:
        doing = [LampState.GLOW in sample.lamps for sample in seen]
    else:
        doing = [sample.control in (StandbyState.STARVED, StandbyState.MARGINAL) for sample in seen]
    count = sum(doing)
    agreement = Agreement.DISAGREES if count == 0 else Agreement.CAN_BE
    if count >= AGREES_FROM_RATIO * len(seen) and count > 0:
        agreement = Agreement.AGREES
    if count and flash_period_s is not None and period is not None and not _fits(flash_period_s, period):
        agreement = Agreement.OTHER_RHYTHM
    return Compared(agreement=agreement, doing_count=count, sample_count=len(seen), period_s=period)


def _fits(told_s: float, period: Range) -> bool:
    return period.p05 / PERIOD_TOLD_RATIO <= told_s <= period.p95 * PERIOD_TOLD_RATIO
