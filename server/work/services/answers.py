"""What is known and decided of a loop's ways, as the API gives it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from accounts.models import User
from accounts.policy import ACCOUNTS, may
from ember_core.errors import InputError, InputErrors
from ember_core.routes.aloft import NOT_SEEN
from ember_core.routes.found import CIRCUIT
from ember_core.routes.rated import ORDER
from ember_core.routes.seats import Seats
from ember_core.routes.sketch import OTHER_CIRCUIT
from ember_core.wiring.document import read
from ember_core.wiring.drawing import Drawing
from ember_core.wiring.proof import prove
from loops.models import Gang, Loop
from survey.models import Survey
from work.models import CeilingPoint, CheckedDrawing, RouteChoice, RouteOrder
from work.services.comparing import standing_answer
from work.services.finding import Loaded
from work.services.mapping import differs, map_answer, rows_of, states_answer, wiring_document
from work.services.points import names_of
from work.services.since import since
from work.services.words import RouteWords

Json = dict[str, Any]


def work_answer(loaded: Loaded) -> Json:
    """Everything of the step."""
    loop = loaded.loop
    rows = list(RouteChoice.objects.filter(loop=loop).select_related("by"))
    newest = rows[0] if rows else None
    chosen = None if newest is None else chosen_seats(newest)
    found = loaded.ask.found.seats
    start = chosen[1] if chosen is not None else found
    return {
        **standing_answer(loaded),
        "ceiling": ceiling_answer(loop),
        "asks_circuit": loaded.asks_circuit,
        "choices": [_choice(row, loaded) for row in rows],
        "chosen_map": None
        if chosen is None
        else map_answer(*chosen, loop.site.region, names=names_of(loop), torque_nm=_torque_nm(loaded, newest)),
        "basis": loaded.basis,
        "start": None if start is None else wiring_document(start, loop.name, breakers_of(loop)),
    }


def breakers_of(loop: Loop) -> dict[str, str]:
    """What the circuits of its maps are called at the board, as far as breakers have numbers and are known."""
    own = "" if loop.circuit is None else loop.circuit.breaker
    first = Survey.boxes.filter(loop=loop, place=1).first()
    others = [] if first is None else [circuit.breaker for circuit in first.other_circuits.all()]
    found = {CIRCUIT: own} | ({OTHER_CIRCUIT: others[0]} if len(others) == 1 else {})
    told = {circuit: breaker for circuit, breaker in found.items() if breaker.isdigit()}
    # A number that stands for two of them would join them.
    clear = len({*told.values(), *({CIRCUIT, OTHER_CIRCUIT} - told.keys())}) == len({CIRCUIT, OTHER_CIRCUIT})
    return told if clear else {}


def _torque_nm(loaded: Loaded, choice: RouteChoice | None) -> float | None:
    """Of the screws of the chosen control; None where nobody declares it."""
    key = None if choice is None else choice.control
    return next((one.hardware.torque_nm for one in loaded.ask.offered if one.key == key), None)


def chosen_seats(row: RouteChoice) -> tuple[Seats, Seats]:
    """The found and the wanted wiring of a choice."""
    return rows_of(row.wire_map["found"]), rows_of(row.wire_map["wanted"])


def _choice(row: RouteChoice, loaded: Loaded) -> Json:
    titles = RouteWords(loaded.loop.site.region).texts["ways"]
    return {
        "id": row.pk,
        "number": row.number,
        "way": row.way,
        "title": titles[row.way]["title"],
        "label": row.label,
        "why": row.why,
        "favoured_title": "" if row.favoured in ("", row.way) else titles[row.favoured]["title"],
        "at": row.at,
        "by": row.by.display_name,
        **asdict(since(loaded.loop, row, loaded)),
        "is_begun": row.begun_at is not None,
        "core_version": row.core_version,
    }


def ceiling_answer(loop: Loop) -> list[Json]:
    """Every ceiling point of a loop, looked at or not."""
    gangs = list(Gang.objects.filter(loop=loop).order_by("position"))
    rows = {row.gang_id: row for row in CeilingPoint.objects.filter(gang__in=gangs)}
    unseen = dict.fromkeys(asdict(NOT_SEEN), "unknown")
    return [
        {
            "gang": gang.pk,
            "position": gang.position,
            "name": gang.name,
            "seen": {**unseen, **(rows[gang.pk].seen if gang.pk in rows else {})},
            "version": rows[gang.pk].version if gang.pk in rows else 0,
        }
        for gang in gangs
    ]


def order_answer(who: User) -> Json:
    """What the firm weighs first."""
    row = RouteOrder.objects.first()
    words = RouteWords("eu")
    values = [value.value for value in ORDER] if row is None else row.values
    return {
        "values": [{"value": value, "text": words.text("values", value)} for value in values],
        "version": 0 if row is None else row.version,
        "may_set": may(who, ACCOUNTS),
    }


def read_drawing(document: Any) -> Drawing:
    """A drawing that was sent.

    Raises
    ------
    InputErrors : all that is wrong, each with its place under `document`.
    """
    try:
        return read(document)
    except InputErrors as errors:
        raise InputErrors(
            [InputError(one.code, path=f"document.{one.path}".rstrip("."), **one.params) for one in errors.errors]
        ) from errors


def verdict_answer(loop: Loop, drawing: Drawing) -> Json:
    """What a drawing would do, and where it differs from the chosen map."""
    words = RouteWords(loop.site.region, {core.id: core for core in drawing.cores})
    proof = prove(drawing)
    newest = RouteChoice.objects.filter(loop=loop).first()
    return {
        "works": proof.works,
        "verdict": words.texts["verdict"]["works" if proof.works else "fails"],
        "findings": [words.finding(finding) for finding in proof.findings],
        "states": states_answer(drawing, proof, words),
        "differs": [] if newest is None else differs(chosen_seats(newest)[1], drawing, words, breakers_of(loop)),
    }


def drawing_row(row: CheckedDrawing) -> Json:
    """A drawing on record."""
    return {
        "id": row.pk,
        "name": row.name,
        "source": row.source,
        "corrects": row.corrects_id,
        "document": row.document,
        **verdict_answer(row.loop, read_drawing(row.document)),
        "at": row.at,
        "by": row.by.display_name,
    }
