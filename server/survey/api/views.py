"""The survey of a loop: every write answers with the whole survey as it then is."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import READ, person
from bench.api.looks import GangJudgeView
from bench.api.shapes import GangDraftSerializer
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of, problems
from loops.models import Gang, Loop
from sites.access import sites_of
from sites.models import Region
from survey.api import shapes
from survey.models import Isolation, Lock, Notice, Photo, TakenReading
from survey.services import isolating, marking, metering, notices, photographs, proving, recording
from survey.services.answers import survey_answer
from survey.services.choices import choices
from survey.services.complaining import complaint_answer
from survey.services.paper import record_pdf, visit_pdf
from survey.services.safety import board_answer, isolation_answer

METER_PROBLEMS = problems(502)


BOX = OpenApiParameter("place", int, description="which box of the loop, from 1")


def _loop(pk: Any) -> Loop:
    return get_object_or_404(Loop.objects.select_related("site", "circuit"), pk=pk)


def _answer(request: Request, pk: Any, place: int, status: int = 200) -> Response:
    return Response(survey_answer(_loop(pk), place, person(request)), status=status)


class SurveyView(APIView):
    """The survey of a loop, box by box."""

    record = Loop

    @extend_schema(parameters=[BOX], responses={200: shapes.SurveySerializer, **READ_PROBLEMS, **problems(422)})
    def get(self, request: Request, pk: Any) -> Response:
        """All of one box."""
        place = request.query_params.get("place", "1")
        return _answer(request, pk, int(place) if place.isascii() and place.isdigit() and len(place) < 4 else 0)

    @extend_schema(request=shapes.SurveySaveSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Keep its documents; a stale version is refused."""
        _loop(pk)
        values = given_of(shapes.SurveySaveSerializer, request)
        recording.save_survey(person(request), pk, values.pop("version"), values)
        return _answer(request, pk, values["place"])


