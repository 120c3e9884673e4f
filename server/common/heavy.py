"""Computation of seconds beside requests of milliseconds: one at a time in each server process, a few in line.

Whoever finds the line full is told to come again in a moment; everything else that the server does has threads left.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from common.problems import Problem

# Of the threads of one process so many may compute or wait for it; `app_server` starts more than that.
MOST_IN_LINE = 6
# Longer than a judgement takes, shorter than anybody waits without a word.
WAIT_S = 20.0

_running = threading.Semaphore(1)
_line = threading.BoundedSemaphore(MOST_IN_LINE)


@contextmanager
def slot() -> Iterator[None]:
    """The one place to compute in this process.

    Raises
    ------
    Problem : `too_busy`, 503; nothing was begun.
    """
    if not _line.acquire(blocking=False):
        raise Problem(503, "too_busy")
    try:
        if not _running.acquire(timeout=WAIT_S):
            raise Problem(503, "too_busy")
        try:
            yield
        finally:
            _running.release()
    finally:
        _line.release()
