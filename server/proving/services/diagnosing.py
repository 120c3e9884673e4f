"""A case weighed by core: causes, what to find out next, remedies, in words."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from common import heavy
from common.problems import Problem
from ember_core.diagnosis.evidence import CANNOT, DONT_KNOW, VALUE_KEYS
from ember_core.diagnosis.evidence import read as read_case
from ember_core.diagnosis.inference import Diagnosis, diagnose
from ember_core.diagnosis.knowledge import Danger, Power, TestKind, knowledge
from ember_core.diagnosis.next_test import TestGain
from ember_core.diagnosis.posterior import CauseShare
from ember_core.errors import InputErrors, SolverError
from judging.services.judging import missing_parts
from loops.documents import gang_document, sheet_of
from loops.models import FitStatus, Gang
from proving.models import Case
from proving.services.words import NONE, CaseWords
from wording.texts import fill

Json = dict[str, Any]
MOST_CAUSES, MOST_TESTS = 6, 12
# What weighs less is not told of [1]; a piece that speaks less for or against a cause neither [bit].
LEAST_SHARE, LEAST_BITS = 0.01, 0.5
STANDS_OUT = 0.8


def sheet_as_fitted(gang: Gang) -> Json:
    """The sheet of a gang as it hangs there: what is only planned is no part of what goes wrong."""
    document = gang_document(gang)
    control = document["control"]
    if control is not None and control["status"] == FitStatus.FITTED:
        there = [item for item in document["bypasses"] if item["status"] == FitStatus.FITTED]
        document = {**document, "bypasses": there}
    return sheet_of(document, gang.loop.site, f"{gang.loop.site.name}, {gang.loop.name}, gang {gang.position}")


def closed_cases(but: Case | None = None) -> list[str]:
    """Causes of the firm's closed cases, two at once joined by `+`; without the one that is weighed."""
    closed = Case.objects.filter(is_open=False).exclude(cause__in=("", NONE))
    return list((closed if but is None else closed.exclude(pk=but.pk)).values_list("cause", flat=True))


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """A case as it stood when it was looked at: whatever arrives while it is weighed belongs to the next look."""

    told: list[Json]
    evidence: list[Json]
    sheet: Json
    closed: list[str]

    @property
    def missing(self) -> list[str]:
        """What the record lacks."""
        return missing_parts(self.sheet)


def taken_of(case: Case) -> Taken:
    """The case as it stands now."""
    rows = case.evidence.filter(struck_reason="")
    return Taken(
        told=case.told,
        evidence=[row.data for row in rows],
        sheet=sheet_as_fitted(case.gang),
        closed=closed_cases(but=case),
    )


def weigh(taken: Taken, *, with_remedies: bool = False) -> Diagnosis | None:
    """The diagnosis; None where the record lacks control or lamps. Remedies take longer than all the rest.

    Raises
    ------
    InputErrors, SolverError : see core. Problem : the server computes enough already.
    """
    if taken.missing:
        return None
    given = read_case({"sheet": taken.sheet, "symptoms": taken.told, "evidence": taken.evidence})
    # Two causes at once count for each.
    closed = Counter(one for cause in taken.closed for one in cause.split("+"))
    with heavy.slot():
        return diagnose(given, closed=closed, with_remedies=with_remedies)


def thought_of(case: Case) -> dict[str, float]:
    """Shares of the likeliest causes, as a case keeps them when it is closed; empty where they cannot be had now."""
    try:
        found = weigh(taken_of(case))
    except (InputErrors, SolverError, Problem):
        # A busy server, or a record that cannot be computed, keeps nobody from closing.
        return {}
    return {} if found is None else {cause.code: round(cause.share, 4) for cause in found.causes[:5]}


