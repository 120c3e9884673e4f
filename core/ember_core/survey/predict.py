"""How likely a reading is, for every pair of states its two ends may have."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import product

import numpy as np

from ember_core.survey import hypotheses as states
from ember_core.survey import potentials
from ember_core.survey.box import Box, Ways
from ember_core.survey.hypotheses import FloatArray, Variant
from ember_core.survey.potentials import Net, Potential
from ember_core.survey.readings import LAMP_POINTS, Position, Reading, Reference

Positions = tuple[bool, bool]  # of a gang: this switch on, its other switch on
_FIXED_NETS = {
    states.LINE: Net.LINE,
    states.NEUTRAL: Net.NEUTRAL,
    states.EARTH: Net.EARTH,
    states.FOREIGN_NEUTRAL: Net.FOREIGN_NEUTRAL,
    states.FOREIGN_LIVE: Net.FOREIGN_LIVE,
}
_KNOWN_STATES = {
    Reference.EARTH: states.EARTH,
    Reference.LINE: states.LINE,
}
# Known points that are no state of a conductor: they stand beside them.
EARTH_ALONE = -1
NEUTRAL_LIFTED = -2
# Unused conductors are apart from everything, from each other too.
_UNUSED_A, _UNUSED_B = 10_000, 10_001


def reference_state(reference: str) -> int:
    """State of a known point; the lamps of a gang are its switched live."""
    known = Reference(reference)
    if known is Reference.EARTH_ALONE:
        return EARTH_ALONE
    if known is Reference.NEUTRAL:
        return NEUTRAL_LIFTED
    return _KNOWN_STATES[known] if known in _KNOWN_STATES else states.switched(LAMP_POINTS.index(known) + 1)


class Predictor:
    """Likelihoods for one variant of a box."""

    def __init__(self, box: Box, variant: Variant, v_rms: float) -> None:
        self.box = box
        self.variant = variant
        self.v_rms = v_rms
        self._bins: dict[tuple[object, ...], FloatArray] = {}

    def _selected(self, gang: int, at: Positions) -> tuple[int, int]:
        """Traveller that the line-side and the load-side switch select."""
        this, other = at
        here = 0 if this else 1
        there = 0 if other != self.variant.is_crossed[gang - 1] else 1
        return (here, there) if self.variant.is_line_side[gang - 1] else (there, here)

    def _between(self, gang: int, state: int, at: Positions) -> tuple[Potential, bool]:
        """Kind of a point at an intermediate switch, and whether the lamps hang on it at this moment.

        The line end feeds A or B; this switch joins A to C and B to D, or crosswise; the load end takes C or D.
        """
        this, other = at
        fed = 0 if other else 1
        taken = 0 if self.variant.is_far_first[gang - 1] else 1
        lamp = taken if this else 1 - taken  # in terms of A and B
        if states.is_switched(state):
            which = lamp
        else:
            k = state - states.traveller(gang, 0)
            which = k if k < 2 else (k - 2 if this else 3 - k)
        if which == fed:
            return Potential.MAINS, which == lamp
        return (Potential.VIA_LAMP, True) if which == lamp else (Potential.FLOATING, False)

    def potential(self, state: int, at: Positions, supply_on: bool) -> Potential:
        """Kind of point, for given positions of the gang's switches."""
        if state == states.FOREIGN_LIVE:
            return Potential.OTHER_MAINS
        if state in (states.NEUTRAL, states.FOREIGN_NEUTRAL, states.EARTH):
            return Potential.ZERO
        if state == states.UNUSED:
            return Potential.FLOATING
        if not supply_on:
            return Potential.VIA_LAMP
        if state == states.LINE:
            return Potential.MAINS
        gang = states.gang_of(state) or 1
        if states.is_switched_neutral(state):
            return Potential.ZERO if at[0] else Potential.LIVE_VIA_LAMP
        if self.box.gangs[gang - 1] is Ways.ONE_WAY:
            return Potential.MAINS if at[0] else Potential.VIA_LAMP
        if self.box.gangs[gang - 1] is Ways.INTERMEDIATE:
            return self._between(gang, state, at)[0]
        fed, lamp = self._selected(gang, at)
        if states.is_switched(state):
            return Potential.MAINS if fed == lamp else Potential.VIA_LAMP
        which = state - states.traveller(gang, 0)
        if which == fed:
            return Potential.MAINS
        return Potential.VIA_LAMP if which == lamp else Potential.FLOATING

    def net(self, state: int, at: Positions, unused: int) -> tuple[int, bool]:
        """Net of a state while everything is dead, and whether it goes on to lamps."""
        if state == EARTH_ALONE:
            return int(Net.EARTH_ALONE), False
        if state == NEUTRAL_LIFTED:
            return int(Net.NEUTRAL_LIFTED), False
        if state in _FIXED_NETS:
            return int(_FIXED_NETS[state]), False
        if state == states.UNUSED:
            return unused, False
        gang = states.gang_of(state) or 1
        own = int(Net.FIRST_OTHER) + 2 * gang
        if states.is_switched_neutral(state):
            return (int(Net.NEUTRAL), True) if at[0] else (own, True)
        if self.box.gangs[gang - 1] is Ways.ONE_WAY:
            return (int(Net.LINE), True) if at[0] else (own, True)
        if self.box.gangs[gang - 1] is Ways.INTERMEDIATE:
            kind, has_lamp = self._between(gang, state, at)
            if kind is Potential.MAINS:
                return int(Net.LINE), has_lamp
            return (own, True) if kind is Potential.VIA_LAMP else (own + 1, False)
        fed, lamp = self._selected(gang, at)
        if states.is_switched(state):
            return (int(Net.LINE), True) if fed == lamp else (own, True)
        which = state - states.traveller(gang, 0)
        if which == fed:
            return int(Net.LINE), which == lamp
        return (own, True) if which == lamp else (own + 1, False)

    def _completions(self, a: int, b: int, given: Mapping[str, Position]) -> Iterator[dict[int | None, Positions]]:
        """Positions of the switches that matter; those not given are taken both ways."""
        gangs = sorted({gang for gang in (states.gang_of(a), states.gang_of(b)) if gang is not None})
        choices = []
        for gang in gangs:
            here, there = given.get(str(gang)), given.get(f"{gang}:other")
            is_single = self.box.gangs[gang - 1] is Ways.ONE_WAY
            first = (True, False) if here is None else (here is Position.ON,)
            second = (True,) if is_single else (True, False) if there is None else (there is Position.ON,)
            choices.append(list(product(first, second)))
        for combination in product(*choices):
            yield {None: (True, True), **dict(zip(gangs, combination, strict=True))}

    def likelihood(self, reading: Reading, a: int, b: int, *, wrong_share: float = potentials.WRONG_SHARE) -> float:
        """Density (of v over supply) or probability (of a continuity class) of a reading between two states.

        Parameters
        ----------
        wrong_share : share of such readings that are simply wrong; 0 counts none.
        """
        total = 0.0
        count = 0
        for at in self._completions(a, b, reading.switches):
            total += self._one(reading, a, b, at[states.gang_of(a)], at[states.gang_of(b)])
            count += 1
        mean = total / count
        if wrong_share == 0.0:
            return mean
        if reading.v is not None:
            return potentials.with_wrong(mean, reading.v / self.v_rms, wrong_share)
        return (1.0 - wrong_share) * mean + wrong_share / 3.0

    def likelihoods(self, reading: Reading, wrong_share: float) -> FloatArray:
        """`likelihood` for every pair of states; many pairs look alike, so each kind is weighed once."""
        count = states.state_count(self.box)
        known: dict[tuple[object, ...], float] = {}
        found = np.empty((count, count))
        for a in range(count):
            for b in range(count):
                key = self._looks(reading, a, b)
                if key not in known:
                    known[key] = self.likelihood(reading, a, b, wrong_share=wrong_share)
                found[a, b] = known[key]
        return found

    def _looks(self, reading: Reading, a: int, b: int) -> tuple[object, ...]:
        """What of two states a reading can tell, for the positions noted and all that were not."""
        looks: list[tuple[object, object]] = []
        for at in self._completions(a, b, reading.switches):
            at_a, at_b = at[states.gang_of(a)], at[states.gang_of(b)]
            if reading.v is not None:
                looks.append((self.potential(a, at_a, reading.supply_on), self.potential(b, at_b, reading.supply_on)))
            else:
                looks.append((self.net(a, at_a, _UNUSED_A), self.net(b, at_b, _UNUSED_B)))
        return tuple(looks)

    def _one(self, reading: Reading, a: int, b: int, at_a: Positions, at_b: Positions) -> float:
        if reading.v is not None:
            mixture = potentials.voltage(
                self.potential(a, at_a, reading.supply_on),
                self.potential(b, at_b, reading.supply_on),
                reading.is_low_impedance,
            )
            return potentials.voltage_density(mixture, reading.v / self.v_rms)
        return self._continuity(a, b, at_a, at_b)[potentials.ohm_bin(reading.r_ohm)]

    def _continuity(self, a: int, b: int, at_a: Positions, at_b: Positions) -> tuple[float, float, float]:
        net_a, lamp_a = self.net(a, at_a, _UNUSED_A)
        net_b, lamp_b = self.net(b, at_b, _UNUSED_B)
        return potentials.continuity_bins(net_a, net_b, lamp_a or lamp_b)

    def outcome_bins(self, reading: Reading, a: int, b: int) -> FloatArray:
        """Probability of each outcome class of a reading that is only thought of."""
        key = (a, b, reading.supply_on, reading.is_low_impedance, self._noted(reading, a), self._noted(reading, b))
        if (known := self._bins.get(key)) is not None:
            return known
        shapes = []
        for at in self._completions(a, b, reading.switches):
            at_a, at_b = at[states.gang_of(a)], at[states.gang_of(b)]
            if reading.supply_on:
                mixture = potentials.voltage(
                    self.potential(a, at_a, True), self.potential(b, at_b, True), reading.is_low_impedance
                )
                shapes.append(potentials.voltage_bins(mixture))
            else:
                shapes.append(self._continuity(a, b, at_a, at_b))
        found: FloatArray = np.mean(np.array(shapes), axis=0)
        self._bins[key] = found
        return found

    def _noted(self, reading: Reading, state: int) -> tuple[Position | None, Position | None] | None:
        """Positions of the switches of a state's gang."""
        gang = states.gang_of(state)
        return None if gang is None else (reading.switches.get(str(gang)), reading.switches.get(f"{gang}:other"))

    def states_at(self, end: str) -> tuple[int | None, int | None]:
        """Node index of an end, or the state of a known point."""
        if end in {reference.value for reference in Reference}:
            return None, reference_state(end)
        return self.box.node_of(end), None
