"""Words of the survey, by code, in the site's own vocabulary."""

from __future__ import annotations

from typing import Any

from ember_core.findings import Finding
from ember_core.survey.box import Box
from ember_core.survey.readings import LAMP_POINTS, Reading
from wording.quantities import local_number
from wording.texts import catalogue, fill, vocabulary_of

Json = dict[str, Any]
_WORDED = {"role": "roles", "label": "roles", "terminal": "terminals", "colour": "colours"}


class Words:
    """Looks codes up for one box and region."""

    def __init__(self, region: str, box: Box | None = None) -> None:
        self.texts = catalogue("survey")
        self.vocabulary = vocabulary_of(region)
        self.conductors = {} if box is None else {conductor.id: conductor for conductor in box.conductors}
        self.gang_count = 1 if box is None else len(box.gangs)

    def text(self, table: str, code: str, params: Json | None = None) -> str:
        """The sentence or word of a code in one table of the catalogue."""
        given = {name: self._value(name, value) for name, value in (params or {}).items()}
        return fill(self.texts[table][code], given, self.vocabulary)

    def end(self, name: str) -> str:
        """One end of a reading: a conductor with its colour, or a known point."""
        if name in self.conductors:
            conductor = self.conductors[name]
            colour = conductor.sleeve or conductor.colour
            return f"{name} ({self.text('colours', colour)})" if colour else name
        for gang, point in enumerate(LAMP_POINTS, 1):
            if name == point:
                return self.text("references", "known_lamp", {"gang": gang})
        return self.text("references", name) if name in self.texts["references"] else name

    def finding(self, finding: Finding, table: str = "findings") -> Json:
        """A finding with its sentence."""
        return {
            "code": finding.code,
            "severity": finding.severity.value,
            "text": self.text(table, finding.code, dict(finding.params)),
            "refs": list(finding.refs),
        }

    def role(self, role: str, gang: int | None) -> str:
        """A role in the region's words, with its gang where the box has several."""
        word = self.text("roles", role)
        if gang is None or self.gang_count < 2:
            return word
        return self.text("values", "role_of_gang", {"what": word, "gang": gang})

    def switches(self, reading: Reading, box: Box) -> str:
        """Positions of the switches in a reading, in words."""
        said = []
        for name, position in sorted(reading.switches.items()):
            gang, _, other = name.partition(":")
            ways = box.gangs[int(gang) - 1].value
            key = f"{ways}{'_other' if other else ''}_{position.value}"
            word = self.text("positions", key)
            said.append(self.text("values", "of_gang", {"gang": gang, "what": word}) if self.gang_count > 1 else word)
        return ", ".join(said)

    def _value(self, name: str, value: Any) -> Any:
        if name in _WORDED and isinstance(value, str):
            return self.text(_WORDED[name], value)
        if name == "before" and isinstance(value, str):
            return self.text("steps", value)
        if name == "breaker" and value == "main":
            return self.text("values", "main")
        if name in ("a", "b", "conductor") and isinstance(value, str):
            return self.end(value)
        if name in ("v", "v_most", "v_then"):
            return f"{value:.0f} V" if value >= 10 else local_number(f"{value:.1f} V")
        return value
