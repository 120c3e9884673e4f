"""Commands that only compute: no database, no server; handed to ember_cli as they are, and soon."""

from __future__ import annotations

import os

from ember_launcher import python_env
from ember_launcher.places import PYTHON, ROOT, one_at_a_time

COMMANDS = (
    *("solve", "schema", "netlist", "bench", "box", "judge", "choose", "dim"),
    *("wire", "routes", "plan", "diagnose", "radio", "programs"),
)


def hand_over(words: list[str]) -> int:
    """Become the command in the Python environment, with every word as it was typed."""
    with one_at_a_time(ROOT / "var"):
        python_env.ensure(development=False)
    os.environ["NUMBA_CACHE_DIR"] = str(ROOT / ".numba_cache")
    os.execv(PYTHON, [str(PYTHON), "-m", "ember_cli", *words])
