"""Restoring a backup: staged beside what is there, checked, swapped in one statement; the former stays until a start.

What is in an archive is a stranger's. Its dump is read by a client that knows no commands of its own, for a database
user who may touch the staging schema and nothing else; on a machine where root starts things, by a user who may do
nothing. What it made is looked at before anything is swapped.
"""

from __future__ import annotations

import os
import secrets
import shutil
import subprocess
from pathlib import Path

from ember_launcher import archive
from ember_launcher.console import Refusal, Step, say
from ember_launcher.database import NAME, Database
from ember_launcher.places import SERVER, Instance

STAGED, FORMER = f"{NAME}_staged", f"{NAME}_former"
STAGE_USER = f"'{NAME}_stage'@'127.0.0.1'"
# Kinds of things that no dump of ours makes.
_FOREIGN = {
    "views": "SELECT COUNT(*) FROM information_schema.VIEWS WHERE TABLE_SCHEMA = '{schema}'",
    "triggers": "SELECT COUNT(*) FROM information_schema.TRIGGERS WHERE TRIGGER_SCHEMA = '{schema}'",
    "routines": "SELECT COUNT(*) FROM information_schema.ROUTINES WHERE ROUTINE_SCHEMA = '{schema}'",
    "events": "SELECT COUNT(*) FROM information_schema.EVENTS WHERE EVENT_SCHEMA = '{schema}'",
}


def stage(instance: Instance, database: Database, source: Path) -> None:
    """Read what a backup holds beside what is there, and look at it; nothing that is there is touched or stopped."""
    archive.check(source)
    finish(instance, database)
    with Step(f"reading {source}"):
        try:
            _stage(instance, database, archive.dump_of(source))
            _refuse_foreign(database, source)
            archive.extract_files(source, _staged_files(instance))
        except (Refusal, OSError):
            _forget_staged(instance, database)
            raise


def try_out(instance: Instance, database: Database, source: Path) -> None:
    """Read a fresh backup in beside what is there, as a restore would, and forget it again: it is proved, not hoped."""
    stage(instance, database, source)
    _forget_staged(instance, database)


def _stage(instance: Instance, database: Database, dump: bytes) -> None:
    """Read the dump into a schema of its own, with no right to anything else."""
    _forget_staged(instance, database)
    password = secrets.token_urlsafe(24)
    database.client(
        f"CREATE DATABASE `{STAGED}` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci;"
        f"CREATE OR REPLACE USER {STAGE_USER} IDENTIFIED BY '{password}';"
        f"GRANT ALL ON `{STAGED}`.* TO {STAGE_USER};"
    )
    # In binary mode the client has no commands: none that runs a program, reads a file or changes to another schema.
    command = [
        *_as_nobody(),
        "mariadb",
        "--no-defaults",
        "--protocol=tcp",
        "--host=127.0.0.1",
        f"--port={instance.settings()['database_port']}",
        f"--user={NAME}_stage",
        "--binary-mode",
        "--local-infile=0",
        STAGED,
    ]
    environment = {"PATH": os.environ.get("PATH", "/usr/bin:/bin"), "MYSQL_PWD": password}
    done = subprocess.run(command, input=dump, env=environment, cwd="/", capture_output=True)
    database.client(f"DROP USER IF EXISTS {STAGE_USER};")
    if done.returncode != 0:
        told = done.stderr.decode(errors="replace").strip().splitlines()[-3:]
        raise Refusal("the backup could not be read in; nothing was changed:\n    " + "\n    ".join(told))


def _as_nobody() -> list[str]:
    """What makes a program run as a user without rights, where we are root."""
    if os.geteuid() != 0 or shutil.which("setpriv") is None:
        return []
    return ["setpriv", "--reuid=nobody", "--regid=nogroup", "--clear-groups", "--no-new-privs"]


