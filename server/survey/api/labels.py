"""Labels of breakers to print."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from common.shapes import READ_PROBLEMS
from sites.models import Site
from survey.services.paper import labels_pdf


class LabelsPdfView(APIView):
    """Labels of a site's breakers."""

    record = Site

    @extend_schema(
        responses={
            (200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY, description="labels to cut out"),
            **READ_PROBLEMS,
        }
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """To print and cut out."""
        return HttpResponse(
            labels_pdf(get_object_or_404(Site, pk=pk)),
            content_type="application/pdf",
            headers={"Content-Disposition": 'inline; filename="labels.pdf"', "Cache-Control": "no-store"},
        )
