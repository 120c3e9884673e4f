"""Isolation: what must be on record, and in which order, before a step counts as done on a dead circuit.

An isolation is of lock points (breakers, or the main switch) and of persons: everybody who works under it has a
lock of their own on it. Proving dead is of one box, is taken in one order, and does not outlive what it rests on.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations

from ember_core.errors import InputError
from ember_core.findings import Finding, Severity

# A two-pole tester shows less than this on a dead conductor [V]; anything above keeps the work closed.
# Assumption: well below the 50 V limit of extra-low voltage, above the residue a loaded tester shows.
DEAD_LIMIT_V = 10.0
EARTH_POINT = "known_earth"
# How long a proof counts when a site says nothing else [s], and what a site may say. Assumption: half a working
# day; whoever comes back after that proves anew.
PROOF_LASTS_S = 4 * 3600.0
LEAST_PROOF_LASTS_S, MOST_PROOF_LASTS_S = 300.0, 12 * 3600.0
# A reading between two points cannot be more than this many times the supply.
_MOST_RATIO = 2.2


class Scope(StrEnum):
    """Two schools of isolating."""

    BREAKERS = "breakers"
    WHOLE = "whole_installation"


@dataclass(frozen=True, slots=True, kw_only=True)
class LockPoint:
    """A breaker that feeds the box, or the main switch, as it stands now.

    Parameters
    ----------
    name : of the breaker. is_off : an open isolation names it. is_locked : somebody's lock is on it.
    is_mine : the lock of the person who asks is on it.
    """

    name: str
    is_off: bool
    is_locked: bool
    is_mine: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Cover:
    """What keeps the power off one box, for one person.

    Parameters
    ----------
    breakers : every breaker recorded as feeding the box. main : the whole installation's own lock point.
    """

    breakers: tuple[LockPoint, ...]
    main: LockPoint

    @property
    def touches(self) -> bool:
        """Some of the box is switched off."""
        return self.main.is_off or any(point.is_off for point in self.breakers)

    @property
    def is_dead_on_record(self) -> bool:
        """Everything that is known to feed the box is switched off."""
        return self.main.is_off or (bool(self.breakers) and all(point.is_off for point in self.breakers))

    @property
    def holding(self) -> frozenset[str]:
        """Names of the lock points that are off and locked: what a proof rests on."""
        points = (*self.breakers, self.main)
        return frozenset(point.name for point in points if point.is_off and point.is_locked)


def cover_shortfalls(cover: Cover) -> tuple[Finding, ...]:
    """What is missing before anybody opens the box; empty when nothing is."""
    if not cover.touches:
        return (_stop("no_isolation_open"),)
    found = []
    if not cover.main.is_off:
        if not cover.breakers:
            found.append(_stop("breaker_of_box_unknown"))
        found += [_stop("breaker_not_off", breaker=point.name) for point in cover.breakers if not point.is_off]
    elif cover.main.is_mine:
        return ()
    off = [point for point in cover.breakers if point.is_off]
    if cover.main.is_off and not (off and len(off) == len(cover.breakers) and all(point.is_mine for point in off)):
        off = [cover.main]
    found += [_stop("no_lock_of_yours", breaker=point.name) for point in off if not point.is_mine]
    return tuple(found)


class EventKind(StrEnum):
    """What happens while a box is proved dead, in the only order it may."""

    TESTER_BEFORE = "tester_before"
    READING = "reading"
    TESTER_AFTER = "tester_after"
    CHARGE = "charge"


class Charge(StrEnum):
    """What became of the charge that an electronic control keeps."""

    NONE_FITTED = "none_fitted"
    DISCHARGED = "discharged"


@dataclass(frozen=True, slots=True, kw_only=True)
class ProofEvent:
    """One thing done while proving.

    Parameters
    ----------
    at_s : when, seconds of any one clock. a, b, v : of a reading: between what, volts rms.
    charge : of the last event. is_simulated : the value came from a stand-in, not from a meter.
    """

    kind: EventKind
    at_s: float
    a: str = ""
    b: str = ""
    v: float | None = None
    charge: Charge | None = None
    is_simulated: bool = False

    @property
    def is_live(self) -> bool:
        """A reading that was not dead."""
        return self.kind is EventKind.READING and (self.v is None or self.v > DEAD_LIMIT_V)


@dataclass(frozen=True, slots=True, kw_only=True)
class Proof:
    """Proving one box dead, once.

    Parameters
    ----------
    conductors, points : the conductors and the locked-off points at its beginning: what it is a proof of.
    events : in the order they happened. ended : why it no longer counts, or empty.
    """

    conductors: tuple[str, ...]
    points: frozenset[str]
    events: tuple[ProofEvent, ...] = ()
    ended: str = ""

    @property
    def readings(self) -> tuple[ProofEvent, ...]:
        """Every reading, in order: none is ever replaced by a later one."""
        return tuple(event for event in self.events if event.kind is EventKind.READING)

    @property
    def live(self) -> tuple[ProofEvent, ...]:
        """Readings that were not dead. One is enough: the proof has failed, whatever is read after it."""
        return tuple(event for event in self.events if event.is_live)

    def has(self, kind: EventKind) -> bool:
        """An event of that kind happened."""
        return any(event.kind is kind for event in self.events)

    def open_pairs(self) -> list[tuple[str, str]]:
        """Pairs that no reading of this proof covers yet, in the order in which they are asked for."""
        done = {frozenset((event.a, event.b)) for event in self.readings}
        return [pair for pair in needed_pairs(self.conductors) if frozenset(pair) not in done]


class ProofState(StrEnum):
    """Where a proof stands."""

    NONE = "none"
    UNDER_WAY = "under_way"
    FAILED = "failed"
    PROVED = "proved"
    ENDED = "ended"


def needed_pairs(conductors: Sequence[str]) -> list[tuple[str, str]]:
    """Every conductor to earth, and every two conductors."""
    return [(name, EARTH_POINT) for name in conductors] + list(combinations(conductors, 2))


def check_event(proof: Proof, event: ProofEvent, *, v_rms: float, is_control_fitted: bool) -> None:
    """Whether an event may come next.

    Parameters
    ----------
    v_rms : the supply [V]. is_control_fitted : the record of the loop says that an electronic control is in.

    Raises
    ------
    InputError : the proof has ended or failed, the order is another, or the reading cannot be.
    """
    if proof.ended:
        raise InputError("proof_ended", path="proof")
    if proof.live:
        raise InputError("proof_failed", path="proof")
    if event.kind is EventKind.TESTER_BEFORE:
        if proof.events:
            raise InputError("tester_proved_already", path="kind")
        if not proof.conductors:
            raise InputError("no_conductor_to_prove", path="proof")
        return
    if not proof.has(EventKind.TESTER_BEFORE):
        raise InputError("tester_before_first", path="kind")
    if event.kind is EventKind.READING:
        _check_reading(proof, event, v_rms)
    elif event.kind is EventKind.TESTER_AFTER:
        if proof.has(EventKind.TESTER_AFTER):
            raise InputError("tester_proved_already", path="kind")
        if left := proof.open_pairs():
            raise InputError("pairs_before_tester", path="kind", count=len(left), a=left[0][0], b=left[0][1])
    else:
        _check_charge(proof, event, is_control_fitted)


def _check_reading(proof: Proof, event: ProofEvent, v_rms: float) -> None:
    if proof.has(EventKind.TESTER_AFTER):
        raise InputError("proof_is_closed", path="kind")
    known = {*proof.conductors, EARTH_POINT}
    for end, name in (("a", event.a), ("b", event.b)):
        if name not in known:
            raise InputError("no_such_conductor", path=end, conductor=name)
    if event.a == event.b:
        raise InputError("reading_to_itself", path="b", conductor=event.a)
    if event.v is None:
        raise InputError("reading_without_value", path="v")
    if not 0.0 <= event.v <= _MOST_RATIO * v_rms:
        raise InputError("reading_beyond_supply", path="v", v=event.v, v_most=round(_MOST_RATIO * v_rms), v_rms=v_rms)


def _check_charge(proof: Proof, event: ProofEvent, is_control_fitted: bool) -> None:
    if not proof.has(EventKind.TESTER_AFTER):
        raise InputError("tester_after_first", path="kind")
    if proof.has(EventKind.CHARGE):
        raise InputError("charge_recorded_already", path="kind")
    if event.charge is None:
        raise InputError("charge_without_answer", path="charge")
    if event.charge is Charge.NONE_FITTED and is_control_fitted:
        raise InputError("control_is_fitted", path="charge")


@dataclass(frozen=True, slots=True, kw_only=True)
class Bench:
    """What a proof is held against when it is asked for.

    Parameters
    ----------
    conductors : those listed now. cover : what keeps the power off now.
    now_s : the time, on the clock of the events. lasts_s : how long a proof counts at this site [s].
    simulated_counts : readings of a stand-in prove something here (demo, practice).
    """

    conductors: tuple[str, ...]
    cover: Cover
    now_s: float
    lasts_s: float = PROOF_LASTS_S
    simulated_counts: bool = False


def end_reason(proof: Proof, bench: Bench) -> str:
    """Why a proof no longer counts, as a code; empty while it does."""
    if proof.ended:
        return proof.ended
    if set(bench.conductors) - set(proof.conductors):
        return "new_conductor"
    if not proof.points or not proof.points <= bench.cover.holding or cover_gap(bench.cover, proof):
        return "lock_or_breaker_changed"
    if proof.events and bench.now_s - proof.events[0].at_s > bench.lasts_s:
        return "too_old"
    return ""


def cover_gap(cover: Cover, proof: Proof) -> bool:
    """Something feeds the box now that was not locked off when the proof began."""
    if cover.main.name in proof.points:
        return False
    return bool({point.name for point in cover.breakers} - proof.points)


def state_of(proof: Proof | None, bench: Bench) -> ProofState:
    """Where a proof stands now."""
    if proof is None:
        return ProofState.NONE
    if proof.live:
        return ProofState.FAILED
    if end_reason(proof, bench):
        return ProofState.ENDED
    return ProofState.UNDER_WAY if proof_shortfalls(proof, bench) else ProofState.PROVED


def proof_shortfalls(proof: Proof | None, bench: Bench) -> tuple[Finding, ...]:
    """What is missing of proving dead; empty only for a whole proof that still counts."""
    if not bench.conductors:
        return (_stop("no_conductor_listed"),)
    if proof is None:
        return (_stop("not_proved_yet"),)
    if proof.live:
        return tuple(
            _stop("still_live", a=event.a, b=event.b, v=event.v or 0.0, v_most=DEAD_LIMIT_V) for event in proof.live
        )
    if reason := end_reason(proof, bench):
        return (_stop(f"proof_{reason}"),)
    found = []
    if not proof.has(EventKind.TESTER_BEFORE):
        found.append(_stop("tester_not_proved_before"))
    if left := proof.open_pairs():
        found.append(_stop("pairs_not_tested", count=len(left), a=left[0][0], b=left[0][1]))
    if not proof.has(EventKind.TESTER_AFTER):
        found.append(_stop("tester_not_proved_after"))
    if not proof.has(EventKind.CHARGE):
        found.append(_stop("charge_not_recorded"))
    if not bench.simulated_counts and any(event.is_simulated for event in proof.events):
        found.append(_stop("proof_is_simulated"))
    return tuple(found)


class Step(StrEnum):
    """Steps at a box, in working order."""

    OPEN = "open"
    PHOTOGRAPH = "photograph"
    IDENTIFY_DEAD = "identify_dead"
    DISCONNECT = "disconnect"
    FIT = "fit"


class Needs(StrEnum):
    """What a step needs of the isolation."""

    NOTHING = "nothing"
    ISOLATED = "isolated"  # off, with one's own lock on it
    PROVED_DEAD = "proved_dead"  # and every conductor proved dead


@dataclass(frozen=True, slots=True, kw_only=True)
class _Gate:
    needs: Needs
    after: tuple[Step, ...] = ()


STEP_GATES: dict[Step, _Gate] = {
    Step.OPEN: _Gate(needs=Needs.ISOLATED),
    Step.PHOTOGRAPH: _Gate(needs=Needs.NOTHING, after=(Step.OPEN,)),
    Step.IDENTIFY_DEAD: _Gate(needs=Needs.PROVED_DEAD, after=(Step.OPEN,)),
    Step.DISCONNECT: _Gate(needs=Needs.PROVED_DEAD, after=(Step.OPEN, Step.PHOTOGRAPH)),
    Step.FIT: _Gate(needs=Needs.PROVED_DEAD, after=(Step.OPEN, Step.PHOTOGRAPH, Step.DISCONNECT)),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxFacts:
    """What of the box the steps ask for.

    Parameters
    ----------
    has_photo : one taken before anything was touched. unmarked : conductors with no mark put on.
    in_doubt : conductors whose role is not sure. done : steps marked done.
    """

    has_photo: bool
    unmarked: tuple[str, ...]
    in_doubt: tuple[str, ...]
    done: Collection[Step]


def step_shortfalls(step: Step, facts: BoxFacts, proof: Proof | None, bench: Bench) -> tuple[Finding, ...]:
    """What stands against marking a step done.

    Findings of severity *stop* (power, locks, proof) cannot be overridden by anybody; *warn* (order, photograph,
    marks, doubt) can, with a reason and a name.
    """
    gate = STEP_GATES[step]
    found: list[Finding] = []
    if gate.needs is not Needs.NOTHING:
        found += cover_shortfalls(bench.cover)
    if gate.needs is Needs.PROVED_DEAD and not found:
        found += proof_shortfalls(proof, bench)
    found += [_warn("step_before_it", before=before.value) for before in gate.after if before not in facts.done]
    if step is Step.PHOTOGRAPH and not facts.has_photo:
        found.append(_warn("no_photo_yet"))
    if step is Step.DISCONNECT and facts.unmarked:
        found.append(_warn("conductors_not_marked", count=len(facts.unmarked), conductor=facts.unmarked[0]))
    if step is Step.FIT and facts.in_doubt:
        found.append(_warn("conductor_in_doubt", count=len(facts.in_doubt), conductor=facts.in_doubt[0]))
    return tuple(found)


def later_done(step: Step, done: Collection[Step]) -> tuple[Step, ...]:
    """Steps that rest on this one and are done: they are taken back first."""
    return tuple(other for other, gate in STEP_GATES.items() if step in gate.after and other in done)


def _stop(code: str, **params: float | int | str) -> Finding:
    return Finding(code=code, severity=Severity.STOP, params=params)


def _warn(code: str, **params: float | int | str) -> Finding:
    return Finding(code=code, severity=Severity.WARN, params=params)
