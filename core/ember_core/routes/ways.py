"""The schools of the trade, each proved; what stands against one is told instead of drawn."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from enum import StrEnum

from ember_core.findings import Severity
from ember_core.parts.hardware import Demand, Hardware, Sort
from ember_core.routes import at_luminaire, in_junction, one_way, two_way
from ember_core.routes.devices import plain
from ember_core.routes.found import Feed
from ember_core.routes.making import Built, has_earth
from ember_core.routes.one_way import Job
from ember_core.routes.points import is_junction
from ember_core.routes.seats import Move, Seats, Sleeve, moves_between, sleeves_between
from ember_core.routes.two_way import Landing
from ember_core.wiring.proof import prove
from ember_core.wiring.told import WiringProof


class Way(StrEnum):
    """What is done with the loop."""

    TWO_WIRE = "two_wire"
    WITH_BYPASS = "with_bypass"
    MODULE_AT_LAMP = "module_at_lamp"
    MODULE_WITH_SWITCH = "module_with_switch"
    MODULE_IN_JUNCTION = "module_in_junction"
    JUNCTION_WITH_SWITCH = "junction_with_switch"
    MODULE_BEHIND_SWITCH = "module_behind_switch"
    DROP_AS_FEED = "drop_as_feed"
    NEUTRAL_PRESENT = "neutral_present"
    SPARE_AS_NEUTRAL = "spare_as_neutral"
    NEW_NEUTRAL = "new_neutral"
    HALF_WAVE = "half_wave"
    TIMER = "timer"
    LEAVE = "leave"
    CONTROL_AND_COMPANION = "control_and_companion"
    PAIR = "pair"


@dataclass(frozen=True, slots=True, kw_only=True)
class Route:
    """A way through, or what stands against it.

    Parameters
    ----------
    against : code of the one thing that stands against it; None where it can be.
    wanted, sleeves, moves, proof : only where it can be; the proof of one that fails is kept to say why.
    """

    way: Way
    against: str | None = None
    wanted: Seats | None = None
    sleeves: tuple[Sleeve, ...] = ()
    moves: tuple[Move, ...] = ()
    proof: WiringProof | None = None


_ON_A_BOX: Mapping[Way, Callable[[Job], Built]] = {
    Way.TWO_WIRE: one_way.two_wire,
    Way.WITH_BYPASS: one_way.with_bypass,
    Way.MODULE_AT_LAMP: at_luminaire.at_lamp,
    Way.MODULE_WITH_SWITCH: at_luminaire.with_switch,
    Way.MODULE_IN_JUNCTION: in_junction.in_junction,
    Way.JUNCTION_WITH_SWITCH: in_junction.junction_with_switch,
    Way.MODULE_BEHIND_SWITCH: one_way.module_behind_switch,
    Way.DROP_AS_FEED: one_way.drop_as_feed,
    Way.NEUTRAL_PRESENT: one_way.neutral_present,
    Way.SPARE_AS_NEUTRAL: one_way.spare_as_neutral,
    Way.NEW_NEUTRAL: one_way.new_neutral,
    Way.TIMER: one_way.timer,
    Way.LEAVE: one_way.leave,
    Way.HALF_WAVE: one_way.half_wave,
}
_ON_A_LANDING: Mapping[Way, Callable[[Landing], Built]] = {
    Way.CONTROL_AND_COMPANION: two_way.control_and_companion,
    Way.PAIR: two_way.pair,
    Way.MODULE_AT_LAMP: at_luminaire.landing_at_lamp,
    Way.MODULE_WITH_SWITCH: at_luminaire.landing_with_switches,
    Way.MODULE_IN_JUNCTION: in_junction.landing_in_junction,
    Way.JUNCTION_WITH_SWITCH: in_junction.landing_junction_with_switches,
    Way.TIMER: two_way.timer_at_one_end,
    Way.LEAVE: two_way.leave,
}
WAYS_ON_A_BOX, WAYS_ON_A_LANDING = tuple(_ON_A_BOX), tuple(_ON_A_LANDING)
# Ways whose control is fed straight, by line and neutral.
WITH_NEUTRAL = (
    Way.MODULE_AT_LAMP,
    Way.MODULE_WITH_SWITCH,
    Way.MODULE_IN_JUNCTION,
    Way.JUNCTION_WITH_SWITCH,
    Way.DROP_AS_FEED,
    Way.NEUTRAL_PRESENT,
    Way.SPARE_AS_NEUTRAL,
    Way.NEW_NEUTRAL,
)
# Modules outside the box.
ALOFT = (Way.MODULE_AT_LAMP, Way.MODULE_WITH_SWITCH, Way.MODULE_IN_JUNCTION, Way.JUNCTION_WITH_SWITCH)
# Those whose switch at the wall gives way to a companion with a battery, and those that have it as their input.
COMPANION_AT_WALL = (Way.MODULE_AT_LAMP, Way.MODULE_IN_JUNCTION)
OLD_SWITCH_STAYS = (Way.MODULE_WITH_SWITCH, Way.JUNCTION_WITH_SWITCH)
IN_JUNCTION = (Way.MODULE_IN_JUNCTION, Way.JUNCTION_WITH_SWITCH)
MODULES = (*ALOFT, Way.MODULE_BEHIND_SWITCH)
WITHOUT_A_CONTROL = (Way.LEAVE, Way.HALF_WAVE)


def ways_for(found: Seats, *, is_landing: bool) -> list[Way]:
    """Those that a loop may have: a junction box counts where one was found.

    Parameters
    ----------
    is_landing : what changes is switched from several places.
    """
    ways = WAYS_ON_A_LANDING if is_landing else WAYS_ON_A_BOX
    has_junction = any(is_junction(end) for core in found.cores for end in core.ends)
    return [way for way in ways if has_junction or way not in IN_JUNCTION]


def serves(hardware: Hardware, way: Way) -> bool:
    """Whether a control is of the sort that a way wants."""
    sort, neutral = hardware.word("sort"), hardware.word("neutral") or Demand.NONE
    if way in WITHOUT_A_CONTROL or sort in (None, Sort.COMPANION):
        return False
    if way is Way.TIMER:
        return sort is Sort.TIMER
    if sort is not (Sort.MODULE if way in MODULES else Sort.CONTROL):
        return False
    return neutral is not Demand.NONE if way in WITH_NEUTRAL else neutral is not Demand.REQUIRED


def usual(way: Way, *, earth: bool) -> Hardware:
    """A control of no make that serves a way.

    Parameters
    ----------
    earth : it wants an earth.
    """
    sort = Sort.TIMER if way is Way.TIMER else Sort.MODULE if way in MODULES else Sort.CONTROL
    is_in_box = way not in MODULES and way is not Way.TIMER
    return plain(
        sort=sort,
        neutral=Demand.REQUIRED if way in WITH_NEUTRAL else Demand.NONE,
        earth=Demand.REQUIRED if earth and is_in_box else Demand.NONE,
    )


def on_a_box(
    way: Way,
    found: Seats,
    feed: Feed,
    hardware: Hardware | None,
    kept: Collection[int] = (),
    in_junction: Collection[int] = (),
) -> Route:
    """One way through a box of ordinary switches.

    Parameters
    ----------
    kept : gangs that stay as they are. in_junction : gangs whose bypass goes into their junction box.
    """
    hardware = hardware or usual(way, earth=has_earth(found))
    job = Job(found=found, feed=feed, hardware=hardware, kept=kept, in_junction=in_junction)
    return _route(way, found, *_ON_A_BOX[way](job))


def on_a_landing(
    way: Way,
    found: Seats,
    near: str,
    far: str,
    middle: tuple[str, ...],
    hardware: Hardware | None,
    feed: Feed = Feed.SWITCH,
    gang: int = 1,
) -> Route:
    """One way through a circuit that is switched from several places; `gang` is the lamp that they switch."""
    hardware = hardware or usual(way, earth=has_earth(found, near) and has_earth(found, far))
    landing = Landing(found=found, near=near, far=far, middle=middle, feed=feed, hardware=hardware, gang=gang)
    return _route(way, found, *_ON_A_LANDING[way](landing))


def routes(found: Seats, feed: Feed) -> tuple[Route, ...]:
    """Every school on a box of ordinary switches, with controls of no make."""
    return tuple(on_a_box(way, found, feed, None) for way in ways_for(found, is_landing=False))


def landing_routes(
    found: Seats, near: str = "foot", far: str = "head", middle: tuple[str, ...] = ()
) -> tuple[Route, ...]:
    """What becomes of a circuit with a two-way switch at either end."""
    return tuple(on_a_landing(way, found, near, far, middle, None) for way in ways_for(found, is_landing=True))


def _route(way: Way, found: Seats, against: str | None, wanted: Seats | None) -> Route:
    if wanted is None:
        return Route(way=way, against=against)
    proof = prove(wanted.drawing())
    if proof.works:
        return Route(
            way=way,
            wanted=wanted,
            sleeves=sleeves_between(found, wanted),
            moves=moves_between(found, wanted),
            proof=proof,
        )
    return Route(way=way, against=_why(proof), proof=proof)


def _why(proof: WiringProof) -> str:
    codes = {finding.code for finding in proof.findings if finding.severity is Severity.STOP}
    return next((word for code, word in _STANDS.items() if code in codes), "fails_its_proof")


# Faults that are of what was found, whatever is done.
_STANDS = {
    "smart_lamp_behind_control": "smart_lamps",
    "borrowed_neutral": "borrowed_neutral",
    "circuits_joined": "circuits_joined",
    "neutral_switched": "neutral_switched",
    "earth_carries_load": "earth_carries_load",
}
