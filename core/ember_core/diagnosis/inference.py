"""Causes by their share, from what was told and found; the test that tells most for its minutes; remedies by chance."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from ember_core.diagnosis.evidence import Case
from ember_core.diagnosis.next_test import TestGain, next_tests
from ember_core.diagnosis.population import Population
from ember_core.diagnosis.posterior import CauseShare, Posterior
from ember_core.diagnosis.ranking import RemedyChance, ranked_remedies
from ember_core.sheet import Sheet, read_text
from ember_core.sheet import write as write_sheet


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
    posterior = Posterior(worlds, case)
    if posterior.none_share() > 0.2 or not posterior.explained()[0]:
        posterior.add_pairs()
    explained, unexplained = posterior.explained()
    return Diagnosis(
        causes=posterior.causes(),
        none_share=posterior.none_share(),
        explained=explained,
        unexplained=unexplained,
        doubt_bits=posterior.doubt_bits(),
        tests=next_tests(posterior),
        remedies=ranked_remedies(posterior) if with_remedies else (),
    )
