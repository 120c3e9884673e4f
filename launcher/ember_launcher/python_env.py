"""The virtual environment with the locked Python packages, and the compiled solver."""

from __future__ import annotations

import sys
from pathlib import Path

from ember_launcher import built
from ember_launcher.console import Step, run_quietly
from ember_launcher.places import PYTHON, ROOT, VENV
from ember_launcher.stamps import digest_of, is_current

APP_LOCK = ROOT / "requirements" / "app.txt"
DEV_LOCK = ROOT / "requirements" / "dev.txt"
SOURCES = ("core", "cli", "server", "launcher")
REMEDY = "check that the Python package registry can be reached, then run this again"


def ensure(*, development: bool) -> None:
    """Make the environment if it is missing or its lock changed; idempotent."""
    locks = [APP_LOCK, *([DEV_LOCK] if development else [])]
    stamp = VENV / ("dev.stamp" if development else "app.stamp")
    digest = digest_of(locks, sys.version, str(VENV))
    if not is_current(stamp, digest):
        if not PYTHON.exists() or not _runs():
            with Step("making the Python environment .venv"):
                run_quietly([sys.executable, "-m", "venv", "--clear", VENV], remedy="install python3-venv")
        with Step("installing the locked Python packages"):
            pip: list[str | Path] = [PYTHON, "-m", "pip", "install", "--quiet", "--disable-pip-version-check"]
            run_quietly([*pip, "uv==0.13.9"], remedy=REMEDY)
            if came := built.folder():
                # Of the same versions; their hashes are those of the release.
                offline = ("--no-index", "--find-links", came, "--no-deps", "--require-hashes", "-r", came / built.LOCK)
                run_quietly(
                    [VENV / "bin" / "uv", "pip", "install", "--quiet", *offline],
                    remedy="unpack the release anew",
                    env={"VIRTUAL_ENV": str(VENV)},
                )
            arguments = [part for lock in locks for part in ("-r", str(lock))]
            run_quietly(
                [VENV / "bin" / "uv", "pip", "install", "--quiet", "--require-hashes", *arguments],
                remedy=REMEDY,
                env={"VIRTUAL_ENV": str(VENV)},
            )
        stamp.write_text(digest)
    _write_source_paths()
    _compile_solver()


def _runs() -> bool:
    """False when the environment was moved here from another folder, or its Python is gone or another than ours."""
    import subprocess

    question = "import sys; print(sys.version_info[:2]); print(sys.prefix)"
    try:
        asked = subprocess.run([PYTHON, "-c", question], capture_output=True, text=True)
    except OSError:
        return False
    version, _, prefix = asked.stdout.partition("\n")
    same = version == str(sys.version_info[:2])
    return asked.returncode == 0 and same and Path(prefix.strip()).resolve() == VENV.resolve()


def _write_source_paths() -> None:
    """Put the project's own sources on the environment's import path (a .pth file, no install step)."""
    # Asked of the folder, not of sysconfig: Debian's Python names another place than its environments have.
    site = next(VENV.glob("lib/python3.*/site-packages"))
    (site / "ember_sources.pth").write_text("".join(f"{ROOT / name}\n" for name in SOURCES))


def _compile_solver() -> None:
    """Compile the numeric kernels now, so that no first user waits for it; the result is cached."""
    digest = digest_of([ROOT / "core" / "ember_core"], sys.version)
    stamp = ROOT / ".numba_cache" / "warm.stamp"
    if is_current(stamp, digest):
        return
    with Step("compiling the solver"):
        run_quietly(
            [PYTHON, "-m", "ember_cli", "warm"],
            remedy="run .venv/bin/python -m ember_cli warm to see the error",
            env={"NUMBA_CACHE_DIR": str(ROOT / ".numba_cache")},
        )
    stamp.parent.mkdir(exist_ok=True)
    stamp.write_text(digest)
