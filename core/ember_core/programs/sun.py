"""Sunrise and sunset at a place, by the astronomy package; None on days without one."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from enum import StrEnum
from functools import cache

from astral import Observer, sun


class SunEvent(StrEnum):
    """Upper limb of the sun on the horizon, coming or going."""

    SUNRISE = "sunrise"
    SUNSET = "sunset"


@cache
def sun_at(event: SunEvent, lat_deg: float, lon_deg: float, day: date) -> datetime | None:
    """When the sun rises or sets on a day as the place's own sun counts it, to the minute, UTC; None if it does not.

    Parameters
    ----------
    lat_deg, lon_deg : north and east are positive. day : the local date.
    """
    at = sun.sunrise if event is SunEvent.SUNRISE else sun.sunset
    # Noon by the sun is the middle of the day that is meant, whatever the clock there says.
    noon = datetime(day.year, day.month, day.day, 12, tzinfo=UTC) - timedelta(hours=lon_deg / 15.0)
    found: list[datetime] = []
    for near in (noon.date() - timedelta(days=1), noon.date(), noon.date() + timedelta(days=1)):
        try:
            found.append(at(Observer(lat_deg, lon_deg), near, tzinfo=UTC))
        except ValueError:
            continue
    half_day = timedelta(hours=12)
    here = [one for one in found if -half_day <= one - noon < half_day]
    if not here:
        return None
    return _to_minute(min(here, key=lambda one: abs(one - noon)))


def _to_minute(moment: datetime) -> datetime:
    return (moment + timedelta(seconds=30)).replace(second=0, microsecond=0)
