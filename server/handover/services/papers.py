"""Papers for other eyes than the firm's: the client's page of a loop, stickers, the sheet of a site."""

from __future__ import annotations

import io
from typing import Any

import qrcode
from django.utils import translation
from qrcode.image.svg import SvgPathImage

from accounts.models import User
from ember_core.errors import InputErrors
from ember_core.proving.items import Act
from ember_core.routes.seats import sleeves_between
from fitting.services.standing import standing_of
from handover.services.pages import bound, laid_out
from handover.services.standing import rules
from judging.services.loads import short
from judging.services.spreading import complete
from loops.documents import sheet_document
from loops.models import Gang, Loop
from proving.services.answers import prove_answer
from setup.models import Programs
from setup.services.houses import house_answer, house_of
from setup.services.marks import linked_at
from setup.services.working import works_answer
from sites.models import Site
from survey.models import Survey
from survey.services.record_pages import override_lines
from wording.templatetags.wording import word_at
from wording.texts import catalogue, fill, vocabulary_of
from work.services.points import names_of
from work.services.words import RouteWords

Json = dict[str, Any]
# Sheets of stickers in common formats: name, columns, rows, and the size of one [mm]; A4 is 210 by 297.
STICKERS = {"24": (3, 8, 70.0, 37.0), "12": (2, 6, 105.0, 49.5), "40": (4, 10, 52.5, 29.7)}
LINK_MM = 16.0


def client_pdf(loop: Loop, languages: list[str]) -> bytes:
    """The client's page, one side a language: how it switches, what an outage does, what is live, which lamps."""
    parts = []
    for spoken in languages:
        with translation.override(spoken):
            gangs = Gang.objects.filter(loop=loop).select_related("control", "loop__site").prefetch_related("lamps")
            parts.append(
                laid_out(
                    "handover/client.html",
                    {
                        "loop": loop,
                        "site": loop.site,
                        "breaker": loop.circuit.breaker if loop.circuit else "",
                        "words": vocabulary_of(loop.site.region),
                        "gangs": [_client_gang(gang) for gang in gangs.order_by("position")],
                        "after": _after_outage(loop),
                        "contact": rules().contact,
                    },
                )
            )
    return bound(parts)


def _client_gang(gang: Gang) -> Json:
    texts = catalogue("handover")["client"]
    document = sheet_document(gang)
    try:
        dims: bool | None = complete(document).loop.control.is_dimmer
    except InputErrors:
        dims = None
    house = house_of(gang.loop.site)
    device = house.of_gang(str(gang.pk))
    remotes = [one for one in house.devices if device is not None and one.dimmer == device.id]
    linked = linked_at(gang.loop.site, house) if remotes else set()
    programs = Programs.objects.filter(gang=gang).first()
    lamps = [f"{lamp.figures.get('count', 1):g} × {lamp.label}" for lamp in gang.lamps.all() if _is_number(lamp)]
    how = [texts["dims" if dims else "switches" if dims is False else "unknown"]]
    for code, named in (
        ("remotes", [one.name for one in remotes if one.id in linked]),
        ("remotes_not_linked", [one.name for one in remotes if one.id not in linked]),
    ):
        if named:
            how.append(fill(texts[code], {"names": ", ".join(named)}))
    if programs is not None and programs.document.get("programs"):
        how.append(texts["programs"])
    return {
        "name": gang.name,
        "how": how,
        "lamps": ", ".join(lamps) or texts["lamps_unknown"],
        "allowed": _allowed(gang.load, texts),
        "dims": texts["dimmable" if dims else "need_not_dim"] if dims is not None else "",
    }


def _allowed(load: Json, texts: Json) -> str:
    """How many lamps there may be; where no number is sure, only what hangs there is known to go."""
    least, most = load.get("least"), load.get("most")
    is_none = load.get("never_rule") is not None or (least is not None and most is not None and least > most)
    if is_none or (least is None and most is None):
        return str(texts["only_these"])
    code = "between" if None not in (least, most) else "least" if most is None else "most"
    return str(fill(texts["allowed"][code], {"least": least or 0, "most": most or 0}))


def _is_number(lamp: Any) -> bool:
    return not isinstance(lamp.figures.get("count", 1), dict)


def _after_outage(loop: Loop) -> str:
    """What was seen after a power cut; unknown where nobody tried."""
    texts = catalogue("handover")["client"]["after"]
    for item in prove_answer(loop)["items"]:
        if item["act"] == Act.POWER_ON.value and item["result"]:
            return str(texts.get(item["result"], item["result_text"]))
    return str(texts["unknown"])


