"""Places of a wiring: the box, and above it the luminaires and the junction boxes between."""

from __future__ import annotations

from dataclasses import dataclass

from ember_core.routes.seats import Seats

BOX, BOARD = "box", "board"
_LUMINAIRE, _JUNCTION = "ceiling", "junction"


@dataclass(frozen=True, slots=True, kw_only=True)
class Point:
    """Where the cable from the switch of a gang ends, with the joints there.

    Parameters
    ----------
    place : a luminaire or a junction box. line, neutral, earth, switched : seats.
    """

    place: str
    line: str
    neutral: str
    earth: str
    switched: str

    @property
    def is_junction(self) -> bool:
        """The luminaire is further on."""
        return self.place.startswith(_JUNCTION)


def luminaire(gang: int) -> Point:
    """The luminaire of a gang."""
    place = f"{_LUMINAIRE}{gang}"
    return Point(
        place=place,
        line=f"{place}:line",
        neutral=f"{place}:neutral",
        earth=f"{place}:earth",
        switched=f"{place}:switched",
    )


def junction(number: int, gang: int, circuit: str = "") -> Point:
    """A junction box, for a gang that passes it.

    Parameters
    ----------
    circuit : tells the joints of another circuit from those of the loop's own; empty for these.
    """
    place = f"{_JUNCTION}{number}"
    return Point(
        place=place,
        line=f"{place}:line{circuit}",
        neutral=f"{place}:neutral{circuit}",
        earth=f"{place}:earth",
        switched=f"{place}:switched{gang}",
    )


def is_box(place: str) -> bool:
    """A box of a switch."""
    return place.startswith(BOX)


def is_aloft(place: str) -> bool:
    """A luminaire or a junction box: no box of a switch."""
    return place.startswith((_LUMINAIRE, _JUNCTION))


def is_junction(place: str) -> bool:
    """A junction box."""
    return place.startswith(_JUNCTION)


def is_switched(seat: str) -> bool:
    """The joint from which a lamp gets its switched live."""
    return seat.rpartition(":")[2].rstrip("0123456789") == "switched"


def point_of(found: Seats, gang: int) -> Point:
    """Where the cable from the switch of a gang ends: the junction box that its lamp hangs on, else its luminaire."""
    here = luminaire(gang)
    switched, neutral = (_above(found, seat) for seat in (here.switched, here.neutral))
    if switched is None:
        return here
    number = int(switched.partition(":")[0].removeprefix(_JUNCTION))
    return junction(number, gang, (neutral or "").rpartition("neutral")[2])


def _above(found: Seats, seat: str) -> str | None:
    """The joint of a junction box from which a core comes to a seat."""
    for core in found.cores:
        for here, there in (core.points, core.points[::-1]):
            other = found.seat_of.get(there, "")
            if found.seat_of.get(here) == seat and is_junction(other) and ":" in other:
                return other
    return None
