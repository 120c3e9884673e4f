"""Jobs over the API."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import person
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of
from jobs.api.shapes import JobMakeSerializer, JobSerializer, job_data
from jobs.services import asking


class JobsView(APIView):
    """Long work over many gangs."""

    @extend_schema(responses={200: JobSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """One's own: what is under way, and what ended in the last two days."""
        rows = [job_data(job) for job in asking.jobs_of(person(request))]
        return Response(JobSerializer(rows, many=True).data)

    @extend_schema(request=JobMakeSerializer, responses={201: JobSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Ask for it: what is out of date judged again, or a part's figures taken over by all that hold it."""
        job = asking.ask(person(request), given_of(JobMakeSerializer, request))
        return Response(JobSerializer(job_data(job)).data, status=201)


class JobStopView(APIView):
    """The end of one, before its time."""

    @extend_schema(request=None, responses={200: JobSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """It ends after the gang that it is at; what was done stays."""
        return Response(JobSerializer(job_data(asking.stop(person(request), pk))).data)
