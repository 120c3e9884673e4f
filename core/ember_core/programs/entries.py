"""Programs, presses and outages as they are given, read strictly.

A time is of the local clock, or counts from the sun, with limits where it may not be earlier or later.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from enum import StrEnum
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from ember_core.errors import InputErrors
from ember_core.programs.sun import SunEvent
from ember_core.reading import Reader

MOST_DAYS, MOST_PROGRAMS, MOST_PRESSES, MOST_OUTAGES = 400, 60, 2000, 100
MOST_MINUTES = 1440
MOST_OFFSET_MIN = 720
DAY_NAMES = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
EVERY_DAY = frozenset(range(7))

_CLOCK = re.compile(r"([01]\d|2[0-3]):([0-5]\d)")
_SUN = re.compile(r"(sunrise|sunset)(?:([+-])(\d{1,3}))?")


class Restart(StrEnum):
    """What a control does when its supply returns."""

    OFF = "off"
    ON = "on"
    AS_BEFORE = "as_before"


@dataclass(frozen=True, slots=True, kw_only=True)
class When:
    """A time of day: minutes from local midnight, or a distance from the sun [min], inside limits [min from midnight].

    Parameters
    ----------
    sun : None for a time by the clock.
    """

    minutes: int
    sun: SunEvent | None = None
    earliest: int | None = None
    latest: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Weekly:
    """On and off on some days of the week, 0 is Monday; off is the next such time after on, or never."""

    days: frozenset[int]
    on: When
    off: When | None
    device: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Cycle:
    """Between two times on for so long and off for so long, again and again [min]."""

    days: frozenset[int]
    begin: When
    end: When
    on_minutes: int
    off_minutes: int
    device: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class RandomPresence:
    """Between two times on and off as if somebody were there; the same seed gives the same evenings [min]."""

    days: frozenset[int]
    begin: When
    end: When
    on_minutes: int
    off_minutes: int
    seed: int
    device: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class AutoOff:
    """Off so long after it was switched on, however it was [min]."""

    minutes: int
    device: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class CountDown:
    """Once: so long after a moment it is switched on or off [min]."""

    at: datetime
    minutes: int
    sets_on: bool
    device: str = ""


Program = Weekly | Cycle | RandomPresence | AutoOff | CountDown


@dataclass(frozen=True, slots=True, kw_only=True)
class Press:
    """A hand at the control: the other state, or the one that is meant."""

    at: datetime
    sets_on: bool | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Outage:
    """The supply is away."""

    begin: datetime
    end: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """How a control keeps its programs.

    Parameters
    ----------
    clock_holds_s : its clock goes on for so long without supply; None for ever.
    clock_set_again : by itself when the supply returns, from a network; otherwise by hand.
    most_programs : it keeps no more; None where nobody says.
    """

    restart: Restart = Restart.OFF
    clock_holds_s: float | None = None
    clock_set_again: bool = True
    most_programs: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """What a lamp's control is to do from a date on, for so many days; the light is off when that begins."""

    zone: ZoneInfo
    lat_deg: float
    lon_deg: float
    first: date
    days: int
    programs: tuple[Program, ...]
    presses: tuple[Press, ...] = ()
    outages: tuple[Outage, ...] = ()
    device: Device = Device()

    @property
    def begin(self) -> datetime:
        """Local midnight of the first day."""
        return datetime(self.first.year, self.first.month, self.first.day, tzinfo=self.zone)

    @property
    def end(self) -> datetime:
        """Local midnight after the last day."""
        last = self.first + timedelta(days=self.days)
        return datetime(last.year, last.month, last.day, tzinfo=self.zone)


_KEYS = {
    "weekly": {"days", "on", "off", "on_not_before", "on_not_after", "off_not_before", "off_not_after"},
    "cycle": {"days", "from", "to", "on_minutes", "off_minutes"},
    "random": {"days", "from", "to", "on_minutes", "off_minutes", "seed"},
    "auto_off": {"minutes"},
    "count_down": {"at", "minutes", "sets"},
}


