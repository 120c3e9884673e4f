"""The lists that are no round, shelf or trail, as tables: circuits, isolations, cases, issues, jobs of plans."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date, datetime
from typing import Any

from django.http import StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.views import APIView

from accounts.models import User
from accounts.policy import READ, person
from common.problems import Problem
from common.shapes import READ_PROBLEMS, problems
from common.tables import csv_answer
from handover.models import Issue
from proving.models import Case
from sites.access import site_keys, visible
from sites.models import Circuit
from survey.models import Isolation
from visits.models import PlanJob

Rows = Iterator[list[Any]]


def _circuits(who: User, site: Any) -> Rows:
    yield ["site", "breaker", "label_as_found", "label_now", "feeds", "loops"]
    rows = _of(visible(Circuit, who), "site", site).select_related("site").prefetch_related("loops")
    for row in rows.order_by("site__name", "breaker"):
        loops = "|".join(sorted(loop.name for loop in row.loops.all() if loop.archived_at is None))
        yield [row.site.name, row.breaker, row.label_as_found, row.label_now, row.feeds, loops]


def _isolations(who: User, site: Any) -> Rows:
    yield ["site", "breakers", "scope", "begun_at_loop", "opened_at", "opened_by", "closed_at", "closed_by", "note"]
    rows = _of(visible(Isolation, who), "site", site).select_related("site", "loop", "opened_by", "closed_by")
    for row in rows.prefetch_related("circuits").order_by("opened_at", "id"):
        breakers = "|".join(sorted(one.breaker for one in row.circuits.all()))
        ends = [row.opened_at, row.opened_by, row.closed_at, row.closed_by]
        yield [row.site.name, breakers, row.scope, row.loop.name, *ends, row.closing_note]


def _cases(who: User, site: Any) -> Rows:
    yield ["site", "loop", "case", "gang", "told", "note", "opened_at", "opened_by", "is_open", "cause"]
    rows = _of(visible(Case, who), "loop__site", site).select_related("loop__site", "gang", "by")
    for row in rows.order_by("at", "id"):
        told = "|".join(str(one.get("code", "")) for one in row.told)
        what = [row.gang.position, told, row.note, row.at, row.by, row.is_open, row.cause]
        yield [row.loop.site.name, row.loop.name, row.number, *what]


def _issues(who: User, site: Any) -> Rows:
    yield ["site", "loop", "issue", "note", "made_at", "made_by", "signed_as", "asked_back", "chain"]
    rows = _of(visible(Issue, who), "loop__site", site).defer("content", "pdf").select_related("loop__site", "by")
    for row in rows.prefetch_related("signatures").order_by("at", "id"):
        signed = "|".join(sorted(one.role for one in row.signatures.all()))
        asked = row.ask_back.note if hasattr(row, "ask_back") else ""
        yield [row.loop.site.name, row.loop.name, row.number, row.note, row.at, row.by, signed, asked, row.chain]


def _visits(who: User, site: Any) -> Rows:
    yield [
        "site",
        "plan",
        "first_day",
        "visit",
        "day_after_first",
        "person",
        "place",
        "loop",
        "skill",
        "minutes_by_hand",
    ]
    rows = PlanJob.objects.filter(plan__site__in=_sites(who, site))
    for row in rows.select_related("plan__site", "loop").prefetch_related("plan__visits__person"):
        visit = next((one for one in row.plan.visits.all() if one.number == row.visit), None)
        when = ["", "", ""] if visit is None else [visit.number + 1, visit.day, visit.person]
        plan = [row.plan.site.name, row.plan.name, row.plan.first_day, *when, row.position + 1]
        yield [*plan, row.loop.name, row.skill, row.minutes]


LISTS: dict[str, Callable[[User, Any], Rows]] = {
    "circuits": _circuits,
    "isolations": _isolations,
    "cases": _cases,
    "issues": _issues,
    "visits": _visits,
}


def _of(rows: Any, way: str, site: Any) -> Any:
    return rows if site is None else rows.filter(**{way: site})


def _sites(who: User, site: Any) -> list[Any]:
    return [key for key in site_keys(who) if site is None or key == site]


def _told(value: Any) -> str:
    """A cell: times with their zone, no word for nothing."""
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    if isinstance(value, bool):
        return str(value).lower()
    return value.isoformat() if isinstance(value, date) else str(value)


class ListWishSerializer(serializers.Serializer):
    """Of which site; all where it is left out."""

    site = serializers.UUIDField(required=False)


class ListCsvView(APIView):
    """A list as a table."""

    action_name = READ

    @extend_schema(
        parameters=[OpenApiParameter("site", {"type": "string", "format": "uuid"})],
        responses={
            (200, "text/csv"): OpenApiResponse(OpenApiTypes.BINARY, description="a row a record"),
            **READ_PROBLEMS,
            **problems(400),
        },
    )
    def get(self, request: Request, name: str) -> StreamingHttpResponse:
        """Of the sites where one works."""
        wish = ListWishSerializer(data=request.query_params)
        wish.is_valid(raise_exception=True)
        if name not in LISTS:
            raise Problem(404, "not_found")
        rows = LISTS[name](person(request), wish.validated_data.get("site"))
        return csv_answer(([_told(cell) for cell in row] for row in rows), name)
