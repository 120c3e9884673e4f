"""From sign-in to a kept first verdict on an empty installation: by the hand, within forty actions, by keys alone."""

from __future__ import annotations

import time

from django.test import tag
from playwright.sync_api import Page, Route, expect

from loops.models import Gang
from tests.empty import SHELF, SITES, without
from tests.interface.base import InterfaceTest, wait_until

MOST_ACTIONS = 40
MOST_S = 300
SLOW_MS = 800


class FirstUse(InterfaceTest):
    """Nothing is there: no site, no loop, no part."""

    def setUp(self) -> None:
        super().setUp()
        without(*SITES, *SHELF)
        self.actions = 0

    def press(self, page: Page, *keys: str) -> None:
        """Each key is an action."""
        for key in keys:
            page.keyboard.press(key)
            self.actions += 1

    def write(self, page: Page, text: str) -> None:
        """What is written into one field is one action, typed key by key."""
        for key in text:
            page.keyboard.type(key)
        self.actions += 1

    def test_a_first_verdict_by_keys_alone(self) -> None:
        """The next thing always has the focus or is a few keys away; what nobody knows is taken from the class."""
        began = time.monotonic()
        self.to_a_first_verdict()
        self.assertLess(time.monotonic() - began, MOST_S)

    @tag("whole")
    def test_a_slow_connection_loses_no_key(self) -> None:
        """Where each answer takes its time nothing can be pressed whose choices have not come, and no key is lost."""
        self.slow(SLOW_MS)
        self.to_a_first_verdict()

    @tag("whole")
    def test_what_is_missing_is_asked_again(self) -> None:
        """Lamps whose kinds the server did not tell cannot be typed, and a press asks for them.

        Nor is anything pressed while what comes above it would move it away.
        """
        page, held = self.page, list[Route]()
        page.route("**/api/v1/kinds/", lambda route: route.abort())
        page.route("**/api/v1/stages/**", lambda route: held.append(route))
        self.sign_in()
        page.get_by_role("button", name="1 · Make the site").click()
        expect(page.get_by_label("Name of the site")).to_be_focused()
        self.write(page, "Barge Hyacinth")
        self.press(page, "Tab")
        self.write(page, "230")
        self.press(page, "Tab", "Enter")
        page.get_by_role("button", name="2 · Make its first loop").click()
        expect(page.get_by_role("dialog").get_by_role("combobox", name="Site")).to_be_focused()
        self.press(page, "Tab")
        self.write(page, "Galley")
        self.press(page, "Enter")
        page.get_by_role("button", name="1 · Enter the lamps").click()
        again = page.get_by_role("region", name="Parts, Lamps").get_by_role("button", name="Try again")
        expect(again).to_be_visible()
        expect(page.get_by_role("button", name="Type its figures myself")).to_have_count(0)
        page.unroute("**/api/v1/kinds/")
        with page.expect_request("**/api/v1/stages/**"):
            again.click()
        own = page.get_by_role("button", name="Type its figures myself")
        expect(own).to_be_disabled()
        wait_until(page, lambda: held)
        for one in held:
            one.continue_()
        own.click()
        expect(page.get_by_role("combobox", name="Input stage").first).to_have_value("rectifier")

    def to_a_first_verdict(self) -> None:
        """Site, loop, lamps and control, each key pressed as soon as the eye sees where it goes."""
        page = self.page
        page.goto(self.live_server_url)
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
        self.press(page, "Tab")
        while page.evaluate("document.activeElement.name") != "username":
            self.press(page, "Tab")
        self.write(page, "wren")
        self.press(page, "Tab")
        self.write(page, "kestrel-demo")
        self.press(page, "Enter")
        expect(page.get_by_role("button", name="1 · Make the site")).to_be_focused()
        self.press(page, "Enter")
        expect(page.get_by_label("Name of the site")).to_be_focused()
        self.write(page, "Barge Hyacinth")
        self.press(page, "Tab")
        self.write(page, "230")
        self.press(page, "Tab", "Enter")
        expect(page.get_by_role("button", name="2 · Make its first loop")).to_be_focused()
        self.press(page, "Enter")
        expect(page.get_by_role("dialog").get_by_role("combobox", name="Site")).to_be_focused()
        self.press(page, "Tab")
        self.write(page, "Galley")
        self.press(page, "Enter")
        expect(page.get_by_role("heading", name="Galley")).to_be_visible()
        expect(page.get_by_role("button", name="1 · Enter the lamps")).to_be_focused()
        self.press(page, "Enter")
        expect(page.get_by_role("combobox", name="From the shelf")).to_be_focused()
        self.press(page, "Tab")
        self.write(page, "2")
        self.press(page, "Tab", "Tab")
        expect(page.get_by_label("Input stage", exact=True)).to_be_focused()
        self.write(page, "Rect")
        self.press(page, "Tab")
        self.write(page, "6")
        self.press(page, "Tab", "Enter")
        expect(page.get_by_role("button", name="2 · Choose the control")).to_be_focused()
        self.press(page, "Enter")
        expect(page.get_by_role("combobox", name="From the shelf")).to_be_focused()
        self.press(page, "Tab", "Tab")
        expect(page.get_by_label("Class of the control")).to_be_focused()
        self.write(page, "Wi-Fi switch")
        self.press(page, "Tab", "Enter")
        expect(page.get_by_role("button", name="3 · Keep it")).to_be_focused()
        self.press(page, "Enter")
        expect(page.get_by_role("navigation", name="To the first verdict")).to_be_hidden()
        self.overall("Does not work")
        gang = Gang.objects.get(loop__name="Galley")
        self.assertEqual((gang.works, gang.version), ("does_not", 2))
        figures = gang.lamps.get().figures
        self.assertEqual(figures["count"], 2)
        self.assertEqual(figures["v_start_v"]["source"], "assumed")
        self.assertLess(figures["v_start_v"]["low"], figures["v_start_v"]["high"])
        self.assertLessEqual(self.actions, MOST_ACTIONS)

    @tag("whole")
    def test_a_role_that_only_reads_is_not_led(self) -> None:
        """The checker sees that there is nothing yet, and whom to ask."""
        self.sign_in("odell")
        expect(self.page.get_by_text("No site is yours yet.")).to_be_visible()
        expect(self.page.get_by_role("button", name="1 · Make the site")).to_have_count(0)


