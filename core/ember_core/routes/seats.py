"""A wiring by seats: where each end of a core and each lead of a device sits, and what it takes to change that.

A seat is a terminal (`ctl.L`), a joint at a place (`ceiling1:neutral`), or a cap of its own. Two wirings of the same
cores differ by moves, end by end; the same moves backwards restore what was found.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from ember_core.errors import InputError
from ember_core.wiring.drawing import EARTH, Core, Device, Drawing, Mark, terminals_of

CAP = "cap"


@dataclass(frozen=True, slots=True, kw_only=True)
class Seats:
    """A wiring.

    Parameters
    ----------
    seat_of : the seat of each end of a core, of each lead of a device, and of the points of the board.
    intended : for each lamp the terminals that are to light it. region : `eu` or `na`, for the colours of new pieces.
    """

    name: str
    circuits: tuple[str, ...]
    devices: tuple[Device, ...]
    cores: tuple[Core, ...]
    seat_of: Mapping[str, str]
    intended: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    region: str = "eu"

    def drawing(self) -> Drawing:
        """What touches what."""
        terminals = {f"{device.id}.{name}" for device in self.devices for name in terminals_of(device)}
        joints: dict[str, list[str]] = {}
        for point, seat in self.seat_of.items():
            if seat != CAP:
                joints.setdefault(seat, [seat] if seat in terminals else []).append(point)
        # A connector with one core in it is that core made safe.
        alone = {joint[0] for seat, joint in joints.items() if ":" in seat and len(joint) == 1 and "@" in joint[0]}
        return Drawing(
            name=self.name,
            circuits=self.circuits,
            devices=self.devices,
            cores=self.cores,
            joints=tuple(tuple(joint) for joint in joints.values() if joint[0] not in alone),
            capped=frozenset(point for point, seat in self.seat_of.items() if seat == CAP) | alone,
            intended=self.intended,
        )

    def changed(self, *, name: str, seats: Mapping[str, str], **others: object) -> Seats:
        """Another wiring of the same cores: ends sit elsewhere, devices come and go."""
        made = replace(self, name=name, **others)  # type: ignore[arg-type]  # fields by name
        leads = {f"{device.id}.{terminal}" for device in made.devices for terminal in terminals_of(device)}
        kept = {
            point: seat
            for point, seat in self.seat_of.items()
            if "@" in point or point in leads or _is_board(point, made.circuits)
        }
        return replace(made, seat_of={**kept, **seats})


def _is_board(point: str, circuits: tuple[str, ...]) -> bool:
    return point == EARTH or point.rsplit(".", 1)[0] in circuits


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """One end or lead that changes its seat.

    Parameters
    ----------
    before, after : seats; None where the device is not there.
    """

    point: str
    before: str | None
    after: str | None

    def back(self) -> Move:
        """The same, undone."""
        return Move(point=self.point, before=self.after, after=self.before)


@dataclass(frozen=True, slots=True, kw_only=True)
class Sleeve:
    """What a core is marked with, at every end that is worked on: None where it bears none."""

    core: str
    before: Mark | None
    after: Mark | None


def sleeves_between(found: Seats, wanted: Seats) -> tuple[Sleeve, ...]:
    """Sleeves to put on or take off, before anything is parted: afterwards nobody knows which core is which."""
    before = {core.id: core.marked for core in found.cores}
    return tuple(
        Sleeve(core=core.id, before=before.get(core.id), after=core.marked)
        for core in wanted.cores
        if core.marked is not before.get(core.id)
    )


def moves_between(found: Seats, wanted: Seats) -> tuple[Move, ...]:
    """What hands do, in their order.

    Earth goes on first; then what is left over is capped, then what goes away, then what goes to a joint, and last what
    goes to a terminal. All of it on what is isolated and proved dead.
    """
    points = dict.fromkeys([*found.seat_of, *wanted.seat_of])
    moves = [
        Move(point=point, before=found.seat_of.get(point), after=wanted.seat_of.get(point))
        for point in points
        if found.seat_of.get(point) != wanted.seat_of.get(point)
    ]
    return tuple(sorted(moves, key=_order))


def _order(move: Move) -> tuple[int, str]:
    is_earth = any(seat is not None and (seat.endswith(":earth") or seat.endswith(".PE")) for seat in (move.after,))
    if is_earth:
        return (0, move.point)
    if move.after == CAP:
        return (1, move.point)
    if move.after is None:
        return (2, move.point)
    return (3 if ":" in move.after else 4, move.point)


def after_moves(seat_of: Mapping[str, str], moves: Iterable[Move]) -> Mapping[str, str]:
    """Seats after some moves, whole or as far as hands have come.

    Raises
    ------
    InputError : `moved_already`: an end does not sit where the move takes it from.
    """
    seats = dict(seat_of)
    for move in moves:
        if seats.get(move.point) != move.before:
            raise InputError("moved_already", path=move.point)
        if move.after is None:
            seats.pop(move.point, None)
        else:
            seats[move.point] = move.after
    return seats
