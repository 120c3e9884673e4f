"""Colours of conductors by region, old and new: a weak hint, never a proof."""

from __future__ import annotations

from ember_core.survey.box import Role

_LIVE = frozenset({Role.PERMANENT_LIVE, Role.LOOPED_LIVE, Role.SWITCHED_LIVE, Role.TRAVELLER, Role.FOREIGN_LIVE})
_SWITCHED = frozenset({Role.SWITCHED_LIVE, Role.TRAVELLER})
_NEUTRAL = frozenset({Role.NEUTRAL, Role.FOREIGN_NEUTRAL, Role.SWITCHED_NEUTRAL})
_EARTH = frozenset({Role.EARTH})

# What each colour usually means. Regions: eu covers harmonised colours and the national ones before them.
USUAL: dict[str, dict[str, frozenset[Role]]] = {
    "eu": {
        "brown": _LIVE,
        "black": _LIVE | _NEUTRAL,  # phase now, neutral in some old national codes
        "grey": _LIVE | _NEUTRAL,
        "blue": _NEUTRAL,
        "green_yellow": _EARTH,
        "red": _LIVE,
        "yellow": _SWITCHED,
        "green": _EARTH,
        "white": _SWITCHED,
        "orange": _SWITCHED,
        "violet": _SWITCHED,
        "bare": _EARTH,
    },
    "na": {
        "black": _LIVE,
        "red": _LIVE,
        "blue": _SWITCHED,
        "yellow": _SWITCHED,
        "white": _NEUTRAL,
        "grey": _NEUTRAL,
        "green": _EARTH,
        "green_yellow": _EARTH,
        "bare": _EARTH,
        "brown": _LIVE,
        "orange": _LIVE,
        "violet": _SWITCHED,
    },
}
COLOURS = (
    "brown",
    "black",
    "grey",
    "blue",
    "red",
    "white",
    "yellow",
    "orange",
    "violet",
    "green",
    "green_yellow",
    "bare",
)
# A usual colour makes a role this much likelier than an unusual one: it tips a balance, it decides nothing.
COLOUR_WEIGHT = 2.0


def usual_roles(region: str, colour: str, sleeve: str) -> frozenset[Role]:
    """Roles that this colour usually has, empty when it says nothing; a sleeve counts instead of what is below."""
    return USUAL.get(region, USUAL["eu"]).get(sleeve or colour, frozenset())


def contradicts(region: str, colour: str, sleeve: str, role: Role) -> bool:
    """True when the colour usually means another role."""
    usual = usual_roles(region, colour, sleeve)
    return bool(usual) and role not in usual and role is not Role.UNUSED
