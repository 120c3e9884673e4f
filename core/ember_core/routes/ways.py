"""The schools of the trade, each as a change of what was found; what stands against one is told instead of drawn."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from ember_core.routes.found import Feed
from ember_core.routes.seats import CAP, Move, Seats, moves_between
from ember_core.wiring.drawing import Companion, Control, Core, Device, Kind, Lamp, Mark, NeutralUse
from ember_core.wiring.proof import WiringProof, prove


class Way(StrEnum):
    """What is done with the loop."""

    TWO_WIRE = "two_wire"
    WITH_BYPASS = "with_bypass"
    MODULE_AT_LAMP = "module_at_lamp"
    MODULE_BEHIND_SWITCH = "module_behind_switch"
    DROP_AS_FEED = "drop_as_feed"
    NEUTRAL_PRESENT = "neutral_present"
    SPARE_AS_NEUTRAL = "spare_as_neutral"
    TIMER = "timer"
    CONTROL_AND_COMPANION = "control_and_companion"
    PAIR = "pair"


@dataclass(frozen=True, slots=True, kw_only=True)
class Route:
    """A way through, or what stands against it.

    Parameters
    ----------
    against : code of the one thing that stands against it; None where it can be.
    wanted, moves, proof : only where it can be.
    """

    way: Way
    against: str | None = None
    wanted: Seats | None = None
    moves: tuple[Move, ...] = ()
    proof: WiringProof | None = None


def routes(found: Seats, feed: Feed) -> tuple[Route, ...]:
    """Every school on a box of ordinary switches, each proved; one that fails its own proof is not offered."""
    return tuple(_route(way, found, *build(found, feed)) for way, build in _ON_A_BOX.items())


def landing_routes(found: Seats) -> tuple[Route, ...]:
    """What becomes of a landing with a two-way switch at either end."""
    return tuple(_route(way, found, None, build(found)) for way, build in _ON_A_LANDING.items())


def _route(way: Way, found: Seats, against: str | None, wanted: Seats | None) -> Route:
    if wanted is None:
        return Route(way=way, against=against)
    proof = prove(wanted.drawing())
    if proof.works:
        return Route(way=way, wanted=wanted, moves=moves_between(found, wanted), proof=proof)
    codes = {finding.code for finding in proof.findings}
    against = "smart_lamps" if "smart_lamp_behind_control" in codes else "fails_its_proof"
    return Route(way=way, against=against, proof=proof)


Built = tuple[str | None, Seats | None]


def _gangs(found: Seats) -> list[int]:
    return [int(device.id[2:]) for device in found.devices if device.id.startswith("sw")]


def _lamps(found: Seats) -> list[Lamp]:
    return [device for device in found.devices if isinstance(device, Lamp)]


def _control(found: Seats, *, neutral: bool = False, earth: bool = True) -> Control:
    loads = tuple(f"L{k}" for k in _gangs(found))
    return Control(
        id="ctl",
        kind=Kind.CONTROL,
        line="L",
        loads=loads,
        neutral="N" if neutral else None,
        neutral_use=NeutralUse.REQUIRED if neutral else NeutralUse.NONE,
        earth="PE" if earth else None,
        needs_earth=earth,
        feeding_loads=() if neutral else loads[:1],
        holds={"L": 2},
    )


def _in_box(found: Seats, feed: Feed, control: Control) -> dict[str, str]:
    """The cores of the switches on the terminals of a control; of several feeds one goes on, the others are capped."""
    seats: dict[str, str] = {}
    for k in _gangs(found):
        for point, seat in found.seat_of.items():
            if seat == f"sw{k}.L1":
                seats[point] = f"{control.id}.L{k}"
            elif seat == f"sw{k}.COM":
                seats[point] = f"{control.id}.L" if k == 1 else CAP
    if feed is not Feed.CEILING:
        # Pieces that went from switch to switch are not needed any more.
        for k in _gangs(found)[1:]:
            seats[f"w{k}@box"] = CAP
    return seats


def _earth(found: Seats, control: Control) -> dict[str, str]:
    """A piece from the joint of the earths to the control's own."""
    return {"we@box": "box:earth", "we@box'": f"{control.id}.PE"} if control.earth else {}


def _has_earth(found: Seats) -> bool:
    return "box:earth" in found.seat_of.values()


def _piece(found: Seats, name: str, colour: str) -> Core:
    return Core(id=name, ends=("box", "box'"), colour=colour, size_m2=found.cores[0].size_m2)


def _marked(cores: tuple[Core, ...], live: set[str]) -> tuple[Core, ...]:
    """Cores that are live whatever their colour says get a sleeve."""
    return tuple(replace(core, marked=Mark.LIVE) if core.id in live else core for core in cores)


