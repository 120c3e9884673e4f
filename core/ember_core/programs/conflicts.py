"""What goes against what, in programs that each look right by themselves."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, date, timedelta
from enum import StrEnum

from ember_core.programs.clock import Jump, local
from ember_core.programs.entries import AutoOff, Cycle, Plan, RandomPresence, Weekly
from ember_core.programs.simulate import Run, Span

# Lit through these hours of the local clock is lit all night [min from midnight].
NIGHT_FROM, NIGHT_TO = 0, 240
# Longer than any evening: the time to switch off was before the time to switch on [h].
LONGEST_H = 18.0


class Code(StrEnum):
    """Kinds of conflict."""

    OVERLAP = "programs_overlap"
    FIGHT = "devices_fight"
    CYCLE_AUTO_OFF = "auto_off_against_cycle"
    CUT_SHORT = "auto_off_cuts_program"
    ALL_NIGHT = "lit_all_night"
    TOO_LONG = "off_before_on"
    NEVER_OFF = "never_off"
    SKIPPED = "clock_skips"
    REPEATED = "clock_repeats"
    NO_SUN = "no_sun_event"
    TOO_MANY = "too_many_programs"
    SWALLOWED = "missed_in_outage"
    CLOCK_LOST = "clock_lost"


@dataclass(frozen=True, slots=True, kw_only=True)
class Conflict:
    """One conflict, once for the programs that it is of.

    Parameters
    ----------
    programs : their places. day : the first on which it happens. times : on how many.
    figures : what its sentence mentions.
    """

    code: Code
    programs: tuple[int, ...] = ()
    day: date | None = None
    times: int = 1
    figures: dict[str, float] = field(default_factory=dict)


def conflicts(plan: Plan, found: Run) -> tuple[Conflict, ...]:
    """Everything that goes against something else, in the order of the kinds."""
    each = [*_of_spans(plan, found.spans), *_of_limits(plan), *_of_lamp(plan, found), *_of_outages(found)]
    merged: dict[tuple[Code, tuple[int, ...]], Conflict] = {}
    for one in each:
        key = (one.code, one.programs)
        if key not in merged:
            merged[key] = one
        else:
            before = merged[key]
            days = [day for day in (before.day, one.day) if day is not None]
            merged[key] = Conflict(
                code=one.code,
                programs=one.programs,
                day=min(days, default=None),
                times=before.times + one.times,
                figures=before.figures,
            )
    order = list(Code)
    return tuple(sorted(merged.values(), key=lambda one: (order.index(one.code), one.programs)))


def _of_spans(plan: Plan, spans: tuple[Span, ...]) -> Iterator[Conflict]:
    for span in spans:
        if span.jump is not None:
            code = Code.SKIPPED if span.jump is Jump.SKIPPED else Code.REPEATED
            yield Conflict(code=code, programs=(span.program,), day=span.day)
        if span.end is not None and (span.end - span.begin).total_seconds() > 3600.0 * LONGEST_H:
            yield Conflict(code=Code.TOO_LONG, programs=(span.program,), day=span.day)
    running: list[Span] = []
    for span in spans:
        running = [one for one in running if one.end is not None and one.end > span.begin]
        for one in running:
            if one.program == span.program:
                continue
            pair = tuple(sorted((one.program, span.program)))
            devices = {plan.programs[k].device for k in pair}
            code = Code.FIGHT if len(devices) > 1 else Code.OVERLAP
            yield Conflict(code=code, programs=pair, day=span.day)
        running.append(span)


def _of_limits(plan: Plan) -> Iterator[Conflict]:
    most = plan.device.most_programs
    timed = [k for k, one in enumerate(plan.programs) if not isinstance(one, AutoOff)]
    if most is not None and len(timed) > most:
        yield Conflict(code=Code.TOO_MANY, programs=tuple(timed[most:]), figures={"most": most, "given": len(timed)})
    timers = [(one.minutes, k) for k, one in enumerate(plan.programs) if isinstance(one, AutoOff)]
    if not timers:
        for k, one in enumerate(plan.programs):
            if isinstance(one, Weekly) and one.off is None:
                yield Conflict(code=Code.NEVER_OFF, programs=(k,))
        return
    minutes, timer = min(timers)
    for k, one in enumerate(plan.programs):
        if isinstance(one, Cycle | RandomPresence) and one.on_minutes > minutes:
            yield Conflict(
                code=Code.CYCLE_AUTO_OFF,
                programs=(k, timer),
                figures={"on_minutes": one.on_minutes, "minutes": minutes},
            )


def _of_lamp(plan: Plan, found: Run) -> Iterator[Conflict]:
    timers = [(one.minutes, k) for k, one in enumerate(plan.programs) if isinstance(one, AutoOff)]
    if timers:
        minutes, timer = min(timers)
        for span in found.spans:
            if not isinstance(plan.programs[span.program], Weekly) or span.end is None:
                continue
            if (span.end - span.begin) > timedelta(minutes=minutes):
                yield Conflict(
                    code=Code.CUT_SHORT, programs=(span.program, timer), day=span.day, figures={"minutes": minutes}
                )
    # In order, and no two at once: what is lit at a moment is the last that began by then.
    lit = [(one.begin.astimezone(UTC), one.end.astimezone(UTC)) for one in found.lit]
    begins = [begin for begin, _ in lit]
    for k in range(plan.days + 1):
        day = plan.first + timedelta(days=k)
        begin, end = (local(day, minute, plan.zone).at for minute in (NIGHT_FROM, NIGHT_TO))
        last = bisect_right(begins, begin) - 1
        if last >= 0 and lit[last][1] >= end:
            yield Conflict(code=Code.ALL_NIGHT, day=day)
    for missed in found.no_sun:
        yield Conflict(code=Code.NO_SUN, programs=(missed.program,), day=missed.day)


def _of_outages(found: Run) -> Iterator[Conflict]:
    for missed in found.swallowed:
        yield Conflict(code=Code.SWALLOWED, programs=(missed.program,), day=missed.day)
    for begin, _ in found.clock_lost:
        yield Conflict(code=Code.CLOCK_LOST, day=begin.date())
