"""Archiving sites, loops, gangs and photographs: what stands against it is known here."""

from __future__ import annotations

from accounts.policy import SITES
from audit.archive_views import ArchiveView
from bench.services.keep_gang import update_loop
from common.problems import Problem
from loops.models import Gang, Loop
from sites.models import Site
from survey.models import Isolation, Lock, Photo


class SiteArchiveView(ArchiveView):
    """A site with all its loops."""

    record = Site
    action_name = SITES

    def check(self, row: Site) -> None:
        """Not while anything there is switched off on record."""
        if Isolation.objects.filter(site=row, closed_at=None).exists():
            raise Problem(409, "still_isolated")


class LoopArchiveView(ArchiveView):
    """A loop."""

    record = Loop

    def check(self, row: Loop) -> None:
        """Not while somebody's lock is on for it, nor while an isolation begun at it is open."""
        begun = Isolation.objects.filter(loop=row, closed_at=None).exists()
        if begun or Lock.objects.filter(loop=row, off_at=None).exists():
            raise Problem(409, "still_isolated")


class GangArchiveView(ArchiveView):
    """A gang; the loop is judged by those that are left."""

    record = Gang

    def check(self, row: Gang) -> None:
        """A loop has one at least; it is held, so that two are not taken away at once."""
        Loop.everything.select_for_update().get(pk=row.loop_id)
        if not Gang.objects.filter(loop=row.loop_id).exclude(pk=row.pk).exists():
            raise Problem(409, "last_gang")

    def after(self, row: Gang) -> None:
        """The loop's state is of its gangs that are there."""
        update_loop(row.loop)


class PhotoArchiveView(ArchiveView):
    """A photograph that was wrong; it counts no more."""

    record = Photo
