"""Programs: sun against tables, clocks that jump in three zones, a second way to count hours, conflicts, power cuts."""

from __future__ import annotations

import math
import random
import unittest
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.test import tag

from ember_core.errors import InputErrors
from ember_core.programs.conflicts import conflicts
from ember_core.programs.entries import read
from ember_core.programs.simulate import run
from ember_core.programs.sun import SunEvent, sun_at

Json = dict[str, Any]
# Published times, to the minute: place, zone, day, sunrise, sunset.
TABLES = (
    (51.5074, -0.1278, "Europe/London", "2026-06-21", "04:43", "21:21"),
    (51.5074, -0.1278, "Europe/London", "2026-12-21", "08:04", "15:53"),
    (40.7128, -74.0060, "America/New_York", "2026-06-21", "05:25", "20:31"),
    (40.7128, -74.0060, "America/New_York", "2026-12-21", "07:17", "16:32"),
    (-33.8688, 151.2093, "Australia/Sydney", "2026-12-21", "05:41", "20:05"),
    (-33.8688, 151.2093, "Australia/Sydney", "2026-06-21", "07:00", "16:54"),
)
TROMSO = (69.6492, 18.9553)


def plan(**changes: Any) -> Json:
    """Eight days about the end of summer time."""
    return {
        **{"zone": "Europe/Berlin", "lat": 52.5, "lon": 13.4, "from": "2026-10-24", "days": 8, "programs": []},
        **changes,
    }


def lit(**changes: Any) -> list[tuple[str, str]]:
    """When the light is on."""
    return [(one.begin.isoformat(), one.end.isoformat()) for one in run(read(plan(**changes))).lit]


def codes(**changes: Any) -> list[str]:
    """What goes against what."""
    made = read(plan(**changes))
    return [one.code.value for one in conflicts(made, run(made))]


def nautical(lat: float, lon: float, day: date, *, is_rising: bool) -> datetime:
    """Sunrise or sunset by the mean longitude of the sun and Kepler's equation: another road than the package's."""
    sign = -1.0 if is_rising else 1.0
    moment = datetime(day.year, day.month, day.day, 12, tzinfo=UTC) - timedelta(hours=lon / 15.0)
    for _ in range(4):
        d = (moment - datetime(2000, 1, 1, 12, tzinfo=UTC)).total_seconds() / 86400.0
        anomaly = math.radians(357.5291 + 0.98560028 * d)
        eccentric = anomaly
        for _ in range(10):
            eccentric = anomaly + 0.016709 * math.sin(eccentric)
        true = 2.0 * math.atan2(
            math.sqrt(1.016709) * math.sin(eccentric / 2.0), math.sqrt(0.983291) * math.cos(eccentric / 2.0)
        )
        longitude = true + math.radians(282.9372 + 4.71e-5 * d)
        tilt = math.radians(23.4393 - 3.563e-7 * d)
        declination = math.asin(math.sin(tilt) * math.sin(longitude))
        right = math.atan2(math.cos(tilt) * math.sin(longitude), math.cos(longitude))
        mean = math.radians(280.4606 + 360.9856474 * d) + math.radians(lon)
        transit = math.remainder(mean - right, 2.0 * math.pi)
        up = math.sin(math.radians(-0.833)) - math.sin(math.radians(lat)) * math.sin(declination)
        hour = math.acos(up / (math.cos(math.radians(lat)) * math.cos(declination)))
        off = math.remainder(sign * hour - transit, 2.0 * math.pi)
        moment += timedelta(seconds=off / (2.0 * math.pi) * 86164.1)
    return moment


class Sun(unittest.TestCase):
    """To the minute."""

    def test_within_a_minute_of_the_tables(self) -> None:
        """Three latitudes, both solstices."""
        for lat, lon, zone, day, rise, fall in TABLES:
            for event, wanted in ((SunEvent.SUNRISE, rise), (SunEvent.SUNSET, fall)):
                found = sun_at(event, lat, lon, date.fromisoformat(day))
                assert found is not None
                table = datetime.fromisoformat(f"{day}T{wanted}").replace(tzinfo=ZoneInfo(zone))
                self.assertLessEqual(abs((found - table).total_seconds()), 60.0, (zone, day, event))

    def test_within_a_minute_of_a_second_model(self) -> None:
        """Drawn places below the polar circles, drawn days."""
        draw = random.Random(5)
        for _ in range(200):
            lat, lon = draw.uniform(-60.0, 60.0), draw.uniform(-179.0, 179.0)
            day = date(2026, 1, 1) + timedelta(days=draw.randint(0, 364))
            for event in SunEvent:
                found = sun_at(event, lat, lon, day)
                assert found is not None
                wanted = nautical(lat, lon, day, is_rising=event is SunEvent.SUNRISE)
                self.assertLessEqual(abs((found - wanted).total_seconds()), 90.0, (lat, lon, day, event))

    def test_a_polar_day_and_a_polar_night_have_none(self) -> None:
        """Nothing is made up; a program that counts on it says so and does nothing."""
        for day in (date(2026, 6, 21), date(2026, 12, 21)):
            for event in SunEvent:
                self.assertIsNone(sun_at(event, *TROMSO, day))
        polar: Json = {"lat": TROMSO[0], "lon": TROMSO[1], "zone": "Europe/Oslo", "from": "2026-06-20", "days": 3}
        programs = [{"kind": "weekly", "on": "sunset", "off": "23:00"}]
        self.assertEqual(lit(**polar, programs=programs), [])
        self.assertEqual(codes(**polar, programs=programs), ["no_sun_event"])


