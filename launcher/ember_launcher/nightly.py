"""Backups by date in one folder, and the old ones thinned out."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from ember_launcher.console import Refusal, say

NAMED = re.compile(r"ember-\d{4}-\d{2}-\d{2}-\d{6}\.tar\.gz")


def back_up(make: Callable[[Path], None], folder: Path, keep: int, *, now: datetime | None = None) -> Path:
    """Make one, then remove the oldest beyond those that are kept; nothing else in the folder is touched.

    Parameters
    ----------
    make : makes and proves a backup, or refuses; then none is removed.
    """
    if keep < 1:
        raise Refusal("keep one backup at least")
    if not folder.is_dir():
        raise Refusal(f"there is no folder {folder}; is its disk there?")
    file = folder / f"ember-{now or datetime.now():%Y-%m-%d-%H%M%S}.tar.gz"
    make(file)
    kept = sorted(one for one in folder.iterdir() if NAMED.fullmatch(one.name))
    for old in kept[:-keep]:
        old.unlink()
        say(f"removed {old.name}")
    return file
