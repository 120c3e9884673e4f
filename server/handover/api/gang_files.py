"""Downloads of a gang."""

from __future__ import annotations

import json
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from accounts.policy import person
from common.problems import Problem
from common.shapes import READ_PROBLEMS, problems
from ember_core import netlist, sheet
from handover.api.files import download
from handover.services.pages import gang_pdf
from judging.services.judging import missing_parts
from loops.documents import sheet_document
from loops.models import Gang


def _gang(pk: Any) -> Gang:
    return get_object_or_404(Gang.objects.select_related("loop__site", "loop__circuit", "control"), pk=pk)


def _name(gang: Gang) -> str:
    return f"{gang.loop.name} gang {gang.position}"


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
        return download(text, "application/json", _name(gang), "json", inline=False)


class GangNetlistView(APIView):
    """The loop as a SPICE netlist."""

    record = Gang

    @extend_schema(
        responses={200: OpenApiResponse(OpenApiTypes.STR, description="netlist"), **READ_PROBLEMS, **problems(422)}
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Download."""
        gang = _gang(pk)
        text = netlist.write(sheet.read(_complete(gang)).loop)
        return download(text, "text/plain; charset=utf-8", _name(gang), "cir", inline=False)


class GangPdfView(APIView):
    """The loop sheet on paper."""

    record = Gang

    @extend_schema(
        responses={
            (200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY, description="the sheet, then its wire map"),
            **READ_PROBLEMS,
            **problems(422),
        }
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """The sheet and the drawing of its wire map; made from the record, not from what is tried on a bench."""
        gang = _gang(pk)
        pdf = gang_pdf(gang, _complete(gang), person(request))
        return download(pdf, "application/pdf", _name(gang), "pdf")
