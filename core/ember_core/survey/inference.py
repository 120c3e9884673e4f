"""From readings to roles: weigh every assignment the box allows, say how sure, and which reading settles most."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from ember_core.findings import Finding, Severity
from ember_core.survey import colours, potentials
from ember_core.survey import hypotheses as states
from ember_core.survey.box import METAL_BOX, Box, Conductor, Role, Terminal, Ways
from ember_core.survey.doubt import (
    DISPUTED_WRONG_SHARE,
    MAINS_RATIO,
    NOTHING_RATIO,
    Dispute,
    dispute_finding,
    disputed_ids,
    disputes,
    settled_dead,
    stays,
    unread,
)
from ember_core.survey.hypotheses import FloatArray, Hypotheses
from ember_core.survey.predict import Predictor
from ember_core.survey.readings import Reading, check
from ember_core.survey.weighing import colour_weights, least_shares, marginal_of, role_of, tables_of, weighed

# Called sure from here on; below, the next reading is asked for. One reading in a hundred is wrong.
SURE_RATIO = 0.985
LIKELY_RATIO = 0.80
# What is called excluded: no neutral, no earth.
EXCLUDED_RATIO = 0.015
_FITS_NOT_RATIO = 0.5  # a reading fits nothing when a wrong reading explains it this much better
# A role is sure only if it keeps this share whichever single reading is left out.
STANDS_ALONE_RATIO = 0.9


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
    is_read : some reading was taken at it, or at what it is joined to.
    """

    conductor: str
    role: Role
    gang: int | None
    share_ratio: float
    certainty: Certainty
    others: tuple[tuple[Role, int | None, float], ...]
    is_read: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Belief:
    """Weighted assignments of a box.

    Parameters
    ----------
    parts : assignments by variant. weights : their probabilities, one array a part; all sum to 1.
    marginal : probability of each state at each node.
    readings : what was read. disputes : those that contradict each other.
    least_share : of the likeliest role of each node, the least share when any one reading is left out.
    rests_on : the reading whose absence leaves that least share, for each node; None where nothing was read.
    said : what is to be said of single readings.
    """

    box: Box
    region: str
    predictors: tuple[Predictor, ...]
    parts: tuple[Hypotheses, ...]
    weights: tuple[FloatArray, ...]
    marginal: FloatArray
    readings: tuple[Reading, ...]
    disputes: tuple[Dispute, ...]
    least_share: FloatArray
    rests_on: tuple[int | None, ...]
    said: tuple[Finding, ...] = ()


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
    found = disputes(box, readings, v_rms)
    wrong = dict.fromkeys(disputed_ids(found), DISPUTED_WRONG_SHARE)
    predictors = tuple(Predictor(box, variant, v_rms) for variant in states.variants(box))
    tables = [tables_of(predictor, readings, wrong) for predictor in predictors]
    colour = colour_weights(box, region, states.state_count(box))
    most = max(states.LEAST_HYPOTHESES, states.MOST_HYPOTHESES // len(predictors))
    parts = [weighed(predictor, colour, own, most) for predictor, own in zip(predictors, tables, strict=True)]
    top = max(float(part.log_weight.max()) for part in parts)
    raw = [np.exp(part.log_weight - top) for part in parts]
    total = sum(float(weight.sum()) for weight in raw)
    weights = tuple(weight / total for weight in raw)
    marginal = marginal_of(parts, weights, len(box.nodes), states.state_count(box))
    least, rests_on = least_shares(box, parts, tables, marginal)
    belief = Belief(
        box=box,
        region=region,
        predictors=predictors,
        parts=tuple(parts),
        weights=weights,
        marginal=marginal,
        readings=tuple(readings),
        disputes=found,
        least_share=least,
        rests_on=rests_on,
    )
    return replace(belief, said=_reading_findings(belief))


def believed(belief: Belief) -> tuple[Believed, ...]:
    """What is believed of every conductor, in the order of the box."""
    by_conductor: dict[str, Believed] = {}
    certain = certainties(belief)
    never_read = unread(belief.box, belief.readings)
    for index, (node, marginal) in enumerate(zip(belief.box.nodes, belief.marginal, strict=True)):
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
                certainty=min(certainty_of(share), certain[index], key=_ORDER.index),
                others=tuple((r, g, s) for (r, g), s in ranked[1:4] if s > EXCLUDED_RATIO),
                is_read=node.key not in never_read,
            )
    order = [conductor.id for conductor in belief.box.conductors]
    return tuple(by_conductor[name] for name in [*order, *(name for name in by_conductor if name == METAL_BOX)])


