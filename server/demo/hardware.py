"""Terminals, demands and sizes of the made-up controls; and modules, timers and companions beside them."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum

from demo.figures import Json, Shelf, declared, exact, says
from ember_core.parts import PhaseMode
from ember_core.parts.hardware import AfterPower, Demand, InputUse, Sort, WithoutHub, YesNo

Properties = Mapping[str, StrEnum | float]


def terminals(
    sort: Sort,
    properties: Properties,
    *,
    price: float,
    size_mm: tuple[float, float, float] = (24.0, 45.0, 45.0),
    torque_nm: float | None = 0.5,
) -> Json:
    """One control as hands find it: words and counts as its leaflet says them."""
    made: Json = {"sort": says(sort), "price": exact(price, "price list")}
    for name, value in properties.items():
        made[name] = says(value) if isinstance(value, StrEnum) else exact(float(value), "leaflet")
    depth, width, height = (side * 1e-3 for side in size_mm)
    made |= {"depth_m": exact(depth), "width_m": exact(width), "height_m": exact(height)}
    if torque_nm is not None:
        made["torque_nm"] = exact(torque_nm, "leaflet")
        made["size_most_m2"] = exact(2.5e-6, "leaflet")
    return made


def two_wire(price: float, **others: StrEnum | float) -> Json:
    """A two-wire control with terminals for one gang."""
    usual: dict[str, StrEnum | float] = {
        "outputs": 1,
        "feeding_outputs": 1,
        "neutral": Demand.NONE,
        "earth": Demand.NONE,
        "reversible": YesNo.NO,
        "companion": YesNo.YES,
        "without_hub": WithoutHub.COMPANION_TOO,
        "after_power": AfterPower.OFF,
        "leads": 0,
        "cores_per_terminal": 2,
    }
    if others.get("companion") is YesNo.NO:
        usual["without_hub"] = WithoutHub.AT_THE_WALL
    return terminals(Sort.CONTROL, {**usual, **others}, price=price)


def _module(price: float, **others: StrEnum | float) -> Json:
    usual: dict[str, StrEnum | float] = {
        "outputs": 1,
        "neutral": Demand.REQUIRED,
        "earth": Demand.NONE,
        "inputs": 1,
        "input_use": InputUse.EITHER,
        "two_way_input": YesNo.YES,
        "companion": YesNo.YES,
        "without_hub": WithoutHub.COMPANION_TOO,
        "after_power": AfterPower.AS_BEFORE,
        "leads": 0,
        "cores_per_terminal": 2,
    }
    return terminals(Sort.MODULE, {**usual, **others}, price=price, size_mm=(18.0, 40.0, 40.0))


def behind(price: float, **others: StrEnum | float) -> Json:
    """A module behind an ordinary switch, without a neutral."""
    return _module(
        price,
        **{"feeding_outputs": 1.0, "neutral": Demand.NONE, "after_power": AfterPower.OFF, **others},
    )


# By the part's name.
HARDWARE: dict[str, Json] = {
    "Relay S1, 802.15.4 mesh": two_wire(34.0, reversible=YesNo.YES),
    "Relay S2, Wi-Fi": two_wire(22.0, companion=YesNo.NO, without_hub=WithoutHub.AT_THE_WALL, leads=4),
    "Turn dimmer T4, sub-GHz": two_wire(48.0, earth=Demand.OPTIONAL),
    "Touch relay C3, sub-GHz": two_wire(29.0, earth=Demand.REQUIRED, after_power=AfterPower.AS_BEFORE),
    "Relay S1A, 802.15.4 mesh, 120 V": two_wire(38.0, earth=Demand.REQUIRED, leads=3),
    "Twin relay S22, output 1": two_wire(52.0, outputs=2),
    "Twin relay S22, output 2": two_wire(52.0, outputs=2),
    "Relay S0, sub-GHz": two_wire(39.0, reversible=YesNo.YES, after_power=AfterPower.AS_BEFORE),
    "Push dimmer T6, 802.15.4 mesh": two_wire(57.0, after_power=AfterPower.SET),
    "Twin-edge dimmer T8, sub-GHz": two_wire(66.0, neutral=Demand.OPTIONAL, link=YesNo.YES, earth=Demand.OPTIONAL),
    "Slide dimmer T2, no radio": two_wire(18.0, companion=YesNo.NO, without_hub=WithoutHub.AT_THE_WALL),
    "Relay F1, Wi-Fi": two_wire(19.0, companion=YesNo.NO, without_hub=WithoutHub.AT_THE_WALL),
    "Timer F3": two_wire(27.0, companion=YesNo.NO, without_hub=WithoutHub.AT_THE_WALL),
    "Relay S2A, Wi-Fi, 120 V": two_wire(24.0, earth=Demand.REQUIRED, leads=3, companion=YesNo.NO),
    "Turn dimmer T4A, sub-GHz, 120 V": two_wire(51.0, earth=Demand.REQUIRED, leads=3),
}


def _contact(wiring: Json, p_led_w: float = 150.0, p_filament_w: float = 1000.0) -> Json:
    """An ordinary contact fed by the neutral: nothing of it stands in the loop while off."""
    return {
        "c_snubber_f": exact(0.0, "none across its contact"),
        "p_max_led_w": exact(p_led_w),
        "p_max_filament_w": exact(p_filament_w),
        "i_max_a": exact(6.0),
        "phase": says(PhaseMode.ON_OFF),
        "wiring": wiring,
    }


def _edge(wiring: Json, c_f: float, phase: PhaseMode, p_led_w: float = 100.0) -> Json:
    """A dimmer fed by the neutral, with its filter across it."""
    return {
        "c_snubber_f": declared(c_f),
        "p_max_led_w": exact(p_led_w),
        "p_max_filament_w": exact(250.0),
        "phase": says(phase),
        "wiring": wiring,
    }


def _plate(price: float) -> Json:
    """A companion: a battery and a radio."""
    made = terminals(Sort.COMPANION, {}, price=price, size_mm=(12.0, 45.0, 45.0), torque_nm=None)
    return {"c_snubber_f": exact(0.0, "no conductor"), "wiring": made}


_FED: dict[str, StrEnum | float] = {"feeding_outputs": 0.0, "neutral": Demand.REQUIRED}
MORE: Shelf = (
    (
        "Pellan & Sedge",
        "Relay N1, 802.15.4 mesh",
        230.0,
        "relay that wants a neutral",
        _contact(two_wire(28.0, **_FED)),
    ),
    (
        "Tarnbrook",
        "Dimmer N6, 802.15.4 mesh",
        230.0,
        "trailing-edge dimmer that wants a neutral",
        _edge(two_wire(49.0, **_FED, earth=Demand.OPTIONAL), 1e-8, PhaseMode.TRAILING),
    ),
    (
        "Pellan & Sedge",
        "Triple relay N33, 802.15.4 mesh",
        230.0,
        "three gangs, wants a neutral",
        _contact(two_wire(71.0, **{**_FED, "outputs": 3.0}), 80.0, 600.0),
    ),
    (
        "Pellan & Sedge",
        "Twin relay N22, 802.15.4 mesh",
        230.0,
        "two gangs, wants a neutral",
        _contact(two_wire(58.0, **{**_FED, "outputs": 2.0}), 100.0, 800.0),
    ),
    (
        "Fennick Controls",
        "Relay N4, Wi-Fi",
        230.0,
        "relay with leads that wants neutral and earth",
        _contact(two_wire(17.0, **_FED, earth=Demand.REQUIRED, leads=4, companion=YesNo.NO)),
    ),
    (
        "Tarnbrook",
        "Ceiling module M1, sub-GHz",
        230.0,
        "module with neutral, one input",
        _contact(_module(31.0)),
    ),
    (
        "Tarnbrook",
        "Ceiling dim module M3, sub-GHz",
        230.0,
        "dimming module with neutral, push input",
        _edge(_module(46.0, input_use=InputUse.PUSH, two_way_input=YesNo.NO), 1e-8, PhaseMode.TRAILING),
    ),
    (
        "Fennick Controls",
        "Ceiling module M2, Wi-Fi",
        230.0,
        "module with neutral, no companion",
        _contact(_module(15.0, companion=YesNo.NO, without_hub=WithoutHub.AT_THE_WALL)),
    ),
    (
        "Pellan & Sedge",
        "Ceiling module M2T, 802.15.4 mesh",
        230.0,
        "two channels and two inputs, with neutral",
        _contact(_module(44.0, outputs=2, inputs=2), 100.0, 600.0),
    ),
    (
        "Pellan & Sedge",
        "Companion plate P1, 802.15.4 mesh",
        230.0,
        "battery, two rockers",
        _plate(21.0),
    ),
    ("Tarnbrook", "Companion plate P3, sub-GHz", 230.0, "battery, one rocker", _plate(19.0)),
    (
        "Hobmoor",
        "Week timer H7",
        230.0,
        "battery timer in the place of a one- or two-way switch",
        _contact(
            terminals(
                Sort.TIMER,
                {
                    "outputs": 1,
                    "neutral": Demand.NONE,
                    "earth": Demand.NONE,
                    "companion": YesNo.NO,
                    "without_hub": WithoutHub.AT_THE_WALL,
                    "after_power": AfterPower.AS_BEFORE,
                    "leads": 0,
                    "cores_per_terminal": 2,
                },
                price=36.0,
                size_mm=(28.0, 45.0, 45.0),
            ),
            200.0,
            1500.0,
        ),
    ),
    (
        "Hobmoor",
        "Week timer H7L, leads",
        230.0,
        "battery timer with three leads",
        _contact(
            terminals(
                Sort.TIMER,
                {
                    "outputs": 1,
                    "leads": 3,
                    "cores_per_terminal": 1,
                    "after_power": AfterPower.AS_BEFORE,
                    "without_hub": WithoutHub.AT_THE_WALL,
                },
                price=33.0,
                size_mm=(26.0, 45.0, 45.0),
                torque_nm=None,
            ),
            150.0,
            1000.0,
        ),
    ),
    (
        "Pellan & Sedge",
        "Relay N1A, 802.15.4 mesh, 120 V",
        120.0,
        "relay that wants neutral and earth",
        _contact(two_wire(33.0, **_FED, earth=Demand.REQUIRED, leads=4)),
    ),
    (
        "Tarnbrook",
        "Ceiling module M1A, sub-GHz, 120 V",
        120.0,
        "module with neutral, one input",
        _contact(_module(35.0, earth=Demand.OPTIONAL, leads=5)),
    ),
    (
        "Hobmoor",
        "Week timer H7A, 120 V",
        120.0,
        "battery timer in the place of a switch",
        _contact(
            terminals(
                Sort.TIMER,
                {
                    "outputs": 1,
                    "leads": 3,
                    "cores_per_terminal": 1,
                    "after_power": AfterPower.AS_BEFORE,
                    "without_hub": WithoutHub.AT_THE_WALL,
                },
                price=38.0,
                size_mm=(30.0, 44.0, 65.0),
                torque_nm=None,
            ),
            150.0,
            1000.0,
        ),
    ),
    ("Tarnbrook", "Companion plate P3A, sub-GHz, 120 V", 120.0, "battery, one rocker", _plate(22.0)),
)
