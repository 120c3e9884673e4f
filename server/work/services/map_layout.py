"""Where places, terminals and cores lie in the drawing of a wire map, on the screen as on paper."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from ember_core.routes.points import BOARD, is_aloft, is_junction
from ember_core.routes.seats import CAP

Json = dict[str, Any]
# Lengths of the drawing, in its own unit (a pixel of the screen).
BOARD_WIDTH, COLUMN_WIDTH, GAP = 164.0, 200.0, 92.0
HEAD, ROW, SPACE = 38.0, 42.0, 22.0
LEFT, TOP, RIGHT = 8.0, 2.0, 44.0
# A core that passes below what lies between keeps this from it and from the next one.
UNDER, UNDER_STEP = 20.0, 18.0


@dataclass
class _Laid:
    """What is placed so far."""

    places: list[Json] = field(default_factory=list)
    seats: list[Json] = field(default_factory=list)
    at: dict[tuple[str, str], Json] = field(default_factory=dict)
    width: float = 0.0
    deepest: float = 0.0
    under: int = 0


def layout_of(drawing: Json) -> Json:
    """Boxes, paths and symbols of a drawing.

    Only what the work touches is drawn: seats at which an end sits, found or wanted, or a device's terminals.

    Parameters
    ----------
    drawing : see `mapping.drawing_answer`.

    Returns
    -------
    `width`, `height`, `places`, `seats` (an empty name is a capped end; `cores` are those that are to sit there, each
    by its name at that place), `found` (only cores that move), `wanted`, `symbols`; all in the drawing's own unit, from
    its upper left corner.
    """
    laid = _places(drawing)
    cores = drawing["cores"]
    moved = {core["id"] for core in cores if any(end["before"] != end["after"] for end in core["ends"])}
    wanted = list(_lines(laid, cores, "after"))
    found = [line for line in _lines(laid, cores, "before") if line["id"] in moved]
    return {
        "width": laid.width,
        "height": laid.deepest + 8 + (UNDER + laid.under * UNDER_STEP if laid.under else 0),
        "places": laid.places,
        "seats": laid.seats,
        "found": found,
        "wanted": wanted,
        "symbols": list(_symbols(laid, drawing["leads"])),
    }


def _columns(drawing: Json) -> list[list[str]]:
    """Places in columns: the board, then what it feeds. What stands side by side otherwise is below each other."""
    names = [place["id"] for place in drawing["places"]]
    luminaires = [name for name in names if is_aloft(name) and not is_junction(name)]
    junctions = [name for name in names if is_junction(name)]
    boards = [name for name in names if name == BOARD]
    boxes = [[name] for name in names if not is_aloft(name) and name != BOARD]
    if not _comes_from_above(drawing):
        columns = [boards, *boxes, junctions, luminaires]
    elif junctions:
        # Both the box and the luminaires hang on it.
        columns = [boards, junctions, [*(name for box in boxes[:1] for name in box), *luminaires], *boxes[1:]]
    else:
        columns = [boards, luminaires, *boxes]
    return [column for column in columns if column]


def _comes_from_above(drawing: Json) -> bool:
    """The supply comes in at a luminaire or a junction box: a live core arrives there from the board."""
    return any(
        any(end["place"] == BOARD and end["after"].startswith(f"{BOARD}:line") for end in core["ends"])
        and any(is_aloft(end["place"]) for end in core["ends"])
        for core in drawing["cores"]
    )


def _places(drawing: Json) -> _Laid:
    laid = _Laid()
    ends = [end for core in drawing["cores"] for end in core["ends"]]
    used = {seat for end in ends for seat in (end["before"], end["after"])}
    used |= {seat for lead in drawing["leads"] for seat in lead["seats"]}
    capped = {end["place"] for end in ends if CAP in (end["before"], end["after"])}
    sitting = _sitting(drawing["cores"])
    by_id = {place["id"]: place for place in drawing["places"]}
    x = LEFT
    for number, column in enumerate(_columns(drawing)):
        width = BOARD_WIDTH if column[0] == BOARD else COLUMN_WIDTH
        top = TOP
        for name in column:
            rows = [
                {"id": seat["id"], "name": seat["name"]}
                for seat in by_id[name]["seats"]
                if seat["id"] in used or (seat["device"] is not None and not seat["id"].startswith("sw"))
            ]
            rows += [{"id": CAP, "name": ""}] if name in capped else []
            for k, row in enumerate(rows):
                y = top + HEAD + k * ROW
                there = sitting.get((name, row["id"]), [])
                box = {**row, "column": number, "x": x, "y": y, "width": width, "cores": there}
                laid.seats.append(box)
                laid.at[name, row["id"]] = box
            height = HEAD + len(rows) * ROW + 6
            title = by_id[name]["name"]
            laid.places.append({"id": name, "name": title, "x": x, "y": top, "width": width, "height": height})
            top += height + SPACE
        laid.deepest = max(laid.deepest, top - SPACE)
        x += width + GAP
    laid.width = x - GAP + RIGHT
    return laid


def _sitting(cores: list[Json]) -> dict[tuple[str, str], list[Json]]:
    """Which cores are to sit where, and what they are called there: at a place, in a seat."""
    found: dict[tuple[str, str], list[Json]] = {}
    for core in cores:
        for end in core["ends"]:
            found.setdefault((end["place"], end["after"]), []).append({"id": core["id"], "name": end["name"]})
    return found


def _lines(laid: _Laid, cores: list[Json], which: str) -> Iterator[Json]:
    """The way of each core whose two ends sit somewhere; `which` is `before` or `after`."""
    for number, core in enumerate(cores):
        boxes = [laid.at.get((end["place"], end[which])) for end in core["ends"]]
        if boxes[0] is not None and boxes[1] is not None:
            left, right = sorted((boxes[0], boxes[1]), key=lambda box: box["x"])
            yield {"id": core["id"], **_way(laid, left, right, number, counts=which == "after")}


def _way(laid: _Laid, left: Json, right: Json, number: int, *, counts: bool) -> Json:
    # Cores side by side are a little apart, at their ends and along their way.
    shift = (number * 5) % 13 - 6
    y1, y2 = (box["y"] + ROW / 2 - 3 + shift for box in (left, right))
    x1, x2 = left["x"] + left["width"], right["x"]
    if left["column"] == right["column"]:
        bow = x1 + 24 + (number * 9) % 36
        path = f"M{x1:g} {y1:g} C{bow:g} {y1:g} {bow:g} {y2:g} {x1:g} {y2:g}"
        return {"path": path, "x": bow - 8, "y": (y1 + y2) / 2}
    if right["column"] - left["column"] > 1:
        # Past what lies between, below all of it.
        y = laid.deepest + UNDER + laid.under * UNDER_STEP
        laid.under += counts
        path = (
            f"M{x1:g} {y1:g} C{x1 + 50:g} {y1:g} {x1 + 30:g} {y:g} {x1 + 80:g} {y:g}"
            f" L{x2 - 80:g} {y:g} C{x2 - 30:g} {y:g} {x2 - 50:g} {y2:g} {x2:g} {y2:g}"
        )
        return {"path": path, "x": (x1 + x2) / 2, "y": y}
    middle = (x1 + x2) / 2
    along = 0.5 + (number % 3 - 1) * 0.2
    return {
        "path": f"M{x1:g} {y1:g} C{middle:g} {y1:g} {middle:g} {y2:g} {x2:g} {y2:g}",
        "x": x1 + (x2 - x1) * along,
        "y": y1 + (y2 - y1) * (3 * along**2 - 2 * along**3),
    }


def _symbols(laid: _Laid, leads: list[Json]) -> Iterator[Json]:
    """A lamp, bypass or diode between its two seats."""
    by_seat: dict[str, Json] = {}
    for box in laid.seats:
        by_seat.setdefault(box["id"], box)
    for number, lead in enumerate(leads):
        one, other = (by_seat.get(seat) for seat in lead["seats"])
        if one is not None and other is not None:
            yield {
                "device": lead["device"],
                "kind": lead["kind"],
                "x": one["x"] + one["width"] - 22 - (number % 2) * 26,
                "y1": one["y"] + ROW / 2 - 3,
                "y2": other["y"] + ROW / 2 - 3,
            }
