"""The archive of a backup: one tar file with the whole database and the uploaded files, and what proves it whole."""

from __future__ import annotations

import gzip
import hashlib
import io
import json
import os
import re
import shutil
import subprocess
import tarfile
import time
import zlib
from collections.abc import Iterator
from pathlib import Path, PurePosixPath
from typing import IO, Any

from ember_launcher.console import Refusal, Step
from ember_launcher.database import NAME, Database
from ember_launcher.places import ROOT, Instance

FORMAT = 2
# Of the first format there is no list of what is in it.
FORMATS = (1, FORMAT)
ABOUT, DUMP = "about.json", "database.sql"
KEPT_FOLDERS = ("media",)
# The dump's own last line.
COMPLETE = b"-- Dump completed"


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
                    "--skip-triggers",
                    "--hex-blob",
                    NAME,
                ],
                capture_output=True,
            )
            if dump.returncode != 0:
                raise Refusal(f"the database could not be read: {dump.stderr.decode(errors='replace').strip()}")
            descriptor = os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
            with os.fdopen(descriptor, "wb") as file, tarfile.open(fileobj=file, mode="w:gz") as archive:
                digests = {DUMP: _add(archive, DUMP, dump.stdout)}
                for path in _kept_files(instance):
                    name = str(PurePosixPath(path.relative_to(instance.var)))
                    digests[name] = _add(archive, name, path.read_bytes())
                about = {
                    "format": FORMAT,
                    "made_at": time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime()),
                    "core_version": core_version(),
                    "digests": digests,
                }
                _add(archive, ABOUT, json.dumps(about).encode())
            partial.replace(target)
    except OSError as problem:
        raise Refusal(f"cannot write {target}: {problem.strerror}; name a file in another folder") from problem
    finally:
        partial.unlink(missing_ok=True)


def core_version() -> str:
    """Version of the computation that this code holds."""
    text = (ROOT / "core" / "ember_core" / "version.py").read_text(encoding="utf-8")
    found = re.search(r'CORE_VERSION = "([^"]+)"', text)
    return found.group(1) if found else ""


def _kept_files(instance: Instance) -> Iterator[Path]:
    for folder in KEPT_FOLDERS:
        yield from sorted(path for path in (instance.var / folder).rglob("*") if path.is_file())


def check(source: Path) -> dict[str, Any]:
    """Read a backup to its end, every entry against its digest; what it says about itself.

    Refused is one that is cut short or changed, of another format, with entries that it does not list or that would
    lie elsewhere than in the kept folders. Nothing is written.
    """
    try:
        # To the end of the stream first: a changed byte in it is found by its own checksum.
        with gzip.open(source) as stream:
            while stream.read(1 << 20):
                pass
        found: dict[str, str] = {}
        about: dict[str, Any] = {}
        tail = b""
        with tarfile.open(source, "r:gz") as archive:
            for member in archive:
                if member.isdir():
                    _refuse_foreign(source, member.name)
                    continue
                if not member.isreg():
                    raise Refusal(f"{source} holds {member.name!r}, which is no plain file; nothing was changed")
                file = archive.extractfile(member)
                if file is None:
                    raise KeyError(member.name)
                if member.name == ABOUT:
                    about = json.loads(file.read())
                    continue
                _refuse_foreign(source, member.name)
                digest, end = _digest_of(file)
                if member.name in found:
                    raise Refusal(f"{source} holds {member.name!r} twice; nothing was changed")
                found[member.name] = digest
                tail = end if member.name == DUMP else tail
        if not about:
            raise KeyError(ABOUT)
        if about.get("format") not in FORMATS:
            raise Refusal(f"{source} is a backup of format {about.get('format')}; this version reads {FORMAT}")
        if DUMP not in found:
            raise KeyError(DUMP)
        if COMPLETE not in tail:
            raise Refusal(f"{source} is cut short; nothing was changed")
        if about["format"] == FORMAT and about["digests"] != found:
            raise Refusal(f"{source} is not as it was made: entries are missing, added or changed; nothing was changed")
    except (OSError, EOFError, tarfile.TarError, KeyError, ValueError, AttributeError, zlib.error) as problem:
        raise Refusal(f"{source} is no backup of this application ({problem}); nothing was changed") from problem
    return about


def _refuse_foreign(source: Path, name: str) -> None:
    """Refuse an entry that is neither the dump nor in a kept folder."""
    parts = PurePosixPath(name).parts
    is_kept = bool(parts) and parts[0] in KEPT_FOLDERS and ".." not in parts
    if name != DUMP and not is_kept:
        raise Refusal(f"{source} holds {name!r}, which no backup has; nothing was changed")


def dump_of(source: Path) -> bytes:
    """The dump in an archive that `check` has accepted."""
    with tarfile.open(source, "r:gz") as archive:
        file = archive.extractfile(DUMP)
        if file is None:
            raise Refusal(f"{source} holds no database; nothing was changed")
        return file.read()


def extract_files(source: Path, target: Path) -> None:
    """The uploaded files of an archive that `check` has accepted, below a folder; their content alone.

    Written by hand: the filters of `tarfile`, which keep modes and owners out, came with Python 3.11.4, and Debian 12
    has 3.11.2.
    """
    with tarfile.open(source, "r:gz") as archive:
        for member in archive:
            is_kept = member.isreg() and member.name.split("/")[0] in KEPT_FOLDERS
            content = archive.extractfile(member) if is_kept else None
            if content is None:
                continue
            made = target / member.name
            made.parent.mkdir(parents=True, exist_ok=True)
            with open(made, "wb") as file:
                shutil.copyfileobj(content, file)


def _digest_of(file: IO[bytes]) -> tuple[str, bytes]:
    """Digest of an entry, and its last bytes."""
    digest, tail = hashlib.sha256(), b""
    while block := file.read(1 << 20):
        digest.update(block)
        tail = (tail + block)[-200:]
    return digest.hexdigest(), tail


def _add(archive: tarfile.TarFile, name: str, content: bytes) -> str:
    entry = tarfile.TarInfo(name)
    entry.size = len(content)
    entry.mtime = int(time.time())
    archive.addfile(entry, io.BytesIO(content))
    return hashlib.sha256(content).hexdigest()
