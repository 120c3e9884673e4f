"""What is told of a wiring: what its lamps and controls do in each state, and findings by name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from ember_core.findings import Severity
from ember_core.wiring.nets import Positions

_WARN = frozenset(
    {"switch_changes_nothing", "loose_end", "terminal_overfilled", "neutral_colour_live", "control_unfed_when_off"}
)
_INFO = frozenset({"live_when_off"})


class LampIs(StrEnum):
    """What a lamp does in a state."""

    ON = "on"
    OFF = "off"
    HALF = "half"
    SERIES = "series"
    OTHER = "other"


class Supply(StrEnum):
    """Through what a control feeds itself while it waits."""

    LOOP = "loop"
    BYPASS = "bypass"
    NEUTRAL = "neutral"
    NONE = "none"


@dataclass(frozen=True, slots=True, kw_only=True)
class WiringFinding:
    """One thing that is wrong, or to be known.

    Parameters
    ----------
    params : devices, terminals, cores and circuits that it is about.
    state : positions in which it is so; None where it is so in any.
    """

    code: str
    severity: Severity
    params: Mapping[str, str]
    state: Mapping[str, str] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One state and what it does."""

    positions: Mapping[str, str]
    lamps: Mapping[str, LampIs]
    supplied: Mapping[str, Supply]


@dataclass(frozen=True, slots=True, kw_only=True)
class WiringProof:
    """What a drawing does."""

    works: bool
    findings: tuple[WiringFinding, ...]
    rows: tuple[Row, ...]


def _severity(code: str) -> Severity:
    if code in _INFO:
        return Severity.INFO
    return Severity.WARN if code in _WARN else Severity.STOP


class Found:
    """Findings, each told once, with the first state in which it is so."""

    def __init__(self) -> None:
        self.all: dict[tuple[str, tuple[tuple[str, str], ...]], WiringFinding] = {}

    def tell(self, code: str, state: Positions | None, **params: str) -> None:
        key = (code, tuple(sorted(params.items())))
        if key not in self.all:
            self.all[key] = WiringFinding(
                code=code, severity=_severity(code), params=params, state=None if state is None else dict(state)
            )

    def sorted(self) -> tuple[WiringFinding, ...]:
        order = [Severity.STOP, Severity.WARN, Severity.INFO]
        return tuple(sorted(self.all.values(), key=lambda one: order.index(one.severity)))
