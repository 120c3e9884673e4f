"""Reading the meter: the stand-in gets its leads placed, then the same interface a real one would answer."""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings
from django.db import transaction

from accounts.models import User
from audit import trail
from common.problems import Problem
from ember_core.errors import InputError, InputErrors
from ember_core.survey.box import Box, Ways
from ember_core.survey.readings import Position, Reading, Reference, check
from instruments import stand_ins
from instruments.meter import InstrumentError, Meter, ScpiMeter
from loops.documents import sheet_document
from loops.models import Gang, Loop
from survey.models import MeterValue, Origin, Survey
from survey.services.covering import circuits_of, cover_of, open_isolations
from survey.services.documents import box_of, survey_of

Json = dict[str, Any]
FUNCTIONS = ("volts", "continuity", "amps")


def is_stand_in() -> bool:
    """The simulated meter answers: only in the demo, and only where no real one is named."""
    return settings.DEMO and not settings.METER_ADDRESS


def is_there() -> bool:
    """Some meter answers in this copy."""
    return bool(settings.METER_ADDRESS) or settings.DEMO


def fault() -> str:
    """The stand-in's fault switch."""
    return stand_ins.meter().fault()


def set_fault(who: User, name: str) -> None:
    """Turn the stand-in's fault switch; there is none outside the demo."""
    if not is_stand_in():
        raise Problem(409, "no_simulated_meter", path="fault")
    if name not in (known := stand_ins.meter().FAULTS):
        raise Problem(422, "unknown_kind", path="fault", value=name, known=", ".join(known))
    with transaction.atomic():
        before = fault()
        row = stand_ins.meter().turn(name)
        trail.record(who, "meter fault switched", row, before={"fault": before}, after={"fault": name})


def meter(setup: Json | None = None) -> Meter:
    """The meter of this copy."""
    if not is_stand_in():
        host, _, port = settings.METER_ADDRESS.partition(":")
        return ScpiMeter(host, int(port))
    host, port_number = stand_ins.meter().address()
    before: tuple[str, ...] = (f"SIM:FAULT {fault()}",)
    if setup is not None:
        before += (f"SIM:SETUP {json.dumps(setup, separators=(',', ':'))}",)
    return ScpiMeter(host, port_number, before)


def identify() -> Json:
    """What the meter says it is; nothing where there is none."""
    if not is_there():
        return {"identity": "", "is_there": False, "is_stand_in": False, "fault": "none", "faults": []}
    try:
        return {
            "identity": meter().identify(),
            "is_there": True,
            "is_stand_in": is_stand_in(),
            "fault": fault(),
            "faults": list(stand_ins.meter().FAULTS) if is_stand_in() else [],
        }
    except InstrumentError as error:
        raise Problem(502, error.code, path="", said=error.said) from error


def read(who: User, loop: Loop, asked: Json) -> Json:
    """One value by the meter, as a reading that could be kept.

    Parameters
    ----------
    asked : `function` (volts, continuity, amps), `place`, `a`, `b`, `meter_r_ohm`, `switches`.

    Returns
    -------
    The value, and the identity under which it is remembered: a record that claims it must name that.

    Raises
    ------
    Problem : there is no meter (409), it fails (502), or shows a value that no box can have.
    """
    if not is_there():
        raise Problem(409, "no_meter", path="")
    survey = survey_of(loop, asked["place"])
    box = box_of(survey.box)
    cover = cover_of(circuits_of(survey, loop), open_isolations(loop.site_id), None)
    supply_on = not (cover.main.is_off or any(point.is_off for point in cover.breakers[:1]))
    is_volts = asked["function"] == "volts"
    if asked["function"] == "continuity" and supply_on:
        raise Problem(422, "continuity_not_isolated", path="function")
    _check_ends(box, asked, loop)
    instrument = meter(_setup(loop, box, survey, asked, supply_on) if is_stand_in() else None)
    try:
        identity = instrument.identify()
        if is_volts:
            value = instrument.volts_ac(asked["meter_r_ohm"])
        elif asked["function"] == "amps":
            value = instrument.amps_ac()
        else:
            value = instrument.continuity()
    except InstrumentError as error:
        raise Problem(502, error.code, path="", said=error.said) from error
    if value is None and asked["function"] != "continuity":
        raise Problem(502, "meter_over_range", path="")
    shown = {
        "v": round(value, 1) if is_volts and value is not None else None,
        "r_ohm": round(value, 2) if asked["function"] == "continuity" and value is not None else None,
        "is_open": asked["function"] == "continuity" and value is None,
        "i_a": value if asked["function"] == "amps" else None,
        "meter_r_ohm": asked["meter_r_ohm"] if is_volts else None,
        "supply_on": supply_on,
    }
    row = MeterValue.objects.create(
        loop=loop, asked=asked, shown=shown, identity=identity[:160], is_simulated=is_stand_in(), by=who
    )
    return {**shown, "id": str(row.pk), "identity": row.identity, "is_simulated": row.is_simulated}


