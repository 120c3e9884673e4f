"""The cable of a loop from a cable of the shelf and its lengths."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ember_core.catalogue.entry import claims_of
from ember_core.parts import CableType, cable_of
from parts.models import Part

Json = dict[str, Any]
_ENDS = ("low", "typical", "high")


def cable_run(part: Part, drop_m: float, run_m: float) -> Json:
    """The cable's piece of a loop sheet: low, typical and high of each capacitance, as assumed as the cable's own."""
    figures = {claim.field: claim.figure for claim in claims_of(part.figures)}
    made: dict[str, Json] = {}
    for end in _ENDS:
        kind = CableType(
            c_line_to_switched_f_per_m=getattr(figures["c_line_to_switched_f_per_m"], end),
            c_switched_to_neutral_f_per_m=getattr(figures["c_switched_to_neutral_f_per_m"], end),
        )
        for name, value in asdict(cable_of(kind, drop_m, run_m)).items():
            made.setdefault(name, {})[end] = value
    note = f"{part.name}, {drop_m:g} m and {run_m:g} m"
    sources = {name: figures[f"{name}_per_m"].source.value for name in made}
    return {name: {**values, "source": sources[name], "note": note} for name, values in made.items()}
