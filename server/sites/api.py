"""Sites and circuits over the API."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, serializers
from rest_framework.exceptions import ErrorDetail
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import SITES, person
from audit import writing
from audit.archiving import delete
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from sites.access import archived_sites_of, site_keys, sites_of
from sites.models import Circuit, Site


class SiteSerializer(serializers.ModelSerializer):
    """A site."""

    class Meta:
        model = Site
        fields = (
            "id",
            "name",
            "place",
            "region",
            "v_rms",
            "f_hz",
            "tolerance_ratio",
            "proof_lasts_s",
            "zone",
            "version",
        )
        read_only_fields = ("id",)
        # Uniqueness is answered as a conflict, by the one that writes.
        extra_kwargs = {"name": {"validators": []}, "version": {"read_only": True}}


class SiteChangeSerializer(SiteSerializer):
    """A change of a site: the version that was seen, and the fields to change."""

    version = serializers.IntegerField(min_value=1)


class LoopNameSerializer(serializers.Serializer):
    """A loop on a breaker."""

    id = serializers.UUIDField()
    name = serializers.CharField()


class CircuitSerializer(serializers.ModelSerializer):
    """A circuit with the loops that hang on it, and whether it is isolated at this moment."""

    loops = LoopNameSerializer(many=True, read_only=True)
    is_isolated = serializers.SerializerMethodField()

    def get_is_isolated(self, circuit: Circuit) -> bool:
        """An isolation that names it is open."""
        return any(row.closed_at is None for row in circuit.isolations.all())

    class Meta:
        model = Circuit
        fields = ("id", "site", "breaker", "label_as_found", "label_now", "feeds", "loops", "is_isolated", "version")
        read_only_fields = ("id", "label_now", "version")
        validators: list[Any] = []


class CircuitChangeSerializer(CircuitSerializer):
    """A change of a circuit; it stays on its site."""

    version = serializers.IntegerField(min_value=1)

    class Meta(CircuitSerializer.Meta):
        read_only_fields = ("id", "site", "label_now")


class _Listed(generics.ListAPIView):
    """List and create, written by `writing`."""

    def make(self, request: Request) -> Response:
        """Make one."""
        serializer: Any = self.get_serializer(data=request.data)
        serializer.is_valid(raise_exception=True)
        self.check(request, serializer.validated_data)
        with transaction.atomic():
            record = writing.create(person(request), serializer)
            self.made(request, record)
        return Response(self.get_serializer(record).data, status=201)

    def check(self, request: Request, values: dict[str, Any]) -> None:
        """Raise what stands against it."""

    def made(self, request: Request, record: Any) -> None:
        """What else belongs to it."""


class _Changed(APIView):
    """Read and change one."""

    serializer_class: type[serializers.ModelSerializer]
    change_class: type[serializers.ModelSerializer]

    def show(self, pk: Any) -> Response:
        """One record."""
        record = get_object_or_404(self.serializer_class.Meta.model, pk=pk)
        return Response(self.serializer_class(record).data)

    def write(self, request: Request, pk: Any) -> Response:
        """Change some fields; a stale version is refused."""
        record = get_object_or_404(self.serializer_class.Meta.model, pk=pk)
        serializer = self.change_class(record, data=request.data, partial=True)
        serializer.is_valid(raise_exception=True)
        if "version" not in serializer.validated_data:
            raise serializers.ValidationError({"version": ["The version that you saw is needed."]})
        version = serializer.validated_data.pop("version")
        return Response(self.serializer_class(writing.change(person(request), pk, version, serializer)).data)


class SiteListView(_Listed):
    """The sites where the reader works."""

    queryset = Site.objects.all()
    serializer_class = SiteSerializer
    write_action = SITES

    @extend_schema(parameters=[OpenApiParameter("archived", str, enum=["0", "1"])])
    def get(self, request: Request) -> Response:
        """Theirs."""
        return super().get(request)

    def get_queryset(self) -> QuerySet[Site]:
        """Those in sight, or with `?archived=1` the others."""
        is_archived = self.request.query_params.get("archived") == "1"
        return (archived_sites_of if is_archived else sites_of)(person(self.request))

    def made(self, request: Request, record: Any) -> None:
        """Whoever makes a site works there."""
        record.members.add(person(request))

    @extend_schema(request=SiteSerializer, responses={201: SiteSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Make one."""
        return self.make(request)


class SiteView(_Changed):
    """One site."""

    record = Site
    write_action = SITES

    serializer_class = SiteSerializer
    change_class = SiteChangeSerializer

    @extend_schema(responses={200: SiteSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Read it."""
        return self.show(pk)

    @extend_schema(request=SiteChangeSerializer, responses={200: SiteSerializer, **WRITE_PROBLEMS})
    def patch(self, request: Request, pk: Any) -> Response:
        """Change it; a stale version is refused."""
        return self.write(request, pk)

    @extend_schema(request=None, responses={204: None, **WRITE_PROBLEMS})
    def delete(self, request: Request, pk: Any) -> Response:
        """Delete one without loops, and its breakers; the rest can be archived."""
        site = get_object_or_404(Site, pk=pk)

        def belongings() -> None:
            for circuit in Circuit.objects.filter(site=site):
                circuit.delete()
            site.members.clear()

        delete(person(request), site, belongings)
        return Response(status=204)


class CircuitListView(_Listed):
    """Circuits, of one site with `?site=`."""

    takes_programs = True
    queryset = Circuit.objects.prefetch_related("loops", "isolations").order_by("site__name", "breaker", "id")
    serializer_class = CircuitSerializer
    filterset_fields = ("site",)

    def get_queryset(self) -> QuerySet[Circuit]:
        """Of the sites where the reader works."""
        return super().get_queryset().filter(site__in=site_keys(person(self.request)))

    def check(self, request: Request, values: dict[str, Any]) -> None:
        """Only on a site where the reader works."""
        if values["site"].pk not in site_keys(person(request)):
            raise serializers.ValidationError({"site": [ErrorDetail("No such site.", "does_not_exist")]})

    @extend_schema(request=CircuitSerializer, responses={201: CircuitSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Make one."""
        return self.make(request)


class CircuitView(_Changed):
    """One circuit."""

    takes_programs = True
    record = Circuit

    serializer_class = CircuitSerializer
    change_class = CircuitChangeSerializer

    @extend_schema(responses={200: CircuitSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Read it."""
        return self.show(pk)

    @extend_schema(request=CircuitChangeSerializer, responses={200: CircuitSerializer, **WRITE_PROBLEMS})
    def patch(self, request: Request, pk: Any) -> Response:
        """Change it; a stale version is refused."""
        return self.write(request, pk)

    @extend_schema(request=None, responses={204: None, **WRITE_PROBLEMS})
    def delete(self, request: Request, pk: Any) -> Response:
        """Delete one on which nothing hangs."""
        delete(person(request), get_object_or_404(Circuit, pk=pk))
        return Response(status=204)
