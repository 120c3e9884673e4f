"""What somebody saw outside the box: at the luminaire of a gang, and at a junction box on the way to it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class At(StrEnum):
    """Whether a conductor is there."""

    YES = "yes"
    NO = "no"
    UNKNOWN = "unknown"


class OwnNeutral(StrEnum):
    """Whose neutral the lamp hangs on."""

    OWN = "own"
    OTHER = "other"
    UNKNOWN = "unknown"


class LampsThere(StrEnum):
    """Whether lamps have electronics of their own that want to be fed always."""

    ORDINARY = "ordinary"
    SMART = "smart"
    UNKNOWN = "unknown"


class Junction(StrEnum):
    """Which junction box the cable from the box ends in: gangs of one number share it."""

    UNKNOWN = "unknown"
    NONE = "none"
    FIRST = "1"
    SECOND = "2"
    THIRD = "3"

    @property
    def number(self) -> int:
        """Of the junction box; 0 where there is none, as far as anybody knows."""
        return int(self.value) if self.value.isdigit() else 0


class HangsOn(StrEnum):
    """Which of two circuits in one box a gang hangs on."""

    OWN = "own"
    OTHER = "other"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True, kw_only=True)
class CeilingPoint:
    """What was seen outside the box, of one gang.

    Parameters
    ----------
    line : a permanent live is where the cable from the box ends: at the luminaire, or in the junction box.
    neutral : whose neutral the lamp hangs on. spare : a core of that cable that is free at both ends.
    lamps : whether they are smart. junction : the junction box in which that cable ends.
    hangs_on : which circuit the gang hangs on, where two come into the box.
    """

    line: At = At.UNKNOWN
    neutral: OwnNeutral = OwnNeutral.UNKNOWN
    spare: At = At.UNKNOWN
    lamps: LampsThere = LampsThere.UNKNOWN
    junction: Junction = Junction.UNKNOWN
    hangs_on: HangsOn = HangsOn.UNKNOWN


NOT_SEEN = CeilingPoint()
