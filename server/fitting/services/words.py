"""Steps, what stands against them, and what is left, in words."""

from __future__ import annotations

from typing import Any

from ember_core.findings import Finding
from ember_core.fitting.steps import Act, Step, device_at
from ember_core.wiring.told import WiringFinding
from fitting.services.standing import Standing
from survey.services.words import Words
from wording.texts import catalogue, fill, vocabulary_of
from work.services.mapping import line_answer, sleeve_here
from work.services.points import names_of
from work.services.words import RouteWords, upper

Json = dict[str, Any]


class FitWords:
    """Looks words up for the fitting of one loop."""

    def __init__(self, standing: Standing) -> None:
        self.standing = standing
        region = standing.loop.site.region
        cores = {core.id: core for core in (*standing.found.cores, *standing.wanted.cores)}
        self.route = RouteWords(region, cores, names_of(standing.loop))
        self.survey = Words(region)
        self.texts = catalogue("fitting")
        self.vocabulary = vocabulary_of(region)

    @property
    def restored(self) -> str:
        """Why marks were taken back when a loop was restored."""
        return str(self.texts["restored"])

    def of(self, step: Step) -> Json:
        """Title, what is done, why, and what proves it."""
        entry = self.texts["acts"][self._entry(step)]
        if step.act is Act.LINE and step.line is not None:
            kind = self.texts["kinds"][step.line.kind.value]
            line = step.line
            title = sleeve_here(line, self.route) if line.sleeve else line_answer(line, self.route)["text"]
            return {"title": title, "text": "", **kind}
        params = self._params(step)
        return {name: upper(fill(text, params, self.vocabulary)) for name, text in entry.items()}

    def _entry(self, step: Step) -> str:
        """Which words: of what nobody can press at the device itself, or that is closed already, others."""
        if step.act is Act.TRY_LAMP:
            if not step.terminals:
                return "try_lamp_plain"
            return "try_lamp_from_wall" if self._is_at_luminaire(step.terminals[0]) else step.act.value
        if step.act is Act.POWER_ON and all(one.act is not Act.HOLD for one in self.standing.steps):
            return "power_on_closed"
        return step.act.value

    def _is_at_luminaire(self, terminal: str) -> bool:
        device = terminal.rsplit(".", 1)[0]
        return any(
            "@ceiling" in point and ":" not in seat and seat.rsplit(".", 1)[0] == device
            for point, seat in self.standing.wanted.seat_of.items()
        )

    def title(self, key: str) -> str:
        """The title of a step by its key."""
        step = next((one for one in self.standing.steps if one.key == key), None)
        return key if step is None else str(self.of(step)["title"])

    def place(self, place: str) -> str:
        """A place by the name that its survey gives it; empty for none."""
        return upper(self.route.place(place)) if place else ""

    def _params(self, step: Step) -> Json:
        device = step.device or device_at(step.place or "box", self.standing.wanted)
        if step.terminals:
            device = step.terminals[0].rsplit(".", 1)[0]
        return {
            "place": self.route.place(step.place) if step.place else "",
            "lamp": self.route.device(step.lamp) if step.lamp else "",
            "device": self.route.device(device) if device else "",
            "terminals": ", ".join(self.route.seat(terminal) for terminal in step.terminals),
        }

    def finding(self, finding: Finding, step: Step | None) -> Json:
        """What stands against a step; that of isolation and proof in the survey's words."""
        texts = self.texts["shortfalls"]
        if finding.code not in texts:
            return self.survey.finding(finding, "shortfalls")
        params = dict(finding.params)
        if "step" in params:
            params["title"] = self.title(str(params["step"]))
        text = fill(texts[finding.code], params, self.vocabulary)
        return {"code": finding.code, "severity": finding.severity.value, "text": text, "refs": []}

    def wiring(self, finding: WiringFinding) -> Json:
        """What would be wrong with the power on."""
        said = self.route.finding(finding)
        return {"code": said["code"], "severity": said["severity"], "text": said["text"], "refs": []}
