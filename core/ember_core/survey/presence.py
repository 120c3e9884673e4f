"""Is there a neutral of this circuit, is there an earth: present, absent, foreign or unknown, each with its reason."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ember_core.survey import hypotheses as states
from ember_core.survey.box import METAL_BOX, Box
from ember_core.survey.inference import EXCLUDED_RATIO, LIKELY_RATIO, SURE_RATIO, Belief, Certainty, certainties


class Presence(StrEnum):
    """Whether a box holds a thing."""

    PRESENT = "present"
    ABSENT = "absent"
    FOREIGN = "foreign"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True, kw_only=True)
class Present:
    """A verdict with its reason as a code, and the conductors it rests on."""

    verdict: Presence
    reason: str
    conductors: tuple[str, ...] = ()


def neutral(belief: Belief) -> Present:
    """Neutral of this circuit in the box."""
    own, foreign = belief.marginal[:, states.NEUTRAL], belief.marginal[:, states.FOREIGN_NEUTRAL]
    if not belief.box.nodes or not belief.box.conductors:
        return Present(verdict=Presence.UNKNOWN, reason="no_conductors")
    certain = certainties(belief)
    for index, node in enumerate(belief.box.nodes):
        if own[index] >= SURE_RATIO and certain[index] is Certainty.SURE:
            return Present(verdict=Presence.PRESENT, reason="neutral_proved", conductors=node.conductors)
    for index, node in enumerate(belief.box.nodes):
        if foreign[index] >= SURE_RATIO and certain[index] is Certainty.SURE:
            return Present(verdict=Presence.FOREIGN, reason="neutral_of_another_circuit", conductors=node.conductors)
    # What a reading speaks against unexplained may be anything.
    doubtful = [
        k for k in range(len(belief.box.nodes)) if own[k] + foreign[k] > EXCLUDED_RATIO or certain[k] is Certainty.OPEN
    ]
    if doubtful:
        is_one = max(own[k] + foreign[k] for k in doubtful) >= LIKELY_RATIO
        reason = "neutral_perhaps_foreign" if is_one else "conductors_in_doubt"
        names = tuple(name for k in doubtful for name in belief.box.nodes[k].conductors)
        return Present(verdict=Presence.UNKNOWN, reason=reason, conductors=names)
    if not belief.box.all_listed:
        return Present(verdict=Presence.UNKNOWN, reason="not_all_listed")
    return Present(verdict=Presence.ABSENT, reason="every_conductor_is_another")


def earth(belief: Belief) -> Present:
    """Earth in the box, by conductor or by the metal of box and conduit."""
    box: Box = belief.box
    share = belief.marginal[:, states.EARTH]
    certain = certainties(belief)
    proved = [node for k, node in enumerate(box.nodes) if share[k] >= SURE_RATIO and certain[k] is Certainty.SURE]
    if proved:
        by_metal = proved[0].conductors == (METAL_BOX,)
        reason = "earth_by_metal_box" if by_metal else "earth_proved"
        return Present(verdict=Presence.PRESENT, reason=reason, conductors=proved[0].conductors)
    doubtful = [node for k, node in enumerate(box.nodes) if share[k] > EXCLUDED_RATIO or certain[k] is Certainty.OPEN]
    if doubtful or not box.conductors:
        names = tuple(name for node in doubtful for name in node.conductors)
        return Present(
            verdict=Presence.UNKNOWN, reason="earth_not_proved" if doubtful else "no_conductors", conductors=names
        )
    if not box.all_listed:
        return Present(verdict=Presence.UNKNOWN, reason="not_all_listed")
    return Present(verdict=Presence.ABSENT, reason="every_conductor_is_another")
