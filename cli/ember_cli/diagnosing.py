"""`ember diagnose`: causes, the next test and remedies of a complaint, from a file, without a server."""

from __future__ import annotations

from typing import Any

from ember_cli.solving import each
from ember_core import CORE_VERSION
from ember_core.diagnosis.evidence import VALUE_KEYS, read
from ember_core.diagnosis.inference import Diagnosis, diagnose
from ember_core.diagnosis.knowledge import knowledge
from ember_core.diagnosis.next_test import TestGain


def answer(document: Any) -> dict[str, Any]:
    """Causes with their shares, what is asked next, and remedies by their chance."""
    return data(diagnose(read(document)))


def data(found: Diagnosis) -> dict[str, Any]:
    """A diagnosis as JSON data, SI units."""
    return {
        "causes": [
            {
                "code": cause.code,
                "share": cause.share,
                "speaks": [{"place": one.place, "bits": one.bits} for one in cause.speaks],
            }
            for cause in found.causes
        ],
        "none_of_these_share": found.none_share,
        "explained": found.explained,
        "unexplained": list(found.unexplained),
        "doubt_bits": found.doubt_bits,
        "next_test": _test(found.tests[0]) if found.tests else None,
        "tests": [_test(test) for test in found.tests],
        "remedies": [
            {
                "code": remedy.code,
                "chance": remedy.chance,
                "minutes": remedy.minutes,
                "price": remedy.price,
                "undo": remedy.undo.value,
            }
            for remedy in found.remedies
        ],
        "core_version": CORE_VERSION,
    }


def _test(test: TestGain) -> dict[str, Any]:
    given: dict[str, Any] = {"code": test.code, "gain_bits": test.gain_bits, "minutes": test.minutes}
    of = knowledge().tests.get(test.code)
    if of is not None and of.is_value and test.low is not None:
        key = VALUE_KEYS[of.unit]
        given |= {f"low_{key}": test.low, f"high_{key}": test.high}
        if of.meter_r_ohm is not None:
            given["meter_r_ohm"] = of.meter_r_ohm
    return given


def run(file: str) -> int:
    """Answer every case of a file; status 1 when one failed."""
    return each(file, answer)
