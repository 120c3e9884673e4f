"""Where things lie: the project's folders, and one running copy's folder and ports."""

from __future__ import annotations

import fcntl
import json
import os
import secrets
import shutil
import socket
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ember_launcher.console import Refusal, say

ROOT = Path(__file__).resolve().parents[2]
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
SERVER = ROOT / "server"
WEB = ROOT / "web"

FIRST_DATABASE_PORT = 3420
DEFAULT_APP_PORT = 8130
# A new database takes about 120 MB, packages and build about 1.5 GB.
LEAST_FREE_BYTES = 400 * 1024 * 1024


def port_is_free(port: int) -> bool:
    """True when nothing listens on this loopback port."""
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


def port_gets_free(port: int, within_s: float) -> bool:
    """Whether the port is free, or becomes it: that of a killed process may be held for a moment."""
    until = time.monotonic() + within_s
    while not port_is_free(port):
        if time.monotonic() > until:
            return False
        time.sleep(0.05)
    return True


@contextmanager
def one_at_a_time(folder: Path) -> Iterator[None]:
    """Two launchers that set up the same folder wait for each other."""
    folder.mkdir(parents=True, exist_ok=True)
    # Close-on-exec is Python's default, so that a started server does not keep the lock.
    with open(folder / ".ember.lock", "w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            say("another ember command is setting up here; waiting for it")
            fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def has_room(folder: Path) -> bool:
    """Whether a database can grow there."""
    return shutil.disk_usage(folder).free >= LEAST_FREE_BYTES


def check_free_space(folder: Path) -> None:
    """Refuse to begin where the disk is nearly full: a half-written database is worse than none."""
    free = shutil.disk_usage(folder).free
    if not has_room(folder):
        raise Refusal(
            f"only {free // 2**20} MB are free under {folder}; "
            f"free at least {LEAST_FREE_BYTES // 2**20} MB, or name another folder with --var DIR"
        )


@dataclass(frozen=True)
class Instance:
    """One copy of the application: its folder, its mode, its ports and its secrets."""

    var: Path
    demo: bool

    @property
    def run_dir(self) -> Path:
        return self.var / "run"

    @property
    def log_dir(self) -> Path:
        return self.var / "log"

    @property
    def served_dir(self) -> Path:
        """What whoever serves writes, beside uploads: the log of requests, caches."""
        return self.var / "served"

    @property
    def static_dir(self) -> Path:
        return self.var / "static"

    @property
    def data_dir(self) -> Path:
        return self.var / "db"

    @property
    def settings_file(self) -> Path:
        return self.var / "instance.json"

    def prepare(self, *, needs_room: bool = True) -> None:
        """Make the folders; refuse in words when that is not possible, or where there is no room to write there."""
        try:
            for folder in (self.var, self.run_dir, self.log_dir):
                folder.mkdir(parents=True, exist_ok=True)
        except OSError as problem:
            raise Refusal(
                f"cannot write to {self.var} ({problem.strerror}); name another folder with --var DIR"
            ) from problem
        if needs_room:
            check_free_space(self.var)

    def settings(self) -> dict[str, Any]:
        """The copy's own settings, made at the first start and kept private to its owner."""
        if self.settings_file.exists():
            kept: dict[str, Any] = json.loads(self.settings_file.read_text())
            return kept
        settings = {
            "secret_key": secrets.token_urlsafe(48),
            "database_password": secrets.token_urlsafe(24),
            "database_port": self._free_database_port(),
        }
        self.save(settings)
        return settings

    def save(self, settings: dict[str, Any]) -> None:
        """Write the settings in one move, so that a crash leaves the old or the new file."""
        fresh = self.settings_file.with_suffix(".new")
        fresh.touch(mode=0o600)
        fresh.write_text(json.dumps(settings, indent=1) + "\n")
        fresh.replace(self.settings_file)

    def move_database_port(self) -> int:
        """Choose another free port after the kept one turned out to be taken."""
        settings = self.settings()
        settings["database_port"] = self._free_database_port()
        self.save(settings)
        return int(settings["database_port"])

    @staticmethod
    def _free_database_port() -> int:
        for port in range(FIRST_DATABASE_PORT, FIRST_DATABASE_PORT + 200):
            if port_is_free(port):
                return port
        raise Refusal(f"no free port from {FIRST_DATABASE_PORT} up for the database; stop something that listens there")

    def environment(self, app_port: int = DEFAULT_APP_PORT) -> dict[str, str]:
        """What the Django side needs to know, as environment variables."""
        settings = self.settings()
        return {
            "DJANGO_SETTINGS_MODULE": "ember_server.settings",
            "EMBER_SECRET_KEY": settings["secret_key"],
            "EMBER_DB_PASSWORD": settings["database_password"],
            "EMBER_DB_PORT": str(settings["database_port"]),
            "EMBER_DEMO": "1" if self.demo else "0",
            "EMBER_VAR": str(self.var),
            "EMBER_APP_PORT": str(app_port),
            "NUMBA_CACHE_DIR": str(ROOT / ".numba_cache"),
            "PATH": f"{VENV / 'bin'}{os.pathsep}{os.environ.get('PATH', '')}",
        }


def instance_of(mode: str, var: Path | None) -> Instance:
    """The copy that a command means: --var DIR, or var/<mode> in the project."""
    folder = var.resolve() if var is not None else ROOT / "var" / mode
    return Instance(var=folder, demo=mode == "demo")
