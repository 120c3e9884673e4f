"""Ways through a loop, its wire map, drawings that are checked, and the firm's order."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import StreamingHttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from accounts.policy import ACCOUNTS, JUDGE, person
from common.heavy import slot
from common.problems import Problem
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of
from common.streaming import Progress, streamed
from ember_core.routes.ways import Way
from loops.models import Gang, Loop
from work.api import shapes
from work.models import CheckedDrawing
from work.services import choosing
from work.services.answers import (
    ceiling_answer,
    drawing_row,
    order_answer,
    read_drawing,
    verdict_answer,
    work_answer,
)
from work.services.comparing import compare_answer, way_answer
from work.services.finding import load

PROGRESS = OpenApiParameter("progress", OpenApiTypes.BOOL, description="answer in lines that tell how far it is")


def _loop(pk: Any) -> Loop:
    return get_object_or_404(Loop.objects.select_related("site", "circuit"), pk=pk)


class WorkView(APIView):
    """What is known and decided."""

    record = Loop

    @extend_schema(responses={200: shapes.WorkSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Of a loop's ways."""
        return Response(work_answer(load(_loop(pk))))


class CompareView(APIView):
    """Comparing."""

    record = Loop
    action_name = JUDGE
    throttle_classes = (ScopedRateThrottle,)
    throttle_scope = "judge"

    @extend_schema(request=None, parameters=[PROGRESS], responses={200: shapes.ComparisonSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response | StreamingHttpResponse:
        """Every way through the loop as it is kept, best first."""
        loaded = load(_loop(pk))

        def work(progress: Progress) -> Any:
            return compare_answer(loaded, progress)

        return _answered(request, work)


def _answered(request: Request, work: Callable[[Progress], Any]) -> Response | StreamingHttpResponse:
    if request.query_params.get("progress") == "1":
        return streamed(work)
    with slot() as turn:
        return Response(work(turn.progress))


class WayView(APIView):
    """One way."""

    record = Loop
    action_name = JUDGE
    throttle_classes = (ScopedRateThrottle,)
    throttle_scope = "judge"

    @extend_schema(request=shapes.WayAskSerializer, responses={200: shapes.WaySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """With its wire map, without choosing it."""
        given = given_of(shapes.WayAskSerializer, request)
        loaded = load(_loop(pk))
        with slot():
            return Response(way_answer(loaded, Way(given["way"]), given["control"]))


class ChoicesView(APIView):
    """Choices of a loop."""

    record = Loop

    @extend_schema(request=shapes.WayChoiceMakeSerializer, responses={201: shapes.WorkSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Choose a way: its map is kept as it is now."""
        given = given_of(shapes.WayChoiceMakeSerializer, request)
        loaded = load(_loop(pk))
        if given["basis"] != loaded.basis and not choosing.is_there(given["id"]):
            raise Problem(409, "ways_changed", path="basis")
        with slot():
            kept = choosing.judged_choice(loaded, Way(given["way"]), given["control"])
        choosing.choose_way(person(request), pk, given["id"], given["number"], given["why"], kept)
        return Response(work_answer(load(_loop(pk))), status=201)


class CeilingView(APIView):
    """The ceiling point of a gang."""

    record = Gang

    @extend_schema(
        request=shapes.CeilingSaveSerializer, responses={200: shapes.CeilingSerializer(many=True), **WRITE_PROBLEMS}
    )
    def put(self, request: Request, pk: Any) -> Response:
        """Say what is there; a stale version is refused."""
        gang = get_object_or_404(Gang.objects.select_related("loop"), pk=pk)
        given = given_of(shapes.CeilingSaveSerializer, request)
        choosing.see_ceiling(person(request), pk, given["version"], dict(given["seen"]))
        return Response(ceiling_answer(gang.loop))


class OrderView(APIView):
    """What the firm weighs first."""

    write_action = ACCOUNTS

    @extend_schema(responses={200: shapes.WayOrderSerializer, **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """The order."""
        return Response(order_answer(person(request)))

    @extend_schema(request=shapes.WayOrderSaveSerializer, responses={200: shapes.WayOrderSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request) -> Response:
        """Set it; a stale version is refused."""
        given = given_of(shapes.WayOrderSaveSerializer, request)
        choosing.set_order(person(request), given["version"], given["values"])
        return Response(order_answer(person(request)))


class DrawingsView(APIView):
    """Drawings of a loop."""

    record = Loop

    @extend_schema(responses={200: shapes.CheckedDrawingSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Each with what it would do."""
        rows = CheckedDrawing.objects.filter(loop=pk).select_related("by", "loop__site")
        with slot():
            return Response([drawing_row(row) for row in rows])

    @extend_schema(
        request=shapes.DrawingMakeSerializer, responses={201: shapes.CheckedDrawingSerializer, **WRITE_PROBLEMS}
    )
    def post(self, request: Request, pk: Any) -> Response:
        """Keep one."""
        _loop(pk)
        given = given_of(shapes.DrawingMakeSerializer, request)
        with slot():
            row = choosing.keep_drawing(person(request), pk, given)
            return Response(drawing_row(row), status=201)


class DrawingCheckView(APIView):
    """A drawing that is only tried."""

    record = Loop
    action_name = JUDGE
    throttle_classes = (ScopedRateThrottle,)
    throttle_scope = "judge"

    @extend_schema(
        request=shapes.DrawingCheckSerializer, responses={200: shapes.DrawingVerdictSerializer, **WRITE_PROBLEMS}
    )
    def post(self, request: Request, pk: Any) -> Response:
        """What it would do."""
        given = given_of(shapes.DrawingCheckSerializer, request)
        loop, drawing = _loop(pk), read_drawing(given["document"])
        with slot():
            return Response(verdict_answer(loop, drawing))
