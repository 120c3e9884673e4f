"""Ways, seats and faults in words."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from ember_core.routes.points import BOARD, is_junction
from ember_core.routes.seats import CAP
from ember_core.wiring.drawing import Core
from ember_core.wiring.told import WiringFinding
from wording.texts import catalogue, fill, vocabulary_of
from work.services.points import number_of

Json = dict[str, Any]
_NUMBERED = re.compile(r"^([a-z]+)(\d*)$")
_CORES = re.compile(r"^new\d+$")


def upper(text: str) -> str:
    """A sentence begins with a capital."""
    return text[:1].upper() + text[1:]


class RouteWords:
    """Looks words up for one loop.

    Parameters
    ----------
    cores : of the found and the wanted wiring, for their colours. names : of places, by their numbers, as surveys call
        them.
    """

    def __init__(
        self, region: str, cores: Mapping[str, Core] | None = None, names: Mapping[int, str] | None = None
    ) -> None:
        self.texts = catalogue("routes")
        self.vocabulary = vocabulary_of(region)
        self.cores = cores or {}
        self.names = names or {}
        places = {end for core in self.cores.values() for end in core.ends}
        # One luminaire needs no number.
        self._ceilings = sum(place.startswith("ceiling") and not place.endswith("'") for place in places)

    def text(self, table: str, code: str, params: Json | None = None) -> str:
        """The sentence or word of a code."""
        return fill(self.texts[table][code], params or {}, self.vocabulary)

    def sentence(self, code: str, params: Json) -> str:
        """A sentence that stands by itself in the catalogue."""
        return fill(self.texts[code], params, self.vocabulary)

    def way(self, way: str) -> str:
        """What is done, in a sentence."""
        return upper(fill(self.texts["ways"][way]["text"], {}, self.vocabulary))

    def place(self, name: str) -> str:
        """A place: the board, a box, a ceiling point; by its own name where somebody gave it one."""
        stem, number = self._split(name.rstrip("'"))
        if stem in ("box", "ceiling", "junction") and (own := self.names.get(number_of(name.rstrip("'")))):
            return own
        entry = self.texts["places"].get(stem)
        if entry is None:
            return name
        if stem == "ceiling" and self._ceilings < 2:
            number = ""
        return fill(entry, {"number": number}, self.vocabulary).strip()

    def device(self, name: str) -> str:
        """A device: the control, a switch, a lamp."""
        stem, number = self._split(name)
        entry = self.texts["devices"].get(stem)
        return name if entry is None else fill(entry, {"number": number}, self.vocabulary).strip()

    def seat(self, seat: str | None) -> str:
        """Where an end sits."""
        if seat is None:
            return str(self.texts["seats"]["nowhere"])
        if seat == CAP:
            return self.text("seats", "cap")
        if ":" in seat:
            place, what = seat.split(":", 1)
            code, params = self._joint(place, what, self.texts["seats"])
            return self.text("seats", code, {"place": self.place(place), **params})
        if "." in seat:
            device, terminal = seat.rsplit(".", 1)
            return self.text("seats", "terminal", {"device": self.device(device), "terminal": terminal})
        return seat

    def short(self, seat: str) -> str:
        """Where an end sits, told in a drawing beside its place."""
        if ":" in seat:
            place, what = seat.split(":", 1)
            return self.text("short", *self._joint(place, what, self.texts["short"]))
        device, terminal = seat.rsplit(".", 1)
        return self.text("short", "terminal", {"device": self.device(device), "terminal": terminal})

    def _joint(self, place: str, what: str, known: Json) -> tuple[str, Json]:
        """The word of a joint: where several of a sort are at one place, with its gang or its circuit."""
        stem, number = self._split(what)
        if number and stem == "switched":
            return "switched_of", {"gang": number}
        if number and stem in ("line", "neutral") and (place == BOARD or is_junction(place)):
            return f"{stem}_other", {}
        return stem if stem in known else "joint", {}

    def colour(self, core: Core | None) -> str:
        """A colour in words; empty where none is known."""
        if core is None or not core.colour:
            return ""
        return str(self.texts["colours"].get(core.colour, core.colour))

    def core(self, name: str) -> str:
        """A core with its colour."""
        core = self.cores.get(name)
        params = {"name": name, "colour": self.colour(core)}
        if _CORES.match(name):
            return self.text("cores", "new", params)
        return self.text("cores", "core" if params["colour"] else "core_plain", params)

    def point(self, point: str) -> str:
        """An end of a core, a lead, a terminal, or a point of the board."""
        if "@" in point:
            name, place = point.split("@", 1)
            return self.text("cores", "end", {"core": self.core(name), "place": self.place(place)})
        if "." in point:
            device, terminal = point.rsplit(".", 1)
            if device.isdigit():
                code = "line" if terminal == "L" else "neutral"
                return self.text("board", code, {"circuit": device})
            return self.text("seats", "terminal", {"device": self.device(device), "terminal": terminal})
        return self.text("board", "earth") if point == "E" else point

    def finding(self, finding: WiringFinding) -> Json:
        """A fault with its sentence, and the state in which it is so."""
        params = {name: self._param(name, value) for name, value in finding.params.items()}
        params["what"] = params.get("device") or params.get("point") or ""
        return {
            "code": finding.code,
            "severity": finding.severity.value,
            "text": upper(self.text("findings", finding.code, params)),
            "state": None if finding.state is None else dict(finding.state),
            "when": "" if finding.state is None else self.positions(finding.state),
        }

    def positions(self, positions: Mapping[str, str]) -> str:
        """A combination of positions in words."""
        said = [
            self.text(
                "positions",
                "of",
                {"device": self.device(device), "position": self.texts["positions"].get(position, position)},
            )
            for device, position in positions.items()
        ]
        return ", ".join(said)

    def _param(self, name: str, value: str) -> str:
        if name in ("device", "lamp", "bypass"):
            return self.device(value)
        if name == "core":
            return self.core(value)
        if name == "cores" and not value.isdigit():
            return ", ".join(self.core(one) for one in value.split(", "))
        if name == "point":
            return self.point(value)
        if name == "colour":
            return str(self.texts["colours"].get(value, value))
        if name == "meant":
            return ", ".join(self.point(one) for one in value.split(", "))
        if name == "says":
            return str(self.texts["marks"].get(value, value))
        return value

    @staticmethod
    def _split(name: str) -> tuple[str, str]:
        found = _NUMBERED.match(name)
        return (name, "") if found is None else (found.group(1), found.group(2))
