"""`manage.py make_account NAME --role ROLE`, the password from standard input."""

from __future__ import annotations

import sys
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from accounts.models import Role, User


class Command(BaseCommand):
    """Makes one account."""

    help = "Make an account; the password is read from standard input."

    def add_arguments(self, parser: CommandParser) -> None:
        """Name and role."""
        parser.add_argument("name")
        parser.add_argument("--role", choices=Role.values, default=Role.TECHNICIAN)

    def handle(self, *args: Any, **options: Any) -> None:
        """Refuse weak passwords and taken names."""
        name = options["name"]
        if User.objects.filter(username=name).exists():
            raise CommandError(f"there is an account {name} already")
        user = User(username=name, display_name=name, role=options["role"])
        password = sys.stdin.readline().rstrip("\n")
        try:
            validate_password(password, user)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        user.set_password(password)
        user.save()
        self.stdout.write(f"made the account {name} with the role {user.role}")
