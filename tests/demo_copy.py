"""The demo data: loaded by its own command once for all tests and put back row by row after that."""

from __future__ import annotations

import fcntl
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from functools import cache
from itertools import groupby
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.conf import settings
from django.core import serializers
from django.db import connection, transaction
from django.db.models import Model

from ember_launcher.places import ROOT
from ember_launcher.stamps import digest_of

# The demo has proofs, plans and signatures of today: rows of another hour are not what somebody starts with.
_FRESH_S = 3600.0


def load_once(key: str, load: Callable[[], None]) -> None:
    """What `load` makes in an empty database; from a copy where any process made one of this code within the hour."""
    folder: Path = settings.VAR / "demo_rows"
    folder.mkdir(parents=True, exist_ok=True)
    kept = folder / f"{key}-{_digest()[:16]}.json"
    with (folder / f"{key}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists() or time.time() - kept.stat().st_mtime > _FRESH_S:
            for older in folder.glob(f"{key}-*"):
                older.unlink()
            load()
            made = kept.with_suffix(".part")
            made.write_text(serializers.serialize("json", _rows()))
            made.rename(kept)
            return
        rows = kept.read_text()
    _put_back(rows)


def _put_back(rows: str) -> None:
    restored = [entry.object for entry in serializers.deserialize("json", rows)]
    with transaction.atomic(), connection.constraint_checks_disabled():
        for model, group in groupby(restored, key=type):
            with _as_they_were(model):
                model._base_manager.bulk_create(list(group))


@contextmanager
def _as_they_were(model: type[Model]) -> Iterator[None]:
    """Times that are set on saving stay what they were: signatures hold over them."""
    with ExitStack() as held:
        for field in model._meta.concrete_fields:
            for name in ("auto_now", "auto_now_add"):
                if getattr(field, name, False):
                    held.enter_context(patch.object(field, name, False))
        yield


@cache
def _digest() -> str:
    loaders = [ROOT / "tests" / folder / "base.py" for folder in ("interface", "server")]
    return digest_of([ROOT / "core" / "ember_core", ROOT / "server", ROOT / "texts", Path(__file__), *loaders])


def _rows() -> list[Any]:
    found: list[Any] = []
    for app in apps.get_app_configs():
        if not Path(app.path).is_relative_to(ROOT / "server"):
            continue
        for model in app.get_models(include_auto_created=True):
            found += list(model._base_manager.order_by("pk"))
    return found
