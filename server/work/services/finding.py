"""What is asked of the core about a loop's ways, read from the record beforehand."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ember_core import sheet
from ember_core.bypass.choose import Candidate
from ember_core.catalogue.entry import NO_FEED, WIRING, hardware
from ember_core.errors import InputErrors
from ember_core.parts.hardware import Hardware, Sort
from ember_core.routes.aloft import At, CeilingPoint, HangsOn, Junction, LampsThere, OwnNeutral
from ember_core.routes.boxes import SurveyedBox, usual_box
from ember_core.routes.devices import plain
from ember_core.routes.rated import ORDER, Asked, Offered, Value
from ember_core.routes.surveyed import Surveyed, found_of
from ember_core.routes.tasks import Known
from ember_core.sheet import Sheet
from ember_core.survey.box import Box, Role
from ember_core.survey.document import read_box
from ember_core.survey.inference import Certainty
from judging.services.bypassing import read_place
from loops.documents import gang_document, sheet_of
from loops.models import FitStatus, Gang, Loop, WiredWord
from parts.models import Category, Part, PartClaim
from parts.services.entries import entry_of
from survey.models import Survey, TakenReading
from survey.services.answers import judged
from survey.services.documents import reading_data, standing
from work.models import CeilingPoint as CeilingRow
from work.models import RouteChoice, RouteOrder
from work.services.timing import own_minutes

Json = dict[str, Any]
BENCH = "bench"
# A part is for a supply within this share of its own voltage.
SUPPLY_RATIO = 0.15
OUTPUT = ", output "
# An ordinary switch: nothing across its contacts.
_OPEN: Json = {"c_snubber_f": 0.0}

# A control of which nobody says its terminals: for one gang, so that none is taken to switch several.
_ONE_GANG = replace(plain(sort=Sort.CONTROL), outputs=1)


@dataclass(frozen=True, slots=True, kw_only=True)
class Loaded:
    """A loop for its ways.

    Parameters
    ----------
    is_fitted : a control is in place already; the wiring is drawn as it was before.
    labels : what a control or bypass is called, by its key. basis : versions of everything that it stands on.
    is_assumed : nobody surveyed the box; it is drawn as it usually is.
    asks_circuit : several gangs and circuits come together in the box, so that it counts which hangs on which.
    """

    loop: Loop
    ask: Asked
    labels: dict[str, str]
    basis: Json
    is_assumed: bool
    is_fitted: bool
    asks_circuit: bool


def load(loop: Loop) -> Loaded:
    """Everything that comparing needs of the database."""
    gangs = list(
        Gang.objects.filter(loop=loop)
        .select_related("control")
        .prefetch_related("bypasses", "lamps")
        .order_by("position")
    )
    rows = _ceilings(gangs)
    surveys = _boxes(loop)
    labels: dict[str, str] = {}
    documents = {gang.position: _document(gang, loop) for gang in gangs}
    ordinary = _ordinary(gangs)
    kept = _kept(gangs, ordinary)
    found, is_assumed = _found(loop, surveys, gangs, rows, kept)
    offered = _offered(loop, gangs, documents, kept, labels)
    bypasses = _bypasses(loop, next(iter(documents.values()), None), labels)
    box = read_box(surveys[0].box) if surveys else None
    order = RouteOrder.objects.first()
    ask = Asked(
        found=found,
        offered=offered,
        planned=_planned(gangs, offered),
        as_found={
            position: read
            for position, document in documents.items()
            if (read := _read({**document, "control": ordinary.get(position, _OPEN), "bypass": []})) is not None
        },
        kept=kept,
        bypasses=bypasses,
        fitted_bypass=_fitted(gangs, documents, labels),
        bypass_there=[
            gang.position
            for gang in gangs
            if gang.bypasses.all() and all(row.status == FitStatus.FITTED for row in gang.bypasses.all())
        ],
        places={gang.position: place for gang in gangs if (place := read_place(gang.place)) is not None},
        box=box if box is not None and _is_measured(box) else None,
        spacers_m=tuple(surveys[0].spacers_m) if surveys else (),
        known=known_of(loop, surveys),
        minutes=own_minutes(),
        order=ORDER if order is None else tuple(Value(value) for value in order.values),
    )
    is_fitted = any(
        control is not None and control.status == FitStatus.FITTED and gang.position not in ordinary
        for gang in gangs
        for control in (getattr(gang, "control", None),)
    )
    return Loaded(
        loop=loop,
        ask=ask,
        labels=labels,
        basis=_basis(loop, gangs, surveys, rows),
        is_assumed=is_assumed,
        is_fitted=is_fitted,
        asks_circuit=box is not None and box.circuits > 1 and len(box.gangs) > 1,
    )


def today(loop: Loop, before: Json) -> tuple[Json, Surveyed | None]:
    """What a comparison stands on today, and the wiring; no wiring where nothing that it is drawn from has changed.

    Parameters
    ----------
    before : the basis of then, see `Loaded`.
    """
    gangs = list(Gang.objects.filter(loop=loop).select_related("control").order_by("position"))
    rows, surveys = _ceilings(gangs), _boxes(loop)
    basis = _basis(loop, gangs, surveys, rows)
    if is_drawn_from_same(before, basis):
        return basis, None
    found, _ = _found(loop, surveys, gangs, rows, _kept(gangs, _ordinary(gangs)))
    return basis, found


def is_drawn_from_same(before: Json, basis: Json) -> bool:
    """Whether nothing that a wiring is drawn from has changed between two bases; the bench may have."""
    return all(before.get(name) == value for name, value in basis.items() if name != "gangs")


def _boxes(loop: Loop) -> list[Survey]:
    return list(Survey.boxes.filter(loop=loop).order_by("place"))


def _ceilings(gangs: list[Gang]) -> dict[Any, CeilingRow]:
    return {row.gang_id: row for row in CeilingRow.objects.filter(gang__in=gangs)}


def _kept(gangs: list[Gang], ordinary: dict[int, Json]) -> list[int]:
    """Gangs whose switch stays; none where all have an ordinary one."""
    return list(ordinary) if len(ordinary) < len(gangs) else []


def _basis(loop: Loop, gangs: list[Gang], surveys: list[Survey], rows: dict[Any, CeilingRow]) -> Json:
    """Versions of the bench, and of what a wiring is drawn from."""
    taken = TakenReading.objects.filter(loop=loop)
    return {
        "surveys": {str(survey.place): survey.version for survey in surveys},
        # Taken and struck out: both only grow, so no change of them leaves this as it was.
        "readings": [taken.count(), taken.exclude(struck_reason="").count()],
        "gangs": {str(gang.pk): gang.version for gang in gangs},
        "ceiling": {str(row.gang_id): row.version for row in rows.values()},
    }


def gangs_of_choice(choice: RouteChoice) -> list[int]:
    """Positions of the gangs that a choice changes."""
    kept = choice.rated.get("gangs")
    if kept is not None:
        return list(kept)
    # One of an earlier edition does not say so: every gang but those whose switch stays.
    gangs = list(Gang.objects.filter(loop=choice.loop_id).select_related("control").order_by("position"))
    stays = _kept(gangs, _ordinary(gangs))
    return [gang.position for gang in gangs if gang.position not in stays]


def known_of(loop: Loop, surveys: list[Survey]) -> Known:
    """What of the job is settled: the breaker by a corrected schedule, the conductors of every box by its survey."""
    boxes = [survey for survey in surveys if survey.box.get("conductors")]
    return Known(
        is_breaker_proved=loop.circuit is not None and bool(loop.circuit.label_now),
        is_identified=bool(boxes) and all(survey.is_known for survey in boxes),
        in_conduit=is_conduit(surveys),
    )


def is_conduit(surveys: list[Survey]) -> bool:
    """Cores lie single in conduit, by the survey of the first box."""
    return bool(surveys) and surveys[0].practice == "singles_in_conduit"


def _is_measured(box: Box) -> bool:
    return box.depth_m is not None or box.room_left_m is not None


def _found(
    loop: Loop, surveys: list[Survey], gangs: list[Gang], rows: dict[Any, CeilingRow], kept: list[int]
) -> tuple[Surveyed, bool]:
    region = loop.site.region
    boxes = [_surveyed(loop, survey) for survey in surveys if survey.box.get("conductors")]
    is_assumed = not boxes or not surveys[0].box.get("conductors")
    if is_assumed:
        boxes = [usual_box(region, len(gangs))]
    numbers = [gang.position for gang in gangs]
    ceiling = {gang.position: point_of(rows[gang.pk].seen) for gang in gangs if gang.pk in rows}
    found = found_of(boxes, region=region, ceiling=ceiling, singles=is_conduit(surveys), kept=kept, gangs=numbers)
    return found, is_assumed


def point_of(seen: Json) -> CeilingPoint:
    """The core's ceiling point of a stored one."""
    return CeilingPoint(
        line=At(seen.get("line", At.UNKNOWN)),
        neutral=OwnNeutral(seen.get("neutral", OwnNeutral.UNKNOWN)),
        spare=At(seen.get("spare", At.UNKNOWN)),
        lamps=LampsThere(seen.get("lamps", LampsThere.UNKNOWN)),
        junction=Junction(seen.get("junction", Junction.UNKNOWN)),
        hangs_on=HangsOn(seen.get("hangs_on", HangsOn.UNKNOWN)),
    )


