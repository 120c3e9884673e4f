"""What is found at the boxes of the trade, as wirings: how the supply comes in, how many gangs hang there."""

from __future__ import annotations

from enum import StrEnum

from ember_core.routes.seats import CAP, Seats
from ember_core.survey.practices import USUAL_SIZE_M2
from ember_core.wiring.drawing import EARTH, Core, Device, Kind, Lamp

LINE, NEUTRAL, EARTHS = ("brown", "black"), ("blue", "white"), ("green-yellow", "green")
CIRCUIT = "1"


class Feed(StrEnum):
    """Where the supply comes in."""

    CEILING = "feed_at_ceiling"
    SWITCH = "feed_at_switch"
    SINGLES = "singles_in_conduit"


def box(feed: Feed, gangs: int = 1, *, region: str = "eu", spare: bool = False, smart: bool = False) -> Seats:
    """Ordinary switches in one box, a lamp a gang, as found.

    At the ceiling each gang has its point, fed from point to point, and a drop to the box; at the switch the supply
    comes to the box and its neutral is joined through; in conduit the neutral goes to the points by itself.

    Parameters
    ----------
    gangs : 1 to 3. spare : each drop has a core that nobody uses, capped at both ends. smart : the lamps are.
    """
    colour = 1 if region == "na" else 0
    made = _Builder(USUAL_SIZE_M2[region])
    made.at(f"{CIRCUIT}.L", "board:line")
    made.at(f"{CIRCUIT}.N", "board:neutral")
    made.at(EARTH, "board:earth")
    for k in range(1, gangs + 1):
        made.devices.append(Device(id=f"sw{k}", kind=Kind.ONE_WAY))
        made.devices.append(Lamp(id=f"lamp{k}", kind=Kind.LAMP, smart=smart))
    first = "box" if feed is not Feed.CEILING else "ceiling1"
    made.core("A1", "board", "board:line", first, f"{first}:line", LINE[colour])
    if feed is Feed.SINGLES:
        for k in range(1, gangs + 1):
            before = "board" if k == 1 else f"ceiling{k - 1}"
            made.core(f"N{k}", before, f"{before}:neutral", f"ceiling{k}", f"ceiling{k}:neutral", NEUTRAL[colour])
    else:
        made.core("A2", "board", "board:neutral", first, f"{first}:neutral", NEUTRAL[colour])
        made.core("A3", "board", "board:earth", first, f"{first}:earth", EARTHS[colour])
    for k in range(1, gangs + 1):
        point = f"ceiling{k}"
        made.at(f"lamp{k}.1", f"{point}:switched")
        made.at(f"lamp{k}.2", f"{point}:neutral")
        if feed is Feed.CEILING:
            if k > 1:
                before = f"ceiling{k - 1}"
                for n, (pole, colours) in enumerate((("line", LINE), ("neutral", NEUTRAL), ("earth", EARTHS)), start=1):
                    made.core(f"F{k}{n}", before, f"{before}:{pole}", point, f"{point}:{pole}", colours[colour])
            made.core(f"D{k}1", point, f"{point}:line", "box", f"sw{k}.COM", LINE[colour])
            made.core(f"D{k}2", point, f"{point}:switched", "box", f"sw{k}.L1", NEUTRAL[colour])
            made.core(f"D{k}3", point, f"{point}:earth", "box", "box:earth", EARTHS[colour])
        else:
            # The line goes from switch to switch by short pieces in the box.
            made.wire(f"w{k}", "box:line", f"sw{k}.COM", LINE[colour], made.places["box:line"])
            made.core(f"D{k}1", "box", f"sw{k}.L1", point, f"{point}:switched", LINE[colour])
            if feed is Feed.SWITCH:
                made.core(f"D{k}2", "box", "box:neutral", point, f"{point}:neutral", NEUTRAL[colour])
                made.core(f"D{k}3", "box", "box:earth", point, f"{point}:earth", EARTHS[colour])
        if spare:
            made.core(f"D{k}4", point, CAP, "box", CAP, "grey" if colour == 0 else "red")
    return Seats(
        name=f"{feed} {gangs}",
        circuits=(CIRCUIT,),
        devices=tuple(made.devices),
        cores=tuple(made.cores),
        seat_of=made.seats,
        intended={f"lamp{k}": (f"sw{k}.L1",) for k in range(1, gangs + 1)},
        region=region,
    )


def landing(*, region: str = "eu") -> Seats:
    """A two-way switch at the foot, where the supply comes in, and one at the head, from which it goes to the lamp."""
    colour = 1 if region == "na" else 0
    made = _Builder(USUAL_SIZE_M2[region])
    made.at(f"{CIRCUIT}.L", "board:line")
    made.at(f"{CIRCUIT}.N", "board:neutral")
    made.at(EARTH, "board:earth")
    made.devices += [Device(id=name, kind=Kind.TWO_WAY) for name in ("foot", "head")]
    made.devices.append(Lamp(id="lamp1", kind=Kind.LAMP))
    made.core("A1", "board", "board:line", "foot", "foot.COM", LINE[colour])
    made.core("A2", "board", "board:neutral", "ceiling1", "ceiling1:neutral", NEUTRAL[colour])
    for k, shade in ((1, ("black", "red")), (2, ("grey", "black"))):
        made.core(f"T{k}", "foot", f"foot.L{k}", "head", f"head.L{k}", shade[colour])
    made.core("D1", "head", "head.COM", "ceiling1", "ceiling1:switched", LINE[colour])
    made.at("lamp1.1", "ceiling1:switched")
    made.at("lamp1.2", "ceiling1:neutral")
    return Seats(
        name="landing",
        circuits=(CIRCUIT,),
        devices=tuple(made.devices),
        cores=tuple(made.cores),
        seat_of=made.seats,
        region=region,
    )


class _Builder:
    """Puts things where they sit."""

    def __init__(self, size_m2: float) -> None:
        self.size_m2 = size_m2
        self.devices: list[Device] = []
        self.cores: list[Core] = []
        self.seats: dict[str, str] = {}
        self.places: dict[str, str] = {"box:line": "box"}

    def at(self, point: str, seat: str) -> None:
        self.seats[point] = seat

    def core(self, name: str, a: str, a_seat: str, b: str, b_seat: str, colour: str) -> None:
        self.cores.append(Core(id=name, ends=(a, b), colour=colour, size_m2=self.size_m2))
        self.at(f"{name}@{a}", a_seat)
        self.at(f"{name}@{b}", b_seat)

    def wire(self, name: str, a_seat: str, b_seat: str, colour: str, place: str) -> None:
        """A short piece within a box: its ends are told apart by a prime."""
        self.cores.append(Core(id=name, ends=(place, f"{place}'"), colour=colour, size_m2=self.size_m2))
        self.at(f"{name}@{place}", a_seat)
        self.at(f"{name}@{place}'", b_seat)
