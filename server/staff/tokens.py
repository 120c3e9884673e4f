"""Tokens for programs of the firm, made and ended by an administrator."""

from __future__ import annotations

import secrets
import uuid
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.authentication import digest_of
from accounts.models import Role, Token, TokenScope, User
from accounts.policy import ACCOUNTS, person
from audit import trail
from common.problems import Problem
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS, given_of
from sites.models import Site

Json = dict[str, Any]
PREFIX = "ember_"
RANDOM_BYTES = 32
SHOWN = len(PREFIX) + 6
LONGEST_DAYS = 730


class TokenSerializer(serializers.ModelSerializer):
    """A token as an administrator sees it; what it is, nobody reads again."""

    name = serializers.CharField(source="account.display_name")
    sites = serializers.SerializerMethodField()
    by = serializers.CharField(source="by.display_name")

    class Meta:
        model = Token
        fields = ["id", "name", "scope", "start", "sites", "ends_at", "ended_at", "last_used_at", "at", "by"]

    def get_sites(self, token: Token) -> list[str]:
        """Where its account works."""
        return [site.name for site in token.account.sites.all()]


class TokenMakeSerializer(serializers.Serializer):
    """A new token."""

    name = serializers.CharField(max_length=100)
    scope = serializers.ChoiceField(choices=TokenScope.choices)
    sites = serializers.ListField(child=serializers.UUIDField(), min_length=1, max_length=500)
    days = serializers.IntegerField(min_value=1, max_value=LONGEST_DAYS)


class TokenMadeSerializer(TokenSerializer):
    """The one answer that holds the token itself."""

    token = serializers.CharField()

    class Meta(TokenSerializer.Meta):
        fields = [*TokenSerializer.Meta.fields, "token"]


def _shown(token: Token) -> Json:
    """What the trail keeps: nothing to sign in with."""
    return {"name": token.account.display_name, "scope": token.scope, "ends_at": token.ends_at, "start": token.start}


class TokensView(APIView):
    """Every token."""

    action_name = ACCOUNTS

    @extend_schema(responses={200: TokenSerializer(many=True), **READ_PROBLEMS})
    def get(self, request: Request) -> Response:
        """Newest first, ended ones too."""
        rows = Token.objects.select_related("account", "by").prefetch_related("account__sites")
        return Response(TokenSerializer(rows, many=True).data)

    @extend_schema(request=TokenMakeSerializer, responses={201: TokenMadeSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Make one, with an account of its own that nobody signs in with; the token is told this once."""
        given = given_of(TokenMakeSerializer, request)
        said = PREFIX + secrets.token_urlsafe(RANDOM_BYTES)
        who = person(request)
        with transaction.atomic():
            sites = list(Site.objects.filter(pk__in=given["sites"]))
            if len(sites) != len(set(given["sites"])):
                raise Problem(422, "no_such_site", path="sites", name="")
            account = User(username=f"token-{uuid.uuid4()}", display_name=given["name"].strip(), role=Role.TECHNICIAN)
            account.set_unusable_password()
            account.save(force_insert=True)
            account.sites.set(sites)
            token = Token.objects.create(
                account=account,
                scope=given["scope"],
                start=said[:SHOWN],
                digest=digest_of(said),
                ends_at=timezone.now() + timedelta(days=given["days"]),
                by=who,
            )
            trail.record(who, "made", token, after=_shown(token))
        token.token = said  # type: ignore[attr-defined]  # told with its columns, this once
        return Response(TokenMadeSerializer(token).data, status=201)


class TokenEndView(APIView):
    """A token that is not wanted any more, or that somebody else has seen."""

    action_name = ACCOUNTS

    @extend_schema(request=None, responses={200: TokenSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """It ends now, for good; what it entered stays."""
        with transaction.atomic():
            token = get_object_or_404(Token.objects.select_for_update(), pk=pk)
            if token.ended_at is None:
                token.ended_at = timezone.now()
                token.save(update_fields=("ended_at",))
                trail.record(person(request), "ended", token, before=_shown(token))
        return Response(TokenSerializer(token).data)
