"""Tables that a spreadsheet opens: no cell of them is a formula."""

from __future__ import annotations

import csv
from collections.abc import Iterable

from django.http import StreamingHttpResponse

STARTS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def safe(text: str) -> str:
    """The text of a cell; with an apostrophe in front where a spreadsheet would take it for a formula."""
    return f"'{text}" if text.startswith(STARTS_A_FORMULA) else text


class _Lines:
    """A file that hands back what is written to it."""

    def write(self, line: str) -> str:
        """The line itself."""
        return line


def csv_answer(rows: Iterable[Iterable[str]], name: str) -> StreamingHttpResponse:
    """Rows as a CSV file for download, written while it is sent; no cell is a formula."""
    writer = csv.writer(_Lines())
    return StreamingHttpResponse(
        (writer.writerow(safe(cell) for cell in row) for row in rows),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}.csv"', "Cache-Control": "no-store"},
    )
