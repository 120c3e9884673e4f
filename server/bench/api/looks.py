"""What can be computed of a draft on a gang, without storing anything."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import StreamingHttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from accounts.policy import JUDGE
from bench.api.shapes import (
    GangAfterRequestSerializer,
    GangChooseRequestSerializer,
    GangDraftSerializer,
    GangLitRequestSerializer,
    GangNarrowRequestSerializer,
    GangSpreadRequestSerializer,
    GangSweepRequestSerializer,
)
from common.heavy import slot
from common.shapes import WRITE_PROBLEMS
from common.streaming import Progress, streamed
from judging.api.shapes import JudgementSerializer
from judging.api.shapes_bypass import AfterFittingSerializer, ChoosingSerializer
from judging.api.shapes_lit import CycleBandSerializer, LitSerializer, LoadLimitsSerializer
from judging.api.shapes_overall import OverallSerializer
from judging.api.shapes_spread import (
    CureSerializer,
    LeastLoadSerializer,
    NarrowingSerializer,
    PredictionSerializer,
    SpreadSerializer,
    SweepSerializer,
    TogetherSerializer,
)
from judging.services.answers import judged
from judging.services.bypassing import Asked, after_answer, asked, choose_answer
from judging.services.lighting import band_answer, lit_answer
from judging.services.loads import load_answer
from judging.services.looking import cure_answer, prediction_answer, sweep_answer, together_answer
from judging.services.spreading import complete, least_load_answer, narrow_answer, spread_answer
from judging.services.summing import overall_answer
from loops.documents import sheet_document, sheet_of
from loops.models import Gang
from loops.services.naming import told_apart

# Whole, or in lines that tell how far the work is.
Answer = Response | StreamingHttpResponse


class GangJudgeView(APIView):
    """Judging what is tried on a gang, without storing anything."""

    record = Gang

    action_name = JUDGE
    throttle_classes = (ScopedRateThrottle,)
    throttle_scope = "judge"

    @extend_schema(request=GangDraftSerializer, responses={200: JudgementSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Answer:
        """Verdict, reasons and figures of the draft on this gang's supply."""
        _, document = self.read(request, pk, GangDraftSerializer)
        region = Gang.objects.values_list("loop__site__region", flat=True).get(pk=pk)
        return Response(judged(document, region))

    def answer(self, request: Request, work: Callable[[Progress], Any]) -> Answer:
        """What the work gives; with `?progress=1` in lines that tell how far it is."""
        if request.query_params.get("progress") == "1":
            return streamed(work)
        with slot() as turn:
            return Response(work(turn.progress))

    def computed(self, work: Callable[..., Any], *given: Any) -> Response:
        """What the work makes of what was given, when it is its turn."""
        with slot():
            return Response(work(*given))

    def read(self, request: Request, pk: Any, shape: type[GangDraftSerializer]) -> tuple[dict[str, Any], Any]:
        """What was sent, and the loop sheet it makes on this gang's supply."""
        gang = get_object_or_404(Gang.objects.select_related("loop__site"), pk=pk)
        given = shape(data=request.data)
        given.is_valid(raise_exception=True)
        return given.validated_data, sheet_of(given.validated_data, gang.loop.site, gang.loop.name)


