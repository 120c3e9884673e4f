"""What was done of joining, step by step, and which devices are in."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from bench.services.keep_gang import update_loop
from common.problems import Problem
from ember_core.house.document import House
from ember_core.pairing.plan import Do
from loops.models import Gang
from setup.models import Came, PairMark
from sites.models import Site

Json = dict[str, Any]
# A mark of its own: a device was reset, and is in no network any more.
RESET = "reset"
LONGEST_REASON, SHORTEST_REASON = 300, 5


def marks_of(site: Site) -> list[PairMark]:
    """Every mark of a site, oldest first."""
    return list(PairMark.objects.filter(site=site).select_related("by"))


def joined_at(site: Site) -> dict[str, set[str]]:
    """Devices that are in the network of each hub."""
    return joined_of(marks_of(site))


def joined_of(marks: list[PairMark]) -> dict[str, set[str]]:
    """The same, from marks."""
    found: dict[str, set[str]] = {}
    for mark in marks:
        if mark.came != Came.WORKED:
            continue
        do = mark.step.partition(":")[0]
        if do == Do.JOIN:
            found.setdefault(mark.hub, set()).add(mark.device)
        elif do == RESET:
            found.get(mark.hub, set()).discard(mark.device)
    return found


def linked_at(site: Site, house: House) -> set[str]:
    """Remotes that are in and were seen to drive their dimmer; resetting either of the two takes that away."""
    dimmers = {device.id: device.dimmer for device in house.devices if device.dimmer}
    marks = marks_of(site)
    found: set[str] = set()
    for mark in marks:
        if mark.came != Came.WORKED:
            continue
        do = mark.step.partition(":")[0]
        if do == Do.LINK and mark.device in dimmers:
            found.add(mark.device)
        elif do == RESET:
            found -= {remote for remote, dimmer in dimmers.items() if mark.device in {remote, dimmer}}
    return found & {name for names in joined_of(marks).values() for name in names}


def mark_step(who: User, site_pk: Any, given: Json, device: str, name: str, gang: Gang | None) -> PairMark:
    """Keep what came of a step; the same entry twice is one mark.

    Parameters
    ----------
    given : `id`, `hub`, `step`, `came`, `note`, `made_at`. device, name : which it is of, and what it is called.
    gang : which it controls, where it does: what its loop wants next may be another thing now.

    Raises
    ------
    Problem : another entry has this identity, or nothing is said of something else that happened.
    """
    with transaction.atomic():
        site = Site.objects.select_for_update().get(pk=site_pk)
        known = PairMark.objects.filter(pk=given["id"]).first()
        if known is not None:
            if (known.site_id, known.step, known.came) != (site.pk, given["step"], given["came"]):
                raise Problem(409, "entry_differs", path="id")
            return known
        note = given["note"].strip()
        if given["came"] == Came.OTHER and len(note) < SHORTEST_REASON:
            raise Problem(422, "reason_needed", path="note", least=SHORTEST_REASON)
        last = PairMark.objects.filter(site=site).order_by("-number").first()
        mark = PairMark.objects.create(
            pk=given["id"],
            number=1 if last is None else last.number + 1,
            site=site,
            hub=given["hub"],
            step=given["step"],
            device=device,
            name=name,
            came=given["came"],
            note=note,
            made_at=given["made_at"],
            by=who,
        )
        after = {"hub": given["hub"], "step": given["step"], "name": name, "came": given["came"], "note": note}
        trail.record(who, "joining: " + str(given["came"]), site, after=after)
        if gang is not None:
            update_loop(gang.loop)
    return mark
