"""A box and its readings as JSON, checked at the door."""

from __future__ import annotations

from dataclasses import MISSING, fields
from enum import StrEnum
from typing import Any, TypeVar

from ember_core.errors import InputError, InputErrors
from ember_core.quantities import quantity_of
from ember_core.survey.box import Box, Conductor, EarthFound, Material, Role, Seen, Terminal, Ways
from ember_core.survey.colours import COLOURS
from ember_core.survey.readings import Position, Reading
from ember_core.survey.visit import Complaint, Enquiry, LampsKnown, Radio

Json = dict[str, Any]
E = TypeVar("E", bound=StrEnum)
LONGEST_NAME = 40


def _choice(kind: type[E], value: object, path: str) -> E:
    try:
        return kind(str(value))
    except ValueError as error:
        known = ", ".join(entry.value for entry in kind)
        raise InputError("unknown_kind", path=path, value=str(value)[:40], known=known) from error


def _mapping(value: object, path: str, known: set[str]) -> Json:
    if not isinstance(value, dict):
        raise InputError("not_an_object", path=path)
    for key in value:
        if key not in known:
            raise InputError("unknown_key", path=f"{path}.{key}".strip("."), key=str(key)[:60], near="")
    return value


def _text(value: object, path: str, most: int = LONGEST_NAME) -> str:
    if not isinstance(value, str) or len(value) > most:
        raise InputError("bad_text", path=path, most=most)
    return value


def _flag(value: object, path: str) -> bool:
    if not isinstance(value, bool):
        raise InputError("not_a_flag", path=path)
    return value


def _numbers(given: Json, part: type[Any], path: str) -> Json:
    """The numeric fields of a part that are given, checked."""
    found: Json = {}
    for spec in fields(part):
        quantity = quantity_of(spec)
        if quantity is None:
            continue
        value = given.get(spec.name)
        at = f"{path}.{spec.name}".strip(".")
        if value is None:
            if not quantity.optional and spec.default is MISSING:
                raise InputError("missing", path=at, key=spec.name)
            continue
        found[spec.name] = quantity.check(value, at)
    return found


def read_conductor(value: object, path: str) -> Conductor:
    """One conductor from JSON."""
    names = {spec.name for spec in fields(Conductor)}
    given = _mapping(value, path, names)
    if "id" not in given:
        raise InputError("missing", path=f"{path}.id", key="id")
    gang = given.get("gang")
    if gang is not None and (not isinstance(gang, int) or isinstance(gang, bool)):
        raise InputError("not_whole", path=f"{path}.gang", value=0.0)
    for key in ("colour", "sleeve"):
        if given.get(key) and given[key] not in COLOURS:
            known = ", ".join(COLOURS)
            raise InputError("unknown_kind", path=f"{path}.{key}", value=str(given[key])[:40], known=known)
    label = given.get("label")
    return Conductor(
        id=_text(given["id"], f"{path}.id", 12),
        cable=_text(given.get("cable", ""), f"{path}.cable", 20),
        colour=given.get("colour") or "",
        sleeve=given.get("sleeve") or "",
        terminal=_choice(Terminal, given.get("terminal", Terminal.UNKNOWN), f"{path}.terminal"),
        gang=gang,
        label=None if not label else _choice(Role, label, f"{path}.label"),
        is_seen=_flag(given.get("is_seen", True), f"{path}.is_seen"),
        **_numbers(given, Conductor, path),
    )


def read_box(document: object, path: str = "") -> Box:
    """A box from JSON.

    Raises
    ------
    InputError : the first thing that is wrong, with its path.
    """
    names = {spec.name for spec in fields(Box) if spec.init}
    given = _mapping(document, path, names)
    gangs = given.get("gangs", [Ways.ONE_WAY.value])
    conductors = given.get("conductors", [])
    for key, value in (("gangs", gangs), ("conductors", conductors)):
        if not isinstance(value, list):
            raise InputError("not_a_list", path=f"{path}.{key}".strip("."))
    return Box(
        gangs=tuple(_choice(Ways, value, f"gangs[{k}]") for k, value in enumerate(gangs)),
        conductors=tuple(read_conductor(value, f"conductors[{k}]") for k, value in enumerate(conductors)),
        material=_choice(Material, given.get("material", Material.UNKNOWN), "material"),
        neutral_seen=_choice(Seen, given.get("neutral_seen", Seen.UNKNOWN), "neutral_seen"),
        earth_found=_choice(EarthFound, given.get("earth_found", EarthFound.UNKNOWN), "earth_found"),
        all_listed=_flag(given.get("all_listed", False), "all_listed"),
        **_numbers({"circuits": 1, **given}, Box, path),
    )


