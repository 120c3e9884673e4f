"""The demo sites and loops: each names the shelf's parts; what comes out is computed, never written here."""

from __future__ import annotations

from typing import Any

MILL: dict[str, Any] = {
    "name": "Kestrel Mill",
    "place": "Watermill turned into rental studios and a pottery",
    "region": "eu",
    "v_rms": 230.0,
    "f_hz": 50.0,
    "zone": "Europe/London",
}
CANNERY: dict[str, Any] = {
    "name": "Larkspur Cannery",
    "place": "Harbour works turned into workshops, Port Ellery",
    "region": "na",
    "v_rms": 120.0,
    "f_hz": 60.0,
    "zone": "America/New_York",
}

MILL_CIRCUITS = (
    ("3", "wheelhouse", "wheelhouse stair and millrace walk"),
    ("5", "gallery lights", "gallery and loft landing"),
    ("7", "kiln", "kiln room and glaze store lights"),
    ("9", "studios", "pottery studio"),
)
CANNERY_CIRCUITS = (("12", "office", "dock office"), ("14", "stair", "packing hall stair"))


def gang(
    control: str,
    lamps: list[tuple[str, int]],
    *bypasses: str,
    fitted: bool = False,
    name: str = "",
    place: dict[str, Any] | None = None,
) -> dict[str, Any]:
    """A gang by the names of its parts; all on the shelf."""
    return {
        "control": control,
        "lamps": lamps,
        "bypasses": bypasses,
        "fitted": fitted,
        "name": name,
        "place": place,
    }


ROSE = {
    "where": "luminaire",
    "name": "ceiling rose",
    "has_both_conductors": True,
    "is_reachable": True,
    "room_m": 0.03,
    "takes_adapter": None,
    "in_insulation": False,
}


