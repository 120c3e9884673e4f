"""Bypasses: what is fitted between switched live and neutral, at the luminaire."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from ember_core.quantities import defaulted, optional, rating, required


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacitorBypass:
    """A capacitor of class X2 with its discharge resistor."""

    kind: ClassVar[str] = "capacitor"

    c_f: float = required("F", 1e-10, 2e-5, "capacitance")
    r_parallel_ohm: float | None = optional("Ω", 1e3, 1e9, "discharge resistor across the capacitor")
    r_series_ohm: float = defaulted("Ω", 1e-3, 1e4, "resistance in series", default=0.1)
    v_rated_v: float | None = rating("V", 10.0, 1500.0, "rated alternating voltage of its class X2, rms")
    dv_dt_max_v_per_s: float | None = rating("V/s", 1e5, 1e10, "steepest voltage its marking allows")
    height_m: float | None = rating("m", 1e-3, 0.2, "largest side of its body")
    price: float | None = rating("1", 0.01, 1e4, "price, in the money of the site")


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistorBypass:
    """A resistive bleeder."""

    kind: ClassVar[str] = "resistor"

    r_ohm: float = required("Ω", 100.0, 1e8, "resistance")
    p_rated_w: float | None = rating("W", 0.1, 200.0, "rated power")
    v_limit_v: float | None = rating("V", 10.0, 5000.0, "limiting voltage of the element, rms")
    r_thermal_k_per_w: float | None = rating("K/W", 1.0, 1e3, "thermal resistance from its surface to the surroundings")
    height_m: float | None = rating("m", 1e-3, 0.2, "largest side of its body")
    price: float | None = rating("1", 0.01, 1e4, "price, in the money of the site")


@dataclass(frozen=True, slots=True, kw_only=True)
class PtcBypass:
    """A bleeder whose resistance rises steeply above a switching temperature."""

    kind: ClassVar[str] = "ptc"

    r_cold_ohm: float = required("Ω", 50.0, 1e6, "resistance while cold")
    t_switch_k: float = required("K", 313.15, 473.15, "temperature at which the resistance begins to rise")
    alpha_per_k: float = defaulted("1/K", 0.01, 0.5, "exponent of the rise above that temperature", default=0.15)
    r_thermal_k_per_w: float = required("K/W", 1.0, 1e3, "thermal resistance to the surroundings")
    t_ambient_k: float = defaulted("K", 233.15, 353.15, "temperature of the surroundings", default=298.15)
    c_thermal_j_per_k: float | None = rating("J/K", 0.01, 100.0, "heat capacity")
    height_m: float | None = rating("m", 1e-3, 0.2, "largest side of its body")
    price: float | None = rating("1", 0.01, 1e4, "price, in the money of the site")


@dataclass(frozen=True, slots=True, kw_only=True)
class ActiveBypass:
    """An electronic bleeder: a current limit at low voltage, nearly open above its cut-off."""

    kind: ClassVar[str] = "active"

    i_limit_a: float = required("A", 1e-4, 0.5, "largest current")
    r_on_ohm: float = required("Ω", 1.0, 1e5, "slope resistance at small voltage")
    v_cutoff_v: float = required("V", 2.0, 400.0, "voltage above which it opens")
    v_supply_low_v: float | None = rating("V", 50.0, 300.0, "least supply it is declared for, rms")
    v_supply_high_v: float | None = rating("V", 50.0, 300.0, "highest supply it is declared for, rms")
    height_m: float | None = rating("m", 1e-3, 0.2, "largest side of its body")
    price: float | None = rating("1", 0.01, 1e4, "price, in the money of the site")


Bypass = CapacitorBypass | ResistorBypass | PtcBypass | ActiveBypass
