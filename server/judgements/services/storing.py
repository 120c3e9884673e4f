"""Storing a judgement with what it was made from."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from ember_core import CORE_VERSION, sheet
from ember_core.judgement import Judgement as CoreJudgement
from judgements.models import Judgement
from judgements.services.judging import result_data
from judgements.services.lighting import lit_kept
from judgements.services.loads import kept_of
from loops.models import Gang

Json = dict[str, Any]


def lit_of(document: Json, trims: Json | None) -> Json:
    """What is kept of a complete sheet with the light on: `lit` as judged, and `load` for the round."""
    given = sheet.read(document)
    lit, load = lit_kept(given, trims), kept_of(given)
    return {"lit": lit, "load": {**load, "lit": lit["verdict"]} if load and lit else {}}


def store(who: User | None, gang: Gang, document: Json, judgement: CoreJudgement, lit: Json) -> Judgement:
    """Snapshot of inputs and results, off and on; call it inside the transaction that keeps the gang."""
    return Judgement.objects.create(
        gang=gang,
        made_by=who,
        core_version=CORE_VERSION,
        gang_version=gang.version,
        verdict=judgement.verdict.value,
        sheet=document,
        result={**result_data(judgement, drawn=False), **lit},
    )