def stickers_pdf(loop: Loop, form: str, address: str) -> bytes:
    """Stickers of a loop: breaker, boxes, luminaires, cores that bear a mark, several sources; each with the way back.

    Parameters
    ----------
    form : one of `STICKERS`. address : of the loop in this installation, for the code on its box.
    """
    columns, rows, width, height = STICKERS[form]
    found = _stickers(loop)
    made: bytes = laid_out(
        "handover/stickers.html",
        {
            "loop": loop,
            "site": loop.site,
            "columns": columns,
            "width": width,
            "height": height,
            "margin_x": round((210.0 - columns * width) / 2, 2),
            "margin_y": round((297.0 - rows * height) / 2, 2),
            "is_small": height < 32.0,
            "stickers": found,
            "code": code_svg(address),
        },
    ).write_pdf()
    return made


def code_svg(address: str) -> str:
    """An address as a QR code (ISO/IEC 18004), drawn as SVG."""
    out = io.BytesIO()
    qrcode.make(address, image_factory=SvgPathImage, border=2).save(out)
    return out.getvalue().decode().partition("?>")[2]


def _stickers(loop: Loop) -> list[Json]:
    texts, gang_word = catalogue("handover")["stickers"], catalogue("handover")["lines"]["gang"]
    vocabulary = vocabulary_of(loop.site.region)
    breaker = loop.circuit.breaker if loop.circuit else word_at("not_known")
    params = {"breaker": breaker, "loop": loop.name}
    found = [
        {"head": breaker, "text": loop.name, "note": fill(texts["isolate"], params), "code": False},
        {
            "head": loop.name,
            "text": fill(texts["box"], params),
            "note": fill(texts["live_when_off"], params),
            "code": True,
        },
    ]
    found += [
        {
            "head": "⚠",
            "text": fill(texts["lamp"], {**params, "gang": gang.name or fill(gang_word, {"number": gang.position})}),
            "note": fill(texts["live_when_off"], params),
            "code": False,
        }
        for gang in Gang.objects.filter(loop=loop).order_by("position")
    ]
    sources = sorted(_sources(loop) | ({breaker} if loop.circuit else set()))
    if len(sources) > 1:
        note = fill(texts["sources"], {"names": ", ".join(sources)})
        found.append({"head": "⚠", "text": texts["several"], "note": note, "code": False})
    standing = standing_of(loop)
    if standing is not None:
        cores = {core.id: core for core in (*standing.found.cores, *standing.wanted.cores)}
        words = RouteWords(loop.site.region, cores, names_of(loop))
        found += [
            {
                "head": words.core(sleeve.core),
                "text": texts["marks"][sleeve.after.value],
                "note": fill(texts["remarked"], {**params, **vocabulary}),
                "code": False,
            }
            for sleeve in sleeves_between(standing.found, standing.wanted)
            if sleeve.after is not None
        ]
    return found


def _sources(loop: Loop) -> set[str]:
    """Breakers that feed any box of a loop beside its own."""
    return {
        circuit.breaker
        for survey in Survey.objects.filter(loop=loop).prefetch_related("other_circuits")
        for circuit in survey.other_circuits.all()
    }


def site_pdf(site: Site, who: User) -> bytes:
    """The sheet of a site: loops and where they stand, breakers with their labels, devices, what works without what."""
    stages = catalogue("handover")["stages"]
    works = catalogue("overall")["works"]
    loops = Loop.objects.filter(site=site).select_related("circuit").order_by("name")
    house = house_answer(site)
    try:
        failing: Json | None = works_answer(site) if house["document"].get("devices") else None
    except InputErrors:
        failing = None
    made: bytes = laid_out(
        "handover/site.html",
        {
            "site": site,
            "printed_by": who,
            "loops": [
                {
                    "name": loop.name,
                    "breaker": loop.circuit.breaker if loop.circuit else "?",
                    "stage": stages.get(loop.stage, ""),
                    "works": works[loop.works]["word"],
                    "limits": short(loop.load),
                }
                for loop in loops
            ],
            "overrides": [line for loop in loops for line in override_lines(loop)],
            "circuits": [
                {
                    "breaker": circuit.breaker,
                    "label": circuit.label_now or circuit.label_as_found,
                    "was": circuit.label_as_found if circuit.label_now else "",
                    "feeds": circuit.feeds,
                    "loops": ", ".join(loop.name for loop in loops if loop.circuit_id == circuit.pk),
                }
                for circuit in site.circuits.all()
            ],
            "hubs": house["hubs"],
            "failing": failing,
        },
    ).write_pdf()
    return made
