"""`ember radio`: margins, reach, weak points and channel of a site, from a file, without a server."""

from __future__ import annotations

from typing import Any

from ember_cli.solving import each
from ember_core.radio.budget import Spread
from ember_core.radio.site import read, solve


def answer(document: Any) -> dict[str, Any]:
    """Links with their decibels, hops, routers that must not fail, room at the hub, channel."""
    found = solve(read(document))
    return {
        "links": [
            {"a": link.a, "b": link.b, **_margin(link.margin_db), "verdict": link.verdict.value}
            for link in found.mesh.links
        ],
        "reached": dict(found.mesh.reached),
        "reached_with_fade_margin": dict(found.mesh.trusted),
        "cut_points": list(found.mesh.cut_points),
        "children": dict(found.mesh.children),
        "full": found.is_full,
        "channel": None
        if found.channels is None
        else {
            "best": found.channels.best,
            "overlap": {str(channel): mhz for channel, mhz in found.channels.overlap_mhz.items()},
        },
    }


def _margin(margin: Spread) -> dict[str, float]:
    return {
        "margin_db": round(margin.typical, 3),
        "margin_low_db": round(margin.low, 3),
        "margin_high_db": round(margin.high, 3),
    }


def run(file: str) -> int:
    """Answer every site of a file; status 1 when one failed."""
    return each(file, answer)
