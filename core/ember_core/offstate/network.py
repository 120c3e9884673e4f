"""From the parts of a loop to the tables of numbers that the kernel marches.

Every part that rectifies has the same shape: an optional series capacitor, a resistance, a bridge, an
optional reservoir, and loads on the reservoir. So one table row describes a lamp group as well as a
stand-by feed, and a new lamp input stage is one more function here.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import IntEnum
from functools import singledispatch
from math import pi
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from ember_core.loop import Loop
from ember_core.offstate.ptc import settled_resistance_ohm
from ember_core.parts import (
    ActiveBypass,
    CapacitiveDropperLamp,
    CapacitiveFeed,
    CapacitorBypass,
    FilamentLamp,
    IronCoreTransformerLamp,
    LinearLamp,
    PtcBypass,
    RectifierLamp,
    ResistorBypass,
    SwitchingFeed,
)

Floats = npt.NDArray[np.floating[Any]]
Indices = npt.NDArray[np.int64]

# Two silicon junctions in series at 0.01 to 3 mA, as one number for closed forms and first guesses.
V_BRIDGE = 1.0


@dataclass(frozen=True, slots=True)
class BridgeLaw:
    """Drop of a bridge (two junctions in series) as three straight pieces of voltage over current.

    Fits V = 2·n·V_T·ln(1 + i/I_s) with n = 1.8, I_s = 1 nA within 0.15 V from 0.5 µA to 10 mA. The
    first piece matters where lamps sit at a few volts, the last where charging pulses are short.

    Parameters
    ----------
    v1 : voltage from which it conducts [V]; r1 : slope of the first piece [Ω], up to current i1 [A];
    r2 : slope of the second, up to i2; r3 : slope beyond.
    """

    v1: float = 0.62
    r1: float = 27e3
    i1: float = 12e-6
    r2: float = 300.0
    i2: float = 1e-3
    r3: float = 20.0

    @property
    def v2(self) -> float:
        """Where the second piece meets zero current [V]."""
        return self.v1 + (self.r1 - self.r2) * self.i1

    @property
    def v3(self) -> float:
        """Where the third piece meets zero current [V]."""
        return self.v2 + (self.r2 - self.r3) * self.i2


BRIDGE = BridgeLaw()
# Below its least voltage a converter does not stop like a switch; it throttles within about a volt.
KNEE_WIDTH_V = 1.0
# The constant-current load of a shunt-regulated feed fades out at about this reservoir voltage.
SHUNT_LOAD_KNEE_V = 2.0
SHUNT_LOAD_KNEE_WIDTH_V = 0.5
# Keeps the node defined when nothing else conducts.
G_MIN_S = 1e-9
# Leakage of a reservoir with no drain of its own: an electrolytic loses about 1 µA at 100 V.
G_LEAK_S = 1e-8
NO_STRING = 1e12


class Col(IntEnum):
    """Columns of the branch table; SI units."""

    ACROSS = 0  # 1: across the control (line to switched live); 0: switched live to neutral
    COUNT = 1  # equal branches in parallel
    C_SERIES = 2  # series capacitor, 0: none
    G_SERIES = 3  # conductance across the series capacitor
    R_IN = 4
    C_RES = 5  # reservoir, 0: none, the string follows the bridge directly
    G_DRAIN = 6  # conductance across the reservoir
    P_LOAD = 7  # constant power on the reservoir while it draws
    I_LOAD = 8  # constant current on the reservoir while it draws
    V_START = 9  # >0: draws from here ...
    V_STOP = 10  # ... down to here (hysteresis)
    V_KNEE = 11  # where V_START is 0: draws above this, fading within KNEE_WIDTH
    KNEE_WIDTH = 12
    V_STRING = 13  # string or shunt regulator: conducts above this
    R_STRING = 14
    I_LIMIT = 15  # limit of the string current where there is no reservoir


N_COLS = len(Col)


class LinCol(IntEnum):
    """Entries of the linear part: capacitances and conductances on both sides of the node."""

    C_ACROSS = 0
    G_ACROSS = 1
    C_DOWN = 2
    G_DOWN = 3


class BypassCol(IntEnum):
    """Columns of the table of bypasses that are no plain conductance."""

    IS_ACTIVE = 0
    C = 1
    G_PARALLEL = 2
    R_SERIES = 3
    I_LIMIT = 4
    R_ON = 5
    V_CUTOFF = 6


class Tables(NamedTuple):
    """What the kernel marches.

    Parameters
    ----------
    v_peak, f_hz : supply peak [V] and frequency [Hz].
    linear : see `LinCol`.
    bypass : (n, 7) see `BypassCol`.
    branches : (n, 16) see `Col`; the stand-by feed, if any, is the first row, the lamp groups follow.
    """

    v_peak: float
    f_hz: float
    linear: Floats
    bypass: Floats
    branches: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class Network:
    """A loop as tables, and what its rows are.

    Parameters
    ----------
    tables : see `Tables`.
    has_feed : whether row 0 is a stand-by feed.
    lamp_row : row of each lamp group, -1 for one that is a plain conductance.
    lamp_g, lamp_c_x : conductance [S] and input capacitance [F] of each group as a whole.
    """

    tables: Tables
    has_feed: bool
    lamp_row: tuple[int, ...]
    lamp_g: tuple[float, ...]
    lamp_c_x: tuple[float, ...]

    @property
    def v_peak(self) -> float:
        """Supply peak [V]."""
        return self.tables.v_peak

    @property
    def f_hz(self) -> float:
        """Supply frequency [Hz]."""
        return self.tables.f_hz

    @property
    def linear(self) -> Floats:
        """See `LinCol`."""
        return self.tables.linear

    @property
    def bypass(self) -> Floats:
        """See `BypassCol`."""
        return self.tables.bypass

    @property
    def branches(self) -> Floats:
        """See `Col`."""
        return self.tables.branches

    @property
    def has_gate(self) -> bool:
        """Whether a bleeder opens above its cut-off."""
        return any(self.tables.bypass[:, BypassCol.IS_ACTIVE].tolist())

    def startable(self) -> tuple[int, ...]:
        """Rows of the lamp groups that start at a threshold."""
        return tuple(row for row in self.lamp_row if row >= 0 and self.tables.branches[row, Col.V_START] > 0.0)

    def with_branches(self, branches: Floats) -> Network:
        """The same loop with another branch table."""
        return replace(self, tables=self.tables._replace(branches=branches))

    def with_peak(self, v_peak: float) -> Network:
        """The same loop on a supply of another peak [V]."""
        return replace(self, tables=self.tables._replace(v_peak=v_peak))


@dataclass(slots=True)
class LampStage:
    """What one lamp group puts at the terminals: a row of the branch table, input capacitance, conductance."""

    row: Row | None = None
    c_x_f: float = 0.0
    g_s: float = 0.0


# What a branch has that says nothing else.
_PLAIN = {**dict.fromkeys((col.name for col in Col), 0.0), "V_STRING": NO_STRING, "R_STRING": 1.0} | {
    "KNEE_WIDTH": KNEE_WIDTH_V
}
# A row of the branch table before there is one.
Row = list[float]


def _row(**columns: float) -> Row:
    row = _PLAIN | columns
    if row["C_RES"] > 0.0:
        row["G_DRAIN"] = max(row["G_DRAIN"], G_LEAK_S)
    return [*row.values()]


def _conductance(r_ohm: float | None) -> float:
    return 0.0 if r_ohm is None else 1.0 / r_ohm


@singledispatch
def lamp_stage(lamp: object, f_hz: float) -> LampStage:
    """The stage of a lamp group on a line frequency; register a function here for each new lamp input stage."""
    raise TypeError(f"no off-state model for {type(lamp).__name__}")


@lamp_stage.register
def _(lamp: RectifierLamp, f_hz: float) -> LampStage:
    row = _row(
        COUNT=lamp.count,
        R_IN=lamp.r_in_ohm,
        C_RES=lamp.c_bulk_f,
        G_DRAIN=_conductance(lamp.r_start_ohm),
        P_LOAD=lamp.p_run_w,
        V_START=lamp.v_start_v,
        V_STOP=lamp.v_stop_v,
    )
    return LampStage(row=row, c_x_f=lamp.count * lamp.c_x_f)


@lamp_stage.register
def _(lamp: CapacitiveDropperLamp, f_hz: float) -> LampStage:
    return LampStage(
        row=_row(
            COUNT=lamp.count,
            C_SERIES=lamp.c_series_f,
            G_SERIES=_conductance(lamp.r_discharge_ohm),
            R_IN=lamp.r_in_ohm,
            C_RES=lamp.c_smooth_f,
            G_DRAIN=_conductance(lamp.r_string_parallel_ohm),
            V_STRING=lamp.v_string_v,
            R_STRING=lamp.r_string_ohm,
        )
    )


@lamp_stage.register
def _(lamp: LinearLamp, f_hz: float) -> LampStage:
    row = _row(
        COUNT=lamp.count,
        R_IN=lamp.r_in_ohm,
        V_STRING=lamp.v_string_v,
        R_STRING=0.0,
        I_LIMIT=lamp.i_limit_a or 0.0,
    )
    return LampStage(row=row, c_x_f=lamp.count * lamp.c_x_f)


@lamp_stage.register
def _(lamp: FilamentLamp, f_hz: float) -> LampStage:
    return LampStage(g_s=lamp.count / lamp.r_cold_ohm)


@lamp_stage.register
def _(lamp: IronCoreTransformerLamp, f_hz: float) -> LampStage:
    """Its impedance as a resistance: kilohms at most, against the hundred kilohms of an open control, so that only its
    size matters and not its angle."""
    x = 2.0 * pi * f_hz * lamp.l_magnetising_h
    r = lamp.r_load_cold_ohm
    behind = 1j * x if r is None else 1j * x * r / (r + 1j * x)
    return LampStage(g_s=lamp.count / abs(lamp.r_winding_ohm + behind))


@singledispatch
def feed_row(feed: object) -> Row:
    """The branch row of a stand-by feed."""
    raise TypeError(f"no off-state model for {type(feed).__name__}")


@feed_row.register
def _(feed: SwitchingFeed) -> Row:
    return _row(
        ACROSS=1.0,
        COUNT=1.0,
        R_IN=feed.r_in_ohm,
        C_RES=feed.c_reservoir_f,
        G_DRAIN=_conductance(feed.r_reservoir_ohm),
        P_LOAD=feed.p_w,
        V_KNEE=feed.v_min_v,
    )


@feed_row.register
def _(feed: CapacitiveFeed) -> Row:
    return _row(
        ACROSS=1.0,
        COUNT=1.0,
        C_SERIES=feed.c_series_f,
        G_SERIES=_conductance(feed.r_discharge_ohm),
        R_IN=feed.r_in_ohm,
        C_RES=feed.c_reservoir_f,
        I_LOAD=feed.i_a,
        V_KNEE=SHUNT_LOAD_KNEE_V,
        KNEE_WIDTH=SHUNT_LOAD_KNEE_WIDTH_V,
        V_STRING=feed.v_shunt_v,
        R_STRING=feed.r_shunt_ohm,
    )


def build(loop: Loop, *, ptc_v_rms: float = 0.0) -> Network:
    """Tables for a loop.

    Parameters
    ----------
    ptc_v_rms : voltage across a PTC bypass [V], which sets its temperature; 0 for cold.
    """
    c_down, g_down = loop.cable.c_switched_to_neutral_f, G_MIN_S + _conductance(loop.meter_r_ohm)
    bypass_rows = []
    for part in loop.bypass:
        if isinstance(part, CapacitorBypass):
            row = [0.0, part.c_f, _conductance(part.r_parallel_ohm), part.r_series_ohm, 0.0, 1.0, 0.0]
            bypass_rows.append(row)
        elif isinstance(part, ActiveBypass):
            bypass_rows.append([1.0, 0.0, 0.0, 0.0, part.i_limit_a, part.r_on_ohm, part.v_cutoff_v])
        elif isinstance(part, ResistorBypass):
            g_down += 1.0 / part.r_ohm
        elif isinstance(part, PtcBypass):
            g_down += 1.0 / settled_resistance_ohm(part, ptc_v_rms)

    rows = [] if loop.control.standby is None else [feed_row(loop.control.standby)]
    has_feed = bool(rows)
    lamp_row = []
    stages = [lamp_stage(lamp, loop.supply.f_hz) for lamp in loop.lamps]
    for stage in stages:
        c_down += stage.c_x_f
        g_down += stage.g_s
        lamp_row.append(-1 if stage.row is None else len(rows))
        if stage.row is not None:
            rows.append(stage.row)
    # In the order of `LinCol`.
    linear = [
        loop.control.c_snubber_f + loop.cable.c_line_to_switched_f,
        _conductance(loop.control.r_leak_ohm),
        c_down,
        g_down,
    ]
    return Network(
        tables=Tables(
            v_peak=loop.supply.v_peak,
            f_hz=loop.supply.f_hz,
            linear=np.array(linear),
            bypass=np.array(bypass_rows, dtype=np.float64).reshape(-1, len(BypassCol)),
            branches=np.array(rows, dtype=np.float64).reshape(-1, N_COLS),
        ),
        has_feed=has_feed,
        lamp_row=tuple(lamp_row),
        lamp_g=tuple(stage.g_s for stage in stages),
        lamp_c_x=tuple(stage.c_x_f for stage in stages),
    )
