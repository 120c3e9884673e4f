"""The round and one loop."""

from __future__ import annotations

from typing import Any

import django_filters
from django.db import IntegrityError, transaction
from django.db.models import Case, Count, F, IntegerField, OuterRef, Q, QuerySet, Subquery, Value, When
from django.db.models.functions import Length
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.exceptions import ErrorDetail, ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.models import User
from accounts.policy import person
from audit import trail
from bench.api.shapes import LoopChangeSerializer, LoopMakeSerializer, LoopRowSerializer, LoopSerializer
from bench.services.keep_gang import WORDS, keep_words
from bench.services.make_loop import check_assigned, check_circuit, delete_loop, make_loop
from common.paging import PageOfFew
from common.plain import plain
from common.problems import Problem, StaleVersion
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from ember_core.handover.stages import Stage
from judging.verdicts import WORKS_ORDER, VerdictWord, WorksWord
from loops.models import Gang, Loop, NextStep
from sites.access import site_keys, sites_of
from sites.models import Circuit, Site

# An index holds the first order and the last, so that a page of thousands is read, not sorted.
ORDERS: dict[str, tuple[Any, ...]] = {
    "name": ("name", "id"),
    # A breaker is told by a number mostly: 2 comes before 10. What has none comes last.
    "breaker": (
        "site__name",
        Length("circuit__breaker").asc(nulls_last=True),
        "circuit__breaker",
        "name",
        "id",
    ),
    "worst": (
        Case(
            *(When(works=word, then=Value(-place)) for place, word in enumerate(WORKS_ORDER)),
            output_field=IntegerField(),
        ),
        "name",
        "id",
    ),
    "recent": ("-changed_at", "id"),
    "due": (F("due_on").asc(nulls_last=True), "name", "id"),
}


# A word that is in more breakers than this names none.
MOST_BREAKERS = 500


class LoopFilter(django_filters.FilterSet):
    """Site, verdict, and words found in name, note, site or breaker."""

    search = django_filters.CharFilter(method="with_words")
    verdict = django_filters.MultipleChoiceFilter(choices=VerdictWord.choices)
    works = django_filters.MultipleChoiceFilter(choices=WorksWord.choices)
    next_step = django_filters.MultipleChoiceFilter(choices=NextStep.choices)
    stage = django_filters.MultipleChoiceFilter(choices=[(stage.value, stage.value) for stage in Stage])
    # Plans stand above loops and put their rows beside them; here only their order is asked for.
    plan = django_filters.UUIDFilter(method="of_plan")
    mine = django_filters.BooleanFilter(method="of_reader")
    order = django_filters.ChoiceFilter(choices=[(name, name) for name in ORDERS], method="in_order")

    class Meta:
        model = Loop
        fields = ("site", "verdict", "works", "next_step", "stage")

    def of_plan(self, queryset: QuerySet[Loop], name: str, value: Any) -> QuerySet[Loop]:
        """The loops that stand in a visit of a plan, in the order of its visits."""
        planned = queryset.filter(plan_jobs__plan=value, plan_jobs__visit__isnull=False)
        return planned.order_by("plan_jobs__visit", "plan_jobs__position", "id")

    def of_reader(self, queryset: QuerySet[Loop], name: str, value: bool) -> QuerySet[Loop]:
        """What is assigned to whoever reads."""
        reader = getattr(self.request, "user", None)
        return queryset.filter(assigned=reader) if value and isinstance(reader, User) else queryset

    def in_order(self, queryset: QuerySet[Loop], name: str, value: str) -> QuerySet[Loop]:
        """By name, by breaker within sites, worst first, latest change first, or what is due first."""
        return queryset.order_by(*ORDERS[value])

    def with_words(self, queryset: QuerySet[Loop], name: str, value: str) -> QuerySet[Loop]:
        """Every word must be found somewhere, accents or not: in the loop's own words, its site or its breaker.

        Sites and breakers are few and looked up first, so that the thousands of loops are one table read once, byte by
        byte.
        """
        for word in plain(value).split()[:6]:
            sites = list(Site.objects.filter(name__icontains=word).order_by().values_list("pk", flat=True))
            breakers = Circuit.objects.filter(breaker__iexact=word).order_by()
            circuits = list(breakers.values_list("pk", flat=True)[:MOST_BREAKERS])
            queryset = queryset.filter(Q(plain_words__contains=word) | Q(site__in=sites) | Q(circuit__in=circuits))
        return queryset


