"""Tables that a spreadsheet opens: no cell of them is a formula."""

from __future__ import annotations

STARTS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def safe(text: str) -> str:
    """The text of a cell; with an apostrophe in front where a spreadsheet would take it for a formula."""
    return f"'{text}" if text.startswith(STARTS_A_FORMULA) else text
