"""The supply and the cable of a loop."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from ember_core.quantities import defaulted, required


@dataclass(frozen=True, slots=True, kw_only=True)
class Supply:
    """The mains at this loop: a stiff sine source."""

    v_rms: float = required("V", 80.0, 280.0, "supply voltage, rms")
    f_hz: float = required("Hz", 40.0, 70.0, "supply frequency")

    @property
    def v_peak(self) -> float:
        """Peak of the supply voltage [V]."""
        return sqrt(2.0) * self.v_rms


@dataclass(frozen=True, slots=True, kw_only=True)
class Cable:
    """Capacitance of the cable between its conductors, about 100 to 150 pF a metre."""

    c_line_to_switched_f: float = defaulted(
        "F", 0.0, 1e-6, "cable capacitance between the unswitched and the switched core", default=0.0
    )
    c_switched_to_neutral_f: float = defaulted(
        "F", 0.0, 1e-6, "cable capacitance between the switched core and neutral or protective conductor", default=0.0
    )