def _surveyed(loop: Loop, survey: Survey) -> SurveyedBox:
    judgement = judged(survey, loop, [reading_data(row) for row in standing(loop, survey.place)])
    box = read_box(survey.box)
    roles: dict[str, tuple[Role, int | None]] = {one.conductor: (one.role, one.gang) for one in judgement.conductors}
    sure = frozenset(one.conductor for one in judgement.conductors if one.certainty is Certainty.SURE)
    # What somebody has marked goes before what is only likely; it stays open until it is proved.
    for conductor in box.conductors:
        if conductor.label is not None and conductor.id not in sure:
            _, gang = roles.get(conductor.id, (None, None))
            roles[conductor.id] = (conductor.label, conductor.gang or gang)
    return SurveyedBox(box=box, roles=roles, sure=sure)


def _ordinary(gangs: list[Gang]) -> dict[int, Json]:
    """Gangs with an ordinary switch on the bench, with or without a locator lamp, and its figures."""
    said = set(PartClaim.objects.filter(field=f"{WIRING}.sort", in_use=True).values_list("part_id", flat=True))
    found = {}
    for gang in gangs:
        control = getattr(gang, "control", None)
        if control is None or control.part_id in said or control.figures.get("standby") is not None:
            continue
        if control.wired != WiredWord.LOOP:
            continue
        found[gang.position] = control.figures
    return found


