"""Draws docs/screenshots/ anew from a running demo: `./ember screenshots`."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.browser import CHROMIUM, DESKTOP, TABLET, Size

TARGET = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def open_loop(page: Page, name: str) -> None:
    """From the round to the bench of a loop, with its figures there."""
    page.get_by_role("link", name="Ember Thread").click()
    page.get_by_role("link", name=name, exact=True).click()
    page.get_by_role("complementary", name="Why").get_by_role("listitem").first.wait_for()
    page.wait_for_timeout(500)


def step(page: Page, name: str) -> None:
    """Choose a step of the bench."""
    page.get_by_role("button", name=name, exact=False).first.click()
    page.wait_for_timeout(500)


def off_tab(page: Page, loop: str, tab: str) -> None:
    """A part of the off-state step, computed."""
    open_loop(page, loop)
    page.keyboard.press("9")
    page.get_by_role("tab", name=tab).click()
    page.wait_for_timeout(3000)


def lit(page: Page) -> None:
    """A dimmer with the light on."""
    open_loop(page, "Bell chamber")
    page.keyboard.press("6")
    page.get_by_role("tab", name="With the light on").click()
    page.get_by_role("img", name="Turned off at").wait_for()
    page.wait_for_timeout(2500)


def loads(page: Page) -> None:
    """Least and largest load of a gang of transformers."""
    open_loop(page, "Eel weir porch")
    page.keyboard.press("6")
    page.get_by_role("tab", name="With the light on").click()
    page.get_by_text("Group 1: 2 lamps").wait_for()
    page.get_by_role("heading", name="Least and largest load").scroll_into_view_if_needed()
    page.mouse.move(600, 600)
    page.mouse.wheel(0, 120)
    page.wait_for_timeout(1500)


def shelf(page: Page) -> None:
    """The parts shelf with its first part open."""
    page.get_by_role("link", name="Parts shelf").click()
    page.get_by_role("button", name="Candle 4 W").first.click()
    page.wait_for_timeout(1500)


def board(page: Page) -> None:
    """What is off at this moment, and whose locks keep it off."""
    page.get_by_role("link", name="Isolations").click()
    page.get_by_role("heading", name="Larkspur Cannery").wait_for()


def sign_in(page: Page, base: str) -> None:
    """As the demo's technician."""
    page.goto(base)
    page.get_by_role("button", name="Use wren").click()
    page.get_by_role("heading", name="Round").wait_for()
    page.get_by_role("link", name="Kiln room", exact=True).wait_for()


Shot = tuple[str, Size, str, Callable[[Page], None]]
SHOTS: tuple[Shot, ...] = (
    ("round", DESKTOP, "light", lambda page: None),
    ("bench-dark-and-fed", DESKTOP, "light", lambda page: open_loop(page, "Loft landing")),
    ("bench-blink", DESKTOP, "light", lambda page: open_loop(page, "Kiln room")),
    ("bench-starved-night", DESKTOP, "dark", lambda page: open_loop(page, "Gallery")),
    ("bench-lamps", DESKTOP, "light", lambda page: (open_loop(page, "Glaze store"), page.keyboard.press("5"))),  # type: ignore[arg-type, return-value]
    ("bench-sheet", DESKTOP, "light", lambda page: (open_loop(page, "Loft landing"), page.keyboard.press("0"))),  # type: ignore[arg-type, return-value]
    (
        "bench-bypass",
        DESKTOP,
        "light",
        lambda page: (
            open_loop(page, "Kiln room"),
            page.keyboard.press("7"),
            page.get_by_role("button", name="Take it").first.wait_for(),
        ),
    ),  # type: ignore[arg-type, return-value]
    ("bench-how-sure", DESKTOP, "light", lambda page: off_tab(page, "Kiln room", "How sure")),
    ("bench-instruments", DESKTOP, "light", lambda page: off_tab(page, "Kiln room", "Instruments")),
    ("isolations", DESKTOP, "light", lambda page: board(page)),
    ("bench-lit", DESKTOP, "light", lambda page: lit(page)),
    ("bench-loads", DESKTOP, "light", lambda page: loads(page)),
    ("shelf", DESKTOP, "light", lambda page: shelf(page)),
    ("survey-safe", DESKTOP, "light", lambda page: (open_loop(page, "Packing hall stair"), page.keyboard.press("2"))),  # type: ignore[arg-type, return-value]
    ("survey-box", DESKTOP, "light", lambda page: (open_loop(page, "Kiln room"), page.keyboard.press("3"))),  # type: ignore[arg-type, return-value]
    ("survey-conductors", DESKTOP, "light", lambda page: (open_loop(page, "Kiln room"), page.keyboard.press("4"))),  # type: ignore[arg-type, return-value]
    ("survey-tablet", TABLET, "light", lambda page: (open_loop(page, "Pottery studio"), page.keyboard.press("4"))),  # type: ignore[arg-type, return-value]
    ("bench-tablet", TABLET, "light", lambda page: open_loop(page, "Wheelhouse stair")),
)


def main(base: str, only: list[str]) -> None:
    """Take every picture, or those named."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM)
        if not only or "sign-in" in only:
            page = browser.new_page(viewport=DESKTOP)
            page.goto(base)
            page.get_by_role("button", name="Use wren").wait_for()
            page.screenshot(path=TARGET / "sign-in.png")
        for name, size, mode, prepare in SHOTS:
            if only and name not in only:
                continue
            context = browser.new_context(viewport=size, color_scheme=mode, reduced_motion="reduce")  # type: ignore[arg-type]
            page = context.new_page()
            sign_in(page, base)
            prepare(page)
            page.wait_for_timeout(400)
            page.screenshot(path=TARGET / f"{name}.png")
            context.close()
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