class _Reader(Reader):
    zone: ZoneInfo | None = None

    def days(self, data: Any, path: str) -> frozenset[int]:
        """Days of the week by name or by number, 1 is Monday."""
        found = set()
        for k, one in enumerate(self.entries(data, path, 7)):
            if isinstance(one, str) and one in DAY_NAMES:
                found.add(DAY_NAMES.index(one))
            elif isinstance(one, int) and not isinstance(one, bool) and 1 <= one <= 7:
                found.add(one - 1)
            else:
                self.wrong("not_a_weekday", f"{path}[{k}]", value=str(one)[:40], known=", ".join(DAY_NAMES))
        if not found and not self.errors:
            self.wrong("no_day", path)
        return frozenset(found)

    def clock(self, data: Any, path: str) -> int:
        """Minutes from midnight of a time by the clock."""
        found = _CLOCK.fullmatch(data) if isinstance(data, str) else None
        if found is None:
            self.wrong("not_a_time", path, value=str(data)[:40])
            return 0
        return 60 * int(found[1]) + int(found[2])

    def when(self, given: dict[str, Any], key: str, path: str) -> When:
        """A time by clock or sun, with its limits."""
        data = given.get(key)
        at = _SUN.fullmatch(data) if isinstance(data, str) else None
        limits = [
            None if given.get(f"{key}_{name}") is None else self.clock(given[f"{key}_{name}"], f"{path}.{key}_{name}")
            for name in ("not_before", "not_after")
        ]
        if at is None:
            return When(minutes=self.clock(data, f"{path}.{key}"), earliest=limits[0], latest=limits[1])
        offset = int(at[3] or 0) * (-1 if at[2] == "-" else 1)
        if abs(offset) > MOST_OFFSET_MIN:
            self.wrong(
                "out_of_bounds", f"{path}.{key}", value=offset, low=-MOST_OFFSET_MIN, high=MOST_OFFSET_MIN, unit="min"
            )
        return When(minutes=offset, sun=SunEvent(at[1]), earliest=limits[0], latest=limits[1])

    def moment(self, data: Any, path: str) -> datetime:
        """A moment by ISO 8601; without an offset it is of the local clock."""
        try:
            found = datetime.fromisoformat(data)
        except (TypeError, ValueError):
            self.wrong("not_a_moment", path, value=str(data)[:40])
            return datetime(2000, 1, 1, tzinfo=self.zone or ZoneInfo("UTC"))
        return found if found.tzinfo is not None else found.replace(tzinfo=self.zone or ZoneInfo("UTC"))


def read(data: Any) -> Plan:
    """A plan from JSON.

    Raises
    ------
    InputErrors : all that is wrong, each with its place: no zone or an unknown one, a time like 25:00.
    """
    reader = _Reader()
    given = reader.keys(
        data,
        "",
        {"zone", "lat", "lon", "from", "days", "programs", "presses", "outages", "device", "name", "note"},
    )
    reader.zone = _zone(reader, given.get("zone"))
    first = _date(reader, given.get("from"))
    programs = [
        _program(reader, one, f"programs[{k}]")
        for k, one in enumerate(reader.entries(given.get("programs", []), "programs", MOST_PROGRAMS))
    ]
    presses = [
        _press(reader, one, f"presses[{k}]")
        for k, one in enumerate(reader.entries(given.get("presses", []), "presses", MOST_PRESSES))
    ]
    outages = [
        _outage(reader, one, f"outages[{k}]")
        for k, one in enumerate(reader.entries(given.get("outages", []), "outages", MOST_OUTAGES))
    ]
    lat = reader.number(given.get("lat"), "lat", -90.0, 90.0, unit="deg")
    lon = reader.number(given.get("lon"), "lon", -180.0, 180.0, unit="deg")
    days = reader.whole(given.get("days"), "days", 1, MOST_DAYS, unit="d")
    device = _device(reader, given.get("device", {}))
    if reader.errors or reader.zone is None:
        raise InputErrors(reader.errors)
    return Plan(
        zone=reader.zone,
        lat_deg=lat,
        lon_deg=lon,
        first=first,
        days=days,
        programs=tuple(one for one in programs if one is not None),
        presses=tuple(sorted(presses, key=lambda one: one.at)),
        outages=tuple(sorted(outages, key=lambda one: one.begin)),
        device=device,
    )


def _zone(reader: _Reader, data: Any) -> ZoneInfo | None:
    if data is None or data == "":
        reader.wrong("no_zone", "zone")
        return None
    try:
        return ZoneInfo(data)
    except (ZoneInfoNotFoundError, ValueError, TypeError, OSError):
        reader.wrong("unknown_zone", "zone", value=str(data)[:40])
        return None


def _date(reader: _Reader, data: Any) -> date:
    try:
        found = date.fromisoformat(data)
    except (TypeError, ValueError):
        reader.wrong("not_a_date", "from", value=str(data)[:40])
        return date(2000, 1, 1)
    if not 1971 <= found.year <= 2100:
        reader.wrong("not_a_date", "from", value=str(data)[:40])
    return found


