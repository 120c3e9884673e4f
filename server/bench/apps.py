"""The place of the bench among the applications, and what it has to say to the shelf."""

from __future__ import annotations

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """Where a part is used; what was judged with it is out of date once its figures change."""

    name = "bench"

    def ready(self) -> None:
        from bench.services import serving
        from parts import hooks

        hooks.changed.append(serving.mark_older)
        hooks.used.append(serving.uses_of)
