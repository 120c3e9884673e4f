"""Compiled meters: what a recorded stretch of the march reads on average, at its peak and as heat, in one pass."""

# Numba compiles this file; its decorators are untyped.
# mypy: disable-error-code="untyped-decorator"

from __future__ import annotations

from enum import IntEnum
from math import sqrt

import numpy as np

from ember_core.compiled import compiled
from ember_core.offstate.kernel import (
    BRIDGE_I1,
    BRIDGE_I2,
    BRIDGE_R1,
    BRIDGE_R2,
    BRIDGE_R3,
    BRIDGE_V1,
    BRIDGE_V2,
    BRIDGE_V3,
    C_RES,
    COUNT,
    G_DRAIN,
    G_SERIES,
    I_LIMIT,
    R_IN,
    R_STRING,
    V_STRING,
)
from ember_core.offstate.network import Floats, Tables


class Whole(IntEnum):
    """Read of the loop: rms [V, A], peak [V], rms slope of the node [V/s], work of the source and heat [W]."""

    V_RMS = 0
    V_PEAK = 1
    LINE_RMS = 2
    SUPPLY_RMS = 3
    ACROSS_RMS = 4  # snubber, leak and cable across the control
    SLOPE_RMS = 5
    SOURCE_W = 6
    SPENT_W = 7


class Of(IntEnum):
    """Read of one branch of a row: currents [A], voltages of its reservoir [V], powers [W]."""

    I_RMS = 0
    I_MEAN = 1  # of its size
    HELD_MEAN = 2
    HELD_LEAST = 3
    HELD_MOST = 4
    DRAWN_MEAN = 5
    DRAWN_W = 6
    STRING_MEAN = 7  # LED string or shunt regulator
    LIGHT_W = 8  # what the string takes
    HEAT_W = 9  # everything, what the load draws included


N_WHOLE, N_OF = len(Whole), len(Of)
# Compiled code wants plain numbers.
(V_RMS, V_PEAK, LINE_RMS, SUPPLY_RMS, ACROSS_RMS, SLOPE_RMS, SOURCE_W, SPENT_W) = (int(one) for one in Whole)
(I_RMS, I_MEAN, HELD_MEAN, HELD_LEAST, HELD_MOST, DRAWN_MEAN, DRAWN_W, STRING_MEAN, LIGHT_W, HEAT_W) = (
    int(one) for one in Of
)


@compiled
def bridge_drop_v(i_a: float) -> float:
    """Drop of a bridge at a current, whatever its sign [V]; see `network.BridgeLaw`."""
    i = abs(i_a)
    if i <= BRIDGE_I1:
        return BRIDGE_V1 + BRIDGE_R1 * i
    if i <= BRIDGE_I2:
        return BRIDGE_V2 + BRIDGE_R2 * i
    return BRIDGE_V3 + BRIDGE_R3 * i


@compiled
def read(
    tables: Tables, lamp_row: Floats, lamp_g: Floats, lamp_c_x: Floats, record: Floats, ends: Floats, dt_s: float
) -> tuple[Floats, Floats, Floats, Floats]:
    """Read a record of `kernel.march`.

    Parameters
    ----------
    lamp_row, lamp_g, lamp_c_x : of each lamp group, see `network.Network`.
    ends : node and supply voltage before the first step [V]. dt_s : step [s].

    Returns
    -------
    (`Whole`; (rows, `Of`); rms of each bypass of the table [A]; rms of each whole lamp group [A]).
    """
    linear, bypass, branches = tables.linear, tables.bypass, tables.branches
    n_branch, n_bypass, steps = branches.shape[0], bypass.shape[0], record.shape[1]
    whole, of = np.zeros(N_WHOLE), np.zeros((n_branch, N_OF))
    of_bypass, of_lamp = np.zeros(n_bypass), np.zeros(lamp_row.shape[0])
    share = 1.0 / steps
    v_before, vs_before = ends[0], ends[1]
    for j in range(steps):
        vs, v, i = record[0, j], record[1, j], record[2, j]
        dv, du = (v - v_before) / dt_s, (vs - v - vs_before + v_before) / dt_s
        v_before, vs_before = v, vs
        across = linear[0] * du + linear[1] * (vs - v)
        whole[V_RMS] += v * v
        whole[V_PEAK] = max(whole[V_PEAK], abs(v))
        whole[LINE_RMS] += i * i
        whole[SUPPLY_RMS] += vs * vs
        whole[ACROSS_RMS] += across * across
        whole[SLOPE_RMS] += dv * dv
        whole[SOURCE_W] += vs * i
        whole[SPENT_W] += linear[3] * v * v + linear[1] * (vs - v) * (vs - v)
        for k in range(n_bypass):
            i = record[3 + 4 * n_branch + k, j]
            of_bypass[k] += i * i
            if bypass[k, 0] != 0.0:
                whole[SPENT_W] += v * i
            else:
                v_c = v - bypass[k, 3] * i
                whole[SPENT_W] += bypass[k, 3] * i * i + bypass[k, 2] * v_c * v_c
        for k in range(lamp_row.shape[0]):
            i = lamp_c_x[k] * dv + lamp_g[k] * v
            row = int(lamp_row[k])
            if row >= 0:
                i += branches[row, COUNT] * record[3 + 4 * row, j]
            of_lamp[k] += i * i
    for one in (SOURCE_W, SPENT_W):
        whole[one] *= share
    for one in (V_RMS, LINE_RMS, SUPPLY_RMS, ACROSS_RMS, SLOPE_RMS):
        whole[one] = sqrt(whole[one] * share)
    for k in range(n_bypass):
        of_bypass[k] = sqrt(of_bypass[k] * share)
    for k in range(lamp_row.shape[0]):
        of_lamp[k] = sqrt(of_lamp[k] * share)
    for k in range(n_branch):
        _read_branch(branches[k], record[1], record[3 + 4 * k : 7 + 4 * k], of[k])
        whole[SPENT_W] += branches[k, COUNT] * of[k, HEAT_W]
    return whole, of, of_bypass, of_lamp


