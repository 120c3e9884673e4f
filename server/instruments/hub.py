"""The hub interface: what the application asks of a hub, and a hub reached by JSON over HTTP (docs/hub.md).

What hands and the building do, a press at a device or a breaker, is no part of a hub; only a stand-in takes it, at
addresses of its own.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from http.client import HTTPConnection, HTTPException
from typing import Any, Protocol

TIMEOUT_S = 5.0
MOST_BYTES = 2_000_000

Json = dict[str, Any]


class HubError(Exception):
    """The hub did not answer, or refused; `code` is ours or its own, `said` is its text."""

    def __init__(self, code: str, said: str = "") -> None:
        self.code = code
        self.said = said
        super().__init__(f"{code}: {said}")


@dataclass(frozen=True, slots=True, kw_only=True)
class HubState:
    """What a hub says of itself.

    Parameters
    ----------
    is_open : its network takes devices. joined : those that are in. events : what happened, oldest first, each with
        `at_s`, `device`, `code`, `is_refusal`.
    """

    is_open: bool
    joined: tuple[str, ...]
    linked: tuple[str, ...]
    left_over: tuple[str, ...]
    levels: dict[str, float]
    events: tuple[Json, ...]


class Hub(Protocol):
    """A hub. Times are seconds of its own clock; a real one has its own and takes no notice of them."""

    def open_network(self, at_s: float) -> None:
        """Let devices in."""

    def close_network(self, at_s: float) -> None:
        """Let nobody in any more."""

    def call(self, device: str, name: str, at_s: float) -> None:
        """Give a device its name."""

    def remove(self, name: str, at_s: float) -> None:
        """Take a name away that a test left there."""

    def command(self, device: str, level: float, at_s: float) -> None:
        """Set a level, 0 to 1."""

    def state(self, at_s: float) -> HubState:
        """What it says of itself."""


class HttpHub:
    """Any hub that speaks this JSON over HTTP."""

    def __init__(self, host: str, port: int, path: str = "") -> None:
        self._host, self._port, self._path = host, port, path

    def open_network(self, at_s: float) -> None:
        """See `Hub`."""
        self._ask("PUT", "/network", {"is_open": True, "at_s": at_s})

    def close_network(self, at_s: float) -> None:
        """See `Hub`."""
        self._ask("PUT", "/network", {"is_open": False, "at_s": at_s})

    def call(self, device: str, name: str, at_s: float) -> None:
        """See `Hub`."""
        self._ask("PUT", f"/devices/{device}/name", {"name": name, "at_s": at_s})

    def remove(self, name: str, at_s: float) -> None:
        """See `Hub`."""
        self._ask("POST", "/removals", {"name": name, "at_s": at_s})

    def command(self, device: str, level: float, at_s: float) -> None:
        """See `Hub`."""
        self._ask("PUT", f"/devices/{device}/level", {"level": level, "at_s": at_s})

    def state(self, at_s: float) -> HubState:
        """See `Hub`."""
        data = self._ask("POST", "/state", {"at_s": at_s})
        return HubState(
            is_open=data["is_open"],
            joined=tuple(data["joined"]),
            linked=tuple(data["linked"]),
            left_over=tuple(data["left_over"]),
            levels=data["levels"],
            events=tuple(data["events"]),
        )

    def hands(self, act: str, name: str, at_s: float, what: str = "") -> None:
        """What hands do at a device or a breaker; only a stand-in takes this."""
        self._ask("POST", "/hands", {"act": act, "name": name, "what": what, "at_s": at_s})

    def _ask(self, method: str, path: str, body: Json) -> Json:
        connection = HTTPConnection(self._host, self._port, timeout=TIMEOUT_S)
        try:
            connection.request(
                method, self._path + path, json.dumps(body), {"Content-Type": "application/json; charset=utf-8"}
            )
            answer = connection.getresponse()
            text = answer.read(MOST_BYTES)
        except (OSError, HTTPException) as error:
            raise HubError("hub_away", str(error)[:120]) from error
        finally:
            connection.close()
        try:
            data = json.loads(text) if text else {}
        except ValueError as error:
            raise HubError("hub_unreadable", text[:80].decode("utf-8", "replace")) from error
        if answer.status >= 400:
            raise HubError(str(data.get("code", "hub_refused")), str(data.get("said", ""))[:120])
        return dict(data)
