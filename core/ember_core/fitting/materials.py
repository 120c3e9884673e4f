"""What has to be taken along, with quantities and reasons; merged over loops, rounded to packs, less what the van has.

Figures marked [A] are engineering assumptions.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from ember_core.errors import InputError
from ember_core.parts.hardware import Hardware, YesNo
from ember_core.routes.lines import LineKind, lines_of
from ember_core.routes.points import is_aloft
from ember_core.routes.seats import CAP, Seats
from ember_core.survey.depth import DepthCheck, Fit
from ember_core.wiring.drawing import Companion, Core, Kind

# Lugs of a box sit this far behind its rim, and a screw holds with so much of its thread [m] [A].
LUG_DEPTH_M = 0.006
THREAD_HELD_M = 0.008
# Thickness of a control's frame under the screw head [m] [A].
FRAME_M = 0.003
# Stock lengths of box screws [m]: metric M3.5, and No. 6-32 in inches.
SCREWS_M = {
    "eu": (0.016, 0.025, 0.030, 0.035, 0.040, 0.050, 0.075),
    "na": (0.0191, 0.0254, 0.0318, 0.0381, 0.0508, 0.0762),
}
THREAD = {"eu": "M3.5", "na": "No. 6-32"}
# A short piece between two seats of one place, and a link between two terminals [m] [A].
PIECE_M = 0.15
LINK_M = 0.06
# More of what gets lost or is spoiled [A]: a tenth, at least one.
SPARE_RATIO = 0.1
# Pieces in a pack [A]; what is not named comes one by one.
PACK: Mapping[str, int] = {"connector": 10, "sleeve": 20, "screw": 10, "label": 10, "battery": 2}
MOST_CORES = 8
MOST_COUNT = 10_000


class Item(StrEnum):
    """What is taken along."""

    CONTROL = "control"
    COMPANION = "companion"
    BYPASS = "bypass"
    SPACER = "spacer"
    DEEPER_BOX = "deeper_box"
    CONNECTOR = "connector"
    SLEEVE = "sleeve"
    WIRE = "wire"
    CABLE = "cable"
    BLANK_PLATE = "blank_plate"
    SCREW = "screw"
    LABEL = "label"
    BATTERY = "battery"
    TEST_LAMP = "test_lamp"


_SPARED = frozenset({Item.CONNECTOR, Item.SLEEVE, Item.SCREW})


@dataclass(frozen=True, slots=True, kw_only=True)
class Need:
    """So much of something, for one loop.

    Parameters
    ----------
    spec : what tells it from others of its kind: `cores`, `size_m2`, `colour`, `says`, `length_m`, `thread`, `part`,
        `height_m`. count : pieces; of wire and cable metres. is_known : its quantity or size is known; where it is
        not, `count` is 0 and it is measured there.
    """

    item: Item
    spec: Mapping[str, str | float] = ()  # type: ignore[assignment]  # an empty one
    count: float = 1.0
    loop: str = ""
    is_known: bool = True

    @property
    def key(self) -> str:
        """Items of one key are the same thing."""
        said = ",".join(f"{name}={_plain(value)}" for name, value in sorted(dict(self.spec).items()))
        return f"{self.item.value}:{said}"


def _plain(value: str | float) -> str:
    return value if isinstance(value, str) else f"{value:.6g}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """One row of the list.

    Parameters
    ----------
    needed : what the loops use. with_spare : with a tenth more, where that is taken. in_van : of it already there.
    to_buy : rounded to packs. loops : which want it.
    """

    item: Item
    spec: Mapping[str, str | float]
    key: str
    needed: float
    with_spare: float
    in_van: float
    to_buy: float
    pack: int
    loops: tuple[str, ...]
    is_known: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """One loop with the way that is chosen.

    Parameters
    ----------
    control : key of the part of the control; empty for a way without one, or where it is fitted already.
    controls : how many of it. hardware : its terminals; None without one.
    bypasses : keys of the parts. depth : None where nobody measured. region : `eu` or `na`.
    blank : boxes that stay without a device.
    """

    loop: str
    region: str
    found: Seats
    wanted: Seats
    control: str = ""
    controls: int = 0
    hardware: Hardware | None = None
    bypasses: Sequence[str] = ()
    depth: DepthCheck | None = None
    boxes: int = 1
    blank: int = 0


def needs_of(job: Job) -> tuple[Need, ...]:
    """Everything one loop takes, without spares."""
    needs: list[Need] = []
    if job.control and job.controls:
        needs.append(_need(Item.CONTROL, job.controls, part=job.control))
    needs += [_need(Item.BYPASS, 1, part=key) for key in job.bypasses]
    companions = sum(isinstance(one, Companion) for one in job.wanted.devices)
    companions -= sum(isinstance(one, Companion) for one in job.found.devices)
    if companions > 0:
        needs += [_need(Item.COMPANION, companions), _need(Item.BATTERY, companions)]
    spacer_m = 0.0
    if job.depth is not None and job.depth.fit is Fit.FITS_WITH_SPACER and job.depth.spacer_m:
        spacer_m = job.depth.spacer_m
        needs.append(_need(Item.SPACER, 1, height_m=spacer_m))
    if job.depth is not None and job.depth.fit is Fit.DOES_NOT_FIT:
        needs.append(_need(Item.DEEPER_BOX, 1, height_m=math.ceil(job.depth.needed_m * 200.0) / 200.0))
    needs += _connectors(job)
    needs += _sleeves(job)
    needs += _wires(job)
    lines = lines_of(job.found, job.wanted)
    if lines and job.boxes:
        wanted = wanted_screw_m(spacer_m)
        stock = stock_screw_m(job.region, wanted)
        spec: dict[str, str | float] = {"thread": THREAD[job.region], "length_m": wanted if stock is None else stock}
        needs.append(Need(item=Item.SCREW, count=2.0 * job.boxes, spec=spec, is_known=stock is not None))
    if job.blank:
        needs.append(_need(Item.BLANK_PLATE, job.blank))
    if lines:
        needs += [_need(Item.LABEL, 1), _need(Item.TEST_LAMP, 1)]
    return tuple(replace(one, loop=job.loop) for one in needs)


def _need(item: Item, count: float, **spec: str | float) -> Need:
    return Need(item=item, count=float(count), spec=spec)


def wanted_screw_m(spacer_m: float, lug_depth_m: float = LUG_DEPTH_M) -> float:
    """Length of a box screw [m]: frame, spacer, way to the lug, and thread that holds."""
    return FRAME_M + spacer_m + lug_depth_m + THREAD_HELD_M


def stock_screw_m(region: str, wanted_m: float) -> float | None:
    """The next stock length [m]; None where nothing in stock is long enough."""
    return next((length for length in SCREWS_M[region] if length >= wanted_m - 1e-9), None)


def _joints(seats: Seats) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for point, seat in seats.seat_of.items():
        if ":" in seat and not seat.startswith("board:"):
            found.setdefault(seat, []).append(point)
    return found


def _size(points: Iterable[str], cores: Mapping[str, Core]) -> float:
    sizes = [cores[point.split("@", 1)[0]].size_m2 for point in points if point.split("@", 1)[0] in cores]
    return max((size for size in sizes if size is not None), default=1.5e-6)


def _connectors(job: Job) -> list[Need]:
    """A connector wherever a joint is new or has other cores than before; one for each end that is capped."""
    cores = {core.id: core for core in (*job.found.cores, *job.wanted.cores)}
    before = _joints(job.found)
    needs: list[Need] = []
    for seat, points in _joints(job.wanted).items():
        if set(points) != set(before.get(seat, ())):
            count = min(MOST_CORES, max(2, len(points)))
            needs.append(_need(Item.CONNECTOR, 1, cores=float(count), size_m2=_size(points, cores)))
    for point, seat in job.wanted.seat_of.items():
        if seat == CAP and job.found.seat_of.get(point) != CAP:
            needs.append(_need(Item.CONNECTOR, 1, cores=1.0, size_m2=_size([point], cores)))
    return needs


def _sleeves(job: Job) -> list[Need]:
    """One at each end of a core that bears another mark from now on."""
    needs = []
    before = {core.id: core for core in job.found.cores}
    for core in job.wanted.cores:
        was = before.get(core.id)
        if core.marked is not None and (was is None or was.marked is not core.marked):
            needs.append(_need(Item.SLEEVE, 2, says=core.marked.value, size_m2=core.size_m2 or 1.5e-6))
    return needs


def _wires(job: Job) -> list[Need]:
    """Short pieces by colour; what is pulled is measured there."""
    controls = {one.id for one in job.wanted.devices if one.kind is Kind.CONTROL}
    needs = []
    for line in lines_of(job.found, job.wanted):
        if line.core is None or line.kind not in (LineKind.PIECE, LineKind.PULL):
            continue
        spec: dict[str, str | float] = {"colour": line.core.colour, "size_m2": line.core.size_m2 or 1.5e-6}
        if line.kind is LineKind.PULL:
            needs.append(Need(item=Item.CABLE, count=0.0, spec=spec, is_known=False))
            continue
        ends = {(move.after or "").rsplit(".", 1)[0] for move in line.moves}
        is_link = len(ends) == 1 and ends <= controls
        needs.append(Need(item=Item.WIRE, count=LINK_M if is_link else PIECE_M, spec=spec))
    return needs


def merged(needs: Iterable[Need], van: Mapping[str, float] | None = None) -> tuple[Taken, ...]:
    """The list of several loops, kinds in order.

    Parameters
    ----------
    van : what is in the van, by key.

    Raises
    ------
    InputError : a count in the van is negative.
    """
    stock = van or {}
    for key, count in stock.items():
        if not 0.0 <= count <= MOST_COUNT:
            raise InputError("out_of_bounds", path=key, value=count, low=0, high=MOST_COUNT, unit="1")
    rows: dict[str, list[Need]] = {}
    for need in needs:
        rows.setdefault(need.key, []).append(need)
    return tuple(sorted((_row(key, same, stock) for key, same in rows.items()), key=_row_order))


def _row_order(row: Taken) -> tuple[int, str]:
    return list(Item).index(row.item), row.key


def _row(key: str, same: Sequence[Need], stock: Mapping[str, float]) -> Taken:
    first = same[0]
    # One lamp to test with does for all.
    needed = 1.0 if first.item is Item.TEST_LAMP else sum(one.count for one in same)
    spare = needed
    if first.item in _SPARED:
        spare = needed + max(1.0, math.ceil(needed * SPARE_RATIO - 1e-9))
    pack = PACK.get(first.item.value, 1)
    in_van = stock.get(key, 0.0)
    missing = max(0.0, spare - in_van)
    is_measured = first.item in (Item.WIRE, Item.CABLE)
    to_buy = math.ceil(missing * 10.0 - 1e-6) / 10.0 if is_measured else float(math.ceil(missing / pack - 1e-9) * pack)
    return Taken(
        item=first.item,
        spec=dict(first.spec),
        key=key,
        needed=needed,
        with_spare=spare,
        in_van=in_van,
        to_buy=to_buy,
        pack=pack,
        loops=tuple(dict.fromkeys(one.loop for one in same)),
        is_known=all(one.is_known for one in same),
    )


class Tool(StrEnum):
    """What comes home again."""

    TESTER = "tester"
    LOCK_OFF = "lock_off"
    SCREWDRIVERS = "screwdrivers"
    STRIPPER = "stripper"
    PLIERS = "pliers"
    TORCH = "torch"
    TAPE = "tape"
    CAMERA = "camera"
    METER = "meter"
    TORQUE = "torque"
    STEPS = "steps"
    HOLE_TOOLS = "hole_tools"


def tools_of(jobs: Sequence[Job]) -> tuple[Tool, ...]:
    """The tools of some loops: steps for a luminaire, a torque screwdriver where a torque is declared."""
    found = [
        Tool.TESTER,
        Tool.LOCK_OFF,
        Tool.SCREWDRIVERS,
        Tool.STRIPPER,
        Tool.PLIERS,
        Tool.TORCH,
        Tool.TAPE,
        Tool.CAMERA,
        Tool.METER,
    ]
    if any(job.hardware is not None and job.hardware.torque_nm for job in jobs):
        found.append(Tool.TORQUE)
    if any(is_aloft(line.place) for job in jobs for line in lines_of(job.found, job.wanted)):
        found.append(Tool.STEPS)
    if any(job.depth is not None and job.depth.fit is Fit.DOES_NOT_FIT for job in jobs):
        found.append(Tool.HOLE_TOOLS)
    return tuple(found)


class Kit(StrEnum):
    """What a control's box should hold."""

    DEVICE = "device"
    LEAFLET = "leaflet"
    SCREWS = "screws"
    CONNECTORS = "connectors"
    LINK = "link"
    PLATE = "plate"
    BATTERY = "battery"


def kit_of(hardware: Hardware) -> tuple[Kit, ...]:
    """What the box of a control should hold: connectors where it has leads, a link where it takes one."""
    sort = hardware.word("sort")
    found = [Kit.DEVICE, Kit.LEAFLET]
    if sort is None or sort.value in ("control", "timer", "companion"):
        found.append(Kit.PLATE)
    if sort is None or sort.value in ("control", "timer"):
        found.append(Kit.SCREWS)
    if hardware.count("leads", 0) > 0:
        found.append(Kit.CONNECTORS)
    if hardware.word("link") is YesNo.YES:
        found.append(Kit.LINK)
    if sort is not None and sort.value in ("timer", "companion"):
        found.append(Kit.BATTERY)
    return tuple(found)
