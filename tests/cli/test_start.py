"""A command is there at once: it brings in what it needs and nothing else."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from tempfile import TemporaryDirectory

from django.conf import settings
from django.test import SimpleTestCase

from tests.core.reference import document

HEAVY = ("numpy", "scipy", "scipy.stats", "scipy.linalg", "numba", "django")
TELLS = "import sys, runpy; sys.argv[1:] = {arguments}\ntry:\n    runpy.run_module('ember_cli', run_name='__main__')\n"
LOADED = (
    "except SystemExit:\n    print('loaded', *[name for name in {heavy} if name in sys.modules], file=sys.stderr)\n"
)


def loaded_by(*arguments: str) -> set[str]:
    """Heavy packages that a command brings in, in an interpreter of its own."""
    program = TELLS.format(arguments=list(arguments)) + LOADED.format(heavy=HEAVY)
    told = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, cwd=settings.ROOT)
    last = told.stderr.strip().splitlines()[-1].split()
    assert last[0] == "loaded", told.stderr
    return set(last[1:])


class Start(SimpleTestCase):
    """What stands between a press of Enter and the first line."""

    def test_help_brings_in_no_computation(self) -> None:
        """Neither of the whole nor of a command."""
        self.assertEqual(loaded_by("--help"), set())
        self.assertEqual(loaded_by("judge", "--help"), set())

    def test_a_sheet_s_schema_needs_no_compiler(self) -> None:
        """It is read from the figures."""
        self.assertEqual(loaded_by("schema") & {"scipy.stats", "django"}, set())

    def test_one_loop_is_solved_without_statistics_or_linear_algebra(self) -> None:
        """Drawing samples is no part of it, and a handful of unknowns needs no library, nor does the compiler."""
        with TemporaryDirectory() as folder:
            sheet = Path(folder) / "sheet.json"
            sheet.write_text(json.dumps(document()["loops"][0]["case"]))
            loaded = loaded_by("solve", str(sheet))
        self.assertIn("numba", loaded)
        self.assertEqual(loaded & {"scipy.stats", "scipy.linalg", "django"}, set())
