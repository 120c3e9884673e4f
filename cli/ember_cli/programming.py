"""`ember programs`: when a lamp is on, for how long, and what goes against what, from a file, without a server."""

from __future__ import annotations

from typing import Any

from ember_cli.solving import each
from ember_core.programs.conflicts import Conflict, conflicts
from ember_core.programs.entries import read
from ember_core.programs.simulate import run as run_days


def answer(document: Any) -> dict[str, Any]:
    """Times of the light with their offset from UTC, hours, conflicts by code."""
    plan = read(document)
    found = run_days(plan)
    return {
        "on": [{"from": one.begin.isoformat(), "to": one.end.isoformat()} for one in found.lit],
        "hours": round(found.hours, 6),
        "conflicts": [_conflict(one) for one in conflicts(plan, found)],
        "clock_lost": [
            {"from": begin.isoformat(), "to": None if end is None else end.isoformat()}
            for begin, end in found.clock_lost
        ],
    }


def _conflict(one: Conflict) -> dict[str, Any]:
    return {
        "code": one.code.value,
        "programs": list(one.programs),
        "day": None if one.day is None else one.day.isoformat(),
        "times": one.times,
        **one.figures,
    }


def run(file: str) -> int:
    """Answer every plan of a file; status 1 when one failed."""
    return each(file, answer)