_ORDER = (Certainty.OPEN, Certainty.LIKELY, Certainty.SURE)


def certainties(belief: Belief) -> list[Certainty]:
    """How certain anything said of each node may be at the most, whatever its share: see `doubt`."""
    box = belief.box
    never_read = unread(box, belief.readings)
    without = Certainty.LIKELY if belief.readings else Certainty.OPEN
    found = [
        without if node.key in never_read else Certainty.LIKELY if least < STANDS_ALONE_RATIO else Certainty.SURE
        for node, least in zip(box.nodes, belief.least_share, strict=True)
    ]
    for finding in belief.said:
        if finding.severity is Severity.INFO:
            continue
        for end in (finding.params["a"], finding.params["b"]):
            for index, node in enumerate(box.nodes):
                if end in node.conductors:
                    found[index] = Certainty.OPEN
    return found


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


def contradictions(belief: Belief) -> tuple[Finding, ...]:
    """Readings, colours and terminals that do not go with what is believed; ghost voltages explained."""
    found = list(belief.said)
    roles = {entry.conductor: entry for entry in believed(belief)}
    for index, conductor in enumerate(belief.box.conductors):
        found += _of_conductor(belief, conductor, f"conductors[{index}]", roles[conductor.id])
    for gang in range(1, len(belief.box.gangs) + 1):
        share = float(belief.marginal[:, states.switched_neutral(gang)].sum())
        if share >= SURE_RATIO:
            found.append(Finding(code="switch_in_neutral", severity=Severity.STOP, params={"gang": gang}))
    return tuple(found)


def _reading_findings(belief: Belief) -> tuple[Finding, ...]:
    """What is to be said of single readings: contradictions first, then what nothing explains, then ghosts."""
    found = [dispute_finding(dispute) for dispute in belief.disputes]
    disputed = disputed_ids(belief.disputes)
    settled = settled_dead(belief.box, belief.readings)
    for reading in belief.readings:
        if reading.id not in disputed:
            found += _of_reading(belief, reading, settled)
    return tuple(found)


def _of_reading(belief: Belief, reading: Reading, settled: frozenset[str]) -> list[Finding]:
    params: dict[str, float | int | str] = {"a": reading.a, "b": reading.b, "reading": reading.id}
    if reading.v is not None:
        params["v"] = reading.v
    refs = (f"readings.{reading.id}",)
    expected, best = _explained(belief, reading)
    v_rms = belief.predictors[0].v_rms
    ratio = 0.0 if reading.v is None else reading.v / v_rms
    wrong = (
        potentials.WRONG_SHARE * potentials.wrong_density(ratio)
        if reading.v is not None
        else potentials.WRONG_SHARE / 3.0
    )
    # A voltage that nothing explains is a danger, a reading of nothing that fits nothing mostly an open lead.
    severity = Severity.STOP if ratio > NOTHING_RATIO else Severity.WARN
    if best < _FITS_NOT_RATIO * wrong:
        return [Finding(code="reading_fits_nothing", severity=severity, params=params, refs=refs)]
    if expected < _FITS_NOT_RATIO * wrong:
        return [Finding(code="reading_against_the_rest", severity=severity, params=params, refs=refs)]
    node, _ = belief.predictors[0].states_at(reading.a)
    if node is None or belief.marginal[node, states.UNUSED] <= LIKELY_RATIO:
        return []
    if stays(reading) and belief.box.nodes[node].key not in settled:
        return [Finding(code="voltage_stays", severity=Severity.WARN, params=params, refs=refs)]
    if not reading.is_low_impedance and 0.05 < ratio < MAINS_RATIO:
        gone = any(
            other.is_low_impedance and other.a == reading.a and other.v is not None and not stays(other)
            for other in belief.readings
        )
        code = "ghost_voltage" if gone else "perhaps_ghost"
        severity = Severity.INFO if gone or belief.box.nodes[node].key in settled else Severity.WARN
        return [Finding(code=code, severity=severity, params=params, refs=refs)]
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
            value = predictor.likelihood(reading, a, b, wrong_share=0.0)
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
    if entry.role is Role.FOREIGN_LIVE and belief.box.circuits == 1:
        # One breaker off leaves it live, and nobody has said which other one it needs.
        params: dict[str, float | int | str] = {"conductor": conductor.id}
        found.append(Finding(code="other_circuit_comes_in", severity=Severity.STOP, params=params, refs=(path,)))
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
