"""Judging what is on the bench, without storing anything."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from accounts.policy import JUDGE
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from judging.api.shapes import JudgementSerializer, JudgeRequestSerializer, KindSerializer, ThresholdSerializer
from judging.api.shapes_lit import MatrixRowSerializer
from judging.services.answers import judged
from judging.services.kinds import all_kinds
from judging.services.lighting import matrix_rows
from judging.services.looking import threshold_words


class JudgeView(APIView):
    """Any signed-in person may try."""

    action_name = JUDGE
    throttle_classes = (ScopedRateThrottle,)
    throttle_scope = "judge"

    @extend_schema(request=JudgeRequestSerializer, responses={200: JudgementSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Verdict, reasons and figures of a loop sheet."""
        given = JudgeRequestSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        return Response(judged(given.validated_data["sheet"], given.validated_data["region"]))


class KindsView(APIView):
    """Kinds of parts with their fields, units and bounds."""

    @extend_schema(responses={200: KindSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """All kinds."""
        return Response(all_kinds())


class ThresholdsView(APIView):
    """What the words of a verdict hang on."""

    @extend_schema(responses={200: ThresholdSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every limit with its reason."""
        return Response(threshold_words())


class MatrixView(APIView):
    """Which load goes on which phase mode."""

    @extend_schema(responses={200: MatrixRowSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every load and declaration against every mode."""
        return Response(matrix_rows())
