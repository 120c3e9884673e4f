"""`./ember release FILE`: what runs the application in one archive, built, for machines without npm and compiler."""

from __future__ import annotations

import hashlib
import io
import json
import re
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path

from ember_launcher import python_env, system_packages, web_build
from ember_launcher.built import ABOUT, LOCK, NEEDS, kind_of_machine
from ember_launcher.console import Refusal, Step, run_quietly
from ember_launcher.places import PYTHON, ROOT, WEB

TOP = "ember-thread"
# Folders and files that a running copy reads. What is made on the machine itself stays out, whatever its name.
CONTENTS = ("ember", "README.md", "CHANGELOG.md", "docs", "launcher", "core", "cli", "server", "requirements", "texts")
MADE = {"__pycache__", ".mypy_cache", ".ruff_cache"}
# Packages of the lock that come as source only; all others have wheels for every Python of the lock.
FROM_SOURCE = ("mysqlclient", "pyicu")
# One time for every file: the same sources make the same archive.
EPOCH_S = 946_684_800


def make(target: Path) -> None:
    """Build everything and write the archive.

    Raises
    ------
    Refusal : the file exists; this is a release already; a build failed.
    """
    if target.exists():
        raise Refusal(f"{target} exists already; name a new file")
    if ABOUT.exists():
        raise Refusal("this is a release itself; make one from the sources")
    system_packages.ensure(system_packages.to_run())
    python_env.ensure(development=False)
    web_build.ensure_built()
    with tempfile.TemporaryDirectory(prefix="ember-release-") as folder:
        with Step(f"building {' and '.join(FROM_SOURCE)}"):
            wheels = _wheels(Path(folder))
        with Step(f"writing {target}"):
            write(target, wheels)


def write(target: Path, wheels: Path) -> None:
    """The archive, of sources, built interface and built packages; it appears only when it is whole.

    Parameters
    ----------
    wheels : folder of the built packages, with their lock and what they need of the system.
    """
    about = {"core_version": _core_version(), "wheels_for": kind_of_machine()}
    partial = target.with_name(target.name + ".part")
    try:
        with tarfile.open(partial, "w:gz") as archive:
            _add(archive, ABOUT.name, json.dumps(about, indent=1).encode() + b"\n")
            for name in CONTENTS:
                _add_all(archive, ROOT / name, name)
            _add_all(archive, WEB / "dist", "web/dist")
            _add_all(archive, wheels, f"wheels/{kind_of_machine()}")
        partial.rename(target)
    finally:
        partial.unlink(missing_ok=True)


def locked(lock: str, names: tuple[str, ...]) -> str:
    """The entries of a lock file for these packages, with their hashes.

    Raises
    ------
    Refusal : the lock has none of that name.
    """
    entries = re.split(r"\n(?=[a-zA-Z0-9])", lock)
    found = {re.split(r"[=\[ ]", entry, maxsplit=1)[0].lower(): entry for entry in entries}
    if missing := [name for name in names if name not in found]:
        raise Refusal(f"requirements/app.txt does not lock {', '.join(missing)}")
    return "\n".join(found[name].rstrip() for name in names) + "\n"


def _wheels(folder: Path) -> Path:
    asked = folder / "from-source.txt"
    asked.write_text(locked(python_env.APP_LOCK.read_text(), FROM_SOURCE))
    wheels = folder / "wheels"
    pip: list[str | Path] = [PYTHON, "-m", "pip", "wheel", "--quiet", "--disable-pip-version-check", "--no-deps"]
    run_quietly([*pip, "--require-hashes", "-r", asked, "-w", wheels], remedy=python_env.REMEDY)
    made = sorted(wheels.glob("*.whl"))
    lines, needs = [], set()
    for wheel in made:
        name, version = wheel.name.split("-")[:2]
        lines.append(f"{name}=={version} --hash=sha256:{hashlib.sha256(wheel.read_bytes()).hexdigest()}")
        needs |= _needs_of(wheel)
    (wheels / LOCK).write_text("\n".join(lines) + "\n")
    (wheels / NEEDS).write_text("\n".join(sorted(needs)) + "\n")
    return wheels


def _needs_of(wheel: Path) -> set[str]:
    """System packages of the libraries that a built package is linked with, beyond those that every machine has."""
    with tempfile.TemporaryDirectory(prefix="ember-wheel-") as folder:
        run_quietly([sys.executable, "-m", "zipfile", "-e", wheel, folder], remedy="")
        libraries: set[str] = set()
        for module in Path(folder).rglob("*.so"):
            libraries |= set(re.findall(r"=> (/\S+)", run_quietly(["ldd", module], remedy="")))
    owners: set[str] = set()
    for library in libraries:
        # Both names that a merged /usr gives a library.
        real = str(Path(library).resolve())
        for name in (real, real.removeprefix("/usr")):
            shown = subprocess.run(["dpkg-query", "-S", name], capture_output=True, text=True)
            if shown.returncode == 0:
                owners.add(shown.stdout.split(":")[0])
                break
    return {owner for owner in owners if owner not in ("libc6", "libgcc-s1", "libstdc++6")}


def _core_version() -> str:
    text = (ROOT / "core" / "ember_core" / "version.py").read_text()
    found = re.search(r'^CORE_VERSION = "(.+)"$', text, re.MULTILINE)
    return found[1] if found else "unknown"


def _add_all(archive: tarfile.TarFile, source: Path, name: str) -> None:
    """A file, or everything below a folder, in order."""
    files = sorted(path for path in source.rglob("*") if path.is_file()) if source.is_dir() else [source]
    for file in files:
        inside = name if file == source else f"{name}/{file.relative_to(source).as_posix()}"
        if not MADE.intersection(Path(inside).parts):
            _add(archive, inside, file.read_bytes(), executable=bool(file.stat().st_mode & 0o100))


def _add(archive: tarfile.TarFile, name: str, content: bytes, *, executable: bool = False) -> None:
    entry = tarfile.TarInfo(f"{TOP}/{name}")
    entry.size, entry.mtime = len(content), EPOCH_S
    entry.mode = 0o755 if executable else 0o644
    archive.addfile(entry, io.BytesIO(content))
