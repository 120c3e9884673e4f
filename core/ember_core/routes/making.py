"""Putting a wanted wiring together from what was found: ends taken to seats, new pieces, sleeves."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from ember_core.routes.found import CIRCUIT
from ember_core.routes.points import BOX, is_box, is_switched
from ember_core.routes.seats import CAP, Seats
from ember_core.wiring.cores import NEUTRAL_COLOURS
from ember_core.wiring.drawing import Control, Core, Device, Lamp, Mark
from ember_core.wiring.nets import Joined, fixed_pairs

# Colours of short pieces by what they carry.
PIECE = {
    "eu": {"line": "brown", "neutral": "blue", "earth": "green-yellow", "input": "black"},
    "na": {"line": "black", "neutral": "white", "earth": "green", "input": "red"},
}
# What stands against a way, or the wanted wiring.
Built = tuple[str | None, Seats | None]


class Making:
    """A change under way: nothing of what was found is altered.

    Parameters
    ----------
    place : the box that is worked in.
    """

    def __init__(self, found: Seats, place: str = BOX) -> None:
        self.found, self.place = found, place
        self.seats: dict[str, str] = {}
        self.pieces: list[Core] = []
        self.marks: dict[str, Mark] = {}
        self._holds: dict[str, int] = {}

    def holding(self, control: Control) -> None:
        """Terminals of a control take so many cores; what is more goes to a joint with a piece."""
        self._holds |= {f"{control.id}.{terminal}": count for terminal, count in control.holds.items()}

    def at(self, seat: str) -> list[str]:
        """Ends of cores that were found at a seat."""
        return [point for point, at in self.found.seat_of.items() if at == seat and "@" in point]

    def far(self, point: str) -> str:
        """The other end of a core."""
        return far_end(self.found, point)

    def run(self, point: str) -> list[str]:
        """Ends of a core, from this one on, and of those that it is joined with by twos in boxes of switches."""
        return run_of(self.found, point)

    def put(self, points: Iterable[str], seat: str) -> None:
        """Ends go to a seat."""
        self.seats |= dict.fromkeys(points, seat)

    def _relieve(self) -> None:
        """Where a terminal cannot take all that goes there, they meet in a joint beside it, and one piece goes on."""
        for terminal, holds in self._holds.items():
            ends = [point for point, seat in self.seats.items() if seat == terminal and "@" in point]
            if len(ends) > holds:
                place = ends[0].split("@", 1)[1].rstrip("'")
                joint = f"{place}:{terminal.split('.')[-1].lower()}"
                if joint in self.found.seat_of.values() or joint in self.seats.values():
                    joint += "+"
                self.seats |= dict.fromkeys(ends, joint)
                self.piece(joint, terminal, "line", place)

    def cap(self, points: Iterable[str]) -> None:
        """Ends are made safe by themselves."""
        self.seats |= dict.fromkeys(points, CAP)

    def piece(self, start: str, end: str, what: str, place: str | None = None) -> str:
        """A short new piece between two seats of one place; its name."""
        place = place or self.place
        name = f"new{len(self.pieces) + 1}"
        colour = PIECE[self.found.region][what]
        self.pieces.append(Core(id=name, ends=(place, f"{place}'"), colour=colour, size_m2=self.found.cores[0].size_m2))
        self.seats |= {f"{name}@{place}": start, f"{name}@{place}'": end}
        return name

    def cable_core(self, start: tuple[str, str], end: tuple[str, str], what: str) -> None:
        """A new core pulled between two places: place and seat of either end."""
        name = f"new{len(self.pieces) + 1}"
        colour = PIECE[self.found.region][what]
        self.pieces.append(Core(id=name, ends=(start[0], end[0]), colour=colour, size_m2=self.found.cores[0].size_m2))
        self.seats |= {f"{name}@{start[0]}": start[1], f"{name}@{end[0]}": end[1]}

    def mark(self, points: Iterable[str], mark: Mark) -> None:
        """Cores that are this from now on get a sleeve, where their colour or an older sleeve says something else."""
        for point in points:
            core = next(one for one in (*self.found.cores, *self.pieces) if one.id == point.split("@")[0])
            is_neutral = core.colour.lower() in NEUTRAL_COLOURS
            says = core.marked or (Mark.NEUTRAL if is_neutral else Mark.LIVE)
            if says is not mark:
                self.marks[core.id] = mark

    def earth(self, control: Control, place: str | None = None) -> None:
        """A piece from the joint of the earths to the control's own."""
        seat = f"{place or self.place}:earth"
        if control.earth is not None and seat in self.found.seat_of.values():
            self.piece(seat, f"{control.id}.{control.earth}", "earth", place)

    def link(self, control: Control, *, with_neutral: bool) -> None:
        """The piece that makes a control two-wire."""
        if control.link is not None and not with_neutral:
            self.piece(f"{control.id}.{control.link[0]}", f"{control.id}.{control.link[1]}", "line")

    def done(
        self,
        name: str,
        devices: Iterable[Device],
        intended: Mapping[str, tuple[str, ...]],
        leads: Mapping[str, str] | None = None,
    ) -> Seats:
        """The wanted wiring; `leads` are seats of leads of devices."""
        self._relieve()
        cores = [
            replace(core, marked=self.marks.get(core.id, core.marked)) for core in (*self.found.cores, *self.pieces)
        ]
        return self.found.changed(
            name=name,
            devices=tuple(devices),
            cores=tuple(cores),
            seats={**self.seats, **(leads or {})},
            intended=intended,
        )


def far_end(found: Seats, point: str) -> str:
    """The other end of the core that an end is of."""
    name, place = point.split("@", 1)
    core = next(core for core in found.cores if core.id == name)
    return core.points[1] if core.ends[0] == place else core.points[0]


def run_of(found: Seats, point: str) -> list[str]:
    """Ends of a core, from this one on, and of those that it is joined with by twos in boxes of switches."""
    run = [point, far_end(found, point)]
    while is_box(run[-1].split("@", 1)[1]):
        seat = found.seat_of[run[-1]]
        others = [one for one, at in found.seat_of.items() if at == seat and "@" in one and one != run[-1]]
        # Neither a switch nor a joint of several leads on to one place.
        if "." in seat or len(others) != 1 or others[0] in run:
            break
        run += [others[0], far_end(found, others[0])]
    return run


def gangs_of(found: Seats) -> list[int]:
    """Gangs of the box, by their switches."""
    return [int(device.id[2:]) for device in found.devices if device.id.startswith("sw")]


def lamps_of(found: Seats) -> list[Lamp]:
    """What hangs on them."""
    return [device for device in found.devices if isinstance(device, Lamp)]


def sides_of(found: Seats, gang: int) -> tuple[str, str]:
    """The terminals of a one-way switch: that of the live, and that from which it goes to the lamp."""
    ends = (f"sw{gang}.COM", f"sw{gang}.L1")
    for load, live in (ends, ends[::-1]):
        for point, seat in found.seat_of.items():
            if seat == load and "@" in point and is_switched(found.seat_of[far_end(found, point)]):
                return live, load
    return ends


def circuit_of(found: Seats, gang: int) -> str:
    """The circuit whose line comes to a one-way switch; the loop's own where none does."""
    live, _ = sides_of(found, gang)
    joined = Joined(fixed_pairs(found.drawing()))
    return next((circuit for circuit in found.circuits if joined.touch(f"{circuit}.L", live)), CIRCUIT)


def has_earth(found: Seats, place: str = BOX) -> bool:
    """Whether there is an earth in a box."""
    return f"{place}:earth" in found.seat_of.values()