class Clock(unittest.TestCase):
    """The two days a year."""

    def test_clock_changes_in_three_zones(self) -> None:
        """On from one o'clock to four by the wall: an hour more in autumn, an hour less in spring."""
        program = [{"kind": "weekly", "on": "00:30", "off": "04:30"}]
        for zone, autumn, spring in (
            ("Europe/Berlin", "2026-10-25", "2026-03-29"),
            ("America/New_York", "2026-11-01", "2026-03-08"),
            ("Australia/Sydney", "2026-04-05", "2026-10-04"),
        ):
            for day, hours in ((autumn, 5.0), (spring, 3.0)):
                made = run(read(plan(**{"zone": zone, "from": day, "days": 1, "programs": program})))
                self.assertEqual(made.hours, hours, (zone, day))

    def test_a_time_that_is_skipped_or_comes_twice(self) -> None:
        """02:30 does not come in spring: it is done when the clock has jumped; in autumn the first of two counts."""
        program = [{"kind": "weekly", "on": "02:30", "off": "03:45"}]
        self.assertEqual(
            lit(**{"from": "2026-03-29", "days": 1, "programs": program}),
            [("2026-03-29T03:30:00+02:00", "2026-03-29T03:45:00+02:00")],
        )
        self.assertEqual(
            lit(**{"from": "2026-10-25", "days": 1, "programs": program}),
            [("2026-10-25T02:30:00+02:00", "2026-10-25T03:45:00+01:00")],
        )
        self.assertEqual(codes(**{"from": "2026-03-29", "days": 1, "programs": program}), ["clock_skips"])
        self.assertEqual(codes(**{"from": "2026-10-25", "days": 1, "programs": program}), ["clock_repeats"])


