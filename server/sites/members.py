"""Who works at a site."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.exceptions import ErrorDetail
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.models import Role, User
from accounts.policy import SITES, person
from audit import trail
from common.problems import Problem
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from sites.models import Site


class PersonSerializer(serializers.ModelSerializer):
    """A colleague."""

    works_here = serializers.BooleanField()
    sees_all = serializers.SerializerMethodField()
    is_program = serializers.BooleanField()

    class Meta:
        model = User
        fields = ("id", "display_name", "role", "works_here", "sees_all", "is_program")

    def get_sees_all(self, user: User) -> bool:
        """Sees every site by role."""
        return bool(user.role == Role.ADMINISTRATOR)


class MembersSerializer(serializers.Serializer):
    """Everybody who works at the site: whoever is left out does not see it any more."""

    members = serializers.ListField(child=serializers.UUIDField(), max_length=500)
    before = serializers.ListField(
        child=serializers.UUIDField(),
        max_length=500,
        help_text="who worked here, of those with an account in use, when it was read",
    )


def _people(pk: Any) -> list[User]:
    here = set(Site.members.through.objects.filter(site=pk).values_list("user", flat=True))
    people = list(User.objects.filter(is_active=True).order_by("display_name", "username").select_related("token"))
    for one in people:
        one.is_program = hasattr(one, "token")  # type: ignore[attr-defined]  # shown beside its columns
        one.works_here = one.pk in here  # type: ignore[attr-defined]  # shown beside its columns
    return people


class MembersView(APIView):
    """Who works at a site, and who could."""

    record = Site
    write_action = SITES

    @extend_schema(responses={200: PersonSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request, pk: Any) -> Response:
        """Everybody with an account."""
        return Response(PersonSerializer(_people(pk), many=True).data)

    @extend_schema(request=MembersSerializer, responses={200: PersonSerializer(many=True), **WRITE_PROBLEMS})
    def put(self, request: Request, pk: Any) -> Response:
        """Say who does; no entry that they made is touched."""
        given = MembersSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        wanted = set(given.validated_data["members"])
        with transaction.atomic():
            site = Site.objects.select_for_update().get(pk=pk)
            known = set(User.objects.filter(pk__in=wanted, is_active=True).values_list("pk", flat=True))
            if wanted - known:
                raise serializers.ValidationError({"members": [ErrorDetail("No such person.", "does_not_exist")]})
            there = {one.pk: one for one in site.members.all()}
            if {pk for pk, one in there.items() if one.is_active} != set(given.validated_data["before"]):
                raise Problem(409, "members_changed", path="members")
            before = sorted(map(str, there.values()))
            # Who says who works there is not to shut themselves out by a slip; whose account rests was not asked about.
            resting = {pk for pk, one in there.items() if not one.is_active}
            site.members.set(known | resting | {person(request).pk})
            after = sorted(str(one) for one in site.members.all())
            if before != after:
                trail.record(person(request), "members", site, before={"members": before}, after={"members": after})
        return Response(PersonSerializer(_people(pk), many=True).data)
