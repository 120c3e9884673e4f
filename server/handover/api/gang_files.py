"""Downloads of a gang."""

from __future__ import annotations

import json
import re
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from accounts.policy import person
from ember_core import netlist, sheet
from ember_server.problems import Problem
from ember_server.shapes import READ_PROBLEMS, problems
from handover.services.sheet import loop_sheet_pdf
from judgements.services.judging import missing_parts
from loops.documents import sheet_document
from loops.models import Gang


def _gang(pk: Any) -> Gang:
    return get_object_or_404(Gang.objects.select_related("loop__site", "loop__circuit", "control"), pk=pk)


def _file(content: bytes | str, media_type: str, gang: Gang, ending: str, *, inline: bool = False) -> HttpResponse:
    name = re.sub(r"[^a-z0-9]+", "-", f"{gang.loop.name} gang {gang.position}".lower()).strip("-")
    way = "inline" if inline else "attachment"
    return HttpResponse(
        content,
        content_type=media_type,
        headers={"Content-Disposition": f'{way}; filename="{name}.{ending}"', "Cache-Control": "no-store"},
    )


def _complete(gang: Gang) -> dict[str, Any]:
    document = sheet_document(gang)
    missing = missing_parts(document)
    if missing:
        raise Problem(422, "sheet_incomplete", missing=" and ".join(missing))
    return document


class GangSheetView(APIView):
    """The loop sheet as JSON."""

    record = Gang

    @extend_schema(responses={200: OpenApiTypes.OBJECT, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Download; an incomplete gang gives an incomplete sheet."""
        gang = _gang(pk)
        text = json.dumps(sheet_document(gang), indent=1, ensure_ascii=False)
        return _file(text, "application/json", gang, "json")


class GangNetlistView(APIView):
    """The loop as a SPICE netlist."""

    record = Gang

    @extend_schema(
        responses={200: OpenApiResponse(OpenApiTypes.STR, description="netlist"), **READ_PROBLEMS, **problems(422)}
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Download."""
        gang = _gang(pk)
        return _file(netlist.write(sheet.read(_complete(gang)).loop), "text/plain; charset=utf-8", gang, "cir")


class GangPdfView(APIView):
    """The loop sheet on paper."""

    record = Gang

    @extend_schema(
        responses={
            (200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY, description="two pages"),
            **READ_PROBLEMS,
            **problems(422),
        }
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Two pages; made from the record, not from what is tried on a bench."""
        gang = _gang(pk)
        return _file(
            loop_sheet_pdf(gang, _complete(gang), person(request)), "application/pdf", gang, "pdf", inline=True
        )
