"""The version of the core moves with each change that moves a figure."""

from __future__ import annotations

import json

from django.test import SimpleTestCase

from ember_core import CORE_VERSION
from tests.core.figures import FILE, figures

# Machines differ in the last digits; a change of the computation shows in the third or fourth.
SAME_RATIO = 2e-4


class Version(SimpleTestCase):
    """Stored judgements carry it, and are called out of date by it."""

    def test_figures_are_those_of_this_version(self) -> None:
        """Of twenty loops and four cases with the light on; where one moved, so does the version, and the file."""
        kept = json.loads(FILE.read_text(encoding="utf-8"))
        self.assertEqual(kept["core_version"], CORE_VERSION, "write the figures of this version")
        for was, now in zip(kept["figures"], figures(), strict=True):
            for name, value in was.items():
                if isinstance(value, float):
                    self.assertAlmostEqual(now[name], value, delta=SAME_RATIO * abs(value), msg=f"{was['of']}: {name}")
                else:
                    self.assertEqual(now[name], value, f"{was['of']}: {name}; raise CORE_VERSION")
