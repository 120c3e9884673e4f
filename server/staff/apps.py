"""Signing in and out goes on record."""

from __future__ import annotations

from django.apps import AppConfig


class StaffConfig(AppConfig):
    """Connects the signals of signing in."""

    name = "staff"

    def ready(self) -> None:
        """Once, when the applications are there."""
        from django.contrib.auth import signals

        from staff import sign_ins

        signals.user_logged_in.connect(sign_ins.began, dispatch_uid="staff_began")
        signals.user_logged_out.connect(sign_ins.ended, dispatch_uid="staff_ended")
