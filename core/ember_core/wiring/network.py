"""Nodal equations over named nets: admittances between them, currents into them, some of them held at a voltage."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from ember_core.errors import SolverError


class Network:
    """A network under way.

    Parameters
    ----------
    names : its nets. leak_s : from each of them to where voltages are counted from; keeps a free one from being
        undefined [S].
    """

    def __init__(self, names: Iterable[str], *, leak_s: float) -> None:
        self._row = {name: k for k, name in enumerate(sorted(set(names)))}
        self._matrix = np.eye(len(self._row), dtype=np.complex128) * leak_s
        self._current = np.zeros(len(self._row), dtype=np.complex128)

    def admittance(self, a: str, b: str, y: complex) -> None:
        """Connect two nets [S]."""
        if a == b:
            return
        one, other = self._row[a], self._row[b]
        self._matrix[one, one] += y
        self._matrix[other, other] += y
        self._matrix[one, other] -= y
        self._matrix[other, one] -= y

    def inject(self, name: str, current: complex) -> None:
        """Current into a net [A]."""
        self._current[self._row[name]] += current

    def solve(self, held: Mapping[str, complex]) -> dict[str, complex]:
        """Voltage of each net [V].

        Parameters
        ----------
        held : nets that are held at a voltage [V].

        Raises
        ------
        SolverError : `wiring_not_solved`.
        """
        fixed = [self._row[name] for name in held if name in self._row]
        volts = np.zeros(len(self._row), dtype=np.complex128)
        volts[fixed] = [v for name, v in held.items() if name in self._row]
        is_free = np.ones(len(self._row), dtype=bool)
        is_free[fixed] = False
        rows = self._matrix[is_free]
        try:
            volts[is_free] = np.linalg.solve(rows[:, is_free], self._current[is_free] - rows @ volts)
        except np.linalg.LinAlgError as error:
            raise SolverError("wiring_not_solved") from error
        return {name: complex(volts[k]) for name, k in self._row.items()}
