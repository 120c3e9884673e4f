"""What is remembered of a sheet: the same figures and nothing else."""

from __future__ import annotations

from dataclasses import replace

from django.test import SimpleTestCase

from ember_core.compatibility.load_limits import load_limits
from ember_core.errors import SolverError
from ember_core.judgement import judge
from ember_core.overall import overall
from ember_core.quantities import Source
from ember_core.remembered import forget, remembered
from ember_core.sheet import Sheet
from ember_core.spread.judged import judge_spread
from tests.core.loops import LAMP, capacitor, loop
from tests.core.test_spread import uncertain


class Remembered(SimpleTestCase):
    """A count of the work done."""

    def setUp(self) -> None:
        self.asked: list[str] = []

        @remembered
        def work(given: Sheet, *, more: int = 0) -> list[int]:
            self.asked.append(given.name)
            if more < 0:
                raise SolverError("off_state_not_solved")
            return [len(given.figures), more]

        self.work = work

    def test_the_same_figures_under_another_name_are_worked_once(self) -> None:
        """The name is none of the answer's business."""
        found = self.work(uncertain())
        self.assertIs(self.work(replace(uncertain(), name="Kiln room")), found)
        self.assertEqual(self.asked, [""])

    def test_whatever_differs_is_worked_anew(self) -> None:
        """A number of the loop, a range, a source, an argument."""
        given = uncertain()
        path, figure = next(iter(given.figures.items()))
        other_source = Source.ASSUMED if figure.source is Source.MEASURED else Source.MEASURED
        others = (
            replace(given, loop=replace(given.loop, lamps=(*given.loop.lamps, LAMP))),
            replace(given, figures={}),
            replace(given, figures={**given.figures, path: replace(figure, source=other_source)}),
        )
        for number, one in enumerate((given, *others), 1):
            self.work(one)
            self.assertEqual(len(self.asked), number)
        self.work(given, more=1)
        self.assertEqual(len(self.asked), len(others) + 2)

    def test_what_is_forgotten_is_worked_anew(self) -> None:
        """For measuring: once asked, remembered; forgotten, asked again."""
        for _ in range(2):
            self.work(uncertain())
        self.assertEqual(len(self.asked), 1)
        forget()
        self.work(uncertain())
        self.assertEqual(len(self.asked), 2)

    def test_what_raises_is_tried_again(self) -> None:
        """A failure is no answer."""
        for _ in range(2):
            with self.assertRaises(SolverError):
                self.work(uncertain(), more=-1)
        self.assertEqual(len(self.asked), 2)


class OneAnswer(SimpleTestCase):
    """The judgements that are remembered."""

    def test_they_say_what_the_work_itself_says(self) -> None:
        """Asked first, asked again, and worked out beside it."""
        for given in (uncertain(), Sheet(loop=loop(bypass=(capacitor(100e-9),)))):
            told = [load_limits(given), load_limits(replace(given, name="again")), load_limits.__wrapped__(given)]
            self.assertIs(told[0], told[1])
            self.assertEqual(told[0], told[2])
            judged = judge(given)
            first = overall(given, judged)
            self.assertIs(overall(replace(given, name="again"), judged), first)
            # With its draws given nothing of the verdict itself is remembered.
            self.assertEqual(overall(given, judged, spread=judge_spread(given)), first)
