"""Which single reading settles most: the one that leaves the least doubt, on average over what it may show."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ember_core.survey import hypotheses as states
from ember_core.survey.box import METAL_BOX, Box, Ways
from ember_core.survey.hypotheses import FloatArray
from ember_core.survey.inference import LIKELY_RATIO, SURE_RATIO, Belief, believed, role_of
from ember_core.survey.readings import LAMP_POINTS, Position, Reading, Reference

LOW_IMPEDANCE_METER_OHM = 4e5
# Doubt below this is none: a reading that saves less is not asked for.
LEAST_GAIN_BITS = 0.002
_MOST_CONTINUITY = 2
# Enough to rank the readings; the rest of the assignments carry hardly any weight.
_MOST_WEIGHED = 1500


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """A reading worth taking.

    Parameters
    ----------
    reading : what to read; its value is empty.
    gain_bits : how much doubt it takes away on average. doubt_bits : the doubt there is.
    is_dead_method : continuity with the supply isolated.
    """

    reading: Reading
    gain_bits: float
    doubt_bits: float
    is_dead_method: bool


def _switch_choices(box: Box) -> Iterator[dict[str, Position]]:
    """Positions worth trying: every switch one way, then each gang the other way; two-way gangs in all four."""
    base = {str(gang): Position.OFF for gang in range(1, len(box.gangs) + 1)}
    base |= {f"{gang}:other": Position.OFF for gang, ways in enumerate(box.gangs, 1) if ways is not Ways.ONE_WAY}
    yield base
    for gang, ways in enumerate(box.gangs, 1):
        yield {**base, str(gang): Position.ON}
        if ways is not Ways.ONE_WAY:
            yield {**base, f"{gang}:other": Position.ON}
            yield {**base, str(gang): Position.ON, f"{gang}:other": Position.ON}


def candidates(box: Box, done: Sequence[Reading], live: str | None) -> Iterator[Reading]:
    """Readings that could be taken, one conductor for each joined group.

    Volts are not proposed twice: a ghost reads the same again. Continuity may be taken a second time, since what
    makes it wrong is a lead without contact.

    Parameters
    ----------
    live : the conductor that is likeliest a permanent live: volts from it to another tell a neutral or an earth
        from a conductor that goes nowhere.
    """
    taken = Counter(_key(reading) for reading in done)
    for made in _volts(box, live):
        if taken[_key(made)] == 0:
            yield made
    for made in _continuity(box):
        if taken[_key(made)] < _MOST_CONTINUITY:
            yield made


def _volts(box: Box, live: str | None) -> Iterator[Reading]:
    for switches in _switch_choices(box):
        for node in box.nodes:
            for b in (Reference.EARTH.value, live):
                a = node.conductors[0]
                if b is not None and a != b:
                    yield Reading(id="next", a=a, b=b, v=0.0, meter_r_ohm=LOW_IMPEDANCE_METER_OHM, switches=switches)


def _continuity(box: Box) -> Iterator[Reading]:
    off = next(_switch_choices(box))
    points = [Reference.LINE, Reference.NEUTRAL, Reference.EARTH, Reference.EARTH_ALONE, *LAMP_POINTS[: len(box.gangs)]]
    asked = [(point.value, off) for point in points]
    for gang, ways in enumerate(box.gangs, 1):
        if ways is not Ways.ONE_WAY:
            for first, second in ((Position.OFF, Position.ON), (Position.ON, Position.OFF)):
                asked.append((Reference.LINE.value, {**off, str(gang): first, f"{gang}:other": second}))
    for node in box.nodes:
        for b, switches in asked:
            yield Reading(id="next", a=node.conductors[0], b=b, is_open=True, supply_on=False, switches=switches)


def _likely_live(belief: Belief) -> str | None:
    share = belief.marginal[:, states.LINE]
    node = int(np.argmax(share)) if share.size else 0
    return belief.box.nodes[node].conductors[0] if share.size and share[node] >= LIKELY_RATIO else None


def _key(reading: Reading) -> tuple[object, ...]:
    return (
        reading.a,
        reading.b,
        reading.is_voltage,
        reading.is_low_impedance if reading.is_voltage else False,
        tuple(sorted(reading.switches.items())),
    )


def doubt_bits(marginal: FloatArray, owners: FloatArray) -> float:
    """Doubt about roles, summed over the nodes [bit]; states of one role count as one."""
    total = 0.0
    for node in range(marginal.shape[0]):
        shares = owners[node] @ marginal[node]
        shares = shares[shares > 1e-12]
        total -= float((shares * np.log2(shares)).sum())
    return max(0.0, total)


def _owners(belief: Belief) -> FloatArray:
    """For each node, which states make which role: matrix [node, role, state]."""
    count = belief.marginal.shape[1]
    found = np.zeros((len(belief.box.nodes), count, count))
    for index, node in enumerate(belief.box.nodes):
        first: dict[object, int] = {}
        for state in range(count):
            row = first.setdefault(role_of(state, node), state)
            found[index, row, state] = 1.0
    return found


class _Weighed:
    """The likeliest assignments of all variants in one array."""

    def __init__(self, belief: Belief) -> None:
        rows = np.concatenate([part.states for part in belief.parts])
        weight = np.concatenate(belief.weights)
        variant = np.concatenate([np.full(part.states.shape[0], k) for k, part in enumerate(belief.parts)])
        if weight.size > _MOST_WEIGHED:
            best = np.argpartition(weight, weight.size - _MOST_WEIGHED)[-_MOST_WEIGHED:]
            rows, weight, variant = rows[best], weight[best], variant[best]
        self.rows, self.weight, self.variant = rows, weight / weight.sum(), variant
        self.one_hot = np.zeros((rows.shape[0], rows.shape[1] * belief.marginal.shape[1]))
        for node in range(rows.shape[1]):
            self.one_hot[np.arange(rows.shape[0]), node * belief.marginal.shape[1] + rows[:, node]] = 1.0


def propose(belief: Belief, done: Sequence[Reading], *, dead: bool | None = None) -> Proposal | None:
    """The reading that settles most, or None when every role is sure or no reading helps.

    Parameters
    ----------
    dead : only the dead method (True), only volts (False), or either.
    """
    if all(entry.share_ratio >= SURE_RATIO for entry in believed(belief) if entry.conductor != METAL_BOX):
        return None
    weighed = _Weighed(belief)
    owners = _owners(belief)
    nodes, count = belief.marginal.shape
    before = doubt_bits(belief.marginal, owners)
    best: Proposal | None = None
    for reading in candidates(belief.box, done, _likely_live(belief)):
        is_dead = not reading.supply_on
        if dead is not None and is_dead != dead:
            continue
        outcomes = _outcomes(belief, weighed, reading)
        after = 0.0
        for column in outcomes.T:
            share = weighed.weight * column
            total = float(share.sum())
            if total > 1e-9:
                after += total * doubt_bits((share @ weighed.one_hot).reshape(nodes, count) / total, owners)
        gain = before - after
        if best is None or gain > best.gain_bits + 1e-9:
            best = Proposal(reading=reading, gain_bits=gain, doubt_bits=before, is_dead_method=is_dead)
    return best if best is not None and best.gain_bits > LEAST_GAIN_BITS else None


def _outcomes(belief: Belief, weighed: _Weighed, reading: Reading) -> FloatArray:
    """Probability of each outcome class for every weighed assignment."""
    node_a, _ = belief.predictors[0].states_at(reading.a)
    node_b, state_b = belief.predictors[0].states_at(reading.b)
    rows = weighed.rows
    width = states.state_count(belief.box)
    code = weighed.variant * width + rows[:, node_a or 0]
    if node_b is not None:
        code = code * width + rows[:, node_b]
    kinds, where = np.unique(code, return_inverse=True)
    bins = []
    for kind in kinds:
        rest, b = divmod(int(kind), width) if node_b is not None else (int(kind), state_b or 0)
        variant, a = divmod(rest, width)
        bins.append(belief.predictors[variant].outcome_bins(reading, a, b))
    table = np.array(bins)
    return table[where]
