"""JSON at the door: what no record could hold is refused here, with the words of a bad request."""

from __future__ import annotations

import json
import re
from typing import Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

from common.problems import Problem

# Longer whole numbers are in no field; the database and floats refuse them far less kindly.
MOST_DIGITS = 18
# Nested deeper than this is no document of ours, and deeper still ends the interpreter's own stack.
MOST_DEPTH = 40
# What an address reads, unless its view names another number as `most_bytes`.
MOST_BYTES = 1_000_000
_SURROGATE = re.compile(r"\\u[dD][89a-fA-F]")


class StrictJSONParser(JSONParser):
    """Refuses NaN and infinity, endless numbers, endless depth, and halves of characters."""

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        """The document.

        Raises
        ------
        ParseError : it is none, or one that no record could hold. Problem : it is longer than this address reads.
        """
        most = getattr((parser_context or {}).get("view"), "most_bytes", MOST_BYTES)
        sent = stream.read(most + 1)
        if len(sent) > most:
            raise Problem(413, "body_too_large", most=most // 1_000_000)
        try:
            text = sent.decode("utf-8")
            if text.count("[") + text.count("{") > MOST_DEPTH:
                _refuse_deep(text)
            found = json.loads(text, parse_constant=_refuse, parse_int=_whole)
            if _SURROGATE.search(text):
                # A pair of halves is a character; one half is none.
                json.dumps(found, ensure_ascii=False).encode("utf-8")
        except (ValueError, RecursionError) as error:
            raise ParseError(f"no JSON: {error}") from error
        return found


def _refuse(word: str) -> Any:
    raise ValueError(f"{word} is no number")


def _whole(digits: str) -> int:
    if len(digits) > MOST_DIGITS:
        raise ValueError("a whole number of too many digits")
    return int(digits)


def _refuse_deep(text: str) -> None:
    """Raise `ValueError` where brackets outside of strings nest too deep."""
    depth, is_string, is_escaped = 0, False, False
    for letter in text:
        if is_string:
            if is_escaped:
                is_escaped = False
            elif letter == "\\":
                is_escaped = True
            elif letter == '"':
                is_string = False
        elif letter == '"':
            is_string = True
        elif letter in "[{":
            depth += 1
            if depth > MOST_DEPTH:
                raise ValueError("nested too deep")
        elif letter in "]}":
            depth -= 1
