"""Each cause that can be put into a loop, as a change of a world in which all is well.

`None` says that it cannot be in this loop. What a loop is by itself stands in `by_itself`.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from ember_core.catalogue.class_defaults import typical_lamp
from ember_core.diagnosis.exchanged import LED_W, figures_for
from ember_core.diagnosis.world import (
    NOTHING,
    BoxIs,
    BypassIs,
    ContactIs,
    HubIs,
    LampsAre,
    LuminaireIs,
    SettingsAre,
    World,
)
from ember_core.errors import InputError
from ember_core.lit.light import dims, drop_out_deg, pop_on_deg
from ember_core.loop import Loop
from ember_core.parts import (
    LAMP_CLASSES,
    CapacitiveDropperLamp,
    CapacitorBypass,
    FilamentLamp,
    Lamp,
    PhaseMode,
    RectifierLamp,
    ResistorBypass,
    SetUp,
    SwitchingFeed,
    is_led,
    rated_w,
)
from ember_core.spread.variables import triangular

Random = np.random.Generator
Change = Callable[[World, Random], World | None]
LED_STAGES = ("rectifier", "capacitive_dropper", "linear", "dimmable_driver")
# Passes next to nothing: a lamp that is out, its socket's capacitance left.
OUT_F = 1e-9


def _led_group(loop: Loop) -> int | None:
    """The largest group of LED lamps."""
    groups = [k for k, lamp in enumerate(loop.lamps) if is_led(lamp)]
    return max(groups, key=lambda k: loop.lamps[k].count, default=None)


def _with_lamp(world: World, at: int, lamp: Lamp | None) -> World:
    lamps = list(world.loop.lamps)
    lamps[at : at + 1] = [] if lamp is None else [lamp]
    return figures_for(world, replace(world.loop, lamps=tuple(lamps)))


def _drawn_lamp(stage: str, loop: Loop, p_w: float | None, count: int, random: Random) -> Lamp:
    """A lamp of an input stage, its figures drawn from their ranges."""
    kind, figures = typical_lamp(stage, loop.supply, p_w)
    made: Any = next(part for part in LAMP_CLASSES if part.kind == kind)
    values = {}
    for name, figure in figures.items():
        u = np.array([random.random()])
        if figure.low > 0.0:
            values[name] = float(np.exp(triangular(u, *np.log([figure.low, figure.typical, figure.high])))[0])
        else:
            values[name] = float(triangular(u, figure.low, figure.typical, figure.high)[0])
    if "v_stop_v" in values:
        values["v_stop_v"] = min(values["v_stop_v"], 0.95 * values["v_start_v"])
    lamp: Lamp = made(count=count, **values)
    return lamp


def _without_bypass(state: BypassIs) -> Change:
    def change(world: World, random: Random) -> World | None:
        if world.bypass is not BypassIs.IN_PLACE:
            return None
        return replace(world, loop=replace(world.loop, bypass=()), bypass=state)

    return change


def _bypass_scaled(low: float, high: float) -> Change:
    """Less capacitance, or more resistance, than is recorded, by a ratio from low to high."""

    def change(world: World, random: Random) -> World | None:
        ratio = float(np.exp(random.uniform(np.log(low), np.log(high))))
        parts: list[Any] = []
        for part in world.loop.bypass:
            if isinstance(part, CapacitorBypass):
                parts.append(replace(part, c_f=max(1e-10, part.c_f * ratio)))
            elif isinstance(part, ResistorBypass) and low > 0.1:
                parts.append(replace(part, r_ohm=min(1e8, part.r_ohm / ratio)))
            else:
                return None
        return replace(world, loop=replace(world.loop, bypass=tuple(parts))) if parts else None

    return change


def _bleeder_open(world: World, random: Random) -> World | None:
    if not any(isinstance(part, ResistorBypass) for part in world.loop.bypass):
        return None
    rest = tuple(part for part in world.loop.bypass if not isinstance(part, ResistorBypass))
    return replace(world, loop=replace(world.loop, bypass=rest), bypass=BypassIs.DAMAGED)


def _bypass_open(world: World, random: Random) -> World | None:
    if not any(isinstance(part, CapacitorBypass) for part in world.loop.bypass):
        return None
    return replace(world, loop=replace(world.loop, bypass=()), bypass=BypassIs.DAMAGED)


def _bypass_across(world: World, random: Random) -> World | None:
    if world.bypass is not BypassIs.IN_PLACE:
        return None
    control = world.loop.control
    c_f = control.c_snubber_f + sum(part.c_f for part in world.loop.bypass if isinstance(part, CapacitorBypass))
    control = replace(control, c_snubber_f=min(c_f, 2e-6))
    resistors = [part.r_ohm for part in world.loop.bypass if isinstance(part, ResistorBypass)]
    if resistors:
        control = replace(control, r_leak_ohm=max(1e3, min(resistors)))
    loop = replace(world.loop, control=control, bypass=())
    return replace(world, loop=loop, bypass=BypassIs.ACROSS_CONTROL)


def _lamp_swapped(world: World, random: Random) -> World | None:
    at = _led_group(world.loop)
    if at is None:
        return None
    lamp = world.loop.lamps[at]
    others = [stage for stage in LED_STAGES if stage != lamp.kind]
    stage = str(random.choice(others))
    watts = rated_w(lamp)
    watts = None if watts is None else min(max(watts, LED_W[0]), LED_W[1])
    made = _drawn_lamp(stage, world.loop, watts, lamp.count, random)
    return replace(_with_lamp(world, at, made), lamps=LampsAre.OTHER)


def _start_low(world: World, random: Random) -> World | None:
    at = _led_group(world.loop)
    lamp: Any = None if at is None else world.loop.lamps[at]
    if at is None or not isinstance(lamp, RectifierLamp):
        return None
    v = max(8.0, lamp.v_start_v * float(random.uniform(0.25, 0.55)))
    return _with_lamp(world, at, replace(lamp, v_start_v=v, v_stop_v=max(1.0, 0.5 * v)))


def _less_input_capacitor(world: World, random: Random) -> World | None:
    at = _led_group(world.loop)
    lamp: Any = None if at is None else world.loop.lamps[at]
    if at is None or getattr(lamp, "c_x_f", 0.0) < 5e-9:
        return None
    return _with_lamp(world, at, replace(lamp, c_x_f=lamp.c_x_f * float(random.uniform(0.0, 0.2))))


def _cable_long(world: World, random: Random) -> World | None:
    more = float(random.uniform(5e-9, 2e-8))
    cable = world.loop.cable
    cable = replace(
        cable,
        c_line_to_switched_f=min(1e-6, cable.c_line_to_switched_f + more),
        c_switched_to_neutral_f=min(1e-6, cable.c_switched_to_neutral_f + 0.5 * more),
    )
    return replace(world, loop=replace(world.loop, cable=cable))


def _locator(world: World, random: Random) -> World | None:
    control = world.loop.control
    if control.r_leak_ohm is not None:
        return None
    r_ohm = float(np.exp(random.uniform(np.log(7e4), np.log(3.3e5))))
    return replace(world, loop=replace(world.loop, control=replace(control, r_leak_ohm=r_ohm)), box=BoxIs.LOCATOR)


def _two_controls(world: World, random: Random) -> World | None:
    control = world.loop.control
    feed = control.standby
    if not isinstance(feed, SwitchingFeed):
        return None
    feed = replace(feed, p_w=min(5.0, 2.0 * feed.p_w), r_in_ohm=max(0.1, 0.5 * feed.r_in_ohm))
    control = replace(control, c_snubber_f=min(2e-6, 2.0 * control.c_snubber_f), standby=feed)
    return replace(world, loop=replace(world.loop, control=control), box=BoxIs.SECOND_CONTROL)


def _supply(low: float, high: float) -> Change:
    def change(world: World, random: Random) -> World | None:
        v = world.loop.supply.v_rms * float(random.uniform(low, high))
        supply = replace(world.loop.supply, v_rms=min(280.0, max(80.0, v)))
        return replace(world, loop=replace(world.loop, supply=supply))

    return change


def _smart_lamp(world: World, random: Random) -> World | None:
    at = _led_group(world.loop)
    if at is None:
        return None
    lamp = world.loop.lamps[at]
    made = _drawn_lamp("rectifier", world.loop, 8.0, lamp.count, random)
    assert isinstance(made, RectifierLamp)  # noqa: S101  (what that stage is calculated as)
    # A radio lives on a converter that starts low and takes little.
    v = float(random.uniform(15.0, 35.0))
    made = replace(made, v_start_v=v, v_stop_v=0.6 * v, p_run_w=0.5, r_start_ohm=None)
    return replace(_with_lamp(world, at, made), lamps=LampsAre.SMART)


def _lamp_dead(world: World, random: Random) -> World | None:
    groups = [k for k, lamp in enumerate(world.loop.lamps) if lamp.count > 1]
    if groups:
        at = max(groups, key=lambda k: world.loop.lamps[k].count)
        lamp = world.loop.lamps[at]
        lost = int(random.integers(1, max(2, lamp.count // 2 + 1)))
        return replace(_with_lamp(world, at, replace(lamp, count=lamp.count - lost)), lamps=LampsAre.SOME_DARK)
    if len(world.loop.lamps) > 1:
        return replace(_with_lamp(world, int(random.integers(len(world.loop.lamps))), None), lamps=LampsAre.SOME_DARK)
    return None


def _filament_replaced(world: World, random: Random) -> World | None:
    at = next((k for k, lamp in enumerate(world.loop.lamps) if isinstance(lamp, FilamentLamp)), None)
    if at is None:
        return None
    made = _drawn_lamp("rectifier", world.loop, float(random.uniform(4.0, 9.0)), world.loop.lamps[at].count, random)
    return replace(_with_lamp(world, at, made), lamps=LampsAre.OTHER)


def _feeding_lamp_out(world: World, random: Random) -> World | None:
    if world.loop.control.standby is None:
        return None
    none = CapacitiveDropperLamp(count=1, c_series_f=OUT_F, v_string_v=100.0, r_string_ohm=1e3, c_smooth_f=1e-6)
    loop = replace(world.loop, lamps=(none,))
    return replace(figures_for(world, loop), lamps=LampsAre.SOME_DARK, is_dark=True)


def _edge_wrong(world: World, random: Random) -> World | None:
    if world.dimming is None or world.loop.control.phase_mode not in (PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC):
        return None
    other = PhaseMode.TRAILING if world.dimming.edge is PhaseMode.LEADING else PhaseMode.LEADING
    return replace(world, dimming=replace(world.dimming, edge=other), settings=SettingsAre.EDGE)


def _level_below(which: str) -> Change:
    """The least or the start level below what the drivers need."""

    def change(world: World, random: Random) -> World | None:
        if world.dimming is None or not any(dims(lamp) for lamp in world.loop.lamps):
            return None
        if which == "least":
            needs = drop_out_deg(world.loop, world.lit)
            least = max(5.0, needs - float(random.uniform(-2.5, 12.0)))
            return replace(world, dimming=replace(world.dimming, least_deg=least), settings=SettingsAre.LEAST)
        needs = pop_on_deg(world.loop, world.lit)
        start = max(5.0, needs - float(random.uniform(1.0, 15.0)))
        return replace(world, dimming=replace(world.dimming, start_deg=start), settings=SettingsAre.START)

    return change


def _top_low(world: World, random: Random) -> World | None:
    if world.dimming is None or not any(dims(lamp) for lamp in world.loop.lamps):
        return None
    top = float(random.uniform(80.0, 115.0))
    return replace(world, dimming=replace(world.dimming, top_deg=top), settings=SettingsAre.TOP)


def _not_learned(world: World, random: Random) -> World | None:
    if world.dimming is None or world.loop.control.asks_for not in (SetUp.LEARNS_LOAD, SetUp.BOTH_OF_THEM):
        return None
    least = max(5.0, drop_out_deg(world.loop, world.lit) - float(random.uniform(-2.0, 8.0)))
    start = max(5.0, pop_on_deg(world.loop, world.lit) - float(random.uniform(0.0, 8.0)))
    dimming = replace(world.dimming, least_deg=least, start_deg=start)
    return replace(world, dimming=dimming, settings=SettingsAre.NOT_LEARNED)


def _overloaded(world: World, random: Random) -> World | None:
    control = world.loop.control
    at = _led_group(world.loop)
    if at is None or control.p_max_led_w is None:
        return None
    lamp = world.loop.lamps[at]
    each = rated_w(lamp)
    if each is None:
        return None
    wanted_w = control.p_max_led_w * float(random.uniform(1.15, 2.0))
    count = int(np.ceil(wanted_w / each))
    if not lamp.count < count <= 200:
        return None
    return replace(_with_lamp(world, at, replace(lamp, count=count)), lamps=LampsAre.OTHER)


def _contact(state: ContactIs) -> Change:
    def change(world: World, random: Random) -> World | None:
        mode = world.loop.control.phase_mode
        if (not world.loop.control.has_electronics and mode is None) or (
            state is ContactIs.HALF and mode in (PhaseMode.ON_OFF, None)
        ):
            return None
        if state is ContactIs.WELDED and world.dimming is not None:
            return None
        return replace(world, contact=state)

    return change


def _boxed(state: BoxIs) -> Change:
    def change(world: World, random: Random) -> World | None:
        return replace(world, box=state, has_metal_plate=bool(random.random() < 0.5))

    return change


def _link(world: World, random: Random) -> World | None:
    asks = world.loop.control.asks_for
    if asks is not None and asks not in (SetUp.TWO_WIRE_LINK, SetUp.BOTH_OF_THEM):
        return None
    return None if world.loop.control.standby is None else replace(world, box=BoxIs.LINK)


def _luminaire(state: LuminaireIs) -> Change:
    def change(world: World, random: Random) -> World | None:
        if state is not LuminaireIs.OLD_GEAR:
            return replace(world, luminaire=state)
        return replace(world, luminaire=state, lamps=LampsAre.OLD_GEAR) if _led_group(world.loop) is not None else None

    return change


def _air(hub: HubIs, low_db: float = 0.0, high_db: float = 0.0, box: BoxIs | None = None) -> Change:
    """The radio otherwise: what the network says, and decibels lost on the way."""

    def change(world: World, random: Random) -> World | None:
        if not world.loop.control.has_electronics:
            return None
        lost = float(random.uniform(low_db, high_db))
        made = replace(world, air=replace(world.air, hub=hub, margin_db=world.air.margin_db - lost))
        return made if box is None else replace(made, box=box)

    return change


def _weak(low_db: float, high_db: float, box: BoxIs | None = None) -> Change:
    """Little signal, whatever it was thought to be."""

    def change(world: World, random: Random) -> World | None:
        if not world.loop.control.has_electronics:
            return None
        made = replace(world, air=replace(world.air, margin_db=float(random.uniform(low_db, high_db))))
        return made if box is None else replace(made, box=box)

    return change


INJECTED: Mapping[str, Change] = {
    "bypass_too_small": _bypass_scaled(0.15, 0.5),
    "bypass_missing": _without_bypass(BypassIs.MISSING),
    "bypass_open": _bypass_open,
    "bypass_dried": _bypass_scaled(0.03, 0.4),
    "bypass_other_gang": _without_bypass(BypassIs.OTHER_GANG),
    "bypass_across_control": _bypass_across,
    "bleeder_open": _bleeder_open,
    "lamp_swapped": _lamp_swapped,
    "start_threshold_low": _start_low,
    "input_capacitor_small": _less_input_capacitor,
    "cable_long": _cable_long,
    "locator_lamp": _locator,
    "neutral_loose": _luminaire(LuminaireIs.NEUTRAL_LOOSE),
    "neutral_borrowed": _boxed(BoxIs.BORROWED),
    "supply_high": _supply(1.07, 1.12),
    "two_controls": _two_controls,
    "disturbed": lambda world, random: replace(world, step_ratio=float(random.uniform(0.06, 0.2))),
    "choke_left_in": _luminaire(LuminaireIs.OLD_GEAR),
    "smart_lamp": _smart_lamp,
    "lamp_dead": _lamp_dead,
    "filament_replaced": _filament_replaced,
    "supply_low": _supply(0.82, 0.91),
    "feeding_lamp_out": _feeding_lamp_out,
    "edge_wrong": _edge_wrong,
    "least_too_low": _level_below("least"),
    "start_too_low": _level_below("start"),
    "top_too_low": _top_low,
    "overloaded": _overloaded,
    "triac_half": _contact(ContactIs.HALF),
    "relay_welded": _contact(ContactIs.WELDED),
    "line_load_exchanged": _boxed(BoxIs.LINE_LOAD),
    "gangs_exchanged": _boxed(BoxIs.GANGS),
    "travellers_mixed": _boxed(BoxIs.TRAVELLERS),
    "mode_link_missing": _link,
    "earth_missing": _boxed(BoxIs.EARTH),
    "terminal_loose": _boxed(BoxIs.LOOSE),
    "input_kind_wrong": lambda world, random: replace(world, settings=SettingsAre.INPUT),
    "power_on_setting": lambda world, random: replace(world, settings=SettingsAre.POWER_ON),
    "load_not_learned": _not_learned,
    "out_of_range": _weak(-8.0, 6.0),
    "metal_box": _weak(-6.0, 7.0, BoxIs.METAL),
    "hub_full": _air(HubIs.FULL),
    "wrong_band": _air(HubIs.OTHER_BAND),
    "wrong_network": _air(HubIs.OTHER_NETWORK),
    "window_expired": _air(HubIs.NOT_JOINED),
    "not_supported": _air(HubIs.NOT_LISTED),
    "remote_at_hub": _air(HubIs.REMOTE),
    "end_device_as_router": _air(HubIs.THROUGH_END_DEVICE, 15.0, 25.0),
    "interference": _air(HubIs.BUSY_CHANNEL, 4.0, 10.0),
}


def changed_world(code: str, world: World, random: Random, follows: tuple[str, ...]) -> World | None:
    """A world with a cause put in; None where that cannot be in this loop."""
    try:
        made = INJECTED[code](world, random)
    except InputError:
        return None
    if made is None:
        return None
    return replace(made, changed=follows if made.changed == (NOTHING,) else made.changed)
