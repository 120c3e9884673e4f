"""What becomes of a lamp that is switched from two places, or from more."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from ember_core.parts.hardware import Demand, Hardware
from ember_core.routes.devices import control_of
from ember_core.routes.found import Feed
from ember_core.routes.making import Built, Making, far_end, has_earth, lamps_of
from ember_core.routes.seats import Seats
from ember_core.wiring.drawing import Companion, Control, Device, Kind, Mark


@dataclass(frozen=True, slots=True, kw_only=True)
class Landing:
    """A circuit with a two-way switch at either end.

    Parameters
    ----------
    near, far : the switch at which the line arrives, and the one from which it goes to the lamps; their boxes are
        named like them. middle : intermediate switches between, in order from the near one.
    feed : where the supply comes in; at the ceiling, the near and the far core both go to the luminaire.
    gang : the lamp that they switch. Other gangs of a box stay as they are.
    """

    found: Seats
    near: str
    far: str
    middle: tuple[str, ...] = ()
    feed: Feed = Feed.SWITCH
    hardware: Hardware
    gang: int = 1

    @property
    def stay(self) -> list[Device]:
        """Switches of other gangs."""
        return [one for one in self.found.devices if one.id.startswith("sw")]

    def intended(self, *terminals: str) -> dict[str, tuple[str, ...]]:
        """By what each lamp is to be lit: this one by these terminals, others as they were."""
        return {**self.found.intended, f"lamp{self.gang}": terminals}


def travellers_of(landing: Landing, number: int) -> list[list[str]]:
    """A traveller as its runs from the near box on: for each run the ends at either place."""
    found = landing.found
    runs: list[list[str]] = []
    seat = f"{landing.near}.L{number}"
    while True:
        start = next((p for p, at in found.seat_of.items() if at == seat and "@" in p and not runs_have(runs, p)), None)
        if start is None:
            return runs
        end = far_end(found, start)
        runs.append([start, end])
        arrived = found.seat_of[end]
        middle = arrived.split(".")[0]
        if middle not in landing.middle:
            return runs
        seat = arrived.replace(".IN", ".OUT")


def runs_have(runs: list[list[str]], point: str) -> bool:
    """Whether an end belongs to a run that was followed already."""
    return any(point in run for run in runs)


def ends_of(landing: Landing) -> tuple[list[str], list[str]]:
    """What hangs on the commons: the line's ends at the near switch, the lamp's at the far one."""
    at = landing.found.seat_of.items()
    near = [point for point, seat in at if seat == f"{landing.near}.COM" and "@" in point]
    far = [point for point, seat in at if seat == f"{landing.far}.COM" and "@" in point]
    return near, far


def joined_through(making: Making, runs: list[list[str]]) -> None:
    """A traveller goes on from run to run, past the switches between."""
    for before, after in pairwise(runs):
        making.put([before[1], after[0]], f"{before[1].split('@')[1]}:through")


def control_and_companion(landing: Landing) -> Built:
    """The control where the line arrives; one traveller is joined through to the lamps, the other made safe."""
    if landing.hardware.word("earth") is Demand.REQUIRED and not has_earth(landing.found, landing.near):
        return "no_earth", None
    control = control_of(landing.hardware, "ctl", 1, with_neutral=False)
    making = Making(landing.found, landing.near)
    making.holding(control)
    line, lamp = ends_of(landing)
    first, second = travellers_of(landing, 1), travellers_of(landing, 2)
    if not first or not second:
        return "travellers_not_known", None
    making.put(line, "ctl.L")
    making.put([first[0][0]], "ctl.L1")
    joined_through(making, first)
    making.seats |= dict.fromkeys((first[-1][1], *lamp), f"{landing.far}:through")
    for run in second:
        making.cap(run)
    making.mark([run[0] for run in first], Mark.LIVE)
    making.mark([end for start in (*line, *lamp) for end in making.run(start)], Mark.LIVE)
    making.earth(control)
    making.link(control, with_neutral=False)
    names = (landing.far, *landing.middle)
    companions = [
        Companion(id="com" if k == 0 else f"com{k + 1}", kind=Kind.COMPANION, of="ctl") for k in range(len(names))
    ]
    devices: list[Device] = [control, *companions, *landing.stay, *lamps_of(landing.found)]
    return None, making.done("control_and_companion", devices, landing.intended("ctl.L1"))


def pair(landing: Landing) -> Built:
    """A control at either end, side by side between line and lamps: one traveller for each of the two."""
    if landing.middle:
        return "two_ends_only", None
    needs_earth = landing.hardware.word("earth") is Demand.REQUIRED
    if needs_earth and not (has_earth(landing.found, landing.near) and has_earth(landing.found, landing.far)):
        return "no_earth", None
    one = control_of(landing.hardware, "ctl", 1, with_neutral=False)
    other = control_of(landing.hardware, "ctl2", 1, with_neutral=False)
    line, lamp = ends_of(landing)
    first, second = travellers_of(landing, 1), travellers_of(landing, 2)
    if not first or not second:
        return "travellers_not_known", None
    making = Making(landing.found, landing.near)
    making.holding(one)
    making.put([*line, first[0][0]], "ctl.L")
    making.put([second[0][0]], "ctl.L1")
    _finish(making, one)
    making.place = landing.far
    making.holding(other)
    making.put([first[0][1]], "ctl2.L")
    making.put([second[0][1], *lamp], "ctl2.L1")
    _finish(making, other)
    making.mark([first[0][0], second[0][0]], Mark.LIVE)
    making.mark([end for start in (*line, *lamp) for end in making.run(start)], Mark.LIVE)
    devices: list[Device] = [one, other, *landing.stay, *lamps_of(landing.found)]
    return None, making.done("pair", devices, landing.intended("ctl.L1", "ctl2.L1"))


def _finish(making: Making, control: Control) -> None:
    making.earth(control)
    making.link(control, with_neutral=False)


def timer_at_one_end(landing: Landing) -> Built:
    """A timer with a changeover contact in the place of the near switch; the far one stays."""
    device = Device(id="tim", kind=Kind.TIMER)
    making = Making(landing.found, landing.near)
    for terminal in ("COM", "L1", "L2"):
        making.put(making.at(f"{landing.near}.{terminal}"), f"tim.{terminal}")
    line, lamp = ends_of(landing)
    runs = [*travellers_of(landing, 1), *travellers_of(landing, 2)]
    making.mark([run[0] for run in runs], Mark.LIVE)
    making.mark([end for start in (*line, *lamp) for end in making.run(start)], Mark.LIVE)
    stay = [one for one in landing.found.devices if one.id != landing.near]
    return None, making.done("timer", [device, *stay], landing.found.intended)


def leave(landing: Landing) -> Built:
    """Everything stays."""
    return None, landing.found
