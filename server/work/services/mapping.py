"""The wire map of one way: its lines in the order of hands, the drawing, and what it does in every state."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from ember_core.routes.lines import Line, LineKind, lines_back, lines_of
from ember_core.routes.seats import CAP, Seats
from ember_core.wiring.cores import live_cores
from ember_core.wiring.document import read
from ember_core.wiring.drawing import Control, Device, Drawing, terminals_of
from ember_core.wiring.proof import prove
from ember_core.wiring.told import WiringProof
from wording.quantities import local_number
from work.services.map_layout import layout_of
from work.services.words import RouteWords, upper

Json = dict[str, Any]
# States told one by one; a box of four gangs on two-way switches has no more.
MOST_STATES = 64
# What follows a conductor's name where another box than the first surveyed it.
_BOX_NUMBER = re.compile(r" \(\d+\)$")


def map_answer(
    found: Seats, wanted: Seats, region: str, *, names: Mapping[int, str], torque_nm: float | None = None
) -> Json:
    """The wire map found → wanted, and back.

    Parameters
    ----------
    names : what surveys call its places. torque_nm : of the control's screws, where it is declared.
    """
    cores = {core.id: core for core in (*found.cores, *wanted.cores)}
    words = RouteWords(region, cores, names)
    drawing = wanted.drawing()
    proof = prove(drawing)
    drawn = drawing_answer(found, wanted, words)
    return {
        "lines": [
            *_first(words),
            *(
                {**line_answer(line, words), "note": torque_note(line, wanted, words, torque_nm)}
                for line in lines_of(found, wanted)
            ),
        ],
        "back": [*_first(words), *(line_answer(line, words) for line in lines_back(found, wanted))],
        "works": proof.works,
        "findings": [words.finding(finding) for finding in proof.findings],
        "drawing": drawn,
        "layout": layout_of(drawn),
        "states": states_answer(drawing, proof, words),
    }


def _first(words: RouteWords) -> list[Json]:
    return [_line(code, "", words.text("lines", code), code) for code in ("safe", "photograph")]


def _line(key: str, place: str, text: str, kind: str, points: Sequence[str] = ()) -> Json:
    return {"key": key, "place": place, "text": upper(text), "kind": kind, "points": list(points), "note": ""}


def torque_note(line: Line, wanted: Seats, words: RouteWords, torque_nm: float | None) -> str:
    """The torque of the terminal screw that a line ends in; empty where it ends in none, or nobody declares one."""
    if torque_nm is None or line.kind not in (LineKind.MOVE, LineKind.PIECE, LineKind.PULL):
        return ""
    controls = {one.id for one in wanted.devices if isinstance(one, Control)}
    ends = {(move.after or "").rsplit(".", 1)[0] for move in line.moves}
    if not ends & controls:
        return ""
    return words.sentence("torque", {"torque": local_number(f"{torque_nm:.2g}")})


def line_answer(line: Line, words: RouteWords) -> Json:
    """One line of a wire map in words."""
    return _line(line.key, line.place, words.text("lines", *_said(line, words)), line.kind.value, line.points)


def sleeve_here(line: Line, words: RouteWords) -> str:
    """A sleeve at one end: the other end is a step of its own."""
    code, params = _said(line, words)
    return upper(words.text("lines", f"{code}_here", params))


def _said(line: Line, words: RouteWords) -> tuple[str, Json]:
    if line.sleeve is not None:
        mark = line.sleeve.after or line.sleeve.before
        code = "sleeve_off" if line.sleeve.after is None else "sleeve_on"
        sleeve = words.text("sleeves", mark.value if mark else "live")
        return code, {"core": words.core(line.sleeve.core), "sleeve": sleeve}
    move = line.moves[0]
    before, after = words.seat(move.before), words.seat(move.after)
    if line.kind is LineKind.LEAD:
        code = "lead" if move.before is None else "lead_off" if move.after is None else "lead_from"
        return code, {"device": words.device(move.point.rsplit(".", 1)[0]), "before": before, "after": after}
    name = move.point.partition("@")[0]
    params = {"core": words.core(name), "colour": words.colour(line.core), "before": before, "after": after}
    if line.kind in (LineKind.PIECE, LineKind.PULL):
        return line.kind.value, {**params, "before": after, "after": words.seat(line.moves[1].after)}
    place = move.point.partition("@")[2]
    return line.kind.value, {**params, "place": words.place(place)}


def drawing_answer(found: Seats, wanted: Seats, words: RouteWords) -> Json:
    """Places with their terminals and joints, and where each end sits, found and wanted."""
    places = _places(found, wanted)
    seated = {seat for seats in (found, wanted) for seat in seats.seat_of.values()} - {CAP}
    terminals = _terminals(found) | _terminals(wanted)
    at = {seat: _where(seat, found, wanted) for seat in (*seated, *terminals)}
    return {
        "places": [
            {
                "id": place,
                "name": words.place(place),
                "seats": [
                    {"id": seat, "name": words.short(seat), "device": _device_of(seat)}
                    for seat in sorted(seat for seat, where in at.items() if where == place)
                ],
            }
            for place in places
        ],
        "cores": [
            {
                "id": core.id,
                "name": words.core(core.id),
                "colour": core.colour,
                "marked": None if core.marked is None else core.marked.value,
                "is_new": all(one.id != core.id for one in found.cores),
                "ends": [
                    {
                        "point": point,
                        "place": place.rstrip("'"),
                        "name": name,
                        "before": found.seat_of.get(point),
                        "after": wanted.seat_of.get(point),
                        "before_text": words.seat(found.seat_of.get(point)),
                        "after_text": words.seat(wanted.seat_of.get(point)),
                    }
                    for point, place, name in zip(core.points, core.ends, names_at_ends(core.id), strict=True)
                ],
            }
            for core in {core.id: core for core in (*found.cores, *wanted.cores)}.values()
        ],
        "leads": [
            {
                "device": device.id,
                "kind": device.kind.value,
                "seats": [wanted.seat_of.get(f"{device.id}.{n}") for n in "12"],
            }
            for device in wanted.devices
            if device.kind.value in ("lamp", "bypass", "diode")
        ],
        "devices": [
            {"id": device.id, "name": words.device(device.id), "kind": device.kind.value, "is_new": device.id in new}
            for new in ({one.id for one in wanted.devices} - {one.id for one in found.devices},)
            for device in wanted.devices
        ],
    }


def names_at_ends(core: str) -> tuple[str, str]:
    """A core as a drawing marks it at either end: as the survey of that place calls it.

    A core that two surveys met is called by both, `c5 · c1 (2)`; one that a single survey met ends elsewhere by the
    name it has there, with the number of its box; a new piece is a plus and a number.
    """
    if core.startswith("new"):
        piece = core.replace("new", "+", 1)
        return piece, piece
    here, joined, there = core.partition(" · ")
    return _BOX_NUMBER.sub("", here), _BOX_NUMBER.sub("", there) if joined else here


def _places(found: Seats, wanted: Seats) -> list[str]:
    names = {end.rstrip("'") for seats in (found, wanted) for core in seats.cores for end in core.ends}
    order = ("board", "box", "foot", "head", "onward", "junction", "ceiling")
    return sorted(names, key=lambda name: (next((k for k, one in enumerate(order) if name.startswith(one)), 9), name))


def _terminals(seats: Seats) -> set[str]:
    return {f"{device.id}.{name}" for device in seats.devices for name in terminals_of(device) if _has_place(device)}


def _has_place(device: Device) -> bool:
    """Lamps and bypasses hang on joints by leads of their own."""
    return device.kind.value not in ("lamp", "bypass", "companion")


def _device_of(seat: str) -> str | None:
    return None if ":" in seat or "." not in seat else seat.rsplit(".", 1)[0]


def _where(seat: str, found: Seats, wanted: Seats) -> str:
    """The place of a seat: said by a joint, else by an end that sits there, or by its device's other terminals."""
    if ":" in seat:
        return seat.split(":", 1)[0]
    device = seat.rsplit(".", 1)[0]
    for seats in (wanted, found):
        for point, where in seats.seat_of.items():
            if "@" in point and where.rsplit(".", 1)[0] == device and ":" not in where:
                return point.split("@", 1)[1].rstrip("'")
    return "box"


