"""Storing a judgement with what it was made from."""

from __future__ import annotations

from typing import Any

from accounts.models import User
from ember_core import CORE_VERSION
from ember_core.judgement import Judgement as CoreJudgement
from judgements.models import Judgement
from judgements.services.judging import result_data
from loops.models import Gang


def store(who: User | None, gang: Gang, document: dict[str, Any], judgement: CoreJudgement) -> Judgement:
    """Snapshot of inputs and result; call it inside the transaction that keeps the gang."""
    return Judgement.objects.create(
        gang=gang,
        made_by=who,
        core_version=CORE_VERSION,
        gang_version=gang.version,
        verdict=judgement.verdict.value,
        sheet=document,
        result=result_data(judgement, drawn=False),
    )
