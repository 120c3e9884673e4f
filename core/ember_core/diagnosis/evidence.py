"""What is known of a case: symptoms as told, and what tests found; read from data, with what is wrong by code."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ember_core.diagnosis.knowledge import knowledge
from ember_core.diagnosis.symptoms import Symptom
from ember_core.errors import InputError, InputErrors
from ember_core.quantities import Quantity
from ember_core.sheet import Reader, Sheet
from ember_core.sheet import read as read_sheet
from ember_core.survey.visit import LEAST_PERIOD_S, MOST_PERIOD_S

Json = dict[str, Any]
MOST_ENTRIES = 60
# A test that asks whether a symptom shows too.
ASKED = "asked_"
YES, NO = "yes", "no"
# Answers that say nothing: the test is not proposed again.
DONT_KNOW, CANNOT = "dont_know", "cannot"
# The key of a value, by its unit.
VALUE_KEYS = {"V": "v_rms", "A": "i_a", "F": "c_f", "s": "period_s"}
MOST_VALUE = {"V": 1000.0, "A": 100.0, "F": 1e-3, "s": MOST_PERIOD_S}
# A reading by a meter of less than this input resistance is one of low impedance [Ω].
LOW_Z_BELOW_OHM = 2e6


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """A symptom as told; the time from flash to flash where somebody said it [s]."""

    code: Symptom
    period_s: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What a test found: an outcome, or a value [its SI unit]; neither where nobody knows."""

    test: str
    outcome: str = ""
    value: float | None = None
    meter_r_ohm: float | None = None

    @property
    def says(self) -> bool:
        """Whether anything was found out."""
        return self.value is not None or self.outcome not in ("", DONT_KNOW, CANNOT)


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """A complaint about a loop.

    Parameters
    ----------
    sheet : the loop as recorded. told : symptoms, at least one. evidence : in the order of asking.
    """

    sheet: Sheet
    told: tuple[Told, ...]
    evidence: tuple[Evidence, ...] = ()

    @property
    def complained(self) -> tuple[Symptom, ...]:
        """Codes of what was told."""
        return tuple(one.code for one in self.told)


def outcomes_of(test: str) -> tuple[str, ...]:
    """What a test can find; none of one that reads a value.

    Raises
    ------
    KeyError : no such test.
    """
    if test.startswith(ASKED):
        Symptom(test.removeprefix(ASKED))
        return (YES, NO)
    return knowledge().tests[test].outcomes


def read(document: object) -> Case:
    """A case of parsed JSON: `sheet`, `symptoms`, `evidence`.

    Raises
    ------
    InputErrors : everything that is wrong, each with code and path.
    """
    if not isinstance(document, dict):
        raise InputErrors([InputError("not_an_object", path="")])
    reader = Reader()
    reader.unknown_keys(document, {"sheet", "symptoms", "evidence"}, "")
    sheet = None
    if "sheet" not in document:
        reader.fail("missing", "sheet", key="sheet")
    else:
        try:
            sheet = read_sheet(document["sheet"])
        except InputErrors as errors:
            reader.errors += [_within("sheet", error) for error in errors.errors]
    told = read_told(reader, document.get("symptoms", []))
    evidence = read_evidence(reader, document.get("evidence", []))
    if not reader.errors:
        reader.errors += contradictions(told, evidence)
    if reader.errors or sheet is None:
        raise InputErrors(reader.errors)
    return Case(sheet=sheet, told=told, evidence=evidence)


def _within(place: str, error: InputError) -> InputError:
    return error.moved(f"{place}.{error.path}" if error.path else place)


def read_told(reader: Reader, given: object) -> tuple[Told, ...]:
    """Symptoms of a list of `{"code", "period_s"}`."""
    found = []
    for at, entry in _entries(reader, given, "symptoms"):
        reader.unknown_keys(entry, {"code", "period_s"}, at)
        code = entry.get("code")
        if code not in tuple(Symptom):
            reader.fail("unknown_kind", f"{at}.code", value=str(code)[:40], known=", ".join(Symptom))
            continue
        period_s = entry.get("period_s")
        if period_s is not None and Symptom(code) is not Symptom.BLINK_OFF:
            reader.fail("no_rhythm", f"{at}.period_s", symptom=str(code))
            continue
        if period_s is not None:
            period_s = _number(reader, period_s, f"{at}.period_s", LEAST_PERIOD_S, MOST_PERIOD_S, "s")
        found.append(Told(code=Symptom(code), period_s=period_s))
    if not found and not reader.errors:
        reader.fail("no_symptom", "symptoms")
    return tuple(found)


