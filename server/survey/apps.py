"""The survey's place among the applications, and what it must know of changes made elsewhere."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import pre_save


class SurveyConfig(AppConfig):
    """A loop that moves to another breaker is no longer proved dead: loops do not know of surveys, so it listens."""

    name = "survey"

    def ready(self) -> None:
        from loops.models import Loop

        pre_save.connect(_breaker_changed, sender=Loop, dispatch_uid="survey-breaker-changed")


def _breaker_changed(instance: Any, update_fields: Any = None, **_: Any) -> None:
    from survey.services.covering import end_proofs

    if instance._state.adding or (update_fields is not None and "circuit" not in update_fields):
        return
    before = type(instance).objects.filter(pk=instance.pk).values_list("circuit_id", flat=True).first()
    if before != instance.circuit_id:
        end_proofs(instance.pk, "lock_or_breaker_changed")
