"""A recorded stretch of the march with names for its rows, and what is read from it."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ember_core.loop import Loop
from ember_core.offstate import meters
from ember_core.offstate.meters import Of, Whole
from ember_core.offstate.network import Floats, Network, Tables
from ember_core.offstate.ptc import settled_resistance_ohm
from ember_core.offstate.results import Shares, Waveforms
from ember_core.parts import ActiveBypass, CapacitorBypass, PtcBypass, ResistorBypass

# Enough to draw a cycle.
WAVEFORM_POINTS = 400
# A loop that takes less real power than this share of its apparent power is judged against that share.
REACTIVE_FLOOR_RATIO = 0.01


# As `meters.read` gives it.
Read = tuple[Floats, Floats, Floats, Floats]
# As it takes it.
Metered = tuple[Tables, Floats, Floats, Floats, Floats, Floats, float]


class Readings(ABC):
    """What meters read of a stretch of the march."""

    @property
    @abstractmethod
    def _read(self) -> Read:
        """See `meters.read`."""

    def whole(self, one: Whole) -> float:
        """What is read of the loop."""
        return float(self._read[0][one])

    def of(self, row: int, one: Of) -> float:
        """What is read of one branch of a row."""
        return float(self._read[1][row, one])

    def bypass_i_rms_a(self, k: int) -> float:
        """Rms current of an entry of the bypass table [A]."""
        return float(self._read[2][k])

    def lamp_i_rms_a(self, lamp: int) -> float:
        """Rms current of a whole lamp group, its input capacitor included [A]."""
        return float(self._read[3][lamp])


@dataclass(frozen=True, slots=True)
class Noted(Readings):
    """Readings of a stretch that is not kept."""

    noted: Read

    @property
    def _read(self) -> Read:
        return self.noted


class Recording(Readings):
    """A record of `kernel.march`.

    Parameters
    ----------
    network : what was marched.
    record : see `kernel.march`.
    v_before, vs_before : node and supply voltage before the first step [V].
    dt_s : step [s].
    """

    def __init__(self, network: Network, record: Floats, v_before: float, vs_before: float, dt_s: float) -> None:
        self.network = network
        self.record = record
        self.dt_s = dt_s
        self.v_supply = record[0]
        self.v = record[1]
        self.i_line = record[2]
        self.v_before = v_before
        self.vs_before = vs_before

    def part(self, first: int, end: int) -> Recording:
        """Some steps of it, from the first up to the end."""
        before, vs_before = (self.v[first - 1], self.v_supply[first - 1]) if first else (self.v_before, self.vs_before)
        return Recording(self.network, self.record[:, first:end], float(before), float(vs_before), self.dt_s)

    def cycle(self) -> Recording:
        """The whole cycle, of a settled half-cycle from the rising zero: every law is odd."""
        signs = np.ones((self.record.shape[0], 1))
        signs[:3] = -1.0
        n = self.network.branches.shape[0]
        for k in range(n):
            signs[3 + 4 * k] = signs[6 + 4 * k] = -1.0
        signs[3 + 4 * n :] = -1.0
        whole = np.hstack([self.record, signs * self.record])
        return Recording(self.network, whole, self.v_before, self.vs_before, self.dt_s)

    @cached_property
    def metered(self) -> Metered:
        """It as `meters` take it."""
        network = self.network
        return (
            network.tables,
            np.array(network.lamp_row, dtype=np.float64),
            np.array(network.lamp_g),
            np.array(network.lamp_c_x),
            self.record,
            np.array([self.v_before, self.vs_before]),
            self.dt_s,
        )

    @cached_property
    def _read(self) -> Read:
        found: Read = meters.read(*self.metered)
        return found

    @property
    def energy_balance_ratio(self) -> float:
        """(Source work - heat - stand-by power) over source work [1].

        Where the loop takes almost only reactive power, over a hundredth of its apparent power. Heat is
        counted part by part from voltages and currents, not from terminal powers, so that it says
        something. What is left is what the time step itself lost.
        """
        source_w = self.whole(Whole.SOURCE_W)
        apparent_va = self.whole(Whole.SUPPLY_RMS) * self.whole(Whole.LINE_RMS)
        return (source_w - self.whole(Whole.SPENT_W)) / max(source_w, REACTIVE_FLOOR_RATIO * apparent_va, 1e-15)

    def reservoir(self, row: int) -> Floats:
        """Reservoir voltage of a row, step by step [V]."""
        return self.record[4 + 4 * row]

    def drawn(self, row: int) -> Floats:
        """Current drawn by the load of a row, step by step [A]."""
        return self.record[5 + 4 * row]


def shares(loop: Loop, recording: Recording, ptc_v_rms: float) -> Shares:
    """Rms current of each branch that is no lamp group."""
    v_rms = recording.whole(Whole.V_RMS)
    table_index = 0
    bypass = []
    for part in loop.bypass:
        if isinstance(part, (CapacitorBypass, ActiveBypass)):
            bypass.append(recording.bypass_i_rms_a(table_index))
            table_index += 1
        elif isinstance(part, ResistorBypass):
            bypass.append(v_rms / part.r_ohm)
        elif isinstance(part, PtcBypass):
            bypass.append(v_rms / settled_resistance_ohm(part, ptc_v_rms))
    return Shares(
        across_a=recording.whole(Whole.ACROSS_RMS),
        cable_a=loop.cable.c_switched_to_neutral_f * recording.whole(Whole.SLOPE_RMS),
        meter_a=0.0 if loop.meter_r_ohm is None else v_rms / loop.meter_r_ohm,
        bypass_a=tuple(bypass),
    )


def waveforms(recording: Recording, *, is_half: bool) -> Waveforms:
    """A recorded cycle as arrays to draw.

    Parameters
    ----------
    is_half : it is the settled half-cycle from the rising zero, which the one after it mirrors.
    """
    points = WAVEFORM_POINTS // 2 if is_half else WAVEFORM_POINTS
    stride = max(1, recording.v.size // points)
    drawn = meters.thinned(*recording.metered, stride, is_half)
    return Waveforms(
        t_s=np.arange(1, drawn.shape[1] + 1) * (stride * recording.dt_s),
        v_supply_v=drawn[0],
        v_lamp_v=drawn[1],
        i_line_a=drawn[2],
        i_lamps_a=drawn[3],
    )
