"""JSON at the door: NaN and infinity are no numbers."""

from __future__ import annotations

from rest_framework.parsers import JSONParser


class StrictJSONParser(JSONParser):
    """Refuses the three words that Python's reader would take for numbers."""

    strict = True
