"""Every screen in both themes: held against WCAG 2.2 AA by axe, reflowing at 320 px, with targets a thumb hits."""

from __future__ import annotations

from collections.abc import Iterator

from django.test import tag
from playwright.sync_api import Page, expect

from tests.interface.base import InterfaceTest
from tests.interface.readable import readable, readable_in_the_dark

STEPS = (
    "visit",
    "safe",
    "box&tab=found",
    "box&tab=which",
    "parts&tab=lamps",
    "parts&tab=control",
    "parts&tab=bypass",
    "parts&tab=cable",
    "judge&tab=light_off",
    "judge&tab=light_on",
    "judge&tab=loads",
    "route&tab=ways",
    "route&tab=map",
    "route&tab=bypass_choice",
    "route&tab=drawing",
    "fit",
    "prove&tab=list",
    "prove&tab=readings",
    "prove&tab=wrong",
    "setup&tab=radio",
    "setup&tab=join",
    "setup&tab=programs",
    "setup&tab=fails",
    "handover&tab=papers",
    "handover&tab=sign",
    "handover&tab=history",
)
# Each with its heading; the last two are an administrator's.
PAGES = (
    ("visits", "Visits"),
    ("handing-over", "Handing over"),
    ("search?q=kiln", "Search everywhere"),
    ("statistics", "Statistics"),
    ("people", "People"),
    ("trail", "Trail"),
)


@tag("whole")
class Access(InterfaceTest):
    """One walk through everything there is to see."""

    def screens(self, page: Page) -> Iterator[str]:
        """Each screen, settled."""
        page.goto(self.live_server_url)
        expect(page.get_by_role("button", name="Use wren")).to_be_visible()
        yield "the door"
        self.sign_in("wren", page)
        expect(page.locator("table.rows tbody tr").first).to_be_visible()
        yield "the round"
        page.get_by_role("button", name="New loop").click()
        expect(page.get_by_role("dialog")).to_be_visible()
        yield "a new loop"
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Help").click()
        expect(page.get_by_role("dialog")).to_be_visible()
        yield "help"
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Isolations").click()
        expect(page.get_by_role("heading", name="Isolations")).to_be_visible()
        yield "isolations"
        page.get_by_role("link", name="Parts shelf").click()
        page.get_by_role("button", name="Candle 4 W").first.click()
        expect(page.get_by_role("table").first).to_be_visible()
        yield "the shelf"
        page.get_by_role("link", name="Round", exact=True).click()
        page.get_by_role("combobox", name="Site").select_option(label="Kestrel Mill")
        page.get_by_role("link", name="Circuit schedule").click()
        expect(page.get_by_role("heading", name="Circuit schedule")).to_be_visible()
        yield "the schedule"
        page.get_by_role("link", name="Round", exact=True).click()
        address = page.get_by_role("link", name="Kiln room", exact=True).get_attribute("href")
        for step in STEPS:
            page.goto(f"{self.live_server_url}{address}?step={step}")
            expect(page.get_by_role("navigation", name="steps of the bench")).to_be_visible()
            expect(page.locator(".work [aria-busy=true]"), step).to_have_count(0)
            expect(page.locator(".waiting")).to_have_count(0)
            yield step
        self.sign_in("fenna", page)
        for path, heading in PAGES:
            page.goto(f"{self.live_server_url}/{path}")
            expect(page.get_by_role("heading", name=heading, exact=True, level=1)).to_be_visible()
            expect(page.locator("[aria-busy=true], .waiting")).to_have_count(0)
            yield path

    def test_every_screen_in_both_themes_and_enlarged_four_times(self) -> None:
        """In daylight and in the roof void: of the second theme what it changes, the colours."""
        context = self.browser.new_context(viewport=self.size, reduced_motion="reduce", color_scheme="light")
        self.addCleanup(context.close)
        page = context.new_page()
        seen = 0
        for name in self.screens(page):
            readable(self, page, f"{name}, light")
            readable_in_the_dark(self, page, f"{name}, dark")
            seen += 1
        self.assertEqual(seen, 7 + len(STEPS) + len(PAGES))
