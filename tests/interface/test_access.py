"""Every screen in both themes: held against WCAG 2.2 AA by axe, reflowing at 320 px, with targets a thumb hits."""

from __future__ import annotations

from collections.abc import Iterator

from django.conf import settings
from playwright.sync_api import Page, expect

from tests.interface.base import InterfaceTest

AXE = settings.ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
# The drawing's parts are named with the kind of part first; the figures drawn in them are said after it, in another
# order than they stand. Speech finds them by any of their words.
RUN = """axe.run(document, {
    runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
    rules: {'label-content-name-mismatch': {enabled: false}},
})"""
# Lower than 24 px is too small for anybody (WCAG 2.5.8). Links in running text and ticks beside a label are exempt,
# as is the inner field of a list whose frame is the target.
SMALL = """() => [...document.querySelectorAll('button, a[href], input, select, summary')].filter((e) => {
    const box = e.getBoundingClientRect();
    return box.width > 0 && box.height > 0 && box.height < 24 && getComputedStyle(e).clipPath === 'none'
        && !e.closest('p') && !['radio', 'checkbox', 'range'].includes(e.type) && !e.closest('.ant-select');
}).map((e) => `${e.tagName} ${e.className} ${e.textContent.slice(0, 30)}`)"""
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
    "prove",
    "handover",
)


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

    def test_every_screen_in_both_themes_and_enlarged_four_times(self) -> None:
        """Names, roles, contrast, focus: nothing is found, in daylight or in the roof void. At 320 pixels a page is one
        column, pushed sideways by nothing: drawings alone keep their width, in frames of their own."""
        for mode in ("light", "dark"):
            context = self.browser.new_context(viewport=self.size, reduced_motion="reduce", color_scheme=mode)
            self.addCleanup(context.close)
            page = context.new_page()
            for name in self.screens(page):
                self.found_by_axe(page, f"{name}, {mode}")
                if mode == "light":
                    self.enlarged(page, name)

    def found_by_axe(self, page: Page, name: str) -> None:
        """Nothing."""
        page.evaluate(AXE.read_text(encoding="utf-8"))
        found = [
            (entry["id"], node["html"][:120]) for entry in page.evaluate(RUN)["violations"] for node in entry["nodes"]
        ]
        self.assertEqual(found, [], name)

    def enlarged(self, page: Page, name: str) -> None:
        """A narrow page, with targets that a thumb hits."""
        page.set_viewport_size({"width": 320, "height": 800})
        page.wait_for_function("document.documentElement.clientWidth <= 320")
        wide = page.evaluate("document.scrollingElement.scrollWidth")
        small = page.evaluate(SMALL)
        page.set_viewport_size(self.size)
        self.assertLessEqual(wide, 320, name)
        self.assertEqual(small, [], name)
