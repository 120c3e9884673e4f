"""What is known of causes, tests and remedies besides what is simulated: data with its reasons."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files


class Area(StrEnum):
    """Where a cause sits."""

    OFF = "off"
    FED = "fed"
    ON = "on"
    WIRING = "wiring"
    SETTINGS = "settings"
    RADIO = "radio"


class TestKind(StrEnum):
    """Looking and asking go before trying, trying before measuring."""

    __test__ = False  # no test class

    ASK = "ask"
    LOOK = "look"
    TRY = "try"
    MEASURE = "measure"


class Danger(StrEnum):
    """What a test exposes to: nothing, a ladder, an opened box (isolated), leads laid dead that are then live."""

    NONE = "none"
    LADDER = "ladder"
    DEAD = "dead"
    LEADS = "leads"


class Power(StrEnum):
    """What a test wants of the supply: isolated and proved dead, on, first the one and then the other, or nothing."""

    ANY = "any"
    ON = "on"
    OFF = "off"
    BOTH = "both"


class Undo(StrEnum):
    """How a remedy is taken back."""

    EASILY = "easily"
    HARDLY = "hardly"
    NEVER = "never"


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseClass:
    """A cause.

    Parameters
    ----------
    weight : how often it is met, relative to the others. because : where the weight is from.
    follows : what may have been changed when it came about, as the customer tells it; each is as likely as another.
    """

    code: str
    area: Area
    weight: float
    follows: tuple[str, ...]
    because: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TestClass:
    """A test.

    Parameters
    ----------
    minutes : on site. outcomes : what can be found; none for a value that is read.
    unit, floor, ratio : of a value: its SI unit, and its error as a floor and a share of it.
    meter_r_ohm : input resistance of the meter it is read with [Ω].
    """

    __test__ = False  # no test class

    code: str
    kind: TestKind
    minutes: float
    danger: Danger
    power: Power
    outcomes: tuple[str, ...]
    unit: str = ""
    floor: float = 0.0
    ratio: float = 0.0
    meter_r_ohm: float | None = None

    @property
    def is_value(self) -> bool:
        """A value is read, in place of an outcome being seen."""
        return not self.outcomes


@dataclass(frozen=True, slots=True, kw_only=True)
class RemedyClass:
    """A remedy: minutes on site, price in the money of the site, and how it is taken back."""

    code: str
    minutes: float
    price: float
    undo: Undo


@dataclass(frozen=True, slots=True, kw_only=True)
class Knowledge:
    """All of it.

    Parameters
    ----------
    danger_minutes : what a danger counts for [min]. wrong_ratio : share of answers that are wrong, by kind; `told` are
        symptoms. pair_ratio : weight of two causes at once, over the product of their shares.
    none_weight : weight of none of these causes.
    """

    causes: Mapping[str, CauseClass]
    tests: Mapping[str, TestClass]
    remedies: Mapping[str, RemedyClass]
    danger_minutes: Mapping[Danger, float]
    wrong_ratio: Mapping[str, float]
    pair_ratio: float
    none_weight: float

    def cost_min(self, test: TestClass) -> float:
        """Minutes of a test, its danger counted as minutes."""
        return test.minutes + self.danger_minutes[test.danger]


@cache
def knowledge() -> Knowledge:
    """The data beside this file."""
    given = json.loads(files(__package__).joinpath("knowledge.json").read_text(encoding="utf-8"))
    return Knowledge(
        causes={
            one["code"]: CauseClass(**{**one, "area": Area(one["area"]), "follows": tuple(one["follows"])})
            for one in given["causes"]
        },
        tests={
            one["code"]: TestClass(
                **{
                    **one,
                    "kind": TestKind(one["kind"]),
                    "danger": Danger(one["danger"]),
                    "power": Power(one["power"]),
                    "outcomes": tuple(one["outcomes"]),
                }
            )
            for one in given["tests"]
        },
        remedies={one["code"]: RemedyClass(**{**one, "undo": Undo(one["undo"])}) for one in given["remedies"]},
        danger_minutes={Danger(name): minutes for name, minutes in given["danger_minutes"].items()},
        wrong_ratio=given["answers_wrong_ratio"],
        pair_ratio=given["pair_ratio"],
        none_weight=given["none_of_these_weight"],
    )
