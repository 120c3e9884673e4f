"""What each test finds in a world: the chance of each of its outcomes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from scipy.special import ndtr

from ember_core.diagnosis.exchanged import figures_for, other_lamps, with_good_bypass, with_one_filament
from ember_core.diagnosis.shows import FADE_WANTED_DB, FADING_DB, UNKNOWN, Shows
from ember_core.diagnosis.symptoms import Symptom
from ember_core.diagnosis.world import NOTHING, BoxIs, BypassIs, HubIs
from ember_core.errors import InputError
from ember_core.loop import Loop
from ember_core.parts import PhaseMode

Outcome = Callable[[Shows, tuple[Symptom, ...]], Mapping[str, float]]
# What a hub brought near gains.
NEARER_DB = 25.0
# So many remember, or ever knew, what was changed before it began [assumption].
REMEMBERED = 0.65
# A film capacitor that failed open looks it in so many cases.
LOOKS_DAMAGED = 0.4


def found_by(shows: Shows, test: str, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    """Chance of each outcome of a test in a world [1]; those not named are not found.

    Parameters
    ----------
    told : the symptoms complained of, by which try-and-see is judged.
    """
    return _OUTCOMES[test](shows, told)


def _stops(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    """Whether what was told is gone."""
    left = max((shows.symptom(code) for code in told), default=0.0)
    return {"stops": 1.0 - left, "goes_on": left}


def _tried(change: Callable[[Loop], Loop]) -> Outcome:
    """A trial with another loop, remembered with the world."""
    key = f"_tried_{id(change)}"

    def found(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
        if key not in shows.__dict__:
            try:
                shows.__dict__[key] = Shows(figures_for(shows.world, change(shows.world.loop)))
            except InputError:
                shows.__dict__[key] = shows
        return _stops(shows.__dict__[key], told)

    return found


def _wall(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    for outcome, code in (
        ("nothing", Symptom.NOTHING_LIGHTS),
        ("stays_on", Symptom.WILL_NOT_SWITCH_OFF),
        ("other_lamp", Symptom.OTHER_LAMP),
        ("depends", Symptom.DEPENDS_ON_SWITCH),
        ("needs_two", Symptom.NEEDS_TWO_PRESSES),
    ):
        if shows.symptom(code) > 0.0:
            return {outcome: 1.0}
    starved = shows.starves
    return {"works": 1.0 - 0.5 * starved, "nothing": 0.5 * starved}


def _watch(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    for outcome, code in (("blink", Symptom.BLINK_OFF), ("glow", Symptom.GLOW_OFF)):
        if shows.symptom(code) > 0.0:
            return {outcome: 1.0}
    flashes = shows.symptom(Symptom.SINGLE_FLASH)
    return {"single_flashes": flashes, "dark": 1.0 - flashes}


def _levels(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    for outcome, code in (
        ("goes_out_low", Symptom.GOES_OUT_LOW),
        ("flickers", Symptom.FLICKER_ON),
        ("flickers_low", Symptom.FLICKER_LOW),
        ("not_full", Symptom.NOT_FULL),
    ):
        chance = shows.symptom(code)
        if chance > 0.0:
            return {outcome: chance, "steady": 1.0 - chance}
    return {"steady": 1.0}


def _network(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    air = shows.world.air
    if air.hub is not HubIs.FINE:
        return {air.hub.value: 1.0}
    weak = float(ndtr((FADE_WANTED_DB - air.margin_db) / FADING_DB))
    return {"weak": weak, "fine": 1.0 - weak}


def _bypass(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    match shows.world.bypass:
        case BypassIs.NONE:
            return {"missing": 1.0}
        case BypassIs.DAMAGED:
            return {"damaged": LOOKS_DAMAGED, "in_place": 1.0 - LOOKS_DAMAGED}
    return {shows.world.bypass.value: 1.0}


def _near(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    air = shows.world.air
    return _stops(shows.with_world(air=replace(air, margin_db=air.margin_db + NEARER_DB)), told)


def _edge(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    dimming = shows.world.dimming
    if dimming is None:
        return {"goes_on": 1.0}
    other = PhaseMode.TRAILING if dimming.edge is PhaseMode.LEADING else PhaseMode.LEADING
    return _stops(shows.with_world(dimming=replace(dimming, edge=other)), told)


def _cycled(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    """Switching the breaker off and on opens the window for pairing anew, and nothing else."""
    air = shows.world.air
    if air.hub is not HubIs.NOT_JOINED:
        return _stops(shows, told)
    return _stops(shows.with_world(air=replace(air, hub=HubIs.FINE)), told)


def _swapped(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    """With the two circuits on each other's output: mends a box where they are exchanged, and a bypass on the other.

    On many controls one output alone feeds the electronics. Then the feed passes through the other circuit: what it did
    to these lamps is gone, and whether that circuit bears it is as likely as not, since its lamps are not on the sheet.
    """
    world = shows.world
    if world.box is BoxIs.GANGS:
        return {"works": 1.0}
    if world.bypass is BypassIs.OTHER_GANG:
        found = _stops(shows.with_world(loop=with_good_bypass(world.loop)), told)
        return {"works": found["stops"], "same": found["goes_on"]}
    control = world.loop.control
    if control.standby is None:
        return {"same": 1.0}
    unfed = replace(world.loop, control=replace(control, standby=None))
    works = UNKNOWN * _stops(shows.with_world(loop=unfed), told)["stops"]
    return {"works": works, "same": 1.0 - works}


def _remembered(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
    """What was changed, as far as anybody remembers or knew; of several things, one."""
    changed = [one for one in shows.world.changed if one != NOTHING]
    remembered = {one: REMEMBERED / len(changed) for one in changed}
    return {**remembered, NOTHING: 1.0 - sum(remembered.values())}


def _one(code: Symptom, yes: str, no: str) -> Outcome:
    def found(shows: Shows, told: tuple[Symptom, ...]) -> Mapping[str, float]:
        chance = shows.symptom(code)
        return {yes: chance, no: 1.0 - chance}

    return found


_OUTCOMES: dict[str, Outcome] = {
    "changed_asked": _remembered,
    "wall_pressed": _wall,
    "lamps_looked_at": lambda shows, told: {shows.world.lamps.value: 1.0},
    "settings_looked_at": lambda shows, told: {shows.world.settings.value: 1.0},
    "network_looked_at": _network,
    "flicker_watch": _watch,
    "other_loads_switched": _one(Symptom.SINGLE_FLASH, "flashes", "nothing"),
    "level_run": _levels,
    "started_low": _one(Symptom.COMES_ON_LATE, "late", "comes_on"),
    "edge_changed": _edge,
    "left_on": _one(Symptom.GOES_OUT_LATER, "goes_out", "stays"),
    "power_cycled": _cycled,
    "hub_brought_near": _near,
    "one_filament_lamp": _tried(with_one_filament),
    "another_lamp": _tried(other_lamps),
    "bypass_looked_at": _bypass,
    "bypass_tried": _tried(with_good_bypass),
    "box_looked_at": lambda shows, told: {shows.world.box.value: 1.0},
    "luminaire_looked_at": lambda shows, told: {shows.world.luminaire.value: 1.0},
    "gangs_swapped": _swapped,
}
