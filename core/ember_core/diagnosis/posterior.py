"""The worlds of a loop, weighed by what was told and found.

Each cause stands in a number of worlds, and each world makes each piece of evidence more or less likely: by what it
shows there, computed, with the share of answers that are wrong. Bayes' rule weighs the worlds. Beside them stands "none
of these", for which any answer is as likely as another: where it comes to weigh most, nothing explains the case.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import log, log2
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ember_core.diagnosis.changes import INJECTED, changed_world
from ember_core.diagnosis.evidence import ASKED, Case, Evidence, Told, outcomes_of
from ember_core.diagnosis.knowledge import TestKind, knowledge
from ember_core.diagnosis.outcomes import found_by
from ember_core.diagnosis.population import Particle, Population
from ember_core.diagnosis.shows import Shows
from ember_core.diagnosis.symptoms import Symptom

Floats = NDArray[np.float64]
# A rhythm told by telephone is known to about a third of it; one that was tapped to a tenth (see the data).
TOLD_PERIOD_RATIO = 0.28
# How likely "none of these" makes a symptom told, and a value read, over one that fits exactly [assumption].
NONE_TOLD, NONE_VALUE = 0.25, 0.06
# A value where a world has nothing to read, or another value altogether.
FAR = 0.01
# Worlds that weigh less than this share of the heaviest cause no further solving.
NEGLIGIBLE = 1e-3
# A value is read in so many worlds of each cause.
READ_EACH, READ = 5, 20
# What a loop does by itself, a cause put into it as well is hardly needed for.
NOT_NEEDED = 0.02
# So many causes are paired, each pair in so many worlds.
MOST_PAIRED, PAIR_WORLDS = 4, 5
# An explanation makes each piece of evidence at least this likely: less likely than any of the three changes that a
# cause may follow, likelier than an answer that somebody gives by chance.
EXPLAINS_FROM = 0.18
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


@dataclass(frozen=True, slots=True)
class Rhythm:
    """The time from flash to flash, as told with a symptom [s]."""

    period_s: float


Piece = Told | Evidence | Rhythm


class Posterior:
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
            chance = np.array(each_world(particles, lambda shows: shows.symptom(piece.code)))
            return chance * (1.0 - wrong) + (1.0 - chance) * wrong
        if isinstance(piece, Rhythm):
            return self._of_value(piece.period_s, particles, "period_tapped", None, TOLD_PERIOD_RATIO)
        if piece.value is not None:
            return self._of_value(piece.value, particles, piece.test, piece.meter_r_ohm, None)
        return self._of_outcome(piece, particles)

    def _of_outcome(self, piece: Evidence, particles: Sequence[Particle]) -> Floats:
        table = self.chances(piece.test, particles)
        return table[:, outcomes_of(piece.test).index(piece.outcome)]

    def chances(self, test: str, particles: Sequence[Particle]) -> Floats:
        """A row a world, a column an outcome: how likely it is found, answers that are wrong among them."""
        outcomes = outcomes_of(test)
        if test.startswith(ASKED):
            symptom, wrong = Symptom(test.removeprefix(ASKED)), self.known.wrong_ratio["ask"]
            chance = np.array(each_world(particles, lambda shows: shows.symptom(symptom)))
            table = np.stack([chance, 1.0 - chance], axis=1)
        else:
            told = self.case.complained
            wrong = self.known.wrong_ratio[self.known.tests[test].kind]
            rows = each_world(particles, lambda shows: found_by(shows, test, told))
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
        shown = each_world(chosen, lambda shows: shows.value(test, meter_r_ohm))
        centre, width, error = self.kernels(shown, chosen, test, ratio)
        z = (log(max(value, 1e-12)) - centre) / width
        likely = np.where(np.isfinite(centre), np.maximum(np.exp(-0.5 * z**2) * error / width, FAR), FAR)
        found = np.full(len(particles), FAR)
        for cause in set(causes.tolist()):
            found[causes == cause] = likely[causes[read] == cause].mean()
        found[read] = likely
        return found

    def kernels(
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
        shares = self.shares(self.weights)
        found = sorted(shares, key=lambda code: -shares[code])[:MOST_PAIRED]
        for row in range(len(self.pieces)):
            alone = self.shares(self.prior * self.likelihoods[row])
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

    def shares(self, weights: Floats) -> dict[str, float]:
        """Weight of each cause, of one weight a world."""
        shares: dict[str, float] = {}
        for one, weight in zip(self.particles, weights, strict=True):
            shares[one.cause] = shares.get(one.cause, 0.0) + float(weight)
        return shares

    def none_share(self) -> float:
        """Share of none of these [1]."""
        return self.none

    def doubt_bits(self) -> float:
        """Doubt of the cause that is left [bit]."""
        shares = [*self.shares(self.weights).values(), self.none]
        return -sum(share * log2(share) for share in shares if share > 0.0)

    def causes(self) -> tuple[CauseShare, ...]:
        """Those that weigh anything, largest share first, with what speaks for and against each."""
        shares = self.shares(self.weights)
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

    def drawn(self, count: int) -> list[Particle]:
        """Worlds drawn by their weight, evenly."""
        total = float(self.weights.sum())
        if total <= 0.0:
            return []
        edges = (np.arange(count) + 0.5) / count * total
        at = np.searchsorted(np.cumsum(self.weights), edges)
        return [self.particles[min(int(k), len(self.particles) - 1)] for k in at]


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


def each_world(particles: Sequence[Particle], work: Any) -> list[Any]:
    """Something of each world; once for a world that was drawn twice.

    One after the other: most of what is asked takes microseconds, which is less than handing it to a thread.
    """
    found = {key: work(shows) for key, shows in {id(one.shows): one.shows for one in particles}.items()}
    return [found[id(one.shows)] for one in particles]
