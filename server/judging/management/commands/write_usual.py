"""`manage.py write_usual`."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ember_core.usual import PREFIXES, usual_data


def usual_file() -> str:
    """What is usual of each figure, as the pages bring it along: typing must work with no server at hand."""
    rows = [f"  {json.dumps(name)}: {json.dumps(row, ensure_ascii=False)}" for name, row in usual_data().items()]
    joined = ",\n".join(rows)
    prefixes = json.dumps(dict(PREFIXES), ensure_ascii=False)
    return f'{{\n "prefixes": {prefixes},\n "quantities": {{\n{joined}\n }}\n}}\n'


class Command(BaseCommand):
    """Writes the table for the pages."""

    help = "Write what is usual of each figure for the pages."

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to."""
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it."""
        Path(options["file"]).write_text(usual_file(), encoding="utf-8")
