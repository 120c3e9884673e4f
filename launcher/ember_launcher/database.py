"""The private MariaDB of one copy: made, started, checked, stopped. Never the system's service."""

from __future__ import annotations

import hashlib
import os
import pwd
import shutil
import subprocess
import time
from pathlib import Path

from ember_launcher import processes
from ember_launcher.console import Refusal, Step, run_quietly, say
from ember_launcher.places import Instance, port_gets_free
from ember_launcher.serving_user import give_to

NAME = "ember"
SERVING = f"{NAME}_serving"
TRAIL = "audit_change"
# What stays as it was written, each with the name of its trigger: of a signature who it was can be erased, no more.
SEALED = ("issue_id", "role", "way", "personal", "reason", "signed", "seal", "moment", "at", "by_id")
GUARDS = (
    ("trail_not_changed", "UPDATE", TRAIL, "TRUE"),
    ("trail_not_deleted", "DELETE", TRAIL, "TRUE"),
    ("issue_not_changed", "UPDATE", "handover_issue", "TRUE"),
    ("issue_not_deleted", "DELETE", "handover_issue", "TRUE"),
    (
        "signature_not_changed",
        "UPDATE",
        "handover_signature",
        " OR ".join(f"NOT (NEW.`{name}` <=> OLD.`{name}`)" for name in SEALED),
    ),
    ("signature_not_deleted", "DELETE", "handover_signature", "TRUE"),
    ("ask_back_not_changed", "UPDATE", "handover_askback", "TRUE"),
    ("ask_back_not_deleted", "DELETE", "handover_askback", "TRUE"),
)
# A commit is on the disk before it is answered.
TO_LAST = ("--innodb-flush-log-at-trx-commit=1",)
# Nothing waits for the disk: of what tests write nothing is needed after them, and a disk can stop for half a minute.
# What another version of the server does not know it passes over.
TO_BE_THROWN_AWAY = (
    "--innodb-flush-log-at-trx-commit=0",
    "--loose-innodb-flush-method=nosync",
    "--innodb-doublewrite=0",
    "--loose-debug-no-sync",
)
START_WAIT_S = 60.0
PORT_WAIT_S = 5.0
# Unix sockets cannot have longer paths.
LONGEST_SOCKET_PATH = 100


