"""The loop sheet on paper: a page for the off state, one for the light on and the loads, and the record."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone
from weasyprint import HTML
from weasyprint.document import Document

from accounts.models import User
from ember_core import sheet
from handover.services.thread_drawing import thread_svg
from judging.services.answers import in_words
from judging.services.judging import judge_document, result_data
from judging.services.lighting import lit_kept, lit_words
from judging.services.loads import limits_of
from judging.services.summing import overall_kept, overall_words
from loops.documents import gang_document
from loops.models import Gang
from survey.services.complaining import complaint_of_record
from survey.services.record_pages import override_lines, record_pages
from wording.moments import in_zone
from wording.quantities import engineering, significant
from wording.templatetags.wording import say, word, word_at
from wording.texts import catalogue, vocabulary_of

Json = dict[str, Any]
FONTS = Path(__file__).parent.parent / "fonts"
MOST_FINDINGS = 8
MOST_INPUTS = 14


def loop_sheet_pages(gang: Gang, document: Json, who: User, *, with_record: bool = True) -> Document:
    """The pages for a complete gang, laid out.

    Parameters
    ----------
    document : its loop sheet.
    who : whose name the page carries as the one who printed it.
    with_record : with what was found, isolated, proved and measured at its loop.
    """
    site = gang.loop.site
    given = sheet.read(document)
    judgement = judge_document(document)
    answer = in_words(result_data(judgement, drawn=False), given, site.region)
    parts = gang_document(gang)
    lit = lit_kept(given, gang.trims)
    context = {
        "gang": gang,
        "loop": gang.loop,
        "site": site,
        "words": vocabulary_of(site.region),
        "answer": answer,
        "overall": overall_words(overall_kept(given, judgement, gang.trims), given),
        "parts": parts,
        "lamps": [
            _lamp_row(item, result) for item, result in zip(parts["lamps"], answer["figures"]["lamps"], strict=True)
        ],
        "figures": _figure_rows(answer["figures"]),
        "findings": answer["findings"][:MOST_FINDINGS],
        "inputs": _inputs(answer["findings"])[:MOST_INPUTS],
        "lit": lit_words(lit, site.region) if lit else None,
        "trims_set": _trims_set(gang.trims),
        "loads": limits_of(given),
        "record": record_pages(gang.loop, who) if with_record else {"overrides": override_lines(gang.loop)},
        "complaint": complaint_of_record(gang),
        "thread": thread_svg(gang, parts, answer),
        "printed_at": timezone.now(),
        "printed_by": who,
        "fonts": FONTS.as_uri(),
    }
    with in_zone(site.zone):
        html = render_to_string("handover/loop_sheet.html", context)
    return HTML(string=html, base_url=FONTS.as_uri()).render()


def _lamp_row(item: Json, result: Json) -> Json:
    return {
        "label": item["label"] or word("kinds", result["kind"]),
        "count": result["count"],
        "status": item["status"],
        "state": result["state"],
        "current": engineering(result["i_rms_a"], "A"),
    }


def _trims_set(trims: Json) -> str:
    """What was found and set on site, in a line; empty where nobody looked."""
    names = catalogue("dimming")["site"]
    said = [f"{names[name]} {significant(value)}°" for name, value in (trims or {}).items() if value is not None]
    return ", ".join(said)


def _figure_rows(figures: Json) -> list[tuple[str, str]]:
    control = figures["control"]
    rows = [
        (word_at("sheet.line_i"), engineering(figures["line_i_rms_a"], "A")),
        (word_at("sheet.lamp_v"), engineering(figures["lamp_v_rms"], "V")),
        (word_at("sheet.lamp_peak"), engineering(figures["lamp_v_peak"], "V")),
    ]
    rows += [
        (say("sheet.meter", r=engineering(reading["r_ohm"], "Ω")), engineering(reading["v_rms"], "V"))
        for reading in figures["meter"]
    ]
    rows += [(word_at("sheet.through_bypass"), engineering(current, "A")) for current in figures["shares"]["bypass_a"]]
    if control["state"] is not None:
        rows.append((word_at("sheet.reservoir"), engineering(control["standby_v_dc"], "V")))
        if control["p_available_w"] is not None:
            rows.append(
                (
                    word_at("sheet.power"),
                    say(
                        "sheet.power_of",
                        available=engineering(control["p_available_w"], "W"),
                        needed=engineering(control["p_needed_w"], "W"),
                    ),
                )
            )
    balance = figures["numerics"]["energy_balance_ratio"]
    if balance is not None:
        rows.append((word_at("sheet.balance"), f"{significant(abs(balance) * 100, 2)} %"))
    return rows


def _inputs(findings: list[Json]) -> list[Json]:
    """Every input that a finding names, once, with the word for where it is from."""
    sources = catalogue("records")["sources"]
    seen: dict[str, Json] = {}
    for finding in findings:
        if finding["code"] == "figures_assumed":
            continue
        for given in finding["inputs"]:
            seen.setdefault(given["path"], {**given, "source": sources[given["source"]]})
    return list(seen.values())
