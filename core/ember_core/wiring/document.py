"""A drawing as a JSON document: read strictly, every error with its place."""

from __future__ import annotations

from typing import Any

from ember_core.errors import InputErrors
from ember_core.reading import Reader
from ember_core.wiring.drawing import (
    EARTH,
    Companion,
    Control,
    Core,
    Device,
    Drawing,
    Kind,
    Lamp,
    Mark,
    NeutralUse,
    terminals_of,
)

MOST_DEVICES, MOST_CORES, MOST_JOINTS = 60, 200, 300
MOST_LETTERS = 60
_TOP = {"name", "circuits", "devices", "cores", "joints", "capped", "intended", "note"}
_DEVICE = {"id", "kind", "holds", "note"}
_OF_KIND = {
    Kind.CONTROL: {
        "line",
        "loads",
        "neutral",
        "neutral_use",
        "earth",
        "needs_earth",
        "reversible",
        "feeding_loads",
        "link",
        "inputs",
    },
    Kind.LAMP: {"smart"},
    Kind.COMPANION: {"of"},
}
_CORE = {"id", "ends", "colour", "marked", "size_m2", "note"}


class _Reader(Reader):
    """With what only drawings have."""

    def names(self, data: Any, path: str) -> tuple[str, ...]:
        return tuple(self.text(one, f"{path}[{k}]") for k, one in enumerate(self.entries(data, path, 20)))

    def flag(self, data: Any, path: str) -> bool:
        if not isinstance(data, bool):
            self.wrong("not_a_truth_value", path)
        return data is True

    def choice(self, data: Any, path: str, kind: Any) -> Any:
        try:
            return kind(data)
        except ValueError:
            self.wrong("unknown_word", path, given=str(data)[:MOST_LETTERS])
            return next(iter(kind))


def read(data: Any) -> Drawing:
    """The drawing that a document holds.

    Raises
    ------
    InputErrors : all that is wrong with it, each with its place.
    """
    reader = _Reader(MOST_LETTERS)
    given = reader.keys(data, "", _TOP)
    circuits = reader.names(given.get("circuits", []), "circuits")
    if not circuits:
        reader.wrong("no_circuit", "circuits")
    devices = [
        device
        for k, one in enumerate(reader.entries(given.get("devices", []), "devices", MOST_DEVICES))
        if (device := _device(reader, one, f"devices[{k}]")) is not None
    ]
    cores = [
        core
        for k, one in enumerate(reader.entries(given.get("cores", []), "cores", MOST_CORES))
        if (core := _core(reader, one, f"cores[{k}]")) is not None
    ]
    reader.unique([one.id for one in devices] + list(circuits), "devices")
    reader.unique([one.id for one in cores], "cores")
    joints = tuple(
        reader.names(one, f"joints[{k}]")
        for k, one in enumerate(reader.entries(given.get("joints", []), "joints", MOST_JOINTS))
    )
    capped = reader.names(given.get("capped", []), "capped")
    intended = {
        str(lamp): reader.names(points, f"intended.{lamp}")
        for lamp, points in reader.keys(given.get("intended", {}), "intended", {one.id for one in devices}).items()
    }
    drawing = Drawing(
        name=str(given.get("name") or "")[:200],
        circuits=circuits,
        devices=tuple(devices),
        cores=tuple(cores),
        joints=joints,
        capped=frozenset(capped),
        intended=intended,
    )
    if not reader.errors:
        _check_points(reader, drawing, capped)
    if reader.errors:
        raise InputErrors(reader.errors)
    return drawing


def _device(reader: _Reader, data: Any, path: str) -> Device | None:
    if not isinstance(data, dict):
        reader.wrong("not_an_object", path)
        return None
    if data.get("kind") not in set(Kind):
        reader.wrong("unknown_kind", f"{path}.kind", given=str(data.get("kind"))[:MOST_LETTERS])
        return None
    kind = Kind(data["kind"])
    given = reader.keys(data, path, _DEVICE | _OF_KIND.get(kind, set()))
    name = reader.text(given.get("id"), f"{path}.id")
    if "." in name or "@" in name or name == EARTH:
        reader.wrong("not_a_name", f"{path}.id")
    holds = {
        str(terminal): count if isinstance(count, int) and count > 0 else 2
        for terminal, count in reader.keys(given.get("holds", {}), f"{path}.holds", given.get("holds", {})).items()
    }
    if kind is Kind.CONTROL:
        return _control(reader, given, path, name, holds)
    if kind is Kind.LAMP:
        return Lamp(id=name, kind=kind, holds=holds, smart=reader.flag(given.get("smart", False), f"{path}.smart"))
    if kind is Kind.COMPANION:
        return Companion(id=name, kind=kind, of=reader.text(given.get("of"), f"{path}.of"))
    return Device(id=name, kind=kind, holds=holds)


