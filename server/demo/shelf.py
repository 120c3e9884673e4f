"""Made-up parts. Makers and names exist nowhere; figures are typical of each kind and say where they are from."""

from __future__ import annotations

from typing import Any

Json = dict[str, Any]
# Maker, name, supply voltage it is made for [V], note, piece of a loop sheet.
Shelf = tuple[tuple[str, str, float, str, Json], ...]


def declared(value: float, note: str = "leaflet") -> Json:
    """A figure that the (made-up) maker gives, good to 10 %."""
    return {"low": value * 0.9, "typical": value, "high": value * 1.1, "source": "declared", "note": note}


def exact(value: float, note: str = "marking") -> Json:
    """A figure printed on the part."""
    return {"low": value, "typical": value, "high": value, "source": "declared", "note": note}


def measured(value: float, spread_ratio: float = 0.05, note: str = "bench") -> Json:
    """A figure read on the bench."""
    return {
        "low": value * (1 - spread_ratio),
        "typical": value,
        "high": value * (1 + spread_ratio),
        "source": "measured",
        "note": note,
    }


def assumed(low: float, typical: float, high: float) -> Json:
    """A figure nobody gave: the range of its kind."""
    return {"low": low, "typical": typical, "high": high, "source": "assumed", "note": "typical of its kind"}


def _rectifier(p_w: float, c_bulk_f: float, c_x_f: float, v_start: Json, v_stop: Json, r_start: Json) -> Json:
    return {
        "kind": "rectifier",
        "c_x_f": assumed(c_x_f * 0.5, c_x_f, c_x_f * 2.0),
        "r_in_ohm": assumed(10.0, 22.0, 47.0),
        "c_bulk_f": assumed(c_bulk_f * 0.7, c_bulk_f, c_bulk_f * 1.5),
        "r_start_ohm": r_start,
        "v_start_v": v_start,
        "v_stop_v": v_stop,
        "p_run_w": exact(p_w),
    }


LAMPS: Shelf = (
    (
        "Oxlip Works",
        "Plain bulb 6 W",
        230.0,
        "rectifier input, not dimmable",
        _rectifier(6.0, 4.7e-6, 2.2e-8, measured(110.0), measured(45.0), assumed(5e5, 1e6, 2e6)),
    ),
    (
        "Oxlip Works",
        "Candle 4 W",
        230.0,
        "rectifier input, starts early",
        _rectifier(4.0, 3.3e-6, 1e-8, assumed(60.0, 80.0, 110.0), assumed(25.0, 40.0, 60.0), assumed(3.3e5, 1e6, 2e6)),
    ),
    (
        "Hobmoor",
        "Spot 8 W dimmable",
        230.0,
        "dimmable driver",
        {
            **_rectifier(
                8.0, 2.2e-6, 1e-7, assumed(60.0, 95.0, 120.0), assumed(25.0, 40.0, 60.0), assumed(5e5, 1e6, 2e6)
            ),
            "kind": "dimmable_driver",
        },
    ),
    (
        "Hobmoor",
        "Panel driver 18 W",
        230.0,
        "power-factor corrected",
        {
            **_rectifier(
                18.0, 1e-5, 2.2e-7, assumed(70.0, 100.0, 120.0), assumed(30.0, 50.0, 70.0), assumed(4.7e5, 8e5, 2e6)
            ),
            "kind": "dimmable_driver",
        },
    ),
    (
        "Quillfen",
        "Market bulb 5 W",
        230.0,
        "capacitive dropper",
        {
            "kind": "capacitive_dropper",
            "c_series_f": measured(3.3e-7),
            "r_discharge_ohm": assumed(4.7e5, 6.8e5, 1e6),
            "r_in_ohm": assumed(22.0, 47.0, 100.0),
            "v_string_v": measured(84.0),
            "r_string_ohm": assumed(80.0, 150.0, 300.0),
            "r_string_parallel_ohm": assumed(1e5, 3.3e5, 4.7e5),
            "c_smooth_f": assumed(2.2e-6, 4.7e-6, 1e-5),
        },
    ),
    (
        "Quillfen",
        "Driverless disc 7 W",
        230.0,
        "linear, straight from the mains",
        {
            "kind": "linear",
            "c_x_f": exact(0.0),
            "r_in_ohm": assumed(1000.0, 2000.0, 3000.0),
            "v_string_v": assumed(230.0, 240.0, 270.0),
            "i_limit_a": assumed(0.02, 0.03, 0.05),
        },
    ),
    (
        "Tarnbrook",
        "Clear filament 40 W",
        230.0,
        "filament",
        {"kind": "filament", "r_cold_ohm": assumed(88.0, 110.0, 132.0)},
    ),
    (
        "Oxlip Works",
        "Plain bulb 6 W, 120 V",
        120.0,
        "rectifier input, not dimmable",
        _rectifier(
            6.0, 1.5e-5, 2.2e-8, assumed(35.0, 45.0, 70.0), assumed(15.0, 22.0, 35.0), assumed(3.3e5, 4.7e5, 1e6)
        ),
    ),
    (
        "Hobmoor",
        "Downlight 9 W, 120 V",
        120.0,
        "dimmable driver",
        {
            **_rectifier(
                9.0, 1e-5, 2.2e-7, assumed(40.0, 55.0, 70.0), assumed(18.0, 25.0, 40.0), assumed(3.3e5, 5e5, 1e6)
            ),
            "kind": "dimmable_driver",
        },
    ),
)


