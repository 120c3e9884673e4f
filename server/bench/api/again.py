"""What was judged on something that has changed since, and judging it again."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from bench.api.shapes import GangSerializer, OutdatedSerializer
from bench.services.serving import judge_again, out_of_date
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from loops.models import Gang
from wording.texts import catalogue


class OutdatedView(APIView):
    """Judgements that are out of date."""

    @extend_schema(responses={200: OutdatedSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every gang with one, and why."""
        texts = catalogue("overall")["outdated"]
        rows = [
            {"gang": gang.pk, "loop": gang.loop_id, "loop_name": gang.loop.name, "text": texts[reason]}
            for gang, reason in out_of_date(person(request))
        ]
        return Response(OutdatedSerializer(rows, many=True).data)


class JudgeAgainView(APIView):
    """A gang judged on what holds now."""

    record = Gang

    @extend_schema(request=None, responses={200: GangSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """The shelf's present figures are taken over, and the judgement is stored anew."""
        get_object_or_404(Gang, pk=pk)
        return Response(GangSerializer(judge_again(person(request), pk)).data)
