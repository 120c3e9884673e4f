"""Minutes: the simulated sum against what is known of triangles, and learning that converges and does not jump."""

from __future__ import annotations

from math import sqrt
from unittest import TestCase

import numpy as np

from ember_core.errors import InputError
from ember_core.routes.found import Feed, box, landing
from ember_core.routes.tasks import Known, places_of, tasks_of
from ember_core.routes.ways import Way, landing_routes, routes
from ember_core.times.minutes import (
    CLIP_RATIO,
    PRIOR_MARKS,
    USUAL,
    Minutes,
    Stamp,
    Task,
    draw,
    estimate,
    learned,
    said_minutes,
    taken_minutes,
)

JOB = {Task.FIND_BREAKER: 1, Task.ISOLATE: 2, Task.OPEN: 1, Task.FIT: 1, Task.PROVE: 1, Task.PAIR: 1}


class Sums(TestCase):
    """A job's minutes."""

    def test_mean_and_spread_are_those_of_the_triangles(self) -> None:
        """Mean (a + b + c) / 3; variance (a² + b² + c² − ab − ac − bc) / 18; of independent tasks both add."""
        total = draw(JOB, USUAL)
        ranges = [USUAL[task] for task, count in JOB.items() for _ in range(count)]
        mean = sum(of.mean for of in ranges)
        variance = sum(
            (of.low**2 + of.typical**2 + of.high**2 - of.low * of.typical - of.low * of.high - of.typical * of.high)
            / 18
            for of in ranges
        )
        self.assertAlmostEqual(float(total.mean()), mean, delta=4 * sqrt(variance / len(total)))
        self.assertAlmostEqual(float(total.std()), sqrt(variance), delta=0.05 * sqrt(variance))

    def test_one_task_against_the_quantile_of_its_triangle(self) -> None:
        """Nine of ten: c − √((1 − 0.9)(c − a)(c − b))."""
        of = USUAL[Task.PROVE]
        exact = of.high - sqrt(0.1 * (of.high - of.low) * (of.high - of.typical))
        self.assertAlmostEqual(estimate({Task.PROVE: 1}).within, exact, delta=0.2)

    def test_more_work_takes_longer_and_the_same_is_told_twice_the_same(self) -> None:
        """The draw is fixed."""
        less, more = estimate(JOB), estimate({**JOB, Task.CEILING: 1})
        self.assertGreater(more.likely, less.likely)
        self.assertGreater(more.within, less.within)
        self.assertEqual(estimate(JOB), less)
        self.assertLess(less.likely, less.within)

    def test_it_is_told_in_fives(self) -> None:
        """To the nearest, and up."""
        self.assertEqual(said_minutes(67.4, 100.1), (65, 105))
        self.assertEqual(said_minutes(67.6, 105.0), (70, 105))

    def test_a_range_out_of_order_is_refused(self) -> None:
        """Low above high, or nothing at all."""
        for low, typical, high in ((5.0, 4.0, 9.0), (1.0, 9.0, 8.0), (0.0, 1.0, 2.0)):
            with self.assertRaises(InputError):
                Minutes(low=low, typical=typical, high=high)


class Learning(TestCase):
    """The firm's own marks."""

    prior = USUAL[Task.FIT]

    def test_it_converges_to_the_record(self) -> None:
        """After hundreds of marks the class figure hardly counts."""
        rng = np.random.default_rng(5)
        marks = rng.triangular(14.0, 18.0, 28.0, 600)
        found = learned(self.prior, marks)
        self.assertAlmostEqual(found.mean, float(marks.mean()), delta=0.3)
        self.assertAlmostEqual(found.low, float(np.quantile(marks, 0.1)), delta=0.3)

    def test_one_mark_does_not_make_it_jump(self) -> None:
        """Each new mark moves the mean by at most its distance over the number of marks and four."""
        rng = np.random.default_rng(6)
        marks: list[float] = []
        before = learned(self.prior, marks)
        for _ in range(60):
            marks.append(float(rng.uniform(1.0, 200.0)))
            now = learned(self.prior, marks)
            clipped = min(max(marks[-1], self.prior.low / CLIP_RATIO), self.prior.high * CLIP_RATIO)
            most = abs(clipped - before.mean) / (PRIOR_MARKS + len(marks))
            self.assertLessEqual(abs(now.mean - before.mean), most + 1e-9)
            before = now

    def test_a_lunch_is_not_a_task(self) -> None:
        """A mark of a whole day counts as the most that is believed."""
        self.assertEqual(learned(self.prior, [480.0]), learned(self.prior, [self.prior.high * CLIP_RATIO]))

    def test_no_mark_changes_nothing_and_bad_ones_are_refused(self) -> None:
        """Zero and negative minutes, and what is no number."""
        self.assertEqual(learned(self.prior, []), self.prior)
        for bad in (0.0, -3.0, float("nan")):
            with self.assertRaises(InputError):
                learned(self.prior, [bad])


