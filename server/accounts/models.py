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
