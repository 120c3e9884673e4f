"""Cases: opened with what was told, evidence kept as it comes, closed with what it was, opened again with a reason."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from audit.striking import strike
from bench.services.keep_gang import update_loop
from common.problems import Problem
from ember_core.diagnosis.evidence import CANNOT, DONT_KNOW, VALUE_KEYS, contradictions, read_evidence, read_told
from ember_core.diagnosis.knowledge import Power, knowledge
from ember_core.errors import InputErrors
from ember_core.sheet import Reader
from loops.models import Gang, Loop
from proving.models import Case, CaseEvent, CaseEvidence
from proving.services.power import is_isolated, was_isolated, was_isolated_since
from proving.services.words import NONE, CaseWords
from survey.services.safety import name_of
from wording.texts import catalogue

Json = dict[str, Any]
MOST_A_LOOP = 60
MOST_EVIDENCE = 40
SHORTEST_REASON = 5


def open_case(who: User, loop_pk: Any, given: Json) -> Case:
    """Open a case; the same entry twice is one case.

    Parameters
    ----------
    given : `id`, `gang`, `told`, `heard`, `since`, `note`, `made_at`.

    Raises
    ------
    Problem, InputErrors : another loop's gang, a symptom or a rhythm that cannot be; nothing is kept.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = Case.objects.filter(pk=given["id"]).first()
        if known is not None:
            if known.loop_id != loop.pk or known.told != given["told"]:
                raise Problem(409, "entry_differs", path="id")
            return known
        gang = Gang.objects.filter(pk=given["gang"], loop=loop).first()
        if gang is None:
            raise Problem(422, "gang_not_here", path="gang")
        reader = Reader()
        told = read_told(reader, given["told"])
        _refuse(reader, contradictions(told, ()))
        if loop.cases.count() >= MOST_A_LOOP:
            raise Problem(422, "too_many", path="told", most=MOST_A_LOOP)
        case = Case.objects.create(
            pk=given["id"],
            number=loop.cases.count() + 1,
            loop=loop,
            gang=gang,
            told=given["told"],
            heard=given["heard"],
            since=given["since"],
            note=given["note"],
            made_at=given["made_at"],
            by=who,
        )
        trail.record(who, "case opened", loop, after={"case": case.number, "told": case.told, "note": case.note})
        update_loop(loop)
    return case


def _refuse(reader: Reader, more: list[Any]) -> None:
    errors = [*reader.errors, *more]
    if errors:
        raise InputErrors(errors)


def _held(pk: Any) -> Case:
    return Case.objects.select_for_update().select_related("loop__site", "loop__circuit", "gang").get(pk=pk)


def keep_evidence(who: User, case_pk: Any, given: Json) -> CaseEvidence:
    """Keep what a test found.

    Parameters
    ----------
    given : `id`, `test`, `outcome` or `value` with `meter_r_ohm`, `note`, `made_at`.

    Raises
    ------
    Problem : the case is closed, or the power was not as the test needs it. InputErrors : it cannot be, or contradicts
        what stands.
    """
    with transaction.atomic():
        case = _held(case_pk)
        data = _data(given)
        known = CaseEvidence.objects.filter(pk=given["id"]).first()
        if known is not None:
            if known.case_id != case.pk or known.data != data:
                raise Problem(409, "entry_differs", path="id")
            return known
        if not case.is_open:
            raise Problem(409, "case_closed", path="")
        standing = [row.data for row in case.evidence.all() if not row.struck_reason]
        reader = Reader()
        told = read_told(reader, case.told)
        evidence = read_evidence(reader, [*standing, data])
        errors = reader.errors or contradictions(told, evidence)
        if errors:
            raise InputErrors([error.moved(_field(error.path)) for error in errors])
        if len(standing) >= MOST_EVIDENCE:
            raise Problem(422, "too_many", path="test", most=MOST_EVIDENCE)
        if data.get("outcome") not in (DONT_KNOW, CANNOT):
            _check_power(case, data["test"], given["made_at"])
        row = CaseEvidence.objects.create(
            pk=given["id"],
            number=case.evidence.count() + 1,
            case=case,
            data=data,
            note=given["note"],
            made_at=given["made_at"],
            by=who,
        )
        trail.record(who, "case evidence", case.loop, after={"case": case.number, **data})
    return row


def _field(path: str) -> str:
    """The field of an entry that core named by its place in a list."""
    return path.rpartition(".")[2] if "." in path else "test"


def _data(given: Json) -> Json:
    """An entry as core reads it."""
    data: Json = {"test": given["test"]}
    if given["value"] is None:
        return {**data, "outcome": given["outcome"]}
    of = knowledge().tests.get(given["test"])
    if of is None or not of.is_value:
        raise Problem(422, "no_value_read", path="value")
    data[VALUE_KEYS[of.unit]] = given["value"]
    if given["meter_r_ohm"] is not None and of.meter_r_ohm is not None:
        data["meter_r_ohm"] = given["meter_r_ohm"]
    return data


def _check_power(case: Case, test: str, made_at: datetime | None) -> None:
    """Nothing is seen of an isolated loop that needs power, and no box is opened that nobody isolated."""
    of = knowledge().tests.get(test)
    power = Power.ANY if of is None else of.power
    if power in (Power.ON, Power.BOTH) and was_isolated(case.loop, made_at):
        raise Problem(422, "is_isolated", path="test")
    if power in (Power.OFF, Power.BOTH) and not was_isolated_since(case.loop, case.made_at or case.at):
        raise Problem(422, "not_isolated_for_it", path="test")


