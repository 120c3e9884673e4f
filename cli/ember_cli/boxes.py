"""`ember box`: a switch box judged from its readings, without a server."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ember_cli.solving import each
from ember_core import CORE_VERSION
from ember_core.survey.document import read_survey
from ember_core.survey.judge import judge_box


def answer(document: Any) -> dict[str, Any]:
    """Roles, verdicts, findings and next readings of one survey document."""
    box, readings, v_rms, region = read_survey(document)
    found = asdict(judge_box(box, readings, v_rms=v_rms, region=region))
    return {**found, "core_version": CORE_VERSION}


def run(file: str) -> int:
    """Judge every box of a file; status 1 when one failed."""
    return each(file, answer)
