"""The shelf over the API."""

from __future__ import annotations

from typing import Any

from django.db.models import Prefetch
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.models import User
from accounts.policy import JUDGE, SHELF, person
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from ember_core.catalogue.class_defaults import class_defaults, region_of, typical_lamp_data
from ember_core.catalogue.control_classes import control_classes, typical_control_data
from ember_core.catalogue.entry import KINDS, WIRING
from ember_core.catalogue.formats import write_document, write_table
from ember_core.catalogue.leaflet import filled
from ember_core.errors import InputError, InputErrors
from ember_core.parts import Supply
from parts import hooks
from parts.api.shapes import (
    CableRunSerializer,
    ClaimMakeSerializer,
    ClaimUseSerializer,
    ControlClassSerializer,
    ImportResultSerializer,
    ImportSerializer,
    PartDetailSerializer,
    PartKindSerializer,
    PartMakeSerializer,
    PartSerializer,
    StageSerializer,
    TypicalControlRequestSerializer,
    TypicalLampRequestSerializer,
    TypicalLampSerializer,
    claim_from,
    entry_from,
    fields_data,
)
from parts.models import Category, Part, PartClaim
from parts.services.cables import cable_run
from parts.services.claims import add_claim, use_claim
from parts.services.entries import entry_of, make_part
from parts.services.importing import Format, import_parts
from wording.texts import catalogue, error_text, reference_words


