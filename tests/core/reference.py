"""The reference loops and how closely the solver must agree with them."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from ember_core import sheet
from ember_core.offstate.results import OffState
from ember_core.offstate.solve import solve

FILE = Path(__file__).parent / "data" / "off_state_reference.json"


@dataclass(frozen=True, slots=True)
class Compared:
    """One figure of one loop."""

    loop: str
    quantity: str
    computed: float
    wanted: float
    allowed: float

    @property
    def agrees(self) -> bool:
        return abs(self.computed - self.wanted) <= self.allowed

    @property
    def error_ratio(self) -> float:
        return self.computed / self.wanted - 1.0 if self.wanted else 0.0


@cache
def document() -> dict[str, Any]:
    """The reference file."""
    loaded: dict[str, Any] = json.loads(FILE.read_text(encoding="utf-8"))
    return loaded


def compared(entry: dict[str, Any], result: OffState) -> Iterator[Compared]:
    """Every figure that the reference gives, beside the computed one."""
    limits, name = document()["limits"], entry["case"]["name"]

    def one(quantity: str, computed: float | None, wanted: float) -> Compared:
        limit = limits[quantity]
        allowed = max(limit["ratio"] * abs(wanted), limit["absolute"])
        return Compared(name, quantity, float("nan") if computed is None else computed, wanted, allowed)

    expect = entry["expect"]
    if not entry["blinks"]:
        yield one("lamp_v_rms", result.lamp_v_rms, expect["lamp_v_rms"])
        yield one("lamp_v_peak", result.lamp_v_peak, expect["lamp_v_peak"])
        yield one("line_i_rms_a", result.line_i_rms_a, expect["line_i_rms_a"])
        if "standby_v_dc" in expect:
            yield one("standby_v_dc", result.control.standby_v_dc, expect["standby_v_dc"])
    for lamp, wanted in zip(result.lamps, expect["lamps"], strict=True):
        for quantity in ("i_rms_a", "v_dc", "string_i_avg_a", "flash_period_s"):
            # A linear lamp has no reservoir; the reference repeats its string voltage there.
            if quantity in wanted and not (quantity == "v_dc" and lamp.kind == "linear"):
                yield one(quantity, getattr(lamp, quantity), wanted[quantity])


def every_figure() -> Iterator[Compared]:
    """Every figure of every loop."""
    for entry in document()["loops"]:
        yield from compared(entry, solve(sheet.read(entry["case"]).loop))
