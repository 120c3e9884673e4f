"""What is usual of each figure: the unit people give it in, and where a typed value is asked about.

Not a bound: a value outside the usual is taken once it is confirmed. The bounds of the parts are in `quantities`.
The figures are engineering ranges of the trade, wide on purpose (assumed): they catch an ampere where milliamperes
were meant and a metre where millimetres were, and let any ordinary part pass.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

PREFIXES: Mapping[str, float] = {"M": 1e6, "k": 1e3, "": 1.0, "m": 1e-3, "µ": 1e-6, "n": 1e-9, "p": 1e-12}


@dataclass(frozen=True, slots=True)
class Usual:
    """One quantity as it is typed.

    Parameters
    ----------
    unit : SI unit symbol; "1" for a ratio or count.
    prefix : SI prefix of a bare number: 35 in a field of millimetres is 35 mm.
    low, high : outside of these a typed value is asked about [unit].
    """

    unit: str
    prefix: str
    low: float
    high: float

    @property
    def factor(self) -> float:
        """SI value of a bare 1: a square millimetre is a millionth of a square metre."""
        return PREFIXES[self.prefix] ** (2 if self.unit == "m²" else 1)


def _of(unit: str, prefix: str, low: float, high: float) -> Usual:
    return Usual(unit, prefix, low, high)


# Two quantities that share a name share a line; its range covers both.
USUAL: Mapping[str, Usual] = {
    # Lamps.
    "count": _of("1", "", 1, 60),
    "c_x_f": _of("F", "n", 0.0, 1e-6),
    "r_in_ohm": _of("Ω", "", 0.5, 5e4),
    "c_bulk_f": _of("F", "µ", 2e-8, 1e-3),
    "r_start_ohm": _of("Ω", "k", 1e4, 2e7),
    "v_start_v": _of("V", "", 8.0, 340.0),
    "v_stop_v": _of("V", "", 3.0, 300.0),
    "p_run_w": _of("W", "", 0.2, 300.0),
    "r_damp_ohm": _of("Ω", "", 1.0, 5e3),
    "c_film_f": _of("F", "n", 1e-9, 2e-6),
    "v_stage_min_v": _of("V", "", 5.0, 150.0),
    "i_bleed_a": _of("A", "m", 1e-4, 0.1),
    "c_series_f": _of("F", "n", 1e-8, 5e-6),
    "r_discharge_ohm": _of("Ω", "k", 1e4, 2e7),
    "v_string_v": _of("V", "", 2.5, 340.0),
    "r_string_ohm": _of("Ω", "", 1.0, 5e4),
    "r_string_parallel_ohm": _of("Ω", "k", 1e3, 2e7),
    "c_smooth_f": _of("F", "µ", 1e-8, 2e-3),
    "p_rated_w": _of("W", "", 0.2, 500.0),
    "i_limit_a": _of("A", "m", 5e-4, 0.5),
    "r_cold_ohm": _of("Ω", "", 1.0, 2e4),
    "r_winding_ohm": _of("Ω", "", 0.5, 2e3),
    "l_magnetising_h": _of("H", "", 0.1, 200.0),
    "r_load_cold_ohm": _of("Ω", "", 1.0, 1e5),
    "l_leakage_h": _of("H", "m", 1e-4, 2.0),
    "p_least_w": _of("W", "", 0.5, 200.0),
    # Controls.
    "p_w": _of("W", "m", 1e-3, 2.0),
    "c_reservoir_f": _of("F", "µ", 1e-6, 1e-2),
    "v_min_v": _of("V", "", 2.0, 250.0),
    "r_reservoir_ohm": _of("Ω", "k", 1e4, 2e7),
    "i_a": _of("A", "m", 1e-5, 0.05),
    "v_shunt_v": _of("V", "", 2.5, 60.0),
    "r_shunt_ohm": _of("Ω", "", 0.5, 1e3),
    "c_snubber_f": _of("F", "n", 0.0, 1e-6),
    "r_leak_ohm": _of("Ω", "k", 1e4, 2e7),
    "p_min_w": _of("W", "", 0.5, 100.0),
    "p_max_led_w": _of("W", "", 5.0, 2e3),
    "p_max_filament_w": _of("W", "", 20.0, 5e3),
    "s_max_transformer_va": _of("VA", "", 10.0, 5e3),
    "i_max_a": _of("A", "", 0.2, 20.0),
    "c_bypass_max_f": _of("F", "n", 1e-8, 1e-5),
    "i_inrush_max_a": _of("A", "", 5.0, 1e3),
    "i2t_max_a2s": _of("A²s", "", 0.05, 5e3),
    "headroom_ratio": _of("1", "", 1.0, 6.0),
    "i_hold_a": _of("A", "m", 2e-3, 0.15),
    "i_latch_a": _of("A", "m", 2e-3, 0.3),
    "t_gate_s": _of("s", "µ", 5e-6, 5e-3),
    "l_choke_h": _of("H", "m", 1e-5, 2e-2),
    "i_need_on_a": _of("A", "m", 1e-4, 0.1),
    "v_supply_on_v": _of("V", "", 2.5, 48.0),
    "gap_deg": _of("°", "", 5.0, 90.0),
    "detection_s": _of("s", "µ", 2e-5, 2e-3),
    "closing_error_s": _of("s", "m", 0.0, 5e-3),
    "setting_low_deg": _of("°", "", 1.0, 120.0),
    "setting_high_deg": _of("°", "", 60.0, 180.0),
    "settings": _of("1", "", 2, 1000),
    # Bypasses.
    "c_f": _of("F", "n", 1e-8, 5e-6),
    "r_parallel_ohm": _of("Ω", "k", 1e4, 2e7),
    "r_series_ohm": _of("Ω", "", 0.01, 1e3),
    "v_rated_v": _of("V", "", 100.0, 1000.0),
    "dv_dt_max_v_per_s": _of("V/s", "M", 1e6, 1e10),
    "height_m": _of("m", "m", 3e-3, 0.3),
    "price": _of("1", "", 0.05, 500.0),
    "r_ohm": _of("Ω", "k", 100.0, 5e5),
    "v_limit_v": _of("V", "", 100.0, 3500.0),
    "r_thermal_k_per_w": _of("K/W", "", 2.0, 500.0),
    "t_switch_k": _of("K", "", 323.15, 443.15),
    "alpha_per_k": _of("1/K", "", 0.01, 0.5),
    "t_ambient_k": _of("K", "", 243.15, 343.15),
    "c_thermal_j_per_k": _of("J/K", "", 0.05, 50.0),
    "r_on_ohm": _of("Ω", "", 5.0, 2e4),
    "v_cutoff_v": _of("V", "", 5.0, 250.0),
    "v_supply_low_v": _of("V", "", 80.0, 260.0),
    "v_supply_high_v": _of("V", "", 100.0, 300.0),
    # Cables and boxes.
    "c_line_to_switched_f": _of("F", "p", 0.0, 5e-8),
    "c_switched_to_neutral_f": _of("F", "p", 0.0, 5e-8),
    "c_line_to_switched_f_per_m": _of("F/m", "p", 1e-11, 5e-10),
    "c_switched_to_neutral_f_per_m": _of("F/m", "p", 1e-11, 5e-10),
    "area_m2": _of("m²", "m", 1e-7, 2e-5),
    "core_count": _of("1", "", 1, 12),
    "depth_m": _of("m", "m", 0.01, 0.12),
    "width_m": _of("m", "m", 0.02, 0.4),
    "room_left_m": _of("m", "m", 2e-3, 0.12),
    "room_m": _of("m", "m", 2e-3, 0.3),
    "drop_m": _of("m", "", 0.1, 60.0),
    "run_m": _of("m", "", 0.1, 200.0),
    "travellers_m": _of("m", "", 0.5, 100.0),
    # The supply, and what a meter shows. Dead is near nothing, so no low end there.
    "v_rms": _of("V", "", 90.0, 260.0),
    "f_hz": _of("Hz", "", 45.0, 65.0),
    "reading_v": _of("V", "", 0.0, 260.0),
    "reading_r_ohm": _of("Ω", "", 0.0, 2e6),
    "lamp_v": _of("V", "", 0.05, 260.0),
    "line_i": _of("A", "m", 1e-6, 0.05),
    "period": _of("s", "", 0.02, 300.0),
    "start_supply_v": _of("V", "", 5.0, 260.0),
    "setting_deg": _of("°", "", 5.0, 180.0),
    "lamp_w": _of("W", "", 0.5, 150.0),
    # Counts, years, money.
    "whole": _of("1", "", 0, 50),
    "year": _of("1", "", 1900, 2030),
    "hours_a_year": _of("1", "", 1, 8784),
    "price_per_kwh": _of("1", "", 0.01, 5.0),
}


def usual_data() -> dict[str, tuple[str, str, float, float]]:
    """The same for a page in a browser: unit, prefix, low and high by name."""
    return {name: (usual.unit, usual.prefix, usual.low, usual.high) for name, usual in USUAL.items()}
