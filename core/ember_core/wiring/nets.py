"""What touches what in one state, what each net hangs on at the board, and the voltages of what hangs on nothing.

Contacts, cores and joints are ideal; lamps, bypasses, waiting electronics and diodes are elements between nets. Only
ratios count here: whether a lamp gets all of the supply, a part of it, or next to nothing.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ember_core.wiring.drawing import EARTH, Control, Drawing, Kind, contacts_of
from ember_core.wiring.network import Network

# Conductances against that of a lamp: a bypass passes a hundredth, waiting electronics a ten-thousandth.
G_LAMP, G_BYPASS, G_WAITING, G_LEAK = 1.0, 1e-2, 1e-4, 1e-9
# From this share of the supply on a lamp is lit as it should be, and up to this it is as good as dark.
LIT_RATIO, DARK_RATIO = 0.9, 0.1

Positions = Mapping[str, str]
Pair = tuple[str, str]


class Joined:
    """Points that touch, as sets that grow together."""

    def __init__(self, pairs: Iterable[Pair] = (), *, on: Joined | None = None) -> None:
        self._above: dict[str, str] = {} if on is None else dict(on._above)
        for a, b in pairs:
            self.join(a, b)

    def root(self, point: str) -> str:
        """The point that stands for all that touch this one."""
        above = self._above
        while (next_up := above.get(point, point)) != point:
            above[point] = above.get(next_up, next_up)
            point = next_up
        return point

    def join(self, a: str, b: str) -> None:
        """They touch."""
        self._above[self.root(a)] = self.root(b)

    def touch(self, a: str, b: str) -> bool:
        """Whether they do."""
        return self.root(a) == self.root(b)


def fixed_pairs(drawing: Drawing) -> list[Pair]:
    """What touches in every state: joints, and the two ends of each core."""
    pairs = [core.points for core in drawing.cores]
    for joint in drawing.joints:
        pairs += [(joint[0], point) for point in joint[1:]]
    return pairs


def moved_pairs(drawing: Drawing, positions: Positions) -> list[Pair]:
    """What the devices join in their positions."""
    return [
        (f"{device.id}.{a}", f"{device.id}.{b}")
        for device in drawing.devices
        if device.id in positions
        for a, b in contacts_of(device, positions[device.id])
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Element:
    """Something with a resistance between two points: conductance against a lamp's, and the device it is of."""

    a: str
    b: str
    g: float
    device: str
    kind: Kind


def elements_of(drawing: Drawing, positions: Positions) -> list[Element]:
    """Lamps, bypasses, diodes, and what a waiting control lets through to the loads that feed it."""
    found = []
    for device in drawing.devices:
        if device.kind in (Kind.LAMP, Kind.BYPASS):
            g = G_LAMP if device.kind is Kind.LAMP else G_BYPASS
            found.append(Element(a=f"{device.id}.1", b=f"{device.id}.2", g=g, device=device.id, kind=device.kind))
        elif isinstance(device, Control):
            on = positions.get(device.id, "off").split("+")
            found += [
                Element(
                    a=f"{device.id}.{device.line}",
                    b=f"{device.id}.{load}",
                    g=G_WAITING,
                    device=device.id,
                    kind=device.kind,
                )
                for load in device.feeding_loads
                if load not in on
            ]
    return found


class State:
    """One combination of positions: its nets, what they hang on, and voltages.

    Parameters
    ----------
    diodes : how diodes are taken: as closed, or as open.
    """

    def __init__(self, drawing: Drawing, fixed: Joined, positions: Positions, *, diodes: bool = True) -> None:
        self.drawing, self.positions = drawing, positions
        self.joined = Joined(moved_pairs(drawing, positions), on=fixed)
        if diodes:
            for device in drawing.devices:
                if device.kind is Kind.DIODE:
                    self.joined.join(f"{device.id}.1", f"{device.id}.2")
        self.elements = elements_of(drawing, positions)
        self._hangs_on: dict[str, set[str]] = {}
        for circuit in drawing.circuits:
            for pole in ("L", "N"):
                self._hangs_on.setdefault(self.joined.root(f"{circuit}.{pole}"), set()).add(f"{circuit}.{pole}")
        self._hangs_on.setdefault(self.joined.root(EARTH), set()).add(EARTH)
        self._volts: dict[str, float] | None = None

    def sources(self, point: str) -> frozenset[str]:
        """What at the board a point is joined to, without anything between."""
        return frozenset(self._hangs_on.get(self.joined.root(point), ()))

    def lines(self, point: str) -> set[str]:
        """Circuits whose line a point is joined to."""
        return {source[:-2] for source in self.sources(point) if source.endswith(".L")}

    def neutrals(self, point: str) -> set[str]:
        """Circuits whose neutral a point is joined to."""
        return {source[:-2] for source in self.sources(point) if source.endswith(".N")}

    def is_live(self, point: str) -> bool:
        """Joined to a line."""
        return bool(self.lines(point))

    def can_shock(self, point: str) -> bool:
        """Joined to a line, or to an input of a control that a line feeds: inputs are at mains potential.

        An input that is joined to neutral or earth, wrongly, has their potential.
        """
        if self.sources(point):
            return self.is_live(point)
        root = self.joined.root(point)
        return any(
            self.joined.root(f"{control.id}.{name}") == root
            for control in self.drawing.controls
            if self.is_live(f"{control.id}.{control.line}")
            for name in control.inputs
        )

    def all_nets(self) -> list[frozenset[str]]:
        """What each net at the board is joined to."""
        return [frozenset(found) for found in self._hangs_on.values()]

    def volts(self, point: str) -> float:
        """Voltage of a point over the supply [1]: 1 at a line, 0 at neutral and earth, between where it hangs."""
        if self._volts is None:
            self._volts = self._solve()
        root = self.joined.root(point)
        sources = self._hangs_on.get(root)
        if sources:
            return 1.0 if any(source.endswith(".L") for source in sources) else 0.0
        return self._volts.get(root, 0.0)

    def across(self, device: str) -> float:
        """Share of the supply between a device's two terminals [1]."""
        return abs(self.volts(f"{device}.1") - self.volts(f"{device}.2"))

    def _solve(self) -> dict[str, float]:
        """Nodal voltages of the nets that hang on elements only."""
        ends = [(self.joined.root(one.a), self.joined.root(one.b), one.g) for one in self.elements]
        nets = {root for a, b, _ in ends for root in (a, b)}
        if nets <= self._hangs_on.keys():
            return {}
        network = Network(nets, leak_s=G_LEAK)
        for a, b, g in ends:
            network.admittance(a, b, g)
        held = {
            root: float(any(source.endswith(".L") for source in sources)) for root, sources in self._hangs_on.items()
        }
        return {root: v.real for root, v in network.solve(held).items()}
