"""Findings: what is said of a loop, as data. The words are looked up by code at the edge."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum


class Severity(StrEnum):
    """How much a finding matters to the person at the switch."""

    STOP = "stop"  # do not fit it like this
    WARN = "warn"  # it may work; something must be settled first
    GOOD = "good"  # a reason for a good verdict
    INFO = "info"  # a fact that explains


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One statement: a stable code, its severity, the figures it mentions, and what it rests on.

    Parameters
    ----------
    code : stable identifier; every code has its words in the project's text catalogue.
    severity : see `Severity`.
    params : SI values by name with unit suffix, or words.
    refs : paths in the loop sheet of the inputs that the finding rests on.
    """

    code: str
    severity: Severity
    params: Mapping[str, float | int | str] = field(default_factory=dict)
    refs: tuple[str, ...] = ()
