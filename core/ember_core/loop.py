"""The loop: what hangs on what, for one switched circuit (gang)."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from ember_core.errors import InputError
from ember_core.parts import Bypass, Cable, Control, Lamp, RectifierLamp, Supply
from ember_core.quantities import check_bounds, optional

MOST_LAMP_GROUPS = 12
MOST_BYPASSES = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class Loop:
    """One gang with nominal figures, checked when made.

    Raises `InputError` with path where a figure is out of bounds or parts contradict each other.
    """

    supply: Supply
    control: Control
    cable: Cable = field(default_factory=Cable)
    bypass: tuple[Bypass, ...] = ()
    lamps: tuple[Lamp, ...] = ()
    meter_r_ohm: float | None = optional("Ω", 1e3, 1e9, "input resistance of a meter on the lamp terminals")

    def __post_init__(self) -> None:
        check_bounds(self)
        for path, part in self.parts():
            check_bounds(part, path)
            if isinstance(part, RectifierLamp):
                part.check_consistency(path)
        if not self.lamps:
            raise InputError("no_lamps", path="lamps")
        if len(self.lamps) > MOST_LAMP_GROUPS:
            raise InputError("too_many_groups", path="lamps", most=MOST_LAMP_GROUPS)
        if len(self.bypass) > MOST_BYPASSES:
            raise InputError("too_many_bypasses", path="bypass", most=MOST_BYPASSES)

    def parts(self) -> list[tuple[str, Any]]:
        """Every part with its path in the loop sheet."""
        found: list[tuple[str, Any]] = [("supply", self.supply), ("cable", self.cable), ("control", self.control)]
        if self.control.standby is not None:
            found.append(("control.standby", self.control.standby))
        found += [(f"bypass[{k}]", part) for k, part in enumerate(self.bypass)]
        found += [(f"lamps[{k}]", part) for k, part in enumerate(self.lamps)]
        return found
