"""The record of a loop as lines that a person reads, each with a key by which two issues are compared."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.utils import timezone, translation

from ember_core.handover.frozen import Line
from ember_core.proving.items import Outcome
from fitting.services.standing import standing_seen
from fitting.services.words import FitWords
from handover.services.standing import loop_standing
from judging.services.summing import overall_words
from loops.documents import count_of, gang_document
from loops.models import Gang, Loop
from loops.services.seen import Seen
from proving.models import Case
from proving.services.answers import prove_answer
from setup.models import Programs
from setup.services.houses import house_of
from setup.services.marks import joined_at
from survey.models import Isolation, Photo, Survey
from survey.services.record_pages import override_lines
from survey.services.safety import name_of
from wording.moments import in_zone, minute_of, zone_word
from wording.templatetags.wording import word
from wording.texts import catalogue, fill, vocabulary_of
from work.services.mapping import map_answer
from work.services.points import names_of
from work.services.words import RouteWords

Json = dict[str, Any]


def lines_in(loop: Loop, language: str, zone: str | None = None, seen: Seen | None = None) -> list[Line]:
    """Every line of a loop in one language.

    Parameters
    ----------
    zone : in whose time; None for that of the site. seen : what the caller has found of it already.
    """
    seen = seen or Seen(loop)
    with translation.override(language), in_zone(loop.site.zone if zone is None else zone):
        texts = catalogue("handover")["lines"]
        return [
            Line(key=key, section=texts["sections"][section], label=label, value=value)
            for section, rows in _sections(seen, texts)
            for key, label, value in rows
        ]


Row = tuple[str, str, str]


def _sections(seen: Seen, texts: Json) -> Iterator[tuple[str, list[Row]]]:
    loop = seen.loop
    yield "loop", _of_loop(loop, texts)
    yield "survey", _surveyed(loop, texts)
    yield "parts", [row for gang in _gangs(loop) for row in _of_gang(gang, texts)]
    yield "way", _of_way(seen, texts)
    yield "fitting", _of_fitting(seen, texts)
    yield "isolation", _of_isolation(loop, texts)
    yield "proving", _of_proving(seen)
    yield "setup", _of_setup(loop, texts)
    yield "cases", _of_cases(loop, texts)
    yield (
        "overrides",
        [
            (f"override:{text}", texts["override"], text)
            for text in override_lines(loop, timezone.get_current_timezone_name())
        ],
    )
    yield "photographs", _of_photographs(loop, texts)


def _gangs(loop: Loop) -> list[Gang]:
    rows = Gang.objects.filter(loop=loop).select_related("control", "loop__site")
    return list(rows.prefetch_related("bypasses", "lamps").order_by("position"))


def _of_loop(loop: Loop, texts: Json) -> list[Row]:
    circuit, site = loop.circuit, loop.site
    breaker = vocabulary_of(site.region)["breaker"]
    rows = [
        ("loop:name", texts["name"], loop.name),
        ("loop:site", texts["site"], ", ".join(part for part in (site.name, site.place) if part)),
        ("loop:supply", texts["supply"], f"{site.v_rms:g} V {site.f_hz:g} Hz"),
        ("loop:breaker", breaker[:1].upper() + breaker[1:], circuit.breaker if circuit else texts["unknown"]),
    ]
    if circuit and (label := circuit.label_now or circuit.label_as_found):
        rows.append(("loop:label", texts["label"], label))
    if loop.note:
        rows.append(("loop:note", texts["note"], loop.note))
    return rows


def _surveyed(loop: Loop, texts: Json) -> list[Row]:
    rows = []
    for survey in Survey.boxes.filter(loop=loop).order_by("place"):
        conductors = survey.box.get("conductors") or []
        if not conductors:
            continue
        name = survey.name or fill(texts["box"], {"number": survey.place})
        code = "known" if survey.is_known else "not_known"
        rows.append((f"survey:{survey.place}", name, fill(texts[code], {"count": len(conductors)})))
    return rows


def part_lines(document: Json) -> Iterator[Row]:
    """The parts of a gang's document: control, bypasses, lamps."""
    texts = catalogue("handover")["lines"]

    def part(item: Json, kind: str) -> str:
        return f"{item['label'] or kind} ({word('statuses', item['status'])})"

    control = document["control"]
    text = part(control, texts["control"]) if control else texts["none"]
    if control and (hangs := texts["wired"].get(control.get("wired", ""))):
        text = f"{text}, {hangs}"
    yield "control", texts["control"], text
    for k, item in enumerate(document["bypasses"], 1):
        yield f"bypass:{k}", texts["bypass"], part(item, texts["bypass"])
    for k, item in enumerate(document["lamps"], 1):
        yield f"lamps:{k}", texts["lamps"], f"{count_of(item['figures']):g} × {part(item, texts['lamps'])}"


