"""docs/safety.md names tests: each of them must be there."""

from __future__ import annotations

import re
from importlib import import_module
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase


class TheDocument(SimpleTestCase):
    """A rule without its test is a promise."""

    def test_every_test_and_place_that_it_names_is_there(self) -> None:
        """Test methods by their dotted names, modules and files by theirs."""
        text = (Path(settings.ROOT) / "docs" / "safety.md").read_text(encoding="utf-8")
        named = re.findall(r"`(tests\.[a-z_.]+)\.([A-Z]\w+)\.(test_\w+)`", text)
        self.assertGreater(len(named), 30)
        for module, case, method in named:
            self.assertTrue(hasattr(getattr(import_module(module), case), method), f"{module}.{case}.{method}")
        for file in re.findall(r"`(web/[\w/.]+)`", text):
            self.assertTrue((Path(settings.ROOT) / file).exists(), file)

    def test_every_row_of_its_tables_has_a_test(self) -> None:
        """No rule stands there alone."""
        text = (Path(settings.ROOT) / "docs" / "safety.md").read_text(encoding="utf-8")
        rows = [line for line in text.splitlines() if line.startswith("| ") and not line.startswith("| rule")]
        self.assertGreater(len(rows), 20)
        for row in rows:
            self.assertIn("`tests.", row)
