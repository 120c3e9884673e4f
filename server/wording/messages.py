"""ICU messages: read once, filled often. The same files and the same syntax serve the interface."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from icu import Formattable, Locale, MessageFormat, MessagePattern, UMessagePatternArgType, UMessagePatternPartType

from wording.quantities import in_words


class Message:
    """A message of one language with the names of its placeholders."""

    def __init__(self, spoken: str, text: str) -> None:
        self._format = MessageFormat(text, Locale(spoken))
        pattern = MessagePattern(text)
        parts = [pattern.getPart(place) for place in range(pattern.countParts())]
        kinds = [pattern.getPartType(place) for place in range(pattern.countParts())]
        self.names = {
            pattern.getSubstring(part)
            for part, kind in zip(parts, kinds, strict=True)
            if kind == UMessagePatternPartType.ARG_NAME
        }
        # What a plural is chosen by has to reach the reader as a number; all else is told with its unit.
        self._counts = {
            pattern.getSubstring(parts[place + 1])
            for place, kind in enumerate(kinds)
            if kind == UMessagePatternPartType.ARG_START and parts[place].getArgType() == UMessagePatternArgType.PLURAL
        }

    def filled(self, given: Mapping[str, Any]) -> str:
        """The message with every placeholder filled."""
        values = [
            Formattable(given[name] if name in self._counts else in_words(name, given[name])) for name in self.names
        ]
        return str(self._format.format(list(self.names), values))


@lru_cache(maxsize=4096)
def message_of(spoken: str, text: str) -> Message:
    """The message of a text; read anew only where it was not used for long."""
    return Message(spoken, text)
