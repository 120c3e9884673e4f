"""The radio of the demo's sites: a hub nearly full, a room out of range, a remote that must wait; and programs."""

from __future__ import annotations

from typing import Any

Json = dict[str, Any]

MILL_ROOMS = (
    ("office", "Office", 0),
    ("wheelhouse", "Wheelhouse", 0),
    ("gallery", "Gallery", 1),
    ("landing", "Loft landing", 1),
    ("kiln", "Kiln room", 0),
    ("glaze", "Glaze store", 0),
    ("studio", "Pottery studio", 0),
    ("bell", "Bell chamber", 2),
)
MILL_BETWEEN = (
    ("office", "wheelhouse", 7.0, {"brick": 1}, 0),
    ("office", "gallery", 6.0, {"plasterboard": 1}, 1),
    ("office", "landing", 9.0, {"plasterboard": 2}, 1),
    ("office", "kiln", 14.0, {"brick": 1, "stone": 1}, 0),
    ("office", "studio", 8.0, {"brick": 1}, 0),
    ("wheelhouse", "landing", 8.0, {"plasterboard": 1}, 1),
    ("gallery", "landing", 5.0, {"plasterboard": 1}, 0),
    ("kiln", "studio", 6.0, {"plasterboard": 1}, 0),
    ("kiln", "glaze", 6.0, {"stone": 2}, 0),
    ("studio", "glaze", 7.0, {"stone": 1}, 0),
    ("landing", "bell", 12.0, {"stone": 2, "concrete": 1}, 1),
    ("office", "bell", 22.0, {"stone": 3, "concrete": 1}, 2),
)
# Name, room, card, loop whose first gang it controls, dimmer, where its programs are kept.
MILL_DEVICES = (
    ("Landing plug", "landing", "plug_router", None, "", "nowhere"),
    ("Studio plug", "studio", "plug_router", None, "", "nowhere"),
    ("Wheelhouse stair", "wheelhouse", "two_wire_switch", "Wheelhouse stair", "", "control"),
    ("Gallery pictures", "gallery", "two_wire_dimmer", "Gallery", "", "hub"),
    ("Gallery remote", "gallery", "battery_remote", None, "Gallery pictures", "nowhere"),
    ("Loft landing lamp", "landing", "two_wire_switch", "Loft landing", "", "hub"),
    ("Kiln benches", "kiln", "two_wire_switch", "Kiln room", "", "hub"),
    ("Glaze shelves", "glaze", "two_wire_switch", "Glaze store", "", "hub"),
    ("Bell chamber spots", "bell", "two_wire_dimmer", "Bell chamber", "", "hub"),
)
CANNERY_ROOMS = (("dock", "Dock office", 0), ("stair", "Packing hall stair", 0), ("plant", "Plant room", 0))
CANNERY_BETWEEN = (
    ("plant", "dock", 9.0, {"brick": 1}, 0),
    ("plant", "stair", 12.0, {"plasterboard": 2}, 0),
    ("dock", "stair", 10.0, {"brick": 1}, 0),
)
CANNERY_DEVICES = (
    ("Dock office lamp", "dock", "neutral_module", "Dock office", "", "control"),
    ("Packing stair lamp", "stair", "two_wire_switch", "Packing hall stair", "", "hub"),
    ("Packing stair remote", "stair", "battery_remote_later", None, "Packing stair lamp", "nowhere"),
)
HOUSES: dict[str, Json] = {
    "Kestrel Mill": {
        "place": {"lat": 52.6, "lon": -1.9},
        "rooms": MILL_ROOMS,
        "between": MILL_BETWEEN,
        "hub": {
            **{"name": "Office hub", "room": "office", "bands": ["mesh_2g4"], "takes": 50, "has": 41, "window_s": 60.0},
            **{"left_over": ["test lamp"]},
        },
        "points": (("Office router", "office", 6), ("Gallery point", "gallery", 11)),
        "neighbours": [1],
        "devices": MILL_DEVICES,
    },
    "Larkspur Cannery": {
        "place": {"lat": 43.6, "lon": -70.2},
        "rooms": CANNERY_ROOMS,
        "between": CANNERY_BETWEEN,
        "hub": {
            **{"name": "Plant hub", "room": "plant", "bands": ["mesh_2g4"], "takes": 32, "has": 29, "window_s": 180.0},
            **{"needs_internet": True},
        },
        "points": (("Plant router", "plant", 1),),
        "neighbours": [],
        "devices": CANNERY_DEVICES,
    },
}
# Programs of the first gang of a loop.
PROGRAMS: dict[tuple[str, str], Json] = {
    ("Kestrel Mill", "Wheelhouse stair"): {
        "programs": [
            {"kind": "weekly", "days": ["mon", "tue", "wed", "thu", "fri"], "on": "sunset+20", "off": "22:30"},
            {"kind": "weekly", "days": ["mon", "tue", "wed", "thu", "fri"], "on": "06:30", "off": "sunrise"},
            {"kind": "auto_off", "minutes": 240},
        ],
        "device": {"restart": "as_before", "clock_holds_s": 3600, "clock_set_again": True, "most_programs": 7},
    },
    ("Larkspur Cannery", "Dock office"): {
        "programs": [{"kind": "random", "days": ["sat", "sun"], "from": "sunset", "to": "23:00", "seed": 7}],
        "device": {"restart": "off"},
    },
}


def document(wanted: Json, gangs: dict[str, str]) -> Json:
    """The document of a house.

    Parameters
    ----------
    gangs : identity of the first gang of each loop, by its name.
    """
    key = {name: name.lower().replace(" ", "-") for name, *_ in wanted["devices"]}
    return {
        **wanted["place"],
        "rooms": [{"id": room, "name": name, "floor": floor} for room, name, floor in wanted["rooms"]],
        "between": [
            {"a": a, "b": b, "d_m": d_m, "walls": walls, "floors": floors}
            for a, b, d_m, walls, floors in wanted["between"]
        ],
        "hubs": [{"id": "hub", **wanted["hub"]}],
        "access_points": [
            {"id": f"point-{k}", "name": name, "room": room, "channel": channel}
            for k, (name, room, channel) in enumerate(wanted["points"])
        ],
        "neighbours": wanted["neighbours"],
        "devices": [
            {
                "id": key[name],
                "name": name,
                "room": room,
                "card": card,
                "hub": "hub",
                "gang": gangs.get(loop, "") if loop else "",
                "dimmer": key.get(dimmer, ""),
                "metal_box": True if room == "glaze" else False if loop else None,
                "metal_plate": False,
                "keeps": keeps,
            }
            for name, room, card, loop, dimmer, keeps in wanted["devices"]
            if loop is None or loop in gangs
        ],
    }
