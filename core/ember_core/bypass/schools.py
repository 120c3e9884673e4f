"""What different habits of the trade would do with this loop, told by its numbers.

Some always fit a bypass, some only on proof, some never and take another route; and each kind of part has its
followers. The loop's numbers say which habit serves it.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ember_core.bypass.choose import Choice, Choosing


class School(StrEnum):
    """A habit."""

    ALWAYS = "always"
    ON_PROOF = "on_proof"
    NEVER = "never"
    CAPACITOR = "capacitor"
    RESISTOR = "resistor"
    PTC = "ptc"
    ACTIVE = "active"


KINDS = (School.CAPACITOR, School.RESISTOR, School.PTC, School.ACTIVE)


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """What the numbers say of a habit.

    Parameters
    ----------
    school : see `School`. code : `serves`, `costs`, `fails`, `unknown` (nothing of that kind was on offer) or `open`
        (not everything was looked at over the ranges).
    best : the candidate that the habit would take here, of `never` the one that makes it needless; None for none.
    share : dark and fed with it [1].
    """

    school: School
    code: str
    best: Choice | None
    share: float


def schools(found: Choosing) -> tuple[Said, ...]:
    """Every habit held against the loop; all open until everything was looked at."""
    if not found.is_complete:
        return tuple(Said(school=school, code="open", best=None, share=0.0) for school in School)
    nothing = next(choice for choice in found.choices if choice.bypass is None)
    fitted = [choice for choice in found.choices if choice.bypass is not None]
    best = fitted[0] if fitted else None
    cures = best is not None and best.verdict != "rejected"
    always = "unknown" if best is None else "fails" if not cures else "costs" if found.none_needed else "serves"
    said = [
        Said(school=School.ALWAYS, code=always, best=best, share=0.0 if best is None else best.share),
        Said(
            school=School.ON_PROOF,
            code="serves" if found.none_needed or cures else "fails",
            best=None if found.none_needed or not cures else best,
            share=nothing.share if found.none_needed or best is None else best.share,
        ),
        Said(
            school=School.NEVER,
            code="serves" if found.none_needed else "fails" if cures else "costs",
            best=best if cures and not found.none_needed else None,
            share=best.share if best is not None and cures else nothing.share,
        ),
    ]
    for school in KINDS:
        of_kind = [choice for choice in fitted if choice.kind == school.value]
        if not of_kind:
            said.append(Said(school=school, code="unknown", best=None, share=0.0))
            continue
        first = of_kind[0]
        code = "fails" if first.verdict == "rejected" else "costs" if found.none_needed else "serves"
        said.append(Said(school=school, code=code, best=first, share=first.share))
    return tuple(said)


@dataclass(frozen=True, slots=True, kw_only=True)
class Year:
    """What a bypass uses in a year while the light is on: energy [J], and its cost in the money of the price."""

    energy_j: float
    cost: float | None


def year(choice: Choice, hours_a_year: float, price_per_kwh: float | None) -> Year | None:
    """Energy a year at the nominal supply: P · t; None where its heat is not known."""
    if choice.on.nominal_w is None:
        return None
    energy = choice.on.nominal_w * hours_a_year * 3600.0
    return Year(energy_j=energy, cost=None if price_per_kwh is None else energy / 3.6e6 * price_per_kwh)
