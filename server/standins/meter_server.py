"""A simulated bench meter: SCPI text over TCP on loopback, answering from a box's wiring with noise.

Besides the usual commands it takes a `SIM` subsystem for what hands and the building would do: which wiring, where
the leads are, how the switches stand, whether the supply is on, and a fault switch.
"""

from __future__ import annotations

import json
import socketserver
import threading
from random import Random
from typing import Any

from ember_core.errors import EmberError
from ember_core.wiring import metered
from instruments.meter import OVERLOAD

IDENTITY = "Fernhollow,Bench meter stand-in,SIM-1,1.0"
MOST_LINE_BYTES = 60_000
# A careful meter: 0.8 % of the reading and three digits of 0.1 V.
GAIN_SPREAD = 0.008
V_FLOOR, OHM_FLOOR, A_FLOOR = 0.1, 0.05, 1e-6
RANGE_V = 60.0  # what the "wrong range" fault still shows
FAULTS = ("none", "open_lead", "wrong_range", "flat_battery")
_FLAT_LINE = '-310,"System error; battery low"'
_SYNTAX = '-113,"Undefined header"'
_CONFLICT = '-221,"Settings conflict; nothing simulated yet"'
_NO_ERROR = '0,"No error"'


class _State:
    """One connection's meter: function, input resistance, and what the hands have done."""

    def __init__(self) -> None:
        self.function = "VOLT:AC"
        self.input_r_ohm = 1e7
        self.setup: dict[str, Any] = {}
        self.fault = "none"
        self.random = Random()
        self.error = _NO_ERROR

    def take(self, line: str) -> str | None:
        """Carry out one line; the answer of a query."""
        head, _, rest = line.strip().partition(" ")
        match head.upper():
            case "":
                return None
            case "*IDN?":
                return IDENTITY
            case "SYST:ERR?":
                said, self.error = self.error, _NO_ERROR
                return said
            case "CONF:VOLT:AC" | "CONF:RES" | "CONF:CONT" | "CONF:CURR:AC":
                self.function = head.upper().removeprefix("CONF:")
            case "INP:IMP":
                self.input_r_ohm = float(rest)
            case "SIM:SETUP":
                self.setup = json.loads(rest)
            case "SIM:FAULT":
                self.fault = rest.strip().lower() if rest.strip().lower() in FAULTS else "none"
            case "SIM:SEED":
                self.random = Random(rest)
            case "READ?":
                return self._read()
            case _:
                self.error = _SYNTAX
                return "" if head.endswith("?") else None
        return None

    def _read(self) -> str:
        if self.fault == "flat_battery":
            self.error = _FLAT_LINE
            return "0"
        try:
            value = self._value()
        except (EmberError, KeyError, TypeError, ValueError):
            self.error = _CONFLICT
            return "0"
        return f"{OVERLOAD:.1E}" if value is None else f"{value:.6E}"

    def _value(self) -> float | None:
        setup = self.setup
        given = setup["wiring"]
        truth = metered.Wiring(
            point_of=given["point_of"],
            cables=[(tuple(cores), length) for cores, length in given["cables"]],
            lamps={name: (pair[0], pair[1]) for name, pair in given["lamps"].items()},
            sources={name: complex(v) for name, v in given["sources"].items()},
            bonds=[(a, b, r) for a, b, r in given["bonds"]],
        )
        ends, closures = (setup["a"], setup["b"]), [(a, b) for a, b in setup["closures"]]
        gain = self.random.gauss(1.0, GAIN_SPREAD)
        if self.function == "CURR:AC":
            held = setup.get("line_i_rms_a")
            if self.fault == "open_lead" or held is None:
                return abs(self.random.gauss(0.0, A_FLOOR))
            return abs(held * gain + self.random.gauss(0.0, A_FLOOR))
        if self.function == "VOLT:AC":
            v = 0.0
            if self.fault != "open_lead":
                v = metered.read_voltage(
                    truth,
                    closures,
                    ends,
                    v_rms=setup["v_rms"],
                    f_hz=setup["f_hz"],
                    meter_r_ohm=self.input_r_ohm,
                    supply_on=setup["supply_on"],
                )
            shown = abs(v * gain + self.random.gauss(0.0, V_FLOOR))
            return None if self.fault == "wrong_range" and shown > RANGE_V else shown
        r_ohm = None if self.fault == "open_lead" else metered.read_resistance(truth, closures, ends)
        return None if r_ohm is None else abs(r_ohm * gain + abs(self.random.gauss(0.15, OHM_FLOOR)))


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        """Line by line until the other side hangs up."""
        state = _State()
        while line := self.rfile.readline(MOST_LINE_BYTES):
            try:
                answer = state.take(line.decode("ascii", errors="replace"))
            except (ValueError, TypeError):
                state.error, answer = _SYNTAX, None
            if answer is not None:
                self.wfile.write(f"{answer}\n".encode("ascii"))


class MeterServer(socketserver.ThreadingTCPServer):
    """The stand-in on a free loopback port."""

    allow_reuse_address = True
    daemon_threads = True


_lock = threading.Lock()
_running: MeterServer | None = None


def address() -> tuple[str, int]:
    """Where the stand-in listens; it is started when first asked for and ends with the process."""
    global _running
    with _lock:
        if _running is None:
            _running = MeterServer(("127.0.0.1", 0), _Handler)
            threading.Thread(target=_running.serve_forever, name="meter stand-in", daemon=True).start()
        host, port = _running.server_address[:2]
        return str(host), int(port)