class Database:
    """MariaDB with its data in <var>/db, its socket in <var>/run, on one loopback port.

    Parameters
    ----------
    lasting : whether what it has answered to is on the disk; if not, nothing in it is needed by anybody later.
    """

    def __init__(self, instance: Instance, *, lasting: bool = True) -> None:
        self.instance = instance
        self.lasting = lasting
        self.pid_file = instance.run_dir / "db.pid"
        self.log = instance.log_dir / "db.err"
        self.mark = f"--datadir={instance.data_dir}"

    @property
    def socket(self) -> Path:
        wanted = self.instance.run_dir / "db.sock"
        if len(str(wanted)) <= LONGEST_SOCKET_PATH:
            return wanted
        short = hashlib.sha256(str(wanted).encode()).hexdigest()[:16]
        return Path(f"/tmp/ember-{short}.sock")

    def pid(self) -> int | None:
        """The server's pid when it runs."""
        return processes.pid_of(self.pid_file, self.mark)

    def ensure_running(self) -> bool:
        """Make the data directory if there is none and start the server; True when it was not running."""
        if self.pid() is not None and self._answers():
            return False
        self.instance.settings()
        if not (self.instance.data_dir / "mysql").is_dir():
            self._make_data_directory()
        self._start()
        self._make_database()
        return True

    def stop(self) -> bool:
        """Stop the server cleanly; True when it was running."""
        pid = self.pid()
        if pid is None:
            return False
        if not processes.stop(pid):
            raise Refusal(f"the database (process {pid}) does not end; look at {self.log}")
        return True

    def client(self, sql: str) -> str:
        """Run statements as the database's administrator (by the operating system's user)."""
        return run_quietly(
            ["mariadb", "--no-defaults", f"--socket={self.socket}", "--batch"],
            stdin=sql,
            remedy=f"look at {self.log}",
        )

    def _user(self) -> str:
        """Who runs the server: oneself, or as root the package's user where it can reach the folder."""
        if os.geteuid() != 0:
            return pwd.getpwuid(os.geteuid()).pw_name
        try:
            pwd.getpwnam("mysql")
        except KeyError:
            return "root"
        reach = subprocess.run(
            ["setpriv", "--reuid=mysql", "--regid=mysql", "--clear-groups", "test", "-x", str(self.instance.run_dir)]
        )
        return "mysql" if reach.returncode == 0 else "root"

    def _make_data_directory(self) -> None:
        target = self.instance.data_dir
        if target.exists():
            aside = target.with_name(f"db.bad.{int(time.time())}")
            target.rename(aside)
            say(f"{target} holds no complete database; moved aside to {aside.name}, nothing deleted")
        fresh = target.with_name("db.new")
        if fresh.exists():
            shutil.rmtree(fresh)
        user = self._user()
        with Step("making the private database"):
            run_quietly(
                [
                    "mariadb-install-db",
                    "--no-defaults",
                    f"--user={user}",
                    f"--datadir={fresh}",
                    "--auth-root-authentication-method=socket",
                    f"--auth-root-socket-user={pwd.getpwuid(os.geteuid()).pw_name}",
                    "--skip-test-db",
                    # A fresh system may know its own name by no address yet; none is needed.
                    "--force",
                ],
                remedy=f"check free space and rights of {self.instance.var}",
            )
        fresh.rename(target)

    def _start(self) -> None:
        port = int(self.instance.settings()["database_port"])
        if not port_gets_free(port, PORT_WAIT_S):
            moved = self.instance.move_database_port()
            say(f"database port {port} is taken by something else; using {moved}")
            port = moved
        user = self._user()
        if user == "mysql":
            give_to(user, (self.instance.data_dir, self.instance.run_dir, self.instance.log_dir))
        self.pid_file.unlink(missing_ok=True)
        server = subprocess.Popen(
            [
                shutil.which("mariadbd") or "/usr/sbin/mariadbd",
                "--no-defaults",
                f"--user={user}",
                self.mark,
                f"--socket={self.socket}",
                f"--pid-file={self.pid_file}",
                f"--log-error={self.log}",
                "--bind-address=127.0.0.1",
                f"--port={port}",
                "--skip-name-resolve",
                "--character-set-server=utf8mb4",
                "--collation-server=utf8mb4_unicode_520_ci",
                "--transaction-isolation=READ-COMMITTED",
                "--innodb-buffer-pool-size=256M",
                "--local-infile=0",
                *(TO_LAST if self.lasting else TO_BE_THROWN_AWAY),
            ],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        until = time.monotonic() + START_WAIT_S
        while time.monotonic() < until:
            if server.poll() is not None:
                tail = self.log.read_text(errors="replace").strip().splitlines()[-4:] if self.log.exists() else []
                raise Refusal("the database did not start:\n    " + "\n    ".join(tail) + f"\n  see {self.log}")
            if self.pid() is not None and self._answers():
                return
            time.sleep(0.05)
        processes.stop(server.pid)
        raise Refusal(f"the database did not answer within {START_WAIT_S:.0f} s; see {self.log}")

    def _answers(self) -> bool:
        asked = subprocess.run(
            ["mariadb-admin", "--no-defaults", f"--socket={self.socket}", "ping"], capture_output=True
        )
        return asked.returncode == 0

    def ensure_schema(self) -> None:
        """Make the schema if there is none."""
        self.client(f"CREATE DATABASE IF NOT EXISTS `{NAME}` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci;")

    def _make_database(self) -> None:
        self.ensure_schema()
        password = self.instance.settings()["database_password"]
        self.client(
            f"CREATE USER IF NOT EXISTS '{NAME}'@'127.0.0.1' IDENTIFIED BY '{password}';"
            f"ALTER USER '{NAME}'@'127.0.0.1' IDENTIFIED BY '{password}';"
            f"GRANT ALL ON `{NAME}`.* TO '{NAME}'@'127.0.0.1';"
            f"GRANT ALL ON `test\\_{NAME}%`.* TO '{NAME}'@'127.0.0.1';"
        )

    def serving_password(self) -> str:
        """Password of the user that the server works as: made of the owner's, so that one secret is kept."""
        return hashlib.sha256(f"serving {self.instance.settings()['database_password']}".encode()).hexdigest()

    def has_accounts(self) -> bool:
        """Whether anybody can sign in to this copy."""
        return self.client(f"SELECT EXISTS (SELECT 1 FROM `{NAME}`.accounts_user)").split()[-1] == "1"

    def guard_records(self) -> None:
        """Let the server work as a user that changes rows only, and none of the trail and of what was signed.

        At every start. What is written there stays as it was written: the owner of the schema is for migrations alone.
        """
        user = f"'{SERVING}'@'127.0.0.1'"
        self.client(
            f"CREATE USER IF NOT EXISTS {user} IDENTIFIED BY '{self.serving_password()}';"
            f"ALTER USER {user} IDENTIFIED BY '{self.serving_password()}';"
            f"GRANT SELECT, INSERT, UPDATE, DELETE ON `{NAME}`.* TO {user};"
            "\nDELIMITER //\n"
            + "".join(
                f"CREATE OR REPLACE TRIGGER `{NAME}`.`{trigger}` BEFORE {change} ON `{NAME}`.`{table}` FOR EACH ROW "
                f"IF {when} THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'this stays as it was written'; END IF//\n"
                for trigger, change, table, when in GUARDS
            )
            + "DELIMITER ;\n"
        )

    def unguard_records(self) -> None:
        """Before tables move from schema to schema, which none with a trigger does."""
        self.client("".join(f"DROP TRIGGER IF EXISTS `{NAME}`.`{trigger}`;" for trigger, *_ in GUARDS))
