"""Computation of seconds beside requests of milliseconds: one at a time in each server process, a few in line.

Whoever finds the line full is told to come again in a moment; whoever computes has so much time, after which what is
known by then is the answer. Everything else that the server does has threads left.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

from common.problems import Problem

# Of the threads of one process so many may compute or wait for it; `app_server` starts more than that.
MOST_IN_LINE = 6
# Longer than a judgement takes, shorter than anybody waits without a word.
WAIT_S = 20.0
# Longer than anything takes with the lamps that one switch has: a round of the shelf for four kinds of lamps.
BUDGET_S = 30.0

_running = threading.Semaphore(1)
_line = threading.BoundedSemaphore(MOST_IN_LINE)
_mine = threading.local()


class Turn:
    """Somebody's turn to compute, with the time that is left of it."""

    def __init__(self, budget_s: float) -> None:
        self._until = time.monotonic() + budget_s

    def goes_on(self) -> bool:
        """False once the time is spent: the work ends there with what it knows."""
        return time.monotonic() < self._until

    def progress(self, done: int, of: int, so_far: object = None) -> bool:
        """As work reports to whoever follows it; nobody does."""
        return self.goes_on()


@contextmanager
def slot() -> Iterator[Turn]:
    """The one place to compute in this process; whoever has it already keeps it.

    Raises
    ------
    Problem : `too_busy`, 503; nothing was begun.
    """
    held: Turn | None = getattr(_mine, "turn", None)
    if held is not None:
        yield held
        return
    if not _line.acquire(blocking=False):
        raise Problem(503, "too_busy")
    try:
        if not _running.acquire(timeout=WAIT_S):
            raise Problem(503, "too_busy")
        try:
            _mine.turn = Turn(BUDGET_S)
            yield _mine.turn
        finally:
            _mine.turn = None
            _running.release()
    finally:
        _line.release()