def _switched_cores(found: Seats) -> set[str]:
    return {point.split("@")[0] for point, seat in found.seat_of.items() if seat.endswith(".L1") and "@" in point}


def _two_wire(found: Seats, feed: Feed) -> Built:
    has_earth = _has_earth(found)
    control = _control(found, earth=has_earth)
    pieces = (_piece(found, "we", "green-yellow"),) if has_earth else ()
    wanted = found.changed(
        name=Way.TWO_WIRE,
        devices=(control, *_lamps(found)),
        cores=_marked((*found.cores, *pieces), _switched_cores(found)),
        seats={**_in_box(found, feed, control), **_earth(found, control)},
        intended={f"lamp{k}": (f"ctl.L{k}",) for k in _gangs(found)},
    )
    return None, wanted


def _with_bypass(found: Seats, feed: Feed) -> Built:
    against, plain = _two_wire(found, feed)
    if plain is None:
        return against, None
    bypass = Device(id="byp", kind=Kind.BYPASS)
    return None, plain.changed(
        name=Way.WITH_BYPASS,
        devices=(*plain.devices, bypass),
        seats={"byp.1": "ceiling1:switched", "byp.2": "ceiling1:neutral"},
    )


def _module_at_lamp(found: Seats, feed: Feed) -> Built:
    if len(_gangs(found)) > 1:
        return "one_gang_only", None
    module = Control(
        id="ctl",
        kind=Kind.CONTROL,
        line="L",
        loads=("L1",),
        neutral="N",
        neutral_use=NeutralUse.REQUIRED,
    )
    companion = Companion(id="com", kind=Kind.COMPANION, of="ctl")
    pieces = [
        Core(id="mn", ends=("ceiling1", "ceiling1'"), colour="blue"),
        Core(id="ml", ends=("ceiling1", "ceiling1'"), colour="brown"),
        Core(id="mo", ends=("ceiling1", "ceiling1'"), colour="brown"),
    ]
    seats = {"mn@ceiling1": "ceiling1:neutral", "mn@ceiling1'": "ctl.N", "ml@ceiling1'": "ctl.L"}
    seats |= {"mo@ceiling1": "ceiling1:lamp", "mo@ceiling1'": "ctl.L1", "lamp1.1": "ceiling1:lamp"}
    if feed is Feed.CEILING:
        # The drop is not needed: parted from the line at the ceiling, made safe at both ends.
        seats |= {"ml@ceiling1": "ceiling1:line", "D11@ceiling1": CAP, "D11@box": CAP}
        seats |= {"D12@ceiling1": CAP, "D12@box": CAP}
    else:
        # The switch is bridged in the box, and its core is live from now on.
        seats |= {"ml@ceiling1": "ceiling1:switched", "w1@box'": "box:bridge", "D11@box": "box:bridge"}
    return None, found.changed(
        name=Way.MODULE_AT_LAMP,
        devices=(module, companion, *_lamps(found)),
        cores=_marked((*found.cores, *pieces), _switched_cores(found)),
        seats=seats,
        intended={"lamp1": ("ctl.L1",)},
    )


def _module_behind_switch(found: Seats, feed: Feed) -> Built:
    control = replace(_control(found, earth=False), inputs=("S", *(f"S{k}" for k in _gangs(found))))
    seats = _in_box(found, feed, control)
    pieces = []
    for k in _gangs(found):
        pieces += [_piece(found, f"i{k}", "black"), _piece(found, f"j{k}", "black")]
        seats |= {f"i{k}@box": "ctl.S", f"i{k}@box'": f"sw{k}.COM"}
        seats |= {f"j{k}@box": f"ctl.S{k}", f"j{k}@box'": f"sw{k}.L1"}
    control = replace(control, holds={"S": len(_gangs(found)), "L": 2})
    return None, found.changed(
        name=Way.MODULE_BEHIND_SWITCH,
        devices=(control, *found.devices),
        cores=_marked((*found.cores, *pieces), _switched_cores(found)),
        seats=seats,
        intended={f"lamp{k}": (f"ctl.L{k}",) for k in _gangs(found)},
    )


def _drop_as_feed(found: Seats, feed: Feed) -> Built:
    if feed is not Feed.CEILING:
        return "no_drop", None
    if len(_gangs(found)) > 1:
        return "one_gang_only", None
    if not all(lamp.smart for lamp in _lamps(found)):
        return "lamps_not_smart", None
    control = replace(_control(found, neutral=True), loads=("L1",))
    link = Core(id="ml", ends=("ceiling1", "ceiling1'"), colour="brown")
    seats = {"D11@box": "ctl.L", "D12@box": "ctl.N", "D12@ceiling1": "ceiling1:neutral"}
    seats |= {"ml@ceiling1": "ceiling1:line", "ml@ceiling1'": "ceiling1:switched", **_earth(found, control)}
    return None, found.changed(
        name=Way.DROP_AS_FEED,
        devices=(control, *_lamps(found)),
        cores=(*found.cores, link, _piece(found, "we", "green-yellow")),
        seats=seats,
        intended={},
    )