def write_conductor(conductor: Conductor) -> Json:
    """A conductor as JSON; `read_conductor` gives it back."""
    return {spec.name: getattr(conductor, spec.name) for spec in fields(Conductor)}


def read_reading(value: object, path: str = "") -> Reading:
    """One reading from JSON; whether the box can have it is checked against the box."""
    names = {spec.name for spec in fields(Reading)}
    given = _mapping(value, path, names)
    for key in ("id", "a", "b"):
        if key not in given:
            raise InputError("missing", path=f"{path}.{key}".strip("."), key=key)
    switches = given.get("switches", {})
    if not isinstance(switches, dict):
        raise InputError("not_an_object", path=f"{path}.switches".strip("."))
    return Reading(
        id=_text(given["id"], f"{path}.id".strip(".")),
        a=_text(given["a"], f"{path}.a".strip(".")),
        b=_text(given["b"], f"{path}.b".strip(".")),
        is_open=_flag(given.get("is_open", False), f"{path}.is_open".strip(".")),
        supply_on=_flag(given.get("supply_on", True), f"{path}.supply_on".strip(".")),
        switches={str(k): _choice(Position, v, f"{path}.switches.{k}".strip(".")) for k, v in switches.items()},
        **_numbers(given, Reading, path),
    )


def read_enquiry(value: object, path: str = "enquiry") -> Enquiry:
    """What was learned by telephone, from JSON."""
    names = {spec.name for spec in fields(Enquiry)}
    given = _mapping(value, path, names)
    kinds: dict[str, type[StrEnum]] = {"complaint": Complaint, "radio": Radio, "lamps": LampsKnown}
    found: Json = {}
    for key, entry in given.items():
        at = f"{path}.{key}"
        if key in kinds:
            found[key] = _choice(kinds[key], entry, at)
        elif key in ("wired_year", "devices_left", "gang_count"):
            if entry is not None and (not isinstance(entry, int) or isinstance(entry, bool)):
                raise InputError("not_whole", path=at, value=0.0)
            found[key] = entry
        elif key == "flash_period_s":
            if entry is not None and (not isinstance(entry, int | float) or isinstance(entry, bool)):
                raise InputError("not_a_number", path=at)
            found[key] = entry
        elif entry is not None:
            found[key] = _flag(entry, at)
    return Enquiry(**found)


def read_survey(document: object) -> tuple[Box, tuple[Reading, ...], float, str]:
    """Box, readings, supply voltage [V] and region of a survey file.

    Raises
    ------
    InputErrors : what is wrong.
    """
    try:
        given = _mapping(document, "", {"box", "readings", "v_rms", "region"})
        for key in ("box", "v_rms"):
            if key not in given:
                raise InputError("missing", path=key, key=key)
        if not isinstance(given["v_rms"], int | float) or not 80.0 <= given["v_rms"] <= 280.0:
            raise InputError(
                "out_of_bounds", path="v_rms", value=str(given["v_rms"])[:20], low=80.0, high=280.0, unit="V"
            )
        readings = given.get("readings", [])
        if not isinstance(readings, list):
            raise InputError("not_a_list", path="readings")
        region = given.get("region", "eu")
        if region not in ("eu", "na"):
            raise InputError("unknown_kind", path="region", value=str(region)[:40], known="eu, na")
        return (
            read_box(given["box"]),
            tuple(read_reading(entry, f"readings[{k}]") for k, entry in enumerate(readings)),
            float(given["v_rms"]),
            region,
        )
    except InputError as error:
        raise InputErrors([error]) from error
