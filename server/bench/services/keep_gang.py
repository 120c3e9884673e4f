"""Keep a gang: what was tried on the bench becomes the record."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from common.heavy import slot
from common.locking import retried
from common.plain import plain
from common.problems import Problem, StaleVersion
from ember_core.catalogue.entry import hardware
from ember_core.compatibility.load_limits import LoadState
from ember_core.compatibility.matrix import Goes
from ember_core.judgement import Judgement
from ember_core.routes.as_wired import Wired, wired_by, wirings_of
from ember_core.routes.ways import Way
from ember_core.sheet import HAS_NEUTRAL
from judgements.services.storing import store, whole_of
from judging.services.judging import check_incomplete, judge_document, missing_parts
from judging.verdicts import VERDICT_ORDER, WORKS_ORDER, VerdictWord, WorksWord
from loops.basis import basis_of, outdated
from loops.documents import gang_document, sheet_of
from loops.models import COMPUTED, FitStatus, FittedBypass, FittedControl, Gang, LampGroup, Loop, NextStep
from loops.services.seen import Seen
from parts.models import Part
from parts.services.entries import entry_of

Json = dict[str, Any]
# What comes after a good judgement, asked of applications that stand above this one.
later_steps: list[Callable[[Seen, NextStep], NextStep | None]] = []
# What goes before everything else.
urgent_steps: list[Callable[[Loop], NextStep | None]] = []
# Where a loop stands, told by whoever sees its whole record.
stage_of: list[Callable[[Seen], str]] = []
_LOAD_STATES = tuple(state.value for state in LoadState)
# Columns of a loop that what is worked out of it stands on; somebody may have written them meanwhile.
_GIVEN = ("name", "note", "assigned", "circuit", "chosen")
# Columns of what a loop is searched by.
WORDS = ("words", "plain_words")
MOST_OF_THEM = 2000


# What a judgement stands on may change while it is computed; more often than this somebody is told.
MOST_TRIES = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Worked:
    """What was computed of a draft, and the supply it was computed on."""

    document: Json
    judgement: Judgement | None
    whole: Json
    site_version: int


def keep_gang(who: User | None, pk: Any, version: int, given: Json) -> Gang:
    """Replace what a gang holds, judged anew.

    The judgement is computed before anything is locked; then the loop is and the gang, and both versions are looked at
    again.

    Parameters
    ----------
    version : the version that the caller saw.
    given : `name`, `cable`, `control`, `bypasses`, `lamps` as in `documents.gang_document`.

    Raises
    ------
    StaleVersion : someone wrote in the meantime; nothing is changed.
    InputErrors, Problem : a figure is wrong, a part is not on the shelf, another gang has the name, too many compute;
        nothing is changed.
    """
    for _ in range(MOST_TRIES):
        gang = Gang.objects.select_related("loop__site", "control").get(pk=pk)
        _check_version(gang, version)
        _check_name(gang, given["name"])
        _check_parts(given)
        hung = {**given, "control": _as_it_hangs(given["control"])}
        worked = work(gang, hung)
        kept = retried(partial(_keep, who, gang, version, hung, worked))
        if kept is not None:
            return kept
    raise Problem(409, "supply_changes")


def _check_version(gang: Gang, version: int) -> None:
    if gang.version != version:
        raise StaleVersion(yours=version, current_version=gang.version, current=gang_document(gang))


def _check_name(gang: Gang, name: str) -> None:
    """A list of what to prove names gangs: two of one name would be ticked for each other."""
    others = Gang.objects.filter(loop=gang.loop_id).exclude(pk=gang.pk)
    if name and name != gang.name and others.filter(name__iexact=name).exists():
        raise Problem(409, "gang_name_taken", path="name", key="name")


def work(gang: Gang, given: Json) -> Worked:
    """Everything that takes long, with nothing locked.

    Raises
    ------
    InputErrors, Problem : a figure is wrong, too many compute.
    """
    site = gang.loop.site
    document = sheet_of(given, site, f"{site.name}, {gang.loop.name}, gang {gang.position}")
    with slot():
        judgement = _checked_judgement(document)
        whole = whole_of(document, judgement, given.get("trims") or {}) if judgement else {}
    return Worked(document=document, judgement=judgement, whole=whole, site_version=site.version)


def _keep(who: User | None, found: Gang, version: int, given: Json, worked: Worked) -> Gang | None:
    """In one short transaction; None where the supply is another by now."""
    with transaction.atomic():
        # The loop first, as whoever chooses, fits or proves does, and two who keep a gang each.
        Loop.everything.select_for_update().get(pk=found.loop_id)
        Gang.objects.select_for_update().get(pk=found.pk)
        gang = Gang.objects.select_related("loop__site", "control").get(pk=found.pk)
        _check_version(gang, version)
        if gang.loop.site.version != worked.site_version:
            return None
        write(who, gang, given, worked)
        update_loop(gang.loop)
        return Gang.objects.select_related("loop__site", "control").get(pk=found.pk)


def write(who: User | None, gang: Gang, given: Json, worked: Worked) -> None:
    """Set what a gang holds, and what was computed of it; the caller holds the loop, and works it out afterwards."""
    before = gang_document(gang)
    judgement, whole = worked.judgement, worked.whole
    gang.name = given["name"]
    gang.cable = given["cable"]
    gang.place = given.get("place") or {}
    gang.trims = given.get("trims") or {}
    gang.version += 1
    gang.verdict = judgement.verdict.value if judgement else VerdictWord.UNKNOWN
    gang.load = whole.get("load", {})
    gang.overall = whole.get("overall", {})
    gang.works = gang.overall.get("works", WorksWord.UNKNOWN)
    gang.judged_on = basis_of(gang.loop.site) if judgement else {}
    gang.line_i_rms_a = judgement.off_state.line_i_rms_a if judgement else None
    gang.save()
    _replace_fits(gang, given)
    if judgement is not None:
        store(who, gang, worked.document, judgement, whole)
    after = gang_document(Gang.objects.select_related("control").get(pk=gang.pk))
    trail.record(who, "kept", gang, before=before, after=after)


def _checked_judgement(document: Json) -> Judgement | None:
    """Judge a complete sheet; of an incomplete one only check what is there."""
    missing = missing_parts(document)
    if not missing:
        return judge_document(document)
    check_incomplete(document, missing)
    return None


def _check_parts(given: Json) -> None:
    """Every shelf part that the draft names is there."""
    items = [("control", given["control"])] if given["control"] else []
    items += [(f"bypasses[{k}]", item) for k, item in enumerate(given["bypasses"])]
    items += [(f"lamps[{k}]", item) for k, item in enumerate(given["lamps"])]
    named = {item.get("part"): path for path, item in items if item.get("part")}
    known = set(Part.objects.filter(pk__in=named).values_list("pk", flat=True))
    for part, path in named.items():
        if part not in known:
            raise Problem(422, "unknown_part", path=f"{path}.part")


def _as_it_hangs(control: Json | None) -> Json | None:
    """A control that says how it hangs in the loop: as somebody said, or as its leaflet has it.

    No neutral feeds one whose leaflet has no terminal for it, which would be judged as dark whatever flows, and no two
    wires feed one whose leaflet demands a neutral.
    """
    if control is None:
        return None
    if HAS_NEUTRAL in control["figures"]:
        # Whether a neutral feeds it is said once.
        raise Problem(422, "unknown_key", path=f"control.figures.{HAS_NEUTRAL}", key=HAS_NEUTRAL, near="wired")
    if not control.get("part"):
        return {"wired": Wired.LOOP.value, **control}
    part = Part.objects.prefetch_related("claims").get(pk=control["part"])
    wirings = wirings_of(hardware(entry_of(part)))
    wired = Wired(control.get("wired", wirings[0]))
    if wired not in wirings:
        code = "control_has_no_neutral" if wired is Wired.STRAIGHT else "control_wants_neutral"
        raise Problem(422, code, path="control.wired")
    return {**control, "wired": wired.value}


def _replace_fits(gang: Gang, given: Json) -> None:
    FittedControl.objects.filter(gang=gang).delete()
    FittedBypass.objects.filter(gang=gang).delete()
    LampGroup.objects.filter(gang=gang).delete()
    if given["control"] is not None:
        FittedControl.objects.create(gang=gang, wired=given["control"]["wired"], **_fit(given["control"]))
    FittedBypass.objects.bulk_create(
        FittedBypass(gang=gang, position=k, **_fit(item)) for k, item in enumerate(given["bypasses"])
    )
    LampGroup.objects.bulk_create(
        LampGroup(gang=gang, position=k, **_fit(item)) for k, item in enumerate(given["lamps"])
    )


def _fit(item: Json) -> Json:
    return {
        "part_id": item.get("part"),
        "label": item.get("label", ""),
        "status": item.get("status", FitStatus.PLANNED),
        "figures": item["figures"],
    }


@transaction.atomic
def update_loop(loop: Loop, seen: Seen | None = None) -> None:
    """Verdict and next step of a loop from its gangs.

    The loop is held from here on: of two who write at once the second works it out from what both have written.

    Parameters
    ----------
    loop : changed in place; what is not worked out of it is read anew.
    seen : what was found of it since its last write. None asks anew.
    """
    loop.refresh_from_db(fields=_GIVEN, from_queryset=Loop.everything.select_for_update())
    seen = seen or Seen(loop)
    gangs = list(Gang.objects.filter(loop=loop).select_related("control").prefetch_related("lamps"))
    verdicts = [VerdictWord(gang.verdict) for gang in gangs] or [VerdictWord.UNKNOWN]
    loop.verdict = max(verdicts, key=VERDICT_ORDER.index)
    worst = max(gangs, key=lambda gang: WORKS_ORDER.index(WorksWord(gang.works)), default=None)
    loop.works = WorksWord.UNKNOWN if worst is None else worst.works
    loop.overall = {} if worst is None or not worst.overall else {**worst.overall, "position": worst.position}
    old = (gang.judged_on for gang in gangs if outdated(gang.judged_on, loop.site))
    loop.judged_on = next(old, next((gang.judged_on for gang in gangs if gang.judged_on), {}))
    loop.stage = _stage(seen)
    loop.next_step = NextStep.SURVEY if _is_half_surveyed(loop) else _next_step(gangs, loop.overall)
    if loop.chosen:
        loop.chosen = {**loop.chosen, "on_bench": _is_on_bench(gangs, loop.chosen)}
    if loop.next_step not in (NextStep.SURVEY, NextStep.LAMPS, NextStep.CONTROL):
        # A way that was chosen goes before what else would help; what is judged well wants one.
        asked = (ask(seen, NextStep(loop.next_step)) for ask in later_steps)
        loop.next_step = next((step for step in asked if step is not None), loop.next_step)
    loop.next_step = next((step for ask in urgent_steps if (step := ask(loop)) is not None), loop.next_step)
    loop.load = max((gang.load for gang in gangs), key=_badness, default={})
    keep_words(loop)
    loop.save(update_fields=(*COMPUTED, "chosen"))


def _stage(seen: Seen) -> str:
    return next((word for of in stage_of if (word := of(seen))), "")


@transaction.atomic
def restage(loop: Loop) -> None:
    """Only where a loop stands, after something that changes neither its parts nor its verdict; held meanwhile."""
    before = Loop.everything.select_for_update().get(pk=loop.pk).stage
    loop.stage = _stage(Seen(loop))
    if loop.stage != before:
        Loop.objects.filter(pk=loop.pk).update(stage=loop.stage)


def _is_on_bench(gangs: list[Gang], chosen: Json) -> bool:
    """The control of the chosen way is what a gang has on the bench, so that its judgement is that of the way."""
    if not chosen.get("control"):
        return True
    controls = [control for gang in gangs if (control := getattr(gang, "control", None)) is not None]
    wired = wired_by(Way(chosen["way"])).value
    return any(str(control.part_id) == chosen["control"] and control.wired == wired for control in controls)


def keep_words(loop: Loop) -> None:
    """Set, not yet saved, what a loop is searched by, as it is shown and as it is compared."""
    loop.words = _words_of(loop)[:MOST_OF_THEM]
    loop.plain_words = plain(loop.words)[:MOST_OF_THEM]


def _words_of(loop: Loop) -> str:
    """Name and note, gangs, the parts on them, whose work it is, whoever kept one."""
    gangs = Gang.objects.filter(loop=loop)
    found = [loop.name, loop.note, *gangs.values_list("name", flat=True)]
    for fit in (FittedControl, FittedBypass, LampGroup):
        found += fit.objects.filter(gang__in=gangs).values_list("label", flat=True)
    found += [str(loop.assigned)] if loop.assigned else []
    found += User.objects.filter(judgement__gang__in=gangs).distinct().values_list("display_name", flat=True)
    return " ".join(dict.fromkeys(word for word in found if word))


def _badness(load: Json) -> tuple[int, int]:
    """For picking the gang that fares worst: what its control must not drive, then a load that is not within."""
    if not load:
        return (-1, -1)
    return (int(load["lit"] == Goes.MUST_NOT), _LOAD_STATES.index(load["state"]))


def _is_half_surveyed(loop: Loop) -> bool:
    """A survey was begun and some conductor is still not known."""
    return any(survey.is_box and survey.box.get("conductors") and not survey.is_known for survey in loop.surveys.all())


def _next_step(gangs: list[Gang], overall: Json) -> NextStep:
    if not gangs or any(not gang.lamps.all() for gang in gangs):
        return NextStep.LAMPS
    if any(getattr(gang, "control", None) is None for gang in gangs):
        return NextStep.CONTROL
    return NextStep(overall.get("next_action", NextStep.REMEDY))
