"""Bundles over the API: a file out, a file in."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse
from django.utils import translation
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.policy import SITES, person
from audit import trail
from bundle.scope import Scope, of_loop, of_site
from bundle.taking import Difference, Looked, take
from bundle.telling import Telling
from bundle.zipped import MOST_BYTES, Opened, opened, write
from common.heavy import slot
from common.problems import Problem
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of, problems
from handover.api.files import file_name
from loops.models import Loop
from sites.models import Site
from wording.moments import in_zone
from wording.texts import FIRST_LANGUAGE, catalogue, error_text

FETCHED = "bundle fetched"
ZIP: dict[Any, OpenApiResponse] = {
    (200, "application/zip"): OpenApiResponse(OpenApiTypes.BINARY, description="a bundle"),
    **READ_PROBLEMS,
    **problems(503),
}


class BundleGivenSerializer(serializers.Serializer):
    """A bundle, and what of it is to replace what is here."""

    file = serializers.FileField()
    apply = serializers.BooleanField(default=False)
    take = serializers.CharField(
        default="",
        allow_blank=True,
        max_length=100_000,
        help_text="marks of records, with commas between",
    )


class BundleCountSerializer(serializers.Serializer):
    """Records of one kind."""

    table = serializers.CharField()
    title = serializers.CharField()
    new = serializers.IntegerField()
    same = serializers.IntegerField()
    differ = serializers.IntegerField()


class BundleColumnSerializer(serializers.Serializer):
    """One thing that differs, in words."""

    name = serializers.CharField()
    here = serializers.CharField()
    there = serializers.CharField()


class BundleDifferenceSerializer(serializers.Serializer):
    """A record that is here and says something else in the bundle."""

    id = serializers.CharField()
    mark = serializers.CharField(help_text="of what is here now; sent back to take what the bundle says instead")
    kind = serializers.CharField()
    title = serializers.CharField()
    columns = BundleColumnSerializer(
        many=True, help_text="none where only what is worked out of it differs, or how often it was kept"
    )
    may_take = serializers.BooleanField(help_text="false: what is here stays, whatever comes")


class BundleAnswerSerializer(serializers.Serializer):
    """What a bundle does here, or did."""

    site = serializers.CharField()
    loops = serializers.ListField(child=serializers.CharField())
    made_at = serializers.CharField()
    counts = BundleCountSerializer(many=True)
    differences = BundleDifferenceSerializer(many=True)
    obstacles = serializers.ListField(child=serializers.CharField())
    new_people = serializers.ListField(child=serializers.CharField())
    is_applied = serializers.BooleanField()


class _Fetch(APIView):
    def _fetched(self, request: Request, record: Site | Loop, scope: Scope) -> FileResponse:
        with slot(), translation.override(FIRST_LANGUAGE):
            made = write(scope)
        trail.record(person(request), FETCHED, record)
        return FileResponse(
            made,
            as_attachment=True,
            filename=file_name(record.name, "zip"),
            content_type="application/zip",
            headers={"Cache-Control": "no-store"},
        )


class SiteBundleView(_Fetch):
    """A site as a bundle."""

    record = Site

    @extend_schema(responses=ZIP)
    def get(self, request: Request, pk: Any) -> FileResponse:
        """Everything of it, archived or not."""
        site = Site.objects.get(pk=pk)
        return self._fetched(request, site, of_site(site.pk))


class LoopBundleView(_Fetch):
    """A loop as a bundle."""

    record = Loop

    @extend_schema(responses=ZIP)
    def get(self, request: Request, pk: Any) -> FileResponse:
        """The loop, with what its record leans on."""
        loop = Loop.objects.get(pk=pk)
        return self._fetched(request, loop, of_loop(loop))


class BundlesView(APIView):
    """Bundles of other copies."""

    parser_classes = (MultiPartParser,)
    action_name = SITES

    @extend_schema(
        request={"multipart/form-data": BundleGivenSerializer},
        responses={200: BundleAnswerSerializer, **WRITE_PROBLEMS, **problems(413)},
    )
    def post(self, request: Request) -> Response:
        """Look at one, or with `apply` bring it in, whole or not at all."""
        given = given_of(BundleGivenSerializer, request)
        if given["file"].size > MOST_BYTES:
            raise Problem(413, "bundle_too_large", path="file", most=MOST_BYTES // 1_000_000)
        with slot():
            bundle = opened(given["file"])
            chosen = [one.strip() for one in given["take"].split(",") if one.strip()]
            found = take(person(request), bundle, apply=given["apply"], chosen=chosen)
        with in_zone(bundle.rows["sites"][0]["zone"]):
            return Response(_answer(bundle, found))


def _answer(bundle: Opened, found: Looked) -> dict[str, Any]:
    titles = catalogue("bundle")["tables"]
    manifest = bundle.manifest
    telling = Telling(bundle)
    return {
        "site": manifest["site"]["name"],
        "loops": [one["name"] for one in manifest["loops"]],
        "made_at": manifest["made_at"],
        "counts": [{**one, "title": titles[one["table"]]} for one in found.counts],
        "differences": [_difference(one, telling, titles[one.table]) for one in found.differences],
        "obstacles": [
            error_text(one.code, one.params | {"table": titles.get(one.params.get("table", ""), "")})
            for one in found.obstacles
        ],
        "new_people": found.new_people,
        "is_applied": found.is_applied,
    }


def _difference(one: Difference, telling: Telling, kind: str) -> dict[str, Any]:
    return {
        "id": one.id,
        "mark": one.mark,
        "kind": kind,
        "title": telling.title(one),
        "columns": [{"name": line.name, "here": line.before, "there": line.after} for line in telling.lines(one)],
        "may_take": one.may_take,
    }