class PartListView(generics.ListAPIView):
    """The shelf; `?category=` and `?v_rms=` narrow it."""

    write_action = SHELF

    # Of what its sources say only what the list tells.
    queryset = Part.objects.prefetch_related(
        Prefetch("claims", PartClaim.objects.filter(field=f"{WIRING}.neutral", in_use=True))
    )
    serializer_class = PartSerializer
    filterset_fields = ("category", "v_rms")
    pagination_class = None

    @extend_schema(request=PartMakeSerializer, responses={201: PartDetailSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Put a new part on the shelf."""
        given = PartMakeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        from_class = values.pop("from_class")
        entry = entry_from(values)
        try:
            entry = filled(entry) if from_class else entry
        except InputError as error:
            raise InputErrors([error]) from error
        part = make_part(person(request), entry)
        return Response(detail(part.pk, person(request)), status=201)


def detail(pk: Any, who: User) -> Any:
    """Everything about a part."""
    part = get_object_or_404(Part.objects.prefetch_related("claims__by"), pk=pk)
    part.known = fields_data(part.category, part.kind)  # type: ignore[attr-defined]  # shown beside its columns
    part.used = next(ask(part, who) for ask in hooks.used)  # type: ignore[attr-defined]
    return PartDetailSerializer(part).data


class PartView(APIView):
    """One part."""

    @extend_schema(responses={200: PartDetailSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """With every source and where it is used."""
        return Response(detail(pk, person(request)))


class PartClaimsView(APIView):
    """Sources of a part's figures."""

    write_action = SHELF

    @extend_schema(request=ClaimMakeSerializer, responses={201: PartDetailSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Add what another source says, e.g. a bench test."""
        get_object_or_404(Part, pk=pk)
        given = ClaimMakeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        add_claim(person(request), pk, values["version"], claim_from(values))
        return Response(detail(pk, person(request)), status=201)


class PartUseView(APIView):
    """Which source is in use."""

    write_action = SHELF

    @extend_schema(request=ClaimUseSerializer, responses={200: PartDetailSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Calculate with this one from now on."""
        get_object_or_404(Part, pk=pk)
        given = ClaimUseSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = given.validated_data
        use_claim(person(request), pk, values["version"], values["claim"])
        return Response(detail(pk, person(request)))


class CableRunView(APIView):
    """Capacitance of a run of cable."""

    action_name = JUDGE

    @extend_schema(request=CableRunSerializer, responses={200: TypicalLampSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """The cable of a loop, with ranges, from a cable of the shelf and its lengths."""
        part = get_object_or_404(Part, pk=pk, category=Category.CABLE)
        given = CableRunSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        return Response({"figures": cable_run(part, given.validated_data["drop_m"], given.validated_data["run_m"])})


class PartImportView(APIView):
    """Files for the shelf."""

    write_action = SHELF
    most_bytes = 6_000_000

    @extend_schema(request=ImportSerializer, responses={200: ImportResultSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Look at a file, or with `apply` take it, whole or not at all."""
        given = ImportSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = given.validated_data
        made = import_parts(person(request), values["text"], Format(values["format"]), apply=values["apply"])
        bad = [
            {"line": row.line, "column": row.column, "code": row.code, "text": error_text(row.code, row.params)}
            for row in made.bad
        ]
        shown = {"new": made.new, "changed": made.changed, "unchanged": made.unchanged, "bad": bad}
        return Response({**shown, "is_applied": made.is_applied})


class PartExportView(APIView):
    """The shelf as a file."""

    @extend_schema(
        parameters=[OpenApiParameter("form", str, OpenApiParameter.PATH, enum=["csv", "json"])],
        responses={
            (200, "text/csv"): OpenApiResponse(OpenApiTypes.BINARY, description="a row a source of a figure"),
            (200, "application/json"): OpenApiResponse(OpenApiTypes.OBJECT, description="the same as JSON"),
            **READ_PROBLEMS,
        },
    )
    def get(self, request: Request, form: str) -> HttpResponse:
        """All of it."""
        entries = [entry_of(part) for part in Part.objects.prefetch_related("claims")]
        text = write_table(entries) if form == Format.CSV else write_document(entries)
        return HttpResponse(
            text,
            content_type="text/csv; charset=utf-8" if form == Format.CSV else "application/json",
            headers={"Content-Disposition": f'attachment; filename="parts.{form}"', "Cache-Control": "no-store"},
        )


class PartKindsView(APIView):
    """Kinds of parts."""

    @extend_schema(responses={200: PartKindSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every kind of every category with its figures."""
        rows = [
            {"category": category.value, "kind": kind, "figures": fields_data(category.value, kind)}
            for category, kinds in KINDS.items()
            for kind in kinds
        ]
        return Response(PartKindSerializer(rows, many=True).data)


class StagesView(APIView):
    """Input stages with typical figures."""

    @extend_schema(
        parameters=[OpenApiParameter("v_rms", float, required=False)],
        responses={200: StageSerializer(many=True), **READ_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        """Those of a mains' class."""
        try:
            region = region_of(float(request.query_params.get("v_rms", "230")))
        except ValueError:
            region = region_of(230.0)
        texts = catalogue("stages")
        rows = [
            {
                "stage": entry.stage,
                "kind": entry.kind,
                "text": texts[entry.stage],
                "p_low_w": entry.p_low_w,
                "p_high_w": entry.p_high_w,
                "typical_p_w": entry.typical_p_w,
            }
            for entry in class_defaults()
            if entry.region_v == region
        ]
        return Response(StageSerializer(rows, many=True).data)


def _spoken(figures: dict[str, Any]) -> dict[str, Any]:
    """Figures of a class, and of what is in it, with where they are from in the language of whoever asks."""
    told = {name: _spoken(entry) if isinstance(entry, dict) else entry for name, entry in figures.items()}
    return {**told, "note": reference_words(str(told["note"]))} if "note" in told else told


class TypicalLampView(APIView):
    """A lamp of which only the class is known."""

    action_name = JUDGE

    @extend_schema(request=TypicalLampRequestSerializer, responses={200: TypicalLampSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Its figures with their ranges, assumed."""
        given = TypicalLampRequestSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = given.validated_data
        supply = Supply(v_rms=values["v_rms"], f_hz=values["f_hz"])
        try:
            figures = _spoken(typical_lamp_data(values["stage"], supply, values["p_w"]))
        except InputError as error:
            raise InputErrors([error]) from error
        return Response({"figures": figures})


class ControlClassesView(APIView):
    """Classes of controls with typical figures."""

    @extend_schema(responses={200: ControlClassSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """In the order in which they are offered."""
        texts = catalogue("control_classes")
        rows = [{"name": entry.name, "text": texts[entry.name]} for entry in control_classes()]
        return Response(ControlClassSerializer(rows, many=True).data)


class TypicalControlView(APIView):
    """A control of which only the class is known."""

    action_name = JUDGE

    @extend_schema(request=TypicalControlRequestSerializer, responses={200: TypicalLampSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Its figures with their ranges, assumed."""
        given = TypicalControlRequestSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        try:
            figures = _spoken(typical_control_data(**given.validated_data))
        except InputError as error:
            raise InputErrors([error]) from error
        return Response({"figures": figures})
