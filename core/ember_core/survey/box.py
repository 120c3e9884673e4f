"""The switch box as found: gangs, terminals and conductors. What is seen, never what is concluded."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from enum import StrEnum

from ember_core.errors import InputError
from ember_core.quantities import check_bounds, defaulted, optional, required

MOST_GANGS = 6
MOST_CONDUCTORS = 16
# The metal of a box or conduit, as one end of a reading.
METAL_BOX = "box"


class Ways(StrEnum):
    """How many places a gang is switched from, and which of them this box is."""

    ONE_WAY = "one_way"
    TWO_WAY = "two_way"  # line side or load side: readings tell which
    INTERMEDIATE = "intermediate"


class Terminal(StrEnum):
    """Where a conductor ends in the box."""

    COMMON = "common"
    L1 = "l1"
    L2 = "l2"
    IN_1 = "in_1"
    IN_2 = "in_2"
    OUT_1 = "out_1"
    OUT_2 = "out_2"
    JOINT_1 = "joint_1"  # joined with others, at no switch terminal
    JOINT_2 = "joint_2"
    JOINT_3 = "joint_3"
    EARTH = "earth"
    LOOSE = "loose"  # capped, coiled or hanging free
    UNKNOWN = "unknown"


SWITCH_TERMINALS: dict[Ways, tuple[Terminal, ...]] = {
    Ways.ONE_WAY: (Terminal.COMMON, Terminal.L1),
    Ways.TWO_WAY: (Terminal.COMMON, Terminal.L1, Terminal.L2),
    Ways.INTERMEDIATE: (Terminal.IN_1, Terminal.IN_2, Terminal.OUT_1, Terminal.OUT_2),
}
AT_SWITCH = frozenset(terminal for terminals in SWITCH_TERMINALS.values() for terminal in terminals)
ALONE = (Terminal.LOOSE, Terminal.UNKNOWN)


class Role(StrEnum):
    """What a conductor is for."""

    PERMANENT_LIVE = "permanent_live"
    LOOPED_LIVE = "looped_live"  # permanent live that shares its terminal: feed and loop-on
    SWITCHED_LIVE = "switched_live"
    NEUTRAL = "neutral"
    FOREIGN_NEUTRAL = "foreign_neutral"  # neutral of another circuit
    FOREIGN_LIVE = "foreign_live"  # live of another circuit
    TRAVELLER = "traveller"
    SWITCHED_NEUTRAL = "switched_neutral"  # lamp side of a switch that stands in the neutral
    EARTH = "earth"
    UNUSED = "unused"


class Material(StrEnum):
    """What the box is made of."""

    METAL = "metal"
    PLASTIC = "plastic"
    DRY_LINING = "dry_lining"
    UNKNOWN = "unknown"


class Seen(StrEnum):
    """Whether a thing was seen."""

    YES = "yes"
    NO = "no"
    UNKNOWN = "unknown"


class EarthFound(StrEnum):
    """Where an earth seems to be."""

    CONDUCTOR = "conductor"
    METAL_BOX = "metal_box"
    NONE = "none"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True, kw_only=True)
class Conductor:
    """One conductor end in the box.

    Parameters
    ----------
    id : short name, unique in the box.
    cable : name of the cable or conduit it comes in; may be empty.
    colour : found colour, one of `colours.COLOURS`, or empty.
    sleeve : colour of a sleeve or tape found on it, or empty.
    terminal, gang : where it ends; `gang` (from 1) only for a switch terminal.
    size_m2 : cross-section of the copper.
    label : role that the technician has marked it with, or None.
    is_seen : somebody looked at it; a conductor that a preset drew is a guess, and where it ends counts for nothing.
    """

    id: str
    cable: str = ""
    colour: str = ""
    sleeve: str = ""
    terminal: Terminal = Terminal.UNKNOWN
    gang: int | None = None
    size_m2: float = defaulted("m²", 2e-7, 1.6e-5, "cross-section of the conductor", default=1.5e-6)
    label: Role | None = None
    is_seen: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Node:
    """Conductors that are joined as found: one terminal, one connector, or one loose end."""

    key: str
    terminal: Terminal
    gang: int | None
    conductors: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """A box with everything that was seen in it.

    Raises `InputError` with path for a figure out of bounds or conductors that cannot be so.
    """

    gangs: tuple[Ways, ...] = (Ways.ONE_WAY,)
    conductors: tuple[Conductor, ...] = ()
    depth_m: float | None = optional("m", 0.005, 0.2, "depth of the box, rim to back")
    width_m: float | None = optional("m", 0.03, 0.6, "inner width of the box")
    height_m: float | None = optional("m", 0.03, 0.3, "inner height of the box")
    room_left_m: float | None = optional("m", 0.0, 0.2, "free depth with the conductors folded, as measured")
    circuits: int = required("1", 1, 6, "number of circuits that come into the box", integer=True)
    material: Material = Material.UNKNOWN
    neutral_seen: Seen = Seen.UNKNOWN
    earth_found: EarthFound = EarthFound.UNKNOWN
    all_listed: bool = False
    nodes: tuple[Node, ...] = field(init=False, default=())

    def __post_init__(self) -> None:
        check_bounds(self)
        if not 1 <= len(self.gangs) <= MOST_GANGS:
            raise InputError("too_many", path="gangs", most=MOST_GANGS)
        if len(self.conductors) > MOST_CONDUCTORS:
            raise InputError("too_many", path="conductors", most=MOST_CONDUCTORS)
        seen: set[str] = {METAL_BOX}
        for index, conductor in enumerate(self.conductors):
            path = f"conductors[{index}]"
            check_bounds(conductor, path)
            if conductor.id in seen:
                raise InputError("conductor_twice", path=f"{path}.id", conductor=conductor.id)
            seen.add(conductor.id)
            self._check_terminal(conductor, path)
        object.__setattr__(self, "nodes", self._joined())
        self._check_labels()

    def _check_terminal(self, conductor: Conductor, path: str) -> None:
        if conductor.terminal not in AT_SWITCH:
            if conductor.gang is not None:
                raise InputError("gang_without_terminal", path=f"{path}.gang", conductor=conductor.id)
            return
        if conductor.gang is None or not 1 <= conductor.gang <= len(self.gangs):
            raise InputError("no_such_gang", path=f"{path}.gang", conductor=conductor.id, count=len(self.gangs))
        if conductor.terminal not in SWITCH_TERMINALS[self.gangs[conductor.gang - 1]]:
            raise InputError(
                "no_such_terminal", path=f"{path}.terminal", conductor=conductor.id, terminal=conductor.terminal.value
            )

    def _joined(self) -> tuple[Node, ...]:
        """Nodes in a fixed order: switch terminals first, since they are bound most."""
        groups: dict[str, list[Conductor]] = {}
        for conductor in self.conductors:
            key = (
                f"alone:{conductor.id}"
                if conductor.terminal in ALONE or not conductor.is_seen
                else f"{conductor.gang or 0}:{conductor.terminal.value}"
            )
            groups.setdefault(key, []).append(conductor)
        nodes = [
            Node(
                key=key,
                terminal=members[0].terminal if members[0].is_seen else Terminal.UNKNOWN,
                gang=members[0].gang if members[0].is_seen else None,
                conductors=tuple(member.id for member in members),
            )
            for key, members in groups.items()
        ]
        if self.material is Material.METAL or self.earth_found is EarthFound.METAL_BOX:
            nodes.append(Node(key=METAL_BOX, terminal=Terminal.EARTH, gang=None, conductors=(METAL_BOX,)))
        return tuple(sorted(nodes, key=lambda node: (node.gang is None, node.gang or 0)))

    def _check_labels(self) -> None:
        """Labels that cannot hold together: two permanent lives on a one-way switch, two switched lives of a gang."""
        index = {conductor.id: k for k, conductor in enumerate(self.conductors)}
        by_id = {conductor.id: conductor for conductor in self.conductors}
        for gang, ways in enumerate(self.gangs, 1):
            lives: list[Node] = []
            switched: list[Node] = []
            for node in self.nodes:
                labels = {by_id[name].label for name in node.conductors if name in by_id}
                if node.gang == gang and labels & {Role.PERMANENT_LIVE, Role.LOOPED_LIVE}:
                    lives.append(node)
                if node.gang == gang and Role.SWITCHED_LIVE in labels:
                    switched.append(node)
            if ways is not Ways.INTERMEDIATE and len(lives) > 1:
                at = index[lives[1].conductors[0]]
                raise InputError("two_permanent_lives", path=f"conductors[{at}].label", gang=gang)
            if len(switched) > 1:
                at = index[switched[1].conductors[0]]
                raise InputError("two_switched_lives", path=f"conductors[{at}].label", gang=gang)

    @property
    def cables(self) -> frozenset[str]:
        """Names that stand for one cable.

        A cable has each colour once: a name that two conductors of one colour bear is several cables', or a conduit's.
        Such a name, and one that a conductor bears whose colour nobody noted, says nothing of what comes together.
        """
        found = Counter((conductor.cable, conductor.colour) for conductor in self.conductors)
        several = {cable for (cable, colour), count in found.items() if count > 1 or not colour}
        return frozenset(cable for cable, _ in found) - several - {""}

    def node_of(self, conductor: str) -> int:
        """Index of the node a conductor is joined in; raises `InputError` for an unknown one."""
        for index, node in enumerate(self.nodes):
            if conductor in node.conductors:
                return index
        raise InputError("no_such_conductor", path="", conductor=conductor)
