"""Plans: made, computed, changed by hand, printed, put into a calendar; materials and the van."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from accounts.policy import ACCOUNTS, person
from common.heavy import slot
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of
from common.streaming import streamed
from sites.access import sites_of, visible
from sites.models import Site
from visits.api import shapes
from visits.models import Plan
from visits.services import planning
from visits.services.answers import defaults_of, plan_answer, plan_row
from visits.services.materials import materials_answer, set_van
from visits.services.paper import calendar, day_sheet_pdf, materials_pdf
from work.services.timing import minutes_answer, set_range

PROGRESS = OpenApiParameter("progress", OpenApiTypes.BOOL, description="answer in lines that tell how far it is")
SITE = OpenApiParameter("site", OpenApiTypes.UUID, required=True, description="whose plans")
VISIT = OpenApiParameter("visit", OpenApiTypes.INT, description="only of this visit, from 0")
PDF = {(200, "application/pdf"): OpenApiTypes.BINARY}
ICS = {(200, "text/calendar"): OpenApiTypes.STR}


def _plan(pk: Any) -> Plan:
    return get_object_or_404(Plan.objects.select_related("site"), pk=pk)


def _site(request: Request, key: Any) -> Site:
    """A site where the person works; 404 for any other."""
    try:
        known = uuid.UUID(str(key))
    except ValueError:
        known = uuid.UUID(int=0)
    return get_object_or_404(sites_of(person(request)), pk=known)


class PlansView(APIView):
    """Plans of a site."""

    @extend_schema(parameters=[SITE], responses={200: shapes.PlanRowSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Newest day first."""
        site = _site(request, request.query_params.get("site"))
        rows = visible(Plan, person(request)).filter(site=site).prefetch_related("people")
        return Response([plan_row(row) for row in rows[:60]])

    @extend_schema(request=shapes.PlanMakeSerializer, responses={201: shapes.PlanSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Make one."""
        given = given_of(shapes.PlanMakeSerializer, request)
        row = planning.save(person(request), _site(request, given["site"]), None, 0, given, given["id"])
        return Response(plan_answer(row), status=201)


class PlanDefaultsView(APIView):
    """A new plan."""

    @extend_schema(parameters=[SITE], responses={200: shapes.PlanDefaultsSerializer, **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """What it begins with: who works at the site, what the last plan knew of skills and hours."""
        return Response(defaults_of(_site(request, request.query_params.get("site")), person(request)))


class PlanView(APIView):
    """One plan."""

    record = Plan

    @extend_schema(responses={200: shapes.PlanSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """With its times as they follow from the loops today."""
        return Response(plan_answer(_plan(pk)))

    @extend_schema(request=shapes.PlanChangeSerializer, responses={200: shapes.PlanSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Change what it asks for; a stale version is refused."""
        row = _plan(pk)
        given = given_of(shapes.PlanChangeSerializer, request)
        planning.save(person(request), row.site, row, given["version"], given)
        return Response(plan_answer(_plan(pk)))


class PlanComputeView(APIView):
    """Planning."""

    record = Plan
    throttle_classes = (ScopedRateThrottle,)
    throttle_scope = "judge"

    @extend_schema(request=None, parameters=[PROGRESS], responses={200: shapes.ComputedSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response | StreamingHttpResponse:
        """The best plan that is found; it is put on record by its token."""
        loaded = planning.load(_plan(pk))
        if request.query_params.get("progress"):
            return streamed(lambda progress: planning.computed(loaded, progress))
        with slot():
            return Response(planning.computed(loaded))


class PlanTakeView(APIView):
    """Taking what was computed."""

    record = Plan

    @extend_schema(request=shapes.PlanTakeSerializer, responses={200: shapes.PlanSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """It replaces what stands in the plan; one that changed since is refused."""
        planning.take(person(request), pk, given_of(shapes.PlanTakeSerializer, request)["token"])
        return Response(plan_answer(_plan(pk)))


class PlanVisitsView(APIView):
    """Changing a plan by hand."""

    record = Plan

    @extend_schema(request=shapes.VisitsSaveSerializer, responses={200: shapes.PlanSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Keep an order; what it costs and what is wrong with it comes back."""
        given = given_of(shapes.VisitsSaveSerializer, request)
        planning.put_by_hand(person(request), pk, given["version"], given["visits"])
        return Response(plan_answer(_plan(pk)))


class PlanMaterialsView(APIView):
    """What is taken along."""

    record = Plan

    @extend_schema(parameters=[VISIT], responses={200: shapes.MaterialsSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Of all visits, or of one."""
        asked = str(request.query_params.get("visit", ""))
        return Response(materials_answer(_plan(pk), int(asked) if asked.isdigit() else None))


class PlanPdfView(APIView):
    """The day sheet."""

    record = Plan

    @extend_schema(responses={**PDF, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """A page a visit."""
        return HttpResponse(day_sheet_pdf(_plan(pk), person(request)), content_type="application/pdf")


class PlanMaterialsPdfView(APIView):
    """What is bought, on paper."""

    record = Plan

    @extend_schema(responses={**PDF, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Of all visits."""
        return HttpResponse(materials_pdf(_plan(pk), person(request)), content_type="application/pdf")


class PlanCalendarView(APIView):
    """The calendar."""

    record = Plan

    @extend_schema(responses={**ICS, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """An event a visit."""
        answer = HttpResponse(calendar(_plan(pk)), content_type="text/calendar; charset=utf-8")
        answer["Content-Disposition"] = f'attachment; filename="plan-{pk}.ics"'
        return answer


class VanView(APIView):
    """The van."""

    @extend_schema(request=shapes.VanSaveSerializer, responses={200: shapes.VanSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request) -> Response:
        """Say how much of something is there; a stale version is refused."""
        given = given_of(shapes.VanSaveSerializer, request)
        item = set_van(person(request), given["key"], given["version"], given["count"])
        return Response({"key": item.key, "version": item.version, "count": item.count})


class TaskMinutesView(APIView):
    """What tasks take."""

    write_action = ACCOUNTS

    @extend_schema(responses={200: shapes.TaskMinutesSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every task."""
        return Response(minutes_answer())

    @extend_schema(
        request=shapes.TaskMinutesSaveSerializer,
        responses={200: shapes.TaskMinutesSerializer(many=True), **WRITE_PROBLEMS},
    )
    def put(self, request: Request) -> Response:
        """Set the firm's range of one; a stale version is refused."""
        given = given_of(shapes.TaskMinutesSaveSerializer, request)
        spans = {name: given[name] for name in ("low", "typical", "high")}
        set_range(person(request), given["task"], given["version"], spans)
        return Response(minutes_answer())
