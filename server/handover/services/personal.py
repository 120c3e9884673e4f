"""What is kept of a client: found by name, told whole, erased without a hole in the technical record.

A client's name and hand stand in signatures, whose seal is over a digest of them and holds when they are gone. Beside
that somebody may have written a name into a note. What is frozen (issues, the trail, marks) is told and stays.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Q

from accounts.models import User
from audit import trail
from audit.models import Change
from bench.services.keep_gang import WORDS, keep_words
from common.problems import Problem
from handover.models import AskBack, Issue, Signature, Signer
from handover.services.search import around
from loops.models import Loop
from proving.models import Case, CaseEvent, CaseEvidence, ProveMark
from survey.models import Isolation, Lock, Photo, StepMark

Json = dict[str, Any]
SHORTEST = 3
# Nobody reads a longer list; who is asked about is somebody particular.
MOST = 200
ERASED = "personal data erased"
IN_ITS_PLACE = "[…]"
# Notes that people keep, and can be changed: of what, in which column, and the way to the loop.
TEXTS: tuple[tuple[Any, str, str], ...] = (
    (Loop, "note", ""),
    (Photo, "caption", "loop"),
    (Case, "note", "loop"),
)
# What was said at a moment and is never changed.
FROZEN: tuple[tuple[Any, str, str], ...] = (
    (Issue, "content", "loop"),
    (AskBack, "note", "issue__loop"),
    (Signature, "reason", "issue__loop"),
    (CaseEvidence, "note", "case__loop"),
    (CaseEvent, "note", "case__loop"),
    (ProveMark, "reason", "loop"),
    (StepMark, "override_reason", "loop"),
    (Lock, "off_reason", "loop"),
    (Isolation, "closing_note", "loop"),
)


@dataclass(frozen=True, slots=True)
class Mention:
    """A place where a name stands."""

    kind: str
    loop: Loop | None
    text: str
    row: Any
    column: str


@dataclass(frozen=True, slots=True)
class Kept:
    """Everything that is kept under a name."""

    signatures: list[Signature]
    texts: list[Mention]
    frozen: list[Mention]
    trail_count: int


def kept_of(name: str) -> Kept:
    """What is kept of somebody.

    Raises
    ------
    Problem : `name_too_short`: everything would be found.
    """
    wanted = name.strip()
    if len(wanted) < SHORTEST:
        raise Problem(422, "name_too_short", path="name", least=SHORTEST)
    signatures = Signature.objects.filter(role=Signer.CLIENT, name__icontains=wanted).select_related(
        "issue__loop__site", "by"
    )
    said = Q(before__icontains=wanted) | Q(after__icontains=wanted)
    return Kept(
        list(signatures[:MOST]),
        [one for of in TEXTS for one in _mentions(of, wanted)],
        [one for of in FROZEN for one in _mentions(of, wanted)],
        Change.objects.filter(said).count(),
    )


def _mentions(of: tuple[Any, str, str], wanted: str) -> list[Mention]:
    model, column, way = of
    rows = model._base_manager.filter(**{f"{column}__icontains": wanted}).order_by("pk")
    rows = rows.select_related(f"{way}__site" if way else "site")[:MOST]
    return [
        Mention(model._meta.model_name, _loop_of(row, way), around(getattr(row, column), wanted), row, column)
        for row in rows
    ]


def _loop_of(row: Any, way: str) -> Loop | None:
    for step in way.split("__") if way else ():
        row = getattr(row, step)
    return row if isinstance(row, Loop) else None


def erase(who: User, name: str, reason: str) -> Kept:
    """Take a name out of signatures and notes; returns what is kept after that.

    The seal of each signature holds: it is over a digest of what is gone. The trail notes that it was done and why, and
    not the name.
    """
    whole = name.strip().casefold()
    # A longer name that begins alike is somebody else's.
    wanted = re.compile(rf"(?<!\w){re.escape(name.strip())}(?!\w)", re.IGNORECASE)
    with transaction.atomic():
        found = kept_of(name)
        for signature in found.signatures:
            if signature.name.strip().casefold() == whole:
                Signature.objects.filter(pk=signature.pk).update(name="", strokes=[], salt="")
                after = {"signature": str(signature.pk), "reason": reason}
                trail.record(who, ERASED, signature.issue.loop, after=after)
        for mention in found.texts:
            _erase_text(who, mention, wanted, reason)
    return kept_of(name)


def _erase_text(who: User, mention: Mention, wanted: re.Pattern[str], reason: str) -> None:
    """One note, as it is now: what somebody else writes meanwhile beside it stays."""
    row = type(mention.row)._base_manager.select_for_update().get(pk=mention.row.pk)
    text = getattr(row, mention.column)
    without = wanted.sub(IN_ITS_PLACE, text)
    if without == text:
        return
    setattr(row, mention.column, without)
    changed = [mention.column]
    if isinstance(row, Loop):
        row.version += 1
        keep_words(row)
        changed += ["version", *WORDS, "changed_at"]
    row.save(update_fields=changed)
    trail.record(who, ERASED, mention.loop or row, after={"in": mention.kind, "reason": reason})
