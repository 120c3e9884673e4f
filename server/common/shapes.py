"""What every API shares: shapes that only describe, and what was sent, read by its shape."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import OpenApiResponse
from rest_framework import serializers
from rest_framework.request import Request

from common.problems import CONTENT_TYPE


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
    return {status: OpenApiResponse(ProblemSerializer, description="what is wrong") for status in statuses}


def with_problems(result: dict[str, Any], **_: Any) -> dict[str, Any]:
    """Problems have their own content type, and every operation may answer with one, whatever it names itself.

    A hook of the document's generator, which knows one content type for all.
    """
    schema = {"$ref": "#/components/schemas/Problem"}
    problem = {CONTENT_TYPE: {"schema": schema}}
    for path in result["paths"].values():
        for operation in path.values():
            answers = operation["responses"]
            for answer in answers.values():
                if any(one.get("schema") == schema for one in answer.get("content", {}).values()):
                    answer["content"] = problem
            answers.setdefault("default", {"description": "what is wrong", "content": problem})
    return result


READ_PROBLEMS = problems(401, 403, 404, 503)
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


class WordSerializer(serializers.Serializer):
    """A word that a figure can be."""

    word = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
