"""What is said of isolation, proof and steps of a box: states and reasons from core, in words."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from accounts.models import User
from ember_core.findings import Severity
from ember_core.survey import isolation as rules
from ember_core.survey.box import METAL_BOX
from ember_core.survey.inference import Certainty
from ember_core.survey.judge import BoxJudgement
from loops.models import Loop
from sites.access import visible
from sites.models import Circuit
from survey.models import Isolation, Lock, Origin, Proof, ProofEvent, StepMark, Survey
from survey.services.covering import (
    bench_of,
    core_event,
    core_proof,
    cover_of,
    is_control_fitted,
    locks_on,
    open_isolations,
    touching,
)
from survey.services.words import Words

Json = dict[str, Any]


def name_of(person: User | None) -> str:
    """Whose entry it is."""
    return str(person) if person else ""


def taken_answer(row: Any) -> Json:
    """When, by whom and with what a value was taken."""
    return {
        "origin": row.origin,
        "meter_identity": row.meter_identity,
        "is_simulated": row.origin == Origin.SIMULATED,
        "made_at": row.made_at,
        "at": row.at,
        "by": name_of(row.by),
    }


def last_marks(loop: Loop, place: int) -> dict[str, StepMark]:
    """The newest mark of each step at a box."""
    return {mark.step: mark for mark in StepMark.objects.filter(loop=loop, place=place).select_related("by")}


def facts_of(loop: Loop, survey: Survey, judgement: BoxJudgement, last: dict[str, StepMark]) -> rules.BoxFacts:
    """What of the box the gates ask for."""
    return rules.BoxFacts(
        has_photo=loop.photos.filter(moment="before", place=survey.place).exists(),
        unmarked=tuple(entry["id"] for entry in survey.box.get("conductors", []) if entry.get("label") is None),
        in_doubt=tuple(
            entry.conductor
            for entry in judgement.conductors
            if entry.conductor != METAL_BOX and entry.certainty is not Certainty.SURE
        ),
        done={rules.Step(step) for step, mark in last.items() if mark.is_done},
    )


def safety_answer(
    loop: Loop, survey: Survey, circuits: list[Circuit], judgement: BoxJudgement, words: Words, who: User
) -> Json:
    """Isolations that concern the box, its proofs, and its steps with what stands against each."""
    isolations = touching(circuits, open_isolations(loop.site_id))
    cover = cover_of(circuits, isolations, who)
    bench = bench_of(loop, survey, cover)
    proofs = list(
        Proof.objects.filter(loop=loop, place=survey.place).select_related("by").prefetch_related("events__by")
    )
    newest = proofs[0] if proofs else None
    core = None if newest is None else core_proof(newest)
    last = last_marks(loop, survey.place)
    facts = facts_of(loop, survey, judgement, last)
    past = (
        Isolation.objects.filter(loop=loop)
        .exclude(closed_at=None)
        .select_related("loop", "opened_by", "closed_by")
        .prefetch_related("circuits", "locks__person", "locks__off_by", "locks__loop")
    )
    return {
        "isolations": [isolation_answer(row, who) for row in isolations],
        "past_isolations": [isolation_answer(row, who) for row in past],
        "is_off": cover.touches,
        "cover_missing": [words.finding(finding, "shortfalls") for finding in rules.cover_shortfalls(cover)],
        "proof": {
            "state": rules.state_of(core, bench).value,
            "missing": [words.finding(finding, "shortfalls") for finding in rules.proof_shortfalls(core, bench)],
            "dead_limit_v": rules.DEAD_LIMIT_V,
            "lasts_s": bench.lasts_s,
            "is_control_fitted": is_control_fitted(loop),
            "is_simulated": core is not None and any(event.is_simulated for event in core.events),
            "current": None if newest is None else proof_answer(newest, words),
            "pairs": [{"a": a, "b": b, "text": _pair(a, b, words)} for a, b in rules.needed_pairs(bench.conductors)],
            "holds_until": _holds_until(core, bench),
        },
        "past_proofs": [proof_answer(row, words) for row in proofs[1:]],
        "steps": [_step(step, last.get(step.value), facts, core, bench, words) for step in rules.Step],
    }


def _holds_until(proof: rules.Proof | None, bench: rules.Bench) -> datetime | None:
    """When a whole proof that counts becomes too old."""
    if proof is None or rules.state_of(proof, bench) is not rules.ProofState.PROVED:
        return None
    return datetime.fromtimestamp(proof.events[0].at_s + bench.lasts_s, tz=UTC)


def _step(
    step: rules.Step,
    mark: StepMark | None,
    facts: rules.BoxFacts,
    proof: rules.Proof | None,
    bench: rules.Bench,
    words: Words,
) -> Json:
    missing = rules.step_shortfalls(step, facts, proof, bench)
    return {
        "step": step.value,
        "text": words.text("steps", step.value),
        "is_done": bool(mark and mark.is_done),
        "at": mark.at if mark else None,
        "by": name_of(mark.by) if mark else "",
        "override_reason": mark.override_reason if mark and mark.is_done else "",
        "missing": [words.finding(finding, "shortfalls") for finding in missing],
        "may_override": bool(missing) and all(finding.severity is Severity.WARN for finding in missing),
    }


def proof_answer(row: Proof, words: Words) -> Json:
    """One proof with all its events in order, and the pairs that come next."""
    core = core_proof(row)
    return {
        "id": str(row.pk),
        "at": row.at,
        "by": name_of(row.by),
        "ended_at": row.ended_at,
        "ended_text": words.text("shortfalls", f"proof_{row.ended_reason}") if row.ended_reason else "",
        "conductors": row.conductors,
        "is_tester_proved_before": core.has(rules.EventKind.TESTER_BEFORE),
        "is_tester_proved_after": core.has(rules.EventKind.TESTER_AFTER),
        "is_charge_recorded": core.has(rules.EventKind.CHARGE),
        "events": [event_answer(event, words) for event in row.events.all()],
        "next_pairs": [{"a": a, "b": b, "text": _pair(a, b, words)} for a, b in core.open_pairs()],
    }


def _pair(a: str, b: str, words: Words) -> str:
    return f"{words.end(a)} – {words.end(b)}"


def event_answer(row: ProofEvent, words: Words) -> Json:
    """One event of a proof, in words."""
    is_reading = row.kind == rules.EventKind.READING
    return {
        "id": str(row.pk),
        "kind": row.kind,
        "text": _pair(row.a, row.b, words) if is_reading else words.text("proof_events", row.charge or row.kind),
        "v": row.v,
        "is_live": is_reading and core_event(row).is_live,
        **taken_answer(row),
    }


def isolation_answer(row: Isolation, who: User, loops: list[Json] | None = None) -> Json:
    """One isolation: what is off, since when, who began it where, and whose locks are on."""
    on = locks_on(row)
    return {
        "id": str(row.pk),
        "site": str(row.site_id),
        "scope": row.scope,
        "circuits": [str(circuit.pk) for circuit in row.circuits.all()],
        "breakers": [circuit.breaker for circuit in row.circuits.all()],
        "loop": str(row.loop_id),
        "loop_name": row.loop.name,
        "opened_at": row.opened_at,
        "opened_by": name_of(row.opened_by),
        "closed_at": row.closed_at,
        "closed_by": name_of(row.closed_by) if row.closed_at else "",
        "closing_note": row.closing_note,
        "locks": [_lock(lock, who) for lock in row.locks.all()],
        "is_locked": bool(on),
        "is_mine": any(lock.person_id == who.pk for lock in on),
        "loops": loops or [],
    }


def _lock(lock: Lock, who: User) -> Json:
    return {
        "id": str(lock.pk),
        "person": name_of(lock.person),
        "is_mine": lock.person_id == who.pk,
        "is_on": lock.off_at is None,
        "loop_name": lock.loop.name,
        "put_at": lock.put_at,
        "off_at": lock.off_at,
        "off_by": name_of(lock.off_by) if lock.off_at else "",
        "off_reason": lock.off_reason,
    }


def board_answer(who: User, site_pk: Any = None) -> list[Json]:
    """Every open isolation (of one site), with the loops that are dark by it; a fixed number of queries."""
    rows = visible(Isolation, who).filter(closed_at=None)
    if site_pk is not None:
        rows = rows.filter(site=site_pk)
    found = list(
        rows.select_related("loop", "opened_by", "site")
        .prefetch_related("circuits", "locks__person", "locks__loop", "locks__off_by")
        .order_by("opened_at", "id")
    )
    sites = {row.site_id for row in found}
    loops = Loop.objects.filter(site__in=sites).prefetch_related("surveys__other_circuits").order_by("name")
    feeding = [
        (loop, {loop.circuit_id, *(c.pk for survey in loop.surveys.all() for c in survey.other_circuits.all())})
        for loop in loops
    ]
    answer = []
    for row in found:
        off = {circuit.pk for circuit in row.circuits.all()}
        dark = [
            {"id": str(loop.pk), "name": loop.name}
            for loop, fed in feeding
            if loop.site_id == row.site_id and (row.scope == rules.Scope.WHOLE or fed & off)
        ]
        answer.append({**isolation_answer(row, who, dark), "site_name": row.site.name, "zone": row.site.zone})
    return answer
