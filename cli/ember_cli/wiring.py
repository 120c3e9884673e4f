"""`ember wire`: what a wiring does in every state of its switches, without a server."""

from __future__ import annotations

from typing import Any

from ember_cli.solving import each
from ember_core.wiring.document import read
from ember_core.wiring.proof import prove


def answer(document: Any) -> dict[str, Any]:
    """Whether it works, what is wrong with it, and what each state does."""
    found = prove(read(document))
    return {
        "works": found.works,
        "findings": [
            {
                "code": one.code,
                "severity": one.severity.value,
                "params": dict(one.params),
                "state": None if one.state is None else dict(one.state),
            }
            for one in found.findings
        ],
        "states": [
            {
                "positions": dict(row.positions),
                "lamps": {name: lamp.value for name, lamp in row.lamps.items()},
                "supplied": {name: supply.value for name, supply in row.supplied.items()},
            }
            for row in found.rows
        ],
    }


def run(file: str) -> int:
    """Prove every drawing of a file; status 1 when one failed."""
    return each(file, answer)
