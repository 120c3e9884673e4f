"""A screen held against WCAG 2.2 AA by axe, reflowing at 320 px, with targets that a thumb hits."""

from __future__ import annotations

import unittest
from typing import Literal

from django.conf import settings
from playwright.sync_api import Page, expect

AXE = settings.ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
# The drawing's parts are named with the kind of part first; the figures drawn in them are said after it, in another
# order than they stand. Speech finds them by any of their words.
RUN = """axe.run(document, {
    resultTypes: ['violations'],
    runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
    rules: {'label-content-name-mismatch': {enabled: false}},
})"""
# All that another theme changes.
COLOURS = """axe.run(document, {
    resultTypes: ['violations'],
    runOnly: {type: 'rule', values: ['color-contrast']},
})"""
# A colour on its way from one theme to the other is in neither.
SETTLED = "!document.getAnimations().some((motion) => motion instanceof CSSTransition)"
# Lower than 24 px is too small for anybody (WCAG 2.5.8). Links in running text and ticks beside a label are exempt,
# as is the inner field of a list whose frame is the target.
SMALL = """() => [...document.querySelectorAll('button, a[href], input, select, summary')].filter((e) => {
    const box = e.getBoundingClientRect();
    return box.width > 0 && box.height > 0 && box.height < 24 && getComputedStyle(e).clipPath === 'none'
        && !e.closest('p') && !['radio', 'checkbox', 'range'].includes(e.type) && !e.closest('.ant-select');
}).map((e) => `${e.tagName} ${e.className} ${e.textContent.slice(0, 30)}`)"""


def readable(test: unittest.TestCase, page: Page, name: str) -> None:
    """Names, roles, contrast, focus: nothing is found; and a narrow page is one column with targets for a thumb.

    At 320 pixels it is pushed sideways by nothing: drawings alone keep their width, in frames of their own.
    """
    _found(test, page, name, RUN)
    size = page.viewport_size
    page.set_viewport_size({"width": 320, "height": 800})
    page.wait_for_function("document.documentElement.clientWidth <= 320")
    wide = page.evaluate("document.scrollingElement.scrollWidth")
    small = page.evaluate(SMALL)
    if size is not None:
        page.set_viewport_size(size)
    test.assertLessEqual(wide, 320, name)
    test.assertEqual(small, [], name)


def readable_in_the_dark(test: unittest.TestCase, page: Page, name: str) -> None:
    """The device turns dark and back: each word stands out from what is behind it then too."""
    _turned(page, "dark")
    _found(test, page, name, COLOURS)
    _turned(page, "light")


def _turned(page: Page, mode: Literal["dark", "light"]) -> None:
    page.emulate_media(color_scheme=mode)
    expect(page.locator(f"html[data-mode={mode}]")).to_be_attached()
    page.wait_for_function(SETTLED)


def _found(test: unittest.TestCase, page: Page, name: str, run: str) -> None:
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))
    found = [(entry["id"], node["html"][:120]) for entry in page.evaluate(run)["violations"] for node in entry["nodes"]]
    test.assertEqual(found, [], name)
