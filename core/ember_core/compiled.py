"""Compiled code: one decorator, a cache that is never older than its sources, and what both marches share.

The compiler keeps machine code on disk under a name made from every source that compiled code can see, the compiler and
the processor. A change in any of them is another name; what lies under the old one is never used again.
"""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from hashlib import sha256
from pathlib import Path
from typing import Any

from llvmlite.binding import get_host_cpu_name

from ember_core.compiler import numba

CORE = Path(__file__).parent
# Every source that compiled code can see; what it takes from others comes as arguments, never as constants compiled in.
SOURCES = tuple(
    CORE / name
    for name in (
        "compiler.py",
        "compiled.py",
        "offstate/network.py",
        "offstate/algebra.py",
        "offstate/balances.py",
        "offstate/kernel.py",
        "offstate/shooting.py",
        "offstate/meters.py",
        "offstate/abreast.py",
        "onstate/pulses.py",
        "onstate/laws.py",
        "onstate/measures.py",
        "onstate/switching.py",
        "onstate/kernel.py",
    )
)


def digest_of(files: Iterable[Path]) -> str:
    """Name of what is compiled from these sources by this compiler for this processor."""
    found = sha256(f"{numba.__version__} {get_host_cpu_name()}".encode())
    for file in files:
        found.update(file.name.encode() + b"\0" + file.read_bytes() + b"\0")
    return found.hexdigest()[:16]


# Where nobody says otherwise (NUMBA_CACHE_DIR), beside the compiled modules of Python.
CACHE = Path(getattr(numba.config, "CACHE_DIR", "") or CORE / "__pycache__") / digest_of(SOURCES)
numba.config.CACHE_DIR = str(CACHE)  # type: ignore[attr-defined]

# Sums in another order, products fused and divisors inverted save a sixth of the time; what is no number stays none.
ARITHMETIC = {"contract", "reassoc", "arcp", "nsz"}
compiled: Callable[..., Any] = partial(numba.njit, cache=True, nogil=True, error_model="numpy", fastmath=ARITHMETIC)()


# No law and no bracket has an end there.
FAR = 1e30


@compiled
def backward_weights(h: float, h_before: float) -> tuple[float, float, float]:
    """Weights of a backward step of second order: x = a₁·x₁ + a₂·x₂ + b·h·f(x), steps of any length.

    With r = h/h_before: a₁ = (1+r)²/(1+2r), a₂ = −r²/(1+2r), b = (1+r)/(1+2r). Without a step before (0) it is plain
    implicit Euler.
    """
    if h_before <= 0.0:
        return 1.0, 0.0, 1.0
    r = h / h_before
    down = 1.0 / (1.0 + 2.0 * r)
    return (1.0 + r) * (1.0 + r) * down, -r * r * down, (1.0 + r) * down


@compiled
def safeguarded(
    v: float, balance: float, slope: float, below: float, above: float, last: float
) -> tuple[float, float, float, float]:
    """Newton's next place for a rising balance, the bracket that this look at it leaves, and how far it went.

    A step that would leave the bracket, or land on its end, or is not half as long as the one before halves the bracket
    instead: so none goes to and fro between two places, nor creeps up on two that it would go to and fro between.

    Parameters
    ----------
    last : how far the step before went; infinity in the first round, and where an end is not known yet.
    """
    if balance > 0.0:
        above = v
    else:
        below = v
    moved = v - balance / slope
    is_open = below <= -FAR or above >= FAR
    if not (below < moved < above and (is_open or abs(moved - v) <= 0.5 * last)):
        moved = 0.5 * (below + above)
    return moved, below, above, abs(moved - v)
