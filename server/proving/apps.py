"""The place of proving among the applications."""

from __future__ import annotations

from django.apps import AppConfig


class ProvingConfig(AppConfig):
    """The next step of a loop that is fitted: prove it; one with an open case: find out."""

    name = "proving"

    def ready(self) -> None:
        from bench.services import keep_gang
        from proving.services import listing

        keep_gang.urgent_steps.append(listing.case_of)
        # Before fitting, which would go on to the sheet.
        keep_gang.later_steps.insert(0, listing.next_of)