class ReadingsView(APIView):
    """Readings of a loop."""

    record = Loop

    @extend_schema(request=shapes.ReadingTakeSerializer, responses={201: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Keep one."""
        _loop(pk)
        values = given_of(shapes.ReadingTakeSerializer, request)
        recording.take_reading(person(request), pk, values)
        return _answer(request, pk, values["place"], 201)


class ReadingStrikeView(APIView):
    """A reading that was wrong."""

    record = TakenReading

    @extend_schema(request=shapes.ReasonSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Strike it out; it stays on record."""
        row = get_object_or_404(TakenReading, pk=pk)
        values = given_of(shapes.ReasonSerializer, request)
        recording.strike_reading(person(request), pk, values["reason"])
        return _answer(request, row.loop_id, row.place)


class IsolationsView(APIView):
    """Isolations begun at a loop."""

    record = Loop

    @extend_schema(
        request=shapes.IsolationOpenSerializer, responses={201: shapes.IsolationSerializer, **WRITE_PROBLEMS}
    )
    def post(self, request: Request, pk: Any) -> Response:
        """Record breakers, or the whole installation, as switched off."""
        _loop(pk)
        values = given_of(shapes.IsolationOpenSerializer, request)
        row = isolating.open_new(
            person(request), pk, values["id"], values["scope"], values["circuits"], values["made_at"]
        )
        return Response(isolation_answer(row, person(request)), status=201)


class BoardView(APIView):
    """The board: every open isolation."""

    @extend_schema(
        parameters=[OpenApiParameter("site", OpenApiTypes.UUID)],
        responses={200: shapes.OpenIsolationSerializer(many=True), **READ_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        """Of one site, or of all."""
        site = request.query_params.get("site")
        if site is not None:
            get_object_or_404(sites_of(person(request)), pk=_uuid(site))
        return Response(board_answer(person(request), site))


def _uuid(text: str) -> uuid.UUID:
    try:
        return uuid.UUID(text)
    except ValueError as error:
        raise Http404 from error


class LocksView(APIView):
    """Locks on an isolation."""

    record = Isolation

    @extend_schema(request=shapes.LockPutSerializer, responses={201: shapes.IsolationSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Put one's own lock on."""
        get_object_or_404(Isolation, pk=pk)
        values = given_of(shapes.LockPutSerializer, request)
        _loop(values["loop"])
        lock = isolating.put_lock(person(request), pk, values["id"], values["loop"])
        return Response(isolation_answer(lock.isolation, person(request)), status=201)


class LockOffView(APIView):
    """Taking a lock off: one's own, or with the role for it another's; a checker may do that too."""

    record = Lock

    action_name = READ

    @extend_schema(request=shapes.LockOffSerializer, responses={200: shapes.IsolationSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Take it off."""
        get_object_or_404(Lock, pk=pk)
        values = given_of(shapes.LockOffSerializer, request)
        lock = isolating.take_lock_off(person(request), pk, values["reason"])
        return Response(isolation_answer(lock.isolation, person(request)))


class EnergiseView(APIView):
    """Re-energising."""

    record = Isolation

    @extend_schema(request=shapes.EnergiseSerializer, responses={200: shapes.IsolationSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Put the power back, on record, when the last lock is off."""
        get_object_or_404(Isolation, pk=pk)
        values = given_of(shapes.EnergiseSerializer, request)
        row = isolating.energise(person(request), pk, values["id"], values["note"], values["made_at"])
        return Response(isolation_answer(row, person(request)))


class ProofEventsView(APIView):
    """Proving dead."""

    record = Loop

    @extend_schema(request=shapes.ProofEventAddSerializer, responses={201: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Record one event, in its order."""
        _loop(pk)
        values = given_of(shapes.ProofEventAddSerializer, request)
        proving.add_event(person(request), pk, values)
        return _answer(request, pk, values["place"], 201)


class NoticesView(APIView):
    """What the reader must know."""

    @extend_schema(responses={200: shapes.NoticeSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """What they have not seen yet."""
        return Response(notices.notices_of(person(request)))


class NoticeSeenView(APIView):
    """A notice that was seen."""

    action_name = READ

    @extend_schema(request=None, responses={204: None, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """It is not shown again."""
        get_object_or_404(Notice, pk=pk, person=person(request))
        notices.seen(person(request), pk)
        return Response(status=204)


class StepsView(APIView):
    """Steps at a box."""

    record = Loop

    @extend_schema(request=shapes.StepMarkSerializer, responses={200: shapes.SurveySerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Mark one done, or take the mark back."""
        _loop(pk)
        values = given_of(shapes.StepMarkSerializer, request)
        marking.mark_step(person(request), pk, values)
        return _answer(request, pk, values["place"])


class PhotosView(APIView):
    """Photographs of a loop."""

    record = Loop

    parser_classes = (MultiPartParser,)

    @extend_schema(
        request={"multipart/form-data": shapes.PhotoTakeSerializer},
        responses={201: shapes.SurveySerializer, **WRITE_PROBLEMS, **problems(413)},
    )
    def post(self, request: Request, pk: Any) -> Response:
        """Keep one."""
        _loop(pk)
        values = given_of(shapes.PhotoTakeSerializer, request)
        content = values["file"].read(photographs.MOST_BYTES + 1)
        photographs.keep_photo(person(request), pk, values, content)
        return _answer(request, pk, values["place"], 201)


class PhotoView(APIView):
    """One photograph."""

    record = Photo

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
        values = given_of(shapes.MeterFaultSerializer, request)
        metering.set_fault(person(request), values["fault"])
        return Response(metering.identify())


class MeterReadView(APIView):
    """Reading the meter at a loop."""

    record = Loop

    @extend_schema(
        request=shapes.MeterReadSerializer,
        responses={200: shapes.MeterValueSerializer, **WRITE_PROBLEMS, **METER_PROBLEMS},
    )
    def post(self, request: Request, pk: Any) -> Response:
        """One value, remembered so that a record can claim it."""
        loop = _loop(pk)
        values = given_of(shapes.MeterReadSerializer, request)
        return Response(metering.read(person(request), loop, values))


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

    record = Loop

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


class RecordPdfView(APIView):
    """Survey, isolation and proof on paper."""

    record = Loop

    @extend_schema(
        responses={
            (200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY, description="as many pages as it takes"),
            **READ_PROBLEMS,
        }
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """With times, persons and readings."""
        return HttpResponse(
            record_pdf(_loop(pk), person(request)),
            content_type="application/pdf",
            headers={"Content-Disposition": 'inline; filename="record.pdf"', "Cache-Control": "no-store"},
        )


class GangComplaintView(GangJudgeView):
    """What was complained of, beside a gang as it was found."""

    @extend_schema(request=GangDraftSerializer, responses={200: shapes.ComplaintSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Whether the computation explains it, and the state before the cure."""
        given = GangDraftSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        gang = get_object_or_404(Gang.objects.select_related("loop__site"), pk=pk)
        return Response(shapes.ComplaintSerializer(complaint_answer(gang, given.validated_data)).data)
