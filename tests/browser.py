"""The browser that the tests share: Debian's Chromium, one for a run."""

from __future__ import annotations

from playwright.sync_api import ViewportSize

CHROMIUM = "/usr/bin/chromium-headless-shell"
Size = ViewportSize
DESKTOP: Size = {"width": 1280, "height": 800}
# A tablet held upright.
TABLET: Size = {"width": 820, "height": 1180}