def _refuse_foreign(database: Database, source: Path) -> None:
    """Refuse what is no state of this application, or of a newer one."""
    for kind, question in _FOREIGN.items():
        if int(_answer(database, question.format(schema=STAGED))[0]):
            raise Refusal(f"{source} brings {kind}, which no backup has; nothing was changed")
    tables = set(_tables(database, STAGED))
    if "django_migrations" not in tables:
        raise Refusal(f"{source} holds no state of this application; nothing was changed")
    known = {(file.parent.parent.name, file.stem) for file in SERVER.glob("*/migrations/*.py")}
    ours = {app for app, _ in known}
    applied = _answer(database, f"SELECT CONCAT(app, ' ', name) FROM `{STAGED}`.django_migrations")
    newer = [row for row in applied if row.split(" ")[0] in ours and tuple(row.split(" ", 1)) not in known]
    if newer:
        raise Refusal(f"{source} was made by a newer version ({newer[0]}); update first, nothing was changed")


def swap(instance: Instance, database: Database) -> None:
    """What is there becomes the former, what is staged becomes what is there: one statement, then the files."""
    database.client(f"DROP DATABASE IF EXISTS `{FORMER}`; CREATE DATABASE `{FORMER}`;")
    shutil.rmtree(_former_files(instance), ignore_errors=True)
    _mark(instance).write_text("swapping")
    database.unguard_records()
    _rename(database, [(NAME, FORMER), (STAGED, NAME)])
    finish(instance, database)


def _rename(database: Database, moves: list[tuple[str, str]]) -> None:
    """Move all tables from schema to schema, in one statement that happens or does not."""
    renamed = [f"`{old}`.`{table}` TO `{new}`.`{table}`" for old, new in moves for table in _tables(database, old)]
    if renamed:
        database.client(f"RENAME TABLE {', '.join(renamed)};")


def finish(instance: Instance, database: Database) -> None:
    """Finish a swap that was cut off between database and files, or forget one that never began."""
    if not _mark(instance).exists():
        return
    if not _tables(database, STAGED):
        for folder in archive.KEPT_FOLDERS:
            there, staged = instance.var / folder, _staged_files(instance) / folder
            former = _former_files(instance) / folder
            former.parent.mkdir(exist_ok=True)
            if there.exists() and not former.exists():
                there.rename(former)
            if staged.exists() and not there.exists():
                staged.rename(there)
            there.mkdir(exist_ok=True)
        # The migrations of the restored state may be older than the code.
        (instance.run_dir / "migrated.stamp").unlink(missing_ok=True)
    _forget_staged(instance, database)
    _mark(instance).unlink()


def bring_back(instance: Instance, database: Database) -> None:
    """Put the former state back in place of one that could not be brought up to this code."""
    if not _tables(database, FORMER):
        raise Refusal("there is no former state to go back to")
    database.client(f"DROP DATABASE `{NAME}`;")
    database.ensure_schema()
    _rename(database, [(FORMER, NAME)])
    for folder in archive.KEPT_FOLDERS:
        former = _former_files(instance) / folder
        if former.exists():
            shutil.rmtree(instance.var / folder, ignore_errors=True)
            former.rename(instance.var / folder)
    (instance.run_dir / "migrated.stamp").unlink(missing_ok=True)
    forget_former(instance, database)
    say("the former state is back")


def forget_former(instance: Instance, database: Database) -> None:
    """After a start that succeeded."""
    database.client(f"DROP DATABASE IF EXISTS `{FORMER}`;")
    shutil.rmtree(_former_files(instance), ignore_errors=True)


def _forget_staged(instance: Instance, database: Database) -> None:
    database.client(f"DROP DATABASE IF EXISTS `{STAGED}`; DROP USER IF EXISTS {STAGE_USER};")
    shutil.rmtree(_staged_files(instance), ignore_errors=True)


def _answer(database: Database, question: str) -> list[str]:
    """The only column of an answer."""
    return database.client(question).splitlines()[1:]


def _tables(database: Database, schema: str) -> list[str]:
    return _answer(
        database,
        f"SELECT TABLE_NAME FROM information_schema.TABLES WHERE TABLE_SCHEMA = '{schema}' ORDER BY TABLE_NAME",
    )


def _staged_files(instance: Instance) -> Path:
    return instance.var / "staged"


def _former_files(instance: Instance) -> Path:
    return instance.var / "former"


def _mark(instance: Instance) -> Path:
    return instance.run_dir / "restore.mark"