class Marks(TestCase):
    """Minutes from marks."""

    def test_from_one_mark_to_the_next_of_the_same_person(self) -> None:
        """Two people at one loop do not add up to one."""
        stamps = [
            Stamp(at_s=0.0, person="a", task=None),
            Stamp(at_s=600.0, person="a", task=Task.ISOLATE),
            Stamp(at_s=900.0, person="b", task=None),
            Stamp(at_s=1200.0, person="a", task=Task.FIT),
            Stamp(at_s=1500.0, person="b", task=Task.CEILING),
            Stamp(at_s=1800.0, person="a", task=Task.FIT),
        ]
        self.assertEqual(taken_minutes(stamps), {Task.ISOLATE: 10.0, Task.FIT: 20.0, Task.CEILING: 10.0})

    def test_a_break_makes_a_task_unknown(self) -> None:
        """44 minutes count, 46 do not, nor does a task that nothing came before."""
        for gap, found in ((44.0, {Task.FIT: 44.0}), (46.0, {})):
            stamps = [Stamp(at_s=0.0, person="a", task=None), Stamp(at_s=gap * 60.0, person="a", task=Task.FIT)]
            self.assertEqual(taken_minutes(stamps), found)
        self.assertEqual(taken_minutes([Stamp(at_s=5.0, person="a", task=Task.FIT)]), {})


class Tasks(TestCase):
    """What a way asks for."""

    def test_by_places_and_devices(self) -> None:
        """A bypass adds the luminaire with its own proof; a stair a second box and its companion."""
        found = box(Feed.CEILING)
        ways = {one.way: one.wanted for one in routes(found, Feed.CEILING)}
        plain_way, bypass = ways[Way.TWO_WIRE], ways[Way.WITH_BYPASS]
        assert plain_way is not None
        assert bypass is not None
        one, other = (tasks_of(found, wanted, known=Known()) for wanted in (plain_way, bypass))
        self.assertEqual((one.get(Task.CEILING, 0), other[Task.CEILING]), (0, 1))
        self.assertEqual(other[Task.ISOLATE], one[Task.ISOLATE] + 1)
        stair = landing()
        wanted = next(route.wanted for route in landing_routes(stair) if route.way is Way.CONTROL_AND_COMPANION)
        assert wanted is not None
        self.assertEqual(tasks_of(stair, wanted, known=Known())[Task.SECOND_BOX], 1)
        self.assertEqual(next(name for name in places_of(stair, wanted) if "ceiling" not in name), "foot")

    def test_a_new_core_takes_longer_where_it_is_no_conduit(self) -> None:
        """One for each run that is drawn, none where only short pieces are new."""
        found = box(Feed.SINGLES)
        wanted = next(one.wanted for one in routes(found, Feed.SINGLES) if one.way is Way.NEW_NEUTRAL)
        assert wanted is not None
        cable, conduit = (tasks_of(found, wanted, known=Known(in_conduit=so)) for so in (False, True))
        self.assertEqual((cable[Task.PULL_CABLE], conduit[Task.PULL_CONDUIT]), (1, 1))
        self.assertGreater(estimate(cable).likely, estimate(conduit).likely + 30)
        module = next(one.wanted for one in routes(found, Feed.SINGLES) if one.way is Way.MODULE_AT_LAMP)
        assert module is not None
        self.assertFalse({Task.PULL_CABLE, Task.PULL_CONDUIT} & set(tasks_of(found, module, known=Known())))

    def test_what_is_settled_saves_time(self) -> None:
        """A proved breaker and conductors that are sure."""
        found = box(Feed.CEILING)
        wanted = next(one.wanted for one in routes(found, Feed.CEILING) if one.way is Way.TWO_WIRE)
        assert wanted is not None
        unknown = tasks_of(found, wanted, known=Known())
        known = tasks_of(found, wanted, known=Known(is_breaker_proved=True, is_identified=True))
        self.assertIn(Task.IDENTIFY, unknown)
        self.assertNotIn(Task.IDENTIFY, known)
        self.assertLess(estimate(known).likely, estimate(unknown).likely)
        self.assertEqual(tasks_of(found, found, known=Known()), {Task.HAND_OVER: 1})
        there = tasks_of(found, wanted, known=Known(is_in_place=True))
        self.assertEqual(there, {Task.PROVE: 1, Task.HAND_OVER: 1})