class GangSpreadView(GangJudgeView):
    """Judging what is tried over the ranges of its figures."""

    @extend_schema(request=GangSpreadRequestSerializer, responses={200: SpreadSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Answer:
        """Shares of each state, margins, deciding figures."""
        values, document = self.read(request, pk, GangSpreadRequestSerializer)
        given = complete(document)
        return self.answer(request, lambda go: spread_answer(given, values["samples"], values["seed"], go))


class GangNarrowView(GangJudgeView):
    """What was read on site or bench narrows what is assumed."""

    @extend_schema(request=GangNarrowRequestSerializer, responses={200: NarrowingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """The judgement with the readings; nothing is kept."""
        values, document = self.read(request, pk, GangNarrowRequestSerializer)
        with slot() as turn:
            return Response(narrow_answer(document, values["readings"], values["seed"], turn.goes_on))


class GangLeastLoadView(GangJudgeView):
    """Fewest lamps that do."""

    @extend_schema(request=GangDraftSerializer, responses={200: LeastLoadSerializer(many=True), **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """For each lamp group, with no bypass and with typical ones."""
        _, document = self.read(request, pk, GangDraftSerializer)
        return self.computed(least_load_answer, document)


class GangChooseView(GangJudgeView):
    """Which bypass, if any."""

    @extend_schema(request=GangChooseRequestSerializer, responses={200: ChoosingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Answer:
        """The working window, and the shelf's bypasses and values of the series ranked."""
        values, document = self.read(request, pk, GangChooseRequestSerializer)
        ask = self.asked(pk, values, document)
        return self.answer(request, lambda go: choose_answer(ask, go))

    def asked(self, pk: Any, values: dict[str, Any], document: Any) -> Asked:
        """What choosing needs of the database, read before the work begins."""
        others = list(Gang.objects.filter(loop__gangs=pk).exclude(pk=pk).select_related("loop__site", "control"))
        names = told_apart([(other.position, other.name) for other in others])
        return asked(
            document,
            Gang.objects.values_list("loop__site__region", flat=True).get(pk=pk),
            values["place"],
            {name: sheet_document(other) for name, other in zip(names, others, strict=True)},
            hours_a_year=values.get("hours_a_year", 0.0),
            price_per_kwh=values.get("price_per_kwh"),
        )


class GangAfterView(GangChooseView):
    """What was read with the bypass in."""

    @extend_schema(request=GangAfterRequestSerializer, responses={200: AfterFittingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Answer:
        """Against what was computed, and the next remedy by its chance."""
        values, document = self.read(request, pk, GangAfterRequestSerializer)
        ask = self.asked(pk, values, document)
        return self.answer(request, lambda go: after_answer(ask, values["readings"], document, values["seed"], go))


class GangPredictView(GangJudgeView):
    """What instruments will show."""

    @extend_schema(request=GangDraftSerializer, responses={200: PredictionSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Meter readings with their ranges, and bands of a cycle."""
        _, document = self.read(request, pk, GangDraftSerializer)
        return self.computed(prediction_answer, document)


class GangSweepView(GangJudgeView):
    """One figure dragged over its range."""

    @extend_schema(request=GangSweepRequestSerializer, responses={200: SweepSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Answer:
        """The judgement along it."""
        values, document = self.read(request, pk, GangSweepRequestSerializer)
        return self.answer(request, lambda go: sweep_answer(document, values["path"], go))


class GangTogetherView(GangJudgeView):
    """The gangs of the box together."""

    @extend_schema(request=GangDraftSerializer, responses={200: TogetherSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """This draft with the other gangs as they are kept: which output feeds, and whether swapping cures."""
        values, document = self.read(request, pk, GangDraftSerializer)
        gangs = Gang.objects.filter(loop__gangs=pk).select_related("loop__site", "control").order_by("position")
        documents, numbered = [], []
        for gang in gangs:
            is_mine = str(gang.pk) == str(pk)
            documents.append(document if is_mine else sheet_document(gang))
            numbered.append((gang.position, values["name"] if is_mine else gang.name))
        positions = [position for position, _ in numbered]
        return self.computed(together_answer, documents, told_apart(numbered), positions)


class GangLoadsView(GangJudgeView):
    """Least and largest load, whole."""

    @extend_schema(request=GangDraftSerializer, responses={200: LoadLimitsSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Off, on, declared and derated, as numbers of lamps, with what governs."""
        _, document = self.read(request, pk, GangDraftSerializer)
        return self.computed(load_answer, document)


class GangOverallView(GangJudgeView):
    """The one verdict."""

    @extend_schema(request=GangDraftSerializer, responses={200: OverallSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Light off, light on and load together: why, and what to do next."""
        values, document = self.read(request, pk, GangDraftSerializer)
        return self.computed(overall_answer, document, values["trims"])


class GangCuresView(GangJudgeView):
    """What would cure a gang at its lamps."""

    @extend_schema(request=GangDraftSerializer, responses={200: CureSerializer(many=True), **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """One filament lamp in place of one of the others, computed."""
        _, document = self.read(request, pk, GangDraftSerializer)
        return self.computed(cure_answer, document)


class GangLitView(GangJudgeView):
    """A gang while the light is on."""

    @extend_schema(request=GangLitRequestSerializer, responses={200: LitSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Whether control and lamps go together, and a cycle of it."""
        values, document = self.read(request, pk, GangLitRequestSerializer)
        region = Gang.objects.values_list("loop__site__region", flat=True).get(pk=pk)
        return self.computed(lit_answer, document, region, values)


class GangLitBandView(GangJudgeView):
    """The band of the half-cycle over what nobody states."""

    @extend_schema(request=GangLitRequestSerializer, responses={200: CycleBandSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Least and most along the cycle that is drawn."""
        values, document = self.read(request, pk, GangLitRequestSerializer)
        return self.computed(band_answer, document, values)
