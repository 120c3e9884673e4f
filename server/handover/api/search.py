"""Search over everything."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import READ, person
from common.shapes import READ_PROBLEMS, problems
from handover.services.search import SOURCES, found_for

KINDS = [source.kind for source in SOURCES]
LONGEST = 200


class FoundRowSerializer(serializers.Serializer):
    """A record in which the words stand."""

    text = serializers.CharField()
    loop = serializers.UUIDField(allow_null=True)
    loop_name = serializers.CharField(allow_blank=True)
    site = serializers.UUIDField(allow_null=True)
    site_name = serializers.CharField(allow_blank=True)
    part = serializers.UUIDField(allow_null=True)


class FoundKindSerializer(serializers.Serializer):
    """Records of one kind; the first of them."""

    kind = serializers.ChoiceField(KINDS)
    count = serializers.IntegerField()
    rows = FoundRowSerializer(many=True)


class FoundSerializer(serializers.Serializer):
    """Everything found."""

    words = serializers.ListField(child=serializers.CharField())
    kinds = FoundKindSerializer(many=True)


class SearchWishSerializer(serializers.Serializer):
    """Some words."""

    q = serializers.CharField(max_length=LONGEST, allow_blank=True)


class SearchView(APIView):
    """Everything on record."""

    action_name = READ

    @extend_schema(
        parameters=[OpenApiParameter("q", str, required=True)],
        responses={200: FoundSerializer, **READ_PROBLEMS, **problems(400)},
    )
    def get(self, request: Request) -> Response:
        """Of the sites where one works, and the shelf."""
        wish = SearchWishSerializer(data=request.query_params)
        wish.is_valid(raise_exception=True)
        return Response(found_for(person(request), wish.validated_data["q"]))
