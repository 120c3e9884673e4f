"""Our own background processes: found by pid file and command line, never by name."""

from __future__ import annotations

import os
import signal
import time
from pathlib import Path


def pid_of(pid_file: Path, mark: str) -> int | None:
    """The pid in the file if that process lives and its command line holds the mark, else None."""
    try:
        pid = int(pid_file.read_text().strip())
        command_line = Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
    except (OSError, ValueError):
        return None
    return pid if mark in command_line else None


def stop(pid: int, *, wait_s: float = 60.0) -> bool:
    """Ask a process to end and wait for it; True when it is gone."""
    try:
        os.kill(pid, signal.SIGTERM)
    except ProcessLookupError:
        return True
    return wait_gone(pid, wait_s)


def wait_gone(pid: int, wait_s: float) -> bool:
    """Wait until a process is gone (a zombie counts as gone); False when it still lives."""
    until = time.monotonic() + wait_s
    while time.monotonic() < until:
        try:
            state = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
        except OSError:
            return True
        if state == "Z":
            return True
        time.sleep(0.05)
    return False