def taken_from(who: User, loop: Loop, given: Json, values: Json) -> Json:
    """Where a value that is to be kept came from; nobody can claim a meter's value that no meter showed.

    Parameters
    ----------
    given : with `meter_value` (identity of a shown value, or None), `a` and `b`. values : what is to be kept.

    Raises
    ------
    Problem : the meter showed something else, between other points, or to somebody else.
    """
    if given["meter_value"] is None:
        return {"origin": Origin.TYPED, "meter_identity": ""}
    row = MeterValue.objects.filter(pk=given["meter_value"], loop=loop, by=who).first()
    is_same = row is not None and all(row.shown.get(name) == value for name, value in values.items())
    if row is None or not is_same or (row.asked["a"], row.asked["b"]) != (given["a"], given["b"]):
        raise Problem(422, "differs_from_meter", path="meter_value")
    return {"origin": Origin.SIMULATED if row.is_simulated else Origin.METER, "meter_identity": row.identity}


def _check_ends(box: Box, asked: Json, loop: Loop) -> None:
    """The leads go somewhere that this box has."""
    try:
        given = Reading(
            id="asked",
            a=asked["a"],
            b=asked["b"],
            v=0.0 if asked["function"] == "volts" else None,
            is_open=asked["function"] != "volts",
            supply_on=asked["function"] == "volts",
            switches={name: Position(value) for name, value in asked["switches"].items()},
        )
        if asked["function"] != "amps":
            check(given, box, loop.site.v_rms)
    except InputError as error:
        raise InputErrors([error]) from error


def _setup(loop: Loop, box: Box, survey: Survey, asked: Json, supply_on: bool) -> Json:
    """What hands do at the stand-in: which wiring, where the leads go, how the switches stand."""
    building = stand_ins.meter()
    wiring, hidden = building.draw(
        f"{loop.pk}" if survey.place == 1 else f"{loop.pk}:{survey.place}", box, survey.practice
    )
    switches = {name: Position(value) for name, value in asked["switches"].items()}
    line_i_rms_a = None
    for gang in Gang.objects.filter(loop=loop).select_related("loop__site", "control"):
        is_one_way = gang.position <= len(box.gangs) and box.gangs[gang.position - 1] is Ways.ONE_WAY
        if not is_one_way or switches.get(str(gang.position)) is Position.ON or not supply_on:
            continue
        solved = building.solved_off_state(sheet_document(gang), asked["meter_r_ohm"])
        if solved is not None:
            wiring["sources"][f"lamp_{gang.position}"] = solved[0]
            line_i_rms_a = line_i_rms_a or solved[1]
    if asked["b"] in (Reference.EARTH_ALONE, Reference.NEUTRAL):
        # Every pole off, or the neutral lifted: the board's bar no longer joins neutrals and earth.
        wiring["bonds"] = [bond for bond in wiring["bonds"] if building.GROUND not in bond]
    return {
        "wiring": wiring,
        "closures": building.closures(box, hidden, switches),
        "a": building.net_of(asked["a"]),
        "b": building.net_of(asked["b"]),
        "v_rms": loop.site.v_rms,
        "f_hz": loop.site.f_hz,
        "supply_on": supply_on,
        "line_i_rms_a": line_i_rms_a,
    }
