"""What a lamp does: every program, press and power cut as an event on one line of time."""

from __future__ import annotations

import heapq
import itertools
import random
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from enum import IntEnum

from ember_core.errors import InputError, InputErrors
from ember_core.programs.clock import Jump, Moment, moment_of
from ember_core.programs.entries import AutoOff, CountDown, Cycle, Plan, Program, RandomPresence, Restart, Weekly, When

# More often on a day no lamp is switched by programs [1].
MOST_A_DAY = 200


@dataclass(frozen=True, slots=True, kw_only=True)
class Lit:
    """The light is on from one moment to another, local time with its offset."""

    begin: datetime
    end: datetime

    @property
    def hours(self) -> float:
        """How long by the sun, whatever the clock does."""
        return (self.end.astimezone(UTC) - self.begin.astimezone(UTC)).total_seconds() / 3600.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """What one program wants: on from a moment to another, or for good; UTC.

    Parameters
    ----------
    program : its place. day : the day that it belongs to. jump : what the clock does to one of its ends.
    """

    program: int
    day: date
    begin: datetime
    end: datetime | None
    jump: Jump | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Missed:
    """A time at which nothing comes: no sunrise or sunset on a day, or a program that a power cut swallowed."""

    program: int
    day: date


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """What the days bring.

    Parameters
    ----------
    lit : when the light is on, inside the days. spans : what the programs want. no_sun : days without the sun event.
    swallowed : switching times that fell into an outage, or came while the clock was lost.
    clock_lost : since when the control knew no time, and until when; None for the rest of the days.
    """

    lit: tuple[Lit, ...]
    spans: tuple[Span, ...]
    no_sun: tuple[Missed, ...]
    swallowed: tuple[Missed, ...]
    clock_lost: tuple[tuple[datetime, datetime | None], ...]

    @property
    def hours(self) -> float:
        """How long the light is on in all."""
        return sum(one.hours for one in self.lit)


class _What(IntEnum):
    """Events of one moment in this order: supply first, then what ends, then what begins, hands last."""

    SUPPLY_OFF = 0
    SUPPLY_ON = 1
    TIMER = 2
    PROGRAM_OFF = 3
    PROGRAM_ON = 4
    PRESS = 5


@dataclass(frozen=True, slots=True, order=True)
class _Event:
    at: datetime
    what: _What
    number: int
    program: int = -1
    day: date | None = None
    sets_on: bool | None = None


def run(plan: Plan) -> Run:
    """Every day of a plan."""
    spans, no_sun = spans_of(plan)
    return _Line(plan, spans, no_sun).run()


def spans_of(plan: Plan) -> tuple[tuple[Span, ...], tuple[Missed, ...]]:
    """What each program wants on each day, and the days on which its sun event does not come.

    Raises
    ------
    InputErrors : `switches_too_often`, for programs that no relay would live through.
    """
    spans: list[Span] = []
    missed: list[Missed] = []
    for k, program in enumerate(plan.programs):
        for span in _wants(plan, k, program):
            (spans if isinstance(span, Span) else missed).append(span)  # type: ignore[arg-type]
            if len(spans) > MOST_A_DAY * plan.days:
                raise InputErrors([InputError("switches_too_often", path=f"programs[{k}]", most=MOST_A_DAY)])
    return tuple(sorted(spans, key=lambda span: (span.begin, span.program))), tuple(missed)


def _wants(plan: Plan, k: int, program: Program) -> Iterator[Span | Missed]:
    match program:
        case Weekly():
            for day in _days(plan, program.days):
                yield _span(plan, k, day, program.on, program.off)
        case Cycle() | RandomPresence():
            for day in _days(plan, program.days):
                whole = _span(plan, k, day, program.begin, program.end)
                if isinstance(whole, Missed) or whole.end is None:
                    yield whole
                else:
                    yield from _pieces(program, whole, whole.end)
        case _:
            return


def _days(plan: Plan, days: frozenset[int]) -> Iterator[date]:
    for k in range(plan.days):
        day = plan.first + timedelta(days=k)
        if day.weekday() in days:
            yield day


def _span(plan: Plan, k: int, day: date, on: When, off: When | None) -> Span | Missed:
    begin = moment_of(plan, on, day)
    if begin is None:
        return Missed(program=k, day=day)
    if off is None:
        return Span(program=k, day=day, begin=begin.at, end=None, jump=begin.jump)
    end = _after(plan, off, day, begin.at)
    if end is None:
        return Missed(program=k, day=day)
    return Span(program=k, day=day, begin=begin.at, end=end.at, jump=begin.jump or end.jump)


def _after(plan: Plan, off: When, day: date, begin: datetime) -> Moment | None:
    """The next such time after a moment: on the same day, or on the next."""
    for late in range(3):
        end = moment_of(plan, off, day + timedelta(days=late))
        if end is not None and end.at > begin:
            return end
    return None


def _pieces(program: Cycle | RandomPresence, whole: Span, end: datetime) -> Iterator[Span]:
    drawn = random.Random(f"{program.seed}:{whole.day}") if isinstance(program, RandomPresence) else None
    at = whole.begin
    is_first = True
    while at < end:
        if drawn is not None and is_first:
            # Nobody comes home at the same minute every day.
            at += timedelta(minutes=drawn.randint(0, program.off_minutes))
        is_first = False
        stays = program.on_minutes if drawn is None else max(1, round(program.on_minutes * drawn.uniform(0.5, 1.5)))
        rests = program.off_minutes if drawn is None else max(1, round(program.off_minutes * drawn.uniform(0.5, 1.5)))
        until = min(at + timedelta(minutes=stays), end)
        if at < until:
            yield Span(program=whole.program, day=whole.day, begin=at, end=until, jump=whole.jump)
        at = until + timedelta(minutes=rests)


