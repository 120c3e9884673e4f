"""Compute where loops stand, and what is next, that were there before anybody asked."""

from __future__ import annotations

import logging
from typing import Any

from django.core.management.base import BaseCommand
from django.db import OperationalError

from bench.services.keep_gang import update_loop
from loops.models import Loop

logger = logging.getLogger(__name__)


class Command(BaseCommand):
    """Only those of which nobody knows it yet."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Each loop by itself, so that what was done stays done; one that cannot be worked out stops no start."""
        for loop in Loop.everything.filter(stage="").select_related("site", "circuit").iterator(chunk_size=200):
            try:
                update_loop(loop)
            except OperationalError:
                # The database is away, not this loop's doing.
                raise
            except Exception:
                logger.exception("where loop %s stands could not be worked out", loop.pk)
                self.stderr.write(f"{loop}: could not be worked out; judge it again on its bench")
