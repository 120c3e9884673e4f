"""Storing a judgement with what it was made from."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from ember_core import CORE_VERSION, sheet
from ember_core.judgement import Judgement as CoreJudgement
from judgements.models import Judgement
from judging.services.judging import result_data
from judging.services.lighting import lit_kept
from judging.services.loads import kept_of
from judging.services.summing import overall_kept
from loops.models import Gang

Json = dict[str, Any]


def whole_of(document: Json, judgement: CoreJudgement, trims: Json | None) -> Json:
    """What is kept of a complete sheet beside the off state.

    `lit` with the light on, `load` for the round, and `overall`, the one verdict.
    """
    given = sheet.read(document)
    lit, load = lit_kept(given, trims), kept_of(given)
    return {
        "lit": lit,
        "load": {**load, "lit": lit["verdict"]} if load and lit else {},
        "overall": overall_kept(given, judgement, trims),
    }


def store(who: User | None, gang: Gang, document: Json, judgement: CoreJudgement, whole: Json) -> Judgement:
    """Snapshot of inputs and results, off and on; call it inside the transaction that keeps the gang."""
    return Judgement.objects.create(
        gang=gang,
        made_by=who,
        core_version=CORE_VERSION,
        gang_version=gang.version,
        verdict=judgement.verdict.value,
        sheet=document,
        result={**result_data(judgement, drawn=False), **whole},
    )