# (loop, breaker, note, gangs)
MILL_LOOPS: tuple[tuple[str, str, str, list[dict[str, Any]]], ...] = (
    (
        "Wheelhouse stair",
        "3",
        "No neutral in the box. Four pendants.",
        [gang("Relay S1, 802.15.4 mesh", [("Plain bulb 6 W", 4)])],
    ),
    (
        "Kiln room",
        "7",
        "Tenant says the lamp flashes at night.",
        [gang("Relay S1, 802.15.4 mesh", [("Candle 4 W", 1)], fitted=True)],
    ),
    (
        "Glaze store",
        "7",
        "Faint light over the shelves after dark.",
        [gang("Turn dimmer T4, sub-GHz", [("Market bulb 5 W", 1)], fitted=True)],
    ),
    (
        "Gallery",
        "5",
        "Control drops off the network.",
        [gang("Touch relay C3, sub-GHz", [("Plain bulb 6 W", 2)], "X2 pack 330 nF", fitted=True)],
    ),
    (
        "Loft landing",
        "5",
        "One lamp only, bypass at the ceiling rose.",
        [gang("Relay S1, 802.15.4 mesh", [("Plain bulb 6 W", 1)], "X2 pack 100 nF", fitted=True, place=ROSE)],
    ),
    (
        "Millrace walk",
        "3",
        "Ordinary switch with a locator lamp; the lantern blinks.",
        [gang("Switch with locator lamp", [("Candle 4 W", 1)], fitted=True)],
    ),
    (
        "Pottery studio",
        "9",
        "Two gangs in one box.",
        [
            gang("Relay S2, Wi-Fi", [("Spot 8 W dimmable", 3)], "X2 pack 150 nF", name="Wheels"),
            gang("Ordinary switch", [("Panel driver 18 W", 2)], name="Drying racks"),
        ],
    ),
    (
        "Millstone passage",
        "5",
        "Twin control; the passage lamps blink. Could the two be swapped?",
        [
            gang("Twin relay S22, output 1", [("Plain bulb 6 W", 2)], name="Passage"),
            gang("Twin relay S22, output 2", [("Clear filament 40 W", 2)], name="Stone case"),
        ],
    ),
    (
        "Packing loft",
        "9",
        "One flash when the yard pump starts.",
        [gang("Relay S1, 802.15.4 mesh", [("Pygmy 2 W", 1)], "X2 pack 68 nF", fitted=True)],
    ),
    (
        "Wash house",
        "7",
        "Candles and one filament lamp mixed; nobody complains.",
        [gang("Relay S0, sub-GHz", [("Candle 4 W", 3), ("Clear filament 25 W", 1)], fitted=True)],
    ),
    (
        "Bell chamber",
        "9",
        "Dimmer for three spots; how far down will it go?",
        [gang("Push dimmer T6, 802.15.4 mesh", [("Spot 8 W dimmable", 3)])],
    ),
    (
        "Eel weir porch",
        "3",
        "Two ring transformers with halogen lamps; the tenant wants them dimmed.",
        [gang("Twin-edge dimmer T8, sub-GHz", [("Ring transformer 50 W, halogen", 2)])],
    ),
    ("Sluice lobby", "3", "Lamps not looked at yet.", [gang("Relay S1, 802.15.4 mesh", [])]),
    (
        "Grain loft",
        "9",
        "One small lamp; the rose is within reach.",
        [gang("Relay S2, Wi-Fi", [("Candle 4 W", 1)])],
    ),
    (
        "Sack hoist",
        "9",
        "Single cores in conduit; the relay starves.",
        [gang("Touch relay C3, sub-GHz", [("Candle 4 W", 1)])],
    ),
    (
        "Meal store",
        "7",
        "The old switch is to stay.",
        [gang("Switch module B1, 802.15.4 mesh", [("Plain bulb 6 W", 4)])],
    ),
    (
        "Miller's parlour",
        "5",
        "Smart lamps; a plate to press is wanted.",
        [gang("Relay N1, 802.15.4 mesh", [])],
    ),
    (
        "Clay store",
        "9",
        "The dimmer is bought already and wants a neutral; the drop has a free core.",
        [gang("Dimmer N6, 802.15.4 mesh", [("Spot 8 W dimmable", 2)], fitted=True)],
    ),
    (
        "Dye house",
        "7",
        "The twin relay is bought already and wants a neutral; nothing spare in the conduit.",
        [
            gang("Twin relay N22, 802.15.4 mesh", [("Candle 4 W", 1)], fitted=True, name="Vats"),
            gang("Twin relay N22, 802.15.4 mesh", [("Candle 4 W", 1)], fitted=True, name="Shelves"),
        ],
    ),
    (
        "Yard gate",
        "3",
        "On at dusk, off at eleven; nothing else is wanted.",
        [gang("Week timer H7", [("Plain bulb 6 W", 1)])],
    ),
    ("Flour bins", "7", "A plain switch does.", [gang("Ordinary switch", [("Plain bulb 6 W", 1)])]),
    (
        "Gallery stair",
        "5",
        "Switched at foot and head.",
        [gang("Relay S1, 802.15.4 mesh", [("Plain bulb 6 W", 4)])],
    ),
    (
        "Tower stair",
        "5",
        "Switched at foot and head; the relay has no companion.",
        [gang("Relay S2, Wi-Fi", [("Clear filament 40 W", 3)])],
    ),
    (
        "Cider cellar",
        "7",
        "The lamp returns by the neutral of another breaker.",
        [gang("Relay S1, 802.15.4 mesh", [("Plain bulb 6 W", 2)])],
    ),
)
CANNERY_LOOPS: tuple[tuple[str, str, str, list[dict[str, Any]]], ...] = (
    (
        "Dock office",
        "12",
        "One lamp, flashes after switching off.",
        [gang("Relay S1A, 802.15.4 mesh, 120 V", [("Plain bulb 6 W, 120 V", 1)])],
    ),
    (
        "Packing hall stair",
        "14",
        "One downlight with a bypass.",
        [gang("Relay S1A, 802.15.4 mesh, 120 V", [("Downlight 9 W, 120 V", 1)], "X2 pack 470 nF", fitted=True)],
    ),
)

_PLAIN_BOX = {"depth_m": 0.047, "width_m": 0.07, "height_m": 0.07, "material": "plastic", "all_listed": True}


def _seen(practice: str, **others: Any) -> dict[str, Any]:
    """A box in which every conductor was marked by whoever surveyed it; no readings are left to take."""
    return {
        "practice": practice,
        "enquiry": {"complaint": "none"},
        "box": _PLAIN_BOX,
        "control_body": None,
        "reads": False,
        "is_marked": True,
        **others,
    }


