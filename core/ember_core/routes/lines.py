"""The lines of a wire map in the order of hands: sleeves first, then each end, a piece of two ends as one line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from ember_core.routes.seats import CAP, Move, Seats, Sleeve, moves_between, sleeves_between
from ember_core.wiring.drawing import Core


class LineKind(StrEnum):
    """What hands do with it."""

    SLEEVE = "sleeve"
    LEAD = "lead"  # of a device: connected, taken elsewhere, or taken off
    PIECE = "piece"  # a short new core between two seats of one place
    PULL = "pull"  # a new core pulled between two places
    MOVE = "move"  # the end of a core goes to another seat
    CAP = "cap"  # it is made safe by itself
    OFF = "off"  # a core that was put in goes away


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One line.

    Parameters
    ----------
    key : the same however often the map is made. place : where it is done; empty for a sleeve that is put on at every
        end. moves : what of the map it is; none for a sleeve. core : the core it is about; None for a lead.
    """

    key: str
    place: str
    kind: LineKind
    moves: tuple[Move, ...] = ()
    sleeve: Sleeve | None = None
    core: Core | None = None

    @property
    def points(self) -> tuple[str, ...]:
        """Ends and leads that it takes to a seat."""
        return tuple(move.point for move in self.moves)


def lines_of(found: Seats, wanted: Seats) -> tuple[Line, ...]:
    """What takes the found wiring to the wanted one."""
    sleeves, moves = sleeves_between(found, wanted), moves_between(found, wanted)
    return (*_sleeves(sleeves), *_moves(moves, found, wanted))


def lines_back(found: Seats, wanted: Seats) -> tuple[Line, ...]:
    """What restores the found wiring: the same backwards, sleeves last."""
    moves = tuple(move.back() for move in reversed(moves_between(found, wanted)))
    sleeves = tuple(
        Sleeve(core=one.core, before=one.after, after=one.before) for one in reversed(sleeves_between(found, wanted))
    )
    return (*_moves(moves, wanted, found), *_sleeves(sleeves))


def _sleeves(sleeves: Sequence[Sleeve]) -> list[Line]:
    return [
        Line(key=f"sleeve:{one.core}", place="", kind=LineKind.SLEEVE, sleeve=one)
        for one in sleeves
        if one.before is not None or one.after is not None
    ]


def _moves(moves: Sequence[Move], found: Seats, wanted: Seats) -> list[Line]:
    lines: list[Line] = []
    done: set[str] = set()
    by_point = {move.point: move for move in moves}
    cores = {core.id: core for core in (*found.cores, *wanted.cores)}
    before = {core.id for core in found.cores}
    for move in moves:
        name, at, place = move.point.partition("@")
        if not at:
            lines.append(
                Line(key=f"lead:{move.point}", place=place_of(move, found, wanted), kind=LineKind.LEAD, moves=(move,))
            )
            continue
        core = cores.get(name)
        other = None if core is None else by_point.get(next(point for point in core.points if point != move.point))
        if core is not None and other is not None and name not in before and move.before is None:
            if name not in done:
                done.add(name)
                lines.append(_piece(core, move, other))
            continue
        kind = LineKind.OFF if move.after is None else LineKind.CAP if move.after == CAP else LineKind.MOVE
        key = f"{kind.value}:{move.point}"
        lines.append(Line(key=key, place=place.rstrip("'"), kind=kind, moves=(move,), core=core))
    return lines


def _piece(core: Core, move: Move, other: Move) -> Line:
    """A short piece belongs to its place; one that is pulled to the place at its first end."""
    is_pulled = core.ends[0].rstrip("'") != core.ends[1].rstrip("'")
    return Line(
        key=f"piece:{core.id}",
        place=core.ends[0].rstrip("'"),
        kind=LineKind.PULL if is_pulled else LineKind.PIECE,
        moves=(move, other),
        core=core,
    )


def place_of(move: Move, *seats: Seats) -> str:
    """Where a lead of a device is: the place of its joint, else where the ends at its seat are."""
    for seat in (move.after, move.before):
        if seat is not None and ":" in seat:
            return seat.split(":", 1)[0]
    for seat in (move.after, move.before):
        for one in seats:
            for point, where in one.seat_of.items():
                if where == seat and "@" in point:
                    return point.split("@", 1)[1].rstrip("'")
    return ""
