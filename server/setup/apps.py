"""The place of setting up among the applications."""

from __future__ import annotations

from django.apps import AppConfig


class SetupConfig(AppConfig):
    """Stands above loops and sites."""

    name = "setup"
