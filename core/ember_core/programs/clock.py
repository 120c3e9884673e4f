"""From a time of day to a moment: sun, limits, and the two days a year on which the clock jumps."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo

from ember_core.programs.entries import Plan, When
from ember_core.programs.sun import sun_at


class Jump(StrEnum):
    """What a change of clock does to a time."""

    SKIPPED = "clock_skips"
    REPEATED = "clock_repeats"


@dataclass(frozen=True, slots=True, kw_only=True)
class Moment:
    """A moment, UTC, and what the clock does there."""

    at: datetime
    jump: Jump | None = None


def local(day: date, minutes: int, zone: ZoneInfo) -> Moment:
    """A time of the local clock.

    One that is skipped comes as much later as the clock jumps; of one that comes twice the first counts.
    """
    wall = datetime(day.year, day.month, day.day) + timedelta(minutes=minutes)
    first, second = (wall.replace(tzinfo=zone, fold=fold).astimezone(UTC) for fold in (0, 1))
    if first.astimezone(zone).replace(tzinfo=None, fold=0) != wall:
        return Moment(at=first, jump=Jump.SKIPPED)
    return Moment(at=first, jump=Jump.REPEATED if first != second else None)


def moment_of(plan: Plan, when: When, day: date) -> Moment | None:
    """When a time comes on a day; None where the sun neither rises nor sets."""
    if when.sun is None:
        found: Moment | None = local(day, when.minutes, plan.zone)
    else:
        at = sun_at(when.sun, plan.lat_deg, plan.lon_deg, day)
        found = None if at is None else Moment(at=at + timedelta(minutes=when.minutes))
    earliest, latest = (None if one is None else local(day, one, plan.zone) for one in (when.earliest, when.latest))
    if found is not None and earliest is not None and found.at < earliest.at:
        return earliest
    if found is not None and latest is not None and found.at > latest.at:
        return latest
    return found
