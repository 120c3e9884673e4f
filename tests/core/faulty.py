"""Faulty loops drawn with their truth, answered with errors, and diagnosed: `python -m tests.core.faulty 300`.

The truth is drawn anew, in worlds that the engine never sees, and its off state is the full solution, which the engine
never asks; answers are wrong as often as people are.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from ember_core.catalogue.class_defaults import typical_lamp
from ember_core.diagnosis.by_itself import BY_ITSELF
from ember_core.diagnosis.changes import INJECTED, changed_world
from ember_core.diagnosis.evidence import ASKED, CANNOT, NO, YES, Case, Evidence, Told
from ember_core.diagnosis.inference import diagnose, population_of
from ember_core.diagnosis.knowledge import knowledge
from ember_core.diagnosis.next_test import applies
from ember_core.diagnosis.outcomes import found_by
from ember_core.diagnosis.population import base_worlds
from ember_core.diagnosis.remedies import cured
from ember_core.diagnosis.shows import Shows
from ember_core.diagnosis.symptoms import AIR, LIT, Symptom
from ember_core.errors import SolverError
from ember_core.offstate.results import OffState
from ember_core.offstate.solve import solve
from ember_core.parts import Supply
from ember_core.sheet import Sheet, read
from ember_core.spread.look import Sample
from ember_core.spread.shown import Shown

Json = dict[str, Any]
Random = np.random.Generator
# So often an answer is wrong, by the kind of its test; the engine reckons with a little more.
WRONG = {"ask": 0.08, "look": 0.03, "try": 0.05}
MOST_TESTS = 4
CAPACITOR = {"kind": "capacitor", "c_f": 2.2e-7, "r_parallel_ohm": 4.7e5}
RESISTOR = {"kind": "resistor", "r_ohm": 15000}
# The order in which it is done by hand, without knowing what the last answer said.
LADDERS: dict[str, tuple[str, ...]] = {
    "off": (
        "lamps_looked_at",
        "bypass_looked_at",
        "bypass_tried",
        "another_lamp",
        "box_looked_at",
        "luminaire_looked_at",
        "lamp_v",
        "network_looked_at",
    ),
    "on": ("settings_looked_at", "level_run", "lamps_looked_at", "another_lamp", "bypass_looked_at", "box_looked_at"),
    "wall": ("wall_pressed", "lamps_looked_at", "box_looked_at", "luminaire_looked_at", "settings_looked_at"),
    "air": (
        "network_looked_at",
        "power_cycled",
        "hub_brought_near",
        "wall_pressed",
        "bypass_looked_at",
        "box_looked_at",
    ),
}
_OFF = {Symptom.BLINK_OFF, Symptom.GLOW_OFF, Symptom.SINGLE_FLASH}


class Solved(Shows):
    """What a world shows by the full solution of its loop."""

    @cached_property
    def off(self) -> Sample | None:
        """The off state."""
        found = self._solved(None)
        if found is None:
            return None
        return Sample(
            lamps=tuple(lamp.state for lamp in found.lamps),
            margins=(),
            control=found.control.state,
            delivered_ratio=found.control.delivered_ratio or 0.0,
            shown=None,
        )

    @cached_property
    def period_s(self) -> float | None:
        """From flash to flash."""
        found = self._solved(None)
        periods = [] if found is None else [lamp.flash_period_s for lamp in found.lamps if lamp.flash_period_s]
        return min(periods, default=None)

    def shown(self, meter_r_ohm: float | None) -> Shown | None:
        """What instruments show."""
        found = self._solved(meter_r_ohm)
        if found is None:
            return None
        return Shown(
            lamp_v_rms=found.lamp_v_rms,
            line_i_rms_a=found.line_i_rms_a,
            lamp_i_rms_a=tuple(lamp.i_rms_a for lamp in found.lamps),
            period_s=None,
        )

    def _solved(self, meter_r_ohm: float | None) -> OffState | None:
        try:
            return solve(replace(self.world.loop, meter_r_ohm=meter_r_ohm))
        except SolverError:
            return None


def ranged(low: float, typical: float, high: float) -> Json:
    """A figure with its range."""
    return {"low": low, "typical": typical, "high": high, "source": "assumed"}


def loop_sheet(stage: str, count: int, *bypass: Json, p_w: float = 8.0, is_na: bool = False, **control: Any) -> Json:
    """A loop with lamps of an input stage over their typical ranges."""
    v_rms = 120.0 if is_na else 230.0
    kind, figures = typical_lamp(stage, Supply(v_rms=v_rms, f_hz=60.0 if is_na else 50.0), p_w)
    lamp = {name: ranged(one.low, one.typical, one.high) for name, one in figures.items()}
    return {
        "supply": {"v_rms": ranged(0.95 * v_rms, v_rms, 1.05 * v_rms), "f_hz": 60.0 if is_na else 50.0},
        "control": {
            "c_snubber_f": ranged(1e-9, 4.7e-9, 1e-8),
            "standby": {
                "kind": "switching",
                "p_w": ranged(0.01, 0.02, 0.04),
                "c_reservoir_f": 1e-5,
                "v_min_v": 20.0,
            },
            **control,
        },
        "cable": {"c_line_to_switched_f": 1e-9, "c_switched_to_neutral_f": 1e-9},
        "bypass": list(bypass),
        "lamps": [{"kind": kind, "count": count, **lamp}],
    }


def sheets() -> list[Sheet]:
    """A baker's dozen of loops of either region: relays and dimmers of both edges, with and without bypasses."""
    made = [
        loop_sheet("rectifier", 4, phase="on_off", p_max_led_w=100.0),
        loop_sheet("rectifier", 1, CAPACITOR, phase="on_off", p_max_led_w=100.0),
        loop_sheet("rectifier", 2, phase="on_off", is_na=True),
        loop_sheet("rectifier", 1, {**CAPACITOR, "c_f": 4.7e-8}, phase="on_off", p_w=4.0),
        loop_sheet("capacitive_dropper", 3, CAPACITOR, phase="on_off"),
        loop_sheet("linear", 3, CAPACITOR, phase="on_off", p_max_led_w=60.0),
        loop_sheet("dimmable_driver", 4, phase="trailing", p_max_led_w=100.0),
        loop_sheet("dimmable_driver", 6, phase="selectable", p_max_led_w=150.0, set_up="learns_load"),
        loop_sheet("dimmable_driver", 8, phase="leading", p_max_led_w=150.0),
        loop_sheet("dimmable_driver", 3, CAPACITOR, phase="leading", p_max_led_w=150.0),
        loop_sheet("filament", 2, phase="leading", p_w=40.0),
        loop_sheet("rectifier", 3, RESISTOR, phase="on_off", set_up="two_wire_link"),
        loop_sheet("dimmable_driver", 2, CAPACITOR, phase="trailing", is_na=True),
    ]
    return [read(one) for one in made]


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """A faulty loop: its cause, its world, the same before the cause was put in, and what it shows of it."""

    cause: str
    shows: Shows
    sound: Shows
    seen: tuple[Symptom, ...]


