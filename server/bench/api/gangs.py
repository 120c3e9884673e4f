"""Gangs."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from bench.api.shapes import (
    GangKeepSerializer,
    GangMakeSerializer,
    GangSerializer,
    MeasuredKeepSerializer,
    MeasuredSerializer,
    StrikeSerializer,
)
from bench.services.keep_gang import keep_gang
from bench.services.make_loop import add_gang, delete_gang
from bench.services.measuring import keep_measured, strike_measured
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from loops.models import Gang, Loop, MeasuredValue


class GangView(APIView):
    """One gang."""

    takes_programs = True
    record = Gang

    @extend_schema(responses={200: GangSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Its document."""
        return Response(GangSerializer(get_object_or_404(Gang.objects.select_related("control"), pk=pk)).data)

    @extend_schema(request=GangKeepSerializer, responses={200: GangSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Keep what was tried; judged anew and stored with its inputs."""
        get_object_or_404(Gang, pk=pk)
        given = GangKeepSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        return Response(GangSerializer(keep_gang(person(request), pk, values.pop("version"), values)).data)

    @extend_schema(request=None, responses={204: None, **WRITE_PROBLEMS})
    def delete(self, request: Request, pk: Any) -> Response:
        """Delete one that was never kept and is not the only one; the rest can be archived."""
        delete_gang(person(request), pk)
        return Response(status=204)


class LoopGangsView(APIView):
    """Gangs of a loop."""

    takes_programs = True
    record = Loop

    @extend_schema(request=GangMakeSerializer, responses={201: GangSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Add an empty one; the same identity twice is one gang."""
        get_object_or_404(Loop, pk=pk)
        given = GangMakeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        return Response(GangSerializer(add_gang(person(request), pk, given.validated_data.get("id"))).data, status=201)


class MeasuredView(APIView):
    """What was measured of a gang."""

    record = Gang

    @extend_schema(responses={200: MeasuredSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """All of it, struck ones too, oldest first."""
        gang = get_object_or_404(Gang, pk=pk)
        return Response(MeasuredSerializer.of(gang))

    @extend_schema(request=MeasuredKeepSerializer, responses={201: MeasuredSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Keep one."""
        get_object_or_404(Gang, pk=pk)
        given = MeasuredKeepSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        row = keep_measured(person(request), pk, dict(given.validated_data))
        return Response(MeasuredSerializer(row).data, status=201)


class MeasuredStrikeView(APIView):
    """A measured value that was wrong."""

    record = MeasuredValue

    @extend_schema(request=StrikeSerializer, responses={200: MeasuredSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Strike it out; it stays on record."""
        get_object_or_404(MeasuredValue, pk=pk)
        given = StrikeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        return Response(MeasuredSerializer(strike_measured(person(request), pk, given.validated_data["reason"])).data)
