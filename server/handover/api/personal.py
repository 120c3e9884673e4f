"""What is kept of a client, over the API: by administrators, who answer for it."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import ACCOUNTS, person
from common.shapes import WRITE_PROBLEMS, given_of
from handover.services.personal import Kept, Mention, erase, kept_of
from wording.texts import catalogue


class PersonalWishSerializer(serializers.Serializer):
    """Somebody's name; in the body, so that no log has it."""

    name = serializers.CharField(max_length=120)


class PersonalEraseSerializer(PersonalWishSerializer):
    """The same, to be erased, and who asked for it."""

    reason = serializers.CharField(max_length=200)


class PersonalSignatureSerializer(serializers.Serializer):
    """A signature of theirs, whole."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    loop = serializers.CharField()
    site = serializers.CharField()
    loop_id = serializers.UUIDField()
    issue = serializers.IntegerField()
    at = serializers.DateTimeField()
    taken_by = serializers.CharField()
    strokes = serializers.JSONField()


class PersonalMentionSerializer(serializers.Serializer):
    """A place where the name stands."""

    kind = serializers.CharField()
    loop = serializers.CharField(allow_blank=True)
    site = serializers.CharField(allow_blank=True)
    loop_id = serializers.UUIDField(allow_null=True)
    text = serializers.CharField()


class PersonalSerializer(serializers.Serializer):
    """Everything that is kept under a name."""

    signatures = PersonalSignatureSerializer(many=True)
    texts = PersonalMentionSerializer(many=True)
    frozen = PersonalMentionSerializer(many=True)
    trail_count = serializers.IntegerField(help_text="lines of the trail that hold it; they stay")


def _mention(one: Mention) -> dict[str, Any]:
    loop = one.loop
    return {
        "kind": catalogue("handover")["mentions"][one.kind],
        "loop": "" if loop is None else loop.name,
        "site": "" if loop is None else loop.site.name,
        "loop_id": None if loop is None else loop.pk,
        "text": one.text,
    }


def _answer(kept: Kept) -> dict[str, Any]:
    return {
        "signatures": [
            {
                "id": row.pk,
                "name": row.name,
                "loop": row.issue.loop.name,
                "site": row.issue.loop.site.name,
                "loop_id": row.issue.loop_id,
                "issue": row.issue.number,
                "at": row.at,
                "taken_by": str(row.by),
                "strokes": row.strokes,
            }
            for row in kept.signatures
        ],
        "texts": [_mention(one) for one in kept.texts],
        "frozen": [_mention(one) for one in kept.frozen],
        "trail_count": kept.trail_count,
    }


class PersonalView(APIView):
    """What is kept of somebody."""

    action_name = ACCOUNTS

    @extend_schema(request=PersonalWishSerializer, responses={200: PersonalSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Find it."""
        return Response(_answer(kept_of(given_of(PersonalWishSerializer, request)["name"])))


class PersonalEraseView(APIView):
    """Erasing it."""

    action_name = ACCOUNTS

    @extend_schema(request=PersonalEraseSerializer, responses={200: PersonalSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Take it out of signatures and notes; the answer is what is kept after that."""
        given = given_of(PersonalEraseSerializer, request)
        return Response(_answer(erase(person(request), given["name"], given["reason"])))
