"""Long work told as it goes: lines of JSON, progress first, the result or the problem last.

The work runs in a thread beside the request and must not ask the database. Where whoever asked goes away, the
next progress call says stop.
"""

from __future__ import annotations

import json
import logging
import queue
import threading
from collections.abc import Callable, Iterator
from typing import Any, Protocol

from django.conf import settings
from django.http import StreamingHttpResponse
from django.utils import translation

from common import heavy
from common.problems import Problem, as_problem, problem_body
from ember_core.errors import EmberError

logger = logging.getLogger(__name__)
Json = Any


class Progress(Protocol):
    """Told how many steps are done, of how many, and perhaps what is known so far; False says stop: nobody waits any
    more, or the time of the turn is spent."""

    def __call__(self, done: int, of: int, so_far: Json = None) -> bool: ...


CONTENT_TYPE = "application/x-ndjson"
# Lines come at most this often; more would only cost.
LEAST_STEP_RATIO = 0.04


def streamed(work: Callable[[Progress], Json]) -> StreamingHttpResponse:
    """An answer in lines: `{"done":…,"of":…}`, now and then with `"so_far"`, then `{"result":…}` or `{"problem":…}`."""
    return StreamingHttpResponse(
        _lines(work, translation.get_language()),
        content_type=CONTENT_TYPE,
        # Named as it is, so that nothing on the way gathers lines to compress them.
        headers={"Cache-Control": "no-store", "Content-Encoding": "identity"},
    )


def _lines(work: Callable[[Progress], Json], spoken: str | None) -> Iterator[str]:
    told: queue.Queue[Json] = queue.Queue()
    stop = threading.Event()
    last = 0.0
    turn: heavy.Turn | None = None

    def progress(done: int, of: int, so_far: Json = None) -> bool:
        nonlocal last
        if so_far is not None:
            told.put({"done": done, "of": of, "so_far": so_far})
        elif of and (done / of - last >= LEAST_STEP_RATIO or done >= of):
            last = done / of
            told.put({"done": done, "of": of})
        return not stop.is_set() and turn is not None and turn.goes_on()

    def run() -> None:
        nonlocal turn
        # A thread begins with the first language, whoever asks.
        translation.activate(spoken or settings.LANGUAGE_CODE)
        try:
            with heavy.slot() as turn:
                told.put({"result": work(progress)})
        except Problem as error:
            told.put({"problem": problem_body(error.status, error.code, [{"code": error.code}])})
        except EmberError as error:
            answer = as_problem(error, {})
            told.put({"problem": None if answer is None else answer.data})
        except Exception:
            # Whoever waits is told; what happened is in the log.
            logger.exception("streamed work failed")
            told.put({"problem": problem_body(500, "failed", [])})

    thread = threading.Thread(target=run, daemon=True)
    thread.start()
    try:
        while True:
            try:
                line = told.get(timeout=1.0)
            except queue.Empty:
                if not thread.is_alive():
                    return
                continue
            yield json.dumps(line) + "\n"
            if "done" not in line:
                return
    finally:
        stop.set()
