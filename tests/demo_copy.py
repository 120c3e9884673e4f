"""The demo data: loaded by its own command once for all tests and put back row by row after that."""

from __future__ import annotations

import fcntl
import pickle
import time
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.db import connection, transaction

from ember_launcher.places import ROOT
from ember_launcher.stamps import digest_of

# The demo has proofs, plans and signatures of today: rows of another hour are not what somebody starts with.
_FRESH_S = 3600.0

# A table's name, its columns, and its rows as the database tells them.
Table = tuple[str, list[str], list[tuple[Any, ...]]]


def load_once(key: str, load: Callable[[], None]) -> None:
    """What `load` makes in an empty database; from a copy where any process made one of this code within the hour."""
    folder: Path = settings.VAR / "demo_rows"
    folder.mkdir(parents=True, exist_ok=True)
    kept = folder / f"{key}-{_digest()[:16]}.pickle"
    with (folder / f"{key}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists() or time.time() - kept.stat().st_mtime > _FRESH_S:
            for older in folder.glob(f"{key}-*"):
                older.unlink()
            load()
            made = kept.with_suffix(".part")
            made.write_bytes(pickle.dumps(_tables()))
            made.rename(kept)
            return
        rows = kept.read_bytes()
    _put_back(pickle.loads(rows))


def _put_back(tables: list[Table]) -> None:
    with transaction.atomic(), connection.constraint_checks_disabled(), connection.cursor() as cursor:
        for name, columns, rows in tables:
            places = ", ".join(["%s"] * len(columns))
            cursor.executemany(f"INSERT INTO {name} ({', '.join(columns)}) VALUES ({places})", rows)


def _tables() -> list[Table]:
    """Of the project's own apps, those that hold anything."""
    quoted = connection.ops.quote_name
    found: list[Table] = []
    with connection.cursor() as cursor:
        for app in apps.get_app_configs():
            if not Path(app.path).is_relative_to(ROOT / "server"):
                continue
            for model in app.get_models(include_auto_created=True):
                name = quoted(model._meta.db_table)
                columns = [quoted(field.column) for field in model._meta.concrete_fields]
                cursor.execute(f"SELECT {', '.join(columns)} FROM {name}")
                rows = list(cursor.fetchall())
                if rows:
                    found.append((name, columns, rows))
    return found


@cache
def _digest() -> str:
    loaders = [ROOT / "tests" / folder / "base.py" for folder in ("interface", "server")]
    return digest_of([ROOT / "core" / "ember_core", ROOT / "server", ROOT / "texts", Path(__file__), *loaders])