def _program(reader: _Reader, data: Any, path: str) -> Program | None:
    given = reader.keys(data, path, {"kind", "device", "note"}.union(*_KEYS.values()))
    kind = given.get("kind")
    if kind not in _KEYS:
        reader.wrong("unknown_kind", f"{path}.kind", value=str(kind)[:40], known=", ".join(_KEYS))
        return None
    for key in given:
        if key not in _KEYS[kind] | {"kind", "device", "note"}:
            reader.wrong("unknown_key", f"{path}.{key}", key=str(key)[:40], near="")
    device = reader.text(given["device"], f"{path}.device") if given.get("device") else ""
    if kind == "auto_off":
        return AutoOff(minutes=_minutes(reader, given, "minutes", path), device=device)
    if kind == "count_down":
        sets = given.get("sets", "off")
        if sets not in ("on", "off"):
            reader.wrong("unknown_word", f"{path}.sets", value=str(sets)[:40], known="on, off")
        return CountDown(
            at=reader.moment(given.get("at"), f"{path}.at"),
            minutes=_minutes(reader, given, "minutes", path),
            sets_on=sets == "on",
            device=device,
        )
    days = reader.days(given["days"], f"{path}.days") if "days" in given else EVERY_DAY
    if kind == "weekly":
        off = None if given.get("off") is None else reader.when(given, "off", path)
        on = reader.when(given, "on", path)
        if off == on:
            reader.wrong("on_is_off", f"{path}.off")
        return Weekly(days=days, on=on, off=off, device=device)
    begin, end = reader.when(given, "from", path), reader.when(given, "to", path)
    on_minutes, off_minutes = (_minutes(reader, given, key, path) for key in ("on_minutes", "off_minutes"))
    if kind == "cycle":
        return Cycle(days=days, begin=begin, end=end, on_minutes=on_minutes, off_minutes=off_minutes, device=device)
    return RandomPresence(
        days=days,
        begin=begin,
        end=end,
        on_minutes=on_minutes,
        off_minutes=off_minutes,
        seed=reader.whole(given.get("seed", 1), f"{path}.seed", 0, 2**31),
        device=device,
    )


def _minutes(reader: _Reader, given: dict[str, Any], key: str, path: str) -> int:
    default = {"random": 40}.get(str(given.get("kind"))) if key != "minutes" else None
    return reader.whole(given.get(key, default), f"{path}.{key}", 1, MOST_MINUTES, unit="min")


def _press(reader: _Reader, data: Any, path: str) -> Press:
    if not isinstance(data, dict):
        return Press(at=reader.moment(data, path))
    given = reader.keys(data, path, {"at", "sets", "note"})
    sets = given.get("sets")
    if sets not in (None, "on", "off"):
        reader.wrong("unknown_word", f"{path}.sets", value=str(sets)[:40], known="on, off")
    return Press(at=reader.moment(given.get("at"), f"{path}.at"), sets_on=None if sets is None else sets == "on")


def _outage(reader: _Reader, data: Any, path: str) -> Outage:
    given = reader.keys(data, path, {"from", "to", "seconds", "note"})
    begin = reader.moment(given.get("from"), f"{path}.from")
    if "seconds" in given:
        seconds = reader.number(given["seconds"], f"{path}.seconds", 0.0, 31_536_000.0, unit="s")
        # Seconds are seconds, whatever the clock on the wall does meanwhile.
        return Outage(begin=begin, end=begin.astimezone(UTC) + timedelta(seconds=seconds))
    end = reader.moment(given.get("to"), f"{path}.to")
    if end < begin:
        reader.wrong("ends_before_it_begins", f"{path}.to")
    return Outage(begin=begin, end=end)


def _device(reader: _Reader, data: Any) -> Device:
    given = reader.keys(data, "device", {"restart", "clock_holds_s", "clock_set_again", "most_programs"})
    holds, most = given.get("clock_holds_s"), given.get("most_programs")
    return Device(
        restart=reader.word(given.get("restart", "off"), "device.restart", Restart),
        clock_holds_s=None
        if holds is None
        else reader.number(holds, "device.clock_holds_s", 0.0, 31_536_000.0, unit="s"),
        clock_set_again=reader.flag(given.get("clock_set_again", True), "device.clock_set_again"),
        most_programs=None if most is None else reader.whole(most, "device.most_programs", 1, 1000),
    )
