"""Readings at the conductors of a box: volts with the supply on, continuity with it off."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from ember_core.errors import InputError
from ember_core.quantities import check_bounds, optional
from ember_core.survey.box import METAL_BOX, Box, Ways

# A reading to earth can be somewhat above the supply; one between conductors can be between two phases.
MOST_TO_EARTH_RATIO = 1.3
MOST_BETWEEN_RATIO = 2.2
# Below this a meter loads a ghost voltage down: a two-pole tester or a meter's low-impedance range.
LOW_IMPEDANCE_OHM = 1e6
CLOSED_OHM = 5.0
LOAD_OHM = 1e5


class Reference(StrEnum):
    """Known points outside the box that a reading can go to."""

    EARTH = "known_earth"  # proved: the board's earth terminal, or a wander lead from it
    EARTH_ALONE = "known_earth_all_off"  # the same, with every pole of the main switch off
    LINE = "known_line"  # load side of this circuit's breaker, dead
    NEUTRAL = "known_neutral"  # this circuit's neutral, lifted at the board or isolated by both poles
    LAMP_1 = "known_lamp_1"  # live terminal at the lamps of gang 1
    LAMP_2 = "known_lamp_2"
    LAMP_3 = "known_lamp_3"
    LAMP_4 = "known_lamp_4"
    LAMP_5 = "known_lamp_5"
    LAMP_6 = "known_lamp_6"


LAMP_POINTS = (
    Reference.LAMP_1,
    Reference.LAMP_2,
    Reference.LAMP_3,
    Reference.LAMP_4,
    Reference.LAMP_5,
    Reference.LAMP_6,
)


class Position(StrEnum):
    """Of a switch: on and off where it is one-way; up and down, straight and crossed are the same two elsewhere."""

    ON = "on"
    OFF = "off"


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One reading between two points.

    Parameters
    ----------
    id : unique among the readings of a box.
    a : a conductor. b : a conductor or a `Reference`.
    v : volts rms with the supply on (or off, where `supply_on` is false), or None.
    r_ohm : continuity, dead; infinity is written as `is_open`.
    meter_r_ohm : input resistance of the meter for volts.
    switches : position of a switch by gang: `"1"` the switch of gang 1 here, `"1:other"` its other switch.
    """

    id: str
    a: str
    b: str
    v: float | None = optional("V", 0.0, 1000.0, "voltage read, rms")
    r_ohm: float | None = optional("Ω", 0.0, 1e9, "resistance read, dead")
    is_open: bool = False
    meter_r_ohm: float | None = optional("Ω", 1e3, 1e9, "input resistance of the meter")
    supply_on: bool = True
    switches: Mapping[str, Position] = field(default_factory=dict)

    @property
    def is_voltage(self) -> bool:
        """Volts, not continuity."""
        return self.v is not None

    @property
    def is_low_impedance(self) -> bool:
        """Taken with a meter that loads ghost voltages down."""
        return self.meter_r_ohm is not None and self.meter_r_ohm < LOW_IMPEDANCE_OHM


def check(reading: Reading, box: Box, v_rms: float, path: str = "") -> None:
    """Check one reading against the box and the supply.

    Raises
    ------
    InputError : unknown conductor or switch, two kinds or none, beyond the supply, continuity while live.
    """
    check_bounds(reading, path)
    where = f"{path}." if path else ""
    kinds = (reading.v is not None) + (reading.r_ohm is not None) + reading.is_open
    if kinds != 1:
        raise InputError("reading_without_value" if kinds == 0 else "reading_of_two_kinds", path=f"{where}v")
    box.node_of(reading.a)
    references = {reference.value for reference in Reference}
    if reading.b not in references:
        box.node_of(reading.b)
    if reading.a == reading.b:
        raise InputError("reading_to_itself", path=f"{where}b", conductor=reading.a)
    if reading.v is not None:
        if reading.b in references and reading.b != Reference.EARTH:
            raise InputError("voltage_to_earth_or_conductor", path=f"{where}b")
        between = reading.b not in references and reading.b != METAL_BOX
        most = v_rms * (MOST_BETWEEN_RATIO if between else MOST_TO_EARTH_RATIO)
        if reading.v > most:
            raise InputError("reading_beyond_supply", path=f"{where}v", v=reading.v, v_most=round(most), v_rms=v_rms)
    elif reading.supply_on:
        raise InputError("continuity_while_live", path=f"{where}r_ohm")
    for name in reading.switches:
        gang, _, which = name.partition(":")
        known = gang.isdigit() and 1 <= int(gang) <= len(box.gangs) and which in ("", "other")
        if not known or (which and box.gangs[int(gang) - 1] is Ways.ONE_WAY):
            raise InputError("no_such_switch", path=f"{where}switches.{name}", switch=name)
