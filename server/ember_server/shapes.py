"""What every API shares: shapes that only describe, and what was sent, read by its shape."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiResponse
from rest_framework import serializers
from rest_framework.request import Request


class ErrorEntrySerializer(serializers.Serializer):
    """One thing that is wrong, where, and in words."""

    code = serializers.CharField()
    path = serializers.CharField()
    params = serializers.DictField(child=serializers.JSONField())
    text = serializers.CharField()


class ProblemSerializer(serializers.Serializer):
    """Any error answer; `current` holds the stored state when a write was stale."""

    type = serializers.CharField()
    title = serializers.CharField()
    status = serializers.IntegerField()
    code = serializers.CharField()
    errors = ErrorEntrySerializer(many=True)  # type: ignore[assignment]  # the framework has an attribute of that name
    current = serializers.JSONField(required=False)


def problems(*statuses: int) -> dict[int, OpenApiResponse]:
    """Error answers of an operation, for the API document."""
    return {status: OpenApiResponse(ProblemSerializer, description="problem+json") for status in statuses}


READ_PROBLEMS = problems(401, 403, 404)
WRITE_PROBLEMS = problems(400, 401, 403, 404, 409, 422, 429, 503)


def given_of(shape: type[serializers.Serializer], request: Request) -> dict[str, Any]:
    """What was sent, checked for its shape; what it means is checked by the services.

    Raises
    ------
    ValidationError : it has another shape.
    """
    given = shape(data=request.data)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)
