"""Debian packages: what is missing, and installing it."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

from ember_launcher import built
from ember_launcher.console import Refusal, Step, run_quietly

DATABASE = ("mariadb-server",)
PAPER = ("libpango-1.0-0", "libpangoft2-1.0-0", "libharfbuzz-subset0", "fonts-dejavu-core")
# g++ and the headers: the client of the database and the reader of messages are built from source.
COMPILER = ("gcc", "g++", "pkg-config", "libmariadb-dev", "libicu-dev")
TEST = ("chromium-headless-shell", "fonts-noto-color-emoji", "ngspice")

# A service of the package would start and take port 3306; the copy here is a private one.
POLICY = Path("/usr/sbin/policy-rc.d")


def is_installed(package: str) -> bool:
    """True when Debian's package database lists the package as installed."""
    shown = subprocess.run(["dpkg-query", "-W", "-f=${db:Status-Status}", package], capture_output=True, text=True)
    return shown.returncode == 0 and shown.stdout == "installed"


def to_run() -> tuple[str, ...]:
    """What running needs: database, paper, and what builds Python's packages, or what the built ones are linked with.

    Debian's Python packages only where Python is Debian's own.
    """
    import sysconfig

    came_built = built.needs()
    wants_headers = came_built is None and not Path(sysconfig.get_paths()["include"], "Python.h").exists()
    linked = COMPILER if came_built is None else came_built
    return DATABASE + PAPER + linked + (("python3-dev",) if wants_headers else ()) + _environments()


def _environments() -> tuple[str, ...]:
    try:
        import ensurepip  # noqa: F401  (absent where Debian split python3-venv off)
    except ImportError:
        return ("python3-venv",)
    return ()


def ensure(packages: tuple[str, ...]) -> None:
    """Install what is missing of these packages, or say the one line that does it."""
    if shutil.which("dpkg-query") is None:
        raise Refusal("this launcher knows Debian and Ubuntu; elsewhere install: " + " ".join(packages))
    missing = [name for name in packages if not is_installed(name)]
    if not missing:
        return
    line = "apt-get install --no-install-recommends " + " ".join(missing)
    if os.geteuid() != 0:
        raise Refusal(f"Debian packages are missing and you are not root; run as root: {line}")
    made_policy = False
    if not POLICY.exists():
        POLICY.write_text("#!/bin/sh\nexit 101\n")
        POLICY.chmod(0o755)
        made_policy = True
    env = {"DEBIAN_FRONTEND": "noninteractive"}
    apt = ["apt-get", "-o", "DPkg::Lock::Timeout=300"]
    remedy = f"mend the package system, then run this again (it tried: {line})"
    try:
        with Step(f"installing from Debian: {' '.join(missing)}"):
            run_quietly([*apt, "update", "-qq"], remedy=remedy, env=env)
            run_quietly([*apt, "install", "-y", "-qq", "--no-install-recommends", *missing], remedy=remedy, env=env)
    finally:
        if made_policy:
            POLICY.unlink(missing_ok=True)
