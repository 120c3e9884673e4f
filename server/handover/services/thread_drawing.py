"""The thread on paper: the loop as one line from breaker to neutral, with its currents."""

from __future__ import annotations

import math
from html import escape
from typing import Any

from loops.models import Gang
from wording.quantities import engineering
from wording.templatetags.wording import say, word, word_at

Json = dict[str, Any]
INK, EMBER, STEEL = "#241f1b", "#b3421a", "#3c5a78"
WIDTH, HEIGHT = 720, 190
LINE_Y, NEUTRAL_Y = 60, 150
# Thickness of the thread: 1 to 6 points over 10 µA to 30 mA, by the logarithm.
THIN_I_A, THICK_I_A = 1e-5, 3e-2
THIN_PT, THICK_PT = 1.0, 6.0


def thickness(i_a: float) -> float:
    """Thickness of the thread for a current [pt]."""
    share = math.log(max(i_a, THIN_I_A) / THIN_I_A) / math.log(THICK_I_A / THIN_I_A)
    return round(THIN_PT + min(1.0, share) * (THICK_PT - THIN_PT), 2)


def _text(
    x: float, y: float, words: str, *, size: int = 9, weight: str = "normal", fill: str = INK, anchor: str = "start"
) -> str:
    return (
        f'<text x="{x:.1f}" y="{y:.1f}" font-size="{size}" font-weight="{weight}" fill="{fill}"'
        f' text-anchor="{anchor}">{escape(words)}</text>'
    )


def _shortened(words: str, most: int) -> str:
    return words if len(words) <= most else f"{words[: most - 1]}…"


def _line(points: str, i_a: float, color: str = EMBER) -> str:
    return f'<polyline points="{points}" fill="none" stroke="{color}" stroke-width="{thickness(i_a)}"/>'


def thread_svg(gang: Gang, parts: Json, answer: Json) -> str:
    """SVG of the thread, for print.

    Parameters
    ----------
    parts : see `loops.documents.gang_document`. answer : see `judging.services.answers`.
    """
    figures = answer["figures"]
    line_a = figures["line_i_rms_a"]
    breaker = gang.loop.circuit.breaker if gang.loop.circuit else word_at("not_known")
    control = parts["control"]["label"] or word_at("sheet.control")
    state = figures["control"]["state"]
    drawn = [
        _line(f"46,{LINE_Y} 178,{LINE_Y}", line_a),
        _line(f"322,{LINE_Y} 668,{LINE_Y}", line_a),
        _line(f"46,{NEUTRAL_Y} 668,{NEUTRAL_Y}", line_a, STEEL),
        f'<rect x="14" y="{LINE_Y - 14}" width="32" height="28" fill="white" stroke="{INK}" stroke-width="1.4"/>',
        f'<path d="M20 {LINE_Y + 6} L40 {LINE_Y - 6}" stroke="{INK}" stroke-width="1.4"/>',
        _text(14, LINE_Y - 20, say("breaker", breaker=breaker)),
        f'<rect x="178" y="{LINE_Y - 24}" width="144" height="48" fill="white" stroke="{INK}" stroke-width="1.4"/>',
        _text(186, LINE_Y - 4, _shortened(control, 33), size=7, weight="bold"),
        _text(186, LINE_Y + 12, word("states", state) if state else word_at("sheet.no_power")),
        _text(60, LINE_Y - 6, engineering(line_a, "A"), fill=EMBER),
        _text(332, LINE_Y - 6, engineering(line_a, "A"), fill=EMBER),
        f'<circle cx="30" cy="{NEUTRAL_Y}" r="6" fill="{STEEL}"/>',
        _text(14, NEUTRAL_Y + 20, word_at("drawing.neutral")),
        _text(674, (LINE_Y + NEUTRAL_Y) / 2, engineering(figures["lamp_v_rms"], "V")),
        _text(674, (LINE_Y + NEUTRAL_Y) / 2 + 12, word_at("drawing.rms")),
    ]
    branches = [
        (_at_place(item["label"] or word_at("sheet.bypass"), parts["place"]), word_at("sheet.bypass"), current, True)
        for item, current in zip(parts["bypasses"], figures["shares"]["bypass_a"], strict=True)
    ]
    branches += [
        (
            item["label"] or word("kinds", result["kind"]),
            f"{result['count']} × {word('states', result['state'])}",
            result["i_rms_a"],
            False,
        )
        for item, result in zip(parts["lamps"], figures["lamps"], strict=True)
    ]
    step = (668 - 400) / max(1, len(branches))
    for index, (label, words, current, is_bypass) in enumerate(branches):
        drawn += _branch(400 + step * (index + 0.5), step, label, words, current, is_bypass=is_bypass)
    head = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" width="100%" font-family="Next">'
    return f"{head}{''.join(drawn)}</svg>"


def _at_place(label: str, place: Json | None) -> str:
    """The part with where it is, if that has a name."""
    return f"{label}, {place['name']}" if place and place.get("name") else label


def _branch(x: float, step: float, label: str, words: str, current: float, *, is_bypass: bool) -> list[str]:
    middle = (LINE_Y + NEUTRAL_Y) / 2
    shape = (
        f'<rect x="{x - 22:.1f}" y="{middle - 12}" width="44" height="24" fill="white" stroke="{EMBER}"'
        ' stroke-width="1.4"/>'
        if is_bypass
        else f'<circle cx="{x:.1f}" cy="{middle}" r="19" fill="white" stroke="{INK}" stroke-width="1.4"/>'
    )
    most = max(6, int(step / 4.6))
    return [
        _line(f"{x:.1f},{LINE_Y} {x:.1f},{NEUTRAL_Y}", current),
        shape,
        _text(x, middle + 3, words, size=7, weight="bold", anchor="middle"),
        _text(x + 4, LINE_Y + 16, engineering(current, "A"), size=8, fill=EMBER),
        _text(x, NEUTRAL_Y + 20, _shortened(label, most), size=7, anchor="middle"),
    ]
