"""The place of fitting among the applications, and what it has to say to those below it."""

from __future__ import annotations

from django.apps import AppConfig


class FittingConfig(AppConfig):
    """No power on a loop with loose ends; a control that was put in keeps a charge; the next step of a judged loop."""

    name = "fitting"

    def ready(self) -> None:
        from bench.services import keep_gang
        from fitting.services import standing
        from survey import hooks

        hooks.may_not_energise.append(standing.half_done_under)
        hooks.has_fitted_control.append(standing.has_control_in)
        keep_gang.later_steps.append(standing.next_of)
