"""Running the launcher on a copy of its own in a temporary folder."""

from __future__ import annotations

import atexit
import json
import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from functools import cache
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

from django.conf import settings
from django.test import SimpleTestCase

ROOT = Path(settings.ROOT)


def free_port() -> int:
    """A loopback port that nothing uses at this moment."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def launch(*arguments: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
    """`./ember` with these arguments, without what the test run itself set."""
    env = {key: value for key, value in os.environ.items() if not key.startswith(("EMBER_", "DJANGO_"))}
    env["PYTHONPATH"] = str(ROOT / "launcher")
    # The environment's own interpreter would be asked to make itself; the launcher wants the machine's.
    base = Path(sys.base_prefix, "bin", "python3")
    command = [str(base), "-m", "ember_launcher", *arguments]
    return subprocess.run(command, cwd=ROOT, env=env, input=stdin, capture_output=True, text=True, timeout=300)


class Caller:
    """A signed-in caller of a running copy's API."""

    def __init__(self, port: int) -> None:
        self.base = f"http://127.0.0.1:{port}/api/v1"
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.token = self.ask("/session/")["csrf_token"]

    def ask(self, address: str, method: str = "GET", body: Any = None) -> Any:
        """One request; JSON in and out."""
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json", "X-CSRFToken": getattr(self, "token", "")}
        request = urllib.request.Request(self.base + address, data=data, method=method, headers=headers)
        with self.opener.open(request, timeout=30) as answer:
            return json.load(answer)

    def sign_in(self, username: str, password: str) -> None:
        """And keep the new token."""
        self.token = self.ask("/session/", "POST", {"username": username, "password": password})["csrf_token"]


@cache
def started_once() -> Path:
    """Files of a copy for real work that was started from nothing, and stopped: no account, nothing in it."""
    folder = tempfile.TemporaryDirectory(prefix="ember-test-made-")
    atexit.register(folder.cleanup)
    # The user that serves goes through it.
    Path(folder.name).chmod(0o755)
    var = Path(folder.name, "copy")
    for command in (("start", "--port", str(free_port())), ("stop",)):
        done = launch(*command, "--var", str(var))
        if done.returncode != 0:
            raise AssertionError(done.stderr)
    return var


class LauncherTest(SimpleTestCase):
    """A folder that is stopped and removed at the end."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="ember-test-")
        self.addCleanup(folder.cleanup)
        Path(folder.name).chmod(0o755)
        self.var = Path(folder.name, "copy")
        self.port = free_port()
        self.addCleanup(lambda: launch("stop", "--var", str(self.var)))

    def from_made(self) -> None:
        """Begin with the files of a copy that was started before, instead of with an empty folder."""
        # With their owners: the database's files are its user's.
        subprocess.run(["cp", "--archive", str(started_once()), str(self.var)], check=True)

    def ember(self, command: str, *more: str, stdin: str = "") -> subprocess.CompletedProcess[str]:
        """A command on this copy."""
        return launch(command, *more, "--var", str(self.var), "--port", str(self.port), stdin=stdin)

    def pid(self, name: str) -> int:
        """Of the copy's server or database."""
        return int((self.var / "run" / f"{name}.pid").read_text())

    def wait_dead(self, pid: int) -> None:
        """After a kill."""
        for _ in range(200):
            try:
                if Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] == "Z":
                    return
            except OSError:
                return
            time.sleep(0.05)
        self.fail(f"process {pid} still lives")
