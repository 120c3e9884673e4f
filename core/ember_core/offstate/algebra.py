"""Linear algebra of a handful of unknowns, compiled: without the libraries that the compiler would bring in for it."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

import math

import numpy as np

from ember_core.compiled import compiled
from ember_core.offstate.network import Floats

# Squarings after which a matrix's size is its largest eigenvalue's but for some parts in a hundred thousand.
SQUARINGS = 24


@compiled
def eliminated(system: Floats, right: Floats) -> bool:
    """Solve a small linear system by elimination with the largest pivot of each column; False where it has none.

    Parameters
    ----------
    system : (n, n), used up. right : (n), changed in place into the solution.
    """
    n = right.shape[0]
    for k in range(n):
        best = k
        for row in range(k + 1, n):
            if abs(system[row, k]) > abs(system[best, k]):
                best = row
        pivot = system[best, k]
        if pivot == 0.0:
            return False
        if best != k:
            for column in range(k, n):
                system[k, column], system[best, column] = system[best, column], system[k, column]
            right[k], right[best] = right[best], right[k]
        for row in range(k + 1, n):
            share = system[row, k] / pivot
            if share != 0.0:
                for column in range(k + 1, n):
                    system[row, column] -= share * system[k, column]
                right[row] -= share * right[k]
    for k in range(n - 1, -1, -1):
        left = right[k]
        for column in range(k + 1, n):
            left -= system[k, column] * right[column]
        right[k] = left / system[k, k]
    return True


@compiled
def growth_of(slopes: Floats) -> float:
    """Largest size of the eigenvalues of the half-cycle map: above 1 the loop would leave a state with these slopes.

    By squaring: the m-th root of the size of the m-th power comes to it as m grows [Gelfand 1941].
    """
    n = slopes.shape[0]
    power, square = slopes.copy(), np.empty((n, n))
    logarithm, share = 0.0, 1.0
    for _ in range(SQUARINGS):
        size = np.max(np.abs(power))
        if size == 0.0:
            return 0.0
        logarithm += share * math.log(size)
        share *= 0.5
        for a in range(n):
            for b in range(n):
                total = 0.0
                for k in range(n):
                    total += (power[a, k] / size) * (power[k, b] / size)
                square[a, b] = total
        power, square = square, power
    return math.exp(logarithm)