def truth(sheet: Sheet, random: Random) -> Truth | None:
    """A cause drawn by its weight in this loop, in a world of its own; None where nothing showed in sixty tries."""
    known, population = knowledge(), population_of(sheet)
    codes = list(known.causes)
    weights = np.zeros(len(codes))
    for one, weight in zip(population.particles, population.weights, strict=True):
        weights[codes.index(one.cause)] += weight
    worlds = [Shows(world) for world in base_worlds(sheet, int(random.integers(1 << 30)), 12)]
    sound = [one for one in worlds if one.is_well()] or worlds
    for _ in range(60):
        cause = str(random.choice(codes, p=weights / weights.sum()))
        own = [one for one in worlds if cause in BY_ITSELF and BY_ITSELF[cause](one)]
        if own:
            before = own[int(random.integers(len(own)))]
            shows = Solved(replace(before.world, changed=known.causes[cause].follows))
        elif cause in INJECTED:
            before = sound[int(random.integers(len(sound)))]
            world = changed_world(cause, before.world, random, known.causes[cause].follows)
            if world is None:
                continue
            shows = Solved(world)
        else:
            continue
        seen = [one for one in Symptom if random.random() < shows.symptom(one) and (own or before.symptom(one) < 0.2)]
        if seen:
            return Truth(cause=cause, shows=shows, sound=before, seen=tuple(seen))
    return None


def complaint(true: Truth, random: Random) -> tuple[Told, ...]:
    """One or two of what shows; the rhythm in half the cases, as well as one tells it by telephone."""
    told = []
    for code in random.permutation([one.value for one in true.seen])[:2]:
        period_s = None
        if code == Symptom.BLINK_OFF and true.shows.period_s and random.random() < 0.5:
            period_s = true.shows.period_s * float(np.exp(random.normal(0.0, 0.2)))
            period_s = period_s if 0.05 < period_s < 300.0 else None
        told.append(Told(code=Symptom(code), period_s=period_s))
    return tuple(told)


