"""A value at the lamps by the meter: its leads were laid dead, the power is on, and nobody touches anything."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from audit import trail
from common.problems import Problem
from ember_core.diagnosis.knowledge import knowledge
from instruments import stand_ins
from instruments.meter import InstrumentError
from loops.models import Gang
from proving.services.diagnosing import sheet_as_fitted
from proving.services.power import is_isolated
from survey.services import metering

Json = dict[str, Any]
READS = ("lamp_v", "lamp_v_low_z", "line_i")
# A net of the stand-in's own for what stands at the lamps.
_LAMP = "lamp_1"


def read_at_lamps(who: User, gang: Gang, read: str) -> Json:
    """One value, as it could be typed.

    Parameters
    ----------
    read : one of `READS`.

    Raises
    ------
    Problem : there is no meter (409), the power is off, nothing is recorded that the stand-in could show (422), or the
        meter fails (502).
    """
    if not metering.is_there():
        raise Problem(409, "no_meter", path="")
    if is_isolated(gang.loop):
        raise Problem(422, "is_isolated", path="read")
    r_ohm = knowledge().tests[read].meter_r_ohm
    is_stand_in = metering.is_stand_in()
    instrument = metering.meter(_setup(gang, r_ohm or 1e9) if is_stand_in else None)
    try:
        identity = instrument.identify()
        value = instrument.amps_ac() if r_ohm is None else instrument.volts_ac(r_ohm)
    except InstrumentError as error:
        raise Problem(502, error.code, path="", said=error.said) from error
    if value is None:
        raise Problem(502, "meter_over_range", path="")
    shown = {"value": value, "meter_r_ohm": r_ohm, "identity": identity[:160], "is_simulated": is_stand_in}
    trail.record(who, "meter read at the lamps", gang, after={"read": read, **shown})
    return shown


def _setup(gang: Gang, r_ohm: float) -> Json:
    """What the stand-in shows: the solved loop as it hangs there, with this meter on it."""
    building = stand_ins.meter()
    solved = building.solved_off_state(sheet_as_fitted(gang), r_ohm)
    if solved is None:
        raise Problem(422, "nothing_to_read", path="read")
    site = gang.loop.site
    return {
        "wiring": {"point_of": {}, "cables": [], "lamps": {}, "sources": {_LAMP: solved[0]}, "bonds": []},
        "closures": [],
        "a": _LAMP,
        "b": building.GROUND,
        "v_rms": site.v_rms,
        "f_hz": site.f_hz,
        "supply_on": True,
        "line_i_rms_a": solved[1],
    }
