"""`ember bench --server URL`: how a running copy answers one client while another has long work done.

A round trip to the health check, alone and while gangs are judged over their ranges without a pause.
"""

from __future__ import annotations

import json
import threading
import time
from http.cookiejar import CookieJar
from typing import Any
from urllib.request import HTTPCookieProcessor, OpenerDirector, Request, build_opener

import numpy as np

ROUND_TRIPS = 60
PAUSE_S = 0.02


class _Client:
    """A signed-in session."""

    def __init__(self, base: str, name: str, password: str) -> None:
        self.base = base.rstrip("/")
        self.opener: OpenerDirector = build_opener(HTTPCookieProcessor(CookieJar()))
        self.token = self.ask("session/")["csrf_token"]
        self.token = self.ask("session/", {"username": name, "password": password})["csrf_token"]

    def ask(self, path: str, body: Any = None) -> Any:
        """JSON from the API; with a body a POST."""
        data = None if body is None else json.dumps(body).encode()
        headers = {"Content-Type": "application/json", "Referer": self.base}
        if data is not None:
            headers["X-CSRFToken"] = self.token
        with self.opener.open(Request(f"{self.base}/api/v1/{path}", data=data, headers=headers), timeout=60) as answer:
            return json.load(answer)


def _round_trips_ms(client: _Client) -> Any:
    times = []
    for _ in range(ROUND_TRIPS):
        began = time.perf_counter()
        client.ask("health/")
        times.append((time.perf_counter() - began) * 1e3)
        time.sleep(PAUSE_S)
    return np.quantile(times, [0.5, 0.95])


def run(base: str, name: str, password: str) -> int:
    """Measure and print."""
    busy, calm = _Client(base, name, password), _Client(base, name, password)
    gang, draft = _first_whole_gang(busy)
    busy.ask(f"gangs/{gang}/spread/", draft)
    alone = _round_trips_ms(calm)
    stop = threading.Event()
    judged = []

    def work() -> None:
        while not stop.is_set():
            began = time.perf_counter()
            busy.ask(f"gangs/{gang}/spread/", draft)
            judged.append((time.perf_counter() - began) * 1e3)

    worker = threading.Thread(target=work)
    worker.start()
    beside = _round_trips_ms(calm)
    stop.set()
    worker.join()
    print(f"A second client at {base}, round trip of the health check:")
    print(f"  alone                                        {alone[0]:8.1f} ms   95 % {alone[1]:.1f} ms")
    print(f"  while gangs are judged over their ranges     {beside[0]:8.1f} ms   95 % {beside[1]:.1f} ms")
    print(f"  a judgement meanwhile takes                  {np.median(judged):8.1f} ms")
    return 0


def _first_whole_gang(client: _Client) -> tuple[str, Any]:
    """A gang with control and lamps, and what it holds."""
    for row in client.ask("loops/?page_size=50")["results"]:
        for gang in client.ask(f"loops/{row['id']}/")["gangs"]:
            if gang["control"] and gang["lamps"]:
                return gang["id"], {key: gang[key] for key in ("name", "cable", "control", "bypasses", "lamps")}
    raise SystemExit("no gang with control and lamps: load the demo data, or make one")
