"""Which load goes on which phase mode: rules as data, one row a rule; the first that fits decides.

What a maker declares comes before what the class usually does; what nobody declares stays unknown.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache
from pathlib import Path
from typing import Any

from ember_core.parts import (
    CapacitiveDropperLamp,
    Declared,
    DimmableDriverLamp,
    ElectronicTransformerLamp,
    FilamentLamp,
    IronCoreTransformerLamp,
    Lamp,
    LinearLamp,
    PhaseMode,
)

FILE = Path(__file__).with_name("matrix.json")
# The two edges on which a load is dimmed.
EDGES = (PhaseMode.TRAILING, PhaseMode.LEADING)


class LoadClass(StrEnum):
    """Loads by what they do to a chopped line."""

    CAPACITOR_INPUT = "capacitor_input"
    DRIVER = "driver"
    DROPPER = "dropper"
    LINEAR = "linear"
    FILAMENT = "filament"
    IRON_CORE = "iron_core"
    ELECTRONIC_TRANSFORMER = "electronic_transformer"


class Goes(StrEnum):
    """The answer, from good to bad; unknown stands before must not, as it may still turn out well."""

    GOES = "goes"
    GOES_IF = "goes_if"
    UNKNOWN = "unknown"
    MUST_NOT = "must_not"


# Where nobody says what a maker declares.
UNKNOWN = "unknown"
DECLARATIONS = (*(word.value for word in Declared), UNKNOWN)


@dataclass(frozen=True, slots=True, kw_only=True)
class Rule:
    """One row of the matrix.

    Parameters
    ----------
    id : stable. loads, declared, modes : what it is about. verdict : see `Goes`.
    reason : code of the physical reason. test : code of what settles a condition, or None.
    figures : beginnings of the codes of findings that hold the figures behind reason and test.
    """

    id: str
    loads: tuple[LoadClass, ...]
    declared: tuple[str, ...]
    modes: tuple[PhaseMode, ...]
    verdict: Goes
    reason: str
    test: str | None
    figures: tuple[str, ...]


@cache
def rules() -> tuple[Rule, ...]:
    """The matrix, in the order in which it is asked."""
    return tuple(
        Rule(
            id=row["id"],
            loads=tuple(LoadClass(load) for load in row["loads"]),
            declared=tuple(row["declared"]),
            modes=tuple(PhaseMode(mode) for mode in row["modes"]),
            verdict=Goes(row["verdict"]),
            reason=row["reason"],
            test=row["test"],
            figures=_figures(row["reason"], row["test"]),
        )
        for row in _given()["rules"]
    )


@cache
def _given() -> Mapping[str, Any]:
    return dict(json.loads(FILE.read_text(encoding="utf-8")))


def _figures(reason: str, test: str | None) -> tuple[str, ...]:
    figures: dict[str, list[str]] = _given()["figures"]
    return (*figures.get(reason, ()), *figures.get(test or "", ()))


def rule_for(load: LoadClass, declared: str, mode: PhaseMode) -> Rule:
    """The rule that decides.

    Raises
    ------
    KeyError : none does; the matrix has an answer for everything, and a test holds it to that.
    """
    for rule in rules():
        if load in rule.loads and declared in rule.declared and mode in rule.modes:
            return rule
    raise KeyError((load, declared, mode))


def _without_feed(rule: Rule) -> Rule:
    """The same rule for a control that takes nothing through the lamps: of its supply there is nothing to check."""
    test = _given()["without_feed"].get(rule.test)
    return rule if test is None else replace(rule, test=test, figures=_figures(rule.reason, test))


def class_of(lamp: Lamp) -> LoadClass:
    """The class of a lamp."""
    if isinstance(lamp, IronCoreTransformerLamp):
        return LoadClass.IRON_CORE
    if isinstance(lamp, ElectronicTransformerLamp):
        return LoadClass.ELECTRONIC_TRANSFORMER
    if isinstance(lamp, DimmableDriverLamp):
        return LoadClass.DRIVER
    if isinstance(lamp, CapacitiveDropperLamp):
        return LoadClass.DROPPER
    if isinstance(lamp, LinearLamp):
        return LoadClass.LINEAR
    return LoadClass.FILAMENT if isinstance(lamp, FilamentLamp) else LoadClass.CAPACITOR_INPUT


def declared_of(lamp: Lamp) -> str:
    """What a lamp's maker declares; `unknown` where nobody says."""
    word = lamp.declared
    return UNKNOWN if word is None else word.value


@dataclass(frozen=True, slots=True, kw_only=True)
class Together:
    """Loads on one control in one mode.

    Parameters
    ----------
    mode : see `PhaseMode`. verdict : the worst of all. members : the rule of each, in the order given.
    mixed : code of what speaks against the mixture itself, or None.
    """

    mode: PhaseMode
    verdict: Goes
    members: tuple[Rule, ...]
    mixed: str | None


_ORDER = list(Goes)
_ELECTRONIC = (
    LoadClass.CAPACITOR_INPUT,
    LoadClass.DRIVER,
    LoadClass.ELECTRONIC_TRANSFORMER,
)


def together(loads: Sequence[tuple[LoadClass, str]], mode: PhaseMode, *, has_feed: bool = True) -> Together:
    """Loads with their declarations on one control: the worst member decides, and some mixtures by themselves.

    Parameters
    ----------
    loads : class and declaration of each group. has_feed : the control takes its supply through them.
    """
    members = tuple(rule_for(load, declared, mode) for load, declared in loads)
    if not has_feed:
        members = tuple(_without_feed(rule) for rule in members)
    verdict = worst(rule.verdict for rule in members)
    mixed = _mixture(loads, mode)
    return Together(mode=mode, verdict=Goes.MUST_NOT if mixed else verdict, members=members, mixed=mixed)


def worst(verdicts: Iterable[Goes]) -> Goes:
    """The worst of some verdicts."""
    return max(verdicts, key=_ORDER.index)


def _mixture(loads: Sequence[tuple[LoadClass, str]], mode: PhaseMode) -> str | None:
    if mode is PhaseMode.ON_OFF:
        return None
    classes = {load for load, _ in loads}
    if LoadClass.IRON_CORE in classes and classes & set(_ELECTRONIC):
        return "iron_core_with_electronics"
    said = {declared for load, declared in loads if load is not LoadClass.FILAMENT}
    if LoadClass.IRON_CORE in classes:
        said.add(Declared.LEADING.value)
    return "no_legal_mode" if {Declared.LEADING.value, Declared.TRAILING.value} <= said else None
