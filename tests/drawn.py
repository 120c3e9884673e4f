"""How many cases a property is tried on: few in a usual run, more in the whole, all in a thorough one.

All begin with the same cases, so that what fails with fewer fails with more too.
"""

from __future__ import annotations

import os

# Set by `./ember test`: the whole where only some tests are named, or where somebody else runs them.
EXTENT = os.environ.get("EMBER_EXTENT", "whole")


def drawn(whole: int, thorough: int, *, usual: int = 0) -> int:
    """The number of cases for this run; a usual one takes as many as the whole if it has no number of its own."""
    few = usual or whole
    return {"quick": few, "usual": few, "whole": whole, "thorough": thorough}[EXTENT]
