"""A simulated hub: JSON over HTTP on loopback, a hub for each rehearsal, in simulated time.

`POST /hubs` with a job makes one and says where it is; everything else is as docs/hub.md has it for any hub.
"""

from __future__ import annotations

import json
import re
import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from ember_core.pairing.cards import Prepare, cards
from ember_core.pairing.job import Device, Hub, Job
from ember_core.radio.budget import Band
from standins.hub_rules import SimulatedHub

Json = dict[str, Any]
MOST_HUBS = 40
MOST_BYTES = 1_000_000
_hubs: OrderedDict[str, SimulatedHub] = OrderedDict()
_hubs_lock = threading.Lock()


def job_data(job: Job) -> Json:
    """A job as JSON; the cards by their codes."""
    hub = job.hub
    return {
        "hub": {
            "id": hub.id,
            "bands": sorted(hub.bands),
            "left": hub.left,
            "window_s": hub.window_s,
            "listed": None if hub.listed is None else sorted(hub.listed),
        },
        "devices": [
            {"id": d.id, "card": d.card.code, "breaker": d.breaker, "dimmer": d.dimmer, "d_m": d.d_m}
            for d in job.devices
        ],
        "hears": {name: sorted(others) for name, others in job.hears.items()},
        "left_over": list(job.left_over),
    }


def _job(data: Json) -> Job:
    hub, known = data["hub"], cards()
    return Job(
        hub=Hub(
            id=hub["id"],
            bands=frozenset(Band(band) for band in hub["bands"]),
            left=hub["left"],
            window_s=hub["window_s"],
            listed=None if hub["listed"] is None else frozenset(hub["listed"]),
        ),
        devices=tuple(
            Device(id=d["id"], card=known[d["card"]], breaker=d["breaker"], dimmer=d["dimmer"], d_m=d["d_m"])
            for d in data["devices"]
        ),
        hears={name: frozenset(others) for name, others in data["hears"].items()},
        left_over=tuple(data["left_over"]),
    )


class _Handler(BaseHTTPRequestHandler):
    server_version = "EmberThreadStandIn/1"

    def do_PUT(self) -> None:
        """Network, name, level."""
        self._answer()

    def do_POST(self) -> None:
        """Hubs, state, removals, hands."""
        self._answer()

    def log_message(self, format: str, *args: Any) -> None:  # noqa: A002
        """Nothing is written to the server's own output."""

    def _answer(self) -> None:
        try:
            length = min(int(self.headers.get("Content-Length", "0")), MOST_BYTES)
            status, data = take(self.path, json.loads(self.rfile.read(length) or b"{}"))
        except (ValueError, KeyError, TypeError, AttributeError) as error:
            status, data = 400, {"code": "hub_bad_request", "said": str(error)[:120]}
        body = json.dumps(data).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json; charset=utf-8")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)


def take(path: str, given: Json) -> tuple[int, Json]:
    """One request: its status and answer."""
    with _hubs_lock:
        if path == "/hubs":
            name = uuid.uuid4().hex
            _hubs[name] = SimulatedHub(_job(given))
            while len(_hubs) > MOST_HUBS:
                _hubs.popitem(last=False)
            return 201, {"path": f"/hubs/{name}"}
        found = re.fullmatch(r"/hubs/([0-9a-f]{32})(/.+)", path)
        hub = _hubs.get(found[1]) if found else None
        if found is None or hub is None:
            return 404, {"code": "hub_not_found"}
        return _at(hub, found[2], given)


def _at(hub: SimulatedHub, path: str, given: Json) -> tuple[int, Json]:
    at = max(float(given["at_s"]), hub.now_s)
    before = len(hub.events)
    device = re.fullmatch(r"/devices/([^/]+)/(name|level)", path)
    if path == "/state":
        hub.advance(at)
        return 200, _state(hub)
    if path == "/network":
        hub.open_network(at) if given["is_open"] else hub.close_network(at)
    elif path == "/removals":
        hub.remove(str(given["name"]), at)
    elif path == "/hands":
        _hands(hub, given)[str(given["act"])](str(given["name"]), at)
    elif device is not None and device[2] == "name":
        hub.call(device[1], str(given["name"]), at)
    elif device is not None:
        hub.command(device[1], float(given["level"]), at)
    else:
        return 404, {"code": "hub_not_found"}
    refusals = [event for event in hub.events[before:] if event.is_refusal and device and event.device == device[1]]
    if refusals:
        return 409, {"code": refusals[-1].code, "said": refusals[-1].device}
    return 200, _state(hub)


def _hands(hub: SimulatedHub, given: Json) -> dict[str, Callable[[str, float], None]]:
    return {
        "power": hub.power,
        "cut": lambda name, at: hub.power(name, at, is_on=False),
        "cycle": hub.cycle,
        "enter": hub.enter,
        "ask_link": hub.ask_link,
        "reset": hub.reset,
        "starve": hub.starve,
        "feed": lambda name, at: hub.starve(name, at, is_starved=False),
        "prepare": lambda name, at: hub.prepare(name, Prepare(given["what"]), at),
    }


def _state(hub: SimulatedHub) -> Json:
    return {
        "is_open": hub.is_open,
        "joined": list(hub.joined),
        "linked": list(hub.linked),
        "left_over": sorted(hub.left_over),
        "levels": hub.levels,
        "events": [
            {"at_s": one.at_s, "device": one.device, "code": one.code, "is_refusal": one.is_refusal}
            for one in hub.events
        ],
    }


_lock = threading.Lock()
_running: ThreadingHTTPServer | None = None


def address() -> tuple[str, int]:
    """Where the stand-in listens; it is started when first asked for and ends with the process."""
    global _running
    with _lock:
        if _running is None:
            _running = ThreadingHTTPServer(("127.0.0.1", 0), _Handler)
            _running.daemon_threads = True
            threading.Thread(target=_running.serve_forever, name="hub stand-in", daemon=True).start()
        host, port = _running.server_address[:2]
        return str(host), int(port)
