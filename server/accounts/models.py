"""People who sign in."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.contrib.auth.models import AbstractUser
from django.db import models


class Role(models.TextChoices):
    """What a person does here; `accounts.policy` says what each may."""

    TECHNICIAN = "technician", "Technician"
    CHECKER = "checker", "Checker"
    ADMINISTRATOR = "administrator", "Administrator"


class User(AbstractUser):
    """An account: name, role, and the name shown on sheets."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    role = models.CharField(max_length=20, choices=Role.choices, default=Role.TECHNICIAN)
    display_name = models.CharField(max_length=120, blank=True)
    keeps_sites = models.BooleanField(
        default=False, help_text="makes sites, changes their supply, says who works there"
    )
    keeps_shelf = models.BooleanField(default=False, help_text="changes parts of the shelf")
    must_change = models.BooleanField(default=False, help_text="the password was given by somebody else")
    version = models.PositiveIntegerField(default=1)
    language = models.CharField(
        max_length=10, choices=settings.LANGUAGES, blank=True, help_text="blank: what the browser asks for"
    )

    def __str__(self) -> str:
        return self.display_name or self.username


class SignIn(models.Model):
    """One time that somebody signed in: on what, and when it ended. Rows are kept; the session itself goes."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    person = models.ForeignKey(User, related_name="sign_ins", on_delete=models.PROTECT)
    session_key = models.CharField(max_length=40, db_index=True)
    device = models.CharField(max_length=200, blank=True, help_text="as its browser describes it")
    is_shared = models.BooleanField(default=False, help_text="a device of several people: ends when idle")
    at = models.DateTimeField(auto_now_add=True)
    last_seen_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-at", "id")

    def __str__(self) -> str:
        return f"{self.person} {self.at:%Y-%m-%d %H:%M}"


class TokenScope(models.TextChoices):
    """What a program may do with its token."""

    READ = "read", "read and judge"
    WRITE = "write", "read, judge, and enter loops and parts"


class Token(models.Model):
    """What a program of the firm shows instead of a password. Only its digest is kept; it ends by itself."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    # Its own account: what it enters is signed by it, and it sees the sites where that account works.
    account = models.OneToOneField(User, related_name="token", on_delete=models.PROTECT)
    scope = models.CharField(max_length=10, choices=TokenScope.choices)
    start = models.CharField(max_length=16, help_text="of the token, to tell it from others")
    digest = models.CharField(max_length=64, unique=True, help_text="SHA-256 of the token")
    ends_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    last_used_at = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(User, related_name="+", on_delete=models.PROTECT)

    class Meta:
        ordering = ("-at", "id")

    def __str__(self) -> str:
        return f"{self.start}… of {self.account}"
