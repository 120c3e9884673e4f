"""Compute where loops stand, and what is next, that were there before anybody asked."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from bench.services.keep_gang import update_loop
from loops.models import Loop


class Command(BaseCommand):
    """Only those of which nobody knows it yet."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Each loop by itself, so that what was done stays done."""
        for loop in Loop.everything.filter(stage="").select_related("site", "circuit").iterator(chunk_size=200):
            update_loop(loop)
