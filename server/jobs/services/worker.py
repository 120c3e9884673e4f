"""Who does the jobs: a thread of each process that serves, so that nothing more has to be started and watched.

A process that is killed takes its connection along, and with it the lock of the job that it was at: the next round of
any other takes the job up again.
"""

from __future__ import annotations

import logging
import threading

from django.db import close_old_connections, connection
from django.utils.crypto import get_random_string
from django_tasks_db.management.commands.db_worker import Worker

from jobs.services.working import take_up

logger = logging.getLogger(__name__)
ROUND_S = 0.5
# Where the database is away, or what else goes wrong beside a job.
AFTER_TROUBLE_S = 3.0


def do_all() -> None:
    """Do what is in the queue, until nothing is left."""
    take_up()
    worker = Worker(
        queue_names=["default"],
        interval=ROUND_S,
        batch=True,
        backend_name="default",
        startup_delay=False,
        max_tasks=None,
        worker_id=get_random_string(32),
        excluded_queue_names=[],
    )
    worker.run()


def begin(until: threading.Event | None = None) -> threading.Thread:
    """Go on beside the requests of this process, for ever or until it is said."""
    thread = threading.Thread(target=_go_on, args=(until or threading.Event(),), name="jobs", daemon=True)
    thread.start()
    return thread


def _go_on(until: threading.Event) -> None:
    wait_s = 0.0
    while not until.wait(wait_s):
        try:
            close_old_connections()
            do_all()
            wait_s = ROUND_S
        except Exception:
            logger.exception("jobs are not done for a moment")
            wait_s = AFTER_TROUBLE_S
    connection.close()