class _Line:
    """One line of time, its events, and the state of lamp, supply and clock."""

    def __init__(self, plan: Plan, spans: tuple[Span, ...], no_sun: tuple[Missed, ...]) -> None:
        self._plan, self._spans, self._no_sun = plan, spans, no_sun
        self._begin, self._end = plan.begin.astimezone(UTC), plan.end.astimezone(UTC)
        self._numbers = itertools.count()
        self._events: list[_Event] = []
        self._lit: list[Lit] = []
        self._swallowed: list[Missed] = []
        self._lost: list[tuple[datetime, datetime | None]] = []
        self._on_since: datetime | None = None
        self._was_on = False
        self._off_since: datetime | None = None
        self._knows_time = True
        self._timer = -1
        timers = [program.minutes for program in plan.programs if isinstance(program, AutoOff)]
        self._auto_off = timedelta(minutes=min(timers)) if timers else None

    def run(self) -> Run:
        """Everything that happens until the end."""
        for span in self._spans:
            self._put(span.begin, _What.PROGRAM_ON, program=span.program, day=span.day)
            if span.end is not None:
                self._put(span.end, _What.PROGRAM_OFF, program=span.program, day=span.day)
        for k, program in enumerate(self._plan.programs):
            if isinstance(program, CountDown):
                what = _What.PROGRAM_ON if program.sets_on else _What.PROGRAM_OFF
                at = program.at.astimezone(UTC) + timedelta(minutes=program.minutes)
                self._put(at, what, program=k, day=at.astimezone(self._plan.zone).date())
        for press in self._plan.presses:
            self._put(press.at.astimezone(UTC), _What.PRESS, sets_on=press.sets_on)
        for begin, end in _joined((one.begin.astimezone(UTC), one.end.astimezone(UTC)) for one in self._plan.outages):
            self._put(begin, _What.SUPPLY_OFF)
            self._put(end, _What.SUPPLY_ON)
        while self._events:
            event = heapq.heappop(self._events)
            if event.at >= self._end:
                break
            if event.at >= self._begin:
                self._happens(event)
        self._goes_off(self._end)
        return Run(
            lit=tuple(self._lit),
            spans=self._spans,
            no_sun=self._no_sun,
            swallowed=tuple(self._swallowed),
            clock_lost=tuple(self._lost),
        )

    def _put(self, at: datetime, what: _What, **more: object) -> int:
        number = next(self._numbers)
        heapq.heappush(self._events, _Event(at, what, number, **more))  # type: ignore[arg-type]
        return number

    def _happens(self, event: _Event) -> None:
        match event.what:
            case _What.SUPPLY_OFF:
                self._was_on = self._on_since is not None
                self._goes_off(event.at)
                self._off_since = event.at
            case _What.SUPPLY_ON:
                self._returns(event.at)
            case _What.TIMER:
                if event.number == self._timer:
                    self._goes_off(event.at)
            case _What.PROGRAM_ON | _What.PROGRAM_OFF:
                if self._off_since is not None or not self._knows_time:
                    assert event.day is not None  # noqa: S101 -- every program event is put with its day
                    self._swallowed.append(Missed(program=event.program, day=event.day))
                elif event.what is _What.PROGRAM_ON:
                    self._goes_on(event.at)
                else:
                    self._goes_off(event.at)
            case _What.PRESS:
                if self._off_since is None:
                    wanted = self._on_since is None if event.sets_on is None else event.sets_on
                    self._goes_on(event.at) if wanted else self._goes_off(event.at)

    def _returns(self, at: datetime) -> None:
        device, since = self._plan.device, self._off_since
        self._off_since = None
        holds = device.clock_holds_s
        if since is not None and holds is not None and (at - since).total_seconds() > holds and self._knows_time:
            lost = since + timedelta(seconds=holds)
            self._knows_time = device.clock_set_again
            self._lost.append((self._here(lost), self._here(at) if device.clock_set_again else None))
        if device.restart is Restart.ON or (device.restart is Restart.AS_BEFORE and self._was_on):
            self._goes_on(at)

    def _goes_on(self, at: datetime) -> None:
        if self._on_since is None:
            self._on_since = at
        if self._auto_off is not None:
            # Whoever switches on begins anew.
            self._timer = self._put(at + self._auto_off, _What.TIMER)

    def _goes_off(self, at: datetime) -> None:
        if self._on_since is not None and self._on_since < at:
            self._lit.append(Lit(begin=self._here(self._on_since), end=self._here(at)))
        self._on_since = None
        self._timer = -1

    def _here(self, moment: datetime) -> datetime:
        return moment.astimezone(self._plan.zone)


def _joined(spans: Iterator[tuple[datetime, datetime]]) -> list[tuple[datetime, datetime]]:
    """Outages that touch are one."""
    found: list[tuple[datetime, datetime]] = []
    for begin, end in sorted(spans):
        if found and begin <= found[-1][1]:
            found[-1] = found[-1][0], max(end, found[-1][1])
        else:
            found.append((begin, end))
    return found
