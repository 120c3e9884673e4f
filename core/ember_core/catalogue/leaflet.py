"""A lamp or control as its leaflet tells it: watts, perhaps what its maker says of dimming, nothing of its electronics.

What is not said is taken from the range of its class, marked assumed with its reference; it is never a
declaration, and never a point where the trade has a range.
"""

from __future__ import annotations

from dataclasses import replace

from ember_core.catalogue.class_defaults import ClassDefault, class_defaults, region_of, typical_lamp
from ember_core.catalogue.control_classes import control_classes, typical_control_data
from ember_core.catalogue.entry import Category, Claim, Entry
from ember_core.errors import InputError
from ember_core.parts import Supply
from ember_core.quantities import Figure, Source

WATTS = ("p_run_w", "p_rated_w")
_START, _STOP = "v_start_v", "v_stop_v"


def filled(entry: Entry) -> Entry:
    """A lamp or control with the figures of its class where nobody states any; other parts as they are.

    Watts that are not stated either make the ranges those of the whole class.

    Raises
    ------
    InputError : watts for which the figures of the class do not hold.
    """
    if entry.v_rms is None:
        return entry
    stated = {claim.field: claim.figure for claim in entry.claims if claim.in_use}
    found = _class_of(entry)
    if entry.category is Category.CONTROL:
        figures = _of_controls(entry.kind, entry.v_rms)
    elif found is not None:
        figures = _figures(found, Supply(v_rms=entry.v_rms, f_hz=50.0), stated)
    else:
        return entry
    new = [Claim(field=name, figure=figure) for name, figure in figures.items() if name not in stated]
    return replace(entry, claims=(*entry.claims, *new))


def _class_of(entry: Entry) -> ClassDefault | None:
    """The plainest class of its kind on its mains; None for what is no lamp or has no class."""
    if entry.category is not Category.LAMP or entry.v_rms is None:
        return None
    region = region_of(entry.v_rms)
    return next((one for one in class_defaults() if one.kind == entry.kind and one.region_v == region), None)


def _of_controls(feed: str, v_rms: float) -> dict[str, Figure]:
    """Figures over all classes of controls with this feed: a leaflet does not say of which class one is."""
    ranges: dict[str, list[tuple[float, float, float]]] = {}
    note = ""
    for one in control_classes():
        if one.feed != feed:
            continue
        data = typical_control_data(one.name, v_rms)
        standby = {f"standby.{name}": entry for name, entry in data.pop("standby").items() if name != "kind"}
        # What it does to the half-cycle is for its maker to say.
        data.pop("phase", None)
        for name, entry in {**data, **standby}.items():
            ranges.setdefault(name, []).append((entry["low"], entry["typical"], entry["high"]))
            note = entry["note"]
    return {
        name: Figure(
            low=min(low for low, _, _ in found),
            typical=sorted(typical for _, typical, _ in found)[len(found) // 2],
            high=max(high for _, _, high in found),
            source=Source.ASSUMED,
            note=note,
        )
        for name, found in ranges.items()
    }


def _figures(found: ClassDefault, supply: Supply, stated: dict[str, Figure]) -> dict[str, Figure]:
    watts = next((stated[name].typical for name in WATTS if name in stated), None)
    if watts is not None and not found.p_low_w <= watts <= found.p_high_w:
        name = next(name for name in WATTS if name in stated)
        raise InputError(
            "out_of_bounds", path=f"figures[{name}]", value=watts, low=found.p_low_w, high=found.p_high_w, unit="W"
        )
    _, figures = typical_lamp(found.stage, supply, watts)
    return _beside(figures, stated)


def _beside(figures: dict[str, Figure], stated: dict[str, Figure]) -> dict[str, Figure]:
    """Start and stop go together: where one is stated the other keeps its share of it."""
    for given, other in ((_START, _STOP), (_STOP, _START)):
        if given in stated and other in figures and other not in stated:
            factor = stated[given].typical / figures[given].typical
            old = figures[other]
            scaled = replace(old, low=old.low * factor, typical=old.typical * factor, high=old.high * factor)
            figures = {**figures, other: scaled}
    return figures
