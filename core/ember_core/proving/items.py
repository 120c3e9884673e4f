"""The list of what is to be proved, from what was fitted; each item with the results it can have.

Nothing that was not done counts as done: a loop is proved when every item passed, or was excused with a reason.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ember_core.diagnosis.symptoms import Symptom
from ember_core.errors import InputError

# Until eyes are used to the dark, and how long is watched then [s]; other loads are switched in between.
ACCUSTOM_S, WATCH_S = 300, 300
PROMPTS_S = (45, 105, 165, 225)
FEWEST_TAPS, MOST_TAPS = 4, 200
# Two taps nearer than this are one that bounced [s].
LEAST_TAP_S = 0.05
LONGEST_TAP_S = 300.0


class Act(StrEnum):
    """What is done."""

    SWITCHES = "switches"
    EACH_LAMP = "each_lamp"
    OTHERS_DARK = "others_dark"
    PLATE_EARTH = "plate_earth"
    LEVELS = "levels"
    FLICKER_WATCH = "flicker_watch"
    READING = "reading"
    POWER_ON = "power_on"


class Outcome(StrEnum):
    """What came of an item."""

    OPEN = "open"
    PASSED = "passed"
    FAILED = "failed"
    EXCUSED = "excused"


# Continuity of an earth is tried with the power off; everything else is seen with it on.
TRIED_DEAD = frozenset({Act.PLATE_EARTH})

# Results of each act, the good ones first; what a bad one is as a complaint.
GOOD: Mapping[Act, tuple[str, ...]] = {
    Act.SWITCHES: ("works",),
    Act.EACH_LAMP: ("all_light",),
    Act.OTHERS_DARK: ("stay_dark",),
    Act.PLATE_EARTH: ("earthed",),
    Act.LEVELS: ("steady",),
    Act.FLICKER_WATCH: ("dark",),
    Act.READING: ("as_computed",),
    Act.POWER_ON: ("stays_off", "as_before"),
}
BAD: Mapping[Act, Mapping[str, Symptom | None]] = {
    Act.SWITCHES: {
        "nothing": Symptom.NOTHING_LIGHTS,
        "stays_on": Symptom.WILL_NOT_SWITCH_OFF,
        "depends": Symptom.DEPENDS_ON_SWITCH,
    },
    Act.EACH_LAMP: {"some_dark": Symptom.ONE_LAMP_DARK},
    Act.OTHERS_DARK: {"another_lights": Symptom.OTHER_LAMP},
    Act.PLATE_EARTH: {"not_earthed": Symptom.PLATE_TINGLES},
    Act.LEVELS: {
        "goes_out_low": Symptom.GOES_OUT_LOW,
        "flickers_low": Symptom.FLICKER_LOW,
        "flickers": Symptom.FLICKER_ON,
        "not_full": Symptom.NOT_FULL,
        "buzzes": Symptom.BUZZ,
    },
    Act.FLICKER_WATCH: {
        "glow": Symptom.GLOW_OFF,
        "single_flashes": Symptom.SINGLE_FLASH,
        "blink": Symptom.BLINK_OFF,
    },
    Act.READING: {"outside": None},
    Act.POWER_ON: {"comes_on": Symptom.LIGHTS_AFTER_OUTAGE},
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Gang:
    """What there is to prove of a gang.

    Parameters
    ----------
    lamps : how many there are. dims : its control dims. feeds : its control has electronics of its own.
    """

    position: int
    lamps: int
    dims: bool
    feeds: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """One thing to prove.

    Parameters
    ----------
    gang : which it is of; 0 for the loop as a whole. place : where, of one that is done at each place.
    """

    key: str
    act: Act
    gang: int = 0
    place: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """What was found of an item: its result, and whether it was excused."""

    outcome: Outcome
    result: str = ""


def items_of(gangs: Sequence[Gang], places: Sequence[str], *, wants_earth: bool) -> tuple[Item, ...]:
    """The list, in the order in which one person does it: switches, lamps, levels, then what needs the dark.

    Parameters
    ----------
    places : where the loop is switched from, the first box first.
    wants_earth : a plate or box of metal, or a control that demands an earth.
    """
    found = []
    if wants_earth:
        found.append(Item(key="plate_earth", act=Act.PLATE_EARTH))
    for gang in gangs:
        found += [
            Item(key=f"switches:{gang.position}:{place}", act=Act.SWITCHES, gang=gang.position, place=place)
            for place in places
        ]
        if gang.lamps > 1:
            found.append(_of(Act.EACH_LAMP, gang))
        if len(gangs) > 1:
            found.append(_of(Act.OTHERS_DARK, gang))
        if gang.dims:
            found.append(_of(Act.LEVELS, gang))
    found += [_of(Act.FLICKER_WATCH, gang) for gang in gangs]
    found += [_of(Act.READING, gang) for gang in gangs if gang.feeds]
    if any(gang.feeds for gang in gangs):
        found.append(Item(key="power_on", act=Act.POWER_ON))
    return tuple(found)


def _of(act: Act, gang: Gang) -> Item:
    return Item(key=f"{act.value}:{gang.position}", act=act, gang=gang.position)


def results_of(act: Act) -> tuple[str, ...]:
    """Every result of an act, the good ones first."""
    return (*GOOD[act], *BAD[act])


def outcome_of(item: Item, result: str, *, watched_s: float | None = None) -> Outcome:
    """Whether a result is a pass.

    Parameters
    ----------
    watched_s : how long was watched, of a flicker watch; a lamp that is seen at work needs no full watch.

    Raises
    ------
    InputError : `unknown_word` for a result that it cannot have; `watched_too_short` for dark after less than a watch.
    """
    known = results_of(item.act)
    if result not in known:
        raise InputError("unknown_word", path="result", value=result[:40], known=", ".join(known))
    if result not in GOOD[item.act]:
        return Outcome.FAILED
    if item.act is Act.FLICKER_WATCH and (watched_s is None or watched_s < ACCUSTOM_S + WATCH_S):
        raise InputError(
            "watched_too_short", path="watched_s", watched_s=watched_s or 0.0, wanted_s=float(ACCUSTOM_S + WATCH_S)
        )
    return Outcome.PASSED


def is_proved(items: Iterable[Item], marks: Mapping[str, Mark]) -> bool:
    """Every item passed or was excused, and there is something to prove."""
    settled = (Outcome.PASSED, Outcome.EXCUSED)
    outcomes = [marks[item.key].outcome if item.key in marks else Outcome.OPEN for item in items]
    return bool(outcomes) and all(outcome in settled for outcome in outcomes)


@dataclass(frozen=True, slots=True, kw_only=True)
class Rhythm:
    """A rhythm that was tapped along: its median, half the width between its quartiles [s], and from how many beats."""

    period_s: float
    spread_s: float
    beats: int


def rhythm_of(taps_s: Sequence[float]) -> Rhythm:
    """The rhythm of taps, the median of the times between them: one that was missed or doubled does not move it.

    Parameters
    ----------
    taps_s : when each was, from any beginning, rising [s].

    Raises
    ------
    InputError : `too_few_taps`, `too_many_taps`, `taps_not_in_order`, `no_period` for times that are no rhythm.
    """
    if len(taps_s) < FEWEST_TAPS:
        raise InputError("too_few_taps", path="taps_s", given=len(taps_s), least=FEWEST_TAPS)
    if len(taps_s) > MOST_TAPS:
        raise InputError("too_many_taps", path="taps_s", given=len(taps_s), most=MOST_TAPS)
    beats = np.diff(np.asarray(taps_s, dtype=np.float64))
    if not np.all(np.isfinite(beats)) or np.any(beats < 0.0):
        raise InputError("taps_not_in_order", path="taps_s")
    beats = beats[beats >= LEAST_TAP_S]
    if beats.size < FEWEST_TAPS - 1 or float(np.median(beats)) > LONGEST_TAP_S:
        raise InputError("no_period", path="taps_s", least_s=LEAST_TAP_S, most_s=LONGEST_TAP_S)
    low, middle, high = np.quantile(beats, [0.25, 0.5, 0.75])
    return Rhythm(period_s=float(middle), spread_s=float(0.5 * (high - low)), beats=int(beats.size))
