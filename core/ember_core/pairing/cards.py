"""Commissioning cards: how a kind of device enters pairing, for how long, and what it wants before and afterwards.

Times are typical ones of their class [s]; a maker's leaflet is better where there is one.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files
from types import MappingProxyType
from typing import Any

from ember_core.errors import InputErrors
from ember_core.radio.budget import Band
from ember_core.radio.mesh import Kind
from ember_core.reading import Reader

SHORTEST_WINDOW_S, LONGEST_WINDOW_S = 1.0, 3600.0
LONGEST_S = 7200.0


class Act(StrEnum):
    """How pairing is entered, or a device is reset."""

    HOLD = "hold"
    PRESS = "press"
    POWER_CYCLE = "power_cycle"
    FIRST_POWER = "first_power"


class Levels(StrEnum):
    """How the levels of a dimmer are set."""

    NONE = ""
    APP = "app"
    BUTTONS = "buttons"
    TRIMMER = "trimmer"


class Prepare(StrEnum):
    """What is done to a control before it joins anything."""

    LEARN_LOAD = "learn_load"
    MODE_LINK = "mode_link"


class Companion(StrEnum):
    """When a remote is linked to its dimmer."""

    NONE = ""
    # The hub would take it over: linked with the network closed, and only then joined.
    DIMMER_FIRST = "dimmer_first"
    # Joined first; linked in a later window of the dimmer, after the one that opens when its power comes on.
    LINK_LATER = "link_later"


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """How one kind of device is commissioned.

    Parameters
    ----------
    act, times, act_s : how pairing is entered, and how long hands need for it [s].
    window_s : it can join for so long from the end of that act. join_s : joining takes so long.
    shows : code of what it shows meanwhile. reset, reset_s : how everything it knows is taken from it.
    prepare_s : what comes before, and how long it takes. link_s : linking a remote to its dimmer.
    link_window_s : for so long a dimmer can be linked, once asked. first_window_s : for so long after its power comes
        on it listens to the hub alone. levels : how they are set, where it has any.
    battery : it lives without a supply. in_box : it sits in a box or a luminaire, which may be metal.
    waits_for : cards of which one must have joined before.
    """

    code: str
    band: Band
    kind: Kind
    act: Act
    act_s: float
    window_s: float
    join_s: float
    times: int = 1
    shows: str = ""
    reset: Act = Act.HOLD
    reset_s: float = 10.0
    prepare_s: Mapping[Prepare, float]
    companion: Companion = Companion.NONE
    link_s: float = 0.0
    link_window_s: float = 0.0
    first_window_s: float = 0.0
    waits_for: tuple[str, ...] = ()
    firmware_s: float = 0.0
    levels: Levels = Levels.NONE
    battery: bool = False
    in_box: bool = True

    @property
    def by_power(self) -> bool:
        """It enters pairing when its supply comes on."""
        return self.act in (Act.FIRST_POWER, Act.POWER_CYCLE)


@cache
def cards() -> Mapping[str, Card]:
    """The cards that come with the application, by code."""
    data = json.loads((files("ember_core.pairing") / "cards.json").read_text(encoding="utf-8"))
    reader = Reader()
    made = [read_card(reader, one, f"cards[{k}]") for k, one in enumerate(data["cards"])]
    if reader.errors:
        raise InputErrors(reader.errors)
    return MappingProxyType({card.code: card for card in made})


def read_card(reader: Reader, data: Any, path: str) -> Card:
    """One card; what is wrong with it is told to the reader."""
    given = reader.keys(
        data,
        path,
        {
            *("code", "band", "kind", "act", "times", "act_s", "window_s", "join_s", "shows", "reset", "reset_s"),
            *(
                "prepare",
                "companion",
                "link_s",
                "link_window_s",
                "first_window_s",
                "waits_for",
                "firmware_s",
                "levels",
                "battery",
                "in_box",
                "note",
            ),
        },
    )

    def seconds(key: str, low: float = 0.0, default: float | None = 0.0) -> float:
        return reader.number(given.get(key, default), f"{path}.{key}", low, LONGEST_S, unit="s")

    prepare = reader.keys(given.get("prepare", {}), f"{path}.prepare", {one.value for one in Prepare})
    waits = reader.entries(given.get("waits_for", []), f"{path}.waits_for", 20)
    code = reader.text(given.get("code"), f"{path}.code")
    if code and code in waits:
        reader.wrong("waits_for_itself", f"{path}.waits_for", key=code)
    return Card(
        code=code,
        band=reader.word(given.get("band"), f"{path}.band", Band),
        kind=reader.word(given.get("kind"), f"{path}.kind", Kind),
        act=reader.word(given.get("act"), f"{path}.act", Act),
        times=reader.whole(given.get("times", 1), f"{path}.times", 1, 20),
        act_s=seconds("act_s", default=None),
        window_s=reader.number(
            given.get("window_s"), f"{path}.window_s", SHORTEST_WINDOW_S, LONGEST_WINDOW_S, unit="s"
        ),
        join_s=seconds("join_s", default=None),
        shows=str(given.get("shows", "")),
        reset=reader.word(given.get("reset", "hold"), f"{path}.reset", Act),
        reset_s=seconds("reset_s", default=10.0),
        prepare_s={
            one: reader.number(prepare[one.value], f"{path}.prepare.{one.value}", 0.0, LONGEST_S, unit="s")
            for one in Prepare
            if one.value in prepare
        },
        companion=reader.word(given.get("companion", ""), f"{path}.companion", Companion),
        link_s=seconds("link_s"),
        link_window_s=seconds("link_window_s"),
        first_window_s=seconds("first_window_s"),
        waits_for=tuple(reader.text(one, f"{path}.waits_for[{k}]") for k, one in enumerate(waits)),
        firmware_s=seconds("firmware_s"),
        battery=reader.flag(given.get("battery", False), f"{path}.battery"),
        in_box=reader.flag(given.get("in_box", True), f"{path}.in_box"),
        levels=reader.word(given.get("levels", ""), f"{path}.levels", Levels),
    )
