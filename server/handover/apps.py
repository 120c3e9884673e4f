"""The place of handing over among the applications: above all that is done at a loop."""

from __future__ import annotations

from django.apps import AppConfig


class HandoverConfig(AppConfig):
    """Where a loop stands, and the next step of one that is proved."""

    name = "handover"

    def ready(self) -> None:
        from bench.services import keep_gang
        from handover.services import standing

        keep_gang.stage_of.append(standing.stage_word)
        # Before all others: what is proved wants no more of them.
        keep_gang.later_steps.insert(0, standing.next_of)
