"""The printed pages of an issue: its lines, its photographs, the loop sheet of each gang; and who signed, apart."""

from __future__ import annotations

import base64
from collections.abc import Collection, Sequence
from datetime import datetime
from itertools import groupby
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone
from weasyprint import HTML
from weasyprint.document import Document

from accounts.models import User
from ember_core.handover.frozen import Line
from ember_core.handover.unusual import Seen
from handover.models import Issue, Signature, Way
from handover.services.looking import unusual_answer
from handover.services.map_drawing import wire_map_of
from handover.services.sheet import FONTS, loop_sheet_pages
from judging.services.judging import missing_parts
from loops.documents import sheet_document
from loops.models import Gang, Loop
from survey.models import Photo
from wording.moments import in_zone, minute_of
from wording.texts import catalogue

Json = dict[str, Any]
MOST_PHOTOGRAPHS = 8


def laid_out(template: str, context: Json) -> Document:
    """A template laid out on pages, with the fonts that ship."""
    with in_zone(context["site"].zone):
        html = render_to_string(template, {**context, "fonts": FONTS.as_uri(), "printed_at": timezone.now()})
    return HTML(string=html, base_url=FONTS.as_uri()).render()


def bound(parts: list[Document]) -> bytes:
    """Several laid out documents as one PDF."""
    pdf: bytes = parts[0].copy([page for part in parts for page in part.pages]).write_pdf()
    return pdf


def issue_pdf(
    loop: Loop, who: User, number: int, note: str, *, lines: Sequence[Line], unusual: Collection[Seen]
) -> bytes:
    """The pages of an issue, in the language of whoever makes it.

    Parameters
    ----------
    lines, unusual : as they are frozen, in that language.
    """
    first = laid_out(
        "handover/issue.html",
        {
            "loop": loop,
            "site": loop.site,
            "number": number,
            "note": note,
            "made_by": who,
            "sections": [
                {"title": title, "lines": list(rows)} for title, rows in groupby(lines, key=lambda line: line.section)
            ],
            "unusual": unusual_answer(unusual),
            "photographs": _photographs(loop),
        },
    )
    gangs = Gang.objects.filter(loop=loop).select_related("loop__site", "loop__circuit", "control")
    complete = [
        (gang, document) for gang in gangs.order_by("position") if not missing_parts(document := sheet_document(gang))
    ]
    sheets = [loop_sheet_pages(gang, document, who, with_record=k == 0) for k, (gang, document) in enumerate(complete)]
    return bound([first, *map_pages(loop), *sheets])


def gang_pdf(gang: Gang, document: Json, who: User) -> bytes:
    """The loop sheet of a complete gang with the wire map of its loop."""
    return bound([loop_sheet_pages(gang, document, who), *map_pages(gang.loop)])


def map_pages(loop: Loop) -> list[Document]:
    """The wire map as a drawing, with its lines; none while no way is chosen."""
    drawn = wire_map_of(loop)
    if drawn is None:
        return []
    return [laid_out("handover/wire_map.html", {"loop": loop, "site": loop.site, "map": drawn})]


def _photographs(loop: Loop) -> list[Json]:
    texts = catalogue("handover")["lines"]["moments"]
    rows = Photo.objects.filter(loop=loop).exclude(moment="during")[:MOST_PHOTOGRAPHS]
    return [
        {
            "moment": texts[row.moment],
            "caption": row.caption,
            "at": row.at,
            "data": base64.b64encode(row.file.read()).decode(),
        }
        for row in rows
    ]


def signatures_pdf(issue: Issue, faults: list[str], missing: list[str]) -> bytes:
    """One page: each signature as it was drawn, and what it is under.

    Parameters
    ----------
    faults : codes of what was altered since. missing : who has not signed, in words.
    """
    texts = catalogue("handover")
    with in_zone(issue.loop.site.zone):
        signatures = [_signature(row, texts) for row in issue.signatures.select_related("by")]
    pdf: bytes = laid_out(
        "handover/signatures.html",
        {
            "issue": issue,
            "loop": issue.loop,
            "site": issue.loop.site,
            "made_by": issue.by,
            "signatures": signatures,
            "faults": ", ".join(texts["faults"][code] for code in faults),
            "missing": ", ".join(missing),
        },
    ).write_pdf()
    return pdf


def _signature(row: Signature, texts: Json) -> Json:
    return {
        "role": texts["signers"][row.role],
        "name": texts["erased"] if row.is_erased else row.name,
        "way": texts["ways"][row.way],
        "is_absent": row.way == Way.ABSENT,
        "reason": row.reason,
        "at": _told(row.moment),
        "by": row.by,
        "seal": row.seal,
        "paths": [path_of(stroke) for stroke in row.strokes],
    }


def _told(sealed: str) -> str:
    """When it was signed, in the zone in force; what somebody put there and is no moment stays as it is."""
    try:
        moment = datetime.fromisoformat(sealed)
    except ValueError:
        return sealed
    return minute_of(moment) if moment.tzinfo else sealed


def path_of(stroke: list[list[float]]) -> str:
    """A stroke as an SVG path."""
    return "M" + " L".join(f"{x:.0f} {y:.0f}" for x, y in stroke)
