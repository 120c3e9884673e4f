"""Does the control go into the box: depth behind the plate, room for the conductors, spacer, and the volume figure.

The conductors folded behind a control lie as a loose layer: their volume over the floor of the box, loosely packed.
Figures marked [A] are engineering assumptions.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import pi, sqrt

from ember_core.quantities import check_bounds, required
from ember_core.survey.box import Box

# Length of each conductor end folded into the box [m] [A].
FOLDED_LENGTH_M = 0.12
# Share of a loose fold that is conductor [A].
PACKING_RATIO = 0.35
# Insulation adds this to the copper's radius [m] [A]: 0.7 to 0.8 mm for 1 to 4 mm².
INSULATION_M = 0.8e-3
# Bend of a conductor at a terminal, and of a lead with its connector [m] [A].
TERMINAL_BEND_M = 0.004
LEAD_BEND_M = 0.008
# A connector for each lead lies in the box too: its volume [m³] [A].
CONNECTOR_VOLUME_M3 = 1.2e-6
# A plate compresses no conductor: what is left must be at least this [m] [A].
LEAST_SPARE_M = 0.001
# Reckoned with where nobody said what is at hand: heights as they are usually sold [m] [A].
DEFAULT_SPACERS_M = (0.010, 0.016, 0.022)
# What is at hand where somebody said: none [m].
NO_SPACER_M = 0.0


class Fit(StrEnum):
    """Whether it goes in."""

    FITS = "fits"
    FITS_WITH_SPACER = "fits_with_spacer"
    DOES_NOT_FIT = "does_not_fit"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True, kw_only=True)
class ControlBody:
    """What of the control stands behind its plate."""

    depth_m: float = required("m", 0.001, 0.15, "depth of the control behind its plate")
    width_m: float = required("m", 0.01, 0.3, "width of the control's body")
    height_m: float = required("m", 0.01, 0.3, "height of the control's body")
    lead_count: int = required("1", 0, 12, "flying leads; 0 for terminals", integer=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class DepthCheck:
    """The answer with its figures.

    Parameters
    ----------
    needed_m, available_m, spare_m : depth [m]; None where the box was not measured. spacer_m : the lowest spacer
        that makes it fit, 0 when none is needed, None when none does.
    conductor_volume_m3, free_volume_m3 : volume of folded conductors and of the box less the control [m³].
    missing : names of the box's measures that are not known.
    """

    fit: Fit
    needed_m: float
    available_m: float | None
    spare_m: float | None
    spacer_m: float | None
    conductor_volume_m3: float
    free_volume_m3: float | None
    missing: tuple[str, ...]


def conductor_volume_m3(box: Box, body: ControlBody) -> float:
    """Volume of the folded conductors with insulation, and of connectors on the control's leads [m³]."""
    total = body.lead_count * CONNECTOR_VOLUME_M3
    for conductor in box.conductors:
        radius_m = sqrt(conductor.size_m2 / pi) + INSULATION_M
        total += FOLDED_LENGTH_M * pi * radius_m**2
    return total


def check_depth(box: Box, body: ControlBody, spacers_m: tuple[float, ...] = DEFAULT_SPACERS_M) -> DepthCheck:
    """Judge one control in one box.

    Formula: needed = body + bend + V_conductors / (packing · width · height); available = depth of the box.
    A box whose free depth was measured with the conductors folded is judged by that instead.

    Raises
    ------
    InputError : the body's figures are out of bounds.
    """
    check_bounds(body, "control")
    volume = conductor_volume_m3(box, body)
    missing = tuple(
        name
        for name in ("depth_m", "width_m", "height_m")
        if getattr(box, name) is None and not (box.room_left_m is not None)
    )
    if box.room_left_m is not None:
        needed, available = body.depth_m, box.room_left_m
    elif missing:
        return DepthCheck(
            fit=Fit.UNKNOWN,
            needed_m=body.depth_m,
            available_m=box.depth_m,
            spare_m=None,
            spacer_m=None,
            conductor_volume_m3=volume,
            free_volume_m3=None,
            missing=missing,
        )
    else:
        floor_m2 = (box.width_m or 0.0) * (box.height_m or 0.0)
        bend = LEAD_BEND_M if body.lead_count else TERMINAL_BEND_M
        needed = body.depth_m + bend + volume / (PACKING_RATIO * floor_m2)
        available = box.depth_m or 0.0
    spare = available - needed
    spacer = _spacer(spare, spacers_m)
    fit = Fit.DOES_NOT_FIT if spacer is None else Fit.FITS if spacer == 0.0 else Fit.FITS_WITH_SPACER
    free = None
    if box.depth_m and box.width_m and box.height_m:
        free = box.depth_m * box.width_m * box.height_m - body.depth_m * body.width_m * body.height_m
    return DepthCheck(
        fit=fit,
        needed_m=needed,
        available_m=available,
        spare_m=spare,
        spacer_m=spacer,
        conductor_volume_m3=volume,
        free_volume_m3=free,
        missing=(),
    )


def _spacer(spare_m: float, spacers_m: tuple[float, ...]) -> float | None:
    for height in (0.0, *sorted(spacers_m)):
        if spare_m + height >= LEAST_SPARE_M - 1e-12:
            return height
    return None
