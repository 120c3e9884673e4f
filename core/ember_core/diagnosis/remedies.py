"""Each remedy as a change of a world, and the causes that it is offered for."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from math import inf

from ember_core.diagnosis.exchanged import figures_for, other_lamps, with_good_bypass
from ember_core.diagnosis.shows import UNKNOWN, Shows
from ember_core.diagnosis.symptoms import Symptom
from ember_core.diagnosis.world import (
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
from ember_core.lit.holding import latches_from_deg
from ember_core.lit.light import dims, drop_out_deg, pop_on_deg
from ember_core.loop import Loop
from ember_core.parts import (
    ActiveBypass,
    CapacitorBypass,
    Control,
    IronCoreTransformerLamp,
    PhaseMode,
    ResistorBypass,
    SwitchingFeed,
    is_led,
    rated_w,
)

# A world, and the same before its cause was put in.
Cure = Callable[[World, World], World | None]
BIGGER_RATIO, MOST_BIGGER_F = 2.0, 4.7e-7
# Watts that a resistive bypass takes at the mains while on.
BLEEDER_W = 4.0
# Above what the drivers need, as they are set on site by eye [°].
SET_ABOVE_DEG = 5.0
ROUTER_DB, HUB_DB, PLATE_DB = 25.0, 15.0, 12.0
# A symptom that shows no oftener is gone.
GONE = 0.1


def _bypass(loop: Loop, *parts: CapacitorBypass | ResistorBypass | ActiveBypass) -> Loop:
    return replace(loop, bypass=tuple(parts))


def _fitted(world: World, loop: Loop) -> World:
    return replace(world, loop=loop, bypass=BypassIs.IN_PLACE)


def _fit_bypass(world: World, sound: World) -> World | None:
    # Whatever lies across the control comes out with it.
    control = sound.loop.control if world.bypass is BypassIs.ACROSS_CONTROL else world.loop.control
    return _fitted(world, with_good_bypass(replace(world.loop, control=control)))


_MISPLACED = (BypassIs.OTHER_GANG, BypassIs.ACROSS_CONTROL)


def _moved_bypass(world: World, sound: World) -> World | None:
    """What hangs elsewhere put where it belongs."""
    return _as_recorded_bypass(world, sound) if world.bypass in _MISPLACED else world


def _new_bypass(world: World, sound: World) -> World | None:
    """A new one of the recorded value where the old one was, or should have been."""
    return world if world.bypass in _MISPLACED else _as_recorded_bypass(world, sound)


def _as_recorded_bypass(world: World, sound: World) -> World | None:
    if not sound.loop.bypass:
        return None
    control = sound.loop.control if world.bypass is BypassIs.ACROSS_CONTROL else world.loop.control
    return _fitted(world, replace(world.loop, bypass=sound.loop.bypass, control=control))


def _bigger(world: World, sound: World) -> World | None:
    there = [part for part in sound.loop.bypass if isinstance(part, CapacitorBypass)]
    if not there:
        return None
    c_f = min(MOST_BIGGER_F, BIGGER_RATIO * sum(part.c_f for part in there))
    allowed = world.loop.control.c_bypass_max_f
    if allowed is not None and c_f > allowed:
        return None
    return _fitted(world, _bypass(world.loop, replace(there[0], c_f=c_f)))


def _other_kind(world: World, sound: World) -> World | None:
    ratio = world.loop.supply.v_rms / 230.0
    active = ActiveBypass(i_limit_a=0.02 / ratio, r_on_ohm=300.0 * ratio, v_cutoff_v=60.0 * ratio)
    return _fitted(world, _bypass(world.loop, active))


def _resistive(world: World, sound: World) -> World | None:
    r_ohm = world.loop.supply.v_rms**2 / BLEEDER_W
    return _fitted(world, _bypass(world.loop, ResistorBypass(r_ohm=r_ohm, p_rated_w=10.0)))


def _no_bypass(world: World, sound: World) -> World | None:
    if not world.loop.bypass:
        return None
    return replace(world, loop=_bypass(world.loop), bypass=BypassIs.NONE)


def _lamps_back(*mended: LampsAre) -> Cure:
    """The lamps that are recorded, in place of what is found there."""

    def cure(world: World, sound: World) -> World | None:
        if world.lamps not in mended:
            return world
        loop = replace(world.loop, lamps=sound.loop.lamps)
        made = replace(figures_for(world, loop), lamps=LampsAre.AS_RECORDED, is_dark=False)
        return replace(made, lit=replace(world.lit, lamps=sound.lit.lamps))

    return cure


def _other_lamps(world: World, sound: World) -> World | None:
    """Dimmable drivers with a large input capacitor in every LED group."""
    return figures_for(world, other_lamps(world.loop))


def _one_make(world: World, sound: World) -> World | None:
    """All drivers like those of the first group."""
    lamps = tuple(
        replace(world.loop.lamps[0], count=lamp.count) if dims(lamp) and is_led(lamp) else lamp
        for lamp in world.loop.lamps
    )
    lit = replace(world.lit, lamps=tuple(world.lit.lamps[0] for _ in lamps))
    return _set_levels(replace(world, loop=replace(world.loop, lamps=lamps), lit=lit), sound)


def _with_neutral(world: World, sound: World) -> World | None:
    """Fed by a neutral: nothing passes through the lamps."""
    kept = world.loop.control
    control = Control(phase=kept.phase, set_up=kept.set_up, p_max_led_w=kept.p_max_led_w)
    return replace(world, loop=_bypass(replace(world.loop, control=control)), box=BoxIs.AS_MAPPED)


def _set_least(world: World, sound: World) -> World | None:
    if world.dimming is None:
        return None
    needs = drop_out_deg(world.loop, world.lit)
    if world.dimming.edge is PhaseMode.LEADING:
        latches = latches_from_deg(world.loop, world.lit)
        needs = max(needs, latches if latches < inf else 0.0)
    least = max(world.dimming.least_deg, needs + SET_ABOVE_DEG)
    return replace(world, dimming=replace(world.dimming, least_deg=least), settings=SettingsAre.AS_WANTED)


def _set_start(world: World, sound: World) -> World | None:
    if world.dimming is None:
        return None
    start = max(world.dimming.start_deg, pop_on_deg(world.loop, world.lit) + SET_ABOVE_DEG)
    return replace(world, dimming=replace(world.dimming, start_deg=start), settings=SettingsAre.AS_WANTED)


def _set_levels(world: World, sound: World) -> World | None:
    made = _set_least(world, sound)
    return None if made is None else _set_start(made, sound)


def _set_top(world: World, sound: World) -> World | None:
    if world.dimming is None or sound.dimming is None:
        return None
    return replace(world, dimming=replace(world.dimming, top_deg=sound.dimming.top_deg), settings=SettingsAre.AS_WANTED)


def _set_edge(world: World, sound: World) -> World | None:
    if world.dimming is None or world.loop.control.phase_mode not in (PhaseMode.SELECTABLE, PhaseMode.AUTOMATIC):
        return None
    has_iron = any(isinstance(lamp, IronCoreTransformerLamp) for lamp in world.loop.lamps)
    other = PhaseMode.TRAILING if world.dimming.edge is PhaseMode.LEADING else PhaseMode.LEADING
    if has_iron and other is PhaseMode.TRAILING:
        return None
    return replace(world, dimming=replace(world.dimming, edge=other), settings=SettingsAre.AS_WANTED)


def _settings(world: World, sound: World) -> World | None:
    return replace(world, settings=SettingsAre.AS_WANTED)


def _fewer(world: World, sound: World) -> World | None:
    """As many of the largest group as the maker allows."""
    most_w = world.loop.control.p_max_led_w
    lamps = list(world.loop.lamps)
    at = max(range(len(lamps)), key=lambda k: lamps[k].count)
    each = rated_w(lamps[at])
    if most_w is None or each is None:
        return None
    others = sum(lamp.count * (rated_w(lamp) or 0.0) for k, lamp in enumerate(lamps) if k != at)
    lamps[at] = replace(lamps[at], count=max(1, min(lamps[at].count, int((most_w - others) / each))))
    return replace(world, loop=replace(world.loop, lamps=tuple(lamps)), lamps=LampsAre.AS_RECORDED)


def _other_control(world: World, sound: World) -> World | None:
    """A control for any of these lamps: fed by a tenth of the power, on the other edge, of twice the load."""
    control = world.loop.control
    feed = control.standby
    if isinstance(feed, SwitchingFeed):
        feed = replace(feed, p_w=max(1e-4, 0.1 * feed.p_w))
    most_w = None if control.p_max_led_w is None else min(5e3, 2.0 * control.p_max_led_w)
    loop = replace(world.loop, control=replace(control, standby=feed, p_max_led_w=most_w))
    dimming = world.dimming
    if dimming is not None and not any(isinstance(lamp, IronCoreTransformerLamp) for lamp in loop.lamps):
        dimming = replace(dimming, edge=PhaseMode.TRAILING)
    elif dimming is not None:
        dimming = replace(dimming, edge=PhaseMode.LEADING)
    return replace(world, loop=loop, dimming=dimming, contact=ContactIs.GOOD)


def _replace_control(world: World, sound: World) -> World | None:
    """One of the same kind that is whole."""
    return replace(world, contact=ContactIs.GOOD)


def _box(*mended: BoxIs) -> Cure:
    def cure(world: World, sound: World) -> World | None:
        if world.box not in mended:
            return world
        return replace(world, box=BoxIs.AS_MAPPED, loop=replace(world.loop, control=sound.loop.control))

    return cure


def _luminaire(mended: LuminaireIs) -> Cure:
    def cure(world: World, sound: World) -> World | None:
        if world.luminaire is not mended:
            return world
        return replace(world, luminaire=LuminaireIs.AS_RECORDED, lamps=LampsAre.AS_RECORDED)

    return cure


def _nearer(more_db: float, mended: BoxIs | None = None) -> Cure:
    def cure(world: World, sound: World) -> World | None:
        hub = HubIs.FINE if world.air.hub is HubIs.THROUGH_END_DEVICE else world.air.hub
        made = replace(world, air=replace(world.air, margin_db=world.air.margin_db + more_db, hub=hub))
        return replace(made, box=BoxIs.AS_MAPPED) if mended is not None and made.box is mended else made

    return cure


def _hub(*mended: HubIs) -> Cure:
    def cure(world: World, sound: World) -> World | None:
        if world.air.hub not in mended:
            return world
        margin = sound.air.margin_db if world.air.hub is HubIs.BUSY_CHANNEL else world.air.margin_db
        return replace(world, air=replace(world.air, hub=HubIs.FINE, margin_db=margin))

    return cure


def _quiet(world: World, sound: World) -> World | None:
    return replace(world, step_ratio=min(world.step_ratio, 0.02))


def _cable(world: World, sound: World) -> World | None:
    return replace(world, loop=replace(world.loop, cable=sound.loop.cable))


def _supply(world: World, sound: World) -> World | None:
    return replace(world, loop=replace(world.loop, supply=sound.loop.supply))


CURES: Mapping[str, Cure] = {
    "fit_bypass": _fit_bypass,
    "replace_bypass": _new_bypass,
    "bigger_bypass": _bigger,
    "other_kind_bypass": _other_kind,
    "move_bypass": _moved_bypass,
    "lamps_as_recorded": _lamps_back(LampsAre.OTHER),
    "other_lamps": _other_lamps,
    "replace_dead_lamps": _lamps_back(LampsAre.SOME_DARK),
    "smart_lamp_out": _lamps_back(LampsAre.SMART),
    "module_at_luminaire": _with_neutral,
    "new_neutral": _with_neutral,
    "take_out_choke": _luminaire(LuminaireIs.OLD_GEAR),
    "take_out_locator": _box(BoxIs.LOCATOR),
    "second_control_out": _box(BoxIs.SECOND_CONTROL),
    "filter_the_other_load": _quiet,
    "shorten_or_separate_cable": _cable,
    "call_the_network_operator": _supply,
    "set_edge": _set_edge,
    "set_least": _set_least,
    "set_start": _set_start,
    "set_top": _set_top,
    "set_input": _settings,
    "set_power_on": _settings,
    "learn_load": _set_levels,
    "take_bypass_out": _no_bypass,
    "resistive_bypass": _resistive,
    "fewer_lamps": _fewer,
    "one_make_of_lamps": _one_make,
    "other_control": _other_control,
    "replace_control": _replace_control,
    "exchange_line_and_load": _box(BoxIs.LINE_LOAD),
    "exchange_gangs": _box(BoxIs.GANGS),
    "set_travellers_right": _box(BoxIs.TRAVELLERS),
    "fit_link": _box(BoxIs.LINK),
    "connect_earth": _box(BoxIs.EARTH),
    "tighten_terminals": _box(BoxIs.LOOSE),
    "neutral_of_its_own": _box(BoxIs.BORROWED),
    "tighten_neutral": _luminaire(LuminaireIs.NEUTRAL_LOOSE),
    "router_between": _nearer(ROUTER_DB),
    "move_hub": _nearer(HUB_DB),
    "plate_not_metal": _nearer(PLATE_DB, BoxIs.METAL),
    "second_hub": _hub(HubIs.FULL, HubIs.NOT_LISTED),
    "phone_on_right_band": _hub(HubIs.OTHER_BAND),
    "join_right_network": _hub(HubIs.OTHER_NETWORK),
    "pair_again": _hub(HubIs.NOT_JOINED),
    "other_hub_or_control": _hub(HubIs.NOT_LISTED),
    "remote_to_dimmer_first": _hub(HubIs.REMOTE),
    "other_channel": _hub(HubIs.BUSY_CHANNEL),
}

_LIGHT_OFF = (
    "fit_bypass",
    "bigger_bypass",
    "other_kind_bypass",
    "other_lamps",
    "other_control",
    "module_at_luminaire",
    "new_neutral",
)
# What is offered for each cause; chances are computed, not taken from here.
OFFERED: Mapping[str, tuple[str, ...]] = {
    "no_bypass": _LIGHT_OFF,
    "lamps_pass_too_little": _LIGHT_OFF,
    "bypass_too_small": (*_LIGHT_OFF, "replace_bypass"),
    "bypass_missing": ("replace_bypass", *_LIGHT_OFF),
    "bypass_open": ("replace_bypass", *_LIGHT_OFF),
    "bypass_dried": ("replace_bypass", *_LIGHT_OFF),
    "bleeder_open": ("replace_bypass", *_LIGHT_OFF),
    "bypass_other_gang": ("move_bypass", *_LIGHT_OFF),
    "bypass_across_control": ("move_bypass", *_LIGHT_OFF),
    "lamp_swapped": ("lamps_as_recorded", *_LIGHT_OFF),
    "start_threshold_low": _LIGHT_OFF,
    "input_capacitor_small": _LIGHT_OFF,
    "cable_long": (*_LIGHT_OFF, "shorten_or_separate_cable"),
    "locator_lamp": ("take_out_locator", *_LIGHT_OFF),
    "neutral_loose": ("tighten_neutral",),
    "neutral_borrowed": ("neutral_of_its_own",),
    "supply_high": (*_LIGHT_OFF, "call_the_network_operator"),
    "two_controls": ("second_control_out", *_LIGHT_OFF),
    "disturbed": ("filter_the_other_load", *_LIGHT_OFF),
    "choke_left_in": ("take_out_choke",),
    "smart_lamp": ("smart_lamp_out",),
    "lamp_dead": ("replace_dead_lamps", *_LIGHT_OFF),
    "filament_replaced": ("lamps_as_recorded", *_LIGHT_OFF),
    "supply_low": (*_LIGHT_OFF, "call_the_network_operator"),
    "feeding_lamp_out": ("replace_dead_lamps",),
    "edge_wrong": ("set_edge",),
    "least_too_low": ("set_least",),
    "start_too_low": ("set_start",),
    "top_too_low": ("set_top",),
    "lamps_not_dimmable": ("other_lamps", "other_control"),
    "holding_not_met": ("set_edge", "resistive_bypass", "other_control", "other_lamps"),
    "ring_misfire": ("set_edge", "other_control", "other_lamps"),
    "supply_gap": ("fit_bypass", "other_control", "new_neutral"),
    "bypass_under_leading": ("take_bypass_out", "resistive_bypass", "set_edge", "other_control"),
    "decay_late": ("set_edge", "take_bypass_out", "resistive_bypass", "other_lamps"),
    "overloaded": ("fewer_lamps", "other_control"),
    "mixed_drivers": ("set_least", "one_make_of_lamps"),
    "iron_and_electronic": ("set_edge", "other_control"),
    "triac_half": ("replace_control", "other_control"),
    "relay_welded": ("replace_control", "other_control"),
    "line_load_exchanged": ("exchange_line_and_load",),
    "gangs_exchanged": ("exchange_gangs",),
    "travellers_mixed": ("set_travellers_right",),
    "mode_link_missing": ("fit_link",),
    "earth_missing": ("connect_earth",),
    "terminal_loose": ("tighten_terminals",),
    "input_kind_wrong": ("set_input",),
    "power_on_setting": ("set_power_on",),
    "load_not_learned": ("learn_load",),
    "out_of_range": ("move_hub", "router_between"),
    "metal_box": ("plate_not_metal", "router_between", "move_hub"),
    "hub_full": ("second_hub",),
    "wrong_band": ("phone_on_right_band",),
    "wrong_network": ("join_right_network",),
    "window_expired": ("pair_again",),
    "not_supported": ("other_hub_or_control", "second_hub"),
    "remote_at_hub": ("remote_to_dimmer_first",),
    "end_device_as_router": ("router_between", "move_hub"),
    "interference": ("other_channel",),
}


def cured(name: str, shows: Shows, sound: Shows, told: tuple[Symptom, ...]) -> bool:
    """Whether what was told is gone with a remedy, and nothing new shows; not where it never showed."""
    if not any(shows.symptom(code) > 0.0 for code in told):
        return False
    try:
        world = CURES[name](shows.world, sound.world)
    except InputError:
        return False
    if world is None:
        return False
    after = Shows(world, shows if world.loop is shows.world.loop else None)
    return all(
        after.symptom(code) <= GONE if code in told else after.symptom(code) < max(UNKNOWN, shows.symptom(code) + GONE)
        for code in Symptom
    )
