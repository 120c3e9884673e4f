"""Words found anywhere on record, of the sites where the reader works."""

from __future__ import annotations

from dataclasses import dataclass
from functools import reduce
from operator import and_, or_
from typing import Any

from django.db.models import Q, QuerySet

from accounts.models import User
from common.plain import plain
from fitting.models import FitLeft, FitMark
from handover.models import AskBack, Issue
from loops.models import Gang, Loop
from parts.models import Part
from proving.models import Case, CaseEvent, CaseEvidence, ProveMark
from sites.access import hanging, of_sites, site_keys
from sites.models import Circuit, LabelCorrection, Site
from survey.models import Photo, Survey

Json = dict[str, Any]
MOST_WORDS = 6
SHORTEST = 2
MOST_A_KIND = 12
# So many are looked up by their keys.
MOST_KEYS = 1000
WIDTH = 50


@dataclass(frozen=True, slots=True)
class Source:
    """A kind of record: its columns with words, and the way to its loop or its site.

    What is searched as plain text has a column for that; its words are then looked for nowhere else.
    """

    kind: str
    model: Any
    columns: tuple[str, ...]
    loop: str = ""
    site: str = ""
    plain: str = ""


SOURCES = (
    Source("loop", Loop, ("name", "note", "words"), plain="plain_words"),
    Source("site", Site, ("name", "place")),
    Source("circuit", Circuit, ("breaker", "label_as_found", "label_now", "feeds"), site="site"),
    Source("label", LabelCorrection, ("label_before", "label", "how_found"), site="circuit__site"),
    Source("gang", Gang, ("name",), loop="loop"),
    Source("box", Survey, ("name",), loop="loop"),
    Source("photo", Photo, ("caption",), loop="loop"),
    Source("fit", FitMark, ("reason",), loop="loop"),
    Source("left", FitLeft, ("note",), loop="loop"),
    Source("prove", ProveMark, ("reason",), loop="loop"),
    Source("case", Case, ("note",), loop="loop"),
    Source("evidence", CaseEvidence, ("note",), loop="case__loop"),
    Source("closing", CaseEvent, ("note",), loop="case__loop"),
    Source("issue", Issue, ("note",), loop="loop"),
    Source("ask_back", AskBack, ("note",), loop="issue__loop"),
    Source("part", Part, ("maker", "name", "note")),
)


def found_for(who: User, wish: str) -> Json:
    """Records in which every word stands somewhere, kind by kind, the kinds that a person looks for first in front.

    A word is found inside of others and without its accents. Fewer letters than two find nothing.
    """
    words = [word for word in wish.split() if len(word) >= SHORTEST][:MOST_WORDS]
    sites = site_keys(who) if words else []
    kinds = []
    for source in SOURCES if words else ():
        rows = _rows(source, sites, words)
        first = list(rows[: MOST_A_KIND + 1])
        if first:
            count = len(first) if len(first) <= MOST_A_KIND else rows.count()
            found = [_row(source, row, words) for row in first[:MOST_A_KIND]]
            kinds.append({"kind": source.kind, "count": count, "rows": found})
    return {"words": words, "kinds": kinds}


def _rows(source: Source, sites: list[Any], words: list[str]) -> QuerySet[Any]:
    wanted = reduce(and_, (_has(source, word) for word in words))
    if source.loop:
        # Their own table first: joined, the database walks thousands of loops to find the few.
        keys = list(source.model._base_manager.filter(wanted).order_by().values_list("pk", flat=True)[: MOST_KEYS + 1])
        if not keys:
            return source.model._base_manager.none()
        if len(keys) <= MOST_KEYS:
            wanted = Q(pk__in=keys)
    if source.model is Part:
        rows = Part.objects.all()
    elif source.model in (LabelCorrection,):
        rows = source.model.objects.filter(**{f"{source.site}__in": sites})
    elif source.loop:
        present = {"archived_at": None} if hasattr(source.model, "archived_at") else {}
        rows = hanging(source.model._base_manager.filter(**present), source.loop, Loop, sites)
    else:
        rows = of_sites(source.model, sites)
    more = [f"{source.loop}__site"] if source.loop else [source.site] if source.site else []
    more += ["site"] if source.model is Loop else []
    found: QuerySet[Any] = rows.filter(wanted).select_related(*more).order_by("pk")
    return found


def _has(source: Source, word: str) -> Q:
    if source.plain:
        return Q(**{f"{source.plain}__contains": plain(word)})
    return reduce(or_, (Q(**{f"{column}__icontains": word}) for column in source.columns))


def _row(source: Source, row: Any, words: list[str]) -> Json:
    loop = row if source.model is Loop else _along(row, source.loop)
    site = row if source.model is Site else loop.site if loop else _along(row, source.site)
    text = next(
        (part for word in words for column in source.columns if (part := around(str(getattr(row, column)), word))), ""
    )
    return {
        "text": text or str(getattr(row, source.columns[0])),
        "loop": None if loop is None else loop.pk,
        "loop_name": "" if loop is None else loop.name,
        "site": None if site is None else site.pk,
        "site_name": "" if site is None else site.name,
        "part": row.pk if source.model is Part else None,
    }


def _along(row: Any, way: str) -> Any:
    for step in way.split("__") if way else ():
        row = getattr(row, step)
    return row if way else None


def around(text: str, word: str) -> str:
    """The words around where one was found, accents or not; empty where it was not."""
    at = text.casefold().find(word.casefold())
    if at < 0 and len(alike := plain(text)) == len(text):
        at = alike.find(plain(word))
    if at < 0:
        return ""
    begin, end = max(at - WIDTH, 0), at + len(word) + WIDTH
    return f"{'…' if begin else ''}{text[begin:end]}{'…' if end < len(text) else ''}"
