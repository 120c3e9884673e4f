"""Gangs."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from accounts.policy import JUDGE, person
from ember_server.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from judgements.api.shapes import (
    ChoosingSerializer,
    JudgementSerializer,
    LeastLoadSerializer,
    NarrowingSerializer,
    SpreadSerializer,
)
from judgements.services.answers import judged
from judgements.services.bypassing import choose_answer
from judgements.services.spreading import least_load_answer, narrow_answer, spread_answer
from loops.api.shapes import (
    GangDraftSerializer,
    GangKeepSerializer,
    GangNarrowRequestSerializer,
    GangSerializer,
    GangSpreadRequestSerializer,
)
from loops.documents import sheet_of
from loops.models import Gang, Loop
from loops.services.keep_gang import keep_gang
from loops.services.make_loop import add_gang


class GangView(APIView):
    """One gang."""

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


class GangJudgeView(APIView):
    """Judging what is tried on a gang, without storing anything."""

    action_name = JUDGE
    throttle_classes = (ScopedRateThrottle,)
    throttle_scope = "judge"

    @extend_schema(request=GangDraftSerializer, responses={200: JudgementSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Verdict, reasons and figures of the draft on this gang's supply."""
        _, document = self.read(request, pk, GangDraftSerializer)
        region = Gang.objects.values_list("loop__site__region", flat=True).get(pk=pk)
        return Response(judged(document, region))

    def read(self, request: Request, pk: Any, shape: type[GangDraftSerializer]) -> tuple[dict[str, Any], Any]:
        """What was sent, and the loop sheet it makes on this gang's supply."""
        gang = get_object_or_404(Gang.objects.select_related("loop__site"), pk=pk)
        given = shape(data=request.data)
        given.is_valid(raise_exception=True)
        return given.validated_data, sheet_of(given.validated_data, gang.loop.site, gang.loop.name)


class GangSpreadView(GangJudgeView):
    """Judging what is tried over the ranges of its figures."""

    @extend_schema(request=GangSpreadRequestSerializer, responses={200: SpreadSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Shares of each state, margins, deciding figures."""
        values, document = self.read(request, pk, GangSpreadRequestSerializer)
        return Response(spread_answer(document, values["samples"], values["seed"]))


class GangNarrowView(GangJudgeView):
    """What was read on site or bench narrows what is assumed."""

    @extend_schema(request=GangNarrowRequestSerializer, responses={200: NarrowingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """The judgement with the readings; nothing is kept."""
        values, document = self.read(request, pk, GangNarrowRequestSerializer)
        return Response(narrow_answer(document, values["readings"], values["seed"]))


class GangLeastLoadView(GangJudgeView):
    """Fewest lamps that do."""

    @extend_schema(request=GangDraftSerializer, responses={200: LeastLoadSerializer(many=True), **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """For each lamp group, with no bypass and with typical ones."""
        _, document = self.read(request, pk, GangDraftSerializer)
        return Response(least_load_answer(document))


class GangChooseView(GangJudgeView):
    """Which bypass, if any."""

    @extend_schema(request=GangDraftSerializer, responses={200: ChoosingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """The working window, and the shelf's bypasses ranked."""
        _, document = self.read(request, pk, GangDraftSerializer)
        return Response(choose_answer(document))


class LoopGangsView(APIView):
    """Gangs of a loop."""

    @extend_schema(request=None, responses={201: GangSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Add an empty one."""
        get_object_or_404(Loop, pk=pk)
        return Response(GangSerializer(add_gang(person(request), pk)).data, status=201)
