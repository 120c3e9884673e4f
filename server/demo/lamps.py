"""Made-up lamps. Makers and names exist nowhere; figures are typical of each kind and say where they are from."""

from __future__ import annotations

from demo.figures import Json, Shelf, assumed, declared, exact, measured, says
from ember_core.catalogue.class_defaults import typical_lamp_data
from ember_core.parts import Declared, Supply


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


def _typical(stage: str, p_w: float, v_rms: float = 230.0, **known: Json) -> Json:
    """A lamp of which little is known: its class, its watts, and what is given."""
    supply = Supply(v_rms=v_rms, f_hz=50.0 if v_rms > 160.0 else 60.0)
    return {**typical_lamp_data(stage, supply, p_w), **known}


LAMPS: Shelf = (
    (
        "Oxlip Works",
        "Plain bulb 6 W",
        230.0,
        "rectifier input, not dimmable",
        {
            **_rectifier(6.0, 4.7e-6, 2.2e-8, measured(110.0), measured(45.0), assumed(5e5, 1e6, 2e6)),
            "dimming": says(Declared.NOT_DIMMABLE),
        },
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
            "dimming": says(Declared.BOTH),
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
    ("Oxlip Works", "Globe 9 W", 230.0, "rectifier input, not dimmable", _typical("rectifier", 9.0)),
    (
        "Oxlip Works",
        "Plain bulb 11 W",
        230.0,
        "rectifier input, large reservoir",
        _typical("rectifier", 11.0, v_start_v=measured(96.0), c_bulk_f=measured(1e-5, 0.1)),
    ),
    ("Oxlip Works", "Pygmy 2 W", 230.0, "rectifier input, tiny", _typical("rectifier", 2.0)),
    (
        "Quillfen",
        "Market candle 3 W",
        230.0,
        "capacitive dropper",
        _typical("capacitive_dropper", 3.0, c_series_f=measured(2.2e-7)),
    ),
    ("Quillfen", "Market globe 7 W", 230.0, "capacitive dropper", _typical("capacitive_dropper", 7.0)),
    ("Quillfen", "Driverless panel 12 W", 230.0, "linear, straight from the mains", _typical("linear", 12.0)),
    (
        "Quillfen",
        "Stepped disc 9 W",
        230.0,
        "linear with switched segments: conducts from a quarter of the peak",
        _typical("linear", 9.0, v_string_v=measured(95.0, 0.1)),
    ),
    (
        "Hobmoor",
        "Spot 5 W dimmable",
        230.0,
        "dimmable driver",
        _typical("dimmable_driver", 5.0, dimming=says(Declared.TRAILING)),
    ),
    ("Hobmoor", "Downlight 12 W dimmable", 230.0, "dimmable driver", _typical("dimmable_driver", 12.0)),
    (
        "Hobmoor",
        "Candle 4 W dimmable",
        230.0,
        "dimmable driver, leaflet and bench differ",
        _typical("dimmable_driver", 4.0, v_start_v=declared(100.0)),
    ),
    ("Hobmoor", "Panel driver 36 W", 230.0, "power-factor corrected", _typical("pfc_driver", 36.0)),
    (
        "Hobmoor",
        "Strip driver 60 W, 24 V",
        230.0,
        "driver of a low-voltage strip, power-factor corrected",
        _typical("pfc_driver", 60.0),
    ),
    ("Saltmarsh Lamp", "Tube 9 W", 230.0, "LED tube, choke taken out", _typical("led_tube", 9.0)),
    ("Saltmarsh Lamp", "Tube 18 W", 230.0, "LED tube, choke taken out", _typical("led_tube", 18.0)),
    (
        "Saltmarsh Lamp",
        "Tube 18 W, choke left in",
        230.0,
        "LED tube in an old fitting",
        _typical("led_tube_choke", 18.0),
    ),
    ("Tarnbrook", "Clear filament 25 W", 230.0, "filament", _typical("filament", 25.0)),
    ("Tarnbrook", "Clear filament 60 W", 230.0, "filament", _typical("filament", 60.0)),
    (
        "Hobmoor",
        "Ring transformer 50 W, halogen",
        230.0,
        "iron-core transformer with halogen lamps",
        _typical("iron_core_halogen", 50.0),
    ),
    (
        "Hobmoor",
        "Block transformer 20 W, LED",
        230.0,
        "iron-core transformer with 12 V LED lamps",
        _typical("iron_core_led", 20.0),
    ),
    (
        "Hobmoor",
        "Slim transformer 60 W",
        230.0,
        "electronic transformer with halogen lamps",
        _typical("electronic_transformer", 60.0),
    ),
    ("Tarnbrook", "Halogen capsule 28 W", 230.0, "halogen", _typical("halogen", 28.0)),
    (
        "Tarnbrook",
        "Listening bulb 9 W",
        230.0,
        "smart lamp: wants its own power always",
        {"kind": "smart", "p_rated_w": exact(9.0)},
    ),
    ("Oxlip Works", "Candle 4 W, 120 V", 120.0, "rectifier input", _typical("rectifier", 4.0, 120.0)),
    ("Quillfen", "Market bulb 5 W, 120 V", 120.0, "capacitive dropper", _typical("capacitive_dropper", 5.0, 120.0)),
    ("Quillfen", "Driverless disc 7 W, 120 V", 120.0, "linear", _typical("linear", 7.0, 120.0)),
    ("Tarnbrook", "Clear filament 40 W, 120 V", 120.0, "filament", _typical("filament", 40.0, 120.0)),
    ("Saltmarsh Lamp", "Tube 15 W, 120 V", 120.0, "LED tube, choke taken out", _typical("led_tube", 15.0, 120.0)),
)
