"""Which bypass for a draft, where it goes, what it costs, and what to do when it still flashes: core in, words out."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from common.streaming import Progress
from ember_core import sheet
from ember_core.bypass.after import Change, after_fitting, one_filament
from ember_core.bypass.choose import Candidate, Choice, Choosing, choose, is_forbidden, without_bypass
from ember_core.bypass.limits import Limit
from ember_core.bypass.place import Place, Where, needs, wire_lines
from ember_core.bypass.schools import KINDS, Said, schools, year
from ember_core.bypass.window import Window, with_bypass
from ember_core.errors import InputError, InputErrors, SolverError
from ember_core.parts import CapacitorBypass, ResistorBypass, is_led
from ember_core.sheet import Sheet
from judging.services.spreading import complete, ended, explanation, feed_word, measurements, spread_data
from parts.models import Category, Part
from wording.quantities import in_words
from wording.texts import catalogue, fill, vocabulary_of

Json = dict[str, Any]
# Remedies shown after fitting.
MOST_REMEDIES = 6
FAIR_CHANCE = 0.5
FILAMENT_P_W = 25.0
# What a size of a series is known by, in the language of the data.
SERIES_5 = "series value, 5 %"
SERIES_20 = "series value, 20 %"


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What choosing is asked with, read from the database beforehand.

    Parameters
    ----------
    given : the draft. candidates : the shelf's bypasses. parts : the same by key. region : whose words.
    place : where it would go. siblings : the other gangs of the box by name; None for an incomplete one.
    """

    given: Sheet
    candidates: tuple[Candidate, ...]
    parts: Mapping[str, Part]
    region: str
    place: Place | None
    hours_a_year: float
    price_per_kwh: float | None
    siblings: Mapping[str, Sheet | None]


def asked(
    document: Json,
    region: str,
    place: Json | None,
    siblings: Mapping[str, Json],
    *,
    hours_a_year: float,
    price_per_kwh: float | None,
) -> Asked:
    """Everything that choosing needs of the database.

    Raises
    ------
    InputErrors : see core; an incomplete draft raises it with `missing`.
    """
    given = complete(document)
    parts = {str(part.pk): part for part in Part.objects.filter(category=Category.BYPASS)}
    candidates = [made for key, part in parts.items() if (made := _candidate(key, part, document)) is not None]
    return Asked(
        given=given,
        candidates=tuple(candidates),
        parts=parts,
        region=region,
        place=read_place(place),
        hours_a_year=hours_a_year,
        price_per_kwh=price_per_kwh,
        siblings={name: _sibling(other) for name, other in siblings.items()},
    )


def read_place(place: Json | None) -> Place | None:
    """The core's place of a stored or sent one.

    Raises
    ------
    InputErrors : it cannot be.
    """
    if not place:
        return None
    try:
        return Place(**{**place, "where": Where(place.get("where", Where.LUMINAIRE))})
    except InputError as error:
        raise InputErrors([error]) from error


def _sibling(document: Json) -> Sheet | None:
    try:
        return complete(document)
    except InputErrors:
        return None


def _candidate(key: str, part: Part, document: Json) -> Candidate | None:
    """A shelf part for this loop; None when its figures no longer make a part."""
    try:
        read = sheet.read({**document, "bypass": [part.figures]})
    except InputErrors:
        return None
    prefix = "bypass[0]."
    figures = {path.removeprefix(prefix): f for path, f in read.figures.items() if path.startswith(prefix)}
    return Candidate(name=key, bypass=read.loop.bypass[0], figures=figures)


def choose_answer(ask: Asked, progress: Progress) -> Json:
    """Windows, ranked parts, habits and place, in words; the first line of progress brings the order so far.

    Raises
    ------
    SolverError : see core.
    """

    def told(done: int, of: int, so_far: Choosing | None) -> bool:
        return progress(done, of, None if so_far is None else _answer(ask, so_far, ""))

    found = choose(ask.given, ask.candidates, place=ask.place, with_values=True, progress=told)
    return _answer(ask, found, ended("choosing", is_complete=found.is_complete))


def _answer(ask: Asked, found: Choosing, why_ended: str) -> Json:
    texts = catalogue("window")
    return {
        "capacitor": _window(found.capacitor, "capacitor"),
        "resistor": _window(found.resistor, "resistor"),
        "active": _window(found.active, "active"),
        "none_needed": found.none_needed,
        "none_cures": texts["none_cures"] if found.none_cures else "",
        "is_complete": found.is_complete,
        "ended": why_ended,
        "parts": [_choice(ask, choice) for choice in found.choices],
        "schools": _schools(ask, found),
        "place": _place_words(ask),
    }


