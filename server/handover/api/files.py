"""Files for whoever downloads them."""

from __future__ import annotations

import re

from django.http import HttpResponse


def file_name(name: str, ending: str) -> str:
    """A plain name for a file, from what people call its subject."""
    slug = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")
    return f"{slug or 'file'}.{ending}"


def download(content: bytes | str, media_type: str, name: str, ending: str, *, inline: bool = True) -> HttpResponse:
    """A file under a plain name; shown by the browser, or kept by it."""
    way = "inline" if inline else "attachment"
    return HttpResponse(
        content,
        content_type=media_type,
        headers={"Content-Disposition": f'{way}; filename="{file_name(name, ending)}"', "Cache-Control": "no-store"},
    )
