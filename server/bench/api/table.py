"""The round as a table, and loops from a list."""

from __future__ import annotations

from django.http import StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from bench.api.loops import ORDERS, LoopFilter
from bench.services.table import import_loops, rows_of
from common.problems import Problem
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from common.tables import csv_answer
from loops.models import Loop
from parts.api.shapes import BadRowSerializer
from sites.access import site_keys
from wording.texts import error_text


class LoopListImportSerializer(serializers.Serializer):
    """A list of loops."""

    text = serializers.CharField(max_length=1_000_000, trim_whitespace=False, allow_blank=True)
    apply = serializers.BooleanField(default=False)


class LoopListResultSerializer(serializers.Serializer):
    """What a list makes, or made."""

    new = serializers.ListField(child=serializers.CharField())
    unchanged = serializers.IntegerField()
    breakers = serializers.ListField(child=serializers.CharField(), help_text="that it names first")
    bad = BadRowSerializer(many=True)
    is_applied = serializers.BooleanField()


class LoopListImportView(APIView):
    """Lists of loops."""

    takes_programs = True

    @extend_schema(request=LoopListImportSerializer, responses={200: LoopListResultSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Look at a list, or with `apply` make its loops, all or none; what is there stays as it is."""
        given = LoopListImportSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        found = import_loops(person(request), given.validated_data["text"], apply=given.validated_data["apply"])
        bad = [
            {"line": row.line, "column": row.column, "code": row.code, "text": error_text(row.code, row.params)}
            for row in found.bad
        ]
        shown = {"new": found.new, "unchanged": found.unchanged, "breakers": found.breakers, "bad": bad}
        return Response({**shown, "is_applied": found.is_applied})


class LoopCsvView(APIView):
    """The round as a table."""

    @extend_schema(
        responses={
            (200, "text/csv"): OpenApiResponse(OpenApiTypes.BINARY, description="a row a loop"),
            **READ_PROBLEMS,
        }
    )
    def get(self, request: Request) -> StreamingHttpResponse:
        """Every row that the same filters show, on all pages."""
        rows = Loop.objects.filter(site__in=site_keys(person(request))).order_by(*ORDERS["name"])
        found = LoopFilter(request.query_params, queryset=rows, request=request)
        if not found.is_valid():
            raise Problem(400, "bad_request")
        loops = found.qs.select_related("site", "circuit", "assigned").prefetch_related("gangs")
        return csv_answer(rows_of(loops.iterator(chunk_size=500)), "loops")
