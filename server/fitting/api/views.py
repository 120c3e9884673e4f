"""Fitting of a loop: every write answers with the whole of it as it then is."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of
from fitting.api import shapes
from fitting.services import marking
from fitting.services.answers import fit_answer
from loops.models import Loop


def _answer(request: Request, pk: Any, status: int = 200) -> Response:
    loop = get_object_or_404(Loop.objects.select_related("site", "circuit"), pk=pk)
    return Response(fit_answer(loop, person(request)), status=status)


class FitView(APIView):
    """The fitting of a loop."""

    record = Loop

    @extend_schema(responses={200: shapes.FittingSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Steps with their gates for the person who asks."""
        return _answer(request, pk)


class FitMarksView(APIView):
    """Ticks."""

    record = Loop

    @extend_schema(request=shapes.FitMarkMakeSerializer, responses={201: shapes.FittingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Mark a step, or take a mark back."""
        marking.mark_step(person(request), pk, given_of(shapes.FitMarkMakeSerializer, request))
        return _answer(request, pk, 201)


class FitLeftView(APIView):
    """Leaving it half done."""

    record = Loop

    @extend_schema(request=shapes.FitLeaveSerializer, responses={201: shapes.FittingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Say in which safe state it is left."""
        marking.leave_safe(person(request), pk, given_of(shapes.FitLeaveSerializer, request))
        return _answer(request, pk, 201)


class KitView(APIView):
    """The kit of the control."""

    record = Loop

    @extend_schema(request=shapes.KitCheckMakeSerializer, responses={201: shapes.FittingSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Say what the box held."""
        marking.check_kit(person(request), pk, given_of(shapes.KitCheckMakeSerializer, request))
        return _answer(request, pk, 201)
