"""What becomes of two writes that wait for each other."""

from __future__ import annotations

from collections.abc import Callable
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
