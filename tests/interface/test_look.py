"""What can be said of the look without an eye."""

from __future__ import annotations

import re

from django.conf import settings
from django.test import SimpleTestCase, tag
from playwright.sync_api import Route, expect

from accounts.models import User
from demo.management.commands.load_demo import survey_document
from demo.sites import SURVEYS
from loops.models import Loop
from survey.services.recording import save_survey
from tests.browser import DESKTOP, TABLET
from tests.interface.base import InterfaceTest

STYLES = settings.ROOT / "web" / "src" / "app" / "tokens.css"
# WCAG 2 level AA for text.
LEAST_CONTRAST = 4.5
# Which texts of the thread run over another.
OVERLAPS = """() => {
    const texts = [...document.querySelectorAll('.thread svg text')];
    const boxes = texts.map(e => [e.textContent, e.getBoundingClientRect()]);
    const found = [];
    boxes.forEach(([a, p], i) => boxes.slice(i + 1).forEach(([b, q]) => {
        const w = Math.min(p.right, q.right) - Math.max(p.left, q.left);
        const h = Math.min(p.bottom, q.bottom) - Math.max(p.top, q.top);
        if (w > 2 && h > 4) found.push(`${a} / ${b}`);
    }));
    return found;
}"""


def luminance(colour: str) -> float:
    """Relative luminance of #rrggbb."""
    channels = [int(colour[k : k + 2], 16) / 255.0 for k in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """Contrast ratio of two colours."""
    lighter, darker = sorted((luminance(one), luminance(other)), reverse=True)
    return (lighter + 0.05) / (darker + 0.05)


class Colours(SimpleTestCase):
    """Read from the style sheet."""

    def test_every_text_colour_is_legible_in_daylight_and_in_the_dark(self) -> None:
        """On paper and on raised ground, at least 4.5 to 1."""
        text = STYLES.read_text()
        light = dict(re.findall(r"--([a-z-]+): (#[0-9a-f]{6});", text.split(":root[data-mode")[0]))
        night = text.split(":root[data-mode")[1].split("}")[0]
        dark = {**light, **dict(re.findall(r"--([a-z-]+): (#[0-9a-f]{6});", night))}
        for mode in (light, dark):
            for name in ("ink", "quiet", "ember", "verdigris", "plum", "ochre", "steel"):
                for ground in ("paper", "raised"):
                    self.assertGreaterEqual(contrast(mode[name], mode[ground]), LEAST_CONTRAST, f"{name} on {ground}")
        self.assertGreaterEqual(contrast(light["ink"], light["ember-soft"]), LEAST_CONTRAST)


class Pages(InterfaceTest):
    """Every page at both sizes."""

    def test_light_or_dark_is_the_devices_wish_until_one_of_them_is_chosen(self) -> None:
        """A tablet that turns dark at dusk takes the open page along; what was chosen stays, after a reload too."""
        page = self.sign_in()
        mode = page.locator("html")
        for wish in ("dark", "light"):
            page.emulate_media(color_scheme=wish)
            expect(mode).to_have_attribute("data-mode", wish)
        page.get_by_role("button", name="Dark", exact=True).click()
        expect(mode).to_have_attribute("data-mode", "dark")
        for wish in ("dark", "light"):
            page.emulate_media(color_scheme=wish)
        page.reload()
        expect(page.get_by_role("button", name="Light", exact=True)).to_be_visible()
        expect(mode).to_have_attribute("data-mode", "dark")

    @tag("whole")
    def test_no_figure_of_a_reason_leaves_a_narrow_page(self) -> None:
        """On a telephone a long name makes room for the figure beside it."""
        self.page.set_viewport_size({"width": 390, "height": 844})
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.verdict("Dark and fed")
        beyond = page.evaluate(
            """() => [...document.querySelectorAll('.reason button')].filter((row) => {
                const text = document.createRange();
                text.selectNodeContents(row);
                return text.getBoundingClientRect().right > row.getBoundingClientRect().right + 1;
            }).map((row) => row.innerText)"""
        )
        self.assertGreater(page.locator(".reason button").count(), 3)
        self.assertEqual(beyond, [])

    @tag("whole")
    def test_every_field_and_button_has_a_name(self) -> None:
        """On every step of the bench, for those who hear the page."""
        page = self.sign_in()
        self.open_loop("Gallery")
        self.verdict("Control is starved")
        for key in "1234567890":
            page.keyboard.press(key)
            page.wait_for_timeout(150)
            nameless = page.evaluate(
                """() => [...document.querySelectorAll('input:not([hidden]), select, button')]
                .filter(e => e.offsetParent)
                .filter(e => !(e.getAttribute('aria-label') || e.textContent.trim() || e.labels?.length))
                .map(e => e.outerHTML.slice(0, 120))"""
            )
            self.assertEqual(nameless, [], f"step {key}")

    @tag("whole")
    def test_no_text_runs_over_another_on_the_thread(self) -> None:
        """Boxes of the drawing's texts do not overlap, for every loop of the demo at both sizes."""
        page = self.sign_in()
        for size in (DESKTOP, TABLET):
            page.set_viewport_size(size)
            for name in ("Gallery", "Kiln room", "Pottery studio", "Wheelhouse stair", "Millrace walk"):
                page.get_by_role("link", name="Ember Thread").click()
                self.open_loop(name)
                self.go("Parts")
                expect(page.locator(".thread .ember").first).to_be_visible()
                overlaps = page.evaluate(OVERLAPS)
                self.assertEqual(overlaps, [], f"{name} at {size['width']}")

    @tag("whole")
    def test_what_the_chosen_way_puts_on_the_thread_covers_no_words(self) -> None:
        """Every way that is drawn, beside the conductors of a surveyed box, at both sizes."""
        who = User.objects.get(username="wren")
        loop = Loop.objects.select_related("site", "circuit").get(name="Grain loft")
        save_survey(who, loop.pk, 0, survey_document(loop, SURVEYS["Grain loft"]))
        chosen = ["none"]

        def choose(route: Route) -> None:
            answer = route.fetch()
            route.fulfill(response=answer, json={**answer.json(), "chosen_way": chosen[0]})

        page = self.sign_in()
        page.route(f"**/api/v1/loops/{loop.pk}/", choose)
        for size in (DESKTOP, TABLET):
            page.set_viewport_size(size)
            for way in ("module_with_switch", "module_at_lamp", "module_behind_switch", "drop_as_feed", "pair"):
                chosen[0] = way
                page.goto(f"{self.live_server_url}/loops/{loop.pk}/1?step=parts")
                expect(page.locator(".thread .ember").first).to_be_visible()
                expect(page.locator(".chosen-way text").first).to_be_visible()
                expect(page.locator(".in-the-box text").first).to_be_visible()
                self.assertEqual(page.evaluate(OVERLAPS), [], f"{way} at {size['width']}")

    def test_nothing_is_fetched_from_elsewhere(self) -> None:
        """Fonts, styles and scripts come with the application."""
        asked: list[str] = []
        self.page.on("request", lambda request: asked.append(request.url))
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.verdict("Dark and fed")
        foreign = [url for url in asked if not url.startswith((self.live_server_url, "data:"))]
        self.assertEqual(foreign, [])
        self.assertTrue(any(url.endswith(".woff2") for url in asked))
        face = "16px 'Atkinson Hyperlegible Next Variable'"
        self.assertTrue(page.evaluate("face => document.fonts.check(face)", face))
