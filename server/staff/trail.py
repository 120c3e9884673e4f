"""Reading the trail: of one record, or of everything, on a page and as a table."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable, Iterator
from itertools import islice
from typing import Any

import django_filters
from django.apps import apps
from django.db.models import Model, Q, QuerySet
from django.http import Http404, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework import generics, serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import TRAIL, person
from audit.models import Change
from common.problems import Problem
from common.shapes import READ_PROBLEMS, problems
from common.tables import csv_answer
from loops.models import Gang
from sites.access import may_see
from wording.differing import Line, Named, is_key, lines_between, nobody
from wording.texts import catalogue, fill

MOST_ROWS = 100_000
# Of a change of a whole site there may be thousands.
MOST_LINES = 200
# What the states of a change name by key.
_LED_TO = ("accounts.User", "sites.Site", "sites.Circuit", "loops.Loop", "loops.Gang", "parts.Part")
_ON_THE_WAY = {"sites.Circuit": ("site",), "loops.Loop": ("site",), "loops.Gang": ("loop__site",)}
COLUMNS = ("at", "who", "action", "subject_kind", "subject_id", "name", "before", "after")


class ChangeSerializer(serializers.ModelSerializer):
    """One change, without the states themselves."""

    who = serializers.CharField(source="who.display_name", default="", read_only=True)

    class Meta:
        model = Change
        fields = ("id", "at", "who", "action", "subject_kind", "subject_id")


class TrailSerializer(ChangeSerializer):
    """One change with both states."""

    name = serializers.SerializerMethodField()
    differs = serializers.SerializerMethodField()

    class Meta(ChangeSerializer.Meta):
        fields: tuple[str, ...] = (*ChangeSerializer.Meta.fields, "name", "differs")  # type: ignore[assignment]  # longer

    def get_name(self, change: Change) -> str:
        """What the record is called, or was as far as the change tells."""
        present = self.context.get("names", {}).get(change.subject_id, "")
        return name_of(change) or str(present or self.context.get("called", {}).get(str(change.subject_id), ""))

    def get_differs(self, change: Change) -> list[dict[str, str]]:
        """What was changed from what to what, in words."""
        called = self.context.get("called", {})
        lines = differences(change, lambda column, key: called.get(key, ""))
        return [{"name": one.name, "before": one.before, "after": one.after} for one in islice(lines, MOST_LINES)]


def present_names(changes: Iterable[Change]) -> dict[uuid.UUID, str]:
    """What the records of some changes are called now, a query a kind; what is gone has no name."""
    wanted: dict[str, set[uuid.UUID]] = {}
    for change in changes:
        wanted.setdefault(change.subject_kind, set()).add(change.subject_id)
    found: dict[uuid.UUID, str] = {}
    for model in apps.get_models():
        keys = wanted.get(model._meta.model_name or "")
        if keys and any(field.name == "name" for field in model._meta.fields):
            rows = model._base_manager.filter(pk__in=keys).values_list("pk", "name")
            found |= {pk: name for pk, name in rows if isinstance(pk, uuid.UUID)}
    return found


def name_of(change: Change) -> str:
    """The name in the newer state that has one."""
    for state in (change.after, change.before):
        if isinstance(state, dict):
            for key in ("name", "display_name", "breaker", "username"):
                if isinstance(state.get(key), str) and state[key]:
                    return str(state[key])
    return ""


def differences(change: Change, named: Named = nobody) -> Iterator[Line]:
    """What differs between the states, in words."""
    before = change.before if isinstance(change.before, dict) else {}
    after = change.after if isinstance(change.after, dict) else {}
    for name in {**before, **after}:
        yield from lines_between((name,), before.get(name), after.get(name), named)


def called(changes: Iterable[Change]) -> dict[str, str]:
    """What the records that some changes are of, and lead to, are called now, by their keys; a query a kind."""
    changes = list(changes)
    keys = {key for change in changes for state in (change.before, change.after) for key in _keys(state)}
    keys |= {str(change.subject_id) for change in changes}
    found: dict[str, str] = {}
    for label in _LED_TO if keys else ():
        rows = apps.get_model(label)._base_manager.filter(pk__in=keys)
        found |= {str(row.pk): _title(row) for row in rows.select_related(*_ON_THE_WAY.get(label, ()))}
    return found


def _title(row: Model) -> str:
    if isinstance(row, Gang):
        return fill(catalogue("records")["gang_of"], {"loop": str(row.loop), "gang": row.position})
    return str(row)


def _keys(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        value = [*value, *value.values()]
    if isinstance(value, list):
        for one in value:
            yield from _keys(one)
    elif isinstance(value, str) and is_key(value):
        yield value


class ChangesView(generics.ListAPIView):
    """Changes of the record named by `subject`, newest first."""

    serializer_class = ChangeSerializer
    queryset = Change.objects.none()
    filter_backends = ()

    @extend_schema(
        parameters=[OpenApiParameter("subject", str, required=True)],
        responses={200: ChangeSerializer(many=True), **READ_PROBLEMS, **problems(400)},
    )
    def get(self, request: Request) -> Response:
        """One page."""
        return super().get(request)

    def get_queryset(self) -> QuerySet[Change]:
        """Only one record's changes."""
        try:
            subject = uuid.UUID(self.request.query_params.get("subject", ""))
        except ValueError as error:
            raise Problem(400, "missing", path="subject", key="subject") from error
        found = Change.objects.filter(subject_id=subject).select_related("who")
        first = found.first()
        if first is not None and not may_see(person(self.request), first.subject_kind, subject):
            raise Http404
        return found


