"""Cutting the power and putting it back, on record."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from accounts.models import User
from audit import trail
from ember_core.errors import InputError, InputErrors
from ember_core.survey import isolation as rules
from ember_server.problems import Problem, StaleVersion
from loops.models import Loop
from sites.models import Circuit
from survey.models import Isolation
from survey.services.documents import box_of, open_isolation, survey_of

Json = dict[str, Any]
FLAGS = (
    "is_locked_off",
    "is_tester_proved_before",
    "is_tester_proved_after",
    "has_electronic_control",
    "is_discharged",
)


def isolation_data(row: Isolation) -> Json:
    """An isolation as the trail keeps it."""
    return {
        "id": str(row.pk),
        "scope": row.scope,
        "breakers": [circuit.breaker for circuit in row.circuits.all()],
        **{flag: getattr(row, flag) for flag in FLAGS},
        "tests": row.tests,
        "closed": row.closed_at is not None,
        "version": row.version,
    }


def open_new(who: User, loop_pk: Any, isolation_pk: Any, given: Json) -> Isolation:
    """Begin an isolation; the same identity twice is the same one."""
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = Isolation.objects.filter(pk=isolation_pk).first()
        if known is not None:
            if known.loop_id != loop.pk:
                raise Problem(409, "reading_differs", path="id")
            return known
        if open_isolation(loop) is not None:
            raise Problem(409, "isolation_already_open", path="scope")
        circuits = _circuits(loop, given["circuits"])
        row = Isolation.objects.create(
            pk=isolation_pk,
            loop=loop,
            scope=given["scope"],
            opened_by=who,
            **{flag: given.get(flag, False) for flag in FLAGS},
        )
        row.circuits.set(circuits)
        trail.record(who, "isolated", loop, after=isolation_data(row))
    return row


def _circuits(loop: Loop, wanted: list[Any]) -> list[Circuit]:
    found = list(Circuit.objects.filter(pk__in=wanted))
    if len(found) != len(set(wanted)) or any(circuit.site_id != loop.site_id for circuit in found):
        raise Problem(422, "circuit_of_other_site", path="circuits")
    return found


def _locked(pk: Any, version: int) -> Isolation:
    """An open isolation of the version that the caller saw."""
    row = Isolation.objects.select_for_update().select_related("loop__site").get(pk=pk)
    if row.closed_at is not None:
        raise Problem(409, "isolation_closed", path="")
    if row.version != version:
        raise StaleVersion(yours=version, current_version=row.version, current=isolation_data(row))
    return row


def change(who: User, pk: Any, version: int, given: Json) -> Isolation:
    """Change what is recorded of an open isolation."""
    with transaction.atomic():
        row = _locked(pk, version)
        before = isolation_data(row)
        for name in ("scope", *FLAGS):
            if name in given:
                setattr(row, name, given[name])
        if "circuits" in given:
            row.circuits.set(_circuits(row.loop, given["circuits"]))
        row.version += 1
        row.save()
        trail.record(who, "isolation changed", row.loop, before=before, after=isolation_data(row))
    return row


def add_tests(who: User, pk: Any, version: int, tests: list[Json]) -> Isolation:
    """Add readings of proving dead; a later one of the same pair counts, the earlier stays on record."""
    with transaction.atomic():
        row = _locked(pk, version)
        names = [conductor.id for conductor in box_of(survey_of(row.loop).box).conductors]
        at = timezone.now().isoformat()
        for k, test in enumerate(tests):
            made = rules.DeadTest(a=test["a"], b=test["b"], v=test["v"])
            try:
                rules.check_test(made, names, row.loop.site.v_rms, f"tests[{k}]")
            except InputError as error:
                raise InputErrors([error]) from error
        row.tests = [*row.tests, *({**test, "at": at} for test in tests)]
        row.version += 1
        row.save()
        trail.record(who, "tested dead", row.loop, after={"isolation": str(row.pk), "tests": tests})
    return row


def close(who: User, pk: Any, version: int, note: str) -> Isolation:
    """Put the power back; recorded with who and when."""
    with transaction.atomic():
        row = _locked(pk, version)
        row.closed_at, row.closed_by, row.closing_note = timezone.now(), who, note
        row.version += 1
        row.save()
        trail.record(who, "re-energised", row.loop, after=isolation_data(row))
    return row
