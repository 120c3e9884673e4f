"""The web server of one copy: collected files, migrations, gunicorn."""

from __future__ import annotations

import json
import os
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path

from ember_launcher import processes, web_build
from ember_launcher.console import Refusal, Step, run_quietly, say
from ember_launcher.database import SERVING, Database
from ember_launcher.places import PYTHON, ROOT, SERVER, Instance, port_gets_free
from ember_launcher.serving_user import serving_user, written_by_it
from ember_launcher.stamps import digest_of, is_current

START_WAIT_S = 60.0
PORT_WAIT_S = 2.0
# What the server says of itself is little; requests have a log of their own, which turns over by itself.
MOST_LOG_BYTES = 5_000_000


class AppServer:
    """Gunicorn on one loopback port, serving the API and the built interface."""

    def __init__(self, instance: Instance, port: int) -> None:
        self.instance = instance
        self.port = port
        self.pid_file = instance.run_dir / "app.pid"
        self.log = instance.log_dir / "app.log"
        self.mark = str(self.pid_file)

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}/"

    def pid(self) -> int | None:
        """The server's pid when it runs."""
        return processes.pid_of(self.pid_file, self.mark)

    def manage(self, *arguments: str, stdin: str | None = None) -> str:
        """Run a Django management command of this copy.

        The tests check the code; here that would load every address of the server, twice the work of most commands.
        """
        return run_quietly(
            [PYTHON, SERVER / "manage.py", *arguments, "--skip-checks"],
            env=self.instance.environment(self.port),
            stdin=stdin,
            remedy=f"the command was: manage.py {' '.join(arguments)}",
        )

    def prepare(self) -> None:
        """Migrate the database and collect the files to serve, each only when something changed."""
        code = digest_of([SERVER], str(self.instance.settings()["database_port"]))
        stamp = self.instance.run_dir / "migrated.stamp"
        if not is_current(stamp, code):
            with Step("bringing the database up to date"):
                self.manage("migrate", "--noinput", "--verbosity", "0")
                self.manage("restage")
            stamp.write_text(code)
        Database(self.instance).guard_records()
        files = web_build.static_digest()
        stamp = self.instance.run_dir / "static.stamp"
        if not is_current(stamp, files) or not self.instance.static_dir.exists():
            with Step("collecting the files to serve"):
                self.manage("collectstatic", "--noinput", "--clear", "--verbosity", "0")
            stamp.write_text(files)

    def ensure_running(self) -> bool:
        """Start the server, or restart it when the code changed; True when it is newly started."""
        # Also where the database is: one that had to move to another port would be looked for at the old one.
        where = str(self.instance.settings()["database_port"])
        code = digest_of([SERVER, ROOT / "core", ROOT / "texts"], f"{web_build.static_digest()} {where}")
        stamp = self.instance.run_dir / "served.stamp"
        if self.pid() is not None:
            if is_current(stamp, code) and self.pid() is not None and self.kept_port() == self.port:
                return False
            say("the code or a port changed: restarting the server")
            self.stop()
        if not port_gets_free(self.port, PORT_WAIT_S):
            raise Refusal(f"port {self.port} is taken by another program; choose one with --port N")
        # Left behind by a killed server; gunicorn would take it for a living one.
        self.pid_file.unlink(missing_ok=True)
        database = Database(self.instance)
        # Whoever serves changes rows, and no row of the trail; the schema is somebody else's.
        serving = {
            "EMBER_DB_USER": SERVING,
            "EMBER_DB_PASSWORD": database.serving_password(),
            "EMBER_SERVES": "1",
            "XDG_CACHE_HOME": str(self.instance.served_dir / "cache"),
        }
        env = self.instance.environment(self.port) | serving
        user = serving_user(self.instance, env)
        written_by_it(self.instance)
        if self.log.exists() and self.log.stat().st_size > MOST_LOG_BYTES:
            self.log.replace(self.log.with_suffix(".log.1"))
        with open(self.log, "ab") as log:
            server = subprocess.Popen(
                [
                    PYTHON,
                    "-m",
                    "gunicorn",
                    "ember_server.wsgi:application",
                    f"--bind=127.0.0.1:{self.port}",
                    "--workers=2",
                    # One computes, a few wait for it (`common.heavy`), the others answer meanwhile.
                    "--threads=10",
                    # Printing leaks a little: a process ends after so many requests, and another takes its place.
                    "--max-requests=2000",
                    "--max-requests-jitter=400",
                    f"--pid={self.pid_file}",
                    "--timeout=60",
                    "--graceful-timeout=20",
                    # It would lie in the home of whoever starts it, one for all copies.
                    "--no-control-socket",
                    *([] if user is None else [f"--user={user}", f"--group={user}"]),
                ],
                cwd=SERVER,
                env={**os.environ, **env},
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                start_new_session=True,
            )
        until = time.monotonic() + START_WAIT_S
        while time.monotonic() < until:
            if server.poll() is not None:
                tail = self.log.read_text(errors="replace").strip().splitlines()[-5:]
                raise Refusal("the server did not start:\n    " + "\n    ".join(tail) + f"\n  see {self.log}")
            if self.healthy():
                stamp.write_text(code)
                (self.instance.run_dir / "app.port").write_text(str(self.port))
                return True
            time.sleep(0.1)
        processes.stop(server.pid)
        raise Refusal(f"the server did not answer within {START_WAIT_S:.0f} s; see {self.log}")

    def kept_port(self) -> int | None:
        """The port it was last started on."""
        file = self.instance.run_dir / "app.port"
        return int(file.read_text()) if file.exists() else None

    def healthy(self) -> bool:
        """True when the health check says that application, database and core work."""
        try:
            with urllib.request.urlopen(f"{self.url}api/v1/health/", timeout=10) as answer:
                return bool(json.load(answer)["status"] == "ok")
        except (urllib.error.URLError, OSError, ValueError, KeyError):
            return False

    def stop(self) -> bool:
        """Stop the server, letting requests finish; True when it was running."""
        pid = self.pid()
        if pid is None:
            return False
        if not processes.stop(pid):
            raise Refusal(f"the server (process {pid}) does not end; look at {self.log}")
        return True


def running_instances(var_root: Path) -> list[Path]:
    """Folders below var/ that hold a copy."""
    return sorted(path.parent for path in var_root.glob("*/instance.json"))
