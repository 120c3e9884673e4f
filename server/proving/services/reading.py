"""Readings of a gang after it was fitted: what tells most, what is expected, and whether it came out as computed."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from common import heavy
from ember_core import sheet
from ember_core.errors import InputErrors, SolverError
from ember_core.proving.worth import Read, Worth, worth
from ember_core.spread.narrow import ERRORS, Kind
from judging.services.judging import missing_parts
from judging.services.spreading import range_data
from loops.documents import hung_of
from loops.models import Gang, MeasuredValue, Occasion
from proving.services.diagnosing import sheet_as_fitted
from wording.quantities import with_unit
from wording.texts import catalogue, fill

Json = dict[str, Any]
UNITS = {Read.LAMP_V: "V", Read.LAMP_V_LOW_Z: "V", Read.LINE_I: "A", Read.PERIOD: "s"}
KINDS = {
    Read.LAMP_V: Kind.LAMP_V,
    Read.LAMP_V_LOW_Z: Kind.LAMP_V,
    Read.LINE_I: Kind.LINE_I,
    Read.PERIOD: Kind.PERIOD,
}
LOW_Z_BELOW_OHM = 2e6
# So many standard deviations of the meter a reading may lie beside the computed range.
BESIDE = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """A reading beside what is computed.

    Parameters
    ----------
    within : between which values each kind of reading is as computed, the meter's error counted in [its SI unit].
    """

    row: MeasuredValue
    of: Worth
    value: float
    within: Mapping[str, tuple[float, float]]

    @property
    def is_inside(self) -> bool:
        """Whether it is as computed."""
        low, high = self.within[self.of.read.value]
        return low <= self.value <= high


@lru_cache(maxsize=32)
def _worth(text: str) -> tuple[Worth, ...]:
    return worth(sheet.read_text(text))


def worth_of(gang: Gang) -> tuple[Worth, ...]:
    """Readings by what they tell; none where the record lacks something or nothing settles."""
    document = sheet_as_fitted(gang)
    if missing_parts(document):
        return ()
    try:
        with heavy.slot():
            return _worth(json.dumps(document, sort_keys=True))
    except (InputErrors, SolverError):
        return ()


def compared(gang: Gang, readings: tuple[Worth, ...]) -> Compared | None:
    """The newest reading taken after fitting, of the parts that hang there now, that can be compared; else None.

    One that waited on a device is neither older nor newer for it: where the last that arrived is not the last that was
    taken, the one that is not as computed counts.
    """
    within = {one.read.value: _within(one) for one in readings}
    by_read = {one.read: one for one in readings}
    hung = hung_of(gang)
    found = [
        Compared(row=row, of=by_read[read], value=float(row.data["value"]), within=within)
        for row in gang.measured.filter(occasion=Occasion.AFTER_FITTING, struck_reason="")
        if row.hung in ("", hung) and (read := read_of(row.data)) in by_read
    ]
    if not found:
        return None
    newest = [max(found, key=lambda one: order(one.row)) for order in ORDERS]
    return min(newest, key=lambda one: one.is_inside)


def _arrived(row: MeasuredValue) -> Any:
    return row.at, row.pk


def _taken(row: MeasuredValue) -> Any:
    return row.taken_at, row.at, row.pk


# In which one reading comes after another.
ORDERS = (_arrived, _taken)


def _within(one: Worth) -> tuple[float, float]:
    ratio, floor = ERRORS[KINDS[one.read]]
    return (
        one.expected.p05 - BESIDE * (ratio * one.expected.p05 + floor),
        one.expected.p95 + BESIDE * (ratio * one.expected.p95 + floor),
    )


def read_of(data: Json) -> Read | None:
    """What was read of a gang, by the meter it was read with; None of what is no value to compare."""
    if "value" not in data:
        return None
    if data.get("kind") == Kind.LAMP_V.value:
        return Read.LAMP_V_LOW_Z if (data.get("meter_r_ohm") or 1e7) < LOW_Z_BELOW_OHM else Read.LAMP_V
    return next((read for read, kind in KINDS.items() if kind.value == data.get("kind")), None)


def reading_text(found: Compared) -> str:
    """A reading beside its range, in words."""
    texts, unit = catalogue("proving"), UNITS[found.of.read]
    params = {
        "what": texts["reads"][found.of.read.value],
        "value": with_unit(found.value, unit),
        "low": with_unit(found.of.expected.p05, unit),
        "high": with_unit(found.of.expected.p95, unit),
    }
    return fill(texts["read"], params)


def worth_answer(gang: Gang) -> Json:
    """What to read, the most telling first, and what was read."""
    texts = catalogue("proving")
    readings = worth_of(gang)
    found = compared(gang, readings)
    return {
        "readings": [
            {
                "read": one.read.value,
                "text": texts["reads"][one.read.value],
                "gain_bits": one.gain_bits,
                "unit": UNITS[one.read],
                "meter_r_ohm": one.meter_r_ohm,
                "expected": range_data(one.expected),
                "blinking_ratio": one.blinking_ratio,
            }
            for one in readings
        ],
        "taken": None
        if found is None
        else {"text": reading_text(found), "is_inside": found.is_inside, "at": found.row.made_at or found.row.at},
        "text": "" if found is not None or not readings else texts["no_reading"],
    }
