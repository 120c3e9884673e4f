"""What somebody wants in a bundle: a site with all its loops, or one of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from loops.models import Loop


@dataclass(frozen=True, slots=True)
class Scope:
    """A site, and the loops of it that are meant."""

    site: Any
    loops: tuple[Any, ...]
    is_whole: bool


def of_site(site: Any) -> Scope:
    """A site with everything, archived or not."""
    return Scope(site, tuple(Loop.everything.filter(site=site).values_list("pk", flat=True)), is_whole=True)


def of_loop(loop: Loop) -> Scope:
    """One loop, with what its record leans on."""
    return Scope(loop.site_id, (loop.pk,), is_whole=False)
