"""A found wiring as it comes together: cores and seats, and what nobody can see from the box."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from ember_core.routes.aloft import NOT_SEEN, CeilingPoint, HangsOn, LampsThere, OwnNeutral
from ember_core.routes.found import CIRCUIT, EARTHS, LINE, NEUTRAL
from ember_core.routes.points import BOARD, Point, junction, luminaire
from ember_core.routes.seats import CAP, Seats
from ember_core.survey.box import Conductor
from ember_core.survey.practices import USUAL_SIZE_M2
from ember_core.wiring.drawing import EARTH, Core, Device, Kind, Lamp, Mark

OTHER_CIRCUIT = "2"
Seat = tuple[str, str]


class NotDrawnError(Exception):
    """What was surveyed cannot be drawn; `code` says what stands against it."""

    def __init__(self, code: str) -> None:
        super().__init__(code)
        self.code = code


@dataclass(slots=True)
class Sketch:
    """Cores, devices and seats so far.

    Parameters
    ----------
    ceiling : what was seen outside the box, by gang.
    """

    region: str
    ceiling: Mapping[int, CeilingPoint]
    devices: list[Device] = field(default_factory=list)
    cores: list[Core] = field(default_factory=list)
    seats: dict[str, str] = field(default_factory=dict)
    assumed: list[str] = field(default_factory=list)
    circuits: list[str] = field(default_factory=lambda: [CIRCUIT])
    # Joints at which a core of the supply ends that nobody saw.
    _supplied: set[str] = field(default_factory=set)
    _onward: int = 0

    def __post_init__(self) -> None:
        self.seats |= {f"{CIRCUIT}.L": "board:line", f"{CIRCUIT}.N": "board:neutral", EARTH: "board:earth"}

    def seen(self, gang: int) -> CeilingPoint:
        """What was seen outside the box."""
        return self.ceiling.get(gang, NOT_SEEN)

    def core(self, name: str, a: Seat, b: Seat, conductor: Conductor | None, what: int) -> None:
        """A core between two places: place and seat of either end.

        Parameters
        ----------
        conductor : as surveyed; None for one that nobody saw. what : 0 for a live, 1 for a neutral, 2 for an earth.
        """
        colours = (LINE, NEUTRAL, EARTHS)[what]
        usual = colours[1 if self.region == "na" else 0]
        self.cores.append(
            Core(
                id=name,
                ends=(a[0], b[0]),
                colour=usual if conductor is None else _colour(conductor.colour),
                marked=None if conductor is None else _sleeve(conductor.sleeve),
                size_m2=USUAL_SIZE_M2[self.region] if conductor is None else conductor.size_m2,
            )
        )
        self.seats |= {f"{name}@{a[0]}": a[1], f"{name}@{b[0]}": b[1]}

    def assume(self, code: str) -> None:
        """Something that nobody looked at."""
        if code not in self.assumed:
            self.assumed.append(code)

    def onward(self) -> Seat:
        """Where a core goes on to that nobody followed."""
        self._onward += 1
        return f"onward{self._onward}", CAP

    def lamp(self, gang: int) -> None:
        """The lamp of a gang at its luminaire."""
        here = luminaire(gang)
        is_smart = self.seen(gang).lamps is LampsThere.SMART
        self.devices.append(Lamp(id=f"lamp{gang}", kind=Kind.LAMP, smart=is_smart))
        self.seats |= {f"lamp{gang}.1": here.switched, f"lamp{gang}.2": here.neutral}

    def point(self, gang: int) -> Point:
        """Where the cable from the switch of a gang ends."""
        seen = self.seen(gang)
        if not seen.junction.number:
            return luminaire(gang)
        return junction(seen.junction.number, gang, self._suffix(self.hangs_on_other(gang)))

    def hangs_on_other(self, gang: int) -> bool:
        """Somebody saw that a gang hangs on the other circuit of the box."""
        return self.seen(gang).hangs_on is HangsOn.OTHER

    def board(self, pole: str, *, other: bool) -> Seat:
        """Place and seat of a pole of the loop's circuit, or of the other one."""
        if other and OTHER_CIRCUIT not in self.circuits:
            self.circuits.append(OTHER_CIRCUIT)
            self.seats |= {f"{OTHER_CIRCUIT}.L": "board:line2", f"{OTHER_CIRCUIT}.N": "board:neutral2"}
        return BOARD, f"{BOARD}:{pole}{self._suffix(other)}"

    @staticmethod
    def _suffix(other: bool) -> str:
        return OTHER_CIRCUIT if other else ""

    def complete(self, gangs: Iterable[int]) -> None:
        """What nobody can see from the box: how each point gets its supply, and what goes on from a junction box."""
        joined = set(self.seats.values())
        comes_by_box = {self.seats[core.points[1]] for core in self.cores if core.ends[1] == BOARD}
        before: dict[bool, Point | None] = {False: None, True: None}
        for gang in gangs:
            point, other, whose = self.point(gang), self.hangs_on_other(gang), self.seen(gang).neutral
            if whose is OwnNeutral.UNKNOWN:
                self.assume("neutral_not_seen")
            is_borrowed = whose is OwnNeutral.OTHER
            last = before[other]
            if is_borrowed:
                here = luminaire(gang)
                self.core(f"F{gang}N", self.board("neutral", other=not other), (here.place, here.neutral), None, 1)
            elif not self._has_neutral(point, comes_by_box, other=other):
                start = self.board("neutral", other=other) if last is None else (last.place, last.neutral)
                self._supply(f"F{gang}N", start, (point.place, point.neutral), 1)
            is_line_here = point.line in joined
            if is_line_here and point.line not in self._supplied:
                start = self.board("line", other=other) if last is None else (last.place, last.line)
                self._supply(f"F{gang}L", start, (point.place, point.line), 0)
            by_box = not is_line_here and f"{BOARD}:earth" in comes_by_box
            if point.earth in joined and point.earth not in self._supplied and not by_box:
                start = (BOARD, f"{BOARD}:earth") if last is None else (last.place, last.earth)
                self._supply(f"F{gang}E", start, (point.place, point.earth), 2)
            if is_line_here:
                before[other] = point
            if point.is_junction:
                self._go_on(gang, point, is_borrowed=is_borrowed, has_earth=point.earth in joined)

    def _has_neutral(self, point: Point, comes_by_box: set[str], *, other: bool) -> bool:
        """A neutral is at a point already: by the box and on, or because another gang has the same junction box."""
        by_box = self.board("neutral", other=other)[1] in comes_by_box
        has_core = any(self.seats[end] == point.neutral for core in self.cores for end in core.points)
        return (has_core and by_box) or point.neutral in self._supplied

    def _supply(self, name: str, start: Seat, end: Seat, what: int) -> None:
        self.core(name, start, end, None, what)
        self._supplied.add(end[1])

    def _go_on(self, gang: int, point: Point, *, is_borrowed: bool, has_earth: bool) -> None:
        here = luminaire(gang)
        self.assume("junction_as_usual")
        self.core(f"J{gang}S", (point.place, point.switched), (here.place, here.switched), None, 0)
        if not is_borrowed:
            self.core(f"J{gang}N", (point.place, point.neutral), (here.place, here.neutral), None, 1)
        if has_earth:
            self.core(f"J{gang}E", (point.place, point.earth), (here.place, here.earth), None, 2)

    def done(self, intended: Mapping[str, tuple[str, ...]]) -> Seats:
        """The wiring as found."""
        return Seats(
            name="found",
            circuits=tuple(self.circuits),
            devices=tuple(self.devices),
            cores=tuple(self.cores),
            seat_of=self.seats,
            intended=intended,
            region=self.region,
        )


def _colour(found: str) -> str:
    return {"green_yellow": "green-yellow", "bare": "bare"}.get(found, found.replace("_", "-"))


def _sleeve(found: str) -> Mark | None:
    """What a sleeve says: brown, black and red mark a live; blue, white and grey a neutral."""
    if not found:
        return None
    if found in ("green_yellow", "green"):
        return Mark.EARTH
    return Mark.NEUTRAL if found in ("blue", "white", "grey") else Mark.LIVE
