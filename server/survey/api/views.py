"""The survey of a loop: every write answers with the whole survey as it then is."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.serializers import Serializer
from rest_framework.views import APIView

from accounts.policy import person
from ember_server.shapes import READ_PROBLEMS, WRITE_PROBLEMS, problems
from loops.models import Loop
from sites.models import Region
from survey.api import shapes
from survey.models import Isolation, Photo, TakenReading
from survey.services import isolating, metering, photographs, recording
from survey.services.answers import survey_answer
from survey.services.choices import choices
from survey.services.paper import visit_pdf

METER_PROBLEMS = problems(502)


def _loop(pk: Any) -> Loop:
    return get_object_or_404(Loop.objects.select_related("site", "circuit"), pk=pk)


def _answer(pk: Any, status: int = 200) -> Response:
    return Response(survey_answer(_loop(pk)), status=status)


def _given(shape: type[Serializer], request: Request) -> dict[str, Any]:
    """What was sent, checked for its shape; what it means is checked by the services."""
    given = shape(data=request.data)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)


class SurveyView(APIView):
    """The survey of a loop."""

    @extend_schema(responses={200: shapes.SurveySerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """All of it."""
        return _answer(pk)

    @extend_schema(request=shapes.SurveySaveSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Keep its documents; a stale version is refused."""
        _loop(pk)
        values = _given(shapes.SurveySaveSerializer, request)
        recording.save_survey(person(request), pk, values.pop("version"), values)
        return _answer(pk)


class ReadingsView(APIView):
    """Readings of a loop."""

    @extend_schema(request=shapes.ReadingTakeSerializer, responses={201: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Keep one."""
        _loop(pk)
        values = _given(shapes.ReadingTakeSerializer, request)
        reading_pk, origin = values.pop("id"), values.pop("origin")
        recording.take_reading(person(request), pk, reading_pk, values, origin)
        return _answer(pk, 201)


class ReadingStrikeView(APIView):
    """A reading that was wrong."""

    @extend_schema(request=shapes.ReasonSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Strike it out; it stays on record."""
        row = get_object_or_404(TakenReading, pk=pk)
        values = _given(shapes.ReasonSerializer, request)
        recording.strike_reading(person(request), pk, values["reason"])
        return _answer(row.loop_id)


class IsolationsView(APIView):
    """Isolations of a loop."""

    @extend_schema(request=shapes.IsolationOpenSerializer, responses={201: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Begin one."""
        _loop(pk)
        values = _given(shapes.IsolationOpenSerializer, request)
        isolating.open_new(person(request), pk, values.pop("id"), values)
        return _answer(pk, 201)


class IsolationView(APIView):
    """One open isolation."""

    @extend_schema(request=shapes.IsolationChangeSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def patch(self, request: Request, pk: Any) -> Response:
        """Record more of it."""
        row = get_object_or_404(Isolation, pk=pk)
        values = _given(shapes.IsolationChangeSerializer, request)
        isolating.change(person(request), pk, values.pop("version"), values)
        return _answer(row.loop_id)


class IsolationTestsView(APIView):
    """Proving dead."""

    @extend_schema(request=shapes.DeadTestsSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Add readings."""
        row = get_object_or_404(Isolation, pk=pk)
        values = _given(shapes.DeadTestsSerializer, request)
        tests = [dict(test) for test in values["tests"]]
        isolating.add_tests(person(request), pk, values["version"], tests)
        return _answer(row.loop_id)


class IsolationCloseView(APIView):
    """Re-energising."""

    @extend_schema(request=shapes.IsolationCloseSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Put the power back, on record."""
        row = get_object_or_404(Isolation, pk=pk)
        values = _given(shapes.IsolationCloseSerializer, request)
        isolating.close(person(request), pk, values["version"], values["note"])
        return _answer(row.loop_id)


class StepsView(APIView):
    """Steps of the visit."""

    @extend_schema(request=shapes.StepMarkSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Mark one done, or take the mark back."""
        _loop(pk)
        values = _given(shapes.StepMarkSerializer, request)
        recording.mark_step(person(request), pk, values["step"], values["is_done"])
        return _answer(pk)


class PhotosView(APIView):
    """Photographs of a loop."""

    parser_classes = (MultiPartParser,)

    @extend_schema(
        request={"multipart/form-data": shapes.PhotoTakeSerializer},
        responses={201: shapes.SurveySerializer, **WRITE_PROBLEMS, **problems(413)},
    )
    def post(self, request: Request, pk: Any) -> Response:
        """Keep one."""
        _loop(pk)
        values = _given(shapes.PhotoTakeSerializer, request)
        content = values["file"].read(photographs.MOST_BYTES + 1)
        photographs.keep_photo(person(request), pk, values["id"], values["moment"], values["caption"], content)
        return _answer(pk, 201)


class PhotoView(APIView):
    """One photograph."""

    @extend_schema(
        responses={(200, "image/jpeg"): OpenApiResponse(OpenApiTypes.BINARY, description="JPEG"), **READ_PROBLEMS}
    )
    def get(self, request: Request, pk: Any) -> FileResponse:
        """The picture."""
        photo = get_object_or_404(Photo, pk=pk)
        return FileResponse(photo.file.open("rb"), content_type="image/jpeg", headers={"Cache-Control": "private"})


class MeterView(APIView):
    """The meter of this copy."""

    @extend_schema(responses={200: shapes.MeterSerializer, **READ_PROBLEMS, **METER_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Which meter answers."""
        return Response(metering.identify())

    @extend_schema(
        request=shapes.MeterFaultSerializer,
        responses={200: shapes.MeterSerializer, **WRITE_PROBLEMS, **METER_PROBLEMS},
    )
    def put(self, request: Request) -> Response:
        """Turn the stand-in's fault switch."""
        values = _given(shapes.MeterFaultSerializer, request)
        metering.set_fault(values["fault"])
        return Response(metering.identify())


class MeterReadView(APIView):
    """Reading the meter at a loop."""

    @extend_schema(
        request=shapes.MeterReadSerializer,
        responses={200: shapes.MeterValueSerializer, **WRITE_PROBLEMS, **METER_PROBLEMS},
    )
    def post(self, request: Request, pk: Any) -> Response:
        """One value; nothing is kept."""
        loop = _loop(pk)
        values = _given(shapes.MeterReadSerializer, request)
        return Response(metering.read(loop, values))


class SurveyChoicesView(APIView):
    """What the forms choose from."""

    @extend_schema(
        parameters=[OpenApiParameter("region", str, enum=Region.values)],
        responses={200: shapes.SurveyChoicesSerializer, **READ_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        """In the region's words."""
        region = request.query_params.get("region", Region.EU)
        return Response(choices(region if region in Region.values else Region.EU))


class VisitPdfView(APIView):
    """The pre-visit sheet on paper."""

    @extend_schema(
        responses={
            (200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY, description="one page"),
            **READ_PROBLEMS,
        }
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """One page."""
        return HttpResponse(
            visit_pdf(_loop(pk), person(request)),
            content_type="application/pdf",
            headers={"Content-Disposition": 'inline; filename="visit.pdf"', "Cache-Control": "no-store"},
        )
