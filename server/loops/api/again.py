"""What was judged on something that has changed since, and judging it again."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from loops.api.shapes import GangSerializer
from loops.basis import outdated
from loops.models import Gang
from loops.services.serving import judge_again
from parts.api.shapes import OutdatedSerializer
from sites.access import visible
from wording.texts import catalogue


class OutdatedView(APIView):
    """Judgements that are out of date."""

    @extend_schema(responses={200: OutdatedSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Every gang with one, and why."""
        texts = catalogue("overall")["outdated"]
        gangs = (
            visible(Gang, person(request))
            .exclude(judged_on={})
            .select_related("loop__site")
            .order_by("loop__name", "position")
        )
        rows = [
            {"gang": gang.pk, "loop": gang.loop_id, "loop_name": gang.loop.name, "text": texts[reason]}
            for gang in gangs.only("judged_on", "position", "loop__name", "loop__site")
            if (reason := outdated(gang.judged_on, gang.loop.site))
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
