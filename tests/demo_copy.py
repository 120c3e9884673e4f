"""What many tests start from, the demo data for one: made once for all of them and put back row by row after that."""

from __future__ import annotations

import fcntl
import pickle
import time
from collections.abc import Callable, Iterator
from functools import cache
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db import connection, transaction

from ember_launcher.places import ROOT
from ember_launcher.stamps import digest_of

# The demo has proofs, plans and signatures of today: rows of another hour are not what somebody starts with.
_FRESH_S = 3600.0

# A table's name, its columns, and its rows as the database tells them.
Table = tuple[str, list[str], list[tuple[Any, ...]]]
Json = dict[str, Any]


def load_once(key: str, load: Callable[[], None]) -> None:
    """What `load` makes in an empty database; from a copy where any process made one of this code within the hour."""

    def made() -> Json:
        load()
        return {"tables": _tables()}

    _once(key, made, lambda kept: _put_back(kept["tables"]))


def start_once(tests: type, key: str, make: Callable[[], None]) -> None:
    """What a class of tests starts from, which others start from too: rows, attributes of the class, kept files.

    Parameters
    ----------
    tests : its storage is in memory. make : makes it all, in an empty database.
    """

    def made() -> Json:
        before = dict(vars(tests))
        make()
        new = {name: value for name, value in vars(tests).items() if before.get(name) is not value}
        return {"tables": _tables(), "attributes": new, "files": dict(_files())}

    def put_back(kept: Json) -> None:
        _put_back(kept["tables"])
        for name, value in kept["attributes"].items():
            setattr(tests, name, value)
        for name, content in kept["files"].items():
            default_storage.save(name, ContentFile(content))

    _once(key, made, put_back)


def _files(folder: str = "") -> Iterator[tuple[str, bytes]]:
    folders, names = default_storage.listdir(folder)
    for name in names:
        with default_storage.open(f"{folder}/{name}".lstrip("/")) as file:
            yield f"{folder}/{name}".lstrip("/"), file.read()
    for name in folders:
        yield from _files(f"{folder}/{name}".lstrip("/"))


def _once(key: str, make: Callable[[], Json], put_back: Callable[[Json], None]) -> None:
    folder: Path = settings.VAR / "demo_rows"
    folder.mkdir(parents=True, exist_ok=True)
    kept = folder / f"{key}-{_digest()[:16]}.pickle"
    with (folder / f"{key}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists() or time.time() - kept.stat().st_mtime > _FRESH_S:
            for older in folder.glob(f"{key}-*"):
                older.unlink()
            part = kept.with_suffix(".part")
            part.write_bytes(pickle.dumps(make()))
            part.rename(kept)
            return
        found = pickle.loads(kept.read_bytes())
    put_back(found)


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
    makers = [
        ROOT / "tests" / "server" / f"{name}.py" for name in ("base", "test_survey", "test_fitting", "test_handover")
    ]
    makers += [ROOT / "tests" / "interface" / "base.py", Path(__file__)]
    return digest_of([ROOT / "core" / "ember_core", ROOT / "server", ROOT / "texts", *makers])