class Days(unittest.TestCase):
    """What a lamp does."""

    def test_sun_offsets_days_and_midnight(self) -> None:
        """Saturday only, twenty minutes after sunset, until two on Sunday."""
        made = lit(programs=[{"kind": "weekly", "days": ["sat"], "on": "sunset+20", "off": "02:00"}], days=3)
        fall = nautical(52.5, 13.4, date(2026, 10, 24), is_rising=False) + timedelta(minutes=20)
        self.assertLessEqual(abs((datetime.fromisoformat(made[0][0]) - fall).total_seconds()), 90.0)
        self.assertEqual([end for _, end in made], ["2026-10-25T02:00:00+02:00"])

    def test_limits_hold_the_sun(self) -> None:
        """Not before seven, not after eight."""
        for limits, wanted in (({"on_not_before": "19:00"}, "19:00"), ({"on_not_after": "17:00"}, "17:00")):
            program = {"kind": "weekly", "on": "sunset", "off": "23:00", **limits}
            self.assertIn(f"T{wanted}:00", lit(programs=[program], days=1)[0][0])

    @tag("long")
    def test_minute_by_minute_gives_the_same_hours(self) -> None:
        """Drawn programs with presses and cuts, against a lamp that is looked at each minute."""
        for seed in range(60):
            draw = random.Random(seed)
            document = self.drawn(draw)
            made = read(document)
            counted = self.watched(made)
            self.assertAlmostEqual(run(made).hours, counted, delta=1e-6, msg=str(document))

    def drawn(self, draw: random.Random) -> Json:
        """Programs by the clock, hands and outages, on whole minutes."""

        def clock() -> str:
            return f"{draw.randint(0, 23):02}:{draw.randint(0, 59):02}"

        programs: list[Json] = []
        for _ in range(draw.randint(1, 3)):
            on, off = clock(), clock()
            if on != off:
                programs.append(
                    {
                        "kind": "weekly",
                        "days": draw.sample(["mon", "tue", "wed", "sat", "sun"], 3),
                        "on": on,
                        "off": off,
                    }
                )
        if draw.random() < 0.5:
            programs.append({"kind": "auto_off", "minutes": draw.randint(1, 300)})
        days = [f"2026-10-{draw.randint(24, 31)}T{clock()}" for _ in range(8)]
        begin = datetime.fromisoformat(days[0]).replace(tzinfo=ZoneInfo("Europe/Berlin"))
        return plan(
            programs=programs,
            presses=days[1 : draw.randint(1, 7)],
            outages=[{"from": begin.isoformat(), "seconds": 60 * draw.randint(1, 600)}] if draw.random() < 0.5 else [],
            device={"restart": draw.choice(("off", "on", "as_before"))},
        )

    def watched(self, made: Any) -> float:
        """Hours by a loop over minutes that knows nothing of events."""
        spans = run(made).spans
        ons: dict[datetime, int] = {}
        offs: dict[datetime, int] = {}
        for span in spans:
            ons[span.begin] = ons.get(span.begin, 0) + 1
            if span.end is not None:
                offs[span.end] = offs.get(span.end, 0) + 1
        timers = [one.minutes for one in made.programs if hasattr(one, "minutes") and not hasattr(one, "at")]
        presses: dict[datetime, int] = {}
        for press in made.presses:
            presses[press.at.astimezone(UTC)] = presses.get(press.at.astimezone(UTC), 0) + 1
        at, end = made.begin.astimezone(UTC), made.end.astimezone(UTC)
        is_on, was_on, had_supply, left, minutes = False, False, True, None, 0
        while at < end:
            has_supply = not any(o.begin.astimezone(UTC) <= at < o.end.astimezone(UTC) for o in made.outages)
            if had_supply and not has_supply:
                was_on, is_on, left = is_on, False, None
            elif has_supply and not had_supply:
                is_on = made.device.restart == "on" or (made.device.restart == "as_before" and was_on)
                left = min(timers) if timers and is_on else None
            had_supply = has_supply
            if has_supply:
                if left == 0:
                    is_on, left = False, None
                if at in offs:
                    is_on, left = False, None
                if at in ons:
                    is_on, left = True, min(timers) if timers else None
                for _ in range(presses.get(at, 0)):
                    is_on = not is_on
                    left = min(timers) if timers and is_on else None
            if is_on:
                minutes += 1
                left = None if left is None else left - 1
            at += timedelta(minutes=1)
        return minutes / 60.0

    def test_cycle_and_random_stay_inside_their_times(self) -> None:
        """On and off again and again, never outside; the same seed gives the same evenings, another does not."""
        cycle = {"kind": "cycle", "from": "20:00", "to": "21:00", "on_minutes": 10, "off_minutes": 20}
        self.assertEqual(
            [begin[11:16] for begin, _ in lit(programs=[cycle], days=1)],
            ["20:00", "20:30"],
        )
        evenings = [
            lit(programs=[{"kind": "random", "from": "18:00", "to": "23:00", "seed": seed}], days=8)
            for seed in (1, 1, 2)
        ]
        self.assertEqual(evenings[0], evenings[1])
        self.assertNotEqual(evenings[0], evenings[2])
        for begin, end in evenings[0]:
            self.assertGreaterEqual(begin[11:16], "18:00")
            self.assertLessEqual(end[11:16], "23:00")

    def test_a_count_down_happens_once(self) -> None:
        """Switched on by hand, off ninety minutes after a moment."""
        made = lit(
            presses=["2026-10-24T18:00"],
            programs=[{"kind": "count_down", "at": "2026-10-24T18:00", "minutes": 90, "sets": "off"}],
        )
        self.assertEqual(made, [("2026-10-24T18:00:00+02:00", "2026-10-24T19:30:00+02:00")])


