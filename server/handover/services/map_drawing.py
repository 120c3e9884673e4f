"""The wire map on paper: the drawing of the screen, its colours told by letters too, for print in black and white."""

from __future__ import annotations

from html import escape
from typing import Any

from fitting.services.standing import standing_of
from handover.services.thread_drawing import INK
from loops.models import Loop
from wording.templatetags.wording import word_at
from wording.texts import catalogue
from work.services.chosen import chosen_of
from work.services.comparing import standing_answer
from work.services.finding import load
from work.services.mapping import map_answer
from work.services.points import names_of

Json = dict[str, Any]
QUIET, HAIRLINE = "#6b5f53", "#d9d0c4"
# Letters for colours by IEC 60757; bare copper has none there.
LETTERS = {
    "black": "BK",
    "brown": "BN",
    "red": "RD",
    "orange": "OG",
    "yellow": "YE",
    "green": "GN",
    "blue": "BU",
    "violet": "VT",
    "grey": "GY",
    "white": "WH",
    "green-yellow": "GNYE",
}
TONES = {
    "black": "#1c1a19",
    "brown": "#7a4a21",
    "red": "#c0342b",
    "orange": "#df7d1f",
    "yellow": "#e4c32f",
    "green": "#3c8a3f",
    "blue": "#2f6fb5",
    "violet": "#7a4c9e",
    "grey": "#8b8a88",
    "white": "#f7f5f0",
    "green-yellow": "#3c8a3f",
    "bare": "#b9793c",
}


def wire_map_of(loop: Loop) -> Json | None:
    """What the page of a wire map holds, and what of it is open or taken for granted; None while no way is chosen."""
    standing = standing_of(loop)
    if standing is None:
        return None
    title = catalogue("routes")["ways"][standing.choice.way]["title"]
    part = chosen_of(loop, standing.choice).hardware
    answer = map_answer(
        standing.found,
        standing.wanted,
        loop.site.region,
        names=names_of(loop),
        torque_nm=None if part is None else part.torque_nm,
    )
    based = standing_answer(load(loop))
    drawing = answer["drawing"]
    words = catalogue("routes")["colours"]
    colours = {core["colour"] for core in drawing["cores"] if core["colour"] in LETTERS}
    return {
        "way": ": ".join(part for part in (title, standing.choice.label) if part),
        "svg": map_svg(answer),
        "legend": sorted(f"{LETTERS[colour]} {words[colour]}" for colour in colours),
        "works": answer["works"],
        "open": ", ".join(based["open_roles"]),
        "assumed": based["assumed"],
        "states": answer["states"],
        "lines": answer["lines"],
    }


def names_at(cores: list[Json]) -> str:
    """Cores at a terminal as they are told in the drawing: of one colour and mark together, as in `c4 c6 GNYE`."""
    routes = catalogue("routes")
    found: dict[tuple[str, str | None], list[str]] = {}
    for core in cores:
        found.setdefault((core["colour"], core["marked"]), []).append(core["name"])
    said = []
    for (colour, mark), names in found.items():
        letters = LETTERS.get(colour) or routes["colours"].get(colour, colour)
        said.append(" ".join([*names, letters, f"({routes['marks'][mark]})" if mark else ""]).strip())
    return ", ".join(said)


def map_svg(answer: Json) -> str:
    """SVG of a wire map, for print: found dashed, wanted in full.

    Parameters
    ----------
    answer : see `work.services.mapping.map_answer`.
    """
    layout = answer["layout"]
    cores = {core["id"]: core for core in answer["drawing"]["cores"]}
    drawn = [part for place in layout["places"] for part in _place(place)]
    for seat in layout["seats"]:
        drawn += _seat(seat, [{**cores[core["id"]], "name": core["name"]} for core in seat["cores"]])
    drawn += [part for symbol in layout["symbols"] for part in _symbol(symbol)]
    drawn += [_path(line, QUIET, 1.5, ' stroke-dasharray="4 5"') for line in layout["found"]]
    for line in layout["wanted"]:
        # Ink on both sides, so that a white core is seen on white paper.
        tone = TONES.get(cores[line["id"]]["colour"], QUIET)
        drawn += [_path(line, "white", 7.5), _path(line, INK, 4.6), _path(line, tone, 3.2)]
    size = f'viewBox="0 0 {layout["width"]:g} {layout["height"]:g}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size} width="100%" font-family="Next">{"".join(drawn)}</svg>'


def _place(place: Json) -> list[str]:
    x, y = place["x"], place["y"]
    return [
        f'<rect x="{x:g}" y="{y:g}" width="{place["width"]:g}" height="{place["height"]:g}" rx="6" fill="none"'
        f' stroke="{INK}" stroke-width="1.2"/>',
        _text(x + 12, y + 24, place["name"], size=15, weight="bold"),
    ]


def _seat(seat: Json, cores: list[Json]) -> list[str]:
    x, y = seat["x"], seat["y"]
    return [
        f'<path d="M{x:g} {y - 2:g} h{seat["width"]:g}" stroke="{HAIRLINE}"/>',
        _text(x + 12, y + 15, seat["name"] or word_at("map.capped"), size=13.5),
        _text(x + 12, y + 31, names_at(cores), size=12, family="Mono"),
    ]


def _symbol(symbol: Json) -> list[str]:
    x, y1, y2 = symbol["x"], symbol["y1"], symbol["y2"]
    middle = (y1 + y2) / 2
    ink = f'fill="white" stroke="{INK}" stroke-width="1.5"'
    lead = f'<path d="M{x:g} {y1:g} V{y2:g}" {ink}/>'
    if symbol["kind"] != "lamp":
        return [lead, f'<rect x="{x - 6:g}" y="{middle - 10:g}" width="12" height="20" {ink}/>']
    cross = f'<path d="M{x - 7:g} {middle - 7:g} l14 14 M{x + 7:g} {middle - 7:g} l-14 14" {ink}/>'
    return [lead, f'<circle cx="{x:g}" cy="{middle:g}" r="10" {ink}/>', cross]


def _path(line: Json, tone: str, width: float, more: str = "") -> str:
    return f'<path d="{line["path"]}" fill="none" stroke="{tone}" stroke-width="{width:g}"{more}/>'


def _text(x: float, y: float, words: str, *, size: float, weight: str = "normal", family: str = "Next") -> str:
    font = f'font-size="{size:g}" font-weight="{weight}" font-family="{family}"'
    return f'<text x="{x:g}" y="{y:g}" {font} fill="{INK}">{escape(words)}</text>'
