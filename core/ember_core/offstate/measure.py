"""Figures read from a recorded stretch of the march."""

from __future__ import annotations

import numpy as np

from ember_core.loop import Loop
from ember_core.offstate.network import BRIDGE, BypassCol, Col, Floats, LinCol, Network
from ember_core.offstate.ptc import settled_resistance_ohm
from ember_core.offstate.results import Shares, Waveforms
from ember_core.parts import ActiveBypass, CapacitorBypass, PtcBypass, ResistorBypass

# Enough to draw a cycle.
WAVEFORM_POINTS = 400
# A loop that takes less real power than this share of its apparent power is judged against that share.
REACTIVE_FLOOR_RATIO = 0.01


def rms(values: Floats) -> float:
    """Root mean square."""
    return float(np.sqrt(np.mean(values * values)))


class Recording:
    """A record of `kernel.march` with names for its columns.

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

    @property
    def dv_dt(self) -> Floats:
        """Slope of the node voltage [V/s]."""
        return np.diff(self.v, prepend=self.v_before) / self.dt_s

    @property
    def du_dt(self) -> Floats:
        """Slope of the voltage across the control [V/s]."""
        return np.diff(self.v_supply - self.v, prepend=self.vs_before - self.v_before) / self.dt_s

    def current(self, row: int) -> Floats:
        """Current of one branch of a row [A]."""
        return self.record[3 + 4 * row]

    def reservoir(self, row: int) -> Floats:
        """Reservoir voltage of a row [V]."""
        return self.record[4 + 4 * row]

    def drawn(self, row: int) -> Floats:
        """Current drawn by the load of a row [A]."""
        return self.record[5 + 4 * row]

    def series_voltage(self, row: int) -> Floats:
        """Voltage of the series capacitor of a row [V]."""
        return self.record[6 + 4 * row]

    def bypass_current(self, k: int) -> Floats:
        """Current of an entry of the bypass table [A]."""
        return self.record[3 + 4 * self.network.branches.shape[0] + k]

    def string_current(self, row: int) -> Floats:
        """Current of the LED string or shunt regulator of a row, rectified [A]."""
        columns = self.network.branches[row]
        if columns[Col.C_RES] == 0.0:
            return np.abs(self.current(row))
        return np.maximum(0.0, self.reservoir(row) - columns[Col.V_STRING]) / columns[Col.R_STRING]

    def lamp_current(self, lamp: int) -> Floats:
        """Current of a whole lamp group, its input capacitor included [A]."""
        row = self.network.lamp_row[lamp]
        total = self.network.lamp_c_x[lamp] * self.dv_dt + self.network.lamp_g[lamp] * self.v
        if row >= 0:
            total = total + self.network.branches[row, Col.COUNT] * self.current(row)
        return total


def shares(loop: Loop, recording: Recording, ptc_v_rms: float) -> Shares:
    """Rms current of each branch that is no lamp group."""
    network, v = recording.network, recording.v
    table_index = 0
    bypass = []
    for part in loop.bypass:
        if isinstance(part, (CapacitorBypass, ActiveBypass)):
            bypass.append(rms(recording.bypass_current(table_index)))
            table_index += 1
        elif isinstance(part, ResistorBypass):
            bypass.append(rms(v) / part.r_ohm)
        elif isinstance(part, PtcBypass):
            bypass.append(rms(v) / settled_resistance_ohm(part, ptc_v_rms))
    across = network.linear[LinCol.C_ACROSS] * recording.du_dt
    across = across + network.linear[LinCol.G_ACROSS] * (recording.v_supply - v)
    return Shares(
        across_a=rms(across),
        cable_a=rms(loop.cable.c_switched_to_neutral_f * recording.dv_dt),
        meter_a=0.0 if loop.meter_r_ohm is None else rms(v) / loop.meter_r_ohm,
        bypass_a=tuple(bypass),
    )


def energy_balance_ratio(recording: Recording) -> float:
    """(Source work - heat - stand-by power) over source work in the recorded cycle [1].

    Where the loop takes almost only reactive power, over a hundredth of its apparent power. Heat is
    counted part by part from voltages and currents, not from terminal powers, so that it says
    something. What is left is what the time step itself lost.
    """
    network, v = recording.network, recording.v
    source_w = float(np.mean(recording.v_supply * recording.i_line))
    spent = network.linear[LinCol.G_DOWN] * v * v
    spent = spent + network.linear[LinCol.G_ACROSS] * (recording.v_supply - v) ** 2
    for k, columns in enumerate(network.bypass):
        i = recording.bypass_current(k)
        if columns[BypassCol.IS_ACTIVE]:
            spent = spent + v * i
        else:
            v_c = v - columns[BypassCol.R_SERIES] * i
            spent = spent + columns[BypassCol.R_SERIES] * i * i + columns[BypassCol.G_PARALLEL] * v_c * v_c
    for row, columns in enumerate(network.branches):
        spent = spent + columns[Col.COUNT] * _branch_heat(recording, row, columns)
    apparent_va = rms(recording.v_supply) * rms(recording.i_line)
    return (source_w - float(np.mean(spent))) / max(source_w, REACTIVE_FLOOR_RATIO * apparent_va, 1e-15)


def _branch_heat(recording: Recording, row: int, columns: Floats) -> Floats:
    """Heat and load power of one lamp or feed at each step [W]."""
    i = recording.current(row)
    string = recording.string_current(row)
    heat = columns[Col.R_IN] * i * i + BRIDGE.drop_v(i) * np.abs(i)
    heat = heat + columns[Col.G_SERIES] * recording.series_voltage(row) ** 2
    if columns[Col.C_RES] > 0.0:
        held = recording.reservoir(row)
        return heat + columns[Col.G_DRAIN] * held**2 + (recording.drawn(row) + string) * held
    limited = columns[Col.I_LIMIT] > 0.0 and bool(np.any(string >= columns[Col.I_LIMIT]))
    if limited:
        # A regulator takes what its string leaves of the terminal voltage.
        return np.abs(recording.v * i)
    return heat + (columns[Col.V_STRING] + columns[Col.R_STRING] * string) * string


def waveforms(recording: Recording) -> Waveforms:
    """The recorded cycle as arrays to draw."""
    lamps = np.zeros_like(recording.v)
    for lamp in range(len(recording.network.lamp_row)):
        lamps = lamps + recording.lamp_current(lamp)
    stride = max(1, recording.v.size // WAVEFORM_POINTS)
    thinned = slice(stride - 1, None, stride)
    return Waveforms(
        t_s=(np.arange(1, recording.v.size + 1) * recording.dt_s)[thinned],
        v_supply_v=recording.v_supply[thinned].copy(),
        v_lamp_v=recording.v[thinned].copy(),
        i_line_a=recording.i_line[thinned].copy(),
        i_lamps_a=lamps[thinned],
    )
