"""Compiled code is never older than its sources, and both marches share their stepping."""

from __future__ import annotations

import ast
import os
import subprocess
import sys
from collections.abc import Callable
from math import exp, tanh
from pathlib import Path
from shutil import copytree
from tempfile import TemporaryDirectory

from django.test import SimpleTestCase, tag
from hypothesis import given, settings
from hypothesis import strategies as st

from ember_core.compiled import CORE, FAR, SOURCES, backward_weights, digest_of, safeguarded

# One half-cycle of a filament lamp and a rectifier lamp: what it ends at hangs on the drop of a bridge.
ONE_HALF_CYCLE = """
import numpy as np
from ember_core.offstate.kernel import Pace, march
from ember_core.offstate.network import Tables, Col, N_COLS
branches = np.zeros((1, N_COLS)); branches[0, [Col.COUNT, Col.R_IN, Col.C_RES, Col.G_DRAIN]] = 1.0, 20.0, 4.7e-6, 1e-6
branches[0, [Col.V_STRING, Col.R_STRING, Col.KNEE_WIDTH]] = 1e12, 1.0, 1.0
tables = Tables(325.0, 50.0, np.array([4.7e-6, 0.0, 1e-9, 1e-9]), np.zeros((0, 7)), branches)
state, none = np.zeros(3), np.zeros((0, 0))
march(tables, state, np.zeros(1), Pace(0, 200, 400, False), none, none)
print(state[2])
"""


@tag("whole")
class Cache(SimpleTestCase):
    """Machine code kept on disk."""

    def test_every_module_that_compiles_is_in_its_name_and_takes_constants_from_there_only(self) -> None:
        """A constant imported from elsewhere would be compiled in and not noticed when it changes."""
        covered = {"ember_core." + str(file.relative_to(CORE))[:-3].replace("/", ".") for file in SOURCES}
        for file in CORE.rglob("*.py"):
            tree = ast.parse(file.read_text(encoding="utf-8"))
            imports = [node for node in ast.walk(tree) if isinstance(node, ast.ImportFrom)]
            compiles = any(
                isinstance(node, ast.FunctionDef) and any("compiled" in ast.dump(one) for one in node.decorator_list)
                for node in ast.walk(tree)
            )
            if not compiles:
                continue
            self.assertIn(file, SOURCES)
            for node in imports:
                if node.module and node.module.startswith("ember_core"):
                    self.assertIn(node.module, covered, f"{file.name} imports {node.module}")

    def test_a_changed_source_has_another_name(self) -> None:
        """By any byte of any of them."""
        with TemporaryDirectory() as folder:
            file = Path(folder) / "kernel.py"
            file.write_text("a = 1\n")
            before = digest_of([file])
            self.assertEqual(digest_of([file]), before)
            file.write_text("a = 2\n")
            self.assertNotEqual(digest_of([file]), before)

    @tag("long")
    def test_a_changed_constant_of_another_module_is_computed_with(self) -> None:
        """The bridge's drop is raised in a copy of the core: the reservoir ends lower, with the same cache folder."""
        with TemporaryDirectory() as folder:
            copytree(CORE, Path(folder) / "ember_core", ignore=lambda _, names: {"__pycache__"} & set(names))
            network = Path(folder) / "ember_core" / "offstate" / "network.py"
            ends = []
            for drop in ("0.62", "20.62"):
                network.write_text(
                    network.read_text(encoding="utf-8").replace("v1: float = 0.62", f"v1: float = {drop}")
                )
                told = subprocess.run(
                    [sys.executable, "-c", ONE_HALF_CYCLE],
                    env={**os.environ, "PYTHONPATH": folder, "NUMBA_CACHE_DIR": str(Path(folder) / "cache")},
                    capture_output=True,
                    text=True,
                    check=True,
                )
                ends.append(float(told.stdout))
        self.assertGreater(ends[0] - ends[1], 5.0)


class Stepping(SimpleTestCase):
    """What both marches are made of."""

    def test_uneven_steps_are_of_second_order(self) -> None:
        """A decay marched with steps that grow and shrink: half of them, a quarter of the error."""

        def error(count: int) -> float:
            x = x_before = 1.0
            t = h_before = 0.0
            for k in range(count):
                h = (1.0 + 0.5 * (k % 3)) / (1.5 * count)
                a1, a2, b = backward_weights(h, h_before)
                x, x_before = (a1 * x + a2 * x_before) / (1.0 + b * h), x
                t, h_before = t + h, h
            return abs(x - exp(-t))

        self.assertAlmostEqual(error(300) / error(600), 4.0, delta=0.5)

    @settings(deadline=None)
    @given(st.floats(-1.0, 1.0), st.floats(-50.0, 50.0), st.floats(0.01, 100.0))
    def test_a_rising_balance_is_always_met(self, root: float, begin: float, steep: float) -> None:
        """Also a jump between two straight sides, on which Newton alone goes to and fro for ever."""

        def looked_at(v: float) -> tuple[float, float]:
            over = v - root
            jump = steep if over > 0.0 else -steep if over < 0.0 else 0.0
            slope = 0.001 if abs(over) < 0.5 else steep
            return over * slope + jump, slope

        self.assertAlmostEqual(met(looked_at, begin), root, delta=1e-6)

    def test_a_saturating_law_is_met_where_newton_creeps_up_on_two_places(self) -> None:
        """The bleeder that was never met: i = g·v + I·tanh(v/(r·I)), from either side and from far."""

        def looked_at(v: float) -> tuple[float, float]:
            t = tanh(v / 1.152)
            return 4.185e-4 * v + 1.44e-3 * t - 2.5e-5, 4.185e-4 + 1.44e-3 / 1.152 * (1.0 - t * t)

        for begin in (3.94, -2.83, 3.1616657116645595, 1e4):
            self.assertAlmostEqual(looked_at(met(looked_at, begin))[0], 0.0, places=12)


def met(looked_at: Callable[[float], tuple[float, float]], begin: float) -> float:
    """Where eighty rounds end."""
    v, below, above, last = begin, -FAR, FAR, FAR
    for _ in range(80):
        balance, slope = looked_at(v)
        moved = v - balance / slope
        if abs(moved - v) < 1e-12:
            return moved
        v, below, above, last = safeguarded(v, balance, slope, below, above, last)
    return v
