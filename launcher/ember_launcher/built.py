"""Python packages that came built with a release, for machines of one kind."""

from __future__ import annotations

import platform
import sys
from pathlib import Path

from ember_launcher.places import ROOT

LOCK, NEEDS = "lock.txt", "packages.txt"
# A release says what it is; sources have no such file.
ABOUT = ROOT / "release.json"


def kind_of_machine() -> str:
    """Distribution, its version, Python and processor, as in `debian-12-cp311-x86_64`: built packages fit that kind."""
    told = platform.freedesktop_os_release()
    python = f"cp{sys.version_info[0]}{sys.version_info[1]}"
    return f"{told.get('ID', 'unknown')}-{told.get('VERSION_ID', '0')}-{python}-{platform.machine()}"


def folder() -> Path | None:
    """Where those for this machine lie; None where none came along."""
    found = ROOT / "wheels" / kind_of_machine()
    return found if (found / LOCK).is_file() else None


def needs() -> tuple[str, ...] | None:
    """System packages that they are linked with; None where none came along."""
    found = folder()
    return None if found is None else tuple((found / NEEDS).read_text().split())