def answer(test: str, true: Truth, told: tuple[Symptom, ...], random: Random) -> Evidence:
    """What is found, wrong as often as people are."""
    if test.startswith(ASKED):
        shows_it = random.random() < true.shows.symptom(Symptom(test.removeprefix(ASKED)))
        if random.random() < WRONG["ask"]:
            shows_it = bool(random.random() < 0.5)
        return Evidence(test=test, outcome=YES if shows_it else NO)
    of = knowledge().tests[test]
    if of.is_value:
        value = true.shows.value(test, of.meter_r_ohm)
        if value is None or value <= 0.0:
            return Evidence(test=test, outcome=CANNOT)
        return Evidence(
            test=test, value=value * float(np.exp(random.normal(0.0, of.ratio))), meter_r_ohm=of.meter_r_ohm
        )
    if random.random() < WRONG[of.kind.value]:
        return Evidence(test=test, outcome=str(random.choice(of.outcomes)))
    chances = found_by(true.shows, test, told)
    p = np.array(list(chances.values()))
    return Evidence(test=test, outcome=str(random.choice(list(chances), p=p / p.sum())))


def ladder_of(told: Sequence[Symptom]) -> tuple[str, ...]:
    """The fixed order for a complaint."""
    for name, symptoms in (("off", _OFF), ("air", AIR), ("on", LIT)):
        if set(told) & symptoms:
            return LADDERS[name]
    return LADDERS["wall"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """One loop diagnosed.

    Parameters
    ----------
    place : of the true cause among those found, from 0; None where it is not there. is_sure_of_other : another cause
        has more than 95 %. cures : the remedy named first does. minutes, ladder_minutes : of the tests until one cause
        has nine tenths, by suggestion and by the fixed ladder.
    """

    true: Truth
    place: int | None
    is_sure_of_other: bool
    cures: bool
    minutes: float
    ladder_minutes: float


SETTLED = 0.9


def _minutes_to_settle(case: Case, true: Truth, random: Random, ladder: tuple[str, ...] | None) -> float:
    """Minutes of tests until one cause stands at nine tenths, or nothing is left to ask."""
    minutes = 0.0
    known = knowledge()
    for step in range(8):
        found = diagnose(case, with_remedies=False)
        if found.causes and found.causes[0].share >= SETTLED:
            break
        if ladder is None:
            wanted = found.tests[0].code if found.tests else None
        else:
            left = [one for one in ladder if applies(known.tests[one], case.sheet.loop, set(case.complained))]
            wanted = left[step] if step < len(left) else None
        if wanted is None:
            break
        minutes += known.tests[wanted].minutes if wanted in known.tests else 1.0
        made = answer(wanted, true, case.complained, random)
        case = replace(case, evidence=(*case.evidence, made))
    return minutes


def run(count: int, seed: int = 7, *, with_ladder: bool = True) -> list[Outcome]:
    """Draw loops, and diagnose each with at most four suggested tests."""
    made: list[Outcome] = []
    every = sheets()
    for k in range(count):
        random = np.random.default_rng([seed, k])
        sheet = every[k % len(every)]
        true = truth(sheet, random)
        if true is None:
            continue
        first = Case(sheet=sheet, told=complaint(true, random))
        case = first
        for _ in range(MOST_TESTS):
            tests = diagnose(case, with_remedies=False).tests
            if not tests:
                break
            case = replace(case, evidence=(*case.evidence, answer(tests[0].code, true, case.complained, random)))
        found = diagnose(case)
        names = [one.code for one in found.causes]
        minutes = ladder_minutes = 0.0
        if with_ladder:
            minutes = _minutes_to_settle(first, true, np.random.default_rng([seed, k, 1]), None)
            ladder = ladder_of(first.complained)
            ladder_minutes = _minutes_to_settle(first, true, np.random.default_rng([seed, k, 1]), ladder)
        made.append(
            Outcome(
                true=true,
                place=names.index(true.cause) if true.cause in names else None,
                is_sure_of_other=bool(names) and names[0] != true.cause and found.causes[0].share > 0.95,
                cures=bool(found.remedies) and cured(found.remedies[0].code, true.shows, true.sound, case.complained),
                minutes=minutes,
                ladder_minutes=ladder_minutes,
            )
        )
    return made


def told_of(made: Sequence[Outcome]) -> str:
    """What came of it, in a line."""
    count = len(made)
    first = sum(one.place == 0 for one in made) / count
    three = sum(one.place is not None and one.place < 3 for one in made) / count
    sure = sum(one.is_sure_of_other for one in made) / count
    cures = sum(one.cures for one in made) / count
    minutes, ladder = sum(one.minutes for one in made), sum(one.ladder_minutes for one in made)
    return (
        f"{count} loops: first {first:.1%}, among three {three:.1%}, sure of another {sure:.1%}, "
        f"first remedy cures {cures:.1%}, {minutes / count:.0f} min against {ladder / count:.0f} min by the ladder"
    )


if __name__ == "__main__":
    print(told_of(run(int(sys.argv[1]) if len(sys.argv) > 1 else 60)))
