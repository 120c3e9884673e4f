"""Signing in and out."""

from __future__ import annotations

from axes.handlers.proxy import AxesProxyHandler
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import AnonymousUser
from django.middleware.csrf import get_token
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import BaseThrottle, ScopedRateThrottle
from rest_framework.views import APIView

from accounts.models import Role, User
from accounts.policy import ACCOUNTS, EDIT, RELEASE, SHELF, SITES, TRAIL, may, person
from common.problems import Problem
from common.shapes import problems

# Only in the demo copy, and shown on its sign-in page.
DEMO_PASSWORD = "kestrel-demo"
# Where a request that signs in says what kind of device it comes from.
SHARED = "ember.shared"
DEMO_ACCOUNTS = (
    ("wren", "Wren Talley", Role.TECHNICIAN),
    ("tam", "Tam Osier", Role.TECHNICIAN),
    ("odell", "Odell Marsh", Role.CHECKER),
    ("fenna", "Fenna Brook", Role.ADMINISTRATOR),
)


class UserSerializer(serializers.ModelSerializer):
    """Who is signed in."""

    may_edit = serializers.SerializerMethodField()
    may_release = serializers.SerializerMethodField()
    may_keep_sites = serializers.SerializerMethodField()
    may_keep_shelf = serializers.SerializerMethodField()
    may_keep_accounts = serializers.SerializerMethodField()
    may_read_trail = serializers.SerializerMethodField()

    class Meta:
        model = User
        fields = (
            "id",
            "username",
            "display_name",
            "role",
            "language",
            "must_change",
            "may_edit",
            "may_release",
            "may_keep_sites",
            "may_keep_shelf",
            "may_keep_accounts",
            "may_read_trail",
        )

    def get_may_edit(self, user: User) -> bool:
        """Whether they may change loops."""
        return may(user, EDIT)

    def get_may_release(self, user: User) -> bool:
        """Whether they may take another person's lock off."""
        return may(user, RELEASE)

    def get_may_keep_sites(self, user: User) -> bool:
        """Whether they may make and change sites."""
        return may(user, SITES)

    def get_may_keep_shelf(self, user: User) -> bool:
        """Whether they may change parts of the shelf."""
        return may(user, SHELF)

    def get_may_keep_accounts(self, user: User) -> bool:
        """Whether they keep everybody's accounts."""
        return may(user, ACCOUNTS)

    def get_may_read_trail(self, user: User) -> bool:
        """Whether they may read who changed what, everywhere."""
        return may(user, TRAIL)


class DemoAccountSerializer(serializers.Serializer):
    """A ready account of the demo."""

    username = serializers.CharField()
    password = serializers.CharField()
    role = serializers.CharField()


class SessionSerializer(serializers.Serializer):
    """The session: the user or null, the token for writes, and in the demo copy its ready accounts."""

    user = UserSerializer(allow_null=True)
    demo_accounts = DemoAccountSerializer(many=True)
    csrf_token = serializers.CharField()


class SignInSerializer(serializers.Serializer):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)
    is_shared = serializers.BooleanField(default=False)


class LanguageSerializer(serializers.Serializer):
    """The language a person wants to read."""

    language = serializers.ChoiceField(choices=settings.LANGUAGES)


def with_language(response: Response, language: str) -> Response:
    """The answer with the cookie that page and server read the language from; none where nothing was chosen."""
    if language:
        response.set_cookie(
            settings.LANGUAGE_COOKIE_NAME,
            language,
            max_age=settings.LANGUAGE_COOKIE_AGE,
            samesite="Lax",
        )
    return response


def session_of(request: Request) -> dict[str, object]:
    """What `SessionSerializer` shows."""
    user = request.user if request.user.is_authenticated else None
    demo = [{"username": name, "password": DEMO_PASSWORD, "role": role} for name, _, role in DEMO_ACCOUNTS]
    return {
        "user": UserSerializer(user).data if user else None,
        "demo_accounts": demo if settings.DEMO else [],
        "csrf_token": get_token(request._request),
    }


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """The one view besides health that answers without a session."""

    permission_classes = (AllowAny,)
    throttle_classes = (ScopedRateThrottle,)

    def get_throttles(self) -> list[BaseThrottle]:
        """Only signing in is throttled."""
        self.throttle_scope = "sign_in" if self.request.method == "POST" else None
        return super().get_throttles() if self.throttle_scope else []

    @extend_schema(responses={200: SessionSerializer}, auth=[])
    def get(self, request: Request) -> Response:
        """Who is signed in, and the token that every write must carry."""
        return Response(session_of(request))

    @extend_schema(request=SignInSerializer, responses={200: SessionSerializer, **problems(400, 403, 429)}, auth=[])
    def post(self, request: Request) -> Response:
        """Sign in."""
        given = SignInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        values = dict(given.validated_data)
        is_shared = values.pop("is_shared")
        user = authenticate(request=request._request, **values)
        if user is None:
            locked = AxesProxyHandler.is_locked(request._request, {"username": values["username"]})
            raise Problem(403, "locked_out" if locked else "wrong_name_or_password")
        # Kept with the session when it is on record: one of somebody else's is emptied by signing in.
        request._request.META[SHARED] = is_shared
        login(request._request, user)
        request.user = user
        return with_language(Response(session_of(request)), user.language)

    @extend_schema(request=LanguageSerializer, responses={200: SessionSerializer, **problems(400, 401, 403)})
    def patch(self, request: Request) -> Response:
        """Choose the language to read, here and wherever this person signs in."""
        given = LanguageSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        user = person(request)
        user.language = given.validated_data["language"]
        user.save(update_fields=["language"])
        return with_language(Response(session_of(request)), user.language)

    @extend_schema(request=None, responses={200: SessionSerializer, **problems(403)})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        chosen = getattr(request.user, "language", "")
        logout(request._request)
        request.user = AnonymousUser()
        response = Response(session_of(request))
        if chosen:
            # Whoever signs in next on this device reads their own language.
            response.delete_cookie(settings.LANGUAGE_COOKIE_NAME, samesite="Lax")
        return response