def read_evidence(reader: Reader, given: object) -> tuple[Evidence, ...]:
    """What tests found, of a list of `{"test", …}`."""
    found = []
    for at, entry in _entries(reader, given, "evidence"):
        test = entry.get("test")
        try:
            outcomes = outcomes_of(str(test))
        except (KeyError, ValueError):
            known = (*knowledge().tests, f"{ASKED}…")
            reader.fail("unknown_kind", f"{at}.test", value=str(test)[:40], known=", ".join(known))
            continue
        one = _outcome(reader, entry, str(test), outcomes, at) if outcomes else _value(reader, entry, str(test), at)
        if one is not None:
            found.append(one)
    return tuple(found)


def _outcome(reader: Reader, entry: Json, test: str, outcomes: Sequence[str], at: str) -> Evidence | None:
    reader.unknown_keys(entry, {"test", "outcome"}, at)
    outcome = entry.get("outcome")
    known = (*outcomes, DONT_KNOW, CANNOT)
    if outcome not in known:
        reader.fail("unknown_word", f"{at}.outcome", value=str(outcome)[:40], known=", ".join(known))
        return None
    return Evidence(test=test, outcome=str(outcome))


def _value(reader: Reader, entry: Json, test: str, at: str) -> Evidence | None:
    """A reading; one by a meter of low impedance is the test of that name, whatever it was called."""
    if entry.get("outcome") in (DONT_KNOW, CANNOT):
        return Evidence(test=test, outcome=str(entry["outcome"]))
    of = knowledge().tests[test]
    key = VALUE_KEYS[of.unit]
    reader.unknown_keys(entry, {"test", key, "meter_r_ohm"}, at)
    if key not in entry:
        reader.fail("missing", f"{at}.{key}", key=key)
        return None
    low = LEAST_PERIOD_S if of.unit == "s" else 0.0
    value = _number(reader, entry[key], f"{at}.{key}", low, MOST_VALUE[of.unit], of.unit)
    meter = entry.get("meter_r_ohm", of.meter_r_ohm)
    if meter is not None:
        meter = _number(reader, meter, f"{at}.meter_r_ohm", 1e3, 1e9, "Ω")
    if value is None or (meter is None and of.meter_r_ohm is not None):
        return None
    if of.meter_r_ohm is not None and meter is not None:
        test = "lamp_v_low_z" if meter < LOW_Z_BELOW_OHM else "lamp_v"
    return Evidence(test=test, value=value, meter_r_ohm=meter)


def _entries(reader: Reader, given: object, path: str) -> list[tuple[str, Json]]:
    if not isinstance(given, list):
        reader.fail("not_a_list", path)
        return []
    if len(given) > MOST_ENTRIES:
        reader.fail("too_many", path, most=MOST_ENTRIES)
        return []
    found = []
    for k, entry in enumerate(given):
        made = reader.mapping(entry, f"{path}[{k}]")
        if made is not None:
            found.append((f"{path}[{k}]", made))
    return found


def _number(reader: Reader, given: object, path: str, low: float, high: float, unit: str) -> float | None:
    try:
        return float(Quantity(unit=unit, low=low, high=high, meaning="value read").check(given, path))
    except InputError as error:
        reader.errors.append(error)
        return None


def contradictions(told: Sequence[Told], evidence: Sequence[Evidence]) -> list[InputError]:
    """What cannot all be true: one test with two outcomes, a symptom told twice, or told and then denied."""
    errors: list[InputError] = []
    codes = [one.code for one in told]
    for k, code in enumerate(codes):
        if code in codes[:k]:
            errors.append(InputError("told_twice", path=f"symptoms[{k}]", symptom=code.value))
    seen: dict[str, str] = {}
    for k, found in enumerate(evidence):
        if not found.says or not found.outcome:
            continue
        before = seen.setdefault(found.test, found.outcome)
        denied = found.test.removeprefix(ASKED) if found.outcome == NO else ""
        if before != found.outcome or denied in codes:
            errors.append(
                InputError(
                    "evidence_contradicts",
                    path=f"evidence[{k}]",
                    test=found.test,
                    one=denied if denied in codes else before,
                    other=found.outcome,
                )
            )
    return errors
