"""The log of requests: what finds a mistake again, and nothing that says what people looked for."""

from __future__ import annotations

import json
import logging
import subprocess
import sys
import tempfile
from pathlib import Path

from tests.server.base import ServerTest

LOGGER = "django_structlog.middlewares.request"
# Two processes write two thousand lines each into files of twenty kilobytes.
WRITER = """
import logging, logging.config, sys
from pathlib import Path
from common import request_log
request_log.FILE_BYTES = 20_000
request_log.configure()
logging.config.dictConfig(request_log.logging_of(Path(sys.argv[1]), to_file=True))
import structlog
log = structlog.get_logger("django_structlog.test")
for number in range(2000):
    log.info("request_finished", number=number, request="GET /api/v1/loops/")
"""


class RequestLog(ServerTest):
    """A line a request."""

    def test_a_request_is_told_by_identity_path_person_and_status(self) -> None:
        """The identity is the one in the answer, never one that was sent; what was searched for is not in it."""
        with self.assertLogs(LOGGER, logging.INFO) as logged:
            answer = self.api.get("/api/v1/loops/?search=Ida+Marl", headers={"X-Request-ID": "mine"})
            other = self.api.get("/api/v1/loops/")
        line = logged.records[0].msg
        assert isinstance(line, dict)
        self.assertEqual(line["request_id"], answer["X-Request-ID"])
        self.assertNotIn(answer["X-Request-ID"], ("mine", other["X-Request-ID"]))
        self.assertEqual((line["request"], line["code"]), ("GET /api/v1/loops/", 200))
        self.assertEqual(line["who"], str(self.people["technician"].pk))
        self.assertGreater(line["took_ms"], 0.0)
        self.assertNotIn("Marl", str(line))
        self.assertEqual(set(line) & {"ip", "user_agent", "user_id"}, set())

    def test_a_stranger_is_nobody_and_costs_no_question(self) -> None:
        """The log asks the database nothing."""
        self.client.logout()
        with self.assertNumQueries(0), self.assertLogs(LOGGER, logging.INFO) as logged:
            self.client.get("/api/v1/schema-that-is-not/")
        line = logged.records[0].msg
        assert isinstance(line, dict)
        self.assertEqual((line["who"], line["code"]), (None, 404))

    def test_files_turn_over_under_two_processes_and_stay_lines_of_json(self) -> None:
        """No line is torn, none is too many."""
        with tempfile.TemporaryDirectory() as folder:
            writers = [subprocess.Popen([sys.executable, "-c", WRITER, folder]) for _ in range(2)]
            self.assertEqual([writer.wait(60) for writer in writers], [0, 0])
            files = sorted(Path(folder).glob("requests.jsonl*"))
            self.assertEqual(len(files), 5)
            for file in files:
                self.assertLess(file.stat().st_size, 21_000)
                for line in file.read_text().splitlines():
                    self.assertEqual(json.loads(line)["event"], "request_finished")