def states_answer(drawing: Drawing, proof: WiringProof, words: RouteWords) -> list[Json]:
    """Every combination of positions: lamps, feeds, live cores."""
    return [
        {
            "positions": dict(row.positions),
            "text": words.positions(row.positions),
            "lamps": {lamp: is_so.value for lamp, is_so in row.lamps.items()},
            "lamp_text": ", ".join(
                f"{words.device(lamp)}: {words.texts['lamp_is'][is_so.value]}" for lamp, is_so in row.lamps.items()
            ),
            "supplied": {control: how.value for control, how in row.supplied.items()},
            "supply_text": ", ".join(
                f"{words.device(control)}: {words.texts['supply'][how.value]}" for control, how in row.supplied.items()
            ),
            "live": list(live_cores(drawing, row.positions)),
        }
        for row in proof.rows[:MOST_STATES]
    ]


def seats_data(seats: Seats) -> Json:
    """A wiring as it is kept."""
    return {
        "circuits": list(seats.circuits),
        "devices": [{**asdict(device), "kind": device.kind.value} for device in seats.devices],
        "cores": [
            {**asdict(core), "marked": None if core.marked is None else core.marked.value} for core in seats.cores
        ],
        "seat_of": dict(seats.seat_of),
        "intended": {lamp: list(points) for lamp, points in seats.intended.items()},
        "region": seats.region,
    }


