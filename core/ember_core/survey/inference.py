"""From readings to roles: weigh every assignment the box allows, say how sure, and which reading settles most."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ember_core.errors import InputError
from ember_core.findings import Finding, Severity
from ember_core.survey import colours, potentials
from ember_core.survey import hypotheses as states
from ember_core.survey.box import METAL_BOX, Box, Conductor, Node, Role, Terminal, Ways
from ember_core.survey.hypotheses import FloatArray, Hypotheses
from ember_core.survey.predict import Predictor
from ember_core.survey.readings import Reading, check

# Called sure from here on; below, the next reading is asked for. One reading in a hundred is wrong.
SURE_RATIO = 0.985
LIKELY_RATIO = 0.80
# What is called excluded: no neutral, no earth.
EXCLUDED_RATIO = 0.015
_FITS_NOT_RATIO = 0.5  # a reading fits nothing when a wrong reading explains it this much better


class Certainty(StrEnum):
    """How sure a role is."""

    SURE = "sure"
    LIKELY = "likely"
    OPEN = "open"


class Side(StrEnum):
    """Which end of a two-way circuit this box is."""

    LINE_SIDE = "line_side"
    LOAD_SIDE = "load_side"
    OPEN = "open"


@dataclass(frozen=True, slots=True, kw_only=True)
class Believed:
    """What is believed of one conductor.

    Parameters
    ----------
    role, gang : the likeliest; gang only for switched lives and travellers.
    share_ratio : its probability, 0 to 1.
    others : other roles above 1.5 %, with gang and probability, likeliest first.
    """

    conductor: str
    role: Role
    gang: int | None
    share_ratio: float
    certainty: Certainty
    others: tuple[tuple[Role, int | None, float], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Belief:
    """Weighted assignments of a box.

    Parameters
    ----------
    parts : assignments by variant. weights : their probabilities, one array a part; all sum to 1.
    marginal : probability of each state at each node.
    """

    box: Box
    region: str
    predictors: tuple[Predictor, ...]
    parts: tuple[Hypotheses, ...]
    weights: tuple[FloatArray, ...]
    marginal: FloatArray


def role_of(state: int, node: Node) -> tuple[Role, int | None]:
    """The role that a state gives a conductor of a node."""
    if state == states.LINE:
        return (Role.LOOPED_LIVE if len(node.conductors) > 1 else Role.PERMANENT_LIVE), None
    if states.is_switched(state):
        return Role.SWITCHED_LIVE, states.gang_of(state)
    if states.is_traveller(state):
        return Role.TRAVELLER, states.gang_of(state)
    plain = {
        states.NEUTRAL: Role.NEUTRAL,
        states.FOREIGN_NEUTRAL: Role.FOREIGN_NEUTRAL,
        states.EARTH: Role.EARTH,
        states.UNUSED: Role.UNUSED,
        states.FOREIGN_LIVE: Role.FOREIGN_LIVE,
    }
    return plain[state], None


def believe(box: Box, readings: Sequence[Reading], v_rms: float, region: str) -> Belief:
    """Weigh every assignment by the readings.

    Parameters
    ----------
    v_rms : supply voltage at the site, rms [V]. region : whose colours are usual.

    Raises
    ------
    InputError : a reading that cannot be of this box.
    """
    for index, reading in enumerate(readings):
        check(reading, box, v_rms, f"readings[{index}]")
    predictors = tuple(Predictor(box, variant, v_rms) for variant in states.variants(box))
    count = states.state_count(box)
    parts = []
    for predictor in predictors:
        alone = _colour_weights(box, region, count)
        pairs = []
        for reading in readings:
            node_a, _ = predictor.states_at(reading.a)
            node_b, state_b = predictor.states_at(reading.b)
            if node_a is None:
                raise InputError("no_such_conductor", path="a", conductor=reading.a)
            if state_b is not None:
                alone[node_a] += [np.log(predictor.likelihood(reading, a, state_b)) for a in range(count)]
            elif node_b is not None and node_b != node_a:
                pairs.append((node_a, node_b, reading))
        found = states.enumerate_states(box, predictor.variant, alone)
        weight = found.log_weight
        for node_a, node_b, reading in pairs:
            table = np.array([[predictor.likelihood(reading, a, b) for b in range(count)] for a in range(count)])
            weight = weight + np.log(table)[found.states[:, node_a], found.states[:, node_b]]
        parts.append(Hypotheses(variant=found.variant, states=found.states, log_weight=weight))
    top = max(float(part.log_weight.max()) for part in parts)
    raw = [np.exp(part.log_weight - top) for part in parts]
    total = sum(float(weight.sum()) for weight in raw)
    weights = tuple(weight / total for weight in raw)
    return Belief(
        box=box,
        region=region,
        predictors=predictors,
        parts=tuple(parts),
        weights=weights,
        marginal=_marginal(parts, weights, len(box.nodes), count),
    )


def _colour_weights(box: Box, region: str, count: int) -> FloatArray:
    """Logarithm of the small weight of usual colours, by node and state."""
    found = np.zeros((len(box.nodes), count))
    by_id = {conductor.id: conductor for conductor in box.conductors}
    for index, node in enumerate(box.nodes):
        for name in node.conductors:
            conductor = by_id.get(name)
            if conductor is None:
                continue
            usual = colours.usual_roles(region, conductor.colour, conductor.sleeve)
            if usual:
                found[index] += [
                    np.log(colours.COLOUR_WEIGHT) if role_of(state, node)[0] in usual else 0.0 for state in range(count)
                ]
    # Many conductors of one joint are no independent witnesses: together they count like two.
    most = 2.0 * np.log(colours.COLOUR_WEIGHT)
    return np.minimum(found, most)


def _marginal(parts: Sequence[Hypotheses], weights: Sequence[FloatArray], nodes: int, count: int) -> FloatArray:
    marginal = np.zeros((nodes, count))
    for part, weight in zip(parts, weights, strict=True):
        for node in range(part.states.shape[1]):
            marginal[node] += np.bincount(part.states[:, node], weights=weight, minlength=count)
    return marginal


def believed(belief: Belief) -> tuple[Believed, ...]:
    """What is believed of every conductor, in the order of the box."""
    by_conductor: dict[str, Believed] = {}
    for node, marginal in zip(belief.box.nodes, belief.marginal, strict=True):
        shares: dict[tuple[Role, int | None], float] = {}
        for state, share in enumerate(marginal):
            if share > 0.0:
                key = role_of(state, node)
                shares[key] = shares.get(key, 0.0) + float(share)
        ranked = sorted(shares.items(), key=lambda item: -item[1])
        (role, gang), share = ranked[0]
        for name in node.conductors:
            by_conductor[name] = Believed(
                conductor=name,
                role=role,
                gang=gang,
                share_ratio=min(1.0, share),
                certainty=certainty_of(share),
                others=tuple((r, g, s) for (r, g), s in ranked[1:4] if s > EXCLUDED_RATIO),
            )
    order = [conductor.id for conductor in belief.box.conductors]
    return tuple(by_conductor[name] for name in [*order, *(name for name in by_conductor if name == METAL_BOX)])


def certainty_of(share_ratio: float) -> Certainty:
    """Sure, likely or open."""
    if share_ratio >= SURE_RATIO:
        return Certainty.SURE
    return Certainty.LIKELY if share_ratio >= LIKELY_RATIO else Certainty.OPEN


def sides(belief: Belief) -> tuple[Side | None, ...]:
    """For each gang the end this box is; None where there is only one."""
    found: list[Side | None] = []
    for gang, ways in enumerate(belief.box.gangs):
        if ways is not Ways.TWO_WAY:
            found.append(None)
            continue
        line = sum(
            float(weight.sum())
            for part, weight in zip(belief.parts, belief.weights, strict=True)
            if part.variant.is_line_side[gang]
        )
        found.append(Side.LINE_SIDE if line >= SURE_RATIO else Side.LOAD_SIDE if line <= EXCLUDED_RATIO else Side.OPEN)
    return tuple(found)


def contradictions(belief: Belief, readings: Sequence[Reading]) -> tuple[Finding, ...]:
    """Readings, colours and terminals that do not go with what is believed; ghost voltages explained."""
    found: list[Finding] = []
    for reading in readings:
        found += _of_reading(belief, reading)
    roles = {entry.conductor: entry for entry in believed(belief)}
    for index, conductor in enumerate(belief.box.conductors):
        found += _of_conductor(belief, conductor, f"conductors[{index}]", roles[conductor.id])
    return tuple(found)


def _of_reading(belief: Belief, reading: Reading) -> list[Finding]:
    params: dict[str, float | int | str] = {"a": reading.a, "b": reading.b, "reading": reading.id}
    if reading.v is not None:
        params["v"] = reading.v
    refs = (f"readings.{reading.id}",)
    expected, best = _explained(belief, reading)
    wrong = (
        potentials.WRONG_SHARE * potentials.wrong_density(reading.v / belief.predictors[0].v_rms)
        if reading.v is not None
        else potentials.WRONG_SHARE / 3.0
    )
    if best < _FITS_NOT_RATIO * wrong:
        return [Finding(code="reading_fits_nothing", severity=Severity.WARN, params=params, refs=refs)]
    if expected < _FITS_NOT_RATIO * wrong:
        return [Finding(code="reading_against_the_rest", severity=Severity.WARN, params=params, refs=refs)]
    ratio = 0.0 if reading.v is None else reading.v / belief.predictors[0].v_rms
    node, _ = belief.predictors[0].states_at(reading.a)
    floating = node is not None and belief.marginal[node, states.UNUSED] > LIKELY_RATIO
    if floating and 0.05 < ratio < 0.75:
        return [Finding(code="ghost_voltage", severity=Severity.INFO, params=params, refs=refs)]
    return []


def _explained(belief: Belief, reading: Reading) -> tuple[float, float]:
    """Likelihood of a reading under what is believed, and under the state that explains it best."""
    expected = best = 0.0
    for predictor, part, weight in zip(belief.predictors, belief.parts, belief.weights, strict=True):
        node_a, _ = predictor.states_at(reading.a)
        node_b, state_b = predictor.states_at(reading.b)
        if node_a is None or (node_b is not None and node_b == node_a):
            return 1.0, 1.0
        column_b = None if node_b is None else part.states[:, node_b]
        pairs = (
            np.unique(part.states[:, [node_a]])[:, None]
            if column_b is None
            else np.unique(np.stack([part.states[:, node_a], column_b], axis=1), axis=0)
        )
        for pair in pairs:
            a = int(pair[0])
            b = int(pair[1]) if node_b is not None else state_b or 0
            value = predictor.likelihood(reading, a, b, count_wrong=False)
            chosen = part.states[:, node_a] == a
            if column_b is not None:
                chosen &= column_b == b
            expected += value * float(weight[chosen].sum())
            best = max(best, value)
    return expected, best


def _of_conductor(belief: Belief, conductor: Conductor, path: str, entry: Believed) -> list[Finding]:
    if entry.certainty is Certainty.OPEN:
        return []
    found = []
    if colours.contradicts(belief.region, conductor.colour, conductor.sleeve, entry.role):
        found.append(
            Finding(
                code="colour_contradicts_role",
                severity=Severity.WARN,
                params={
                    "conductor": conductor.id,
                    "colour": conductor.sleeve or conductor.colour,
                    "role": entry.role.value,
                },
                refs=(f"{path}.colour",),
            )
        )
    at_common = conductor.terminal is Terminal.COMMON and conductor.gang is not None
    two_way = at_common and belief.box.gangs[(conductor.gang or 1) - 1] is Ways.TWO_WAY
    if (two_way and entry.role is Role.TRAVELLER) or (
        conductor.terminal is Terminal.EARTH and entry.role is not Role.EARTH
    ):
        found.append(
            Finding(
                code="terminal_contradicts_role",
                severity=Severity.WARN,
                params={
                    "conductor": conductor.id,
                    "terminal": conductor.terminal.value,
                    "role": entry.role.value,
                },
                refs=(f"{path}.terminal",),
            )
        )
    if conductor.label is not None and conductor.label is not entry.role and entry.certainty is Certainty.SURE:
        alike = {conductor.label, entry.role} <= {Role.PERMANENT_LIVE, Role.LOOPED_LIVE}
        if not alike:
            found.append(
                Finding(
                    code="label_contradicts_role",
                    severity=Severity.STOP,
                    params={"conductor": conductor.id, "label": conductor.label.value, "role": entry.role.value},
                    refs=(f"{path}.label",),
                )
            )
    return found
