"""The list of what is to be proved of a loop, and where it stands: from its gangs, boxes, fitting and marks."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any

from ember_core.catalogue.entry import hardware
from ember_core.errors import InputErrors
from ember_core.parts.hardware import Demand
from ember_core.proving import items as proving
from ember_core.proving.items import Gang as ProveGang
from ember_core.proving.items import Item, Mark, Outcome
from ember_core.survey.box import EarthFound, Material
from fitting.services.standing import Standing as FitStanding
from fitting.services.standing import standing_seen
from judging.services.spreading import complete
from loops.documents import count_of, gang_document, sheet_document
from loops.models import Gang, Loop, MeasuredValue, NextStep, Occasion, WiredWord
from loops.services.seen import Seen
from parts.services.entries import entry_of
from proving.models import Case, ProveMark
from proving.services.reading import ORDERS, read_of
from survey.models import Survey

Json = dict[str, Any]
# What of a gang a proof stands on: not its name, nor where somebody wrote a note.
_OF_GANG = ("control", "bypasses", "lamps", "cable")
# What a mark made by a reading keeps: between which values each kind of reading was as computed then.
WITHIN = "within"


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """The list of a loop with its marks.

    Parameters
    ----------
    basis : of the parts and the fitting as they are now. marks : the newest of each item, whatever they stand on.
    places : what each place is called. undone : items whose reading was struck out since, or is another by now.
    """

    loop: Loop
    gangs: tuple[Gang, ...]
    items: tuple[Item, ...]
    marks: Mapping[str, ProveMark]
    basis: str
    places: Mapping[str, str]
    undone: Collection[str]
    last: int

    def counts(self, mark: ProveMark) -> bool:
        """It was made on what there is now, and what was read for it stands."""
        return mark.basis == self.basis and mark.item not in self.undone

    @property
    def counted(self) -> dict[str, Mark]:
        """Marks that count."""
        return {
            key: Mark(outcome=Outcome(mark.outcome), result=mark.result)
            for key, mark in self.marks.items()
            if self.counts(mark)
        }

    @property
    def is_proved(self) -> bool:
        """Every item passed or excused, on what there is now."""
        return proving.is_proved(self.items, self.counted)


def gangs_of(loop: Loop) -> tuple[Gang, ...]:
    """The gangs of a loop with their parts."""
    rows = Gang.objects.filter(loop=loop).select_related("control__part").prefetch_related("bypasses", "lamps")
    gangs = tuple(rows.order_by("position"))
    for gang in gangs:
        # With the site that the loop brought along.
        gang.loop = loop
    return gangs


def prove_standing(loop: Loop) -> Standing:
    """Where proving stands."""
    return prove_seen(Seen(loop))


def prove_seen(seen: Seen) -> Standing:
    """The same, as a question to what was seen of a loop."""
    loop = seen.loop
    gangs = gangs_of(loop)
    boxes = list(Survey.boxes.filter(loop=loop).order_by("place"))
    places = {f"box{box.place}": box.name for box in boxes} or {"box1": ""}
    made = [_gang(gang) for gang in gangs]
    marks = list(ProveMark.objects.filter(loop=loop).select_related("by"))
    newest = {mark.item: mark for mark in marks}
    return Standing(
        loop=loop,
        gangs=gangs,
        items=proving.items_of(made, list(places), wants_earth=_wants_earth(gangs, boxes)) if made else (),
        marks=newest,
        basis=_basis(seen.of(standing_seen), gangs),
        places=places,
        undone=_undone(loop, newest.values()),
        last=marks[-1].number if marks else 0,
    )


def _undone(loop: Loop, marks: Collection[ProveMark]) -> frozenset[str]:
    """Items that a reading settled which was struck out since, or after which the newest one is not as computed."""
    by_reading = [mark for mark in marks if mark.detail.get("measured")]
    if not by_reading:
        return frozenset()
    rows = list(MeasuredValue.objects.filter(gang__loop=loop, occasion=Occasion.AFTER_FITTING))
    return frozenset(mark.item for mark in by_reading if _is_undone(mark, rows))


def _is_undone(mark: ProveMark, rows: Collection[MeasuredValue]) -> bool:
    read = next((row for row in rows if str(row.pk) == mark.detail["measured"]), None)
    if read is None or read.struck_reason:
        return True
    if mark.outcome != Outcome.PASSED:
        return False
    # A mark of before this was kept says nothing of what another reading should be.
    within = mark.detail.get(WITHIN, {})
    others = [
        row
        for row in rows
        if row.gang_id == read.gang_id
        and row.hung in ("", read.hung)
        and not row.struck_reason
        and read_of(row.data) in within
    ]
    for order in ORDERS:
        later = [row for row in others if order(row) > order(read)]
        if later:
            row = max(later, key=order)
            low, high = within[read_of(row.data)]
            if not low <= float(row.data["value"]) <= high:
                return True
    return False


def _gang(gang: Gang) -> ProveGang:
    try:
        loop = complete(sheet_document(gang)).loop
    except InputErrors:
        # Without control or lamps nothing of them can be proved.
        return ProveGang(position=gang.position, lamps=lamps_of(gang), dims=False, feeds=False)
    return ProveGang(
        position=gang.position,
        lamps=lamps_of(gang),
        dims=loop.control.is_dimmer,
        feeds=loop.control.has_electronics,
    )


def lamps_of(gang: Gang) -> int:
    """How many lamps a gang has."""
    return sum(int(count_of(item.figures)) for item in gang.lamps.all())


def _wants_earth(gangs: tuple[Gang, ...], boxes: list[Survey]) -> bool:
    """A metal box, a box that is the earth, or a control whose hardware demands one."""
    if any(box.box.get("material") == Material.METAL for box in boxes):
        return True
    if any(box.box.get("earth_found") == EarthFound.METAL_BOX for box in boxes):
        return True
    for gang in gangs:
        control = getattr(gang, "control", None)
        part = None if control is None else control.part
        if part is not None and hardware(entry_of(part)).word("earth") is Demand.REQUIRED:
            return True
    return False


def _basis(fitting: FitStanding | None, gangs: tuple[Gang, ...]) -> str:
    """A mark of what was proved: other parts, or another fitting, and it is to be proved again."""
    done = "" if fitting is None else f"{fitting.choice.pk}:{fitting.last}"
    parts = [_parts(gang) for gang in gangs]
    text = json.dumps([done, parts], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()[:40]


def _parts(gang: Gang) -> Json:
    document = gang_document(gang)
    found = {name: document[name] for name in _OF_GANG}
    control = found["control"]
    if control is not None and (control["wired"] == WiredWord.LOOP or control["figures"].get("standby") is None):
        # Marks from before it was kept how a control hangs in its loop go on to count.
        found["control"] = {name: value for name, value in control.items() if name != "wired"}
    return found


def case_of(loop: Loop) -> NextStep | None:
    """An open case goes before all else."""
    return NextStep.CASE if Case.objects.filter(loop=loop, is_open=True).exists() else None


def next_of(seen: Seen, step: NextStep) -> NextStep | None:
    """What is fitted is to be proved."""
    loop = seen.loop
    fitting = seen.of(standing_seen) if loop.chosen else None
    if fitting is None or not fitting.is_complete or (loop.chosen.get("on_bench") and step != NextStep.SHEET):
        # What the bench would still change goes first.
        return None
    return None if seen.of(prove_seen).is_proved else NextStep.PROVE
