"""`ember choose`: the working window of a bypass, and parts ranked for a loop sheet."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

from ember_cli.solving import each
from ember_core import CORE_VERSION, sheet
from ember_core.bypass.choose import Candidate, Choice, choose
from ember_core.bypass.window import DISCHARGE_OHM, Window
from ember_core.errors import InputError, InputErrors

# Usual values, with their discharge resistor, held against the loop when no parts are given.
E_SERIES_F = (4.7e-8, 6.8e-8, 1e-7, 1.5e-7, 2.2e-7, 3.3e-7, 4.7e-7)
MOST_PARTS = 200


def window_data(window: Window, unit: str) -> dict[str, Any]:
    """A window with the unit in its names; from 0 where it needs no least value."""
    low = 0.0 if window.lower_reason == "none" and unit in ("f", "a") else window.low
    return {
        f"from_{unit}": low,
        f"to_{unit}": window.high,
        "lower_reason": window.lower_reason,
        "upper_reason": window.upper_reason,
        "lower_group": window.lower_group,
        f"wanted_{unit}": window.wanted,
        f"sure_{unit}": window.sure,
        "zones": [asdict(zone) for zone in window.zones],
        "limits": [
            {
                "reason": limit.reason.value,
                f"value_{unit}": limit.value if limit.value is None or math.isfinite(limit.value) else None,
                "params": limit.params,
            }
            for limit in window.limits
        ],
    }


def choice_data(choice: Choice) -> dict[str, Any]:
    """A ranked part; infinity, which JSON lacks, as null."""
    return {
        "name": choice.name or "none",
        "kind": choice.kind,
        "verdict": choice.verdict,
        "rank": choice.rank,
        "samples": choice.samples,
        "share": choice.share,
        "margin": choice.margin if math.isfinite(choice.margin) else None,
        **asdict(choice.on),
        "price": choice.price,
        "findings": [{"code": f.code, "severity": f.severity.value, "params": dict(f.params)} for f in choice.findings],
    }


def read_parts(given: Any, document: dict[str, Any]) -> list[Candidate]:
    """Parts as entries of a loop sheet's bypass list, each with an optional name.

    Raises
    ------
    InputErrors : no list, too many, or a part that is none; paths begin with `parts[k]`.
    """
    if not isinstance(given, list):
        raise InputErrors([InputError("not_a_list", path="parts")])
    if len(given) > MOST_PARTS:
        raise InputErrors([InputError("too_many", path="parts", most=MOST_PARTS)])
    found = []
    for k, part in enumerate(given):
        named = dict(part) if isinstance(part, dict) else part
        name = named.pop("name", f"part {k + 1}") if isinstance(named, dict) else ""
        try:
            read = sheet.read({**document, "bypass": [named]})
        except InputErrors as errors:
            renamed = [
                InputError(e.code, path=e.path.replace("bypass[0]", f"parts[{k}]"), **e.params) for e in errors.errors
            ]
            raise InputErrors(renamed) from errors
        figures = {
            path.removeprefix("bypass[0]."): figure
            for path, figure in read.figures.items()
            if path.startswith("bypass[0].")
        }
        found.append(Candidate(name=str(name)[:200], bypass=read.loop.bypass[0], figures=figures))
    return found


def answer(document: Any) -> dict[str, Any]:
    """Windows, whether none is needed, and the parts in order."""
    if not isinstance(document, dict):
        raise InputErrors([InputError("not_an_object", path="")])
    rest = {key: value for key, value in document.items() if key not in ("parts", "spread")}
    spread = document.get("spread", True)
    if not isinstance(spread, bool):
        raise InputErrors([InputError("not_a_flag", path="spread")])
    given = sheet.read(rest)
    usual = [
        {"kind": "capacitor", "c_f": c_f, "r_parallel_ohm": DISCHARGE_OHM, "name": f"{c_f * 1e9:g} nF"}
        for c_f in E_SERIES_F
    ]
    found = choose(given, read_parts(document.get("parts", usual), rest), spread=spread)
    return {
        "name": given.name,
        "window": {
            "capacitor": window_data(found.capacitor, "f"),
            "resistor": window_data(found.resistor, "ohm"),
            "active": window_data(found.active, "a"),
        },
        "none_needed": found.none_needed,
        "none_cures": found.none_cures,
        "parts": [choice_data(choice) for choice in found.choices],
        "core_version": CORE_VERSION,
    }


def run(file: str) -> int:
    """Choose for every sheet of a file; status 1 when one failed."""
    return each(file, answer)
