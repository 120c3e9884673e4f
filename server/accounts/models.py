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
    language = models.CharField(
        max_length=10, choices=settings.LANGUAGES, blank=True, help_text="blank: what the browser asks for"
    )

    def __str__(self) -> str:
        return self.display_name or self.username
