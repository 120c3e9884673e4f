"""Pre-visit sheet and breaker labels on paper."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.template.loader import render_to_string
from django.utils import timezone
from weasyprint import HTML

from accounts.models import User
from loops.models import Loop
from sites.models import Site
from survey.services.answers import CAUTIONS, visit_answer
from survey.services.covering import circuits_of
from survey.services.documents import survey_of
from survey.services.record_pages import override_lines, record_pages
from survey.services.words import Words
from wording.moments import in_zone
from wording.quantities import with_unit
from wording.texts import catalogue, fill, vocabulary_of

FONTS = settings.ROOT / "server" / "handover" / "fonts"


def pdf_of(template: str, context: dict[str, Any]) -> bytes:
    """A template laid out, with the fonts that ship and the time it was printed, in the time of its `site`."""
    with in_zone(context["site"].zone):
        html = render_to_string(template, {**context, "fonts": FONTS.as_uri(), "printed_at": timezone.now()})
    pdf: bytes = HTML(string=html, base_url=FONTS.as_uri()).write_pdf()
    return pdf


def visit_pdf(loop: Loop, who: User) -> bytes:
    """The pre-visit sheet of a loop: one A4 page."""
    survey = survey_of(loop)
    words = Words(loop.site.region)
    vocabulary = vocabulary_of(loop.site.region)
    known = [
        (words.text("enquiry", key), _said(words, key, value))
        for key, value in survey.enquiry.items()
        if value not in (None, "") and key in words.texts["enquiry"]
    ]
    return pdf_of(
        "survey/visit.html",
        {
            "loop": loop,
            "site": loop.site,
            "visit": visit_answer(survey, loop),
            "known": known,
            "circuits": circuits_of(survey, loop),
            "cautions": [fill(catalogue("cautions")[code], {}, vocabulary) for code in CAUTIONS],
            "printed_by": who,
            "overrides": override_lines(loop),
        },
    )


def record_pdf(loop: Loop, who: User) -> bytes:
    """Survey, isolations with locks, proofs and steps of a loop, whether or not its gangs are complete."""
    return pdf_of(
        "survey/record.html",
        {"loop": loop, "site": loop.site, "record": record_pages(loop, who), "printed_by": who},
    )


def _said(words: Words, key: str, value: object) -> str:
    if key == "flash_period_s":
        return with_unit(float(str(value)), "s")
    table = {"complaint": "complaints", "radio": "radios", "lamps": "lamps"}.get(key)
    if table:
        return words.text(table, str(value))
    return words.text("values", "yes" if value else "no") if isinstance(value, bool) else str(value)


def labels_pdf(site: Site) -> bytes:
    """A label for every breaker of a site, to be cut out: what it feeds, and the loops that stay live when off."""
    circuits = [
        {
            "circuit": circuit,
            "overrides": [line for loop in circuit.loops.all() for line in override_lines(loop)],
            "label": circuit.label_now or circuit.feeds or circuit.label_as_found,
            "loops": loops,
        }
        for circuit in site.circuits.prefetch_related("loops")
        if (loops := [loop.name for loop in circuit.loops.all()]) is not None
    ]
    return pdf_of("survey/labels.html", {"site": site, "circuits": circuits})
