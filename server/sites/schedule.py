"""The circuit schedule: wrong labels corrected for good."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.models import User
from accounts.policy import person
from audit import trail
from common.problems import StaleVersion
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from sites.models import Circuit, LabelCorrection


class CorrectionSerializer(serializers.ModelSerializer):
    """A correction with who and when."""

    by = serializers.CharField(source="by.display_name", default="", read_only=True)

    class Meta:
        model = LabelCorrection
        fields = ("id", "label_before", "label", "feeds", "how_found", "at", "by")


class CorrectionMakeSerializer(serializers.Serializer):
    """What the breaker really feeds, what its label says from now on, and how that was found."""

    version = serializers.IntegerField(min_value=1)
    label = serializers.CharField(max_length=120)  # type: ignore[assignment]  # the framework has an attribute of that name
    feeds = serializers.CharField(max_length=200)
    how_found = serializers.CharField(max_length=200, allow_blank=True, default="")


def correct_label(who: User, pk: Any, version: int, given: dict[str, str]) -> LabelCorrection:
    """Correct a breaker's label.

    Raises
    ------
    StaleVersion : someone changed the circuit meanwhile.
    """
    with transaction.atomic():
        circuit = Circuit.objects.select_for_update().get(pk=pk)
        before = {
            "label": circuit.label_now or circuit.label_as_found,
            "feeds": circuit.feeds,
            "version": circuit.version,
        }
        if circuit.version != version:
            raise StaleVersion(yours=version, current_version=circuit.version, current=before)
        label_before = circuit.label_now or circuit.label_as_found
        made = LabelCorrection.objects.create(circuit=circuit, label_before=label_before, by=who, **given)
        circuit.label_now, circuit.feeds, circuit.version = given["label"], given["feeds"], version + 1
        circuit.save()
        trail.record(who, "label corrected", circuit, before=before, after={**given, "version": circuit.version})
    return made


class CorrectionsView(APIView):
    """Corrections of a breaker's label."""

    record = Circuit

    @extend_schema(responses={200: CorrectionSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """All of them, newest first."""
        circuit = get_object_or_404(Circuit, pk=pk)
        return Response(CorrectionSerializer(circuit.corrections.select_related("by"), many=True).data)

    @extend_schema(request=CorrectionMakeSerializer, responses={201: CorrectionSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Correct it."""
        get_object_or_404(Circuit, pk=pk)
        given = CorrectionMakeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        made = correct_label(person(request), pk, values.pop("version"), values)
        return Response(CorrectionSerializer(made).data, status=201)
