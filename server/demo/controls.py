"""Made-up controls and switches."""

from __future__ import annotations

from demo.figures import Json, Shelf, assumed, declared, exact, measured, says
from ember_core.parts import PhaseMode, SetUp


def _switching(p: Json, v_min: float, c_snubber_f: float, c_res_f: float = 4.7e-6, **ratings: Json) -> Json:
    return {
        **ratings,
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
        _switching(
            declared(0.2),
            40.0,
            4.7e-9,
            p_min_w=exact(5.0),
            p_max_led_w=exact(150.0),
            p_max_filament_w=exact(1000.0),
            i_max_a=exact(6.0),
            c_bypass_max_f=exact(3.3e-7),
            i_inrush_max_a=exact(80.0),
            i2t_max_a2s=exact(10.0),
            phase=says(PhaseMode.ON_OFF),
        ),
    ),
    (
        "Pellan & Sedge",
        "Relay S2, Wi-Fi",
        230.0,
        "two-wire relay, needs more power",
        _switching(
            declared(0.35),
            45.0,
            4.7e-9,
            p_min_w=exact(15.0),
            p_max_led_w=exact(100.0),
            p_max_filament_w=exact(800.0),
            i_max_a=exact(5.0),
            phase=says(PhaseMode.ON_OFF),
        ),
    ),
    (
        "Tarnbrook",
        "Turn dimmer T4, sub-GHz",
        230.0,
        "two-wire dimmer with interference filter",
        _switching(
            measured(0.15),
            40.0,
            4.7e-8,
            p_min_w=exact(7.0),
            p_max_led_w=exact(60.0),
            p_max_filament_w=exact(250.0),
            c_bypass_max_f=exact(1.5e-7),
            phase=says(PhaseMode.LEADING),
        ),
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
            "p_min_w": exact(10.0),
            "p_max_led_w": exact(200.0),
        },
    ),
    (
        "Pellan & Sedge",
        "Relay S1A, 802.15.4 mesh, 120 V",
        120.0,
        "two-wire relay, one gang",
        _switching(declared(0.25), 25.0, 4.7e-9, 1e-5, p_min_w=exact(8.0), p_max_led_w=exact(120.0)),
    ),
    ("Hobmoor", "Ordinary switch", 230.0, "no electronics", {"c_snubber_f": exact(0.0, "none inside")}),
    (
        "Hobmoor",
        "Switch with locator lamp",
        230.0,
        "small lamp across the contacts",
        {"c_snubber_f": exact(0.0, "none inside"), "r_leak_ohm": assumed(1e5, 1.5e5, 2.2e5)},
    ),
    (
        "Pellan & Sedge",
        "Twin relay S22, output 1",
        230.0,
        "two gangs; this output feeds the electronics",
        _switching(declared(0.25), 40.0, 4.7e-9, p_min_w=exact(10.0), p_max_led_w=exact(100.0)),
    ),
    (
        "Pellan & Sedge",
        "Twin relay S22, output 2",
        230.0,
        "two gangs; this output feeds nothing",
        {"c_snubber_f": assumed(3.3e-9, 4.7e-9, 6.8e-9), "p_max_led_w": exact(100.0)},
    ),
    (
        "Pellan & Sedge",
        "Relay S0, sub-GHz",
        230.0,
        "frugal two-wire relay",
        _switching(declared(0.06), 30.0, 2.2e-9, 2.2e-6, p_min_w=exact(3.0), p_max_led_w=exact(80.0)),
    ),
    (
        "Tarnbrook",
        "Push dimmer T6, 802.15.4 mesh",
        230.0,
        "two-wire dimmer, trailing edge",
        _switching(
            declared(0.2),
            45.0,
            2.2e-8,
            p_min_w=exact(5.0),
            p_max_led_w=exact(100.0),
            c_bypass_max_f=exact(1e-7),
            phase=says(PhaseMode.TRAILING),
            set_up=says(SetUp.LEARNS_LOAD),
        ),
    ),
    (
        "Tarnbrook",
        "Slide dimmer T2, no radio",
        230.0,
        "two-wire dimmer, leading edge, heavy filter",
        _switching(
            assumed(0.05, 0.08, 0.12),
            40.0,
            1e-7,
            p_min_w=exact(25.0),
            p_max_filament_w=exact(400.0),
            phase=says(PhaseMode.LEADING),
        ),
    ),
    (
        "Fennick Controls",
        "Relay F1, Wi-Fi",
        230.0,
        "two-wire relay; listing and leaflet differ on its least load",
        _switching(declared(0.4), 50.0, 1e-8, p_min_w=exact(25.0, "leaflet in the box"), p_max_led_w=exact(100.0)),
    ),
    (
        "Fennick Controls",
        "Timer F3",
        230.0,
        "two-wire timer with shunt-regulated feed",
        {
            "c_snubber_f": assumed(3.3e-9, 4.7e-9, 6.8e-9),
            "standby": {
                "kind": "capacitive",
                "c_series_f": declared(1e-7),
                "r_discharge_ohm": assumed(4.7e5, 1e6, 2e6),
                "r_in_ohm": assumed(47.0, 100.0, 220.0),
                "c_reservoir_f": assumed(1e-4, 2.2e-4, 4.7e-4),
                "i_a": declared(0.003),
                "v_shunt_v": declared(15.0),
            },
            "p_min_w": exact(5.0),
        },
    ),
    (
        "Pellan & Sedge",
        "Relay S2A, Wi-Fi, 120 V",
        120.0,
        "two-wire relay, needs more power",
        _switching(declared(0.35), 28.0, 4.7e-9, 1e-5, p_min_w=exact(15.0), p_max_led_w=exact(100.0)),
    ),
    (
        "Tarnbrook",
        "Turn dimmer T4A, sub-GHz, 120 V",
        120.0,
        "two-wire dimmer with interference filter",
        _switching(
            measured(0.15),
            25.0,
            4.7e-8,
            1e-5,
            p_min_w=exact(7.0),
            p_max_led_w=exact(150.0),
            p_max_filament_w=exact(300.0),
            phase=says(PhaseMode.LEADING),
        ),
    ),
    ("Hobmoor", "Ordinary switch, 120 V", 120.0, "no electronics", {"c_snubber_f": exact(0.0, "none inside")}),
)
# Figures that another source gives differently: part, field, figure; on record, not in use.
OTHER_SOURCES: tuple[tuple[str, str, Json], ...] = (
    ("Relay F1, Wi-Fi", "p_min_w", exact(15.0, "maker's listing")),
    ("Relay F1, Wi-Fi", "standby.p_w", measured(0.31)),
    ("Candle 4 W dimmable", "v_start_v", measured(82.0)),
    ("Relay S1, 802.15.4 mesh", "standby.p_w", measured(0.23)),
)
