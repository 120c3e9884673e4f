"""Archiving over the API: the same for every kind of record."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import ARCHIVE, person
from audit.archiving import archive, bring_back
from common.shapes import WRITE_PROBLEMS


class ArchiveReasonSerializer(serializers.Serializer):
    """Why."""

    reason = serializers.CharField(max_length=200)


class ArchivedSerializer(serializers.Serializer):
    """Whether a record is out of sight now."""

    id = serializers.UUIDField()
    is_archived = serializers.BooleanField()


class ArchiveView(APIView):
    """Takes a record out of sight; nothing of it is lost."""

    action_name = ARCHIVE
    takes_archived = True
    record: Any = None
    is_back = False

    def check(self, row: Any) -> None:
        """Raise what stands against it."""

    def after(self, row: Any) -> None:
        """What changes with it."""

    @extend_schema(request=ArchiveReasonSerializer, responses={200: ArchivedSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """With a reason, which stays on record."""
        given = ArchiveReasonSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        who, reason = person(request), given.validated_data["reason"]
        with transaction.atomic():
            if self.is_back:
                row = bring_back(who, self.record, pk, reason)
            else:
                row = archive(who, self.record, pk, reason, self.check)
            self.after(row)
        return Response({"id": row.pk, "is_archived": row.archived_at is not None})
