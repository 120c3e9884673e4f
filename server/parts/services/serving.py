"""Where a part is used, and taking the shelf's figures over into all of these gangs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Q

from accounts.models import User
from loops.basis import older_parts
from loops.documents import gang_document
from loops.models import Gang
from loops.services.keep_gang import keep_gang, update_loop
from parts.models import Part
from sites.access import visible

Json = dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class Use:
    """A gang that holds a part, and whether its copy of the figures differs from the shelf."""

    gang: Gang
    differs: bool


def uses_of(part: Part, who: User | None = None) -> list[Use]:
    """Gangs that hold the part, in the order of their loops; with `who` only those that this person sees."""
    seen = Gang.objects.all() if who is None else visible(Gang, who)
    gangs = (
        seen.filter(_holds(part))
        .distinct()
        .select_related("loop__site", "control")
        .prefetch_related("lamps", "bypasses")
        .order_by("loop__site__name", "loop__name", "position")
    )
    return [Use(gang=gang, differs=_taken_over(gang_document(gang), part)[1]) for gang in gangs]


def _holds(part: Part) -> Any:
    return Q(control__part=part) | Q(lamps__part=part) | Q(bypasses__part=part)


def _taken_over(document: Json, part: Part) -> tuple[Json, bool]:
    """The gang's document with the shelf's figures of the part, and whether that changes anything."""
    changed = False
    pk = str(part.pk)

    def fit(item: Json | None) -> Json | None:
        nonlocal changed
        if item is None or item["part"] != pk:
            return item
        figures = dict(part.figures)
        if "count" in item["figures"]:
            figures["count"] = item["figures"]["count"]
        changed = changed or figures != item["figures"]
        return {**item, "figures": figures}

    made = {
        **document,
        "control": fit(document["control"]),
        "bypasses": [fit(item) for item in document["bypasses"]],
        "lamps": [fit(item) for item in document["lamps"]],
    }
    return made, changed


def mark_older(part: Part) -> None:
    """Judgements of gangs whose copy of the figures is no longer the shelf's are out of date."""
    for use in uses_of(part):
        if use.differs and use.gang.judged_on:
            Gang.objects.filter(pk=use.gang.pk).update(judged_on=older_parts(use.gang))
            update_loop(use.gang.loop)


def judge_again(who: User, pk: Any) -> Gang:
    """Judge a gang on what holds now: the site's supply, the present core, and the shelf's figures where they changed.

    Raises
    ------
    StaleVersion, InputErrors, Problem : see `keep_gang`; nothing is changed.
    """
    with transaction.atomic():
        gang = Gang.objects.select_for_update().get(pk=pk)
        document = gang_document(gang)
        items = [item for item in (document["control"], *document["bypasses"], *document["lamps"]) if item is not None]
        # Figures change only where that is the reason: another supply is no leave to touch what somebody kept.
        if gang.judged_on.get("parts"):
            for part in Part.objects.filter(pk__in=[item["part"] for item in items if item["part"]]):
                document, _ = _taken_over(document, part)
        return keep_gang(who, pk, gang.version, _with_keys(document))


def _with_keys(document: Json) -> Json:
    """Parts by key, as `keep_gang` wants them."""
    for item in (document["control"], *document["bypasses"], *document["lamps"]):
        if item is not None and item["part"]:
            item["part"] = UUID(item["part"])
    return document


def serve_all(who: User, pk: Any) -> int:
    """Take the shelf's figures over into every gang that holds the part, judged anew; returns how many changed.

    All or none: where one gang cannot be kept with them, nothing is changed.
    """
    changed = 0
    with transaction.atomic():
        part = Part.objects.select_for_update().get(pk=pk)
        for use in uses_of(part, who):
            if not use.differs:
                continue
            document, _ = _taken_over(gang_document(use.gang), part)
            keep_gang(who, use.gang.pk, use.gang.version, _with_keys(document))
            changed += 1
    return changed
