"""What was handed over. Issues and signatures are only added: what was signed is never changed."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from loops.models import Loop


class Issue(models.Model):
    """The papers of a loop as they were at a moment: the exact text, the printed pages, and a chain over both."""

    way_to_site = "loop__site"
    hidden_with = ("loop__", "loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    number = models.PositiveIntegerField(help_text="place in the order of its loop, from 1")
    loop = models.ForeignKey(Loop, related_name="issues", on_delete=models.PROTECT)
    content = models.TextField(help_text="JSON, exactly as it was digested")
    pdf = models.BinaryField()
    content_sha256 = models.CharField(max_length=64)
    pdf_sha256 = models.CharField(max_length=64)
    chain = models.CharField(max_length=64, help_text="digest over both, the number, and the chain before it")
    basis = models.CharField(max_length=40, help_text="of the parts and the fitting that it is of")
    wants = models.JSONField(help_text="who is to sign it, by the rules of its day")
    note = models.CharField(max_length=300, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("loop", "number"), name="one_issue_a_number"),)

    def __str__(self) -> str:
        return f"issue {self.number} of {self.loop}"


class Signer(models.TextChoices):
    """Who signs."""

    TECHNICIAN = "technician", "technician"
    CHECKER = "checker", "checker"
    CLIENT = "client", "client"


class Way(models.TextChoices):
    """How somebody signed, or why a client did not."""

    DRAWN = "drawn", "drawn"
    PASSWORD = "password", "with the password"
    ABSENT = "absent", "not there"


class Signature(models.Model):
    """One signature under an issue."""

    way_to_site = "issue__loop__site"
    hidden_with = ("issue__loop__", "issue__loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    issue = models.ForeignKey(Issue, related_name="signatures", on_delete=models.PROTECT)
    role = models.CharField(max_length=12, choices=Signer.choices)
    way = models.CharField(max_length=10, choices=Way.choices)
    # Who it was, apart from what is sealed: a client's name can be erased, and the seal still holds.
    name = models.CharField(max_length=120, blank=True)
    strokes = models.JSONField(default=list, help_text="lines of points in a field of 1000 by 400")
    salt = models.CharField(max_length=32, blank=True)
    personal = models.CharField(max_length=64, help_text="digest over salt, name and strokes")
    reason = models.CharField(max_length=300, blank=True)
    signed = models.CharField(max_length=64, help_text="chain of the issue, as the signer was shown it")
    seal = models.CharField(max_length=64, help_text="digest over everything of the signature")
    moment = models.CharField(max_length=40, help_text="when it was made, as it is sealed: ISO 8601, UTC")
    at = models.DateTimeField(auto_now_add=True)
    # Who was signed in: for a client, whoever handed over the tablet.
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("at", "id")
        constraints = (models.UniqueConstraint(fields=("issue", "role"), name="one_signature_a_role"),)

    def __str__(self) -> str:
        return f"{self.name} under {self.issue}"

    @property
    def is_erased(self) -> bool:
        """Who it was is not kept any more."""
        return not self.salt and not self.name and not self.strokes


class AskBack(models.Model):
    """A checker does not sign, and says what is wanted first."""

    way_to_site = "issue__loop__site"
    hidden_with = ("issue__loop__", "issue__loop__site__")

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    issue = models.OneToOneField(Issue, related_name="ask_back", on_delete=models.PROTECT)
    note = models.CharField(max_length=500)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return f"asked back: {self.issue}"


class Rules(models.Model):
    """What the firm wants of a hand-over; one row."""

    needs_checker = models.BooleanField(default=True)
    needs_client = models.BooleanField(default=True, help_text="or the reason why nobody was there to sign")
    own_work = models.BooleanField(default=False, help_text="a checker may sign what they worked on")
    contact = models.CharField(max_length=200, blank=True, help_text="whom a client calls")
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return "rules of handing over"
