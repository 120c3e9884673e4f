"""Which test to make next: how much doubt of the cause each takes away, over its minutes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ember_core.diagnosis.evidence import ASKED
from ember_core.diagnosis.knowledge import TestClass
from ember_core.diagnosis.population import Particle
from ember_core.diagnosis.posterior import Posterior, each_world
from ember_core.diagnosis.symptoms import Symptom
from ember_core.loop import Loop
from ember_core.parts import CapacitorBypass, PhaseMode, is_led
from ember_core.spread.information import binned, information_bits

# Worlds drawn by their weight to value tests in; so many of them where each has to be solved.
VALUED, READ = 60, 20
# A test is proposed from this gain on, and costs this much beside its minutes: going there, writing it down [min].
LEAST_GAIN_BITS, HANDLING_MIN = 0.04, 2.0
BINS = 7
# Tests whose outcome in a world takes solving it anew.
_SOLVED = frozenset({"one_filament_lamp", "another_lamp", "bypass_tried", "gangs_swapped"})


@dataclass(frozen=True, slots=True, kw_only=True)
class TestGain:
    """A test and how much doubt of the cause it takes away on average [bit]; minutes as in the data.

    Parameters
    ----------
    low, high : of a value, between which nine in ten are expected [its SI unit]; None of a test without value.
    """

    __test__ = False  # no test class

    code: str
    gain_bits: float
    minutes: float
    low: float | None = None
    high: float | None = None


def next_tests(posterior: Posterior) -> tuple[TestGain, ...]:
    """What could be asked next, by gain over minutes with danger counted in; nothing twice."""
    drawn = posterior.drawn(VALUED)
    if not drawn:
        return ()
    done = {one.test for one in posterior.case.evidence}
    told = set(posterior.case.complained)
    causes = [one.cause for one in drawn]
    doubt = posterior.doubt_bits()
    rows = [(1.0 + HANDLING_MIN, one) for one in _asking_gains(posterior, drawn, causes, done, told)]
    best = max((one.gain_bits / cost for cost, one in rows), default=0.0)
    # What takes no solving first; of the rest only what could still be best, even if it took all doubt away.
    known = posterior.known
    for test in sorted(known.tests.values(), key=lambda test: (_is_solved(test), known.cost_min(test))):
        if test.code in done or not applies(test, posterior.worlds.sheet.loop, told):
            continue
        cost = known.cost_min(test) + HANDLING_MIN
        if _is_solved(test) and doubt / cost < best:
            continue
        gain = _value_gain if test.is_value else _outcome_gain
        made = gain(posterior, test, drawn, causes)
        best = max(best, made.gain_bits / cost)
        rows.append((cost, made))
    worth = [(cost, one) for cost, one in rows if one.gain_bits >= LEAST_GAIN_BITS]
    return tuple(one for _, one in sorted(worth, key=lambda row: -row[1].gain_bits / row[0]))


def _outcome_gain(posterior: Posterior, test: TestClass, drawn: Sequence[Particle], causes: Sequence[str]) -> TestGain:
    gain = information_bits(causes, posterior.chances(test.code, drawn))
    return TestGain(code=test.code, gain_bits=gain, minutes=test.minutes)


def _asking_gains(
    posterior: Posterior, drawn: Sequence[Particle], causes: Sequence[str], done: set[str], told: set[Symptom]
) -> list[TestGain]:
    """Whether another symptom shows too."""
    made = []
    for symptom in Symptom:
        code = f"{ASKED}{symptom.value}"
        if symptom in told or code in done:
            continue
        gain = information_bits(causes, posterior.chances(code, drawn))
        made.append(TestGain(code=code, gain_bits=gain, minutes=1.0))
    return made


def _value_gain(posterior: Posterior, test: TestClass, drawn: Sequence[Particle], causes: Sequence[str]) -> TestGain:
    if _is_solved(test):
        drawn, causes = drawn[:: VALUED // READ], causes[:: VALUED // READ]
    shown = each_world(drawn, lambda shows: shows.value(test.code, test.meter_r_ohm))
    centre, width, _ = posterior.kernels(shown, drawn, test.code, None)
    there = np.isfinite(centre)
    if not there.any():
        return TestGain(code=test.code, gain_bits=0.0, minutes=test.minutes)
    table = binned(centre, width, BINS)
    low, high = np.exp(np.quantile(centre[there], [0.05, 0.95]))
    return TestGain(
        code=test.code,
        gain_bits=information_bits(causes, table),
        minutes=test.minutes,
        low=float(low),
        high=float(high),
    )


def applies(test: TestClass, loop: Loop, told: set[Symptom]) -> bool:
    """Whether a test can be made in this loop."""
    match test.code:
        case "period_tapped":
            return Symptom.BLINK_OFF in told
        case "level_run" | "started_low":
            return loop.control.is_dimmer
        case "edge_changed":
            return loop.control.phase_mode is PhaseMode.SELECTABLE
        case "one_filament_lamp" | "another_lamp":
            return any(is_led(lamp) for lamp in loop.lamps)
        case "bypass_measured":
            return any(isinstance(part, CapacitorBypass) for part in loop.bypass)
        case "network_looked_at" | "hub_brought_near" | "power_cycled":
            return loop.control.has_electronics
    return True


def _is_solved(test: TestClass) -> bool:
    return test.code in _SOLVED or (test.is_value and test.code not in ("supply_v", "bypass_measured"))
