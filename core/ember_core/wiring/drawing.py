"""A wiring as data: devices with their terminals, cores between places, and what touches what.

Points are named as hands find them: `7.L` and `7.N` at the board, `E` for earth, `A1@ceiling` for the end of a core at
a place, `ctl.L1` for a terminal of a device.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

EARTH = "E"


class Kind(StrEnum):
    """Kinds of devices; what each does in each of its positions is said in `behaviour`."""

    CONTROL = "control"
    ONE_WAY = "one_way"
    TWO_WAY = "two_way"
    INTERMEDIATE = "intermediate"
    PUSH = "push"
    TIMER = "timer"
    LAMP = "lamp"
    BYPASS = "bypass"
    COMPANION = "companion"
    DIODE = "diode"


class NeutralUse(StrEnum):
    """What a control does with its neutral terminal."""

    NONE = "none"
    OPTIONAL = "optional"
    REQUIRED = "required"


class Mark(StrEnum):
    """What a sleeve says of a core, whatever its colour."""

    LIVE = "live"
    NEUTRAL = "neutral"
    EARTH = "earth"


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """A thing with terminals.

    Parameters
    ----------
    holds : cores that a terminal takes, by its name; two where nothing is said.
    """

    id: str
    kind: Kind
    holds: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Control(Device):
    """An electronic switch or dimmer, or a module.

    Parameters
    ----------
    line, loads : names of its terminals; each load is switched to the line.
    neutral, neutral_use : its neutral terminal and what it wants of it.
    earth, needs_earth : its earth terminal or lead.
    reversible : line and load may be exchanged.
    feeding_loads : loads through which it feeds itself where it has no neutral.
    link : terminals that must be joined where it is used without a neutral.
    inputs : terminals for a switch or push, at mains potential.
    """

    line: str
    loads: tuple[str, ...]
    neutral: str | None = None
    neutral_use: NeutralUse = NeutralUse.NONE
    earth: str | None = None
    needs_earth: bool = False
    reversible: bool = False
    feeding_loads: tuple[str, ...] = ()
    link: tuple[str, str] | None = None
    inputs: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Lamp(Device):
    """A lamp, or lamps that hang together; a smart one has its own electronics and wants to be fed always."""

    smart: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Companion(Device):
    """A wireless switch of a control: no conductor at all."""

    of: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Core:
    """A core of a cable between two places.

    Parameters
    ----------
    size_m2 : cross-section [m²].
    """

    id: str
    ends: tuple[str, str]
    colour: str = ""
    marked: Mark | None = None
    size_m2: float | None = None

    @property
    def points(self) -> tuple[str, str]:
        """Its two ends as points."""
        return f"{self.id}@{self.ends[0]}", f"{self.id}@{self.ends[1]}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawing:
    """A whole wiring.

    Parameters
    ----------
    joints : points that touch. capped : ends of cores that are made safe on their own.
    intended : for each lamp the terminals that are to light it; a lamp that is not named may be lit by anything.
    """

    name: str
    circuits: tuple[str, ...]
    devices: tuple[Device, ...]
    cores: tuple[Core, ...]
    joints: tuple[tuple[str, ...], ...]
    capped: frozenset[str] = frozenset()
    intended: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    @property
    def lamps(self) -> tuple[Lamp, ...]:
        """Its lamps."""
        return tuple(one for one in self.devices if isinstance(one, Lamp))

    @property
    def controls(self) -> tuple[Control, ...]:
        """Its controls and modules."""
        return tuple(one for one in self.devices if isinstance(one, Control))


def terminals_of(device: Device) -> tuple[str, ...]:
    """Names of a device's terminals."""
    if isinstance(device, Control):
        named = (device.line, *device.loads, device.neutral, device.earth, *(device.link or ()), *device.inputs)
        return tuple(dict.fromkeys(name for name in named if name is not None))
    match device.kind:
        case Kind.ONE_WAY | Kind.PUSH:
            return ("COM", "L1")
        case Kind.TWO_WAY | Kind.TIMER:
            return ("COM", "L1", "L2")
        case Kind.INTERMEDIATE:
            return ("IN1", "IN2", "OUT1", "OUT2")
        case Kind.LAMP | Kind.BYPASS | Kind.DIODE:
            return ("1", "2")
    return ()


def positions_of(device: Device) -> tuple[str, ...]:
    """Positions that a device can be in; the first is the one at rest, or off."""
    if isinstance(device, Control):
        found = ["off"]
        for count in range(1, 2 ** len(device.loads)):
            on = [load for k, load in enumerate(device.loads) if count >> k & 1]
            found.append("+".join(on))
        return tuple(found)
    match device.kind:
        case Kind.ONE_WAY:
            return ("open", "closed")
        case Kind.PUSH:
            return ("released", "pressed")
        case Kind.TWO_WAY | Kind.TIMER:
            return ("L1", "L2")
        case Kind.INTERMEDIATE:
            return ("straight", "crossed")
    return ()


def contacts_of(device: Device, position: str) -> tuple[tuple[str, str], ...]:
    """Pairs of terminals that a device joins in a position."""
    if isinstance(device, Control):
        return () if position == "off" else tuple((device.line, load) for load in position.split("+"))
    match (device.kind, position):
        case (Kind.ONE_WAY, "closed") | (Kind.PUSH, "pressed") | (Kind.TWO_WAY | Kind.TIMER, "L1"):
            return (("COM", "L1"),)
        case (Kind.TWO_WAY | Kind.TIMER, "L2"):
            return (("COM", "L2"),)
        case (Kind.INTERMEDIATE, "straight"):
            return (("IN1", "OUT1"), ("IN2", "OUT2"))
        case (Kind.INTERMEDIATE, "crossed"):
            return (("IN1", "OUT2"), ("IN2", "OUT1"))
    return ()
