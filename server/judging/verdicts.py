"""The core's verdicts as they are stored and asked for, from best to worst."""

from __future__ import annotations

from django.db import models


class VerdictWord(models.TextChoices):
    """The core's verdicts, stored for the round."""

    UNKNOWN = "unknown", "unknown"
    DARK = "dark", "dark"
    CLOSE = "close", "close"
    MARGINAL = "marginal", "marginal"
    GLOW = "glow", "glow"
    BLINK = "blink", "blink"
    STARVED = "starved", "starved"


# From best to worst; a loop shows the worst of its gangs, and an unknown one above all that is well.
VERDICT_ORDER = (
    VerdictWord.DARK,
    VerdictWord.CLOSE,
    VerdictWord.MARGINAL,
    VerdictWord.UNKNOWN,
    VerdictWord.GLOW,
    VerdictWord.BLINK,
    VerdictWord.STARVED,
)


class WorksWord(models.TextChoices):
    """The core's one verdict, stored for the round."""

    UNKNOWN = "unknown", "not judged"
    WORKS = "works", "works"
    PROBABLY = "probably", "probably works"
    NOT_SURE = "not_sure", "not sure"
    DOES_NOT = "does_not", "does not work"


# From best to worst, like the states.
WORKS_ORDER = (
    WorksWord.WORKS,
    WorksWord.PROBABLY,
    WorksWord.UNKNOWN,
    WorksWord.NOT_SURE,
    WorksWord.DOES_NOT,
)
