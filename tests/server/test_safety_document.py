"""docs/safety.md names tests: each of them must be there."""

from __future__ import annotations

import re
from importlib import import_module
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

from ember_launcher.checks import WHOLE


def named() -> list[tuple[type, str]]:
    """The tests that it names: class and method."""
    text = (Path(settings.ROOT) / "docs" / "safety.md").read_text(encoding="utf-8")
    found = re.findall(r"`(tests\.[a-z_.]+)\.([A-Z]\w+)\.(test_\w+)`", text)
    return [(getattr(import_module(module), case), method) for module, case, method in found]


class TheDocument(SimpleTestCase):
    """A rule without its test is a promise."""

    def test_every_test_and_place_that_it_names_is_there(self) -> None:
        """Test methods by their dotted names, modules and files by theirs."""
        self.assertGreater(len(named()), 30)
        for case, method in named():
            self.assertTrue(hasattr(case, method), f"{case} {method}")
        text = (Path(settings.ROOT) / "docs" / "safety.md").read_text(encoding="utf-8")
        for file in re.findall(r"`(web/[\w/.]+)`", text):
            self.assertTrue((Path(settings.ROOT) / file).exists(), file)

    def test_what_it_rests_on_is_run_before_each_commit(self) -> None:
        """No test that it names is left to the whole."""
        for case, method in named():
            tags = {*getattr(case, "tags", ()), *getattr(getattr(case, method), "tags", ())}
            self.assertNotIn(WHOLE, tags, f"{case} {method}")

    def test_every_row_of_its_tables_has_a_test(self) -> None:
        """No rule stands there alone."""
        text = (Path(settings.ROOT) / "docs" / "safety.md").read_text(encoding="utf-8")
        rows = [line for line in text.splitlines() if line.startswith("| ") and not line.startswith("| rule")]
        self.assertGreater(len(rows), 20)
        for row in rows:
            self.assertIn("`tests.", row)