def with_gang_count() -> QuerySet[Loop]:
    """Loops with site, circuit and number of gangs; counted aside, so that nothing is grouped."""
    gangs = Gang.objects.filter(loop=OuterRef("pk")).order_by().values("loop").annotate(count=Count("pk"))
    return Loop.everything.select_related("site", "circuit", "assigned").annotate(
        gang_count=Subquery(gangs.values("count"))
    )


class LoopListView(generics.ListAPIView):
    """The round: loops with state and next step."""

    takes_programs = True
    queryset = Loop.objects.order_by(*ORDERS["name"])
    pagination_class = PageOfFew
    serializer_class = LoopRowSerializer
    filterset_class = LoopFilter

    @extend_schema(parameters=[OpenApiParameter("archived", str, enum=["0", "1"])])
    def get(self, request: Request) -> Response:
        """One page of it."""
        return super().get(request)

    def get_queryset(self) -> QuerySet[Loop]:
        """Of the sites where the reader works; with `?archived=1` what was taken out of sight."""
        is_archived = self.request.query_params.get("archived") == "1"
        found = Loop.everything.exclude(archived_at=None) if is_archived else Loop.objects.all()
        return found.filter(site__in=site_keys(person(self.request))).order_by(*ORDERS["name"])

    def paginate_queryset(self, queryset: Any) -> Any:
        """One page: first its keys, from the index alone, then its rows."""
        keys = super().paginate_queryset(queryset.values_list("pk", flat=True)) or []
        # The page has its order; the rows are found by their keys.
        found = with_gang_count().order_by().defer(*WORDS).in_bulk(keys)
        return [found[key] for key in keys]

    @extend_schema(request=LoopMakeSerializer, responses={201: LoopSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Make a loop with one empty gang."""
        given = LoopMakeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = {"circuit": None, **given.validated_data}
        if not sites_of(person(request)).filter(pk=values["site"].pk).exists():
            raise ValidationError({"site": [ErrorDetail("No such site.", "does_not_exist")]})
        loop = make_loop(person(request), **values)
        return Response(LoopSerializer(whole_loop(loop.pk)).data, status=201)


def whole_loop(pk: Any) -> Loop:
    """A loop with everything that its document shows."""
    queryset = with_gang_count().prefetch_related("gangs__control", "gangs__bypasses", "gangs__lamps")
    return get_object_or_404(queryset, pk=pk)


class LoopView(APIView):
    """One loop."""

    takes_programs = True
    record = Loop

    @extend_schema(responses={200: LoopSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """The loop with its gangs."""
        return Response(LoopSerializer(whole_loop(pk)).data)

    @extend_schema(request=LoopChangeSerializer, responses={200: LoopSerializer, **WRITE_PROBLEMS})
    def patch(self, request: Request, pk: Any) -> Response:
        """Change name, breaker, note, whose work it is, or when it is due."""
        given = LoopChangeSerializer(data=request.data, partial=True)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        if "version" not in values:
            raise Problem(400, "missing", path="version", key="version")
        version = values.pop("version")
        try:
            with transaction.atomic():
                loop = get_object_or_404(Loop.objects.select_for_update(), pk=pk)
                current = LoopSerializer(whole_loop(pk)).data
                if loop.version != version:
                    raise StaleVersion(yours=version, current_version=loop.version, current=current)
                check_circuit(loop.site, values.get("circuit", loop.circuit))
                check_assigned(loop.site, values.get("assigned"))
                before = {name: str(getattr(loop, name) or "") for name in values}
                for name, value in values.items():
                    setattr(loop, name, value)
                loop.version += 1
                keep_words(loop)
                loop.save()
                after = {name: str(getattr(loop, name) or "") for name in values}
                trail.record(person(request), "changed", loop, before=before, after=after)
        except IntegrityError as error:
            raise Problem(409, "name_taken", path="name") from error
        return Response(LoopSerializer(whole_loop(pk)).data)

    @extend_schema(request=None, responses={204: None, **WRITE_PROBLEMS})
    def delete(self, request: Request, pk: Any) -> Response:
        """Delete what holds no record yet; the rest can be archived."""
        delete_loop(person(request), pk)
        return Response(status=204)