def _document(gang: Gang, loop: Loop) -> Json:
    return sheet_of(gang_document(gang), loop.site, f"{loop.name}, gang {gang.position}")


def _read(document: Json) -> Sheet | None:
    try:
        return sheet.read(document)
    except InputErrors:
        return None


def _offered(
    loop: Loop, gangs: list[Gang], documents: dict[int, Json], kept: list[int], labels: dict[str, str]
) -> list[Offered]:
    """Controls of the shelf for this supply, and what is on the bench and not on the shelf."""
    parts = [
        part
        for part in Part.objects.filter(category=Category.CONTROL).prefetch_related("claims")
        if part.v_rms is not None and abs(part.v_rms - loop.site.v_rms) <= SUPPLY_RATIO * part.v_rms
    ]
    by_name = {(part.maker, part.name): part for part in parts}
    positions = [position for position in documents if position not in kept]
    on_bench = {gang.position: control for gang in gangs if (control := getattr(gang, "control", None)) is not None}
    found: list[Offered] = []
    for part in parts:
        stem, is_output, number = part.name.partition(OUTPUT)
        if is_output and number != "1":
            continue
        sheets: dict[int, Sheet] = {}
        for output, position in enumerate(positions, 1):
            other = by_name.get((part.maker, f"{stem}{OUTPUT}{output}")) if is_output else part
            bench = on_bench.get(position)
            is_own = bench is not None and other is not None and bench.part_id == other.pk
            figures = bench.figures if is_own and bench is not None else (other or part).figures
            read = _read({**documents[position], "control": figures, "bypass": []})
            if read is not None:
                sheets[position] = read
        labels[str(part.pk)] = f"{part.maker} {stem}"
        given = hardware(entry_of(part))
        is_said = given.sort is not None
        if part.kind == NO_FEED and not is_said:
            continue
        found.append(
            Offered(
                key=str(part.pk),
                hardware=given if is_said else _assumed(given),
                sheets=sheets,
                is_assumed=not is_said,
                is_there=any(one.part_id == part.pk and one.status == FitStatus.FITTED for one in on_bench.values()),
            )
        )
    loose = {
        position: control
        for position, control in on_bench.items()
        if control.part_id is None and position in positions and control.figures.get("standby") is not None
    }
    if loose:
        sheets = {
            position: read
            for position, control in loose.items()
            if (read := _read({**documents[position], "control": control.figures, "bypass": []})) is not None
        }
        labels[BENCH] = next(iter(loose.values())).label
        found.append(Offered(key=BENCH, hardware=_ONE_GANG, sheets=sheets, is_assumed=True))
    return found


