"""What the record of all loops says, over the API."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import READ, person
from common.shapes import READ_PROBLEMS, problems
from ember_core.handover.stages import Stage
from handover.services.statistics import KINDS, statistics_of

PART_KINDS = list(KINDS)


class BehindSerializer(serializers.Serializer):
    """A loop behind a number."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    site = serializers.CharField()


class StageFigureSerializer(serializers.Serializer):
    """How many loops stand at a stage."""

    stage = serializers.ChoiceField([one.value for one in Stage])
    text = serializers.CharField()
    count = serializers.IntegerField()
    loops = BehindSerializer(many=True)


class TaskFigureSerializer(serializers.Serializer):
    """Minutes of a task as it went, beside what is planned with."""

    task = serializers.CharField()
    text = serializers.CharField()
    times = serializers.IntegerField()
    median_min = serializers.FloatField()
    least_min = serializers.FloatField()
    most_min = serializers.FloatField()
    low_min = serializers.FloatField()
    typical_min = serializers.FloatField()
    high_min = serializers.FloatField()
    is_outside = serializers.BooleanField()
    loops = BehindSerializer(many=True)


class RemedyFigureSerializer(serializers.Serializer):
    """What was done, how often, and how often that was the end of it."""

    remedy = serializers.CharField(allow_blank=True)
    text = serializers.CharField(allow_blank=True)
    count = serializers.IntegerField()
    held = serializers.IntegerField()
    loops = BehindSerializer(many=True)


class CauseFigureSerializer(serializers.Serializer):
    """What it was, and what was done."""

    cause = serializers.CharField()
    text = serializers.CharField()
    count = serializers.IntegerField()
    loops = BehindSerializer(many=True)
    remedies = RemedyFigureSerializer(many=True)


class PartFigureSerializer(serializers.Serializer):
    """A part, on how many gangs it is, and at how many of them something is or was wrong."""

    kind = serializers.ChoiceField(PART_KINDS)
    label = serializers.CharField()  # type: ignore[assignment]  # the framework has an attribute of that name
    gangs = serializers.IntegerField()
    trouble = serializers.IntegerField()
    loops = BehindSerializer(many=True, help_text="where something is or was wrong")
    all_loops = BehindSerializer(many=True)


class StatisticsSerializer(serializers.Serializer):
    """What the record says."""

    stages = StageFigureSerializer(many=True)
    minutes = TaskFigureSerializer(many=True)
    causes = CauseFigureSerializer(many=True)
    parts = PartFigureSerializer(many=True)


class StatisticsWishSerializer(serializers.Serializer):
    """Of which site; all where it is left out."""

    site = serializers.UUIDField(required=False)


class StatisticsView(APIView):
    """Of the sites where one works."""

    action_name = READ

    @extend_schema(
        parameters=[OpenApiParameter("site", {"type": "string", "format": "uuid"})],
        responses={200: StatisticsSerializer, **READ_PROBLEMS, **problems(400)},
    )
    def get(self, request: Request) -> Response:
        """Every number with the loops behind it."""
        wish = StatisticsWishSerializer(data=request.query_params)
        wish.is_valid(raise_exception=True)
        return Response(statistics_of(person(request), wish.validated_data.get("site")))
