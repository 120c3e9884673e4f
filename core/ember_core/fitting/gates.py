"""What stands against a step, and which one comes next: the same rules for the screen and for the record."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from ember_core.findings import Finding, Severity
from ember_core.fitting.steps import Act, Power, Step, after_of
from ember_core.routes.lines import LineKind
from ember_core.survey import isolation


class Outcome(StrEnum):
    """What became of a step."""

    OPEN = "open"
    DONE = "done"
    SKIPPED = "skipped"  # not needed, and why
    TROUBLE = "trouble"


SETTLED = (Outcome.DONE, Outcome.SKIPPED)


@dataclass(frozen=True, slots=True, kw_only=True)
class Here:
    """What keeps the power off a place, for one person, now.

    Parameters
    ----------
    proof : the newest at this place; None while nobody began one.
    """

    cover: isolation.Cover
    bench: isolation.Bench
    proof: isolation.Proof | None = None
    has_photo: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Record:
    """What is on record of the steps.

    Parameters
    ----------
    outcome : of each step that somebody marked. at_s : when its newest mark was made, on the clock of the proofs [s].
    """

    outcome: Mapping[str, Outcome] = field(default_factory=dict)
    at_s: Mapping[str, float] = field(default_factory=dict)

    def is_settled(self, key: str) -> bool:
        """Done, or not needed."""
        return self.outcome.get(key, Outcome.OPEN) in SETTLED


def shortfalls(step: Step, record: Record, places: Mapping[str, Here]) -> tuple[Finding, ...]:
    """What stands against marking a step done; nobody can override any of it.

    Parameters
    ----------
    places : every place of the work.
    """
    found: list[Finding] = []
    if step.power is Power.ON:
        found += _on(places)
    elif step.place in places:
        found += _off(step, record, places[step.place])
    left = [key for key in step.after if not record.is_settled(key)]
    if left:
        found.append(_stop("step_before_it", step=left[0], count=len(left)))
    if step.act is Act.PHOTOGRAPH and step.place in places and not places[step.place].has_photo:
        found.append(_stop("no_photo_yet"))
    return tuple(found)


def _on(places: Mapping[str, Here]) -> list[Finding]:
    """With the power on nothing of the loop may be isolated any more."""
    return [_stop("still_isolated")] if any(here.cover.touches for here in places.values()) else []


def _off(step: Step, record: Record, here: Here) -> list[Finding]:
    found = list(isolation.cover_shortfalls(here.cover))
    if found or step.power is Power.ISOLATED:
        return found
    found = list(isolation.proof_shortfalls(here.proof, here.bench))
    powered = record.at_s.get("power_on")
    is_second = step.act in (Act.SAFE_AGAIN, Act.FIX, Act.EARTH_SCREW, Act.PLATE)
    # A proof from before the power was on says nothing of now.
    is_older = powered is not None and here.proof is not None and here.proof.events[0].at_s <= powered
    if not found and is_second and is_older:
        found.append(_stop("proof_before_power"))
    return found


def next_step(steps: Sequence[Step], record: Record) -> Step | None:
    """The first that is neither done nor left out; None when all are."""
    return next((step for step in steps if not record.is_settled(step.key)), None)


def rests_on(step: Step, steps: Sequence[Step], record: Record) -> tuple[str, ...]:
    """Steps that are done or left out and rest on this one: they are taken back first."""
    later = after_of(steps).get(step.key, ())
    return tuple(key for key in later if record.is_settled(key))


# From the first core that leaves its seat until everything is held.
_HANDS = (Act.PART, Act.LINE, Act.TUG, Act.FOLD, Act.HOLD, Act.CLOSE)


def parted_places(steps: Sequence[Step], record: Record) -> tuple[str, ...]:
    """Places where cores have been parted or moved, and where not everything sits, is pulled at and held yet."""
    here = [step for step in steps if step.act in _HANDS]
    begun = {step.place for step in here if _moves(step) and record.is_settled(step.key)}
    still = {step.place for step in here if not record.is_settled(step.key)}
    return tuple(dict.fromkeys(step.place for step in here if step.place in begun & still))


def _moves(step: Step) -> bool:
    """A sleeve moves nothing."""
    return step.act is Act.PART or (step.line is not None and step.line.kind is not LineKind.SLEEVE)


def _stop(code: str, **params: float | int | str) -> Finding:
    return Finding(code=code, severity=Severity.STOP, params=params)
