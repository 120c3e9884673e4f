"""Made-up bypasses, cables, boxes and spacers."""

from __future__ import annotations

from demo.figures import Json, Shelf, assumed, declared, exact, measured


def _resistor(r_ohm: float, p_w: float, height_m: float, price: float) -> Json:
    return {
        "kind": "resistor",
        "r_ohm": declared(r_ohm, "marking"),
        "p_rated_w": exact(p_w),
        "v_limit_v": exact(500.0 if p_w >= 3.0 else 350.0),
        "r_thermal_k_per_w": declared(200.0 / p_w),
        "height_m": exact(height_m),
        "price": exact(price, "list"),
    }


def _x2(c_f: float) -> Json:
    return {
        "kind": "capacitor",
        "c_f": {"low": c_f * 0.8, "typical": c_f, "high": c_f * 1.2, "source": "declared", "note": "marking, 20 %"},
        "r_parallel_ohm": declared(1e6, "marking"),
        "r_series_ohm": assumed(0.05, 0.1, 1.0),
        "v_rated_v": exact(275.0),
        "dv_dt_max_v_per_s": exact(1.2e8),
        "height_m": exact(0.011 + 6e4 * c_f / 2.0),
        "price": exact(round(0.9 + 4e6 * c_f, 1), "list"),
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
        {
            "kind": "resistor",
            "r_ohm": declared(22e3, "marking"),
            "p_rated_w": exact(7.0),
            "v_limit_v": exact(500.0),
            "r_thermal_k_per_w": declared(28.0),
            "height_m": exact(0.036),
            "price": exact(2.4, "list"),
        },
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
            "c_thermal_j_per_k": assumed(0.4, 0.7, 1.2),
            "height_m": exact(0.022),
            "price": exact(5.5, "list"),
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
            "v_supply_low_v": exact(207.0),
            "v_supply_high_v": exact(253.0),
            "height_m": exact(0.03),
            "price": exact(14.0, "list"),
        },
    ),
    ("Quillfen", "X2 pack 1 µF", 230.0, "class X2 with 1 MΩ", _x2(1e-6)),
    ("Quillfen", "Bleeder 10 kΩ", 230.0, "wire-wound in a sleeve, for bench use", _resistor(1e4, 11.0, 0.052, 3.1)),
    ("Quillfen", "Bleeder 47 kΩ", 230.0, "two in a sleeve", _resistor(4.7e4, 3.0, 0.025, 1.9)),
    ("Quillfen", "Bleeder 100 kΩ", 230.0, "in a sleeve", _resistor(1e5, 2.0, 0.02, 1.5)),
    (
        "Tarnbrook",
        "Warm bleeder P1",
        230.0,
        "PTC, smaller",
        {
            "kind": "ptc",
            "r_cold_ohm": declared(4700.0),
            "t_switch_k": {"low": 348.15, "typical": 353.15, "high": 363.15, "source": "declared", "note": "leaflet"},
            "alpha_per_k": assumed(0.1, 0.15, 0.25),
            "r_thermal_k_per_w": assumed(60.0, 90.0, 130.0),
            "c_thermal_j_per_k": assumed(0.2, 0.35, 0.6),
            "height_m": exact(0.016),
            "price": exact(4.8, "list"),
        },
    ),
    (
        "Pellan & Sedge",
        "Active bleeder A0",
        230.0,
        "opens while the lamps run, weaker",
        {
            "kind": "active",
            "i_limit_a": declared(0.008),
            "r_on_ohm": assumed(1500.0, 2200.0, 3300.0),
            "v_cutoff_v": declared(45.0),
            "v_supply_low_v": exact(207.0),
            "v_supply_high_v": exact(253.0),
            "height_m": exact(0.026),
            "price": exact(11.0, "list"),
        },
    ),
    ("Quillfen", "X2 pack 680 nF, 120 V", 120.0, "class X2 with 1 MΩ", _x2(6.8e-7)),
    ("Quillfen", "Bleeder 5.6 kΩ, 120 V", 120.0, "wire-wound in a sleeve", _resistor(5.6e3, 7.0, 0.036, 2.4)),
)


def _cable(across: float, to_neutral: float, area_mm2: float, cores: float) -> Json:
    """Capacitances in pF a metre."""
    return {
        "c_line_to_switched_f_per_m": assumed(across * 0.8e-12, across * 1e-12, across * 1.2e-12),
        "c_switched_to_neutral_f_per_m": assumed(to_neutral * 0.8e-12, to_neutral * 1e-12, to_neutral * 1.2e-12),
        "area_m2": exact(area_mm2 * 1e-6),
        "core_count": exact(cores),
    }


CABLES: Shelf = (
    (
        "Weirside Wire",
        "Flat twin and earth 1.5 mm²",
        None,
        "cores side by side, earth between",
        _cable(120.0, 130.0, 1.5, 3),
    ),
    ("Weirside Wire", "Round three-core 1.5 mm²", None, "twisted cores", _cable(140.0, 140.0, 1.5, 3)),
    ("Weirside Wire", "Singles in conduit 1.5 mm²", None, "loose cores in plastic conduit", _cable(60.0, 50.0, 1.5, 1)),
    ("Weirside Wire", "Mineral two-core 1.5 mm²", None, "in a metal sheath", _cable(250.0, 300.0, 1.5, 2)),
    ("Weirside Wire", "Steel-armoured three-core 2.5 mm²", None, "long outdoor runs", _cable(170.0, 220.0, 2.5, 3)),
)
BOXES: Shelf = tuple(
    ("Hobmoor", name, None, note, {"depth_m": exact(depth), "width_m": exact(width), "height_m": exact(height)})
    for name, note, depth, width, height in (
        ("Plaster box 16 mm", "shallow", 0.016, 0.07, 0.07),
        ("Flush box 25 mm", "metal, one gang", 0.025, 0.07, 0.07),
        ("Flush box 35 mm", "metal, one gang", 0.035, 0.07, 0.07),
        ("Flush box 47 mm", "metal, one gang", 0.047, 0.07, 0.07),
        ("Twin flush box 35 mm", "metal, two gangs", 0.035, 0.13, 0.07),
        ("Round wall box 40 mm", "plastic", 0.04, 0.06, 0.06),
        ("Handy box 54 mm", "metal, one gang", 0.054, 0.05, 0.1),
    )
)
SPACERS: Shelf = tuple(
    ("Hobmoor", f"Spacer {round(height * 1000)} mm", None, "frame under the plate", {"height_m": exact(height)})
    for height in (0.01, 0.015, 0.02, 0.025)
)
