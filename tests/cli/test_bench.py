"""The measuring command and the simulator's runner."""

from __future__ import annotations

import io
from collections.abc import Callable
from contextlib import redirect_stdout
from unittest import mock, skipUnless

from django.test import SimpleTestCase, tag

from ember_cli import bench, examples, simulator, warm
from ember_core import sheet
from ember_core.judgement import Verdict, judge
from ember_core.remembered import remembered

# What is measured besides loops that settle.
OTHERS = ("_whole_answers", "_over_ranges", "_choosing", "_boxes", "_ways", "_diagnosing", "_setting_up", "_lit")


class Bench(SimpleTestCase):
    """What it prints, not how fast this machine is."""

    def said(self, work: Callable[[], object], simulator_took_s: float | None) -> tuple[object, str]:
        """What is answered and printed, beside a simulator that takes a made-up time, or without one."""
        took = simulator.Simulated(columns={}, took_s=simulator_took_s or 0.0)
        printed = io.StringIO()
        with (
            mock.patch("ember_cli.simulator.is_installed", return_value=simulator_took_s is not None),
            mock.patch("ember_cli.simulator.run", return_value=took),
            redirect_stdout(printed),
        ):
            answer = work()
        return answer, printed.getvalue()

    @tag("whole")
    def test_a_whole_run_tells_every_ratio(self) -> None:
        """Beside a simulator that needs an hour nothing is too slow."""
        status, printed = self.said(lambda: bench.run(1), 3600.0)
        self.assertEqual(status, 0)
        on_state = (examples.DIMMED, examples.TRAILED, examples.CLOSED)
        wanted = 2 * len(examples.SETTLED) + len(on_state)
        self.assertEqual(printed.count("× faster than the simulator's 3600.00 s"), wanted)
        self.assertIn("middle half", printed)

    def test_each_round_measures_work_and_none_looks_up_what_was_found(self) -> None:
        """What is remembered for screens and papers would be timed as nothing."""
        worked: list[int] = []

        @remembered
        def work(given: sheet.Sheet) -> int:
            worked.append(len(given.loop.lamps))
            return worked[-1]

        given = sheet.read(examples.SETTLED[0])
        self.assertEqual(len(bench._timed(lambda: work(given), 4)), 4)
        self.assertEqual(len(worked), 5)

    def test_a_solver_that_is_too_slow_fails_the_bench(self) -> None:
        """Beside a simulator that needs a microsecond every solver is too slow, and the status says so."""
        self.assertIs(self.said(lambda: bench.settled(3), 1e-6)[0], True)
        with mock.patch.multiple(bench, settled=lambda rounds: True, **dict.fromkeys(OTHERS, mock.DEFAULT)):
            self.assertEqual(bench.run(1), 1)

    def test_without_the_simulator_loops_a_second_are_told(self) -> None:
        """And that there is no ratio."""
        slow, printed = self.said(lambda: bench.settled(3), None)
        self.assertIs(slow, False)
        self.assertIn("loops a second", printed)
        self.assertIn("is not installed: no ratio", printed)

    def test_the_examples_are_what_their_names_say(self) -> None:
        """Three that settle, one that blinks; warming runs both ways."""
        for document in examples.SETTLED:
            self.assertIsNot(judge(sheet.read(document), with_meter=False).verdict, Verdict.BLINK)
        self.assertIs(judge(sheet.read(examples.BLINKING), with_meter=False).verdict, Verdict.BLINK)
        self.assertEqual(warm.run(), 0)


@skipUnless(simulator.is_installed(), "the circuit simulator package is not installed")
class Simulator(SimpleTestCase):
    """Its exit status lies, so its output is looked at."""

    def test_a_circuit_that_cannot_be_simulated_is_an_error(self) -> None:
        """Two sources in parallel, and text that is no circuit."""
        clash = "* x\nV1 a 0 1\nV2 a 0 2\n.tran 1m 10m\n.control\nrun\nwrdata out.txt v(a)\n.endc\n.end\n"
        for text in (clash, "* nothing\n.end\n"):
            with self.assertRaises(RuntimeError):
                simulator.run(text)

    def test_a_resistor_divider_gives_its_columns(self) -> None:
        """Names in small letters, values as numbers."""
        text = (
            "* divider\nV1 a 0 10\nR1 a b 1k\nR2 b 0 1k\n.tran 1m 10m\n.control\nset filetype=ascii\n"
            "set wr_singlescale\nset wr_vecnames\nrun\nwrdata out.txt v(b)\n.endc\n.end\n"
        )
        done = simulator.run(text)
        self.assertAlmostEqual(float(done.columns["v(b)"][-1]), 5.0, places=6)
        self.assertGreater(done.took_s, 0.0)
