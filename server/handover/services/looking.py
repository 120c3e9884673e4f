"""What a checker looks at first at a loop: what did not go the usual way, the gravest first."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime
from typing import Any

from django.db.models import prefetch_related_objects
from django.utils import translation

from accounts.models import User
from ember_core.errors import InputErrors
from ember_core.fitting.steps import Power
from ember_core.handover.unusual import DeadWork, Seen, Unusual, in_order, trace_gaps
from ember_core.proving.items import Outcome
from ember_core.sheet import Sheet
from ember_core.survey.isolation import Scope
from fitting.models import FitMark
from fitting.services.standing import made_s, standing_seen
from fitting.services.words import FitWords
from handover.models import Issue
from handover.services.lines import gaps_of
from instruments import stand_ins
from judging.services.spreading import complete
from judging.services.summing import overall_words
from judging.verdicts import WorksWord
from loops.basis import outdated
from loops.documents import sheet_document
from loops.models import Gang, Loop, MeasuredValue
from loops.services.seen import Seen as LoopSeen
from proving.models import CaseEvent, CaseEvidence, ProveMark
from proving.services.answers import prove_answer
from proving.services.reading import worth_answer
from setup.models import PairMark
from setup.services.houses import house_of
from sites.models import Circuit
from survey.models import Isolation, Origin, ProofEvent, StepMark, TakenReading
from survey.services.covering import circuits_of
from survey.services.documents import survey_of
from survey.services.record_pages import override_lines
from wording.moments import in_zone
from wording.texts import catalogue, fill
from work.services.points import number_of

Json = dict[str, Any]
# So much of what a meter calls itself is kept.
MOST_METER = 80
GOOD = (WorksWord.WORKS, WorksWord.PROBABLY)


def unusual_of(loop: Loop, seen: LoopSeen | None = None) -> tuple[Seen, ...]:
    """Everything unusual about a loop as it is on record now.

    Parameters
    ----------
    seen : what the caller has found of it already.
    """
    seen = seen or LoopSeen(loop)
    found = [Seen(kind=Unusual.OVERRIDE, what=text) for text in override_lines(loop)]
    found += trace_gaps(_dead_work(seen))
    found += _of_gangs(loop)
    found += _of_proving(seen)
    found += _skipped(seen)
    found += _simulated(loop)
    found += _wrong_label(loop.circuit)
    found += [Seen(kind=Unusual.STAGE_MISSED, what=text) for text in gaps_of(seen)]
    return in_order(found)


def unusual_in(loop: Loop, language: str, seen: LoopSeen) -> tuple[Seen, ...]:
    """The same in one language, in the time of the site."""
    with translation.override(language), in_zone(loop.site.zone):
        return unusual_of(loop, seen)


def unusual_answer(found: Collection[Seen]) -> list[Json]:
    """The same in words."""
    titles = catalogue("handover")["unusual"]
    return [{"kind": one.kind.value, "title": titles[one.kind.value], "text": one.what} for one in found]


def workers_of(loop: Loop) -> set[Any]:
    """Everybody who is on record with work at a loop."""
    return workers_at([loop])[loop.pk]


def workers_at(loops: Collection[Loop]) -> dict[Any, set[Any]]:
    """The same of many, by the loop: as many queries as for one, and one a site."""
    tables: tuple[tuple[Any, str], ...] = (
        (FitMark, "loop"),
        (ProveMark, "loop"),
        (StepMark, "loop"),
        (TakenReading, "loop"),
        (ProofEvent, "proof__loop"),
        (MeasuredValue, "gang__loop"),
        (CaseEvidence, "case__loop"),
        (CaseEvent, "case__loop"),
        (Issue, "loop"),
    )
    found: dict[Any, set[Any]] = {loop.pk: set() for loop in loops}
    for model, way in tables:
        rows = model.objects.filter(**{f"{way}__in": list(found)}).order_by().values_list(way, "by").distinct()
        for loop_pk, by in rows:
            found[loop_pk].add(by)
    loop_of = {str(pk): loop_pk for pk, loop_pk in Gang.objects.filter(loop__in=loops).values_list("pk", "loop")}
    for site in {loop.site_id: loop.site for loop in loops}.values():
        at = {device.id: loop_of[device.gang] for device in house_of(site).devices if device.gang in loop_of}
        for device, by in PairMark.objects.filter(site=site, device__in=list(at)).values_list("device", "by"):
            found[at[device]].add(by)
    return {loop_pk: people - {None} for loop_pk, people in found.items()}


def is_own_work(who: User, loop: Loop) -> bool:
    """Somebody would check what they did themselves."""
    return who.pk in workers_of(loop)


def _dead_work(seen: LoopSeen) -> list[DeadWork]:
    loop, standing = seen.loop, seen.of(standing_seen)
    if standing is None:
        return []
    words = FitWords(standing)
    isolations = list(Isolation.objects.filter(site=loop.site).prefetch_related("circuits"))
    whole = [row for row in isolations if row.scope == Scope.WHOLE]
    places = {step.place for step in standing.steps if step.place}
    prefetch_related_objects(list(standing.marks.values()), "proof")
    feeding = {place: circuits_of(survey_of(loop, number_of(place)), loop) for place in places}
    work = []
    for step in standing.steps:
        mark = standing.marks.get(step.key)
        if mark is None or not standing.record.is_settled(step.key) or step.power is not Power.DEAD or not step.place:
            continue
        if mark.outcome != "done":
            continue
        feeds = feeding[step.place]
        # Where nobody knows what feeds a place, only the whole installation keeps it off.
        over = [[*whole, *(row for row in isolations if circuit in row.circuits.all())] for circuit in feeds] or [whole]
        proof = mark.proof
        work.append(
            DeadWork(
                what=words.title(step.key),
                at_s=made_s(mark),
                off=tuple(tuple(_span(row) for row in rows) for rows in over),
                proved_s=None if proof is None else min(proof.at.timestamp(), made_s(mark)),
            )
        )
    return work


def _span(row: Isolation) -> tuple[float, float | None]:
    begun = min(row.opened_made_at or row.opened_at, row.opened_at)
    end: datetime | None = None if row.closed_at is None else min(row.closed_made_at or row.closed_at, row.closed_at)
    return begun.timestamp(), None if end is None else end.timestamp()


def _of_gangs(loop: Loop) -> list[Seen]:
    found = []
    texts = catalogue("handover")
    for gang in Gang.objects.filter(loop=loop).select_related("loop__site", "control").order_by("position"):
        name = gang.name or fill(texts["lines"]["gang"], {"number": gang.position})
        said = overall_words(gang.overall, _sheet(gang))
        if gang.works not in GOOD:
            found.append(Seen(kind=Unusual.NOT_SURE, what=f"{name}: {said['title']}. {said['text']}"))
        if reason := outdated(gang.judged_on, loop.site):
            found.append(Seen(kind=Unusual.OUTDATED, what=f"{name}: {catalogue('overall')['outdated'][reason]}"))
        if gang.overall.get("next_action") == "measure" and gang.overall.get("deciding_path"):
            found.append(Seen(kind=Unusual.ASSUMED, what=f"{name}: {said['next_text']}"))
        if MeasuredValue.objects.filter(gang=gang, struck_reason="").exists():
            found += _outside(gang, name)
    return found


def _sheet(gang: Gang) -> Sheet | None:
    """Its sheet, by which a figure that decides is named; None where it lacks a part."""
    try:
        return complete(sheet_document(gang))
    except InputErrors:
        return None


def _outside(gang: Gang, name: str) -> list[Seen]:
    """The newest reading with the parts in, where it is not as computed."""
    taken = worth_answer(gang)["taken"]
    if taken is None or taken["is_inside"]:
        return []
    return [Seen(kind=Unusual.READING_OUTSIDE, what=f"{name}: {taken['text']}")]


def _of_proving(seen: LoopSeen) -> list[Seen]:
    texts = catalogue("handover")
    return [
        Seen(kind=Unusual.EXCUSED, what=fill(texts["because"], {"what": item["title"], "reason": item["reason"]}))
        for item in prove_answer(seen.loop, seen)["items"]
        if item["outcome"] == Outcome.EXCUSED.value
    ]


def _skipped(seen: LoopSeen) -> list[Seen]:
    standing = seen.of(standing_seen)
    if standing is None:
        return []
    words, texts = FitWords(standing), catalogue("handover")
    return [
        Seen(kind=Unusual.SKIPPED, what=fill(texts["because"], {"what": words.title(key), "reason": mark.reason}))
        for key, mark in standing.marks.items()
        if mark.outcome == "skipped" and any(step.key == key for step in standing.steps)
    ]


def _simulated(loop: Loop) -> list[Seen]:
    """Readings that came from a stand-in prove nothing on a real circuit."""
    texts = catalogue("handover")
    proofs = ProofEvent.objects.filter(proof__loop=loop, origin=Origin.SIMULATED).count()
    rows = TakenReading.objects.filter(loop=loop, struck_reason="", origin=Origin.SIMULATED).count()
    measured = MeasuredValue.objects.filter(
        gang__loop=loop, struck_reason="", meter__startswith=stand_ins.meter().IDENTITY[:MOST_METER]
    ).count()
    count = proofs + rows + measured
    return [] if count == 0 else [Seen(kind=Unusual.SIMULATED, what=fill(texts["simulated"], {"count": count}))]


def _wrong_label(circuit: Circuit | None) -> list[Seen]:
    if circuit is None or not circuit.label_now or circuit.label_now == circuit.label_as_found:
        return []
    texts = catalogue("handover")
    params = {"breaker": circuit.breaker, "before": circuit.label_as_found, "now": circuit.label_now}
    return [Seen(kind=Unusual.LABEL_WRONG, what=fill(texts["label_wrong"], params))]