def wiring_document(seats: Seats, name: str, breakers: Mapping[str, str] | None = None) -> Json:
    """A wiring as the command line and the check of drawings read it.

    Parameters
    ----------
    breakers : what circuits are called there, by their name in the map.
    """
    drawing = seats.drawing()
    called = breakers or {}
    return {
        "name": name,
        "circuits": [called.get(circuit, circuit) for circuit in drawing.circuits],
        "devices": [_device_document(device) for device in drawing.devices],
        "cores": [
            {
                "id": core.id,
                "ends": list(core.ends),
                "colour": core.colour,
                "marked": None if core.marked is None else core.marked.value,
                "size_m2": core.size_m2,
            }
            for core in drawing.cores
        ],
        "joints": [[_called(point, called) for point in joint] for joint in drawing.joints if len(joint) > 1],
        "capped": sorted(drawing.capped),
        "intended": {lamp: list(points) for lamp, points in drawing.intended.items()},
    }


def _called(point: str, breakers: Mapping[str, str]) -> str:
    """A point of the board by its breaker; any other as it is."""
    circuit, dot, pole = point.rpartition(".")
    return f"{breakers.get(circuit, circuit)}{dot}{pole}"


def _device_document(device: Device) -> Json:
    made = {name: value for name, value in asdict(device).items() if value not in (None, {}, ())}
    made["kind"] = device.kind.value
    if "neutral_use" in made:
        made["neutral_use"] = made["neutral_use"].value
    return {name: list(value) if isinstance(value, tuple) else value for name, value in made.items()}


def differs(ours: Seats, theirs: Drawing, words: RouteWords, breakers: Mapping[str, str]) -> list[str]:
    """Where a drawing joins what the chosen map does not, and the other way round: core ends and terminals only.

    Parameters
    ----------
    breakers : what the circuits of the map are called; where the drawing calls them so too, they are the same.
    """
    same = {circuit: breaker for circuit, breaker in breakers.items() if breaker in theirs.circuits}
    mine = {frozenset(_called(point, same) for point in pair) for pair in _touching(ours.drawing())}
    other = _touching(theirs)
    told = [
        words.text("differs", code, {"what": " – ".join(words.point(point) for point in sorted(pair))})
        for code, pairs in (("only_here", other - mine), ("only_ours", mine - other))
        for pair in sorted(pairs, key=sorted)
    ]
    return told or [words.text("differs", "same")]


def _touching(drawing: Drawing) -> set[frozenset[str]]:
    """Pairs that touch directly, of those that both sides can know: terminals, board, ends of surveyed cores."""
    return {
        frozenset((one, other))
        for joint in drawing.joints
        for k, one in enumerate(joint)
        for other in joint[k + 1 :]
        if not any(point.startswith("new") for point in (one, other))
    }


def rows_of(data: Mapping[str, Any]) -> Seats:
    """A wiring that was kept."""
    document = {**data}
    drawing = read(
        {
            "name": "kept",
            "circuits": document["circuits"],
            "devices": [_device_document_of(device) for device in document["devices"]],
            "cores": document["cores"],
            "joints": [],
            "capped": [],
        }
    )
    return Seats(
        name="kept",
        circuits=drawing.circuits,
        devices=drawing.devices,
        cores=drawing.cores,
        seat_of=document["seat_of"],
        intended={lamp: tuple(points) for lamp, points in document["intended"].items()},
        region=document["region"],
    )


def _device_document_of(kept: Json) -> Json:
    return {name: value for name, value in kept.items() if value not in (None, {}, (), [])}
