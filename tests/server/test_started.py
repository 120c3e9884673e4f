"""What a command of the server brings in before it does anything."""

from __future__ import annotations

import subprocess
import sys

from django.conf import settings
from django.test import SimpleTestCase

# A second and more to load, for those who draw, print or plan.
HEAVY = ("scipy.stats", "scipy.optimize", "weasyprint", "ortools", "pandas")
TELLS = f"import sys, django; django.setup(); print(*[name for name in {HEAVY} if name in sys.modules])"


class Started(SimpleTestCase):
    """The applications, ready to be used."""

    def test_statistics_paper_and_planning_are_left_to_those_who_ask(self) -> None:
        """Migrating, making an account and listing what there is wait for none of them."""
        here = settings.ROOT / "server"
        told = subprocess.run([sys.executable, "-c", TELLS], capture_output=True, text=True, cwd=here)
        self.assertEqual(told.returncode, 0, told.stderr)
        self.assertEqual(told.stdout.split(), [])
