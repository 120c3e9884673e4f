"""`manage.py list_accounts`."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from accounts.models import User


class Command(BaseCommand):
    """Lists accounts and roles."""

    help = "List the accounts."

    def handle(self, *args: Any, **options: Any) -> None:
        """One line an account."""
        rows = [f"{user.username}\t{user.role}" for user in User.objects.order_by("username")]
        self.stdout.write("\n".join(rows) or "no account")