@compiled
def thinned(
    tables: Tables,
    lamp_row: Floats,
    lamp_g: Floats,
    lamp_c_x: Floats,
    record: Floats,
    ends: Floats,
    dt_s: float,
    stride: int,
    is_half: bool,
) -> Floats:
    """Every so many steps of a record, as `read` takes it, to be drawn.

    Parameters
    ----------
    stride : steps from one kept to the next. is_half : add what follows a settled half-cycle, its mirror image.

    Returns
    -------
    (4, points): supply voltage [V], node voltage [V], line current [A], current of all lamp groups together with their
    input capacitors [A].
    """
    count = record.shape[1] // stride
    found = np.empty((4, 2 * count if is_half else count))
    c_x, g = lamp_c_x.sum(), lamp_g.sum()
    for n in range(count):
        j = (n + 1) * stride - 1
        v, before = record[1, j], record[1, j - 1] if j > 0 else ends[0]
        lamps = c_x / dt_s * (v - before) + g * v
        for row in lamp_row:
            if row >= 0.0:
                lamps += tables.branches[int(row), COUNT] * record[3 + 4 * int(row), j]
        found[0, n], found[1, n], found[2, n], found[3, n] = record[0, j], v, record[2, j], lamps
    if is_half:
        found[:, count:] = -found[:, :count]
    return found


@compiled
def _read_branch(columns: Floats, v: Floats, record: Floats, of: Floats) -> None:
    """Read one branch, written into `of`; `record` has its current, reservoir, drawn current, series voltage."""
    steps = v.shape[0]
    has_reservoir = columns[C_RES] > 0.0
    most = 0.0
    of[HELD_LEAST] = 1e30 if has_reservoir else 0.0
    light = heat = limited = 0.0
    for j in range(steps):
        i, held, drawn, v_series = record[0, j], record[1, j], record[2, j], record[3, j]
        size = abs(i)
        of[I_RMS] += i * i
        of[I_MEAN] += size
        of[DRAWN_MEAN] += drawn
        of[DRAWN_W] += drawn * held
        heat += columns[R_IN] * i * i + bridge_drop_v(i) * size + columns[G_SERIES] * v_series * v_series
        if has_reservoir:
            string = max(0.0, held - columns[V_STRING]) / columns[R_STRING]
            of[HELD_MEAN] += held
            of[HELD_LEAST] = min(of[HELD_LEAST], held)
            of[HELD_MOST] = max(of[HELD_MOST], held)
            light += string * held
            heat += columns[G_DRAIN] * held * held + (drawn + string) * held
        else:
            string = size
            most = max(most, string)
            light += string * columns[V_STRING]
            heat += (columns[V_STRING] + columns[R_STRING] * string) * string
            limited += abs(v[j] * i)
        of[STRING_MEAN] += string
    share = 1.0 / steps
    # A regulator takes what its string leaves of the terminal voltage.
    if not has_reservoir and columns[I_LIMIT] > 0.0 and most >= columns[I_LIMIT]:
        heat = limited
    of[I_RMS] = sqrt(of[I_RMS] * share)
    for one in (I_MEAN, HELD_MEAN, DRAWN_MEAN, DRAWN_W, STRING_MEAN):
        of[one] *= share
    of[LIGHT_W] = light * share
    of[HEAT_W] = heat * share
