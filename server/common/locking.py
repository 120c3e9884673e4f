"""What becomes of two writes that wait for each other; and who works on what, held as long as its process lives."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TypeVar

from django.db import OperationalError, connection

# The database's codes of a deadlock and of a lock that was waited for in vain.
DEADLOCK, WAITED = 1213, 1205
T = TypeVar("T")


def is_lock_trouble(error: OperationalError) -> bool:
    """Whether it may go well the next time."""
    return bool(error.args) and error.args[0] in (DEADLOCK, WAITED)


def retried(work: Callable[[], T]) -> T:
    """The work, once more where it met another's locks; not inside a transaction, which is lost as a whole."""
    try:
        return work()
    except OperationalError as error:
        if connection.in_atomic_block or not is_lock_trouble(error):
            raise
    return work()


@contextmanager
def named(name: str) -> Iterator[bool]:
    """A lock of the database by name: True where it is ours now, False where another connection has it.

    It goes with the connection: whoever is killed holds nothing.
    """
    whole = _whole(name)
    with connection.cursor() as cursor:
        cursor.execute("SELECT GET_LOCK(%s, 0)", [whole])
        is_ours = cursor.fetchone() == (1,)
    try:
        yield is_ours
    finally:
        if is_ours:
            with connection.cursor() as cursor:
                cursor.execute("SELECT RELEASE_LOCK(%s)", [whole])


def is_held(name: str) -> bool:
    """Whether somebody has a named lock."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT IS_USED_LOCK(%s)", [_whole(name)])
        return cursor.fetchone() != (None,)


def _whole(name: str) -> str:
    # Names are the database server's, not a schema's: copies of tests share one.
    return f"{connection.settings_dict['NAME']} {name}"
