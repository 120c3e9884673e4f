"""Where a loop stands, its issues, signatures, and what waits for whom."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import READ, RULES, SIGN_OFF, person
from audit import trail
from common.problems import Problem, StaleVersion
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of, problems
from handover.api import shapes
from handover.api.files import download
from handover.models import Issue, Rules, Way
from handover.services import issuing, papers, signing
from handover.services.answers import board_answer, handover_answer, issue_answer, rules_answer
from handover.services.history import history_of
from handover.services.pages import signatures_pdf
from handover.services.standing import missing_signers
from loops.models import Loop
from sites.models import Site
from wording.texts import catalogue, language


def _loop(pk: Any) -> Loop:
    return get_object_or_404(Loop.objects.select_related("site", "circuit"), pk=pk)


def _issue(pk: Any) -> Issue:
    found = Issue.objects.select_related("by", "loop__site", "loop__circuit", "ask_back__by")
    return get_object_or_404(found.prefetch_related("signatures__by"), pk=pk)


PDF: dict[Any, Any] = {
    (200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY, description="pages"),
    **READ_PROBLEMS,
}


def _name(issue: Issue, what: str) -> str:
    return f"{issue.loop.name} {what} {issue.number}"


class HandoverView(APIView):
    """A loop."""

    record = Loop

    @extend_schema(responses={200: shapes.HandoverSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Where it stands, what is unusual, its issues."""
        return Response(handover_answer(_loop(pk), person(request)))


class HistoryView(APIView):
    """What was done at a loop."""

    record = Loop

    @extend_schema(responses={200: shapes.HistoryLineSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Readable lines, newest first."""
        return Response(history_of(_loop(pk)))


class IssuesView(APIView):
    """Issues of a loop."""

    record = Loop

    @extend_schema(request=shapes.IssueMakeSerializer, responses={201: shapes.HandoverSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Freeze the record as it is now."""
        issuing.make_issue(person(request), pk, given_of(shapes.IssueMakeSerializer, request))
        return Response(handover_answer(_loop(pk), person(request)), status=201)


class IssueView(APIView):
    """One issue."""

    record = Issue

    @extend_schema(responses={200: shapes.IssueSerializer, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """What it says, what is new in it, and whether anybody altered it."""
        return Response(issue_answer(_issue(pk), person(request)))


class IssuePdfView(APIView):
    """The pages of an issue."""

    record = Issue

    @extend_schema(responses=PDF)
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Exactly as they were frozen."""
        issue = _issue(pk)
        return download(bytes(issue.pdf), "application/pdf", _name(issue, "issue"), "pdf")


class IssueContentView(APIView):
    """The data of an issue."""

    record = Issue

    @extend_schema(responses={200: OpenApiTypes.OBJECT, **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Exactly as it was frozen."""
        issue = _issue(pk)
        return download(issue.content, "application/json", _name(issue, "issue"), "json")


class SignaturesPdfView(APIView):
    """Who signed an issue, on a page of its own."""

    record = Issue

    @extend_schema(responses=PDF)
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Each signature as it was drawn, and whether anything was altered since."""
        issue = _issue(pk)
        texts = catalogue("handover")["signers"]
        missing = [texts[role.value] for role in missing_signers(issue)]
        pdf = signatures_pdf(issue, issuing.faults_of(issue), missing)
        return download(pdf, "application/pdf", _name(issue, "signatures"), "pdf")


class SignView(APIView):
    """Signatures."""

    record = Issue
    # Who may sign as what is asked for each signature.
    write_action = READ

    @extend_schema(
        request=shapes.SignSerializer, responses={201: shapes.IssueSerializer, **WRITE_PROBLEMS, **problems(403)}
    )
    def post(self, request: Request, pk: Any) -> Response:
        """Sign, or say why a client does not."""
        who, given = person(request), given_of(shapes.SignSerializer, request)
        if given["way"] == Way.PASSWORD:
            # Guesses are counted with those at the door.
            known = authenticate(request=request._request, username=who.username, password=given["password"])
            if known is None or known.pk != who.pk:
                raise Problem(422, "wrong_password", path="password")
        signing.sign(who, pk, given)
        return Response(issue_answer(_issue(pk), who), status=201)


class AskBackView(APIView):
    """Asking back."""

    record = Issue
    write_action = SIGN_OFF

    @extend_schema(request=shapes.AskBackSerializer, responses={201: shapes.IssueSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Say what is wanted before it is signed."""
        signing.ask_back(person(request), pk, given_of(shapes.AskBackSerializer, request))
        return Response(issue_answer(_issue(pk), person(request)), status=201)


class ClientPdfView(APIView):
    """The client's page of a loop."""

    record = Loop

    @extend_schema(
        parameters=[OpenApiParameter("languages", str, description="one page each, with commas; else the reader's")],
        responses={**PDF, **problems(400)},
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Plain words, one side a language."""
        loop = _loop(pk)
        asked = [one for one in request.query_params.get("languages", "").split(",") if one] or [language()]
        known = [code for code, _ in settings.LANGUAGES]
        for one in asked:
            if one not in known:
                raise Problem(400, "unknown_form", path="languages", value=one[:20], known=", ".join(known))
        return download(papers.client_pdf(loop, asked), "application/pdf", f"{loop.name} client", "pdf")


class StickersPdfView(APIView):
    """Stickers of a loop."""

    record = Loop

    @extend_schema(
        parameters=[OpenApiParameter("form", str, enum=list(papers.STICKERS), description="how many on a sheet")],
        responses={**PDF, **problems(400)},
    )
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """On a sheet of a common form, to the millimetre."""
        loop = _loop(pk)
        form = request.query_params.get("form", "24")
        if form not in papers.STICKERS:
            raise Problem(400, "unknown_form", path="form", value=form[:20], known=", ".join(papers.STICKERS))
        address = request.build_absolute_uri(f"/loops/{loop.pk}")
        return download(
            papers.stickers_pdf(loop, form, address), "application/pdf", f"{loop.name} stickers {form}", "pdf"
        )


class SitePdfView(APIView):
    """The sheet of a site."""

    record = Site

    @extend_schema(responses=PDF)
    def get(self, request: Request, pk: Any) -> HttpResponse:
        """Loops, breakers, devices, what still works."""
        site = get_object_or_404(Site, pk=pk)
        return download(papers.site_pdf(site, person(request)), "application/pdf", f"{site.name} sheet", "pdf")


class HandoverBoardView(APIView):
    """What waits for whom."""

    @extend_schema(responses={200: shapes.HandoverBoardSerializer, **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Loops by stage, and what waits."""
        return Response(board_answer(person(request)))


class RulesView(APIView):
    """What the firm wants of a hand-over."""

    write_action = RULES

    @extend_schema(responses={200: shapes.RulesSerializer, **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """As it is."""
        return Response(rules_answer())

    @extend_schema(request=shapes.RulesSerializer, responses={200: shapes.RulesSerializer, **WRITE_PROBLEMS})
    def put(self, request: Request) -> Response:
        """Change it; what was signed stays signed."""
        given = given_of(shapes.RulesSerializer, request)
        with transaction.atomic():
            row = Rules.objects.select_for_update().first() or Rules(version=0)
            before = rules_answer()
            if row.version != given.pop("version", None):
                raise StaleVersion(yours=-1, current_version=row.version, current=before)
            for name, value in given.items():
                setattr(row, name, value)
            row.version += 1
            row.save()
            trail.record(person(request), "rules of handing over", row, before=before, after=rules_answer())
        return Response(rules_answer())
