"""What the record of many loops says: medians by the time, remedies that held, parts in trouble, few against many."""

from __future__ import annotations

import unittest

from ember_core.handover.experience import Closed, Done, Hung, at_least, by_cause, by_part, by_task

PLAN = {"fit": (8.0, 12.0, 25.0), "prove": (5.0, 8.0, 15.0)}


def done(task: str, minutes: float, count: int = 1, loop: str = "a") -> Done:
    """Minutes of a task."""
    return Done(task=task, minutes=minutes, count=count, loop=loop)


class Minutes(unittest.TestCase):
    """Against the plan."""

    def test_each_time_counts_once(self) -> None:
        """Thirty minutes for three times are three of ten; beside one of forty the middle is ten."""
        (fit,) = by_task([done("fit", 30.0, 3), done("fit", 40.0, 1, "b")], PLAN)
        self.assertEqual((fit.times, fit.median_min, fit.least_min, fit.most_min), (4, 10.0, 10.0, 40.0))
        self.assertEqual((fit.low_min, fit.typical_min, fit.high_min, fit.loops), (8.0, 12.0, 25.0, ("a", "b")))

    def test_just_inside_and_outside_the_plan(self) -> None:
        """The ends of the range are still planned; beyond either is outside."""
        for minutes, is_outside in ((8.0, False), (7.9, True), (25.0, False), (25.1, True)):
            (fit,) = by_task([done("fit", minutes)], PLAN)
            self.assertEqual(fit.is_outside, is_outside, minutes)

    def test_what_took_most_time_comes_first(self) -> None:
        """By all minutes, not by the middle; what has no plan or was never done is left out."""
        rows = by_task([done("fit", 20.0), done("prove", 9.0, 1), done("prove", 14.0), done("dance", 99.0)], PLAN)
        self.assertEqual([one.task for one in rows], ["prove", "fit"])
        self.assertEqual(by_task([done("fit", 5.0, 0)], PLAN), ())


class Causes(unittest.TestCase):
    """What cured."""

    def test_remedies_by_how_surely_they_held(self) -> None:
        """Seven of nine come before one of one; what was opened again did not hold."""
        rows = [Closed(cause="glow", remedy="bypass", loop=str(k), is_held=k < 7) for k in range(9)]
        rows += [Closed(cause="glow", remedy="lamp", loop="x", is_held=True)]
        rows += [Closed(cause="starved", remedy="", loop="y", is_held=True)]
        glow, starved = by_cause(rows)
        self.assertEqual((glow.cause, glow.count, len(glow.loops), starved.count), ("glow", 10, 10, 1))
        self.assertEqual(
            [(one.remedy, one.held, one.count) for one in glow.remedies], [("bypass", 7, 9), ("lamp", 1, 1)]
        )


class Parts(unittest.TestCase):
    """What hangs where something is wrong."""

    def hung(self, label: str, gangs: int, trouble: int) -> list[Hung]:
        """A part on some gangs, in trouble at the first of them."""
        return [
            Hung(kind="lamp", label=label, loop=f"{label}{k // 2}", gang=f"{label}{k}", has_trouble=k < trouble)
            for k in range(gangs)
        ]

    def test_a_gang_counts_once(self) -> None:
        """Two groups of one lamp on a gang are one gang; its loops are told once."""
        (one,) = by_part([*self.hung("Fen six", 4, 2), *self.hung("Fen six", 4, 2)])
        self.assertEqual((one.gangs, one.trouble), (4, 2))
        self.assertEqual((one.loops, one.trouble_loops), (("Fen six0", "Fen six1"), ("Fen six0",)))

    def test_many_say_more_than_one(self) -> None:
        """Six of eight before one of one before one of ten; without trouble last."""
        rows = by_part([*self.hung("a", 1, 1), *self.hung("b", 8, 6), *self.hung("c", 10, 1), *self.hung("d", 3, 0)])
        self.assertEqual([one.label for one in rows], ["b", "a", "c", "d"])


class Share(unittest.TestCase):
    """The lower end of a share."""

    def test_against_the_tables(self) -> None:
        """Values of Wilson's interval computed by hand from its formula: 5 of 10 and 10 of 10 at 95 %."""
        self.assertAlmostEqual(at_least(5, 10), 0.2366, places=4)
        self.assertAlmostEqual(at_least(10, 10), 0.7225, places=4)

    def test_it_rises_with_hits_and_with_numbers_and_stays_below_the_share(self) -> None:
        """Over every share up to forty."""
        for of in range(1, 41):
            for hits in range(of + 1):
                low = at_least(hits, of)
                self.assertGreaterEqual(low, 0.0)
                self.assertLessEqual(low, hits / of)
                if hits:
                    self.assertGreater(low, at_least(hits - 1, of))
                    self.assertGreater(at_least(2 * hits, 2 * of), low)
        self.assertEqual((at_least(0, 5), at_least(0, 0)), (0.0, 0.0))
