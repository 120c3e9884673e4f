"""Setting up: the radio of a site, joining, programs, what still works."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from common import heavy
from common.problems import Problem
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of, problems
from loops.models import Gang
from setup.api import shapes
from setup.services import houses, joining, programming, rehearsing, working
from sites.models import Site

MOST_ACTS = 60
HUB = OpenApiParameter("hub", OpenApiTypes.STR, required=True, description="of which hub")
WITHOUT = OpenApiParameter("without", OpenApiTypes.STR, many=True, description="devices that are left out this time")
FIRST = OpenApiParameter("first", OpenApiTypes.DATE, description="the first day that is shown; today by default")
ICS = {(200, "text/calendar"): OpenApiTypes.STR}


def _site(pk: Any) -> Site:
    return get_object_or_404(Site, pk=pk)


def _gang(pk: Any) -> Gang:
    return get_object_or_404(Gang.objects.select_related("loop__site"), pk=pk)


def _first(request: Request) -> date:
    try:
        return date.fromisoformat(request.query_params.get("first", ""))
    except ValueError:
        return timezone.now().date()


class HouseView(APIView):
    """The radio of a site."""

    record = Site

    @extend_schema(responses={200: shapes.HouseSerializer, **READ_PROBLEMS, **problems(422)})
    def get(self, request: Request, pk: Any) -> Response:
        """What was noted, who is in range, and how names will be confused."""
        return Response(houses.house_answer(_site(pk)))

    @extend_schema(request=shapes.HouseKeepSerializer, responses={200: shapes.HouseSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Keep what was noted."""
        site, given = _site(pk), given_of(shapes.HouseKeepSerializer, request)
        houses.keep_house(person(request), site.pk, given["version"], given["document"])
        return Response(houses.house_answer(site))


class PairingView(APIView):
    """The plan of joining at a hub."""

    record = Site

    @extend_schema(
        parameters=[HUB, WITHOUT], responses={200: shapes.PairingSerializer, **READ_PROBLEMS, **problems(422)}
    )
    def get(self, request: Request, pk: Any) -> Response:
        """Steps for what is not in yet."""
        hub, without = request.query_params.get("hub", ""), frozenset(request.query_params.getlist("without"))
        return Response(joining.pairing_answer(_site(pk), hub, without))


class PairMarksView(APIView):
    """What came of steps."""

    record = Site

    @extend_schema(request=shapes.PairMarkMakeSerializer, responses={201: shapes.PairingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Mark one."""
        site, given = _site(pk), given_of(shapes.PairMarkMakeSerializer, request)
        joining.mark(person(request), site, given)
        return Response(joining.pairing_answer(site, given["hub"]), status=201)


class RehearseView(APIView):
    """The plan on the stand-in."""

    record = Site

    @extend_schema(
        request=shapes.RehearseAskSerializer,
        responses={200: shapes.RehearsalSerializer, **WRITE_PROBLEMS, **problems(502)},
    )
    def post(self, request: Request, pk: Any) -> Response:
        """Every step, in simulated time."""
        given = given_of(shapes.RehearseAskSerializer, request)
        with heavy.slot():
            return Response(rehearsing.rehearse(_site(pk), given["hub"], given["late"], frozenset(given["without"])))


class TryView(APIView):
    """Levels and power cuts on the stand-in."""

    record = Site

    @extend_schema(
        request=shapes.TryAskSerializer, responses={200: shapes.TriedSerializer, **WRITE_PROBLEMS, **problems(502)}
    )
    def post(self, request: Request, pk: Any) -> Response:
        """Once everything has joined there; nothing is kept."""
        given = given_of(shapes.TryAskSerializer, request)
        if len(given["acts"]) > MOST_ACTS:
            raise Problem(422, "too_many", path="acts", most=MOST_ACTS)
        with heavy.slot():
            found = rehearsing.try_out(_site(pk), given["hub"], given["acts"], frozenset(given["without"]))
        return Response(found)


class WorksView(APIView):
    """What still works."""

    record = Site

    @extend_schema(responses={200: shapes.WorksTableSerializer, **READ_PROBLEMS, **problems(422)})
    def get(self, request: Request, pk: Any) -> Response:
        """Lamp by failure."""
        return Response(working.works_answer(_site(pk)))


class ProgramsView(APIView):
    """Programs of a gang."""

    record = Gang

    @extend_schema(parameters=[FIRST], responses={200: shapes.ProgramsSerializer, **READ_PROBLEMS, **problems(422)})
    def get(self, request: Request, pk: Any) -> Response:
        """What is kept, and eight days of it."""
        return Response(programming.programs_answer(_gang(pk), _first(request)))

    @extend_schema(request=shapes.ProgramsKeepSerializer, responses={200: shapes.ProgramsSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Keep them."""
        gang, given = _gang(pk), given_of(shapes.ProgramsKeepSerializer, request)
        programming.keep_programs(person(request), gang.pk, given["version"], given["document"], _first(request))
        return Response(programming.programs_answer(gang, _first(request)))


class ProgramsTryView(APIView):
    """Programs that are not kept yet."""

    record = Gang

    @extend_schema(request=shapes.ProgramsTrySerializer, responses={200: shapes.ProgramsSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Eight days of them, with power cuts."""
        given = given_of(shapes.ProgramsTrySerializer, request)
        gang = _gang(pk)
        with heavy.slot():
            answer = programming.programs_answer(
                gang, given["first"], document=given["document"], outages=given["outages"]
            )
        return Response(answer)


class ProgramsCalendarView(APIView):
    """Programs as a calendar."""

    record = Gang

    @extend_schema(parameters=[FIRST], responses={**ICS, **READ_PROBLEMS, **problems(422)})
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """A year of the light, iCalendar."""
        answer = HttpResponse(programming.calendar(_gang(pk), _first(request)), content_type="text/calendar")
        answer["Content-Disposition"] = 'attachment; filename="programs.ics"'
        return answer
