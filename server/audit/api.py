"""Reading the trail of one record."""

from __future__ import annotations

from django.db.models import QuerySet
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics, serializers
from rest_framework.request import Request
from rest_framework.response import Response

from audit.models import Change
from ember_server.problems import Problem
from ember_server.shapes import READ_PROBLEMS, problems


class ChangeSerializer(serializers.ModelSerializer):
    """One change, without the states themselves."""

    who = serializers.CharField(source="who.display_name", default="", read_only=True)

    class Meta:
        model = Change
        fields = ("id", "at", "who", "action", "subject_kind", "subject_id")


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
        import uuid

        try:
            subject = uuid.UUID(self.request.query_params.get("subject", ""))
        except ValueError as error:
            raise Problem(400, "missing", path="subject", key="subject") from error
        return Change.objects.filter(subject_id=subject).select_related("who")
