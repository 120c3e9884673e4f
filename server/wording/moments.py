"""Moments in the time of a site: on paper, and wherever a sentence holds one."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from functools import cache
from zoneinfo import ZoneInfo, available_timezones

from django.core.exceptions import ValidationError
from django.utils import timezone

from wording.texts import catalogue, fill

UTC = "UTC"
MINUTE = "%Y-%m-%d %H:%M"


@cache
def zones() -> frozenset[str]:
    """Every zone by its name in the IANA database."""
    return frozenset(available_timezones())


def known_zone(name: str) -> None:
    """Raise `ValidationError` for a zone that is none."""
    if name not in zones():
        raise ValidationError("This is no time zone.", code="unknown_zone")


@contextmanager
def in_zone(name: str) -> Iterator[None]:
    """Moments are told in the time of this zone; an empty name is UTC."""
    with timezone.override(ZoneInfo(name or UTC)):
        yield


def minute_of(moment: datetime) -> str:
    """A moment to the minute, in the zone that is in force."""
    return f"{timezone.localtime(moment):{MINUTE}}"


def whole_minute(moment: datetime) -> str:
    """A moment to the minute with the zone that it is told in, where nothing around it says which."""
    return f"{minute_of(moment)} {zone_word()}"


def duration_of(minutes: int) -> str:
    """How long something takes, as people say it: 6 h 40 min."""
    hours, rest = divmod(minutes, 60)
    if hours == 0:
        return f"{rest} min"
    return f"{hours} h {rest} min" if rest else f"{hours} h"


def zone_word() -> str:
    """How the zone in force is told: by its city, which holds in summer and winter."""
    name = timezone.get_current_timezone_name()
    if name == UTC:
        return UTC
    return fill(catalogue("papers")["zone"], {"city": name.rpartition("/")[2].replace("_", " ")})
