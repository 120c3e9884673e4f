"""Proving of a loop, and its cases."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from bench.api.shapes import StrikeSerializer
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of, problems
from loops.models import Gang, Loop
from proving.api import shapes
from proving.models import Case, CaseEvidence
from proving.services import cases, marking, metering
from proving.services.answers import prove_answer
from proving.services.diagnosing import diagnosis_answer, thought_of
from proving.services.reading import worth_answer

REMEDIES = OpenApiParameter("remedies", bool, description="also try the remedies, which takes longer; by default")
COMPUTED = {**READ_PROBLEMS, **problems(422, 503)}


def _loop(pk: Any) -> Loop:
    return get_object_or_404(Loop.objects.select_related("site", "circuit"), pk=pk)


def _case(pk: Any) -> Case:
    return get_object_or_404(
        Case.objects.select_related("by", "loop__site", "loop__circuit", "gang__loop__site"), pk=pk
    )


class ProveView(APIView):
    """The list of a loop."""

    record = Loop

    @extend_schema(responses={200: shapes.ProvingSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """What is to be proved, and what came of it."""
        return Response(prove_answer(_loop(pk)))


class ProveMarksView(APIView):
    """Marks."""

    record = Loop

    @extend_schema(request=shapes.ProveMarkMakeSerializer, responses={201: shapes.ProvingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Say what was found of an item."""
        marking.mark_item(person(request), pk, given_of(shapes.ProveMarkMakeSerializer, request))
        return Response(prove_answer(_loop(pk)), status=201)


class GangWorthView(APIView):
    """Readings of a gang."""

    record = Gang

    @extend_schema(responses={200: shapes.WorthSerializer, **COMPUTED})
    def get(self, request: Request, pk: Any) -> Response:
        """Which reading tells most, and whether what was read is as computed."""
        gang = get_object_or_404(Gang.objects.select_related("loop__site", "control"), pk=pk)
        return Response(worth_answer(gang))


class GangMeterView(APIView):
    """The meter at the lamps of a gang."""

    record = Gang

    @extend_schema(
        request=shapes.LampMeterReadSerializer,
        responses={200: shapes.LampMeterValueSerializer, **WRITE_PROBLEMS, **problems(502)},
    )
    def post(self, request: Request, pk: Any) -> Response:
        """One value, as it could be typed."""
        gang = get_object_or_404(Gang.objects.select_related("loop__site", "loop__circuit", "control"), pk=pk)
        read = given_of(shapes.LampMeterReadSerializer, request)["read"]
        return Response(metering.read_at_lamps(person(request), gang, read))


class CasesView(APIView):
    """The cases of a loop."""

    record = Loop

    @extend_schema(responses={200: shapes.CasesSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Newest first, with what one can be opened with."""
        return Response(cases.cases_answer(_loop(pk)))

    @extend_schema(request=shapes.CaseOpenSerializer, responses={201: shapes.CaseSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Open one."""
        case = cases.open_case(person(request), pk, given_of(shapes.CaseOpenSerializer, request))
        return Response(cases.case_answer(case), status=201)


class CaseView(APIView):
    """One case."""

    record = Case

    @extend_schema(responses={200: shapes.CaseSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """With its evidence."""
        return Response(cases.case_answer(_case(pk)))


class CaseDiagnosisView(APIView):
    """What a case may come from."""

    record = Case

    @extend_schema(parameters=[REMEDIES], responses={200: shapes.DiagnosisSerializer, **COMPUTED})
    def get(self, request: Request, pk: Any) -> Response:
        """Causes, what to find out next, remedies."""
        with_remedies = request.query_params.get("remedies", "true") != "false"
        return Response(diagnosis_answer(_case(pk), with_remedies=with_remedies))


class CaseEvidenceView(APIView):
    """Evidence of a case."""

    record = Case

    @extend_schema(request=shapes.EvidenceKeepSerializer, responses={201: shapes.CaseSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Keep what a test found."""
        cases.keep_evidence(person(request), pk, given_of(shapes.EvidenceKeepSerializer, request))
        return Response(cases.case_answer(_case(pk)), status=201)


class EvidenceStrikeView(APIView):
    """Taking a finding back."""

    record = CaseEvidence

    @extend_schema(request=StrikeSerializer, responses={200: shapes.CaseSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Strike it out with a reason."""
        row = cases.strike_evidence(person(request), pk, given_of(StrikeSerializer, request)["reason"])
        return Response(cases.case_answer(_case(row.case_id)))


class CaseCloseView(APIView):
    """Closing a case."""

    record = Case

    @extend_schema(request=shapes.CaseCloseSerializer, responses={200: shapes.CaseSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Say what it was."""
        given = given_of(shapes.CaseCloseSerializer, request)
        return Response(cases.case_answer(cases.close_case(person(request), pk, given, thought_of(_case(pk)))))


class CaseReopenView(APIView):
    """Opening a case again."""

    record = Case

    @extend_schema(request=shapes.CaseReopenSerializer, responses={200: shapes.CaseSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Say why."""
        note = given_of(shapes.CaseReopenSerializer, request)["note"]
        return Response(cases.case_answer(cases.reopen_case(person(request), pk, note)))