def strike_evidence(who: User, pk: Any, reason: str) -> CaseEvidence:
    """Strike a finding out; it stays on record with the reason."""
    with transaction.atomic():
        row = CaseEvidence.objects.select_for_update().select_related("case__loop").get(pk=pk)
        if not row.case.is_open:
            raise Problem(409, "case_closed", path="")
        strike(who, row, reason, row.case.loop, "case evidence")
    return row


def close_case(who: User, pk: Any, given: Json, thought: Json) -> Case:
    """Close a case with what it was and what was done.

    Parameters
    ----------
    given : `cause` (one of core's, two joined by `+`, or none of these), `remedy` (or empty), `note`; `seen`, the
        evidence that stood there for who closes, where that is said.
    thought : shares of the causes as they were then.

    Raises
    ------
    Problem : it is closed already, other evidence stands there than was seen, the cause or remedy is none that there
        is, or none of these without a note.
    """
    with transaction.atomic():
        case = _held(pk)
        if not case.is_open:
            raise Problem(409, "case_closed", path="")
        standing = {row.pk for row in case.evidence.all() if not row.struck_reason}
        if given.get("seen") is not None and set(given["seen"]) != standing:
            raise Problem(409, "evidence_changed", path="")
        known, cause = knowledge(), given["cause"]
        parts = cause.split("+")
        if cause != NONE and (len(parts) > 2 or any(part not in known.causes for part in parts)):
            raise Problem(422, "unknown_kind", path="cause", value=cause[:40], known=", ".join(known.causes))
        if given["remedy"] and given["remedy"] not in known.remedies:
            raise Problem(422, "unknown_kind", path="remedy", value=given["remedy"], known=", ".join(known.remedies))
        if cause == NONE and len(given["note"].strip()) < SHORTEST_REASON:
            raise Problem(422, "reason_needed", path="note", least=SHORTEST_REASON)
        case.is_open, case.cause = False, cause
        case.save(update_fields=("is_open", "cause"))
        CaseEvent.objects.create(
            case=case,
            is_closing=True,
            cause=cause,
            remedy=given["remedy"],
            note=given["note"].strip(),
            thought=thought,
            by=who,
        )
        after = {"case": case.number, "cause": cause, "remedy": given["remedy"], "note": given["note"]}
        trail.record(who, "case closed", case.loop, after=after)
        update_loop(case.loop)
    return case


def reopen_case(who: User, pk: Any, note: str) -> Case:
    """Open a closed case again.

    Raises
    ------
    Problem : it is open, or nobody says why.
    """
    with transaction.atomic():
        case = _held(pk)
        if case.is_open:
            raise Problem(409, "case_open", path="")
        if len(note.strip()) < SHORTEST_REASON:
            raise Problem(422, "reason_needed", path="note", least=SHORTEST_REASON)
        case.is_open, case.cause = True, ""
        case.save(update_fields=("is_open", "cause"))
        CaseEvent.objects.create(case=case, is_closing=False, note=note.strip(), by=who)
        trail.record(who, "case opened again", case.loop, after={"case": case.number, "note": note})
        update_loop(case.loop)
    return case


def case_answer(case: Case) -> Json:
    """A case with its evidence and what became of it."""
    words = CaseWords(case.loop.site.region)
    return {
        "id": case.pk,
        "number": case.number,
        "loop": case.loop_id,
        "gang": case.gang_id,
        "gang_position": case.gang.position,
        "gang_name": case.gang.name,
        "is_open": case.is_open,
        "told": [{**entry, "period_s": entry.get("period_s"), "text": words.told(entry)} for entry in case.told],
        "heard": case.heard,
        "since": case.since,
        "note": case.note,
        "at": case.made_at or case.at,
        "by": name_of(case.by),
        "evidence": [
            {
                "id": row.pk,
                "test": row.data["test"],
                "title": words.test(row.data["test"]),
                "text": words.found(row.data),
                "note": row.note,
                "at": row.made_at or row.at,
                "by": name_of(row.by),
                "struck_reason": row.struck_reason,
            }
            for row in case.evidence.select_related("by")
        ],
        "events": [
            {
                "is_closing": event.is_closing,
                "text": words.texts["closed" if event.is_closing else "reopened"],
                "cause": event.cause,
                "cause_text": words.cause(event.cause) if event.cause else "",
                "remedy_text": words.remedy(event.remedy) if event.remedy else "",
                "note": event.note,
                "at": event.at,
                "by": name_of(event.by),
            }
            for event in case.events.select_related("by")
        ],
    }


def cases_answer(loop: Loop) -> Json:
    """The cases of a loop, newest first, and what one can be opened and closed with."""
    words = CaseWords(loop.site.region)
    rows = Case.objects.filter(loop=loop).select_related("by", "gang", "loop__site")
    known = knowledge()
    return {
        "cases": [case_answer(row) for row in rows],
        "symptoms": words.symptoms(),
        "causes": [
            {"code": code, "text": words.cause(code), "area_text": words.texts["areas"][of.area.value]}
            for code, of in known.causes.items()
        ]
        + [{"code": NONE, "text": words.cause(NONE), "area_text": ""}],
        "remedies": [{"code": code, "text": words.remedy(code)} for code in known.remedies],
        "isolated": catalogue("proving")["isolated"] if is_isolated(loop) else "",
    }
