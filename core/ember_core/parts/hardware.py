"""A control as hands find it: its terminals, what it demands of the box, and what it does when something is down.

None of it changes a current; it decides which way of wiring a control can serve.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Any, ClassVar

from ember_core.quantities import check_bounds, rating, word_of, worded

MOST_OUTPUTS = 4


class Sort(StrEnum):
    """What a thing is to the wiring."""

    CONTROL = "control"  # sits in the switch box, behind its own plate
    MODULE = "module"  # sits behind a switch or at the luminaire
    TIMER = "timer"  # in the place of a switch, fed by a battery
    COMPANION = "companion"  # a wireless switch: no conductor at all


class Demand(StrEnum):
    """Whether it wants a conductor."""

    NONE = "none"
    OPTIONAL = "optional"
    REQUIRED = "required"


class YesNo(StrEnum):
    """A property that is there or not."""

    NO = "no"
    YES = "yes"


class InputUse(StrEnum):
    """What may hang on its switch inputs."""

    ROCKER = "rocker"
    PUSH = "push"
    EITHER = "either"


class AfterPower(StrEnum):
    """What it does when power returns."""

    OFF = "off"
    ON = "on"
    AS_BEFORE = "as_before"
    SET = "set"  # may be set


class WithoutHub(StrEnum):
    """What is left when the hub or the network is down."""

    AT_THE_WALL = "at_the_wall"  # its own plate or inputs still switch
    COMPANION_TOO = "companion_too"  # a companion reaches it without the hub
    NOTHING = "nothing"


@dataclass(frozen=True, slots=True, kw_only=True)
class Hardware:
    """Terminals, demands and size; None where nobody says.

    Parameters
    ----------
    outputs : loads that it switches each by itself. feeding_outputs : the first so many of them feed its electronics
        where it has no neutral.
    leads : flying leads; 0 for terminals. cores_per_terminal : cores that one terminal takes.
    """

    kind: ClassVar[str] = "wiring"

    sort: float | None = worded(Sort, "what it is to the wiring")
    outputs: float | None = rating("1", 1, MOST_OUTPUTS, "loads that it switches")
    feeding_outputs: float | None = rating("1", 0, MOST_OUTPUTS, "outputs through which it feeds itself")
    neutral: float | None = worded(Demand, "neutral conductor")
    earth: float | None = worded(Demand, "earth conductor")
    reversible: float | None = worded(YesNo, "line and load may be exchanged")
    link: float | None = worded(YesNo, "a link makes it two-wire")
    inputs: float | None = rating("1", 0, MOST_OUTPUTS, "switch inputs")
    input_use: float | None = worded(InputUse, "what may hang on its inputs")
    two_way_input: float | None = worded(YesNo, "an input takes two-way switches")
    companion: float | None = worded(YesNo, "a wireless companion of its family exists")
    without_hub: float | None = worded(WithoutHub, "what is left without hub or network")
    after_power: float | None = worded(AfterPower, "what it does when power returns")
    leads: float | None = rating("1", 0, 12, "flying leads; 0 for terminals")
    cores_per_terminal: float | None = rating("1", 1, 4, "cores that a terminal takes")
    size_most_m2: float | None = rating("m²", 2e-7, 1.6e-5, "largest conductor a terminal takes")
    torque_nm: float | None = rating("N·m", 0.1, 5.0, "torque of its terminal screws")
    depth_m: float | None = rating("m", 0.001, 0.15, "depth of its body behind the plate")
    width_m: float | None = rating("m", 0.01, 0.3, "width of its body")
    height_m: float | None = rating("m", 0.01, 0.3, "height of its body")
    price: float | None = rating("1", 0.01, 1e4, "price, in the money of the site")

    def __post_init__(self) -> None:
        check_bounds(self, "wiring")

    def word(self, name: str) -> Any:
        """One of its properties as a word; None where nobody says."""
        return word_of(_WORDS[name], getattr(self, name))

    def count(self, name: str, usual: int) -> int:
        """One of its counts, or what is usual."""
        value = getattr(self, name)
        return usual if value is None else int(value)


_WORDS: dict[str, type[StrEnum]] = {
    "sort": Sort,
    "neutral": Demand,
    "earth": Demand,
    "reversible": YesNo,
    "link": YesNo,
    "input_use": InputUse,
    "two_way_input": YesNo,
    "companion": YesNo,
    "without_hub": WithoutHub,
    "after_power": AfterPower,
}