def _window(window: Window, kind: str) -> Json:
    texts = catalogue("window")
    params = {"group": (window.lower_group or 0) + 1}
    works = window.low is not None
    return {
        "low": window.low,
        "high": window.high,
        "works": works,
        "wanted": window.wanted,
        "sure": window.sure,
        "lower_reason": window.lower_reason,
        "upper_reason": window.upper_reason,
        "lower_text": fill(texts[f"reason_{window.lower_reason}"], params),
        "upper_text": fill(texts[f"reason_{window.upper_reason}"], params),
        "text": fill(texts[f"{kind}_{'works' if works else 'never'}"], params),
        "zones": [
            {"low": zone.low, "high": zone.high, "reason": zone.reason, "group": zone.group} for zone in window.zones
        ],
        "limits": [_limit(limit) for limit in window.limits],
    }


def _limit(limit: Limit) -> Json:
    texts = catalogue("window")
    code = f"limit_{limit.reason.value}"
    if f"{code}_unknown" in texts and limit.value is None:
        code = f"{code}_unknown"
    is_there = limit.value is not None and math.isfinite(limit.value)
    params = {"most_w": 0.0, **limit.params}
    return {
        "reason": limit.reason.value,
        "value": limit.value if is_there else None,
        "text": fill(texts[code], params),
    }


def _name(ask: Asked, candidate: Choice | Candidate) -> str:
    """What a candidate is called: a part of the shelf, a value of a series, or none."""
    texts, bypass = catalogue("window"), candidate.bypass
    if bypass is None:
        return str(texts["none"])
    part = ask.parts.get(candidate.name)
    if part is not None:
        return f"{part.maker} {part.name}"
    if isinstance(bypass, CapacitorBypass):
        return fill(texts["value_capacitor"], {"c_f": bypass.c_f})
    return fill(texts["value_resistor"], {"r_ohm": bypass.r_ohm if isinstance(bypass, ResistorBypass) else 0.0})


def _choice(ask: Asked, choice: Choice) -> Json:
    texts = catalogue("bypass")
    used = year(choice, ask.hours_a_year, ask.price_per_kwh)
    part = ask.parts.get(choice.name)
    return {
        "part": None if part is None else str(part.pk),
        "figures": _piece(choice) if part is None and choice.bypass is not None else None,
        "name": _name(ask, choice),
        "kind": choice.kind,
        "rank": choice.rank,
        "verdict": choice.verdict,
        "samples": choice.samples,
        "share_ratio": choice.share,
        "on_share_ratio": choice.on_share,
        "margin_ratio": choice.margin if math.isfinite(choice.margin) else None,
        "heat_w": choice.on.heat_w,
        "reactive_a": choice.on.reactive_a,
        "reactive_va": choice.on.reactive_va,
        "surface_k": choice.on.surface_k,
        "price": choice.price,
        "year_j": None if used is None else used.energy_j,
        "year_cost": None if used is None else used.cost,
        "reasons": [
            {"severity": f.severity.value, "text": fill(texts[f.code], f.params, vocabulary_of(ask.region))}
            for f in choice.findings
            if f.code != "bypass_works"
        ],
    }


def _piece(choice: Choice) -> Json:
    """A value of a series as a piece of a loop sheet."""
    if isinstance(choice.bypass, CapacitorBypass):
        size = {"low": choice.bypass.c_f * 0.8, "typical": choice.bypass.c_f, "high": choice.bypass.c_f * 1.2}
        note = {"source": "assumed", "note": SERIES_20}
        return {"kind": "capacitor", "c_f": {**size, **note}, "r_parallel_ohm": choice.bypass.r_parallel_ohm}
    r_ohm = choice.bypass.r_ohm if isinstance(choice.bypass, ResistorBypass) else 0.0
    return {
        "kind": "resistor",
        "r_ohm": {
            "low": r_ohm * 0.95,
            "typical": r_ohm,
            "high": r_ohm * 1.05,
            "source": "assumed",
            "note": SERIES_5,
        },
    }


def _schools(ask: Asked, found: Choosing) -> list[Json]:
    nothing = next(choice for choice in found.choices if choice.bypass is None)
    return [_said(ask, said, nothing.share) for said in schools(found)]


def _said(ask: Asked, said: Said, without: float) -> Json:
    texts = catalogue("window")
    key = f"said_{'kind' if said.school in KINDS else said.school.value}_{said.code}"
    params = {
        "best": "" if said.best is None else _name(ask, said.best),
        "share": f"{said.share * 100:.0f} %",
        "without": f"{without * 100:.0f} %",
        "feed": feed_word(ask.given.loop),
    }
    return {
        "school": said.school.value,
        "title": texts[f"school_{said.school.value}"],
        "code": said.code,
        "text": fill(texts["said_open" if said.code == "open" else key], params),
    }


