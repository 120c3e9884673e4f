"""What keeps a conclusion from being certain: readings that contradict each other, that nothing explains, or none.

A role is sure only while it was read, stays the likeliest when any one reading is taken away, and no reading of
mains speaks against it unexplained. These are rules of prudence beside the arithmetic of likelihood: the model of
wrong readings is a guess, and a person's hand is at the end of the answer.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ember_core.findings import Finding, Severity
from ember_core.survey.box import METAL_BOX, Box
from ember_core.survey.readings import CLOSED_OHM, LOAD_OHM, Reading, Reference

# Of the supply: a reading above the first is mains, one below the second is nothing.
MAINS_RATIO = 0.75
NOTHING_RATIO = 0.2
# Volts that stay at low impedance are more than a ghost from here on; the same limit as for proving dead [V].
STAYS_V = 10.0
# Of two readings that contradict each other either may be the wrong one.
DISPUTED_WRONG_SHARE = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Dispute:
    """Two readings of the same points under the same conditions that cannot both be right."""

    first: Reading
    second: Reading


def _points(box: Box, reading: Reading) -> frozenset[str]:
    """What the leads were on: joined conductors are one point."""

    def point(end: str) -> str:
        for node in box.nodes:
            if end in node.conductors:
                return node.key
        return end

    return frozenset((point(reading.a), point(reading.b)))


def _kind(reading: Reading, v_rms: float) -> str:
    """Mains or nothing, closed or open; empty for what lies between."""
    if reading.v is not None:
        ratio = reading.v / v_rms
        return "mains" if ratio >= MAINS_RATIO else "nothing" if ratio <= NOTHING_RATIO else ""
    if reading.r_ohm is None or reading.r_ohm >= LOAD_OHM:
        return "open"
    return "closed" if reading.r_ohm < CLOSED_OHM else ""


def disputes(box: Box, readings: Sequence[Reading], v_rms: float) -> tuple[Dispute, ...]:
    """Pairs of readings that contradict each other, in the order in which the second of each was taken."""
    seen: dict[tuple[object, ...], list[tuple[str, Reading]]] = {}
    found = []
    for reading in readings:
        kind = _kind(reading, v_rms)
        if not kind:
            continue
        same = (
            _points(box, reading),
            reading.is_voltage,
            reading.is_low_impedance,
            reading.supply_on,
            frozenset(reading.switches.items()),
        )
        earlier = seen.setdefault(same, [])
        # A ghost comes and goes on a meter that does not load it down.
        is_firm = not reading.is_voltage or reading.is_low_impedance or _is_to_known_earth(box, reading)
        other = next((before for was, before in earlier if was != kind), None)
        if other is not None and is_firm:
            found.append(Dispute(first=other, second=reading))
        earlier.append((kind, reading))
    return tuple(found)


def _is_to_known_earth(box: Box, reading: Reading) -> bool:
    return reading.b == Reference.EARTH or reading.b == METAL_BOX


def dispute_finding(dispute: Dispute) -> Finding:
    """The contradiction by name, with both values."""
    params: dict[str, float | int | str] = {"a": dispute.second.a, "b": dispute.second.b}
    for name, reading in (("v", dispute.first), ("v_then", dispute.second)):
        if reading.v is not None:
            params[name] = reading.v
    code = "readings_contradict" if dispute.first.v is not None else "continuity_contradicts"
    return Finding(
        code=code,
        severity=Severity.STOP,
        params=params,
        refs=(f"readings.{dispute.first.id}", f"readings.{dispute.second.id}"),
    )


def disputed_ids(found: Sequence[Dispute]) -> frozenset[str]:
    """Identities of all readings that are part of a contradiction."""
    return frozenset(reading.id for dispute in found for reading in (dispute.first, dispute.second))


def unread(box: Box, readings: Sequence[Reading]) -> frozenset[str]:
    """Keys of the joined groups on which no lead was ever put."""
    touched = {end for reading in readings for end in (reading.a, reading.b)}
    return frozenset(node.key for node in box.nodes if not touched & set(node.conductors))


def stays(reading: Reading) -> bool:
    """Volts that a low impedance does not take away, and that are not the mains: no proof of a ghost."""
    return reading.v is not None and reading.is_low_impedance and reading.v > STAYS_V


def settled_dead(box: Box, readings: Sequence[Reading]) -> frozenset[str]:
    """Keys of the joined groups that were found apart from, or joined to, something by the dead method."""
    ends = {end for reading in readings if not reading.is_voltage for end in (reading.a, reading.b)}
    return frozenset(node.key for node in box.nodes if ends & set(node.conductors))
