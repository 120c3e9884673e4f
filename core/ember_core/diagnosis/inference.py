"""Causes by their share, from what was told and found; the test that tells most for its minutes; remedies by chance.

Each cause stands in a number of worlds, and each world makes each piece of evidence more or less likely: by what it
shows there, computed, with the share of answers that are wrong. Bayes' rule weighs the worlds. Beside them stands "none
of these", for which any answer is as likely as another: where it comes to weigh most, nothing explains the case.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from math import log, log2
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ember_core.diagnosis.causes import INJECTED, changed_world
from ember_core.diagnosis.evidence import ASKED, Case, Evidence, Told, outcomes_of
from ember_core.diagnosis.knowledge import RemedyClass, TestClass, TestKind, Undo, knowledge
from ember_core.diagnosis.population import Particle, Population
from ember_core.diagnosis.remedies import OFFERED, cured
from ember_core.diagnosis.shows import Shows, Symptom, is_dimmer
from ember_core.loop import Loop
from ember_core.parts import CapacitorBypass, PhaseMode, is_led
from ember_core.sheet import Sheet, read_text
from ember_core.sheet import write as write_sheet
from ember_core.spread.information import binned, information_bits
from ember_core.spread.judged import THREADS

Floats = NDArray[np.float64]
# A rhythm told by telephone is known to about a third of it; one that was tapped to a tenth (see the data).
TOLD_PERIOD_RATIO = 0.28
# How likely "none of these" makes a symptom told, and a value read, over one that fits exactly [assumption].
NONE_TOLD, NONE_VALUE = 0.25, 0.06
# A value where a world has nothing to read, or another value altogether.
FAR = 0.01
# Worlds that weigh less than this share of the heaviest cause no further solving.
NEGLIGIBLE = 1e-3
# Worlds drawn by their weight to value tests and to try remedies on.
VALUED, TRIED = 60, 40
# A test is proposed from this gain on, and costs this much beside its minutes: going there, writing it down [min].
LEAST_GAIN_BITS, HANDLING_MIN = 0.04, 2.0
BINS = 7
# A value is read in so many worlds of each cause.
READ_EACH, READ = 5, 20
# What a loop does by itself, a cause put into it as well is hardly needed for.
NOT_NEEDED = 0.02
# From this share on causes are looked at for remedies, and paired.
WORTH_CURING, MOST_REMEDIES, MOST_PAIRED, PAIR_WORLDS = 0.02, 8, 4, 5
# A remedy within this ratio of the best chance may be named before it where it costs less.
AS_GOOD_RATIO = 0.97
# Minutes that money and what cannot be taken back count for [assumption].
MINUTES_PER_PRICE = 1.0
UNDO_MIN: Mapping[Undo, float] = {Undo.EASILY: 0.0, Undo.HARDLY: 20.0, Undo.NEVER: 60.0}
# An explanation makes each piece of evidence at least this likely.
EXPLAINS_FROM = 0.2
# A value is likely by its kernel, which is wide where worlds are few.
EXPLAINS_VALUE_FROM = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighing:
    """How one piece of evidence speaks of a cause.

    Parameters
    ----------
    place : of the evidence: `symptoms[0]`, `evidence[2]`.
    bits : log2 of its likelihood over that of all together; above 0 it speaks for the cause.
    """

    place: str
    bits: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseShare:
    """A cause, or two joined by `+`, and its share [1], with what speaks for and against it."""

    code: str
    share: float
    speaks: tuple[Weighing, ...]


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


@dataclass(frozen=True, slots=True, kw_only=True)
class RemedyChance:
    """A remedy and the share of the weight in which it cures [1]."""

    code: str
    chance: float
    minutes: float
    price: float
    undo: Undo


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagnosis:
    """What is known of a case.

    Parameters
    ----------
    causes : largest share first; what weighs next to nothing is left out. none_share : none of these [1].
    explained : the likeliest causes make everything that was told and found likely.
    unexplained : places of the evidence that nothing makes likely.
    doubt_bits : doubt of the cause that is left. tests : best first. remedies : the one to try first, first.
    """

    causes: tuple[CauseShare, ...]
    none_share: float
    explained: bool
    unexplained: tuple[str, ...]
    doubt_bits: float
    tests: tuple[TestGain, ...]
    remedies: tuple[RemedyChance, ...]


@lru_cache(maxsize=24)
def _population(sheet_text: str, closed: tuple[tuple[str, int], ...], seed: int) -> Population:
    return Population(read_text(sheet_text), dict(closed), seed)


def population_of(sheet: Sheet, closed: Mapping[str, int] | None = None, seed: int = 1) -> Population:
    """The worlds of a sheet, remembered: the next question of a case does not solve them again."""
    text = json.dumps(write_sheet(sheet), sort_keys=True)
    return _population(text, tuple(sorted((closed or {}).items())), seed)


def diagnose(
    case: Case, *, closed: Mapping[str, int] | None = None, seed: int = 1, with_remedies: bool = True
) -> Diagnosis:
    """Causes, the next test, remedies.

    Parameters
    ----------
    closed : the firm's closed cases by cause; they move the weights.
    with_remedies : also try the remedies, which takes about as long as the rest.

    Raises
    ------
    SolverError : nothing of the loop can be solved.
    """
    worlds = population_of(case.sheet, closed, seed)
    posterior = _Posterior(worlds, case)
    if posterior.none_share() > 0.2 or not posterior.explained()[0]:
        posterior.add_pairs()
    explained, unexplained = posterior.explained()
    return Diagnosis(
        causes=posterior.causes(),
        none_share=posterior.none_share(),
        explained=explained,
        unexplained=unexplained,
        doubt_bits=posterior.doubt_bits(),
        tests=posterior.tests(),
        remedies=posterior.remedies() if with_remedies else (),
    )


@dataclass(frozen=True, slots=True)
class Rhythm:
    """The time from flash to flash, as told with a symptom [s]."""

    period_s: float


Piece = Told | Evidence | Rhythm


class _Posterior:
    """The worlds weighed by a case."""

    def __init__(self, worlds: Population, case: Case) -> None:
        self.worlds, self.case = worlds, case
        self.known = knowledge()
        self.pieces: list[tuple[str, Piece]] = [
            *((f"symptoms[{k}]", one) for k, one in enumerate(case.told)),
            *((f"symptoms[{k}]", Rhythm(one.period_s)) for k, one in enumerate(case.told) if one.period_s is not None),
            *((f"evidence[{k}]", one) for k, one in enumerate(case.evidence) if one.says),
        ]
        none = self.known.none_weight / sum(cause.weight for cause in self.known.causes.values())
        self.particles: list[Particle] = list(worlds.particles)
        self.prior = worlds.weights * (1.0 - none) * self._needed()
        self.none_prior = none
        self.likelihoods = self._likelihoods(self.particles, self.prior)
        self.none_pieces = np.array([self._of_none(piece) for _, piece in self.pieces])
        self._weigh()

    def _needed(self) -> Floats:
        """1 for each world whose cause is needed for what was told; little where it did that before."""
        told = self.case.complained
        return np.array(
            [
                1.0
                if one.sound is one.shows
                or any(one.sound.symptom(code) < 0.5 * one.shows.symptom(code) for code in told)
                else NOT_NEEDED
                for one in self.particles
            ]
        )

    def _weigh(self) -> None:
        raw = self.prior * self.likelihoods.prod(axis=0)
        none = self.none_prior * float(self.none_pieces.prod())
        total = float(raw.sum()) + none
        self.weights: Floats = raw / total
        self.none = float(none / total)

    def _likelihoods(self, particles: Sequence[Particle], prior: Floats) -> Floats:
        """A row a piece of evidence, a column a world. What is cheap goes first, so that little is left to solve."""
        order = sorted(range(len(self.pieces)), key=lambda row: _effort(self.pieces[row][1]))
        found = np.ones((len(self.pieces), len(particles)))
        so_far = prior.copy()
        for row in order:
            piece = self.pieces[row][1]
            alive = np.flatnonzero(so_far > NEGLIGIBLE * so_far.max())
            # The heaviest first: in them values are read.
            alive = alive[np.argsort(-so_far[alive], kind="stable")]
            chosen = [particles[int(k)] for k in alive]
            found[row, alive] = self._of_piece(piece, chosen)
            dead = np.setdiff1d(np.arange(len(particles)), alive)
            found[row, dead] = FAR
            so_far = so_far * found[row]
        return found

    def _of_piece(self, piece: Piece, particles: Sequence[Particle]) -> Floats:
        """Likelihood of one piece of evidence in each world."""
        if isinstance(piece, Told):
            wrong = self.known.wrong_ratio["told"]
            chance = np.array(_each(particles, lambda shows: shows.symptom(piece.code)))
            return chance * (1.0 - wrong) + (1.0 - chance) * wrong
        if isinstance(piece, Rhythm):
            return self._of_value(piece.period_s, particles, "period_tapped", None, TOLD_PERIOD_RATIO)
        if piece.value is not None:
            return self._of_value(piece.value, particles, piece.test, piece.meter_r_ohm, None)
        return self._of_outcome(piece, particles)

    def _of_outcome(self, piece: Evidence, particles: Sequence[Particle]) -> Floats:
        table = self._chances(piece.test, particles)
        return table[:, outcomes_of(piece.test).index(piece.outcome)]

    def _chances(self, test: str, particles: Sequence[Particle]) -> Floats:
        """A row a world, a column an outcome: how likely it is found, answers that are wrong among them."""
        outcomes = outcomes_of(test)
        if test.startswith(ASKED):
            symptom, wrong = Symptom(test.removeprefix(ASKED)), self.known.wrong_ratio["ask"]
            chance = np.array(_each(particles, lambda shows: shows.symptom(symptom)))
            table = np.stack([chance, 1.0 - chance], axis=1)
        else:
            told = self.case.complained
            wrong = self.known.wrong_ratio[self.known.tests[test].kind]
            rows = _each(particles, lambda shows: shows.outcome(test, told))
            table = np.array([[row.get(outcome, 0.0) for outcome in outcomes] for row in rows])
        return table * (1.0 - wrong) + wrong / len(outcomes)

    def _of_value(
        self,
        value: float,
        particles: Sequence[Particle],
        test: str,
        meter_r_ohm: float | None,
        ratio: float | None,
    ) -> Floats:
        """Likelihood of a value read: a kernel about what each world shows, of the meter's error and their spacing.

        Read in a few worlds of each cause; the rest of them take their mean.
        """
        causes = np.array([one.cause for one in particles])
        read = np.concatenate([np.flatnonzero(causes == cause)[:READ_EACH] for cause in dict.fromkeys(causes.tolist())])
        chosen = [particles[k] for k in read]
        shown = _each(chosen, lambda shows: shows.value(test, meter_r_ohm))
        centre, width, error = self._kernels(shown, chosen, test, ratio)
        z = (log(max(value, 1e-12)) - centre) / width
        likely = np.where(np.isfinite(centre), np.maximum(np.exp(-0.5 * z**2) * error / width, FAR), FAR)
        found = np.full(len(particles), FAR)
        for cause in set(causes.tolist()):
            found[causes == cause] = likely[causes[read] == cause].mean()
        found[read] = likely
        return found

    def _kernels(
        self, shown: Sequence[float | None], particles: Sequence[Particle], test: str, ratio: float | None
    ) -> tuple[Floats, Floats, Floats]:
        """Centre, width and error of each world's kernel, in the logarithm of the value."""
        of = self.known.tests[test]
        centre = np.array([np.nan if one is None or one <= 0.0 else log(one) for one in shown])
        error = np.array([(ratio or of.ratio) + of.floor / max(one or 1e-9, 1e-9) for one in shown])
        error = np.minimum(error, 1.0)
        width = error.copy()
        causes = np.array([one.cause for one in particles])
        for cause in set(causes.tolist()):
            own = np.flatnonzero((causes == cause) & np.isfinite(centre))
            if own.size > 1:
                # As far apart as the worlds of one cause lie, so far each speaks for its neighbourhood.
                spacing = 1.06 * float(np.std(centre[own])) * own.size**-0.2
                width[own] = np.hypot(error[own], spacing)
        return centre, width, error

    def _of_none(self, piece: Piece) -> float:
        if isinstance(piece, Told):
            return NONE_TOLD
        if isinstance(piece, Rhythm) or piece.value is not None:
            return NONE_VALUE
        return 1.0 / len(outcomes_of(piece.test))

    def add_pairs(self) -> None:
        """Two causes at once, of those that explain most, and for each piece of evidence of those that explain it."""
        shares = self._shares(self.weights)
        found = sorted(shares, key=lambda code: -shares[code])[:MOST_PAIRED]
        for row in range(len(self.pieces)):
            alone = self._shares(self.prior * self.likelihoods[row])
            found += sorted(alone, key=lambda code: -alone[code])[:1]
        codes = [code for code in dict.fromkeys(found) if "+" not in code]
        made: list[Particle] = []
        prior: list[float] = []
        by_cause: dict[str, list[Particle]] = {}
        for one in self.particles:
            by_cause.setdefault(one.cause, []).append(one)
        for first, second in combinations(codes, 2):
            own = self._pair(first, second, by_cause)
            weight = self.known.pair_ratio * self.worlds.prior[first] * self.worlds.prior[second]
            made += own
            prior += [weight / len(own)] * len(own) if own else []
        if not made:
            return
        extra = np.array(prior)
        self.likelihoods = np.hstack([self.likelihoods, self._likelihoods(made, extra)])
        self.particles += made
        self.prior = np.concatenate([self.prior, extra])
        self._weigh()

    def _pair(self, first: str, second: str, by_cause: Mapping[str, list[Particle]]) -> list[Particle]:
        """Worlds of two causes: one that can be put in, put into worlds of the other."""
        put_in, into = (second, first) if second in INJECTED else (first, second)
        if put_in not in INJECTED:
            return []
        own = []
        for k, one in enumerate(by_cause.get(into, [])[:PAIR_WORLDS]):
            random = np.random.default_rng([self.worlds.seed, list(self.known.causes).index(put_in), k])
            world = changed_world(put_in, one.shows.world, random, self.known.causes[put_in].follows)
            if world is not None:
                shows = Shows(world, one.shows if world.loop is one.shows.world.loop else None)
                own.append(Particle(cause=f"{into}+{put_in}", shows=shows, sound=one.sound))
        return own

    def _shares(self, weights: Floats) -> dict[str, float]:
        shares: dict[str, float] = {}
        for one, weight in zip(self.particles, weights, strict=True):
            shares[one.cause] = shares.get(one.cause, 0.0) + float(weight)
        return shares

    def none_share(self) -> float:
        return self.none

    def doubt_bits(self) -> float:
        shares = [*self._shares(self.weights).values(), self.none]
        return -sum(share * log2(share) for share in shares if share > 0.0)

    def causes(self) -> tuple[CauseShare, ...]:
        shares = self._shares(self.weights)
        of_all = self.prior / self.prior.sum()
        mean = (self.likelihoods * of_all).sum(axis=1)
        names = np.array([one.cause for one in self.particles])
        rows = []
        for code, share in sorted(shares.items(), key=lambda item: -item[1]):
            if share < 1e-3:
                break
            own = names == code
            likely = (self.likelihoods[:, own] * of_all[own]).sum(axis=1) / of_all[own].sum()
            bits: dict[str, float] = {}
            for (place, _), of, among in zip(self.pieces, likely, mean, strict=True):
                bits[place] = bits.get(place, 0.0) + log2(max(float(of), 1e-9) / max(float(among), 1e-9))
            speaks = tuple(Weighing(place=place, bits=one) for place, one in bits.items())
            rows.append(CauseShare(code=code, share=share, speaks=speaks))
        return tuple(rows)

    def explained(self) -> tuple[bool, tuple[str, ...]]:
        """Whether the causes that weigh most make each piece of evidence likely, and where they do not."""
        total = self.weights.sum()
        if total <= 0.0:
            return False, tuple(place for place, _ in self.pieces)
        likely = (self.likelihoods * self.weights).sum(axis=1) / total
        left = tuple(
            place
            for (place, piece), one in zip(self.pieces, likely, strict=True)
            if one < (EXPLAINS_VALUE_FROM if _is_value(piece) else EXPLAINS_FROM)
        )
        return bool(not left and self.none < 0.5), tuple(dict.fromkeys(left))

    def _drawn(self, count: int) -> list[Particle]:
        """Worlds drawn by their weight, evenly."""
        total = float(self.weights.sum())
        if total <= 0.0:
            return []
        edges = (np.arange(count) + 0.5) / count * total
        at = np.searchsorted(np.cumsum(self.weights), edges)
        return [self.particles[min(int(k), len(self.particles) - 1)] for k in at]

    def tests(self) -> tuple[TestGain, ...]:
        """What could be asked next, by gain over minutes with danger counted in; nothing twice."""
        drawn = self._drawn(VALUED)
        if not drawn:
            return ()
        done = {one.test for one in self.case.evidence}
        told = set(self.case.complained)
        causes = [one.cause for one in drawn]
        doubt = self.doubt_bits()
        rows = [(1.0 + HANDLING_MIN, one) for one in self._asking_gains(drawn, causes, done, told)]
        best = max((one.gain_bits / cost for cost, one in rows), default=0.0)
        # What takes no solving first; of the rest only what could still be best, even if it took all doubt away.
        for test in sorted(self.known.tests.values(), key=lambda test: (_is_solved(test), self.known.cost_min(test))):
            if test.code in done or not applies(test, self.worlds.sheet.loop, told):
                continue
            cost = self.known.cost_min(test) + HANDLING_MIN
            if _is_solved(test) and doubt / cost < best:
                continue
            made = self._value_gain(test, drawn, causes) if test.is_value else self._outcome_gain(test, drawn, causes)
            best = max(best, made.gain_bits / cost)
            rows.append((cost, made))
        worth = [(cost, one) for cost, one in rows if one.gain_bits >= LEAST_GAIN_BITS]
        return tuple(one for _, one in sorted(worth, key=lambda row: -row[1].gain_bits / row[0]))

    def _outcome_gain(self, test: TestClass, drawn: Sequence[Particle], causes: Sequence[str]) -> TestGain:
        gain = information_bits(causes, self._chances(test.code, drawn))
        return TestGain(code=test.code, gain_bits=gain, minutes=test.minutes)

    def _asking_gains(
        self, drawn: Sequence[Particle], causes: Sequence[str], done: set[str], told: set[Symptom]
    ) -> list[TestGain]:
        """Whether another symptom shows too."""
        made = []
        for symptom in Symptom:
            code = f"{ASKED}{symptom.value}"
            if symptom in told or code in done:
                continue
            gain = information_bits(causes, self._chances(code, drawn))
            made.append(TestGain(code=code, gain_bits=gain, minutes=1.0))
        return made

    def _value_gain(self, test: TestClass, drawn: Sequence[Particle], causes: Sequence[str]) -> TestGain:
        if _is_solved(test):
            drawn, causes = drawn[:: VALUED // READ], causes[:: VALUED // READ]
        shown = _each(drawn, lambda shows: shows.value(test.code, test.meter_r_ohm))
        centre, width, _ = self._kernels(shown, drawn, test.code, None)
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

    def remedies(self) -> tuple[RemedyChance, ...]:
        """Remedies of the causes that weigh, tried in worlds drawn by their weight."""
        drawn = self._drawn(TRIED)
        offered: dict[str, None] = {}
        for code, share in sorted(self._shares(self.weights).items(), key=lambda item: -item[1]):
            if share >= WORTH_CURING:
                for part in code.split("+"):
                    offered |= dict.fromkeys(OFFERED[part])
        told = self.case.complained
        rows = []
        for name in offered:
            with ThreadPoolExecutor(max_workers=THREADS) as pool:
                well = list(pool.map(lambda one, name=name: cured(name, one.shows, one.sound, told), drawn))
            of = self.known.remedies[name]
            chance = float(np.mean(well) * (1.0 - self.none)) if well else 0.0
            rows.append(RemedyChance(code=name, chance=chance, minutes=of.minutes, price=of.price, undo=of.undo))
        return _in_order(rows)


def _in_order(rows: Sequence[RemedyChance]) -> tuple[RemedyChance, ...]:
    """First of those about as likely as the best the one that costs least, then the same of the rest."""
    left = [row for row in rows if row.chance >= 0.02]
    ordered: list[RemedyChance] = []
    while left and len(ordered) < MOST_REMEDIES:
        best = max(row.chance for row in left)
        as_good = [row for row in left if row.chance >= AS_GOOD_RATIO * best]
        first = min(as_good, key=cost_of)
        ordered.append(first)
        left.remove(first)
    return tuple(ordered)


def cost_of(remedy: RemedyChance | RemedyClass) -> float:
    """Minutes of a remedy, with its price and what cannot be taken back counted as minutes."""
    return remedy.minutes + MINUTES_PER_PRICE * remedy.price + UNDO_MIN[remedy.undo]


def applies(test: TestClass, loop: Loop, told: set[Symptom]) -> bool:
    """Whether a test can be made in this loop."""
    match test.code:
        case "period_tapped":
            return Symptom.BLINK_OFF in told
        case "level_run" | "started_low":
            return is_dimmer(loop)
        case "edge_changed":
            return loop.control.phase_mode is PhaseMode.SELECTABLE
        case "one_filament_lamp" | "another_lamp":
            return any(is_led(lamp) for lamp in loop.lamps)
        case "bypass_measured":
            return any(isinstance(part, CapacitorBypass) for part in loop.bypass)
        case "network_looked_at" | "hub_brought_near" | "power_cycled":
            return loop.control.standby is not None
    return True


# Tests whose outcome in a world takes solving it anew.
_SOLVED = frozenset({"one_filament_lamp", "another_lamp", "bypass_tried", "gangs_swapped"})


def _is_solved(test: TestClass) -> bool:
    return test.code in _SOLVED or (test.is_value and test.code not in ("supply_v", "bypass_measured"))


def _is_value(piece: Piece) -> bool:
    return isinstance(piece, Rhythm) or (isinstance(piece, Evidence) and piece.value is not None)


def _effort(piece: Piece) -> int:
    """What takes longer to compute comes later."""
    if isinstance(piece, Told):
        return 1
    if isinstance(piece, Rhythm) or piece.value is not None:
        return 3
    test = knowledge().tests.get(piece.test)
    return 0 if test is not None and test.kind in (TestKind.LOOK, TestKind.ASK) else 2


def _each(particles: Sequence[Particle], work: Any) -> list[Any]:
    """Something of each world, as many at once as there are threads; once for a world that was drawn twice."""
    different = {id(one.shows): one.shows for one in particles}
    with ThreadPoolExecutor(max_workers=THREADS) as pool:
        found = dict(zip(different, pool.map(work, different.values()), strict=True))
    return [found[id(one.shows)] for one in particles]
