"""The instrument interface: what the application asks of a meter, and a bench meter reached by SCPI over TCP."""

from __future__ import annotations

import socket
from dataclasses import dataclass
from typing import Protocol

# SCPI's own number for "out of range"; a meter sends it when the value is beyond its range, or open.
OVERLOAD = 9.9e37
TIMEOUT_S = 5.0


class InstrumentError(Exception):
    """The instrument did not answer, or answered with an error; `code` is ours, `said` is the instrument's text."""

    def __init__(self, code: str, said: str = "") -> None:
        self.code = code
        self.said = said
        super().__init__(f"{code}: {said}")


class Meter(Protocol):
    """A bench meter. Values are SI; None is open or beyond every range."""

    def identify(self) -> str:
        """Maker, model, serial number and firmware, as the instrument gives them."""

    def volts_ac(self, input_r_ohm: float) -> float | None:
        """Volts rms with this input resistance."""

    def ohms(self) -> float | None:
        """Resistance, dead."""

    def continuity(self) -> float | None:
        """Resistance by the continuity range, dead."""

    def amps_ac(self) -> float | None:
        """Amperes rms through the meter."""


@dataclass(frozen=True, slots=True)
class ScpiMeter:
    """Any meter that speaks SCPI text over TCP."""

    host: str
    port: int
    # Lines sent before each measurement; only a stand-in needs them, for what hands would do.
    before: tuple[str, ...] = ()

    def identify(self) -> str:
        """Its identification line."""
        return self._ask(("*IDN?",))

    def volts_ac(self, input_r_ohm: float) -> float | None:
        """See `Meter`."""
        return self._number(("CONF:VOLT:AC", f"INP:IMP {input_r_ohm:.0f}", "READ?"))

    def ohms(self) -> float | None:
        """See `Meter`."""
        return self._number(("CONF:RES", "READ?"))

    def continuity(self) -> float | None:
        """See `Meter`."""
        return self._number(("CONF:CONT", "READ?"))

    def amps_ac(self) -> float | None:
        """See `Meter`."""
        return self._number(("CONF:CURR:AC", "READ?"))

    def _number(self, lines: tuple[str, ...]) -> float | None:
        said = self._ask(lines)
        try:
            value = float(said)
        except ValueError as error:
            raise InstrumentError("meter_unreadable", said[:80]) from error
        return None if abs(value) >= OVERLOAD else value

    def _ask(self, lines: tuple[str, ...]) -> str:
        """Send lines, the last of them a query; the error queue is read after the answer."""
        text = "".join(f"{line}\n" for line in (*self.before, *lines, "SYST:ERR?"))
        try:
            with socket.create_connection((self.host, self.port), timeout=TIMEOUT_S) as connection:
                connection.sendall(text.encode("ascii"))
                with connection.makefile("r", encoding="ascii", newline="\n") as stream:
                    answer = stream.readline(4096).strip()
                    trouble = stream.readline(4096).strip()
        except (OSError, UnicodeError) as error:
            raise InstrumentError("meter_does_not_answer") from error
        if not trouble:
            raise InstrumentError("meter_does_not_answer", answer[:80])
        number, _, words = trouble.partition(",")
        if number.strip() not in ("0", "+0"):
            raise InstrumentError("meter_reports_error", words.strip().strip('"')[:80])
        return answer
