"""Accounts over the API."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import generics, serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from accounts.models import Role, SignIn, User
from accounts.policy import ACCOUNTS, READ, may, person
from audit import trail
from common.problems import Problem, StaleVersion
from common.shapes import READ_PROBLEMS, WRITE_PROBLEMS
from staff.sign_ins import end, end_all

Json = dict[str, Any]


class AccountSerializer(serializers.ModelSerializer):
    """An account as an administrator sees it."""

    last_seen_at = serializers.SerializerMethodField()

    class Meta:
        model = User
        fields = (
            "id",
            "username",
            "display_name",
            "role",
            "keeps_sites",
            "keeps_shelf",
            "is_active",
            "must_change",
            "last_seen_at",
            "version",
        )

    def get_last_seen_at(self, user: User) -> str | None:
        """When it was last used; null where never."""
        newest = user.sign_ins.order_by("-last_seen_at").values_list("last_seen_at", flat=True).first()
        return None if newest is None else newest.isoformat()


class AccountMakeSerializer(serializers.Serializer):
    """A new account; its password is for the first time only."""

    username = serializers.RegexField(r"^[\w.@+-]+$", max_length=60)
    display_name = serializers.CharField(max_length=120)
    role = serializers.ChoiceField(choices=Role.choices)
    keeps_sites = serializers.BooleanField(default=False)
    keeps_shelf = serializers.BooleanField(default=False)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class AccountChangeSerializer(serializers.Serializer):
    """What an administrator changes."""

    version = serializers.IntegerField(min_value=1)
    display_name = serializers.CharField(max_length=120, required=False)
    role = serializers.ChoiceField(choices=Role.choices, required=False)
    keeps_sites = serializers.BooleanField(required=False)
    keeps_shelf = serializers.BooleanField(required=False)
    is_active = serializers.BooleanField(required=False)


class NewPasswordSerializer(serializers.Serializer):
    """A password that somebody else gives."""

    password = serializers.CharField(max_length=200, trim_whitespace=False)


class OwnPasswordSerializer(serializers.Serializer):
    """One's own new password, with the present one."""

    present = serializers.CharField(max_length=200, trim_whitespace=False)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class SignInRowSerializer(serializers.ModelSerializer):
    """One's own session on some device."""

    is_this = serializers.SerializerMethodField()

    class Meta:
        model = SignIn
        fields = ("id", "device", "is_shared", "at", "last_seen_at", "is_this")

    def get_is_this(self, row: SignIn) -> bool:
        """The one that asks."""
        return bool(row.session_key == self.context["key"])


def _shown(user: User) -> Json:
    """What the trail keeps of an account."""
    names = ("username", "display_name", "role", "keeps_sites", "keeps_shelf", "is_active")
    return {name: getattr(user, name) for name in names}


