"""What was read narrows what is assumed: samples are weighted by how well they explain the readings.

The first draw is the prior. Where few of its samples explain the readings, further draws are made around those
that do, each weighted by likelihood over the density it was drawn from (population Monte Carlo), so that the
result is still the posterior of the same prior.
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from enum import StrEnum
from math import log, sqrt
from typing import Any

import numpy as np

from ember_core.errors import InputError, SolverError
from ember_core.loop import Loop
from ember_core.offstate.network import V_BRIDGE
from ember_core.offstate.states import LampState, StandbyState
from ember_core.parts import Lamp
from ember_core.quantities import Figure, Source, check_bounds, defaulted
from ember_core.sheet import Sheet
from ember_core.spread.half_wave import HalfWave, on_half_wave
from ember_core.spread.judged import GoesOn, Range, Spread, always, each_abreast, quantiles, summed
from ember_core.spread.look import Sample
from ember_core.spread.observe import observe, observe_each, shown_by
from ember_core.spread.variables import Floats, Variable, at_probabilities, draw, loop_at, variables

SAMPLES = 256
ROUNDS = 3
# Fewer effective samples than this call for another draw around the good ones.
ENOUGH_EFFECTIVE = 60.0
KERNEL_WIDTH = 0.12
# A reading further than this from every sample is explained by none [standard deviations].
FAR = 3.0
# Squared distance of a sample that does not do at all what was read: no blink, nothing settled.
_FAR_SQUARED = 36.0
# Nothing explains what would stay further than this, even if each draw that is left came nearer by so many times as
# much as the last one did. A lamp that begins to blink widens the error of a meter to 3.3 times; this is more than FAR
# times that, so what jumps is drawn for to the end.
_HOPELESS = 4.0 * FAR
_FASTER = 10.0
# How far a wrong assumption is looked for: these factors beyond either end of its range.
WRONG_FACTORS = (0.3, 0.5, 2.0, 3.3)
START_SPREAD_RATIO = 0.03
# A sample that does otherwise than was seen is that improbable: an eye can err, a glow be overlooked.
_OTHERWISE_SQUARED = 3.5**2
_SEEN_WORDS = {*LampState, *StandbyState}


class Kind(StrEnum):
    """What was read."""

    LAMP_V = "lamp_v"  # lamp terminals, off
    LINE_I = "line_i"  # loop current, off
    PERIOD = "period"  # from flash to flash
    START_SUPPLY_V = "start_supply_v"  # supply at which a lamp starts on the bench, rms
    HALF_WAVE = "half_wave"  # what a lamp does behind a diode, on the bench
    SEEN = "seen"  # what was seen of a lamp group or the control, perhaps with another lamp in a group's place


# Standard deviation of a reading against the model: share of the value, and a floor. Meter and model together;
# the period is coarse, since flashes fall on half-cycles.
ERRORS: dict[Kind, tuple[float, float]] = {
    Kind.LAMP_V: (0.03, 0.3),
    Kind.LINE_I: (0.04, 1e-5),
    Kind.PERIOD: (0.10, 0.02),
}
# While lamps blink a meter wavers from one gate time to the next, and is read when somebody looks: share of the value.
BLINKING_ERRORS: dict[Kind, float] = {Kind.LAMP_V: 0.1, Kind.LINE_I: 0.15}


@dataclass(frozen=True, slots=True, kw_only=True)
class Measurement:
    """One reading on site or on the bench.

    Parameters
    ----------
    kind : see `Kind`. value : SI [V, A, s]; of no account for what was seen. meter_r_ohm : for lamp volts.
    group : lamp group it is about, from 0.
    seen : a `HalfWave`, a `LampState` of the group, or a `StandbyState` of the control.
    replacement : lamp that stood in the whole group's place while it was seen; its typical figures count.
    """

    kind: Kind
    value: float = defaulted("", 1e-9, 1e6, "value read", default=1.0)
    meter_r_ohm: float = 1e7
    group: int = 0
    seen: str = ""
    replacement: Lamp | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Narrowed:
    """A figure before and after."""

    path: str
    prior: Range
    posterior: Range


@dataclass(frozen=True, slots=True, kw_only=True)
class WrongAssumption:
    """The figure that would explain the readings if it lay outside its range."""

    path: str
    value: float
    distance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Narrowing:
    """The judgement with what was read.

    Parameters
    ----------
    spread : samples with their weights. figures : every variable before and after, most narrowed first.
    effective : effective number of samples. distance : of the best sample from the readings [standard deviations].
    is_explained : some sample explains them. likeliest_wrong : else, the assumption that most likely is.
    """

    spread: Spread
    figures: tuple[Narrowed, ...]
    effective: float
    distance: float
    is_explained: bool
    likeliest_wrong: WrongAssumption | None


def with_bench_tests(sheet: Sheet, readings: Sequence[Measurement]) -> Sheet:
    """Start thresholds found on a variable supply become measured figures: V_start = √2·V − bridge, ±3 %.

    Raises
    ------
    InputError : the group has no start threshold, or the value is beyond bounds.
    """
    loop, figures = sheet.loop, dict(sheet.figures)
    for index, reading in enumerate(readings):
        if reading.kind is not Kind.START_SUPPLY_V:
            continue
        path = f"readings[{index}]"
        if not 0 <= reading.group < len(loop.lamps) or not hasattr(loop.lamps[reading.group], "v_start_v"):
            raise InputError("no_start_threshold", path=path, group=reading.group + 1)
        v = sqrt(2.0) * reading.value - V_BRIDGE
        lamp: Any = loop.lamps[reading.group]
        stop = min(lamp.v_stop_v, 0.95 * v)
        changed = replace(lamp, v_start_v=v, v_stop_v=stop)
        check_bounds(changed, path)
        lamps = tuple(changed if k == reading.group else old for k, old in enumerate(loop.lamps))
        loop = replace(loop, lamps=lamps)
        figures[f"lamps[{reading.group}].v_start_v"] = Figure(
            low=v * (1.0 - START_SPREAD_RATIO),
            typical=v,
            high=v * (1.0 + START_SPREAD_RATIO),
            source=Source.MEASURED,
            note="start on a variable supply",
        )
    return replace(sheet, loop=loop, figures=figures)


def narrow(
    sheet: Sheet,
    readings: Sequence[Measurement],
    *,
    samples: int = SAMPLES,
    seed: int = 1,
    goes_on: GoesOn = always,
) -> Narrowing:
    """Weigh samples by the readings and judge again.

    Parameters
    ----------
    goes_on : asked before each sample; once it is False, what was looked at by then is judged.

    Raises
    ------
    InputError : no reading, or one that this loop cannot have. SolverError : nothing settles.
    """
    if not readings:
        raise InputError("no_reading", path="readings")
    for index, reading in enumerate(readings):
        check_bounds(reading, f"readings[{index}]")
        _check_seen(sheet, reading, f"readings[{index}]")
    prior_found = variables(sheet)
    sheet = with_bench_tests(sheet, readings)
    found = variables(sheet)
    wanted = [reading for reading in readings if reading.kind is not Kind.START_SUPPLY_V]
    u = _probabilities(found, samples, seed)
    population = _Population(sheet, found, wanted, goes_on)
    population.add(u, np.ones(samples))
    random = np.random.default_rng(seed)
    for left in range(ROUNDS, 0, -1):
        if not found or not wanted or population.effective() >= ENOUGH_EFFECTIVE or not population.is_complete:
            break
        if not population.seen:
            break
        before = population.nearest()
        population.add(*population.around(random, samples))
        nearer = before - population.nearest()
        if population.nearest() - _FASTER * (left - 1) * nearer > _HOPELESS:
            break
    if not population.seen:
        raise SolverError("no_sample_settles", samples=samples)
    weights = population.weights()
    values = at_probabilities(found, population.u) if found else np.zeros((len(population.seen), 0))
    spread = summed(found, values, tuple(population.seen), weights, samples=population.tried, seed=seed)
    distance = population.nearest() if wanted else 0.0
    is_explained = distance <= FAR
    return Narrowing(
        spread=replace(spread, is_complete=population.is_complete),
        figures=_before_and_after(prior_found, found, values, weights, seed),
        effective=population.effective(),
        distance=distance,
        is_explained=is_explained,
        likeliest_wrong=None if is_explained or not population.is_complete else _wrong(sheet, wanted),
    )


def _probabilities(found: Sequence[Variable], samples: int, seed: int) -> Floats:
    """Latin hypercube in probabilities."""
    unit = [replace(v, low=0.0, typical=0.5, high=1.0, is_log=False) for v in found]
    drawn = draw(unit, samples, seed)
    # Back from the triangle over 0 to 1 to the probability it was drawn at.
    return np.where(drawn < 0.5, 2.0 * drawn**2, 1.0 - 2.0 * (1.0 - drawn) ** 2)


class _Population:
    """Samples with their likelihood and the density they were drawn from."""

    def __init__(
        self, sheet: Sheet, found: tuple[Variable, ...], wanted: Sequence[Measurement], goes_on: GoesOn
    ) -> None:
        self.sheet, self.found, self.wanted, self.goes_on = sheet, found, wanted, goes_on
        self.is_complete = True
        self.u = np.zeros((0, len(found)))
        self.density = np.zeros(0)
        self.distance = np.zeros(0)
        # Twice the logarithm of the errors: a wider error explains everything, and everything less well.
        self.widths = np.zeros(0)
        self.seen: list[Sample] = []
        self.tried = 0

    def add(self, u: Floats, density: Floats) -> None:
        """Observe new samples; those that do not settle are left out, and those that there is no time for."""
        values = at_probabilities(self.found, u) if self.found else np.zeros((u.shape[0], 0))
        drawn = [loop_at(self.sheet.loop, self.found, row) for row in values]
        # With what its meters show beside it, so that a sample is looked at whole or not at all.
        looked = list(each_abreast(drawn, self._looked_at, goes_on=self.goes_on))
        self.tried += len(looked)
        self.is_complete = self.is_complete and len(looked) == len(drawn)
        u, density, loops = u[: len(looked)], density[: len(looked)], drawn[: len(looked)]
        seen = [None if both is None else both[0] for both in looked]
        total, widths = np.zeros(len(looked)), np.zeros(len(looked))
        for number, reading in enumerate(self.wanted):
            if reading.kind is Kind.LAMP_V:
                shown = [None if both is None else both[1].get(number) for both in looked]
            elif reading.kind in ERRORS:
                shown = [None if s is None else _shown(reading.kind, s) for s in seen]
            else:
                total += [
                    _FAR_SQUARED if sample is None else _seen_squared(reading, loop, sample)
                    for loop, sample in zip(loops, seen, strict=True)
                ]
                continue
            for k, (value, sample) in enumerate(zip(shown, seen, strict=True)):
                if value is None or sample is None:
                    total[k] += _FAR_SQUARED
                    continue
                total[k] += _z(reading, value, sample) ** 2
                widths[k] += 2.0 * log(_error(reading, value, sample))
        keep = [k for k, sample in enumerate(seen) if sample is not None]
        self.u = np.concatenate([self.u, u[keep]])
        self.density = np.concatenate([self.density, density[keep]])
        self.distance = np.concatenate([self.distance, total[keep]])
        self.widths = np.concatenate([self.widths, widths[keep]])
        self.seen += [sample for sample in seen if sample is not None]

    def _looked_at(self, loops: Sequence[Loop]) -> list[tuple[Sample, dict[int, float]] | None]:
        """What each loop does, and what each meter shows of it, by the reading it made; None where it does not settle.

        A meter is left out with which it does not.
        """
        return [
            None if sample is None else (sample, self._metered(loop))
            for loop, sample in zip(loops, observe_each(loops), strict=True)
        ]

    def _metered(self, loop: Loop) -> dict[int, float]:
        shown = {}
        for number, reading in enumerate(self.wanted):
            if reading.kind is Kind.LAMP_V:
                with suppress(SolverError):
                    shown[number] = shown_by(replace(loop, meter_r_ohm=reading.meter_r_ohm)).lamp_v_rms
        return shown

    def weights(self) -> Floats:
        """Posterior weights, summing to 1."""
        unlikely = self.distance + self.widths
        raw = np.exp(-0.5 * (unlikely - unlikely.min())) / self.density
        return raw / raw.sum()

    def effective(self) -> float:
        """Effective number of samples."""
        if not self.seen:
            return 0.0
        return float(1.0 / np.sum(self.weights() ** 2))

    def nearest(self) -> float:
        """Distance of the best sample from the readings [standard deviations]."""
        return float(np.sqrt(self.distance.min() / max(1, len(self.wanted))))

    def around(self, random: np.random.Generator, samples: int) -> tuple[Floats, Floats]:
        """Draws around the good samples (reflected at 0 and 1), and their density; a quarter stays the prior."""
        weights = self.weights()
        centres = self.u[random.choice(len(weights), size=samples, p=weights)]
        moved = centres + random.normal(0.0, KERNEL_WIDTH, centres.shape)
        moved = np.abs(moved)
        moved = 1.0 - np.abs(1.0 - moved)
        from_prior = random.random(samples) < 0.25
        moved[from_prior] = random.random((int(from_prior.sum()), moved.shape[1]))
        moved = np.clip(moved, 1e-9, 1.0 - 1e-9)
        return moved, 0.25 + 0.75 * self._kernel_density(moved, weights)

    def _kernel_density(self, points: Floats, weights: Floats) -> Floats:
        """Density of the reflected kernels at points, by the heavy centres."""
        heavy = np.argsort(-weights)[:200]
        share = weights[heavy] / weights[heavy].sum()
        total = np.zeros(points.shape[0])
        norm = KERNEL_WIDTH * sqrt(2.0 * np.pi)
        for centre, weight in zip(self.u[heavy], share, strict=True):
            product = np.ones(points.shape[0])
            for k in range(points.shape[1]):
                x = points[:, k]
                images = (centre[k], -centre[k], 2.0 - centre[k])
                product *= sum(np.exp(-0.5 * ((x - image) / KERNEL_WIDTH) ** 2) for image in images) / norm
            total += weight * product
        return total


def _check_seen(sheet: Sheet, reading: Measurement, path: str) -> None:
    """What was seen is one of the words, and of a group that is there; raises `InputError`."""
    if reading.kind not in (Kind.HALF_WAVE, Kind.SEEN):
        return
    words = set(HalfWave) - {HalfWave.MUST_NOT} if reading.kind is Kind.HALF_WAVE else _SEEN_WORDS
    if reading.seen not in words:
        raise InputError("unknown_kind", path=f"{path}.seen", value=reading.seen[:40], known=", ".join(sorted(words)))
    if not 0 <= reading.group < len(sheet.loop.lamps):
        raise InputError("no_such_group", path=f"{path}.group", group=reading.group + 1)
    if reading.seen in tuple(StandbyState) and sheet.loop.control.standby is None:
        raise InputError("no_feed_to_see", path=f"{path}.seen")


def _seen_squared(reading: Measurement, loop: Loop, sample: Sample) -> float:
    """Squared distance of a sample from what was seen."""
    if reading.kind is Kind.HALF_WAVE:
        return 0.0 if on_half_wave(loop.lamps[reading.group], loop.supply) == reading.seen else _OTHERWISE_SQUARED
    if reading.replacement is not None:
        lamps = tuple(reading.replacement if k == reading.group else lamp for k, lamp in enumerate(loop.lamps))
        try:
            sample = observe(replace(loop, lamps=lamps))
        except SolverError:
            return _FAR_SQUARED
    found = sample.control if reading.seen in tuple(StandbyState) else sample.lamps[reading.group]
    return 0.0 if found == reading.seen else _OTHERWISE_SQUARED


def _error(reading: Measurement, computed: float, sample: Sample) -> float:
    """Standard deviation of a reading against a computed value [its unit; of a period, of its logarithm]."""
    ratio, floor = ERRORS[reading.kind]
    if LampState.BLINK in sample.lamps:
        ratio = BLINKING_ERRORS.get(reading.kind, ratio)
    return ratio if reading.kind is Kind.PERIOD else ratio * computed + floor


def _z(reading: Measurement, computed: float, sample: Sample) -> float:
    """Distance of a reading from a computed value [standard deviations]."""
    error = _error(reading, computed, sample)
    if reading.kind is Kind.PERIOD:
        return log(reading.value / max(computed, 1e-6)) / error
    return (reading.value - computed) / error


def _before_and_after(
    before: Sequence[Variable], after: Sequence[Variable], values: Floats, weights: Floats, seed: int
) -> tuple[Narrowed, ...]:
    prior = draw(before, SAMPLES, seed)
    even = np.full(SAMPLES, 1.0 / SAMPLES)
    rows = []
    for k, variable in enumerate(before):
        was = quantiles(prior[:, k], even)
        at = next((j for j, other in enumerate(after) if other.path == variable.path), None)
        now = was if at is None else quantiles(values[:, at], weights)
        rows.append(Narrowed(path=variable.path, prior=was, posterior=now))
    return tuple(sorted(rows, key=lambda row: _width(row.posterior) / max(_width(row.prior), 1e-12)))


def _width(found: Range) -> float:
    return log(max(found.p95, 1e-30) / max(found.p05, 1e-30)) if found.p05 > 0.0 else found.p95 - found.p05


def _shown(kind: Kind, sample: Sample) -> float | None:
    """What an instrument shows of a sample; None where there is nothing of the kind to read."""
    if sample.shown is None:
        return None
    if kind is Kind.PERIOD:
        return sample.shown.period_s
    return sample.shown.lamp_v_rms if kind is Kind.LAMP_V else sample.shown.line_i_rms_a


def _wrong(sheet: Sheet, wanted: Sequence[Measurement]) -> WrongAssumption | None:
    """Move one figure at a time beyond its range, the rest typical, and see which brings the readings closest."""
    best: WrongAssumption | None = None
    for variable in variables(sheet):
        ends = [variable.low * factor for factor in WRONG_FACTORS if factor < 1.0]
        ends += [variable.high * factor for factor in WRONG_FACTORS if factor > 1.0]
        for value in ends:
            try:
                loop = loop_at(sheet.loop, (variable,), (value,))
                distance = 0.0
                for reading in wanted:
                    if reading.kind not in ERRORS:
                        distance += _seen_squared(reading, loop, observe(loop))
                        continue
                    metered = replace(loop, meter_r_ohm=reading.meter_r_ohm) if reading.kind is Kind.LAMP_V else loop
                    seen = observe(metered)
                    shown = _shown(reading.kind, seen)
                    distance += _FAR_SQUARED if shown is None else _z(reading, shown, seen) ** 2
            except (InputError, SolverError):
                continue
            found = WrongAssumption(path=variable.path, value=value, distance=sqrt(distance / len(wanted)))
            if best is None or found.distance < best.distance:
                best = found
    return best
