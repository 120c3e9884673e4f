"""What the launcher says, and how it stops."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Mapping, Sequence
from pathlib import Path


class Refusal(Exception):
    """The launcher cannot go on; the message says what to do about it."""


def say(text: str) -> None:
    """Print one progress line at once, to standard error (standard output is for results)."""
    print(f"· {text}", file=sys.stderr, flush=True)


class Step:
    """A step that takes a while: says that it starts, and at the end how long it took."""

    def __init__(self, text: str) -> None:
        self.text = text

    def __enter__(self) -> Step:
        self.began = time.monotonic()
        say(f"{self.text} …")
        return self

    def __exit__(self, kind: object, value: object, trace: object) -> None:
        if kind is None:
            say(f"{self.text}: done in {time.monotonic() - self.began:.0f} s")


def run_quietly(
    command: Sequence[str | Path],
    *,
    remedy: str,
    cwd: Path | None = None,
    env: Mapping[str, str] | None = None,
    stdin: str | None = None,
) -> str:
    """Run a command, return what it printed; refuse with its last lines and the remedy if it fails."""
    done = subprocess.run(
        [str(part) for part in command],
        cwd=cwd,
        env={**os.environ, **(env or {})},
        input=stdin,
        stdin=None if stdin is not None else subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    if done.returncode != 0:
        tail = "\n".join(f"    {line}" for line in done.stdout.strip().splitlines()[-15:])
        raise Refusal(f"{Path(str(command[0])).name} failed:\n{tail}\n  {remedy}")
    return done.stdout
