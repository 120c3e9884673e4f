"""Which single reading settles most: the one that leaves the least doubt, on average over what it may show."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from ember_core.survey import hypotheses as states
from ember_core.survey.box import METAL_BOX, Box, Ways
from ember_core.survey.doubt import unread
from ember_core.survey.hypotheses import FloatArray
from ember_core.survey.inference import (
    LIKELY_RATIO,
    SURE_RATIO,
    Belief,
    Certainty,
    believe,
    believed,
    certainties,
)
from ember_core.survey.readings import LAMP_POINTS, Position, Reading, Reference
from ember_core.survey.weighing import role_of

LOW_IMPEDANCE_METER_OHM = 4e5
# Doubt below this is none: a reading that saves less is not asked for.
LEAST_GAIN_BITS = 0.002
# A joined group on which no lead was put yet cannot be sure: a reading there is worth this much beside its gain.
UNREAD_BITS = 0.25
# What is told more about than this is named.
_WORTH_NAMING_BITS = 0.02
# Enough to rank the readings; the rest of the assignments carry hardly any weight.
_MOST_WEIGHED = 600
_LIGHT = 1e-5


class Why(StrEnum):
    """Why a reading is asked for."""

    TELLS_MOST = "tells_most"
    CONTRADICTS = "contradicts"  # taken before, and what it showed contradicts something
    RESTS_ON_IT = "rests_on_it"  # taken before, and nothing else could tell the same


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """A reading worth taking.

    Parameters
    ----------
    reading : what to read; its value is empty.
    gain_bits : how much doubt it takes away on average. doubt_bits : the doubt there is.
    is_dead_method : continuity with the supply isolated.
    settles : conductors whose role it tells most about, most first.
    why : why it is asked for.
    """

    reading: Reading
    gain_bits: float
    doubt_bits: float
    is_dead_method: bool
    settles: tuple[str, ...] = ()
    why: Why = Why.TELLS_MOST


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
    """Readings that could be taken and were not, one conductor for each joined group.

    Parameters
    ----------
    live : the conductor that is likeliest a permanent live: volts from it to another tell a neutral or an earth
        from a conductor that goes nowhere.
    """
    taken = {_key(reading) for reading in done}
    for made in (*_volts(box, live), *_continuity(box)):
        if _key(made) not in taken:
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


def doubts(marginal: FloatArray, owners: FloatArray) -> FloatArray:
    """Doubt about the role of each node [bit]; states of one role count as one."""
    shares = np.einsum("nrs,ns->nr", owners, marginal)
    safe = np.where(shares > 1e-12, shares, 1.0)
    found: FloatArray = np.maximum(0.0, -(safe * np.log2(safe)).sum(axis=1))
    return found


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
        heavy = weight > _LIGHT * weight.max()
        rows, weight, variant = rows[heavy], weight[heavy], variant[heavy]
        if weight.size > _MOST_WEIGHED:
            best = np.argpartition(weight, weight.size - _MOST_WEIGHED)[-_MOST_WEIGHED:]
            rows, weight, variant = rows[best], weight[best], variant[best]
        self.rows, self.weight, self.variant = rows, weight / weight.sum(), variant
        self.one_hot = np.zeros((rows.shape[0], rows.shape[1] * belief.marginal.shape[1]))
        for node in range(rows.shape[1]):
            self.one_hot[np.arange(rows.shape[0]), node * belief.marginal.shape[1] + rows[:, node]] = 1.0


def propose(belief: Belief, *, dead: bool | None = None) -> Proposal | None:
    """The reading that settles most, or None when every role is sure or no reading helps.

    Where readings contradict each other, the one to take again comes before all others.

    Parameters
    ----------
    dead : only the dead method (True), only volts (False), or either.
    """
    roles = [entry for entry in believed(belief) if entry.conductor != METAL_BOX]
    if all(entry.certainty is Certainty.SURE for entry in roles):
        return None
    if (again := _again(belief, dead)) is not None:
        return again
    never_read = any(node.key in unread(belief.box, belief.readings) for node in belief.box.nodes)
    is_unclear = never_read or any(entry.share_ratio < SURE_RATIO for entry in roles)
    if is_unclear and (found := _best(belief, belief, dead)) is not None:
        return found
    if dead is not False and (found := _best(belief, belief, True, _unsettled(belief))) is not None:
        return found
    # Likely enough, but resting on one reading alone: what would tell the same without it? Perhaps only itself.
    counts = Counter(_key(reading) for reading in belief.readings)
    v_rms = belief.predictors[0].v_rms
    for index, entry in enumerate(certainties(belief)):
        rests_on = belief.rests_on[index]
        if entry is not Certainty.LIKELY or rests_on is None:
            continue
        reading = belief.readings[rests_on]
        without = [other for k, other in enumerate(belief.readings) if k != rests_on]
        alone = believe(belief.box, without, v_rms, belief.region)
        other = _best(alone, belief, dead)
        if counts[_key(reading)] == 1 and (dead is None or reading.supply_on != dead):
            gain = float(_told(alone, reading).sum())
            if gain > LEAST_GAIN_BITS and (other is None or other.gain_bits < _OTHER_WITNESS * gain):
                return _once_more(belief, reading, Why.RESTS_ON_IT)
        if other is not None:
            return other
    return None


# Another kind of reading is the better witness, as long as it tells this much of what the same one would.
_OTHER_WITNESS = 0.7


def _left(belief: Belief, weighed: _Weighed, owners: FloatArray, reading: Reading) -> FloatArray:
    """Doubt about each node that a reading leaves on average [bit]."""
    nodes, count = belief.marginal.shape
    after = np.zeros(nodes)
    for column in _outcomes(belief, weighed, reading).T:
        share = weighed.weight * column
        total = float(share.sum())
        if total > 1e-9:
            after += total * doubts((share @ weighed.one_hot).reshape(nodes, count) / total, owners)
    return after


def _told(belief: Belief, reading: Reading) -> FloatArray:
    """Doubt about each node that one reading takes away on average [bit]."""
    owners = _owners(belief)
    return doubts(belief.marginal, owners) - _left(belief, _Weighed(belief), owners, reading)


def _unsettled(belief: Belief) -> frozenset[str]:
    """Joined groups with a voltage that may or may not be a ghost: only the dead method tells."""
    ends = {finding.params["a"] for finding in belief.said if finding.code in _GHOSTLY}
    return frozenset(node.key for node in belief.box.nodes if ends & set(node.conductors))


_GHOSTLY = ("voltage_stays", "perhaps_ghost")


def _best(doubtful: Belief, belief: Belief, dead: bool | None, only: frozenset[str] | None = None) -> Proposal | None:
    """The reading that takes most doubt from one belief, of those that were not taken in another.

    Parameters
    ----------
    only : keys of the joined groups that are to be settled, however little doubt the arithmetic sees there.
    """
    weighed = _Weighed(doubtful)
    owners = _owners(doubtful)
    before = doubts(doubtful.marginal, owners)
    groups = unread(belief.box, belief.readings)
    best: Proposal | None = None
    best_worth = 0.0
    for reading in candidates(belief.box, belief.readings, _likely_live(belief)):
        is_dead = not reading.supply_on
        if dead is not None and is_dead != dead:
            continue
        told = before - _left(doubtful, weighed, owners, reading)
        gain = float(told.sum())
        node = belief.box.node_of(reading.a)
        worth = gain + (UNREAD_BITS if belief.box.nodes[node].key in groups else 0.0)
        if only is not None:
            worth = LEAST_GAIN_BITS + gain if belief.box.nodes[node].key in only else 0.0
        if worth > best_worth + 1e-9:
            best_worth = worth
            best = Proposal(
                reading=reading,
                gain_bits=gain,
                doubt_bits=float(before.sum()),
                is_dead_method=is_dead,
                settles=_named(belief, told, node),
            )
    return best if best_worth >= LEAST_GAIN_BITS else None


def _again(belief: Belief, dead: bool | None) -> Proposal | None:
    """The newest reading that contradicts another or stands against the rest, once more; not a third time."""
    counts = Counter(_key(reading) for reading in belief.readings)
    against = [
        ref.removeprefix("readings.") for finding in belief.said if finding.code in _TO_REPEAT for ref in finding.refs
    ]
    for reading in reversed(belief.readings):
        if reading.id not in against or counts[_key(reading)] > _MOST_TAKEN:
            continue
        if dead is not None and reading.supply_on == dead:
            continue
        return _once_more(belief, reading, Why.CONTRADICTS)
    return None


def _once_more(belief: Belief, reading: Reading, why: Why) -> Proposal:
    empty = {"v": 0.0} if reading.is_voltage else {"r_ohm": None, "is_open": True}
    node = belief.box.node_of(reading.a)
    return Proposal(
        reading=replace(reading, id="next", **empty),
        gain_bits=0.0,
        doubt_bits=float(doubts(belief.marginal, _owners(belief)).sum()),
        is_dead_method=not reading.supply_on,
        settles=belief.box.nodes[node].conductors[:1],
        why=why,
    )


_TO_REPEAT = ("readings_contradict", "continuity_contradicts", "reading_against_the_rest", "reading_fits_nothing")
_MOST_TAKEN = 2


def _named(belief: Belief, told_bits: FloatArray, node: int) -> tuple[str, ...]:
    """Conductors that a reading tells most about, at most two; else the one that it is on."""
    order = [int(k) for k in np.argsort(-told_bits) if told_bits[k] > _WORTH_NAMING_BITS][:2]
    return tuple(belief.box.nodes[k].conductors[0] for k in order or [node])


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
