"""Leaving work half done: the states that are safe, and what each takes now.

The wiring as far as hands have come is proved like any other: what would be live and bare, short or wrongly fed with
the power on does not go on. What is loose is capped first; or what was moved goes back; or the breaker stays locked.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ember_core.findings import Severity
from ember_core.fitting.gates import Outcome, Record, parted_places
from ember_core.fitting.steps import Step
from ember_core.routes.lines import Line, LineKind
from ember_core.routes.seats import CAP, Seats
from ember_core.wiring.drawing import Control
from ember_core.wiring.proof import prove
from ember_core.wiring.told import WiringFinding

# What a loop may be while it does nothing: dark, not yet earthed at its control, its electronics unfed.
_HARMLESS = frozenset(
    {
        "lamp_never_lights",
        "control_unfed",
        "neutral_missing",
        "mode_link_missing",
        "line_and_load_exchanged",
        "bypass_not_across_lamps",
        "bypass_on_unfed_gang",
        "smart_lamp_behind_control",
        "switch_changes_nothing",
        "switch_does_nothing",
    }
)


class Leaving(StrEnum):
    """How a loop may be left."""

    LOCKED = "locked"  # off, one's own lock stays on
    CAPPED = "capped"  # what is loose is capped; the power may come back
    RESTORED = "restored"  # as it was found


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """One way to leave it.

    Parameters
    ----------
    caps : ends that are capped first. back : lines that are undone, last first.
    against : what would be wrong with the power on; empty where it may come back.
    """

    leaving: Leaving
    caps: tuple[str, ...] = ()
    back: tuple[Line, ...] = ()
    against: tuple[WiringFinding, ...] = ()


def ways_to_leave(steps: Sequence[Step], record: Record, found: Seats, wanted: Seats) -> tuple[Way, ...]:
    """What leaving it takes now; nothing where nothing has been parted, or everything sits and is held."""
    places = parted_places(steps, record)
    if not places:
        return ()
    done = [
        step.line
        for step in steps
        if step.line is not None and step.line.moves and record.outcome.get(step.key) is Outcome.DONE
    ]
    partial, loose = as_it_is(done, places, found, wanted)
    ends = [point for point in loose if "@" in point]
    capped = replace(partial, seat_of={**partial.seat_of, **dict.fromkeys(ends, CAP)})
    return (
        Way(leaving=Leaving.LOCKED),
        Way(leaving=Leaving.CAPPED, caps=loose, against=dangers(capped)),
        Way(leaving=Leaving.RESTORED, back=tuple(_undone(line) for line in reversed(done))),
    )


def as_it_is(done: Sequence[Line], places: Sequence[str], found: Seats, wanted: Seats) -> tuple[Seats, tuple[str, ...]]:
    """The wiring with some lines done, and the ends at parted places that are not where they go.

    Such an end is in nobody's terminal: it was parted, and waits; so do leads of lamps and the like, which come last.
    """
    seats = dict(found.seat_of)
    for line in done:
        for move in line.moves:
            if move.after is None:
                seats.pop(move.point, None)
            else:
                seats[move.point] = move.after
    moved = {move.point for line in done for move in line.moves}
    loose = []
    leads = []
    for point, seat in found.seat_of.items():
        name, at, place = point.partition("@")
        if point in moved or wanted.seat_of.get(point) == seat:
            continue
        if at and name and place.rstrip("'") in places:
            loose.append(point)
        elif not at and "." in point and seat.split(":", 1)[0] in places:
            leads.append(point)
    for point in leads:
        seats.pop(point, None)
    devices = {device.id: device for device in (*found.devices, *wanted.devices)}
    used = {seat.rsplit(".", 1)[0] for seat in seats.values() if ":" not in seat and "." in seat}
    used |= {point.rsplit(".", 1)[0] for point in seats if "@" not in point}
    cores = {core.id: core for core in (*found.cores, *wanted.cores)}
    in_hand = {point.split("@", 1)[0] for point in seats if "@" in point}
    lamps = {device.id for device in found.devices if device.kind.value == "lamp"}
    partial = replace(
        found,
        name="as it is",
        devices=tuple(device for name, device in devices.items() if name in used or name in lamps),
        cores=tuple(core for name, core in cores.items() if name in in_hand),
        seat_of={point: seat for point, seat in seats.items() if point not in loose},
        intended={},
    )
    return partial, (*loose, *leads)


def dangers(seats: Seats) -> tuple[WiringFinding, ...]:
    """What would be wrong with the power on while nobody uses it; a control without its earth is among it."""
    fitted = {seat.rsplit(".", 1)[0] for seat in seats.seat_of.values() if "." in seat and ":" not in seat}
    proof = prove(seats.drawing())
    unused = {one.id for one in seats.devices if isinstance(one, Control) and one.id not in fitted}
    return tuple(
        finding
        for finding in proof.findings
        if finding.severity is Severity.STOP
        and finding.code not in _HARMLESS
        and finding.params.get("device") not in unused
    )


def _undone(line: Line) -> Line:
    """The same line backwards."""
    kind = line.kind
    if line.kind in (LineKind.PIECE, LineKind.PULL):
        kind = LineKind.OFF
    return replace(line, kind=kind, moves=tuple(move.back() for move in line.moves))