def _control(reader: _Reader, given: dict[str, Any], path: str, name: str, holds: dict[str, int]) -> Control:
    def optional(key: str) -> str | None:
        return None if given.get(key) is None else reader.text(given[key], f"{path}.{key}")

    if given.get("line") is None:
        reader.wrong("missing_terminal", f"{path}.line", key="line")
    loads = reader.names(given.get("loads") or [], f"{path}.loads")
    if not loads:
        reader.wrong("missing_terminal", f"{path}.loads", key="loads")
    if len(loads) > 4:
        reader.wrong("too_many", f"{path}.loads", most=4)
    neutral, earth = optional("neutral"), optional("earth")
    neutral_use = reader.choice(given.get("neutral_use", NeutralUse.NONE.value), f"{path}.neutral_use", NeutralUse)
    if neutral_use is NeutralUse.REQUIRED and neutral is None:
        reader.wrong("missing_terminal", f"{path}.neutral", key="neutral")
    needs_earth = reader.flag(given.get("needs_earth", False), f"{path}.needs_earth")
    if needs_earth and earth is None:
        reader.wrong("missing_terminal", f"{path}.earth", key="earth")
    feeding = reader.names(given.get("feeding_loads") or [], f"{path}.feeding_loads")
    for k, load in enumerate(feeding):
        if load not in loads:
            reader.wrong("unknown_terminal", f"{path}.feeding_loads[{k}]", key=load)
    link = reader.names(given.get("link") or [], f"{path}.link")
    if link and len(link) != 2:
        reader.wrong("link_of_two", f"{path}.link")
    line = "" if given.get("line") is None else reader.text(given["line"], f"{path}.line")
    named = [line, *loads, *(one for one in (neutral, earth) if one)]
    if len(set(named)) != len(named):
        reader.wrong("name_twice", path)
    return Control(
        id=name,
        kind=Kind.CONTROL,
        holds=holds,
        line=line,
        loads=loads,
        neutral=neutral,
        neutral_use=neutral_use,
        earth=earth,
        needs_earth=needs_earth,
        reversible=reader.flag(given.get("reversible", False), f"{path}.reversible"),
        feeding_loads=feeding or (loads if neutral_use is not NeutralUse.REQUIRED else ()),
        link=(link[0], link[1]) if len(link) == 2 else None,
        inputs=reader.names(given.get("inputs") or [], f"{path}.inputs"),
    )


def _core(reader: _Reader, data: Any, path: str) -> Core | None:
    given = reader.keys(data, path, _CORE)
    if not given:
        return None
    name = reader.text(given.get("id"), f"{path}.id")
    ends = reader.names(given.get("ends") or [], f"{path}.ends")
    if len(ends) != 2 or ends[0] == ends[1]:
        reader.wrong("two_ends", f"{path}.ends")
        return None
    size = given.get("size_m2")
    if size is not None and (isinstance(size, bool) or not isinstance(size, int | float) or not 0.0 < size < 1e-3):
        reader.wrong("out_of_bounds", f"{path}.size_m2", low=0.0, high=1e-3)
        size = None
    mark = given.get("marked")
    return Core(
        id=name,
        ends=(ends[0], ends[1]),
        colour=str(given.get("colour") or "")[:MOST_LETTERS],
        marked=None if mark is None else reader.choice(mark, f"{path}.marked", Mark),
        size_m2=size,
    )


def _check_points(reader: _Reader, drawing: Drawing, capped: tuple[str, ...]) -> None:
    """Every point is one, and no end of a core is in two places."""
    ends = {point for core in drawing.cores for point in core.points}
    terminals = {f"{device.id}.{name}" for device in drawing.devices for name in terminals_of(device)}
    board = {f"{circuit}.{pole}" for circuit in drawing.circuits for pole in ("L", "N")}
    known = ends | terminals | board | {EARTH}
    seen: dict[str, str] = {}
    for j, joint in enumerate(drawing.joints):
        for k, point in enumerate(joint):
            path = f"joints[{j}][{k}]"
            if point not in known:
                reader.wrong("unknown_point", path, point=point)
            elif point in seen and point in ends:
                reader.wrong("end_twice", path, point=point)
            seen[point] = path
    for k, point in enumerate(capped):
        if point not in ends:
            reader.wrong("unknown_point", f"capped[{k}]", point=point)
        elif point in seen:
            reader.wrong("capped_and_joined", f"capped[{k}]", point=point)
    controls = {one.id for one in drawing.devices if isinstance(one, Control)}
    for k, device in enumerate(drawing.devices):
        if isinstance(device, Companion) and device.of not in controls:
            reader.wrong("unknown_device", f"devices[{k}].of", key=device.of)
    lamps = {one.id for one in drawing.devices if isinstance(one, Lamp)}
    for lamp, points in drawing.intended.items():
        if lamp not in lamps:
            reader.wrong("not_a_lamp", f"intended.{lamp}", key=lamp)
        for k, point in enumerate(points):
            if point not in terminals:
                reader.wrong("unknown_point", f"intended.{lamp}[{k}]", point=point)
