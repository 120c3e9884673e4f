"""Draws docs/screenshots/ anew from a running demo: `./ember screenshots`."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

from tests.browser import CHROMIUM, DESKTOP, TABLET, Size

TARGET = Path(__file__).resolve().parents[1] / "docs" / "screenshots"


def open_loop(page: Page, name: str) -> None:
    """From the round to the bench of a loop, with its figures there."""
    page.get_by_role("link", name="Ember Thread").click()
    page.get_by_role("link", name=name, exact=True).click()
    page.get_by_role("complementary", name="Why").get_by_role("listitem").first.wait_for()
    page.wait_for_timeout(500)


def go(page: Page, *names: str) -> None:
    """To a step of the bench, and to a part of it."""
    rail = page.get_by_role("navigation", name="steps of the bench")
    for name in names:
        rail.get_by_role("button", name=name).click()
    page.wait_for_timeout(500)


def at(loop: str, *names: str) -> Callable[[Page], None]:
    """A loop at a step."""

    def draw(page: Page) -> None:
        open_loop(page, loop)
        go(page, *names)

    return draw


def off_tab(page: Page, loop: str, tab: str) -> None:
    """A part of the off-state step, computed."""
    open_loop(page, loop)
    go(page, "Judge", "Light off")
    page.get_by_role("tab", name=tab).click()
    page.wait_for_timeout(3000)


def lit(page: Page) -> None:
    """A dimmer with the light on."""
    open_loop(page, "Bell chamber")
    go(page, "Judge", "Light on")
    page.get_by_role("img", name="Turned off at").wait_for()
    page.wait_for_timeout(2500)


def ways(page: Page, loop: str) -> None:
    """The ways through a loop, all compared."""
    open_loop(page, loop)
    go(page, "Route")
    page.get_by_role("region", name="What cannot be here").wait_for()
    page.get_by_role("button", name="Stop").wait_for(state="detached", timeout=20_000)


def wire_map(page: Page, loop: str) -> None:
    """The wire map of the way that was chosen, with the light on."""
    open_loop(page, loop)
    go(page, "Route", "Wire map")
    page.get_by_role("region", name="Wire map", exact=True).get_by_role("button", name="L1", exact=True).click()
    page.wait_for_timeout(500)


def fit(page: Page, loop: str) -> None:
    """The first step of fitting, with power and wire map beside it."""
    open_loop(page, loop)
    go(page, "Fit")
    page.get_by_role("article").wait_for()
    page.wait_for_timeout(1000)


def visits(page: Page) -> None:
    """A planned day."""
    page.get_by_role("link", name="Visits").click()
    page.locator(".stop-name").first.wait_for()


def shelf(page: Page) -> None:
    """The parts shelf with its first part open."""
    page.get_by_role("link", name="Parts shelf").click()
    page.get_by_role("button", name="Candle 4 W").first.click()
    page.wait_for_timeout(1500)


def board(page: Page) -> None:
    """What is off at this moment, and whose locks keep it off."""
    page.get_by_role("link", name="Isolations").click()
    page.get_by_role("heading", name="Larkspur Cannery").wait_for()


def prove(page: Page, name: str) -> None:
    """The flicker watch of a loop, its clock running."""
    open_loop(page, name)
    go(page, "Prove", "Prove it")
    page.get_by_role("button", name="flicker watch").click()
    page.get_by_role("button", name="start the clock").click()
    page.get_by_role("timer").wait_for()


def case(page: Page, name: str) -> None:
    """A complaint with its next question and what it may be."""
    open_loop(page, name)
    go(page, "Prove", "Something is wrong")
    page.get_by_role("heading", name="What would help").wait_for()
    page.get_by_role("heading", name="What it may be").scroll_into_view_if_needed()


def radio(page: Page, name: str) -> None:
    """Who is in range of the hub."""
    open_loop(page, name)
    go(page, "Set up", "In range")
    page.get_by_role("region", name="Office hub").wait_for()


def handover(page: Page, name: str) -> None:
    """An issue that waits for its checker."""
    open_loop(page, name)
    go(page, "Hand over", "Sign")
    page.get_by_role("article", name="Issue 1").wait_for()


def sign_in(page: Page, base: str) -> None:
    """As the demo's technician."""
    page.goto(base)
    page.get_by_role("button", name="Use wren").click()
    page.get_by_role("heading", name="Round").wait_for()
    page.get_by_role("link", name="Kiln room", exact=True).wait_for()


Shot = tuple[str, Size, str, Callable[[Page], None]]
SHOTS: tuple[Shot, ...] = (
    ("round", DESKTOP, "light", lambda page: None),
    ("bench-blink", DESKTOP, "light", lambda page: open_loop(page, "Kiln room")),
    ("bench-starved-night", DESKTOP, "dark", lambda page: open_loop(page, "Gallery")),
    ("setup-radio", DESKTOP, "light", lambda page: radio(page, "Wheelhouse stair")),
    ("handover", DESKTOP, "light", lambda page: handover(page, "Loft landing")),
    (
        "bench-bypass",
        DESKTOP,
        "light",
        lambda page: (
            open_loop(page, "Kiln room"),
            go(page, "Route", "Which bypass"),
            page.get_by_role("button", name="Take it").first.wait_for(),
        ),
    ),  # type: ignore[arg-type, return-value]
    ("bench-how-sure", DESKTOP, "light", lambda page: off_tab(page, "Kiln room", "How sure")),
    ("route", DESKTOP, "light", lambda page: ways(page, "Clay store")),
    ("wire-map", DESKTOP, "light", lambda page: wire_map(page, "Gallery stair")),
    ("isolations", DESKTOP, "light", lambda page: board(page)),
    ("bench-lit", DESKTOP, "light", lambda page: lit(page)),
    ("shelf", DESKTOP, "light", lambda page: shelf(page)),
    ("survey-safe", DESKTOP, "light", at("Packing hall stair", "Make safe")),
    ("survey-box", DESKTOP, "light", at("Kiln room", "Box", "As found")),
    (
        "survey-conductors",
        DESKTOP,
        "light",
        lambda page: (open_loop(page, "Kiln room"), go(page, "Box", "Which is which")),
    ),  # type: ignore[arg-type, return-value]
    ("fit", TABLET, "light", lambda page: fit(page, "Sack hoist")),
    ("visits", DESKTOP, "light", lambda page: visits(page)),
    ("prove", TABLET, "light", lambda page: prove(page, "Wheelhouse stair")),
    ("case", DESKTOP, "light", lambda page: case(page, "Millrace walk")),
)


def main(base: str, only: list[str]) -> None:
    """Take every picture, or those named."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM)
        for name, size, mode, prepare in SHOTS:
            if only and name not in only:
                continue
            context = browser.new_context(viewport=size, color_scheme=mode, reduced_motion="reduce")  # type: ignore[arg-type]
            page = context.new_page()
            sign_in(page, base)
            prepare(page)
            page.wait_for_timeout(400)
            # Work that takes long has its answer in the picture, not how far it is.
            expect(page.locator(".progress-line")).to_have_count(0, timeout=60_000)
            page.screenshot(path=TARGET / f"{name}.png")
            context.close()
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
