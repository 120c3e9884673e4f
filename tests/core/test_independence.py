"""Core stands alone."""

from __future__ import annotations

import subprocess
import sys

from django.test import SimpleTestCase, tag


@tag("long")
class Independence(SimpleTestCase):
    """In a fresh interpreter."""

    def test_importing_core_loads_no_web_no_database_no_network(self) -> None:
        """Everything of core is imported, then the loaded modules are looked through."""
        code = (
            "import sys, pkgutil, importlib\n"
            "before = set(sys.modules)\n"
            "import ember_core\n"
            "for m in pkgutil.walk_packages(ember_core.__path__, 'ember_core.'):\n"
            "    importlib.import_module(m.name)\n"
            "print('\\n'.join(set(sys.modules) - before))\n"
        )
        done = subprocess.run([sys.executable, "-I", "-c", code], capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stderr)
        loaded = set(done.stdout.split())
        self.assertIn("ember_core.judgement", loaded)
        for name in ("django", "rest_framework", "MySQLdb", "ember_server", "ember_cli", "requests"):
            self.assertNotIn(name, loaded)

    def test_core_names_no_clock_and_no_environment(self) -> None:
        """No file of core imports time, dates, the environment or the network itself."""
        import re
        from pathlib import Path

        import ember_core

        wrong = re.compile(r"^\s*(?:import|from)\s+(time|datetime|os|socket|urllib|http|subprocess|random)\b", re.M)
        reads = re.compile(r"\.(now|utcnow|today)\(")
        # Days and zones are what programs are about, and presence is drawn from a seed; neither reads a clock.
        about_days = re.compile(r"^\s*(?:import|from)\s+(time|os|socket|urllib|http|subprocess)\b", re.M)
        for file in Path(ember_core.__file__).parent.rglob("*.py"):
            text = file.read_text()
            found = about_days if file.parent.name == "programs" else wrong
            self.assertIsNone(found.search(text), file.name)
            self.assertIsNone(reads.search(text), file.name)