def _assumed(given: Hardware) -> Hardware:
    """A control of which nobody says its terminals: two wires, one of which feeds it."""
    usual = _ONE_GANG
    return Hardware(
        **{
            name: getattr(given, name) if getattr(given, name) is not None else getattr(usual, name)
            for name in Hardware.__slots__
        }
    )


def _planned(gangs: list[Gang], offered: list[Offered]) -> dict[int, str]:
    keys = {one.key for one in offered}
    firsts = {}
    for part in Part.objects.filter(category=Category.CONTROL, name__contains=OUTPUT):
        stem, _, _ = part.name.partition(OUTPUT)
        first = Part.objects.filter(maker=part.maker, name=f"{stem}{OUTPUT}1").first()
        if first is not None:
            firsts[str(part.pk)] = str(first.pk)
    planned = {}
    for gang in gangs:
        control = getattr(gang, "control", None)
        if control is None:
            continue
        key = BENCH if control.part_id is None else firsts.get(str(control.part_id), str(control.part_id))
        planned[gang.position] = key if key in keys else ""
    return planned


def _bypasses(loop: Loop, document: Json | None, labels: dict[str, str]) -> list[Candidate]:
    if document is None:
        return []
    found = []
    for part in Part.objects.filter(category=Category.BYPASS):
        if part.v_rms is None or abs(part.v_rms - loop.site.v_rms) > SUPPLY_RATIO * part.v_rms:
            continue
        made = _candidate(str(part.pk), part.figures, document)
        if made is not None:
            labels[made.name] = f"{part.maker} {part.name}"
            found.append(made)
    return found


def _candidate(key: str, figures: Json, document: Json) -> Candidate | None:
    read = _read({**document, "control": _OPEN, "bypass": [figures]})
    if read is None:
        return None
    prefix = "bypass[0]."
    own = {path.removeprefix(prefix): f for path, f in read.figures.items() if path.startswith(prefix)}
    return Candidate(name=key, bypass=read.loop.bypass[0], figures=own)


def _fitted(gangs: list[Gang], documents: dict[int, Json], labels: dict[str, str]) -> dict[int, Candidate]:
    found = {}
    for gang in gangs:
        rows = list(gang.bypasses.all())
        if len(rows) != 1:
            continue
        key = str(rows[0].part_id or f"{BENCH} {gang.position}")
        made = _candidate(key, rows[0].figures, documents[gang.position])
        if made is not None:
            labels[key] = rows[0].label
            found[gang.position] = made
    return found
