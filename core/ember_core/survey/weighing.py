"""Weighing assignments by readings: what each reading says of the states of its ends, and what hangs on one alone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ember_core.errors import InputError
from ember_core.survey import colours, potentials
from ember_core.survey import hypotheses as states
from ember_core.survey.box import Box, Node, Role
from ember_core.survey.hypotheses import FloatArray, Hypotheses
from ember_core.survey.predict import Predictor
from ember_core.survey.readings import Reading

# Assignments this much less likely than the likeliest count for nothing, even when one reading is left out [nat].
_NEGLIGIBLE = 20.0


def role_of(state: int, node: Node) -> tuple[Role, int | None]:
    """The role that a state gives a conductor of a node."""
    if state == states.LINE:
        return (Role.LOOPED_LIVE if len(node.conductors) > 1 else Role.PERMANENT_LIVE), None
    if states.is_switched(state):
        return Role.SWITCHED_LIVE, states.gang_of(state)
    if states.is_traveller(state):
        return Role.TRAVELLER, states.gang_of(state)
    if states.is_switched_neutral(state):
        return Role.SWITCHED_NEUTRAL, states.gang_of(state)
    plain = {
        states.NEUTRAL: Role.NEUTRAL,
        states.FOREIGN_NEUTRAL: Role.FOREIGN_NEUTRAL,
        states.EARTH: Role.EARTH,
        states.UNUSED: Role.UNUSED,
        states.FOREIGN_LIVE: Role.FOREIGN_LIVE,
    }
    return plain[state], None


@dataclass(frozen=True, slots=True)
class Table:
    """Logarithm of a reading's likelihood by the state of its end, or of both ends."""

    node_a: int
    node_b: int | None
    log: FloatArray

    def over(self, rows: states.IntArray) -> FloatArray:
        """The same for every assignment."""
        at_a = rows[:, self.node_a]
        found: FloatArray = self.log[at_a] if self.node_b is None else self.log[at_a, rows[:, self.node_b]]
        return found


def tables_of(predictor: Predictor, readings: Sequence[Reading], wrong: Mapping[str, float]) -> list[Table | None]:
    """What each reading says, for one variant; None for one between two conductors that are joined."""
    count = states.state_count(predictor.box)
    found: list[Table | None] = []
    for reading in readings:
        node_a, _ = predictor.states_at(reading.a)
        node_b, state_b = predictor.states_at(reading.b)
        share = wrong.get(reading.id, potentials.WRONG_SHARE)
        if node_a is None:
            raise InputError("no_such_conductor", path="a", conductor=reading.a)
        if state_b is not None:
            log = np.log([predictor.likelihood(reading, a, state_b, wrong_share=share) for a in range(count)])
            found.append(Table(node_a, None, log))
        elif node_b is not None and node_b != node_a:
            found.append(Table(node_a, node_b, np.log(predictor.likelihoods(reading, share))))
        else:
            found.append(None)
    return found


def weighed(predictor: Predictor, colour: FloatArray, tables: Sequence[Table | None], most: int) -> Hypotheses:
    """All assignments of a variant with the logarithm of their weight."""
    alone = colour.copy()
    for table in tables:
        if table is not None and table.node_b is None:
            alone[table.node_a] += table.log
    found = states.enumerate_states(predictor.box, predictor.variant, alone, most)
    weight = found.log_weight
    for table in tables:
        if table is not None and table.node_b is not None:
            weight = weight + table.over(found.states)
    return Hypotheses(variant=found.variant, states=found.states, log_weight=weight)


def least_shares(
    box: Box, parts: Sequence[Hypotheses], tables: Sequence[Sequence[Table | None]], marginal: FloatArray
) -> tuple[FloatArray, tuple[int | None, ...]]:
    """For each node the least share of its likeliest role over leaving any one reading out, and which that is."""
    if not box.nodes:
        return np.ones(0), ()
    count = marginal.shape[1]
    roles = [[role_of(state, node) for state in range(count)] for node in box.nodes]
    chosen = np.zeros((len(box.nodes), count), dtype=bool)
    for index, (names, shares) in enumerate(zip(roles, marginal, strict=True)):
        totals: dict[object, float] = {}
        for name, share in zip(names, shares, strict=True):
            totals[name] = totals.get(name, 0.0) + float(share)
        best = max(totals, key=lambda name: totals[name]) if totals else None
        chosen[index] = [name == best for name in names]
    top = max(float(part.log_weight.max()) for part in parts)
    keep = [part.log_weight > top - _NEGLIGIBLE for part in parts]
    log_weight = np.concatenate([part.log_weight[mask] - top for part, mask in zip(parts, keep, strict=True)])
    rows = np.concatenate([part.states[mask] for part, mask in zip(parts, keep, strict=True)])
    is_chosen = np.stack([chosen[node][rows[:, node]] for node in range(rows.shape[1])], axis=1).astype(float)
    least = np.ones(rows.shape[1])
    rests_on: list[int | None] = [None] * rows.shape[1]
    for number in range(len(tables[0]) if tables else 0):
        said = [
            np.zeros(int(mask.sum())) if own[number] is None else own[number].over(part.states[mask])  # type: ignore[union-attr]
            for own, part, mask in zip(tables, parts, keep, strict=True)
        ]
        without = log_weight - np.concatenate(said)
        weight = np.exp(without - without.max())
        share = weight @ is_chosen / weight.sum()
        for node in np.nonzero(share < least)[0]:
            rests_on[int(node)] = number
        least = np.minimum(least, share)
    return least, tuple(rests_on)


def colour_weights(box: Box, region: str, count: int) -> FloatArray:
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


def marginal_of(parts: Sequence[Hypotheses], weights: Sequence[FloatArray], nodes: int, count: int) -> FloatArray:
    marginal = np.zeros((nodes, count))
    for part, weight in zip(parts, weights, strict=True):
        for node in range(part.states.shape[1]):
            marginal[node] += np.bincount(part.states[:, node], weights=weight, minlength=count)
    return marginal
