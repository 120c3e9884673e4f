"""`ember dim`: a case of the on state, or a list of them, marched and judged."""

from __future__ import annotations

from typing import Any

from ember_cli.solving import each, print_each
from ember_core import CORE_VERSION
from ember_core.compatibility.case_verdict import judge_case
from ember_core.onstate import netlist as on_netlist
from ember_core.onstate.case import Question, read
from ember_core.onstate.simulate import OnState, simulate

DECAYED_TO_V = 30.0


def figures(question: Question, found: OnState) -> dict[str, Any]:
    """What is measured for a question; what the case does not have is left out."""
    by_question: dict[Question, dict[str, Any]] = {
        Question.LEADING: {
            "i_peak_a": found.i_peak_a,
            "i_rms_a": found.i_rms_a,
            "lamp_v_rms": found.lamp_v_rms,
            "drop_out_deg": found.drop_out_deg,
            "conduction_deg": found.conduction_deg,
        },
        Question.TRAILING: {
            "decayed_before_zero_crossing": None
            if found.v_at_zero_crossing_v is None
            else float(found.v_at_zero_crossing_v < DECAYED_TO_V),
            "t_decay_to_30v_s": found.t_decay_to_30v_s,
            "v_at_zero_crossing_v": found.v_at_zero_crossing_v,
            "v_spike_peak_v": found.v_peak_v,
            "i_at_turn_off_a": found.i_at_turn_off_a,
        },
        Question.SUPPLY_GAP: {
            "gap_deg": found.fired_deg,
            "lamp_v_rms": found.lamp_v_rms,
            "i_supply_avg_a": found.i_supply_avg_a,
        },
        Question.SUPPLY_WINDOW: {"i_supply_avg_a": found.i_supply_avg_a, "lamp_v_rms": found.lamp_v_rms},
        Question.RELAY_INRUSH: {
            "i_peak_a": found.i_peak_a,
            "t_peak_s": found.t_peak_s,
            "i2t_a2s": found.i2t_a2s,
        },
    }
    return {name: value for name, value in by_question[question].items() if value is not None}


def answer(document: Any) -> dict[str, Any]:
    """One case as JSON data."""
    case = read(document)
    found = simulate(case)
    judged = judge_case(case, found)
    return {
        "name": case.name,
        "question": case.question.value,
        **figures(case.question, found),
        "verdict": judged.verdict.value,
        "findings": [{"code": f.code, "severity": f.severity.value, "params": dict(f.params)} for f in judged.findings],
        "core_version": CORE_VERSION,
    }


def as_netlist(document: Any) -> str:
    """One case as a netlist for a circuit simulator, its leading edge let go where the march lets go."""
    case = read(document)
    let_go = simulate(case).drop_out_deg if case.question is Question.LEADING else None
    return on_netlist.write(case, let_go_deg=min(180.0, let_go or 180.0))


def run(file: str) -> int:
    """Answer every case of a file; status 1 when one failed."""
    return each(file, answer)


def run_netlist(file: str) -> int:
    """Print the netlist of every case of a file."""
    return print_each(file, as_netlist)