_AT_BOTH_ENDS = {"enquiry": {"complaint": "none", "is_switched_elsewhere": True}, "name": "Foot of the stair"}
_HEAD = {"practice": "two_way_far_end", "name": "Head of the stair", "travellers_m": 7.0}
# What was seen at ceiling points, by loop: of each gang in turn.
CEILINGS: dict[str, tuple[dict[str, str], ...]] = {
    "Kiln room": ({"line": "no", "neutral": "own"},),
    "Grain loft": ({"line": "yes", "neutral": "own"},),
    "Sack hoist": ({"line": "no", "neutral": "own"},),
    "Miller's parlour": ({"line": "yes", "neutral": "own", "lamps": "smart"},),
    "Clay store": ({"line": "yes", "neutral": "own", "spare": "yes", "junction": "1"},),
    "Dye house": ({"line": "no", "neutral": "own"}, {"line": "no", "neutral": "own"}),
    "Cider cellar": ({"line": "yes", "neutral": "other"},),
}
# Ways that were chosen, and why; none stands for what the comparison favours.
CHOSEN: tuple[tuple[str, str | None, str], ...] = (
    ("Gallery stair", "control_and_companion", "The head of the stair gets the companion: no plaster is opened."),
    ("Wheelhouse stair", None, ""),
    ("Sack hoist", None, ""),
    ("Meal store", None, "The old switch is to stay."),
    ("Grain loft", None, ""),
    ("Dock office", None, ""),
)
# Planned days: site, name, who comes, loops, minutes by hand, and when a breaker may be off (minutes of the day).
PLANS: tuple[dict[str, Any], ...] = (
    {
        "site": "Kestrel Mill",
        "name": "Stairs, hoist and stores",
        "people": ("wren", "tam"),
        "loops": (
            "Gallery stair",
            "Wheelhouse stair",
            "Sack hoist",
            "Meal store",
            "Grain loft",
            "Bell chamber",
        ),
        "windows": {"9": (600, 1020)},
    },
    {
        "site": "Larkspur Cannery",
        "name": "Dock office",
        "people": ("wren",),
        "loops": ("Dock office",),
        "windows": {},
    },
)
# A leaflet's drawing that exchanges line and load, and its correction: loop, two names, where they are from.
LEAFLET = ("Grain loft", "Leaflet of the relay", "Leaflet, corrected", "leaflet in the box, page 2")
# Surveys of some loops: practice, enquiry, measures of box and control; readings are taken by the stand-in.
SURVEYS: dict[str, dict[str, Any]] = {
    "Wheelhouse stair": _seen("feed_at_ceiling", reads=True),
    "Grain loft": _seen("feed_at_ceiling", reads=True),
    "Sack hoist": _seen("singles_in_conduit"),
    "Meal store": _seen("feed_at_ceiling"),
    "Miller's parlour": _seen("feed_at_ceiling"),
    "Clay store": _seen("feed_at_ceiling", spare="grey"),
    "Dye house": _seen("singles_in_conduit"),
    "Yard gate": _seen("feed_at_ceiling"),
    "Flour bins": _seen("feed_at_ceiling"),
    "Cider cellar": _seen("fixture_fed_light_live"),
    "Gallery stair": _seen("two_way_feed_end", **_AT_BOTH_ENDS, second=_HEAD),
    "Tower stair": _seen("two_way_feed_end", **_AT_BOTH_ENDS, second=_HEAD),
    "Kiln room": {
        "practice": "feed_at_ceiling",
        "enquiry": {
            "wired_year": 1974,
            "complaint": "flicker_off",
            "flash_period_s": 0.15,
            "radio": "mesh_802154",
            "lamps": "led",
        },
        "box": {"depth_m": 0.035, "width_m": 0.07, "height_m": 0.07, "material": "plastic", "all_listed": True},
        "control_body": {"depth_m": 0.024, "width_m": 0.045, "height_m": 0.045, "lead_count": 0},
        "reads": True,
    },
    "Pottery studio": {
        "practice": "feed_at_switch",
        "enquiry": {"wired_year": 2004, "complaint": "none", "radio": "wifi_2g4", "gang_count": 2},
        "box": {"depth_m": 0.047, "width_m": 0.13, "height_m": 0.07, "material": "plastic", "all_listed": True},
        "control_body": {"depth_m": 0.036, "width_m": 0.045, "height_m": 0.045, "lead_count": 4},
        "reads": False,
        "is_marked": True,
    },
    "Dock office": {
        "practice": "fixture_fed_light_live",
        "enquiry": {"wired_year": 1968, "complaint": "flicker_off", "radio": "wifi_2g4", "lamps": "led"},
        "box": {"depth_m": 0.056, "width_m": 0.05, "height_m": 0.075, "material": "plastic", "all_listed": True},
        "control_body": {"depth_m": 0.03, "width_m": 0.044, "height_m": 0.065, "lead_count": 3},
        "reads": True,
    },
    "Packing hall stair": {
        "practice": "two_way_feed_end",
        "name": "Foot of the stair",
        "enquiry": {"wired_year": 1981, "complaint": "none", "is_switched_elsewhere": True, "lamps": "led"},
        "box": {"depth_m": 0.056, "width_m": 0.05, "height_m": 0.075, "material": "metal", "all_listed": True},
        "control_body": None,
        "reads": False,
        "second": {"practice": "two_way_far_end", "name": "Landing", "travellers_m": 9.5},
    },
}
# Somebody is at work there when the demo is opened: breaker, loop, and whose lock is on.
ISOLATED = ("Larkspur Cannery", "14", "Packing hall stair", "tam")
