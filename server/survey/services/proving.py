"""Proving a box dead, event by event, in the order that core's rules allow."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from common.problems import Problem
from ember_core.errors import InputError, InputErrors
from ember_core.survey import isolation as rules
from loops.models import Loop
from survey.models import Proof, ProofEvent
from survey.services.covering import (
    bench_of,
    circuits_of,
    core_proof,
    cover_of,
    end_proofs,
    hold_power,
    is_control_fitted,
    open_isolations,
    touching,
)
from survey.services.documents import survey_of
from survey.services.metering import taken_from
from survey.services.words import Words

Json = dict[str, Any]
_SAME = ("kind", "a", "b", "v", "charge")


def add_event(who: User, loop_pk: Any, given: Json) -> ProofEvent:
    """Record one event of a proof; a tester proved before the test begins a new one.

    Parameters
    ----------
    given : `id`, `proof`, `place`, `kind`, `a`, `b`, `v`, `charge`, `meter_value`, `made_at`.

    Raises
    ------
    InputErrors, Problem : not isolated under one's own lock, the order is another, the proof failed or ended.
    """
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = ProofEvent.objects.filter(pk=given["id"]).select_related("proof").first()
        if known is not None:
            same = all(getattr(known, name) == given[name] for name in _SAME)
            if not same or known.proof_id != given["proof"] or known.proof.loop_id != loop.pk:
                raise Problem(409, "entry_differs", path="id")
            return known
        survey = survey_of(loop, given["place"])
        circuits = circuits_of(survey, loop)
        hold_power(loop.site_id)
        isolations = list(open_isolations(loop.site_id))
        cover = cover_of(circuits, isolations, who)
        if missing := rules.cover_shortfalls(cover):
            reasons = [Words(loop.site.region).finding(finding, "shortfalls") for finding in missing]
            raise Problem(422, "not_isolated_for_you", path="", extra={"reasons": reasons}, reason=reasons[0]["text"])
        row = _proof(who, loop, given)
        bench = bench_of(loop, survey, cover)
        is_new = row._state.adding
        if is_new:
            row.conductors, row.points = list(bench.conductors), sorted(cover.holding)
        origin = taken_from(who, loop, given, {"v": given["v"]})
        try:
            _check(core_proof(row), given, bench, loop)
        except InputError as error:
            raise InputErrors([error]) from error
        if is_new:
            end_proofs(loop.pk, "taken_anew", given["place"])
            row.save(force_insert=True)
            row.isolations.set(touching(circuits, isolations))
        event = ProofEvent.objects.create(
            pk=given["id"],
            number=row.events.count() + 1,
            proof=row,
            by=who,
            made_at=given["made_at"],
            **{name: given[name] for name in _SAME},
            **origin,
        )
        trail.record(
            who,
            "proving dead",
            loop,
            after={"proof": str(row.pk), **{name: given[name] for name in _SAME}, "origin": event.origin},
        )
    return event


def _proof(who: User, loop: Loop, given: Json) -> Proof:
    """The proof that an event belongs to; a new one only where a tester is proved first."""
    found = Proof.objects.filter(pk=given["proof"]).first()
    if found is None:
        if given["kind"] != rules.EventKind.TESTER_BEFORE:
            raise Problem(422, "tester_before_first", path="kind")
        return Proof(pk=given["proof"], loop=loop, place=given["place"], by=who)
    if found.loop_id != loop.pk or found.place != given["place"]:
        raise Problem(409, "entry_differs", path="proof")
    return found


def _check(proof: rules.Proof, given: Json, bench: rules.Bench, loop: Loop) -> None:
    """Core's rules on what may come next; a proof that no longer counts takes nothing more."""
    if proof.events and not proof.live and (reason := rules.end_reason(proof, bench)):
        raise InputError("proof_ended", path="proof", reason=reason)
    event = rules.ProofEvent(
        kind=rules.EventKind(given["kind"]),
        at_s=bench.now_s,
        a=given["a"],
        b=given["b"],
        v=given["v"],
        charge=rules.Charge(given["charge"]) if given["charge"] else None,
    )
    rules.check_event(proof, event, v_rms=loop.site.v_rms, is_control_fitted=is_control_fitted(loop))