def _of_gang(gang: Gang, texts: Json) -> Iterator[Row]:
    of = f"gang:{gang.position}"
    name = gang.name or fill(texts["gang"], {"number": gang.position})
    for key, label, value in part_lines(gang_document(gang)):
        yield f"{of}:{key}", f"{name}: {label}", value
    found = overall_words(gang.overall)
    yield f"{of}:verdict", f"{name}: {texts['verdict']}", f"{found['title']}. {found['text']}".strip()
    trims = catalogue("dimming")["site"]
    for key, value in (gang.trims or {}).items():
        if value is not None:
            yield f"{of}:trim:{key}", f"{name}: {trims[key]}", f"{value:g}°"


def _of_way(seen: Seen, texts: Json) -> list[Row]:
    loop, standing = seen.loop, seen.of(standing_seen)
    if standing is None:
        return []
    words = RouteWords(loop.site.region)
    title = words.texts["ways"][standing.choice.way]["title"]
    rows = [("way", texts["way"], ": ".join(part for part in (title, standing.choice.label) if part))]
    found = map_answer(standing.found, standing.wanted, loop.site.region, names=names_of(loop))
    rows += [(f"map:{line['key']}", texts["map"], line["text"]) for line in found["lines"]]
    rows.append(("map:proof", texts["map_proof"], texts["map_works" if found["works"] else "map_fails"]))
    return rows


def _of_fitting(seen: Seen, texts: Json) -> list[Row]:
    standing = seen.of(standing_seen)
    if standing is None:
        return []
    words = FitWords(standing)
    rows = []
    for step in standing.steps:
        mark = standing.marks.get(step.key)
        if mark is None:
            rows.append((f"fit:{step.key}", words.title(step.key), texts["open"]))
            continue
        params = {
            "who": name_of(mark.by),
            "at": minute_of(mark.made_at or mark.at),
            "zone": zone_word(),
            "reason": mark.reason,
        }
        code = mark.outcome if mark.reason else f"{mark.outcome}_plain"
        rows.append(
            (f"fit:{step.key}", words.title(step.key), fill(texts["fit"].get(code, texts["fit"]["other"]), params))
        )
    return rows


def _of_isolation(loop: Loop, texts: Json) -> list[Row]:
    rows = []
    found = Isolation.objects.filter(loop=loop).select_related("opened_by", "closed_by").prefetch_related("circuits")
    for row in found.order_by("opened_at"):
        what = ", ".join(circuit.breaker for circuit in row.circuits.all()) or texts["whole"]
        params = {
            "who": name_of(row.opened_by),
            "at": minute_of(row.opened_at),
            "back": minute_of(row.closed_at) if row.closed_at else "",
            "zone": zone_word(),
        }
        rows.append((f"off:{row.pk}", what, fill(texts["off" if row.closed_at else "still_off"], params)))
    return rows


def _of_proving(seen: Seen) -> list[Row]:
    texts = catalogue("handover")["lines"]
    rows = []
    for item in prove_answer(seen.loop, seen)["items"]:
        if item["outcome"] == Outcome.OPEN.value:
            said = texts["open"]
        else:
            params = {
                "what": item["result_text"] or texts["excused"],
                "reason": item["reason"],
                "who": item["by"],
                "at": minute_of(item["at"]),
                "zone": zone_word(),
            }
            said = fill(texts["proved" if not item["reason"] else "proved_because"], params)
        rows.append((f"prove:{item['key']}", item["title"], said))
    return rows


def _of_setup(loop: Loop, texts: Json) -> list[Row]:
    gangs = {str(gang.pk) for gang in Gang.objects.filter(loop=loop)}
    house, joined = house_of(loop.site), joined_at(loop.site)
    rows = []
    for device in house.devices:
        if device.gang not in gangs:
            continue
        hub = house.hub(device.hub)
        code = "joined" if device.id in joined.get(device.hub, set()) else "not_joined"
        said = fill(texts[code], {"hub": hub.name if hub else ""})
        rows.append((f"device:{device.id}", device.name, said))
    for row in Programs.objects.filter(gang__loop=loop).select_related("gang"):
        count = len(row.document.get("programs", []))
        rows.append((f"programs:{row.pk}", texts["programs"], fill(texts["program_count"], {"count": count})))
    return rows


def _of_cases(loop: Loop, texts: Json) -> list[Row]:
    causes = catalogue("diagnosis")["causes"]
    rows = []
    for case in Case.objects.filter(loop=loop).order_by("number"):
        cause = causes.get(case.cause, {})
        said = cause.get("title", case.cause) if isinstance(cause, dict) else str(cause)
        value = texts["case_open"] if case.is_open else fill(texts["case_closed"], {"cause": said})
        rows.append((f"case:{case.number}", fill(texts["case"], {"number": case.number}), value))
    return rows


def _of_photographs(loop: Loop, texts: Json) -> list[Row]:
    return [
        (f"photo:{photo.pk}", texts["moments"][photo.moment], photo.caption or minute_of(photo.at))
        for photo in Photo.objects.filter(loop=loop)
    ]


def gaps_of(seen: Seen) -> list[str]:
    """Stages that were passed over, in words."""
    texts = catalogue("handover")
    return [
        fill(texts["gap"], {"stage": texts["stages"][stage.value], "lacks": " ".join(texts["lacks"][x] for x in lacks)})
        for stage, lacks in loop_standing(seen.loop, seen).gaps.items()
    ]