def diagnosis_answer(case: Case, *, with_remedies: bool) -> Json:
    """Causes with what speaks for and against them, the next tests, and remedies where they are asked for."""
    words, taken = CaseWords(case.loop.site.region), taken_of(case)
    try:
        found = weigh(taken, with_remedies=with_remedies)
    except InputErrors as errors:
        return {**_nothing(), "missing": [error.path for error in errors.errors]}
    if found is None:
        return {**_nothing(), "missing": taken.missing}
    pieces = _pieces(taken, words)
    count = len(taken.closed)
    return {
        "missing": [],
        "text": _said(found, pieces, words),
        "explained": found.explained,
        "causes": [_cause(cause, pieces, words) for cause in found.causes[:MOST_CAUSES] if cause.share >= LEAST_SHARE],
        "none_share": found.none_share,
        "doubt_bits": found.doubt_bits,
        "next": [_test(test, words) for test in found.tests[:MOST_TESTS]],
        "remedies": [
            {
                "code": remedy.code,
                "text": words.remedy(remedy.code),
                "chance": remedy.chance,
                "minutes": remedy.minutes,
                "price": remedy.price,
                "undo": words.texts["undo"][remedy.undo.value],
                "tab": _TABS.get(remedy.code, ""),
            }
            for remedy in found.remedies
        ],
        "learned": fill(words.texts["learned"], {"count": count}) if count else "",
    }


def _nothing() -> Json:
    return {
        "missing": [],
        "text": "",
        "explained": False,
        "causes": [],
        "none_share": 0.0,
        "doubt_bits": 0.0,
        "next": [],
        "remedies": [],
        "learned": "",
    }


def _pieces(taken: Taken, words: CaseWords) -> dict[str, str]:
    """What was told and found, by its place."""
    found = {f"symptoms[{k}]": words.told(entry) for k, entry in enumerate(taken.told)}
    for k, data in enumerate(taken.evidence):
        found[f"evidence[{k}]"] = f"{words.test(data['test'])} – {words.found(data)}"
    return found


def _said(found: Diagnosis, pieces: dict[str, str], words: CaseWords) -> str:
    if not found.explained:
        places = " · ".join(pieces[place] for place in found.unexplained) or words.texts["none_title"]
        return fill(words.texts["not_explained"], {"places": places})
    stands_out = bool(found.causes) and found.causes[0].share >= STANDS_OUT
    return f"{words.texts['explained']} {words.texts['one_left' if stands_out else 'open_doubt']}"


def _cause(cause: CauseShare, pieces: dict[str, str], words: CaseWords) -> Json:
    areas = [knowledge().causes[one].area.value for one in cause.code.split("+")]
    return {
        "code": cause.code,
        "title": words.cause(cause.code),
        "share": cause.share,
        "area": areas[0],
        "area_text": words.texts["areas"][areas[0]],
        "places": words.places(cause.code),
        "speaks": [
            {"text": pieces[one.place], "bits": one.bits}
            for one in sorted(cause.speaks, key=lambda one: -abs(one.bits))
            if abs(one.bits) >= LEAST_BITS
        ],
    }


def _test(test: TestGain, words: CaseWords) -> Json:
    of = knowledge().tests.get(test.code)
    danger = Danger.NONE if of is None else of.danger
    return {
        "code": test.code,
        "title": words.test(test.code),
        "how": words.how(test.code),
        "kind": (TestKind.ASK if of is None else of.kind).value,
        "minutes": test.minutes,
        "gain_bits": test.gain_bits,
        "danger": danger.value,
        "power": (Power.ANY if of is None else of.power).value,
        "danger_text": words.texts["danger"][danger.value],
        "outcomes": [{"code": code, "text": text} for code, text in words.outcomes(test.code).items()],
        "others": [{"code": code, "text": words.texts[code]} for code in (DONT_KNOW, CANNOT)],
        "unit": "" if of is None else of.unit,
        "key": VALUE_KEYS[of.unit] if of is not None and of.is_value else "",
        "meter_r_ohm": None if of is None else of.meter_r_ohm,
        "low": test.low,
        "high": test.high,
    }


# Where on the bench a remedy is tried out before hands do it.
_TABS = {
    "fit_bypass": "bypass_choice",
    "replace_bypass": "bypass_choice",
    "bigger_bypass": "bypass_choice",
    "other_kind_bypass": "bypass_choice",
    "resistive_bypass": "bypass_choice",
    "take_bypass_out": "bypass",
    "move_bypass": "bypass",
    "other_lamps": "lamps",
    "lamps_as_recorded": "lamps",
    "replace_dead_lamps": "lamps",
    "one_make_of_lamps": "lamps",
    "fewer_lamps": "lamps",
    "smart_lamp_out": "lamps",
    "other_control": "control",
    "replace_control": "control",
    "set_edge": "light_on",
    "set_least": "light_on",
    "set_start": "light_on",
    "set_top": "light_on",
    "learn_load": "light_on",
    "module_at_luminaire": "ways",
    "new_neutral": "ways",
}
