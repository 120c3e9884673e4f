"""Stored judgements."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet
from django.db.models.fields.json import KeyTextTransform
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from common.shapes import READ_PROBLEMS
from ember_core import sheet
from judgements.api.shapes import StoredJudgementDetailSerializer, StoredJudgementSerializer
from judgements.models import Judgement
from judging.services.answers import in_words
from loops.models import Gang


class GangJudgementsView(generics.ListAPIView):
    """Judgements of a gang, newest first."""

    record = Gang

    queryset = Judgement.objects.none()
    serializer_class = StoredJudgementSerializer
    filter_backends = ()

    def get_queryset(self) -> QuerySet[Judgement]:
        """Only this gang's."""
        found = Judgement.objects.filter(gang=self.kwargs.get("pk")).select_related("made_by")
        return found.annotate(works=KeyTextTransform("works", "result__overall")).defer("sheet", "result")


class JudgementView(APIView):
    """One stored judgement."""

    record = Judgement

    @extend_schema(responses={200: StoredJudgementDetailSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """As it was known then, in today's words."""
        stored = get_object_or_404(Judgement.objects.select_related("gang__loop__site", "made_by"), pk=pk)
        row = StoredJudgementSerializer(stored).data
        words = in_words(stored.result, sheet.read(stored.sheet), stored.gang.loop.site.region)
        return Response({**row, "sheet": stored.sheet, "judgement": words})
