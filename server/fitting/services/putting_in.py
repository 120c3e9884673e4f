"""What a way has put in becomes the record of its gangs: the control, how it hangs there, its bypass; judged anew."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from typing import Any

from accounts.models import User
from bench.services.keep_gang import Worked, work, write
from ember_core.errors import InputErrors, SolverError
from ember_core.routes.as_wired import wired_by
from ember_core.routes.ways import Way
from loops.documents import gang_document, sheet_document
from loops.models import FitStatus, FittedBypass, FittedControl, Gang, LampGroup
from parts.models import Part
from parts.services.entries import part_key
from work.models import RouteChoice
from work.services.finding import BENCH, OUTPUT, gangs_of_choice

Json = dict[str, Any]
# The step that ends the fitting of a box.
LAST = "power_back"
# By gang: what it is to hold, and what was computed of that.
Ahead = Mapping[Any, tuple[Json, Worked]]


def ahead(loop_pk: Any, choice_pk: Any, step: str) -> Ahead:
    """What takes long of putting a way in, where a step looks as if it ended it; computed before anything is held.

    Raises
    ------
    Problem : too many compute.
    """
    choice = RouteChoice.objects.filter(loop=loop_pk, pk=choice_pk, done_at=None).first() if step == LAST else None
    return {} if choice is None else {gang.pk: (given, _worked(gang, given)) for gang, given in _other(choice)}


def put_in(who: User, choice: RouteChoice, before: Ahead, tried: Collection[int]) -> None:
    """The parts of a way are in: others on record are replaced by them; the caller holds the loop.

    Parameters
    ----------
    tried : gangs whose lamps were tried with it, and are those on record.
    """
    for gang, given in _other(choice):
        then, worked = before.get(gang.pk, ({}, None))
        # The parts or the supply may be others by now.
        if worked is None or then != given or worked.site_version != gang.loop.site.version:
            worked = _worked(gang, given)
        write(who, gang, given, worked)
    _set(choice, FitStatus.FITTED)
    for gang in Gang.objects.select_for_update().filter(loop=choice.loop_id, position__in=tried):
        lamps = LampGroup.objects.filter(gang=gang).exclude(status=FitStatus.FITTED)
        if lamps.update(status=FitStatus.FITTED):
            gang.version += 1
            gang.save(update_fields=("version",))


def take_out(choice: RouteChoice) -> None:
    """They are not all in any more; its lamps hang where they hung."""
    _set(choice, FitStatus.PLANNED)


def _set(choice: RouteChoice, status: FitStatus) -> None:
    """The state of the parts that a way puts in, where they are on record."""
    bypasses = _bypass_keys(choice)
    for gang in Gang.objects.select_for_update().filter(loop=choice.loop_id, position__in=gangs_of_choice(choice)):
        changed = 0
        if choice.control:
            changed += FittedControl.objects.filter(gang=gang).exclude(status=status).update(status=status)
        if gang.position in bypasses:
            there = FittedBypass.objects.filter(gang=gang)
            if part := part_key(bypasses[gang.position]):
                there = there.filter(part=part)
            changed += there.exclude(status=status).update(status=status)
        if changed:
            gang.version += 1
            gang.save(update_fields=("version",))


def _other(choice: RouteChoice) -> Iterator[tuple[Gang, Json]]:
    """Gangs on whose record other parts stand than the way puts in, and what they are to hold."""
    if not choice.control:
        return
    rows = Gang.objects.filter(loop=choice.loop_id, position__in=gangs_of_choice(choice))
    gangs = rows.select_related("control", "loop__site").prefetch_related("bypasses", "lamps").order_by("position")
    bypasses = _bypass_keys(choice)
    for output, gang in enumerate(gangs, 1):
        now = gang_document(gang)
        control = _control(choice, output, now["control"])
        given = {
            **now,
            "control": control,
            "bypasses": _bypasses(now["bypasses"], bypasses.get(gang.position, "")),
            # Levels are of the dimmer that they were found with.
            "trims": now["trims"] if _is_same(control, now["control"]) else None,
        }
        if given != now:
            yield gang, given


def _is_same(one: Json | None, other: Json | None) -> bool:
    return one is not None and other is not None and one["part"] == other["part"]


def _control(choice: RouteChoice, output: int, now: Json | None) -> Json | None:
    """The control of a gang as the way has it: that of the record where it is the same part, else the shelf's."""
    wired = wired_by(Way(choice.way)).value
    part = _part(choice, output)
    if part is None and choice.control != BENCH:
        # It is not on the shelf any more: nobody knows its figures.
        return now
    if part is None or (now is not None and now["part"] == str(part.pk)):
        return None if now is None else {**now, "wired": wired}
    return {**_fit(part), "wired": wired}


def _part(choice: RouteChoice, output: int) -> Part | None:
    """The part of the shelf at an output, one after the other from gang to gang; None for one of the bench alone."""
    key = part_key(choice.control)
    part = None if key is None else Part.objects.filter(pk=key).first()
    if part is None or OUTPUT not in part.name:
        return part
    stem, _, _ = part.name.partition(OUTPUT)
    return Part.objects.filter(maker=part.maker, name=f"{stem}{OUTPUT}{output}").first() or part


def _bypasses(now: list[Json], key: str) -> list[Json]:
    """Those of the record that hang there or that the way wants; what was only planned beside them is gone."""
    part = part_key(key)
    kept = [one for one in now if one["status"] == FitStatus.FITTED or (part is not None and one["part"] == str(part))]
    if part is None or any(one["part"] == str(part) for one in kept):
        # One of the bench alone has no key of the shelf.
        return now if key and part is None else kept
    found = Part.objects.filter(pk=part).first()
    return kept if found is None else [*kept, _fit(found)]


def _bypass_keys(choice: RouteChoice) -> dict[int, str]:
    return {entry["gang"]: entry["key"] for entry in choice.rated.get("bypass", [])}


def _fit(part: Part) -> Json:
    """A part of the shelf as it comes to a gang."""
    label = f"{part.maker} {part.name}".strip()
    return {"part": str(part.pk), "label": label, "status": FitStatus.PLANNED.value, "figures": part.figures}


def _worked(gang: Gang, given: Json) -> Worked:
    try:
        return work(gang, given)
    except (InputErrors, SolverError):
        # What cannot be computed hangs there all the same: its verdict is not known.
        return Worked(document=sheet_document(gang), judgement=None, whole={}, site_version=gang.loop.site.version)