def _set_password(user: User, password: str) -> None:
    """Raises `weak_password` with what is wrong."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Problem(422, "weak_password", path="password", why=" ".join(error.messages)) from error
    user.set_password(password)


class AccountListView(generics.ListAPIView):
    """Every account."""

    action_name = ACCOUNTS
    queryset = User.objects.filter(token=None).order_by("-is_active", "display_name", "username")
    serializer_class = AccountSerializer
    pagination_class = None
    filter_backends = ()

    @extend_schema(request=AccountMakeSerializer, responses={201: AccountSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request) -> Response:
        """Make one; its password must be changed at the first signing in."""
        given = AccountMakeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        password = values.pop("password")
        user = User(**values, must_change=True)
        _set_password(user, password)
        try:
            with transaction.atomic():
                user.save(force_insert=True)
                trail.record(person(request), "made", user, after=_shown(user))
        except IntegrityError as error:
            raise Problem(409, "name_taken", path="username") from error
        return Response(AccountSerializer(user).data, status=201)


class AccountView(APIView):
    """One account."""

    action_name = ACCOUNTS

    @extend_schema(request=AccountChangeSerializer, responses={200: AccountSerializer, **WRITE_PROBLEMS})
    def patch(self, request: Request, pk: Any) -> Response:
        """Change it; who is deactivated is signed out everywhere, their entries stay."""
        given = AccountChangeSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        version = values.pop("version")
        who = person(request)
        with transaction.atomic():
            user = get_object_or_404(User.objects.select_for_update(), pk=pk, token=None)
            if user.version != version:
                current = AccountSerializer(user).data
                raise StaleVersion(yours=version, current_version=user.version, current=current)
            before = _shown(user)
            for name, value in values.items():
                setattr(user, name, value)
            if user.pk == who.pk and not (user.is_active and user.role == Role.ADMINISTRATOR):
                # Somebody must be left who can undo it.
                raise Problem(409, "not_oneself")
            user.version += 1
            user.save()
            trail.record(who, "changed", user, before=before, after=_shown(user))
            if not user.is_active:
                end_all(who, user)
        return Response(AccountSerializer(user).data)


class AccountPasswordView(APIView):
    """A password that was forgotten."""

    action_name = ACCOUNTS

    @extend_schema(request=NewPasswordSerializer, responses={200: AccountSerializer, **WRITE_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """Give another for the next signing in, and end every session of the account."""
        given = NewPasswordSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        who = person(request)
        with transaction.atomic():
            user = get_object_or_404(User.objects.select_for_update(), pk=pk, token=None)
            if user.pk == who.pk:
                raise Problem(409, "own_password")
            _set_password(user, given.validated_data["password"])
            user.must_change = True
            user.version += 1
            user.save()
            trail.record(who, "password_given", user)
            end_all(who, user)
        return Response(AccountSerializer(user).data)


class OwnPasswordView(APIView):
    """One's own password."""

    action_name = READ
    is_before_change = True

    @extend_schema(request=OwnPasswordSerializer, responses={204: None, **WRITE_PROBLEMS})
    def put(self, request: Request) -> Response:
        """Change it; sessions elsewhere end."""
        given = OwnPasswordSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        with transaction.atomic():
            user = User.objects.select_for_update().get(pk=person(request).pk)
            if not user.check_password(given.validated_data["present"]):
                raise Problem(403, "wrong_present_password", path="present")
            if given.validated_data["present"] == given.validated_data["password"]:
                raise Problem(422, "same_password", path="password")
            _set_password(user, given.validated_data["password"])
            user.must_change = False
            user.save()
            trail.record(user, "password_changed", user)
        # The session gets a new key with its new proof; every other one is over.
        before = request._request.session.session_key
        update_session_auth_hash(request._request, user)
        key = request._request.session.session_key
        SignIn.objects.filter(session_key=before, person=user).update(session_key=key)
        end_all(user, user, but=key)
        return Response(status=204)


class SignInsView(generics.ListAPIView):
    """One's own sessions that have not ended."""

    serializer_class = SignInRowSerializer
    queryset = SignIn.objects.none()
    pagination_class = None
    filter_backends = ()

    def get_queryset(self) -> QuerySet[SignIn]:
        """Newest first; what ran out by itself is none any more."""
        alive = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
        return SignIn.objects.filter(person=person(self.request), ended_at=None, session_key__in=alive)

    def get_serializer_context(self) -> Json:
        """With the key of the one that asks."""
        return {**super().get_serializer_context(), "key": self.request._request.session.session_key}


class SignInEndView(APIView):
    """Ending a session elsewhere."""

    action_name = READ

    @extend_schema(request=None, responses={204: None, **WRITE_PROBLEMS, **READ_PROBLEMS})
    def post(self, request: Request, pk: Any) -> Response:
        """One's own; an administrator anybody's."""
        who = person(request)
        rows = SignIn.objects.select_related("person")
        row = get_object_or_404(rows if may(who, ACCOUNTS) else rows.filter(person=who), pk=pk)
        if row.ended_at is None:
            end(who, row)
        return Response(status=204)
