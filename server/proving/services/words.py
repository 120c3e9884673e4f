"""Symptoms, causes, tests and remedies in words."""

from __future__ import annotations

from typing import Any

from ember_core.diagnosis.evidence import ASKED, CANNOT, DONT_KNOW, NO, VALUE_KEYS, YES
from ember_core.diagnosis.knowledge import knowledge
from ember_core.diagnosis.symptoms import Symptom
from wording.quantities import with_unit
from wording.texts import catalogue, fill, vocabulary_of

Json = dict[str, Any]
NONE = "none_of_these"


class CaseWords:
    """Looks words of diagnosing up, in the language of whoever asks and the words of the site's region."""

    def __init__(self, region: str) -> None:
        self.texts = catalogue("diagnosis")
        self.vocabulary = vocabulary_of(region)

    def _said(self, text: str) -> str:
        return fill(text, {}, self.vocabulary)

    def symptom(self, code: str) -> str:
        """What is told."""
        return str(self.texts["symptoms"][code])

    def told(self, entry: Json) -> str:
        """A symptom with its rhythm."""
        period_s = entry.get("period_s")
        if period_s is None:
            return self.symptom(entry["code"])
        params = {"symptom": self.symptom(entry["code"]), "period": with_unit(period_s, "s")}
        return fill(self.texts["rhythm"], params)

    def cause(self, code: str) -> str:
        """A cause, or two at once."""
        if code == NONE:
            return str(self.texts["none_title"])
        titles = [self._said(self.texts["causes"][one]["title"]) for one in code.split("+")]
        return titles[0] if len(titles) == 1 else fill(self.texts["pair"], {"first": titles[0], "second": titles[1]})

    def places(self, code: str) -> list[str]:
        """Where on the thread a cause sits."""
        return [str(self.texts["causes"][one]["at"]) for one in code.split("+") if one in self.texts["causes"]]

    def remedy(self, code: str) -> str:
        """A remedy."""
        return self._said(self.texts["remedies"][code])

    def test(self, code: str) -> str:
        """What is asked, looked at, tried or read."""
        if code.startswith(ASKED):
            return f"{self.texts['asked']} {self.symptom(code.removeprefix(ASKED))}"
        return str(self.texts["tests"][code]["title"])

    def how(self, code: str) -> str:
        """How that is done."""
        return "" if code.startswith(ASKED) else str(self.texts["tests"][code]["how"])

    def outcomes(self, code: str) -> Json:
        """What can be found, by code; none of a test that reads a value."""
        if code.startswith(ASKED):
            return {YES: self.texts["yes"], NO: self.texts["no"]}
        return {one: self._said(text) for one, text in self.texts["tests"][code]["outcomes"].items()}

    def found(self, data: Json) -> str:
        """What was found, in words."""
        outcome = data.get("outcome")
        if outcome in (DONT_KNOW, CANNOT):
            return str(self.texts[outcome])
        if outcome is not None:
            return str(self.outcomes(data["test"])[outcome])
        unit = knowledge().tests[data["test"]].unit
        value = with_unit(data[VALUE_KEYS[unit]], unit)
        return value if data.get("meter_r_ohm") is None else f"{value} ({with_unit(data['meter_r_ohm'], 'Ω')})"

    def symptoms(self) -> list[Json]:
        """Every symptom, in the order in which they are offered."""
        return [{"code": one.value, "text": self.symptom(one.value), "when": _WHEN[one]} for one in Symptom]


_WHEN: dict[Symptom, str] = {
    one: when
    for when, symptoms in {
        "off": (Symptom.BLINK_OFF, Symptom.GLOW_OFF, Symptom.SINGLE_FLASH),
        "on": (
            Symptom.FLICKER_LOW,
            Symptom.FLICKER_ON,
            Symptom.FLICKERS_ANY_TIME,
            Symptom.GOES_OUT_LOW,
            Symptom.COMES_ON_LATE,
            Symptom.NOT_FULL,
            Symptom.BUZZ,
            Symptom.GOES_OUT_LATER,
        ),
        "wall": (
            Symptom.CONTROL_RESTARTS,
            Symptom.NOTHING_LIGHTS,
            Symptom.ONE_LAMP_DARK,
            Symptom.WILL_NOT_SWITCH_OFF,
            Symptom.OTHER_LAMP,
            Symptom.DEPENDS_ON_SWITCH,
            Symptom.NEEDS_TWO_PRESSES,
            Symptom.TRIPS,
            Symptom.PLATE_TINGLES,
            Symptom.LIGHTS_AFTER_OUTAGE,
        ),
        "network": (
            Symptom.WILL_NOT_PAIR,
            Symptom.DROPS_OFF_NETWORK,
            Symptom.ANSWERS_LATE,
            Symptom.REMOTE_DOES_NOTHING,
        ),
    }.items()
    for one in symptoms
}
