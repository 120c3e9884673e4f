"""How many cases a property is tried on: a part of them in every run, all of them in a thorough one.

Both begin with the same cases, so that what fails in every run fails in a thorough one too.
"""

from __future__ import annotations

import os

# Set by `./ember test --thorough`.
IS_THOROUGH = os.environ.get("EMBER_THOROUGH") == "1"


def drawn(usual: int, thorough: int) -> int:
    """The number of cases for this run."""
    return thorough if IS_THOROUGH else usual
