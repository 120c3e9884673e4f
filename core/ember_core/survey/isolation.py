"""Isolation: what must be recorded before a step counts as done on a dead circuit."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations

from ember_core.errors import InputError
from ember_core.findings import Finding, Severity

# A two-pole tester shows less than this on a dead conductor [V]; anything above keeps the work closed.
# Assumption: well below the 50 V limit of extra-low voltage, above the residue a loaded tester shows.
DEAD_LIMIT_V = 10.0
EARTH_POINT = "known_earth"


class Scope(StrEnum):
    """Two schools of isolating."""

    BREAKERS = "breakers"
    WHOLE = "whole_installation"


class Step(StrEnum):
    """Steps of a visit, in working order."""

    PHOTOGRAPH = "photograph"
    OPEN = "open"
    IDENTIFY_DEAD = "identify_dead"
    DISCONNECT = "disconnect"
    FIT = "fit"


class Needs(StrEnum):
    """What a step needs of the isolation."""

    NOTHING = "nothing"
    ISOLATED = "isolated"  # off, locked, tester proved
    PROVED_DEAD = "proved_dead"  # and every conductor proved dead, tester proved again


STEP_NEEDS: dict[Step, Needs] = {
    Step.OPEN: Needs.ISOLATED,
    Step.PHOTOGRAPH: Needs.NOTHING,
    Step.IDENTIFY_DEAD: Needs.PROVED_DEAD,
    Step.DISCONNECT: Needs.PROVED_DEAD,
    Step.FIT: Needs.PROVED_DEAD,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class DeadTest:
    """Volts between two conductors, or a conductor and earth, with the circuit isolated."""

    a: str
    b: str
    v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Isolation:
    """One time that power is cut.

    Parameters
    ----------
    breaker_count : breakers recorded as switched off; at least one unless the whole installation is off.
    is_discharged : residual charge of an electronic control already fitted is gone; None where there is none.
    """

    scope: Scope
    breaker_count: int
    is_locked_off: bool
    is_tester_proved_before: bool
    is_tester_proved_after: bool
    has_electronic_control: bool
    is_discharged: bool
    is_open: bool
    tests: tuple[DeadTest, ...] = ()


def needed_pairs(conductors: Sequence[str]) -> list[tuple[str, str]]:
    """Every conductor to earth, and every two conductors."""
    return [(name, EARTH_POINT) for name in conductors] + list(combinations(conductors, 2))


def check_test(test: DeadTest, conductors: Sequence[str], v_rms: float, path: str = "") -> None:
    """Raise `InputError` for a test between unknown points or beyond the supply."""
    known = {*conductors, EARTH_POINT}
    for end, name in (("a", test.a), ("b", test.b)):
        if name not in known:
            raise InputError("no_such_conductor", path=f"{path}.{end}".strip("."), conductor=name)
    if test.a == test.b:
        raise InputError("reading_to_itself", path=f"{path}.b".strip("."), conductor=test.a)
    if not 0.0 <= test.v <= 2.2 * v_rms:
        raise InputError(
            "reading_beyond_supply", path=f"{path}.v".strip("."), v=test.v, v_most=round(2.2 * v_rms), v_rms=v_rms
        )


def shortfalls(isolation: Isolation | None, conductors: Sequence[str], needs: Needs) -> tuple[Finding, ...]:
    """What is missing before a step that needs this may be marked done; empty when nothing is."""
    if needs is Needs.NOTHING:
        return ()
    if isolation is None or not isolation.is_open:
        return (_stop("no_isolation_open"),)
    found = []
    if isolation.scope is Scope.BREAKERS and isolation.breaker_count == 0:
        found.append(_stop("no_breaker_named"))
    if not isolation.is_locked_off:
        found.append(_stop("not_locked_off"))
    if not isolation.is_tester_proved_before:
        found.append(_stop("tester_not_proved_before"))
    found += [
        _stop("still_live", a=test.a, b=test.b, v=test.v, v_most=DEAD_LIMIT_V)
        for test in latest(isolation.tests).values()
        if test.v > DEAD_LIMIT_V
    ]
    if needs is Needs.PROVED_DEAD:
        found += _not_proved(isolation, conductors)
    return tuple(found)


def _not_proved(isolation: Isolation, conductors: Sequence[str]) -> list[Finding]:
    found = []
    if not conductors:
        found.append(_stop("no_conductor_listed"))
    done = latest(isolation.tests)
    missing = [pair for pair in needed_pairs(conductors) if frozenset(pair) not in done]
    if missing:
        found.append(_stop("pairs_not_tested", count=len(missing), a=missing[0][0], b=missing[0][1]))
    if not isolation.is_tester_proved_after:
        found.append(_stop("tester_not_proved_after"))
    if isolation.has_electronic_control and not isolation.is_discharged:
        found.append(_stop("charge_not_discharged"))
    return found


def latest(tests: Sequence[DeadTest]) -> dict[frozenset[str], DeadTest]:
    """The newest test of each pair."""
    return {frozenset((test.a, test.b)): test for test in tests}


def _stop(code: str, **params: float | int | str) -> Finding:
    return Finding(code=code, severity=Severity.STOP, params=params)