@tag("whole")
class FromAList(InterfaceTest):
    """Loops that somebody listed elsewhere."""

    def test_a_file_is_looked_at_mended_and_taken(self) -> None:
        """What is wrong by line and column; the mended file says what it makes; taken, the round shows it."""
        page = self.sign_in()
        page.get_by_role("button", name="Loops from a file").click()
        dialog = page.get_by_role("dialog")
        field = dialog.locator("input[type=file]")

        def choose(text: str) -> None:
            field.set_input_files({"name": "list.csv", "mimeType": "text/csv", "buffer": text.encode()})

        choose("site,loop,breaker\nKestrel Mills,Sail loft,21\n")
        expect(dialog.get_by_role("row", name="2 site")).to_contain_text("No site of yours is called “Kestrel Mills”")
        expect(dialog.get_by_role("button", name="Take it")).to_be_disabled()
        choose("site,loop,breaker\nKestrel Mill,Sail loft,21\nKestrel Mill,Gallery,5\n")
        expect(dialog.get_by_role("status")).to_contain_text("one new loop, 1 there already, one breaker")
        dialog.get_by_role("button", name="Take it").click()
        expect(dialog.get_by_role("status")).to_contain_text("Taken")
        dialog.get_by_role("button", name="Close").last.click()
        expect(page.get_by_role("row", name="Sail loft")).to_contain_text("asked")
        with page.expect_download() as waiting:
            page.get_by_role("link", name="This list as CSV").click()
        self.assertIn("Sail loft,21", waiting.value.path().read_text())
