"""What a reading looks like between two points of known kind, as a probability.

A reading is a mixture of a few plain shapes in v / supply volts. The widths are engineering assumptions:
supply within 6 % (one standard deviation), a neutral within a few volts of earth, a floating conductor beside
live ones anywhere up to nearly the supply on 10 MΩ (capacitance between cores, some 100 pF a metre)
and up to half of it on long cables at some 400 kΩ. Lamps that block leave their terminal half floating.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum
from functools import cache
from itertools import pairwise
from math import erf, exp, inf, pi, sqrt

from ember_core.survey.readings import CLOSED_OHM, LOAD_OHM

# Share of readings that are simply wrong. Most of those show nothing (open lead, flat battery, breaker off after
# all), the others anything (wrong conductor, misread scale): so a reading of nothing proves less than one of mains.
WRONG_SHARE = 0.01
V_BINS = (0.0, 0.05, 0.2, 0.75, 1.3, inf)


class Potential(IntEnum):
    """Kind of a point while the supply is on, or off."""

    MAINS = 0
    ZERO = 1  # neutral, earth
    VIA_LAMP = 2  # held only through the lamps
    FLOATING = 3
    OTHER_MAINS = 4  # of another circuit, perhaps of another phase
    LIVE_VIA_LAMP = 5  # held at the mains only through the lamps: a switch in the neutral, off


@dataclass(frozen=True, slots=True)
class Shape:
    """One piece of a mixture over x = v / v_supply: normal, half normal from 0, uniform, or exponential."""

    weight: float
    kind: str
    at: float
    width: float

    def density(self, x: float) -> float:
        """Probability density at x."""
        match self.kind:
            case "normal":
                return exp(-0.5 * ((x - self.at) / self.width) ** 2) / (self.width * sqrt(2.0 * pi))
            case "half_normal":
                return 2.0 * exp(-0.5 * (x / self.width) ** 2) / (self.width * sqrt(2.0 * pi))
            case "exponential":
                return exp(-x / self.width) / self.width
        return 1.0 / (self.width - self.at) if self.at <= x <= self.width else 0.0

    def below(self, x: float) -> float:
        """Probability of a reading below x."""
        if x == inf:
            return 1.0
        match self.kind:
            case "normal":
                return 0.5 * (1.0 + erf((x - self.at) / (self.width * sqrt(2.0))))
            case "half_normal":
                return erf(x / (self.width * sqrt(2.0)))
            case "exponential":
                return 1.0 - exp(-x / self.width)
        return min(1.0, max(0.0, (x - self.at) / (self.width - self.at)))


Mixture = tuple[Shape, ...]
_MAINS: Mixture = (Shape(1.0, "normal", 1.0, 0.06),)
_ZERO: Mixture = (Shape(1.0, "half_normal", 0.0, 0.012),)
_GHOST: dict[bool, Mixture] = {
    False: (Shape(0.85, "uniform", 0.0, 0.95), Shape(0.15, "half_normal", 0.0, 0.02)),
    True: (Shape(0.7, "exponential", 0.0, 0.08), Shape(0.3, "uniform", 0.0, 0.75)),
}
_LAMP: dict[bool, Mixture] = {
    False: (Shape(0.5, "half_normal", 0.0, 0.03), Shape(0.5, "uniform", 0.0, 0.72)),
    True: (Shape(0.6, "exponential", 0.0, 0.05), Shape(0.4, "uniform", 0.0, 0.6)),
}
# Supply less what stands at the lamps.
_LIVE_TO_LAMP: dict[bool, Mixture] = {
    False: (Shape(0.5, "normal", 1.0, 0.07), Shape(0.5, "uniform", 0.3, 1.0)),
    True: (Shape(0.5, "normal", 0.97, 0.08), Shape(0.5, "uniform", 0.3, 1.0)),
}
# Two circuits of one box are mostly of one phase, and then nothing stands between their lives, as between two ends of
# one [assumption]: hardly anything to tell them apart by.
_PHASES: Mixture = (
    Shape(0.9, "half_normal", 0.0, 0.012),
    Shape(0.06, "normal", 1.73, 0.1),
    Shape(0.04, "normal", 2.0, 0.1),
)
_ANYTHING: Mixture = (Shape(0.5, "uniform", 0.0, 0.9), Shape(0.5, "half_normal", 0.0, 0.03))
_WRONG: Mixture = (Shape(0.6, "half_normal", 0.0, 0.012), Shape(0.4, "uniform", 0.0, 2.3))


@cache
def voltage(a: Potential, b: Potential, is_low_impedance: bool) -> Mixture:
    """The shapes of a reading between two points, wrong readings not counted."""
    pair = tuple(sorted((a, b)))
    mains, zero, lamp, floating, other, live_lamp = Potential
    # Seen from the other conductor of the supply, lamps to the live are what lamps to neutral are.
    mirrored = {(mains, live_lamp): (zero, lamp), (zero, live_lamp): (mains, lamp)}
    pair = mirrored.get((pair[0], pair[1]), pair)
    if pair in ((mains, mains), (zero, zero)):
        return _ZERO
    if pair in ((mains, zero), (zero, other)):
        return _MAINS
    if pair in ((mains, other), (other, other)):
        return _PHASES
    if pair == (zero, lamp):
        return _LAMP[is_low_impedance]
    if pair in ((mains, lamp), (lamp, other)):
        return _LIVE_TO_LAMP[is_low_impedance]
    if floating in pair and pair not in ((lamp, floating), (floating, floating)):
        return _GHOST[is_low_impedance]
    return _ANYTHING


def voltage_density(mixture: Mixture, x: float) -> float:
    """Density of a reading x = v / v_supply, wrong readings not counted."""
    return sum(shape.weight * shape.density(x) for shape in mixture)


def with_wrong(density: float, x: float, share: float = WRONG_SHARE) -> float:
    """The same with the share of wrong readings."""
    return (1.0 - share) * density + share * wrong_density(x)


def wrong_density(x: float) -> float:
    """Density of a reading that means nothing."""
    return voltage_density(_WRONG, x)


@cache
def voltage_bins(mixture: Mixture) -> tuple[float, ...]:
    """Probability of each of `V_BINS`."""
    return tuple(
        sum(shape.weight * (shape.below(high) - shape.below(low)) for shape in mixture)
        for low, high in pairwise(V_BINS)
    )


class Net(IntEnum):
    """Which net a point belongs to while everything is dead; travellers and switched lives get numbers above."""

    LINE = 0
    NEUTRAL = 1
    EARTH = 2
    FOREIGN_NEUTRAL = 3
    FOREIGN_LIVE = 4
    EARTH_ALONE = 5  # earth, with every pole of the installation isolated: no neutral is joined to it
    NEUTRAL_LIFTED = 6  # this circuit's neutral, taken off the board's bar: joined to no earth and no other neutral
    FIRST_OTHER = 7


# Closed, through a load, open. Neutral and earth are joined somewhere upstream unless every pole is isolated.
_SAME = (0.99, 0.008, 0.002)
_BONDED = (0.8, 0.05, 0.15)
_THROUGH_LOAD = (0.01, 0.34, 0.65)
_APART = (0.004, 0.016, 0.98)


@cache
def continuity_bins(a: int, b: int, has_lamp: bool) -> tuple[float, float, float]:
    """Probability of closed, through a load, and open between two nets.

    Parameters
    ----------
    has_lamp : one of the two is a net that goes on to the lamps.
    """
    pair = {a, b}
    if a == b or pair == {Net.EARTH, Net.EARTH_ALONE}:
        return _SAME
    if pair == {Net.NEUTRAL, Net.NEUTRAL_LIFTED}:
        return _SAME
    if Net.EARTH_ALONE in pair or (Net.NEUTRAL_LIFTED in pair and not (Net.LINE in pair or has_lamp)):
        return _APART
    if Net.EARTH in pair and pair & {Net.NEUTRAL, Net.FOREIGN_NEUTRAL}:
        return _BONDED
    if pair & {Net.NEUTRAL, Net.NEUTRAL_LIFTED, Net.EARTH} and (Net.LINE in pair or has_lamp):
        return _THROUGH_LOAD
    if pair == {Net.FOREIGN_LIVE, Net.FOREIGN_NEUTRAL} or (Net.LINE in pair and has_lamp):
        return _THROUGH_LOAD
    return _APART


def ohm_bin(r_ohm: float | None) -> int:
    """Closed (0), through a load (1), open (2)."""
    if r_ohm is None or r_ohm >= LOAD_OHM:
        return 2
    return 0 if r_ohm < CLOSED_OHM else 1
