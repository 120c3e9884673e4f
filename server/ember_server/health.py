"""Health check: application, database and core each do one real thing."""

from __future__ import annotations

from django.db import DatabaseError, connection
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from ember_core import CORE_VERSION
from ember_core.errors import EmberError
from ember_core.loop import Loop
from ember_core.offstate.solve import settled_state
from ember_core.parts import Control, FilamentLamp, Supply

HEALTH_WORDS = ["ok", "failing"]


class HealthSerializer(serializers.Serializer):
    """`ok` when everything works; otherwise which part does not."""

    status = serializers.ChoiceField(choices=HEALTH_WORDS)
    database = serializers.ChoiceField(choices=HEALTH_WORDS)
    core = serializers.ChoiceField(choices=HEALTH_WORDS)
    core_version = serializers.CharField()


_PROBE = Loop(supply=Supply(v_rms=230.0, f_hz=50.0), control=Control(), lamps=(FilamentLamp(count=1, r_cold_ohm=90.0),))


class HealthView(APIView):
    """Open to all; says nothing that helps an attacker."""

    authentication_classes = ()
    permission_classes = (AllowAny,)

    @extend_schema(
        responses={200: HealthSerializer, 503: OpenApiResponse(HealthSerializer, description="a part fails")},
        auth=[],
    )
    def get(self, request: Request) -> Response:
        """Do one query and one solution."""
        database = core = "ok"
        try:
            with connection.cursor() as cursor:
                cursor.execute("SELECT 1")
        except DatabaseError:
            database = "failing"
        try:
            settled_state(_PROBE)
        except EmberError:
            core = "failing"
        works = database == core == "ok"
        body = {
            "status": "ok" if works else "failing",
            "database": database,
            "core": core,
            "core_version": CORE_VERSION,
        }
        return Response(body, status=200 if works else 503)
