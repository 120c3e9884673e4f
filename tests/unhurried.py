"""Time enough to compute, whatever else the machine does; what happens when it is over has tests of its own."""

from __future__ import annotations

from contextlib import AbstractContextManager
from typing import Any
from unittest.mock import patch

from common import heavy

# Longer than a test may take.
BUDGET_S = 600.0


def unhurried() -> AbstractContextManager[Any]:
    """No answer is cut short while this holds."""
    return patch.object(heavy, "BUDGET_S", BUDGET_S)