class TrailFilter(django_filters.FilterSet):
    """Who, what, when, and on what kind of record."""

    since = django_filters.IsoDateTimeFilter(field_name="at", lookup_expr="gte")
    until = django_filters.IsoDateTimeFilter(field_name="at", lookup_expr="lte")
    search = django_filters.CharFilter(method="with_words")

    class Meta:
        model = Change
        fields = ("who", "action", "subject_kind", "subject_id")

    def with_words(self, queryset: QuerySet[Change], name: str, value: str) -> QuerySet[Change]:
        """Found in the person, the action or the kind."""
        for word in value.split()[:6]:
            queryset = queryset.filter(
                Q(who__display_name__icontains=word)
                | Q(who__username__icontains=word)
                | Q(action__icontains=word)
                | Q(subject_kind__icontains=word)
            )
        return queryset


class TrailView(generics.ListAPIView):
    """Every change, newest first."""

    action_name = TRAIL
    serializer_class = TrailSerializer
    queryset = Change.objects.select_related("who")
    filterset_class = TrailFilter

    def get_serializer(self, rows: Any = None, *args: Any, **kwargs: Any) -> Any:
        """With the names of what the page is of."""
        changes = list(rows or [])
        of_page = {"names": present_names(changes), "called": called(changes)}
        kwargs["context"] = {**self.get_serializer_context(), **of_page}
        return super().get_serializer(rows, *args, **kwargs)

    @extend_schema(responses={200: TrailSerializer(many=True), **READ_PROBLEMS, **problems(400)})
    def get(self, request: Request) -> Response:
        """One page."""
        return super().get(request)


class TrailCsvView(APIView):
    """The trail as a table."""

    action_name = TRAIL

    @extend_schema(
        responses={
            (200, "text/csv"): OpenApiResponse(OpenApiTypes.BINARY, description="a row a change"),
            **READ_PROBLEMS,
        }
    )
    def get(self, request: Request) -> StreamingHttpResponse:
        """Newest first, at most so many rows."""
        found = TrailFilter(request.query_params, queryset=Change.objects.select_related("who"))
        if not found.is_valid():
            raise Problem(400, "bad_request")

        def rows() -> Iterator[tuple[str, ...]]:
            yield COLUMNS
            for change in found.qs[:MOST_ROWS].iterator(chunk_size=500):
                yield (
                    change.at.isoformat(),
                    str(change.who or ""),
                    change.action,
                    change.subject_kind,
                    str(change.subject_id),
                    name_of(change),
                    "" if change.before is None else json.dumps(change.before, ensure_ascii=False),
                    "" if change.after is None else json.dumps(change.after, ensure_ascii=False),
                )

        return csv_answer(rows(), "trail")
