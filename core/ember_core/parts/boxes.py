"""What is around a control: the box, a spacer above it, and the cable by the metre."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from ember_core.parts.supply import Cable
from ember_core.quantities import rating, required


@dataclass(frozen=True, slots=True, kw_only=True)
class CableType:
    """A cable by the metre; its capacitance lets a long loop leak past an open switch."""

    kind: ClassVar[str] = "cable"

    c_line_to_switched_f_per_m: float = required(
        "F/m", 0.0, 1e-9, "capacitance between permanent live and switched live, a metre"
    )
    c_switched_to_neutral_f_per_m: float = required(
        "F/m", 0.0, 1e-9, "capacitance between switched live and neutral or earth, a metre"
    )
    area_m2: float | None = rating("m²", 1e-7, 1e-4, "cross-section of a core")
    core_count: float | None = rating("1", 1, 12, "cores")


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxType:
    """A switch box; inside measures."""

    kind: ClassVar[str] = "box"

    depth_m: float = required("m", 0.01, 0.2, "depth inside")
    width_m: float = required("m", 0.03, 0.5, "width inside")
    height_m: float = required("m", 0.03, 0.3, "height inside")


@dataclass(frozen=True, slots=True, kw_only=True)
class SpacerType:
    """A frame that lifts the control off the box."""

    kind: ClassVar[str] = "spacer"

    height_m: float = required("m", 0.002, 0.1, "room it adds")


def cable_of(cable: CableType, drop_m: float, run_m: float) -> Cable:
    """The capacitances of a loop wired with a cable.

    Parameters
    ----------
    drop_m : length on which permanent live and switched live run beside each other [m].
    run_m : length on which switched live runs beside neutral or earth [m].
    """
    return Cable(
        c_line_to_switched_f=cable.c_line_to_switched_f_per_m * drop_m,
        c_switched_to_neutral_f=cable.c_switched_to_neutral_f_per_m * run_m,
    )