def _neutral_present(found: Seats, feed: Feed) -> Built:
    if "box:neutral" not in found.seat_of.values():
        return "no_neutral", None
    return None, _with_neutral(found, feed, {"wn@box": "box:neutral", "wn@box'": "ctl.N"}, Way.NEUTRAL_PRESENT, "wn")


def _spare_as_neutral(found: Seats, feed: Feed) -> Built:
    if "box:neutral" in found.seat_of.values():
        return "neutral_present", None
    if not any(core.id == "D14" for core in found.cores):
        return "no_spare_core", None
    seats = {"D14@ceiling1": "ceiling1:neutral", "D14@box": "ctl.N"}
    wanted = _with_neutral(found, feed, seats, Way.SPARE_AS_NEUTRAL, "")
    cores = tuple(replace(core, marked=Mark.NEUTRAL) if core.id == "D14" else core for core in wanted.cores)
    return None, replace(wanted, cores=cores)


def _with_neutral(found: Seats, feed: Feed, neutral: dict[str, str], way: Way, piece: str) -> Seats:
    has_earth = _has_earth(found)
    control = _control(found, neutral=True, earth=has_earth)
    pieces = [_piece(found, "we", "green-yellow")] if has_earth else []
    pieces += [_piece(found, piece, "blue")] if piece else []
    return found.changed(
        name=way,
        devices=(control, *_lamps(found)),
        cores=_marked((*found.cores, *pieces), _switched_cores(found)),
        seats={**_in_box(found, feed, control), **_earth(found, control), **neutral},
        intended={f"lamp{k}": (f"ctl.L{k}",) for k in _gangs(found)},
    )


def _timer(found: Seats, feed: Feed) -> Built:
    if len(_gangs(found)) > 1:
        return "one_gang_only", None
    timer = Device(id="tim", kind=Kind.TIMER)
    seats = {point: seat.replace("sw1.", "tim.") for point, seat in found.seat_of.items() if seat.startswith("sw1.")}
    return None, found.changed(
        name=Way.TIMER,
        devices=(timer, *_lamps(found)),
        cores=_marked(found.cores, _switched_cores(found)),
        seats=seats,
        intended={"lamp1": ("tim.L1",)},
    )


def _control_and_companion(found: Seats) -> Seats:
    """The control at the feed's end; one traveller is joined through to the lamps, the other made safe."""
    control = _turnable("ctl")
    return found.changed(
        name=Way.CONTROL_AND_COMPANION,
        devices=(control, Companion(id="com", kind=Kind.COMPANION, of="ctl"), *_lamps(found)),
        cores=_marked(found.cores, {"T1", "D1"}),
        seats={
            "A1@foot": "ctl.L",
            "T1@foot": "ctl.L1",
            "T1@head": "head:through",
            "D1@head": "head:through",
            "T2@foot": CAP,
            "T2@head": CAP,
        },
        intended={"lamp1": ("ctl.L1",)},
    )


def _pair(found: Seats) -> Seats:
    """A control at either end, side by side between line and lamps: one traveller for each of the two."""
    return found.changed(
        name=Way.PAIR,
        devices=(_turnable("ctl"), _turnable("ctl2"), *_lamps(found)),
        cores=_marked(found.cores, {"T1", "T2", "D1"}),
        seats={
            "A1@foot": "ctl.L",
            "T1@foot": "ctl.L",
            "T2@foot": "ctl.L1",
            "T1@head": "ctl2.L",
            "T2@head": "ctl2.L1",
            "D1@head": "ctl2.L1",
        },
        intended={"lamp1": ("ctl.L1", "ctl2.L1")},
    )


def _turnable(name: str) -> Control:
    return Control(
        id=name, kind=Kind.CONTROL, line="L", loads=("L1",), reversible=True, feeding_loads=("L1",), holds={"L": 2}
    )


_ON_A_LANDING = {Way.CONTROL_AND_COMPANION: _control_and_companion, Way.PAIR: _pair}
_ON_A_BOX = {
    Way.TWO_WIRE: _two_wire,
    Way.WITH_BYPASS: _with_bypass,
    Way.MODULE_AT_LAMP: _module_at_lamp,
    Way.MODULE_BEHIND_SWITCH: _module_behind_switch,
    Way.DROP_AS_FEED: _drop_as_feed,
    Way.NEUTRAL_PRESENT: _neutral_present,
    Way.SPARE_AS_NEUTRAL: _spare_as_neutral,
    Way.TIMER: _timer,
}
