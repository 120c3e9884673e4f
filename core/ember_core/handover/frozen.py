"""Papers that are frozen: the exact text, its digest, and the chain that ties each issue to the ones before it."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

GENESIS = "0" * 64


def canonical(content: Any) -> str:
    """The one text of a document: keys in order, no spaces, no figure that JSON has not.

    Raises
    ------
    ValueError : a figure is not finite.
    """
    return json.dumps(content, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False)


def digest(data: bytes | str) -> str:
    """SHA-256 in hexadecimal (FIPS 180-4); a text by its UTF-8."""
    return hashlib.sha256(data.encode() if isinstance(data, str) else data).hexdigest()


def chained(before: str, *parts: str) -> str:
    """The digest of what comes next: it changes with each part, with their order, and with all that came before."""
    return digest(canonical([before, *parts]))


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One line of a paper.

    Parameters
    ----------
    key : what it is about, the same from issue to issue. section, label, value : as it is read.
    """

    key: str
    section: str
    label: str
    value: str


class Change(StrEnum):
    """How a line differs."""

    NEW = "new"
    GONE = "gone"
    OTHER = "other"


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """A line that is not as it was."""

    change: Change
    section: str
    label: str
    before: str
    after: str


def differences(before: list[Line], after: list[Line]) -> tuple[Difference, ...]:
    """What differs between two issues, in the order of the newer one; what is gone comes last."""
    old, new = {line.key: line for line in before}, {line.key: line for line in after}
    found = [
        Difference(
            change=Change.NEW if key not in old else Change.OTHER,
            section=line.section,
            label=line.label,
            before=old[key].value if key in old else "",
            after=line.value,
        )
        for key, line in new.items()
        if key not in old or old[key].value != line.value
    ]
    found += [
        Difference(change=Change.GONE, section=line.section, label=line.label, before=line.value, after="")
        for key, line in old.items()
        if key not in new
    ]
    return tuple(found)
