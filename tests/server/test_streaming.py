"""Long work in lines: progress, what is known so far, stopping, and every way to fail."""

from __future__ import annotations

import json
import logging
import threading
import time
from typing import Any

from django.middleware.gzip import GZipMiddleware
from django.test import RequestFactory, SimpleTestCase

from common.streaming import CONTENT_TYPE, Progress, streamed
from ember_core.errors import SolverError

Json = dict[str, Any]


def lines(work: Any) -> list[Json]:
    """Every line of an answer."""
    answer = streamed(work)
    return [json.loads(line) for line in b"".join(answer.streaming_content).decode().splitlines()]


class Lines(SimpleTestCase):
    """What is sent."""

    def test_the_result_comes_last_and_alone(self) -> None:
        """Work that tells nothing is one line; the answer says what it is made of."""
        self.assertEqual(streamed(lambda go: 1)["Content-Type"], CONTENT_TYPE)
        self.assertEqual(lines(lambda go: {"a": 1}), [{"result": {"a": 1}}])

    def test_progress_is_told_sparingly_and_rises(self) -> None:
        """A thousand steps make some two dozen lines; the last step is always among them."""

        def work(go: Progress) -> str:
            for done in range(1, 1001):
                go(done, 1000)
            return "end"

        told = lines(work)
        done = [line["done"] for line in told[:-1]]
        self.assertTrue(10 <= len(done) <= 30, len(done))
        self.assertEqual(done, sorted(done))
        self.assertEqual(done[-1], 1000)

    def test_what_is_known_so_far_is_never_left_out(self) -> None:
        """Also where the step alone would be too small to tell."""

        def work(go: Progress) -> str:
            go(1, 1000, {"early": True})
            go(2, 1000)
            return "end"

        self.assertEqual(lines(work), [{"done": 1, "of": 1000, "so_far": {"early": True}}, {"result": "end"}])

    def test_lines_are_not_gathered_to_be_compressed(self) -> None:
        """A browser accepts gzip; the first line is there while the work still goes on."""
        may_end = threading.Event()

        def work(go: Progress) -> str:
            go(1, 2)
            may_end.wait(20.0)
            return "end"

        asked = RequestFactory().post("/", HTTP_ACCEPT_ENCODING="gzip, deflate, br")
        answer = GZipMiddleware(lambda request: streamed(work))(asked)
        parts = iter(answer.streaming_content)
        self.assertEqual(json.loads(next(parts)), {"done": 1, "of": 2})
        may_end.set()
        self.assertEqual([json.loads(part) for part in parts], [{"result": "end"}])

    def test_a_refusal_of_the_core_is_a_problem_with_words(self) -> None:
        """Code and sentence, as the plain answer would have them."""

        def work(go: Progress) -> None:
            raise SolverError("no_sample_settles", samples=64)

        (line,) = lines(work)
        self.assertEqual(line["problem"]["errors"][0]["code"], "no_sample_settles")
        self.assertTrue(line["problem"]["title"])

    def test_an_unforeseen_failure_is_told_and_logged(self) -> None:
        """Nobody waits for ever; what happened is in the log, not in the answer."""

        def work(go: Progress) -> None:
            raise RuntimeError("a secret detail")

        with self.assertLogs("common.streaming", logging.ERROR):
            (line,) = lines(work)
        self.assertEqual((line["problem"]["status"], line["problem"]["code"]), (500, "failed"))
        self.assertNotIn("secret", json.dumps(line))

    def test_who_goes_away_stops_the_work(self) -> None:
        """Closing the answer makes the next progress call say stop."""
        stopped = threading.Event()

        def work(go: Progress) -> None:
            done = 0
            while go(done, 10_000) and done < 5_000:
                done += 1
                time.sleep(0.002)
            if done < 5_000:
                stopped.set()

        answer = streamed(work)
        content = iter(answer.streaming_content)
        next(content)
        answer.close()
        self.assertTrue(stopped.wait(5.0))
