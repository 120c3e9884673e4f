"""Backup and restore: one tar file with the whole database and the uploaded files."""

from __future__ import annotations

import io
import json
import os
import subprocess
import tarfile
import time
from pathlib import Path

from ember_launcher.console import Refusal, Step, run_quietly
from ember_launcher.database import NAME, Database
from ember_launcher.places import Instance

FORMAT = 1
KEPT_FOLDERS = ("media",)


def back_up(instance: Instance, database: Database, target: Path) -> None:
    """Write a consistent copy of database and files; the target appears only when it is whole."""
    if target.exists():
        raise Refusal(f"{target} exists already; name a new file")
    partial = target.with_name(target.name + ".part")
    try:
        with Step(f"backing up to {target}"):
            dump = subprocess.run(
                [
                    "mariadb-dump",
                    "--no-defaults",
                    f"--socket={database.socket}",
                    "--single-transaction",
                    "--routines",
                    "--hex-blob",
                    NAME,
                ],
                capture_output=True,
            )
            if dump.returncode != 0:
                raise Refusal(f"the database could not be read: {dump.stderr.decode(errors='replace').strip()}")
            about = {"format": FORMAT, "made_at": time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime())}
            descriptor = os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
            with os.fdopen(descriptor, "wb") as file, tarfile.open(fileobj=file, mode="w:gz") as archive:
                _add(archive, "about.json", json.dumps(about).encode())
                _add(archive, "database.sql", dump.stdout)
                for folder in KEPT_FOLDERS:
                    if (instance.var / folder).is_dir():
                        archive.add(instance.var / folder, arcname=folder)
            partial.replace(target)
    except OSError as problem:
        raise Refusal(f"cannot write {target}: {problem.strerror}; name a file in another folder") from problem
    finally:
        partial.unlink(missing_ok=True)


def check(source: Path) -> None:
    """Read a backup to its end; refuse one that is cut short, of another format, or something else."""
    try:
        with tarfile.open(source, "r:gz") as archive:
            about = json.loads(_read(archive, "about.json"))
            if about.get("format") != FORMAT:
                raise Refusal(f"{source} is a backup of format {about.get('format')}; this version reads {FORMAT}")
            if b"-- Dump completed" not in _read(archive, "database.sql")[-200:]:
                raise Refusal(f"{source} is cut short; nothing was changed")
    except (OSError, EOFError, tarfile.TarError, KeyError, ValueError) as problem:
        raise Refusal(f"{source} is no backup of this application ({problem}); nothing was changed") from problem


def restore(instance: Instance, database: Database, source: Path) -> None:
    """Replace everything by what a backup holds that `check` has accepted."""
    with tarfile.open(source, "r:gz") as archive, Step(f"restoring {source}"):
        sql = _read(archive, "database.sql").decode()
        database.client(
            f"DROP DATABASE IF EXISTS `{NAME}`;"
            f"CREATE DATABASE `{NAME}` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci;"
        )
        run_quietly(
            ["mariadb", "--no-defaults", f"--socket={database.socket}", NAME],
            stdin=sql,
            remedy="the backup could not be read in; restore another one",
        )
        for member in archive.getmembers():
            if member.name.split("/")[0] in KEPT_FOLDERS:
                archive.extract(member, instance.var, filter="data")
    # The migrations of the restored state may be older than the code.
    (instance.run_dir / "migrated.stamp").unlink(missing_ok=True)


def _add(archive: tarfile.TarFile, name: str, content: bytes) -> None:
    entry = tarfile.TarInfo(name)
    entry.size = len(content)
    entry.mtime = int(time.time())
    archive.addfile(entry, io.BytesIO(content))


def _read(archive: tarfile.TarFile, name: str) -> bytes:
    file = archive.extractfile(name)
    if file is None:
        raise KeyError(name)
    return file.read()
