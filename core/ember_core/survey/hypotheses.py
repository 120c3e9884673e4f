"""Every assignment of states to the joined conductors of a box that the box allows, with its prior.

A state is what a node is electrically: line, neutral, switched live of a gang, one of two travellers … A two-way
gang adds hidden facts that no eye sees: which end this is, and whether its other switch counts the same way round.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import product

import numpy as np
from numpy.typing import NDArray

from ember_core.survey.box import METAL_BOX, Box, Node, Terminal, Ways

LINE, NEUTRAL, FOREIGN_NEUTRAL, EARTH, UNUSED, FOREIGN_LIVE = range(6)
_FIRST_OF_GANG = 6
# Switched live, traveller A, traveller B; behind an intermediate switch C and D; lamp side of a switch in the neutral.
_PER_GANG = 6
_SWITCHED_NEUTRAL = 5
# How often a one-way switch stands in the neutral [assumption]: rare, and forbidden where it is met.
_NEUTRAL_SWITCHED_RATIO = 0.03
MOST_HYPOTHESES = 20_000
# Of all variants together about the same number; each keeps at least so many.
LEAST_HYPOTHESES = 2_000
# A beginning of an assignment that is this much less likely than another is not gone on with [nat]: no reading that
# is left out, and no conductor still to come, makes up for it.
_HOPELESS = 30.0
_MISSING_RATIO = 0.03  # a role that must be in the box and is at none of the conductors, all of them listed
_MISSING_UNLISTED_RATIO = 0.4
_NO_LINE_RATIO = 0.02
_SWAPPED_RATIO = 0.01  # a traveller where the common is expected, and the other way round

# Prior of a node by where it ends: how often each is met there. Assumptions, weak against one clear reading.
_JOINT = {NEUTRAL: 0.62, FOREIGN_NEUTRAL: 0.08, EARTH: 0.14, LINE: 0.08, UNUSED: 0.05, FOREIGN_LIVE: 0.01}
_EARTH_TERMINAL = {EARTH: 0.93, UNUSED: 0.06, NEUTRAL: 0.01}
_LOOSE = {UNUSED: 0.4, NEUTRAL: 0.27, FOREIGN_NEUTRAL: 0.04, EARTH: 0.14, LINE: 0.07, FOREIGN_LIVE: 0.02}
_UNKNOWN = {LINE: 0.25, NEUTRAL: 0.2, FOREIGN_NEUTRAL: 0.03, EARTH: 0.17, UNUSED: 0.1, FOREIGN_LIVE: 0.01}
_OF_GANG_PRIOR = {Terminal.LOOSE: 0.05, Terminal.UNKNOWN: 0.2}
_JOINT_SWITCHED = 0.01
_JOINED_THROUGH = 0.1
_FOREIGN_LIVE_AT_SWITCH = 0.003
_MANY_CIRCUITS_FACTOR = 6.0  # another circuit's conductors are that much likelier where several come in
_OWN_CABLE_FACTOR = 8.0  # so is another circuit's live where a gang has a cable that no other gang shares

TRAVELLERS = {Ways.ONE_WAY: 0, Ways.TWO_WAY: 2, Ways.INTERMEDIATE: 4}

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int16]


def switched(gang: int) -> int:
    """State: switched live of a gang (from 1)."""
    return _FIRST_OF_GANG + _PER_GANG * (gang - 1)


def traveller(gang: int, which: int) -> int:
    """State: traveller A (0) or B (1) of a gang; A is the one this switch selects in its first position.

    At an intermediate switch A and B come from the line end, A being the one fed in its first position; C (2) and
    D (3) go on, C being the one that A is joined to in this switch's first position.
    """
    return switched(gang) + 1 + which


def switched_neutral(gang: int) -> int:
    """State: lamp side of a one-way switch that stands in the neutral."""
    return switched(gang) + _SWITCHED_NEUTRAL


def gang_of(state: int) -> int | None:
    """The gang of a state, or None for a state of the whole box."""
    return None if state < _FIRST_OF_GANG else (state - _FIRST_OF_GANG) // _PER_GANG + 1


def is_switched(state: int) -> bool:
    """A switched live."""
    return state >= _FIRST_OF_GANG and (state - _FIRST_OF_GANG) % _PER_GANG == 0


def is_traveller(state: int) -> bool:
    """A traveller."""
    return state >= _FIRST_OF_GANG and 0 < (state - _FIRST_OF_GANG) % _PER_GANG < _SWITCHED_NEUTRAL


def is_switched_neutral(state: int) -> bool:
    """Lamp side of a switch in the neutral."""
    return state >= _FIRST_OF_GANG and (state - _FIRST_OF_GANG) % _PER_GANG == _SWITCHED_NEUTRAL


def state_count(box: Box) -> int:
    """Number of states of a box."""
    return _FIRST_OF_GANG + _PER_GANG * len(box.gangs)


@dataclass(frozen=True, slots=True, kw_only=True)
class Variant:
    """Hidden facts of each gang.

    Parameters
    ----------
    is_line_side : this box is its line side. is_crossed : its other switch counts the other way round.
    is_far_first : behind an intermediate switch, the load end takes traveller C.
    neutral_gang : the one-way gang (from 1) whose switch stands in the neutral, or None.
    """

    is_line_side: tuple[bool, ...]
    is_crossed: tuple[bool, ...]
    is_far_first: tuple[bool, ...]
    neutral_gang: int | None = None

    def has_neutral_switched(self, gang: int) -> bool:
        """The switch of that gang stands in the neutral."""
        return self.neutral_gang == gang


def variants(box: Box) -> list[Variant]:
    """All combinations, the switches in their lives; then one with each one-way switch in the neutral."""

    def both(*wanted: Ways) -> list[tuple[bool, ...]]:
        return [(True, False) if ways in wanted else (True,) for ways in box.gangs]

    plain = [
        Variant(is_line_side=side, is_crossed=crossed, is_far_first=far)
        for side in product(*both(Ways.TWO_WAY))
        for crossed in product(*both(Ways.TWO_WAY))
        for far in product(*both(Ways.INTERMEDIATE))
    ]
    one_way = [gang for gang, ways in enumerate(box.gangs, 1) if ways is Ways.ONE_WAY]
    return plain + [replace(variant, neutral_gang=gang) for gang in one_way for variant in plain]


def _exclusive(box: Box, variant: Variant) -> tuple[set[int], set[int]]:
    """States that at most one node has, and those of them that must be in the box."""
    once: set[int] = set()
    needed: set[int] = set()
    for gang, ways in enumerate(box.gangs, 1):
        if ways is Ways.ONE_WAY:
            lamp_side = switched_neutral(gang) if variant.has_neutral_switched(gang) else switched(gang)
            once.add(lamp_side)
            needed.add(lamp_side)
        elif ways is Ways.TWO_WAY:
            pair = {traveller(gang, 0), traveller(gang, 1)}
            once |= pair
            needed |= pair
            # At the line side a switched live is only joined through on its way from the other box, or absent.
            once.add(switched(gang))
            if not variant.is_line_side[gang - 1]:
                needed.add(switched(gang))
        else:
            four = {traveller(gang, which) for which in range(4)}
            once |= four
            needed |= four
    return once, needed


def node_priors(box: Box, node: Node, variant: Variant) -> dict[int, float]:
    """States that a node may have, with their weights."""
    if node.key == METAL_BOX:
        return {EARTH: 0.7, UNUSED: 0.3}
    if node.gang is not None:
        return _at_switch(box, node, variant)
    match node.terminal:
        case Terminal.EARTH:
            return dict(_EARTH_TERMINAL)
        case Terminal.LOOSE:
            weights = dict(_LOOSE)
        case Terminal.UNKNOWN:
            weights = dict(_UNKNOWN)
        case _:
            weights = dict(_JOINT)
    share = _OF_GANG_PRIOR.get(node.terminal, _JOINT_SWITCHED)
    for gang, ways in enumerate(box.gangs, 1):
        joined_through = ways is Ways.TWO_WAY and variant.is_line_side[gang - 1]
        lamp_side = switched_neutral(gang) if variant.has_neutral_switched(gang) else switched(gang)
        weights[lamp_side] = _JOINED_THROUGH if joined_through else share
        for which in range(TRAVELLERS[ways]):
            weights[traveller(gang, which)] = share / 2
    if box.circuits > 1:
        weights[FOREIGN_LIVE] = weights.get(FOREIGN_LIVE, 0.0) * _MANY_CIRCUITS_FACTOR
        weights[FOREIGN_NEUTRAL] = weights.get(FOREIGN_NEUTRAL, 0.0) * _MANY_CIRCUITS_FACTOR
    return weights


def _at_switch(box: Box, node: Node, variant: Variant) -> dict[int, float]:
    gang = node.gang or 1
    ways = box.gangs[gang - 1]
    if ways is Ways.INTERMEDIATE:
        return {traveller(gang, which): 0.25 for which in range(4)}
    many = _MANY_CIRCUITS_FACTOR if box.circuits > 1 else 1.0
    # Naming another breaker makes its live no less likely.
    foreign = _FOREIGN_LIVE_AT_SWITCH * max(many, _OWN_CABLE_FACTOR if _has_own_cable(box, node) else 1.0)
    if ways is Ways.ONE_WAY and variant.has_neutral_switched(gang):
        return {NEUTRAL: 0.5, switched_neutral(gang): 0.5}
    if ways is Ways.ONE_WAY:
        return {LINE: 0.5, switched(gang): 0.5, FOREIGN_LIVE: foreign}
    common = LINE if variant.is_line_side[gang - 1] else switched(gang)
    pair = {traveller(gang, 0): 0.5, traveller(gang, 1): 0.5}
    if node.terminal is Terminal.COMMON:
        return {common: 1.0, **dict.fromkeys(pair, _SWAPPED_RATIO)}
    return {common: _SWAPPED_RATIO, **pair}


def _has_own_cable(box: Box, node: Node) -> bool:
    """Whether no cable is known to come to this switch and to another of the box."""
    cables = box.cables
    of_switch: dict[int, set[str]] = {}
    for conductor in box.conductors:
        if conductor.gang is not None:
            of_switch.setdefault(conductor.gang, set()).update({conductor.cable} & cables)
    own = of_switch.pop(node.gang or 1, set())
    return bool(of_switch) and not any(own & other for other in of_switch.values())


@dataclass(frozen=True, slots=True, kw_only=True)
class Hypotheses:
    """Assignments of one variant: `states[h, n]` of node n, and the logarithm of their weight."""

    variant: Variant
    states: IntArray
    log_weight: FloatArray


def enumerate_states(box: Box, variant: Variant, log_of_node: FloatArray, most: int = MOST_HYPOTHESES) -> Hypotheses:
    """All assignments, or the likeliest `most` of them.

    Parameters
    ----------
    log_of_node : what is known of each node apart from the others, by node and state (readings to earth, colours);
        it steers which partial assignments are kept when there are too many.
    """
    once, needed = _exclusive(box, variant)
    bit = {state: 1 << k for k, state in enumerate(sorted(once))}
    states = np.zeros((1, 0), dtype=np.int16)
    weight = np.zeros(1)
    used = np.zeros(1, dtype=np.int64)
    has_line = np.zeros(1, dtype=bool)
    for index, node in enumerate(box.nodes):
        pieces = []
        for state, prior in node_priors(box, node, variant).items():
            taken = used & bit.get(state, 0)
            keep = np.nonzero(taken == 0)[0]
            if prior <= 0.0 or keep.size == 0:
                continue
            column = np.full((keep.size, 1), state, dtype=np.int16)
            pieces.append(
                (
                    np.hstack([states[keep], column]),
                    weight[keep] + np.log(prior) + log_of_node[index, state],
                    used[keep] | bit.get(state, 0),
                    has_line[keep] | (state == LINE),
                )
            )
        if not pieces:
            break
        states, weight, used, has_line = (np.concatenate([piece[k] for piece in pieces]) for k in range(4))
        likely = weight > weight.max() - _HOPELESS
        states, weight, used, has_line = states[likely], weight[likely], used[likely], has_line[likely]
        if weight.size > most:
            best = np.argpartition(weight, weight.size - most)[-most:]
            states, weight, used, has_line = states[best], weight[best], used[best], has_line[best]
    missing = _MISSING_RATIO if box.all_listed else _MISSING_UNLISTED_RATIO
    for state in needed:
        weight = weight + np.where(used & bit[state], 0.0, np.log(missing))
    if any(
        (ways is Ways.ONE_WAY and not variant.has_neutral_switched(k + 1))
        or (ways is Ways.TWO_WAY and variant.is_line_side[k])
        for k, ways in enumerate(box.gangs)
    ):
        weight = weight + np.where(has_line, 0.0, np.log(_NO_LINE_RATIO))
    if variant.neutral_gang is not None:
        weight = weight + np.log(_NEUTRAL_SWITCHED_RATIO)
    return Hypotheses(variant=variant, states=states, log_weight=weight)
