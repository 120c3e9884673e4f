"""The browser that the tests share: Debian's Chromium, one for each process that runs them."""

from __future__ import annotations

import atexit
import os
from contextlib import redirect_stderr
from functools import cache
from pathlib import Path

from playwright.sync_api import Browser, Playwright, ViewportSize, sync_playwright

CHROMIUM = "/usr/bin/chromium-headless-shell"
Size = ViewportSize
DESKTOP: Size = {"width": 1280, "height": 800}
# A tablet held upright.
TABLET: Size = {"width": 820, "height": 1180}

_started: list[Browser] = []


def browser() -> Browser:
    """The one of this process; another where it died."""
    if not _started or not _started[-1].is_connected():
        _started.append(_playwright().chromium.launch(executable_path=CHROMIUM))
    return _started[-1]


@cache
def _playwright() -> Playwright:
    """Its driver, which ends with the process: it hears that nobody talks to it any more.

    What it writes its errors to would not wait any more for whoever else writes there, and a long failure was cut off
    with all that comes after it: so that is not ours.
    """
    with Path(os.devnull).open("w", encoding="utf-8") as nowhere, redirect_stderr(nowhere):
        playwright = sync_playwright().start()
    atexit.register(playwright.stop)
    return playwright
