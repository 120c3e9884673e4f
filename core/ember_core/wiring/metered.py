"""A wiring as a meter finds it: what it would read between two conductors of a box.

Conductors that run in one cable are coupled by capacitance, lamps are a resistance with a capacitance, the meter is
a resistance. Solved by phasors at the supply frequency. It knows nothing of how roles are inferred, so it can be
the referee of that, and answer for the simulated meter.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import pi

from ember_core.errors import InputError
from ember_core.wiring.network import Network

GROUND = "earth"
LINE = "line"
NEUTRAL = "neutral"
# Neighbouring cores of one cable, 100 to 150 pF a metre.
CORE_CAPACITANCE_F_PER_M = 1.2e-10
_JOINED_S = 1e3  # a closed contact or a joint
_LEAK_S = 1e-11  # insulation: keeps a free conductor from being undefined
_TEST_CURRENT_A = 1e-3
OPEN_OHM = 2e7


@dataclass(frozen=True, slots=True, kw_only=True)
class Wiring:
    """What is really connected to what.

    Parameters
    ----------
    point_of : net of each conductor as parted: `line`, `neutral`, `earth`, or any other name (lamps, travellers,
        foreign circuits, free ends).
    cables : conductors that run side by side, with the length of that run [m].
    lamps : for each net that goes to lamps: their resistance [Ω] and capacitance [F] to neutral.
    to_line : the same for lamps that hang on the line instead: their switch stands in the neutral.
    sources : nets held at a voltage against earth [V, complex phasor]; `line` is set by the supply.
    bonds : pairs of nets joined somewhere outside the box with this resistance [Ω].
    """

    point_of: Mapping[str, str]
    cables: Sequence[tuple[Sequence[str], float]] = ()
    lamps: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    to_line: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    sources: Mapping[str, complex] = field(default_factory=dict)
    bonds: Sequence[tuple[str, str, float]] = ()

    def point(self, end: str) -> str:
        """Net of a conductor, or the net of that name."""
        return self.point_of.get(end, end)


def _built(wiring: Wiring, closures: Sequence[tuple[str, str]], extra: Sequence[str], f_hz: float) -> Network:
    nets = {wiring.point(end) for end in (*wiring.point_of, *extra)} | {LINE, NEUTRAL}
    nets |= set(wiring.lamps) | set(wiring.to_line) | set(wiring.sources)
    nets |= {name for a, b, _ in wiring.bonds for name in (a, b)}
    nets |= {wiring.point(end) for pair in closures for end in pair}
    network = Network(nets | {GROUND}, leak_s=_LEAK_S)
    for a, b in closures:
        network.admittance(wiring.point(a), wiring.point(b), _JOINED_S)
    for far_end, hanging in ((NEUTRAL, wiring.lamps), (LINE, wiring.to_line)):
        for name, (r_ohm, c_f) in hanging.items():
            network.admittance(name, far_end, 1.0 / r_ohm + 2j * pi * f_hz * c_f)
    for a, b, r_ohm in wiring.bonds:
        network.admittance(a, b, 1.0 / r_ohm)
    for cores, length_m in wiring.cables:
        for k, a in enumerate(cores):
            for b in cores[k + 1 :]:
                coupling = 2j * pi * f_hz * CORE_CAPACITANCE_F_PER_M * length_m
                network.admittance(wiring.point(a), wiring.point(b), coupling)
    return network


def read_voltage(
    wiring: Wiring,
    closures: Sequence[tuple[str, str]],
    ends: tuple[str, str],
    *,
    v_rms: float,
    f_hz: float,
    meter_r_ohm: float,
    supply_on: bool = True,
) -> float:
    """Voltage rms that a meter reads between two ends [V].

    Parameters
    ----------
    closures : pairs of ends that switches join at this moment.
    ends : conductors or nets. v_rms [V], f_hz [Hz] : the supply. meter_r_ohm [Ω] : the meter's input.

    Raises
    ------
    InputError : the meter's resistance is not positive. SolverError : the network has no solution.
    """
    if meter_r_ohm <= 0.0:
        raise InputError("out_of_bounds", path="meter_r_ohm", value=meter_r_ohm, low=1.0, high=1e9, unit="Ω")
    network = _built(wiring, closures, ends, f_hz)
    held = dict(wiring.sources)
    held.setdefault(NEUTRAL, 0.0)
    if supply_on:
        held[LINE] = complex(v_rms)
    a, b = (wiring.point(end) for end in ends)
    network.admittance(a, b, 1.0 / meter_r_ohm)
    found = network.solve({**held, GROUND: 0.0})
    return abs(found[a] - found[b])


def read_resistance(wiring: Wiring, closures: Sequence[tuple[str, str]], ends: tuple[str, str]) -> float | None:
    """Resistance between two ends with everything dead [Ω]; None when it is open."""
    network = _built(wiring, closures, ends, 0.0)
    a, b = (wiring.point(end) for end in ends)
    if a == b:
        return 0.0
    network.inject(a, _TEST_CURRENT_A)
    network.inject(b, -_TEST_CURRENT_A)
    found = network.solve({GROUND: 0.0})
    r_ohm = abs(found[a] - found[b]) / _TEST_CURRENT_A
    return None if r_ohm > OPEN_OHM else r_ohm