def _place_words(ask: Asked) -> Json:
    """Where it goes: other gangs, wire map lines, enclosure."""
    texts, vocabulary = catalogue("window"), vocabulary_of(ask.region)
    place = ask.place or Place()
    said = []
    if ask.given.loop.control.standby is None:
        for name, other in ask.siblings.items():
            if other is not None and other.loop.control.standby is not None:
                said.append(fill(texts["belongs_elsewhere"], {"name": name}))
    for name, other in ask.siblings.items():
        if other is None:
            continue
        try:
            (need,) = needs([without_bypass(other)])
        except SolverError:
            continue
        if not need.is_well:
            said.append(fill(texts["one_each"], {"name": name, "feed": feed_word(other.loop)}))
    called = place.name or texts[f"place_{place.where.value}"]
    words = {"place": called}
    return {
        "notes": [*said, texts["enclosed"]],
        "lines": [
            {
                "start": fill(texts[f"wire_{line.start}"], words, vocabulary),
                "end": fill(texts[f"wire_{line.end}"], words, vocabulary),
                "conductor": fill(texts[f"wire_conductor_{line.conductor}"], words, vocabulary),
                "marking": line.marking,
            }
            for line in wire_lines(place)
        ],
    }


def after_answer(ask: Asked, readings: Sequence[Json], document: Json, seed: int, progress: Progress) -> Json:
    """What was read with the bypass in, against what was computed, and the next remedy by its chance.

    Raises
    ------
    InputErrors : a reading cannot be. SolverError : see core.
    """
    changes, names = _changes(ask)
    try:
        found = after_fitting(
            ask.given,
            measurements(readings, document),
            changes,
            seed=seed,
            progress=lambda done, of: progress(done, of),
        )
    except InputError as error:
        raise InputErrors([error]) from error
    texts = catalogue("window")
    remedies = [
        {"name": names[remedy.name], "part": remedy.name if remedy.name in ask.parts else None, "chance": remedy.chance}
        for remedy in found.remedies[:MOST_REMEDIES]
    ]
    if not found.narrowing.is_explained:
        # No chance is told of a loop that is not the one that was measured.
        return {
            "text": explanation(found.narrowing, ask.given),
            "is_explained": False,
            "works_chance": None,
            "remedies": [],
            "ended": "",
            "spread": spread_data(found.narrowing.spread, ask.given),
        }
    said = [texts["after_as_computed"]]
    feed = feed_word(ask.given.loop)
    said.append(fill(texts["after_works"], {"chance": f"{found.works_chance * 100:.0f} %", "feed": feed}))
    if found.works_chance < FAIR_CHANCE:
        best = found.remedies[0] if found.remedies else None
        if best is None or best.chance < FAIR_CHANCE:
            said.append(texts["after_none"])
        else:
            params = {"name": names[best.name], "chance": f"{best.chance * 100:.0f} %", "feed": feed}
            said.append(fill(texts["after_next"], params))
    return {
        "text": " ".join(said),
        "is_explained": found.narrowing.is_explained,
        "works_chance": found.works_chance,
        "remedies": remedies,
        # That the samples ended is told with them.
        "ended": ended("remedies", is_complete=found.is_complete or not found.narrowing.spread.is_complete),
        "spread": spread_data(found.narrowing.spread, ask.given),
    }


def _changes(ask: Asked) -> tuple[dict[str, Change], dict[str, str]]:
    """Remedies by key, and what they are called: every part of the shelf that may be fitted, and one filament lamp."""
    changes: dict[str, Change] = {}
    names: dict[str, str] = {}

    def add(key: str, change: Callable[..., Any], name: str) -> None:
        changes[key], names[key] = change, name

    for candidate in ask.candidates:
        if is_forbidden(ask.given.loop, candidate.bypass, ask.place):
            continue
        add(candidate.name, partial(with_bypass, bypass=candidate.bypass), _name(ask, candidate))
    texts = catalogue("window")
    for group, lamp in enumerate(ask.given.loop.lamps):
        if not is_led(lamp):
            continue
        try:
            change = one_filament(ask.given, group, FILAMENT_P_W)
        except InputError:
            continue
        params = {"p_w": in_words("p_w", FILAMENT_P_W), "group": group + 1}
        add(f"filament {group}", change, fill(texts["filament_remedy"], params))
    return changes, names
