"""Where a loop stands: the facts of its record for core, and what comes next of one that is proved."""

from __future__ import annotations

from typing import Any

from ember_core.handover.stages import Facts, Stage, Standing, standing_of
from ember_core.proving.items import Outcome
from fitting.services import standing as fitting
from handover.models import Issue, Rules, Signer
from judging.verdicts import WorksWord
from loops.models import FitStatus, Gang, Loop, NextStep
from loops.services.seen import Seen
from proving.models import Case
from proving.services import listing as proving
from setup.services.houses import house_of
from setup.services.marks import joined_at
from survey.models import Survey
from visits.models import PlanJob
from work.models import RouteChoice

Json = dict[str, Any]


def rules() -> Rules:
    """What the firm wants; what is usual where nobody said."""
    return Rules.objects.first() or Rules(version=0)


def wanted_signers(of: Rules) -> tuple[Signer, ...]:
    """Who signs an issue, in order."""
    wanted = [Signer.TECHNICIAN]
    if of.needs_client:
        wanted.append(Signer.CLIENT)
    if of.needs_checker:
        wanted.append(Signer.CHECKER)
    return tuple(wanted)


def missing_signers(issue: Issue) -> tuple[Signer, ...]:
    """Whose signatures an issue still lacks, by the rules of its day: other rules later take nothing back."""
    there = {row.role for row in issue.signatures.all()}
    return tuple(Signer(role) for role in issue.wants if role not in there)


def is_asked_back(issue: Issue) -> bool:
    """A checker wants something first."""
    return hasattr(issue, "ask_back")


def waits_for(issue: Issue) -> str:
    """For whom an issue waits: a signer, an `answer` to who asked back, or `nothing`."""
    if is_asked_back(issue):
        return "answer"
    missing = missing_signers(issue)
    return missing[0].value if missing else "nothing"


def issues_seen(seen: Seen) -> list[Issue]:
    """The issues of a loop without what they froze, the newest first; a question to what was seen of it."""
    rows = Issue.objects.filter(loop=seen.loop).defer("content", "pdf")
    return list(rows.select_related("ask_back").prefetch_related("signatures"))


def facts_seen(seen: Seen) -> Facts:
    """What is on record of a loop, as a question to what was seen of it."""
    loop = seen.loop
    boxes = [survey for survey in Survey.boxes.filter(loop=loop) if survey.box.get("conductors")]
    fit = seen.of(fitting.standing_seen)
    prove = seen.of(proving.prove_seen)
    gangs = prove.gangs
    outcomes = [prove.counted[item.key].outcome if item.key in prove.counted else Outcome.OPEN for item in prove.items]
    issues = seen.of(issues_seen)
    newest = issues[0] if issues else None
    return Facts(
        boxes=len(boxes),
        boxes_known=sum(survey.is_known for survey in boxes),
        gangs=len(gangs),
        gangs_judged=sum(gang.works != WorksWord.UNKNOWN for gang in gangs),
        has_way=fit is not None,
        is_planned=PlanJob.objects.filter(loop=loop, visit__isnull=False).exists()
        or RouteChoice.objects.filter(loop=loop, begun_at__isnull=False).exists(),
        steps=0 if fit is None else len(fit.steps),
        steps_left=0 if fit is None else sum(not fit.record.is_settled(step.key) for step in fit.steps),
        parts_hang=bool(gangs) and _parts_hang(gangs),
        items=len(outcomes),
        items_left=outcomes.count(Outcome.OPEN),
        items_failed=outcomes.count(Outcome.FAILED),
        open_cases=Case.objects.filter(loop=loop, is_open=True).count(),
        issues=len(issues),
        is_signed=newest is not None and not missing_signers(newest),
        is_held=newest is not None and newest.basis == prove.basis,
        was_handed_over=any(not missing_signers(issue) for issue in issues),
    )


def _parts_hang(gangs: tuple[Gang, ...]) -> bool:
    """Every gang has a control and lamps, and whatever is on record of it is fitted."""
    if any(getattr(gang, "control", None) is None for gang in gangs):
        return False
    parts = [part for gang in gangs for part in (gang.control, *gang.bypasses.all(), *gang.lamps.all())]
    return all(part.status == FitStatus.FITTED for part in parts) and all(gang.lamps.all() for gang in gangs)


def loop_standing(loop: Loop, seen: Seen | None = None) -> Standing:
    """Where a loop stands.

    Parameters
    ----------
    seen : what the caller has found of it already.
    """
    return standing_of((seen or Seen(loop)).of(facts_seen))


def stage_word(seen: Seen) -> str:
    """The same as a word, for the round."""
    return standing_of(seen.of(facts_seen)).stage.value


def next_of(seen: Seen, step: NextStep) -> NextStep | None:
    """What is proved is joined where it has a radio, and then handed over; what is handed over wants nothing.

    What only a checker has still to sign is no work of whoever made it any more.
    """
    loop = seen.loop
    if loop.stage == Stage.HANDED_OVER:
        return NextStep.DONE
    if loop.stage != Stage.PROVED or (loop.chosen.get("on_bench") and step != NextStep.SHEET):
        # What the bench would still change goes first.
        return None
    issues = seen.of(issues_seen)
    if not issues and has_to_join(loop):
        return NextStep.SETUP
    is_with_checker = bool(issues) and seen.of(facts_seen).is_held and waits_for(issues[0]) == Signer.CHECKER
    return NextStep.CHECK if is_with_checker else NextStep.HAND_OVER


def has_to_join(loop: Loop) -> bool:
    """Some control of it is meant for a hub, and has not joined."""
    gangs = {str(pk) for pk in Gang.objects.filter(loop=loop).values_list("pk", flat=True)}
    meant = [device for device in house_of(loop.site).devices if device.gang in gangs and device.hub]
    joined = joined_at(loop.site) if meant else {}
    return any(device.id not in joined.get(device.hub, set()) for device in meant)