def _switching(p: Json, v_min: float, c_snubber_f: float, c_res_f: float = 4.7e-6) -> Json:
    return {
        "c_snubber_f": assumed(c_snubber_f * 0.7, c_snubber_f, c_snubber_f * 1.4),
        "standby": {
            "kind": "switching",
            "p_w": p,
            "r_in_ohm": assumed(22.0, 47.0, 100.0),
            "c_reservoir_f": assumed(c_res_f * 0.7, c_res_f, c_res_f * 1.4),
            "v_min_v": assumed(v_min * 0.8, v_min, v_min * 1.3),
            "r_reservoir_ohm": assumed(7e5, 1e6, 3e6),
        },
    }


CONTROLS: Shelf = (
    (
        "Pellan & Sedge",
        "Relay S1, 802.15.4 mesh",
        230.0,
        "two-wire relay, one gang",
        _switching(declared(0.2), 40.0, 4.7e-9),
    ),
    (
        "Pellan & Sedge",
        "Relay S2, Wi-Fi",
        230.0,
        "two-wire relay, needs more power",
        _switching(declared(0.35), 45.0, 4.7e-9),
    ),
    (
        "Tarnbrook",
        "Turn dimmer T4, sub-GHz",
        230.0,
        "two-wire dimmer with interference filter",
        _switching(measured(0.15), 40.0, 4.7e-8),
    ),
    (
        "Tarnbrook",
        "Touch relay C3, sub-GHz",
        230.0,
        "shunt-regulated feed",
        {
            "c_snubber_f": assumed(3.3e-9, 4.7e-9, 6.8e-9),
            "standby": {
                "kind": "capacitive",
                "c_series_f": measured(1.5e-7),
                "r_discharge_ohm": assumed(4.7e5, 1e6, 2e6),
                "r_in_ohm": assumed(47.0, 100.0, 220.0),
                "c_reservoir_f": assumed(1e-4, 2.2e-4, 4.7e-4),
                "i_a": declared(0.008),
                "v_shunt_v": declared(24.0),
            },
        },
    ),
    (
        "Pellan & Sedge",
        "Relay S1A, 802.15.4 mesh, 120 V",
        120.0,
        "two-wire relay, one gang",
        _switching(declared(0.25), 25.0, 4.7e-9, 1e-5),
    ),
    ("Hobmoor", "Ordinary switch", 230.0, "no electronics", {"c_snubber_f": exact(0.0, "none inside")}),
    (
        "Hobmoor",
        "Switch with locator lamp",
        230.0,
        "small lamp across the contacts",
        {"c_snubber_f": exact(0.0, "none inside"), "r_leak_ohm": assumed(1e5, 1.5e5, 2.2e5)},
    ),
)


def _x2(c_f: float) -> Json:
    return {
        "kind": "capacitor",
        "c_f": {"low": c_f * 0.8, "typical": c_f, "high": c_f * 1.2, "source": "declared", "note": "marking, 20 %"},
        "r_parallel_ohm": declared(1e6, "marking"),
        "r_series_ohm": assumed(0.05, 0.1, 1.0),
    }


BYPASSES: Shelf = (
    *(
        ("Quillfen", f"X2 pack {round(c * 1e9)} nF", 230.0, "class X2 with 1 MΩ", _x2(c))
        for c in (6.8e-8, 1e-7, 1.5e-7, 2.2e-7, 3.3e-7, 4.7e-7)
    ),
    (
        "Quillfen",
        "Bleeder 22 kΩ",
        230.0,
        "wire-wound in a sleeve",
        {"kind": "resistor", "r_ohm": declared(22e3, "marking")},
    ),
    (
        "Tarnbrook",
        "Warm bleeder P2",
        230.0,
        "PTC",
        {
            "kind": "ptc",
            "r_cold_ohm": measured(2200.0, 0.2),
            "t_switch_k": {"low": 348.15, "typical": 353.15, "high": 363.15, "source": "declared", "note": "leaflet"},
            "alpha_per_k": assumed(0.1, 0.15, 0.25),
            "r_thermal_k_per_w": assumed(40.0, 60.0, 90.0),
        },
    ),
    (
        "Pellan & Sedge",
        "Active bleeder A1",
        230.0,
        "opens while the lamps run",
        {
            "kind": "active",
            "i_limit_a": declared(0.025),
            "r_on_ohm": assumed(500.0, 800.0, 1200.0),
            "v_cutoff_v": declared(60.0),
        },
    ),
)
