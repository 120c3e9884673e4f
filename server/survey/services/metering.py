"""Reading the meter: the stand-in gets its leads placed, then the same interface a real one would answer."""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings

from ember_core.errors import InputError, InputErrors
from ember_core.survey.box import Box, Ways
from ember_core.survey.readings import Position, Reading, Reference, check
from ember_server.problems import Problem
from loops.documents import sheet_document
from loops.models import Gang, Loop
from standins import meter_server, truth
from standins.instrument import InstrumentError, Meter, ScpiMeter
from standins.meter_server import FAULTS
from standins.models import MeterSwitch
from survey.services.documents import box_of, open_isolation, survey_of

Json = dict[str, Any]
FUNCTIONS = ("volts", "continuity", "amps")


def is_stand_in() -> bool:
    """True unless the copy was told where a real meter listens."""
    return not settings.METER_ADDRESS


def fault() -> str:
    """The stand-in's fault switch."""
    row = MeterSwitch.objects.first()
    return row.fault if row else "none"


def set_fault(name: str) -> None:
    """Turn the stand-in's fault switch."""
    if name not in FAULTS:
        raise Problem(422, "unknown_kind", path="fault", value=name, known=", ".join(FAULTS))
    MeterSwitch.objects.update_or_create(pk=1, defaults={"fault": name})


def meter(setup: Json | None = None) -> Meter:
    """The meter of this copy."""
    if not is_stand_in():
        host, _, port = settings.METER_ADDRESS.partition(":")
        return ScpiMeter(host, int(port))
    host, port_number = meter_server.address()
    before: tuple[str, ...] = (f"SIM:FAULT {fault()}",)
    if setup is not None:
        before += (f"SIM:SETUP {json.dumps(setup, separators=(',', ':'))}",)
    return ScpiMeter(host, port_number, before)


def identify() -> Json:
    """What the meter says it is."""
    try:
        return {"identity": meter().identify(), "is_stand_in": is_stand_in(), "fault": fault(), "faults": list(FAULTS)}
    except InstrumentError as error:
        raise Problem(502, error.code, path="", said=error.said) from error


def read(loop: Loop, asked: Json) -> Json:
    """One value by the meter, as a reading that could be kept.

    Parameters
    ----------
    asked : `function` (volts, continuity, amps), `a`, `b`, `meter_r_ohm`, `switches`.

    Raises
    ------
    Problem : the meter fails (502), or shows a value that no box can have.
    """
    survey = survey_of(loop)
    box = box_of(survey.box)
    supply_on = open_isolation(loop) is None
    is_volts = asked["function"] == "volts"
    if asked["function"] == "continuity" and supply_on:
        raise Problem(422, "continuity_not_isolated", path="function")
    _check_ends(box, asked, loop)
    instrument = meter(_setup(loop, box, survey.practice, asked, supply_on) if is_stand_in() else None)
    try:
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
    return {
        "v": round(value, 1) if is_volts and value is not None else None,
        "r_ohm": round(value, 2) if asked["function"] == "continuity" and value is not None else None,
        "is_open": asked["function"] == "continuity" and value is None,
        "i_a": value if asked["function"] == "amps" else None,
        "meter_r_ohm": asked["meter_r_ohm"] if is_volts else None,
        "supply_on": supply_on,
    }


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


def _setup(loop: Loop, box: Box, practice: str, asked: Json, supply_on: bool) -> Json:
    """What hands do at the stand-in: which wiring, where the leads go, how the switches stand."""
    wiring, hidden = truth.draw(str(loop.pk), box, practice)
    switches = {name: Position(value) for name, value in asked["switches"].items()}
    line_i_rms_a = None
    for gang in Gang.objects.filter(loop=loop).select_related("loop__site", "control"):
        is_one_way = gang.position <= len(box.gangs) and box.gangs[gang.position - 1] is Ways.ONE_WAY
        if not is_one_way or switches.get(str(gang.position)) is Position.ON or not supply_on:
            continue
        solved = truth.solved_off_state(sheet_document(gang), asked["meter_r_ohm"])
        if solved is not None:
            wiring["sources"][f"lamp_{gang.position}"] = solved[0]
            line_i_rms_a = line_i_rms_a or solved[1]
    if asked["b"] in (Reference.EARTH_ALONE, Reference.NEUTRAL):
        # Every pole off, or the neutral lifted: the board's bar no longer joins neutrals and earth.
        wiring["bonds"] = [bond for bond in wiring["bonds"] if truth.GROUND not in bond]
    return {
        "wiring": wiring,
        "closures": truth.closures(box, hidden, switches),
        "a": truth.net_of(asked["a"]),
        "b": truth.net_of(asked["b"]),
        "v_rms": loop.site.v_rms,
        "f_hz": loop.site.f_hz,
        "supply_on": supply_on,
        "line_i_rms_a": line_i_rms_a,
    }
