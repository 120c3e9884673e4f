"""Linear algebra of a handful of unknowns against the standard library for it."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase

from ember_core.offstate.algebra import eliminated, growth_of


class Algebra(SimpleTestCase):
    """Systems as large as a loop's, and larger."""

    def test_solutions_are_those_of_the_library(self) -> None:
        """Over drawn systems of one to nine unknowns, within rounding of their condition."""
        draw = np.random.default_rng(14)
        for n in range(1, 10):
            for _ in range(40):
                system, right = draw.normal(size=(n, n)), draw.normal(size=n)
                system[:, 0] *= 10.0 ** draw.uniform(-9.0, 3.0)
                expected, found = np.linalg.solve(system, right), right.copy()
                self.assertTrue(eliminated(system.copy(), found))
                allowed = 1e-13 * np.linalg.cond(system) * np.max(np.abs(expected))
                self.assertLess(np.max(np.abs(found - expected)), allowed)

    def test_rows_change_places_where_the_first_pivot_is_none(self) -> None:
        """A zero in the corner stops nothing; a column of zeros is told."""
        right = np.array([2.0, 3.0])
        self.assertTrue(eliminated(np.array([[0.0, 1.0], [1.0, 0.0]]), right))
        self.assertEqual(right.tolist(), [3.0, 2.0])
        self.assertFalse(eliminated(np.array([[1.0, 2.0], [2.0, 4.0]]), right))

    def test_growth_is_the_largest_eigenvalue(self) -> None:
        """Real, turning, repeated without a full set of directions, many sizes apart; and none at all."""
        draw = np.random.default_rng(15)
        for n in range(1, 10):
            for k in range(40):
                slopes = draw.normal(size=(n, n)) * 10.0 ** draw.uniform(-6.0, 2.0)
                if k % 4 == 0:
                    slopes = np.triu(slopes)
                    np.fill_diagonal(slopes, slopes[0, 0])
                if k % 4 == 1:
                    slopes[0] *= 1e-9
                expected = np.max(np.abs(np.linalg.eigvals(slopes)))
                self.assertAlmostEqual(growth_of(slopes) / expected, 1.0, delta=1e-4)
        self.assertAlmostEqual(growth_of(np.array([[0.0, -1.0], [1.0, 0.0]])), 1.0, delta=1e-12)
        self.assertEqual(growth_of(np.array([[0.0, 1.0], [0.0, 0.0]])), 0.0)
        self.assertEqual(growth_of(np.zeros((3, 3))), 0.0)