class Cuts(unittest.TestCase):
    """Supply away for a second, ten minutes, eight hours."""

    def test_what_comes_back_and_what_was_missed(self) -> None:
        """The light as the control says; the time to switch off fell into the long cut, over the change of clock."""
        program = [{"kind": "weekly", "on": "18:00", "off": "23:00"}]
        for seconds, restart, hours in (
            (1.0, "as_before", 5.0 - 1.0 / 3600.0),
            (600.0, "off", 2.0),
            (8 * 3600.0, "as_before", 2.0 + 20.0 - 4.0),
        ):
            made = run(
                read(
                    plan(
                        programs=program,
                        days=1 if seconds < 3600.0 else 2,
                        outages=[{"from": "2026-10-24T20:00", "seconds": seconds}],
                        device={"restart": restart},
                    )
                )
            )
            if seconds < 3600.0:
                self.assertAlmostEqual(made.hours, hours)
            else:
                self.assertEqual(made.lit[1].begin.isoformat(), "2026-10-25T03:00:00+01:00")
                self.assertEqual([one.program for one in made.swallowed], [0])

    def test_a_lost_clock_stops_every_program(self) -> None:
        """Held for an hour: a cut of fifty-nine minutes is nothing, one of sixty-one ends all until it is set."""
        program = [{"kind": "weekly", "on": "18:00", "off": "23:00"}]
        for minutes, is_lost in ((59, False), (61, True)):
            found = codes(
                programs=program,
                outages=[{"from": "2026-10-24T08:00", "seconds": 60 * minutes}],
                device={"clock_holds_s": 3600, "clock_set_again": False},
            )
            self.assertEqual("clock_lost" in found, is_lost)
            self.assertEqual("missed_in_outage" in found, is_lost)

    def test_programs_that_no_relay_would_live_through(self) -> None:
        """Every second minute around the clock is refused by its place; every quarter of an hour is not."""
        for minutes, is_fine in ((1, False), (15, True)):
            cycle = {"kind": "cycle", "from": "00:00", "to": "23:59", "on_minutes": minutes, "off_minutes": minutes}
            made = read(plan(programs=[cycle]))
            if is_fine:
                self.assertGreater(run(made).hours, 90.0)
                continue
            with self.assertRaises(InputErrors) as caught:
                run(made)
            self.assertEqual(caught.exception.errors[0].path, "programs[0]")


class Against(unittest.TestCase):
    """Conflicts, just inside and outside."""

    def test_each_by_its_code(self) -> None:
        """What shows it, and what just does not."""
        evening = {"kind": "weekly", "on": "18:00", "off": "22:00"}
        later = {"kind": "weekly", "on": "22:00", "off": "23:00"}
        earlier = {"kind": "weekly", "on": "21:59", "off": "23:00"}
        cycle = {"kind": "cycle", "from": "18:00", "to": "20:00", "on_minutes": 10, "off_minutes": 5}
        auto = {"kind": "auto_off", "minutes": 10}
        cases: tuple[tuple[list[Json], list[str]], ...] = (
            ([evening, later], []),
            ([evening, earlier], ["programs_overlap"]),
            ([{**evening, "device": "a"}, {**earlier, "device": "b"}], ["devices_fight"]),
            ([cycle, auto], []),
            ([{**cycle, "on_minutes": 11}, auto], ["auto_off_against_cycle"]),
            ([evening, {**auto, "minutes": 240}], []),
            ([evening, {**auto, "minutes": 239}], ["auto_off_cuts_program"]),
            ([{"kind": "weekly", "on": "sunset", "off": "04:00"}], ["lit_all_night"]),
            ([{"kind": "weekly", "on": "sunset", "off": "03:59"}], []),
            ([{"kind": "weekly", "days": ["sat"], "on": "20:00"}], ["never_off", "lit_all_night"]),
            ([{"kind": "weekly", "days": ["sat"], "on": "18:00", "off": "17:30"}], ["lit_all_night", "off_before_on"]),
        )
        for programs, wanted in cases:
            self.assertEqual(sorted(codes(programs=programs)), sorted(wanted), programs)

    def test_more_than_a_control_keeps(self) -> None:
        """Seven are kept, the eighth is not."""
        programs = [{"kind": "weekly", "on": f"{6 + k:02}:00", "off": f"{6 + k:02}:30"} for k in range(8)]
        self.assertEqual(codes(programs=programs[:7], device={"most_programs": 7}), [])
        self.assertEqual(codes(programs=programs, device={"most_programs": 7}), ["too_many_programs"])


class Door(unittest.TestCase):
    """What cannot be read."""

    def test_a_time_that_is_none_and_a_site_without_zone(self) -> None:
        """Each with its place."""
        for changes, code, path in (
            ({"zone": None}, "no_zone", "zone"),
            ({"zone": "Europe/Nowhere"}, "unknown_zone", "zone"),
            ({"zone": "../etc/passwd"}, "unknown_zone", "zone"),
            ({"programs": [{"kind": "weekly", "on": "25:00", "off": "23:00"}]}, "not_a_time", "programs[0].on"),
            ({"programs": [{"kind": "weekly", "on": "sunset+900"}]}, "out_of_bounds", "programs[0].on"),
            (
                {"programs": [{"kind": "weekly", "days": ["someday"], "on": "18:00"}]},
                "not_a_weekday",
                "programs[0].days[0]",
            ),
            ({"programs": [{"kind": "auto_off", "minutes": 0}]}, "out_of_bounds", "programs[0].minutes"),
            ({"from": "2026-02-30"}, "not_a_date", "from"),
            ({"lat": 91}, "out_of_bounds", "lat"),
            ({"presses": ["noon"]}, "not_a_moment", "presses[0]"),
        ):
            with self.assertRaises(InputErrors) as caught:
                read(plan(**changes))
            self.assertIn((code, path), [(one.code, one.path) for one in caught.exception.errors])
