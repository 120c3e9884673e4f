"""Skip work whose inputs have not changed: a hash of the inputs is kept beside the result."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from pathlib import Path


def digest_of(paths: Iterable[Path], *extra: str) -> str:
    """SHA-256 over names and contents of files (folders: every file below, in order) and extra words."""
    total = hashlib.sha256()
    for path in paths:
        files = sorted(f for f in path.rglob("*") if f.is_file()) if path.is_dir() else [path]
        for file in files:
            if "__pycache__" in file.parts:
                continue
            total.update(str(file).encode() + b"\0" + file.read_bytes() + b"\0")
    for word in extra:
        total.update(word.encode() + b"\0")
    return total.hexdigest()


def is_current(stamp: Path, digest: str) -> bool:
    """True when the stamp file holds this digest."""
    return stamp.exists() and stamp.read_text() == digest
