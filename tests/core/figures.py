"""Figures of twenty loops that belong to a version of the core: `python -m tests.core.figures` writes them anew."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from ember_core import CORE_VERSION
from ember_core.judgement import judge
from ember_core.onstate.case import read
from ember_core.onstate.simulate import simulate
from ember_core.spread.judged import judge_spread
from tests.core.drawn import drawn_sheets

FILE = Path(__file__).parent / "data" / "version_figures.json"
CASES = Path(__file__).parent / "data" / "on_state_reference.json"
LOOPS, SEED = 20, 606
LIT_CASES = 4


def figures() -> list[dict[str, Any]]:
    """What the core says of the loops, and of some cases with the light on."""
    found: list[dict[str, Any]] = []
    for number, given in enumerate(drawn_sheets(LOOPS, SEED)):
        judged = judge(given, with_meter=False)
        off = judged.off_state
        found.append(
            {
                "of": f"drawn loop {number}",
                "verdict": judged.verdict.value,
                "lamp_v_rms": off.lamp_v_rms,
                "line_i_rms_a": off.line_i_rms_a,
                "power_ratio": off.control.power_ratio,
                "well": judge_spread(given).all_well,
            }
        )
    for entry in json.loads(CASES.read_text(encoding="utf-8"))["cases"][:LIT_CASES]:
        lit = simulate(read({"question": entry["question"], "case": entry["case"]}))
        found.append({"of": entry["case"]["name"], "i_peak_a": lit.i_peak_a, "i_rms_a": lit.i_rms_a})
    return found


if __name__ == "__main__":
    FILE.write_text(json.dumps({"core_version": CORE_VERSION, "figures": figures()}, indent=1) + "\n", encoding="utf-8")
