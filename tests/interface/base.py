"""A live server with the demo data and one browser for all interface tests."""

from __future__ import annotations

import os
import re
import sys
import threading
import traceback
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from django.apps import apps
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.cache import cache
from django.test import Client, override_settings
from playwright.sync_api import Browser, Locator, Page, expect

from accounts.models import User
from demo.management.commands.load_demo import load_accounts, load_shelf, load_site
from demo.sites import CANNERY, CANNERY_CIRCUITS, CANNERY_LOOPS, MILL, MILL_CIRCUITS, MILL_LOOPS
from ember_launcher.checks import ON_SCREEN
from jobs.services import worker
from tests.browser import DESKTOP, Size, browser
from tests.demo_copy import load_once
from tests.unhurried import unhurried

# A judgement takes tens of milliseconds; a machine that does nothing at all for a minute is waited for too.
PATIENCE_MS = 90_000
expect.set_options(timeout=PATIENCE_MS)

# How many entries this device keeps.
ENTRIES_KEPT = """() => new Promise((tell, fail) => {
    const opening = indexedDB.open("ember-tray");
    opening.onerror = fail;
    opening.onsuccess = () => {
        const count = opening.result.transaction("entries").objectStore("entries").count();
        count.onsuccess = () => { opening.result.close(); tell(count.result); };
    };
})"""


def wait_until(page: Page, is_so: Callable[[], object]) -> None:
    """Let the page go on until that is so."""
    for _ in range(PATIENCE_MS // 50):
        if is_so():
            return
        page.wait_for_timeout(50)
    raise AssertionError("it was waited for in vain")


def under_way() -> str:
    """What the live server's requests do at this moment, each from its innermost call out; and how many only wait."""
    places = sys._current_frames()
    calls = [
        [
            f"{Path(call.filename).name}:{call.lineno}"
            for call in reversed(traceback.extract_stack(places[thread.ident]))
        ]
        for thread in threading.enumerate()
        if thread.ident in places and "process_request" in thread.name
    ]
    busy = [" < ".join(one[:8]) for one in calls if not one[0].startswith("socket.py")]
    return "\n".join([f"{len(calls) - len(busy)} connections wait for a request; under way: {len(busy)}", *busy[:6]])


def load_demo() -> None:
    """Accounts, shelf and sites, as the demo has them."""
    technician = load_accounts()
    load_shelf(technician)
    load_site(technician, MILL, MILL_CIRCUITS, MILL_LOOPS)
    load_site(technician, CANNERY, CANNERY_CIRCUITS, CANNERY_LOOPS)


@override_settings(DEMO=True)
class InterfaceTest(StaticLiveServerTestCase):
    """The demo data is loaded anew for each test, since the live server's tests empty the database."""

    browser: Browser
    size: Size = DESKTOP

    # Nothing asks for what Django would write anew after each test: kinds of rows, and permissions that no role has.
    available_apps = [app.name for app in apps.get_app_configs()]

    def setUp(self) -> None:
        cache.clear()
        self.enterContext(unhurried())
        load_once("demo", load_demo)
        self.browser = browser()
        self.context = self.browser.new_context(viewport=self.size, reduced_motion="reduce")
        self.context.set_default_timeout(PATIENCE_MS)
        self.addCleanup(self.context.close)
        self.page = self.context.new_page()
        self.wrongs: list[str] = []
        self.page.on("pageerror", lambda error: self.wrongs.append(str(error)))
        self.page.on("console", self.note)

    def do_jobs(self) -> None:
        """Do what waits in the queue, as each process of the server does, until the test ends."""
        told = threading.Event()
        thread = worker.begin(told)
        self.addCleanup(thread.join)
        self.addCleanup(told.set)

    def note(self, message: Any) -> None:
        """Anything that the browser complains about, a blocked script for one; refused requests are tested for."""
        if message.type == "error" and "Failed to load resource" not in message.text:
            self.wrongs.append(message.text)

    def _callTestMethod(self, method: Callable[[], object]) -> None:  # noqa: N802
        """With the error of a test stands what was on its screens; a log is all that is kept of some runs."""
        try:
            super()._callTestMethod(method)  # type: ignore[misc]
        except Exception as error:
            error.add_note(under_way())
            for page in (page for context in self.browser.contexts for page in context.pages):
                error.add_note(f"{ON_SCREEN} {page.url}\n{page.locator('body').aria_snapshot()}")
            raise

    def tearDown(self) -> None:
        self.assertEqual(self.wrongs, [])

    def sign_in(self, name: str = "wren", page: Page | None = None) -> Page:
        """By a session that was begun beforehand; what is typed at the door is tested for itself."""
        page = page or self.page
        door = Client()
        door.force_login(User.objects.get(username=name), "django.contrib.auth.backends.ModelBackend")
        for cookie in door.cookies.values():
            page.context.add_cookies([{"name": cookie.key, "value": cookie.value, "url": self.live_server_url}])
        page.goto(self.live_server_url)
        expect(page.get_by_role("heading", name="Round")).to_be_visible()
        return page

    def typed(self, field: Locator, text: str) -> None:
        """What a person does: a click, what was there marked, one key after the other, and on to the next field."""
        field.click()
        page = field.page
        page.keyboard.press("Control+a")
        page.keyboard.press("Delete")
        for key in text:
            page.keyboard.type(key)
        page.keyboard.press("Tab")

    def slow(self, latency_ms: int) -> None:
        """From now on each answer of the server comes that much later to this browser's page."""
        there = self.context.new_cdp_session(self.page)
        there.send(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": latency_ms, "downloadThroughput": -1, "uploadThroughput": -1},
        )

    def another(self, name: str) -> Page:
        """A second person in a browser of their own."""
        context = self.browser.new_context(viewport=self.size, reduced_motion="reduce")
        context.set_default_timeout(PATIENCE_MS)
        self.addCleanup(context.close)
        page = context.new_page()
        page.on("pageerror", lambda error: self.wrongs.append(str(error)))
        return self.sign_in(name, page)

    def all_sent(self, page: Page | None = None) -> None:
        """Everything entered here is on the server."""
        tray = (page or self.page).locator(".tray-bar")
        expect(tray).to_contain_text("all sent")

    def open_loop(self, name: str, page: Page | None = None) -> Page:
        """From the round."""
        page = page or self.page
        page.get_by_role("link", name=name, exact=True).click()
        expect(page.get_by_role("heading", name=name)).to_be_visible()
        return page

    def from_shelf(self, text: str, title: str, page: Page | None = None) -> None:
        """A part searched for on the shelf and taken."""
        page = page or self.page
        page.get_by_role("combobox", name="From the shelf").click()
        page.keyboard.type(text)
        page.get_by_title(title, exact=True).click()

    def own_bypass(self, capacitance: str, page: Page | None = None) -> None:
        """A new bypass by its capacitance alone."""
        page = page or self.page
        page.get_by_role("button", name="Add bypass").click()
        page.get_by_role("button", name="Type its figures myself").click()
        self.typed(page.get_by_label("capacitance", exact=True), capacitance)

    def go(self, *names: str, page: Page | None = None) -> None:
        """To a step of the bench, and to a part of it, by the rail."""
        rail = (page or self.page).get_by_role("navigation", name="steps of the bench")
        for name in names:
            step = rail.get_by_role("button", name=re.compile(rf"(^|\s){name}$"))
            step.click()
            # What is looked for next is looked for in this step.
            expect(step).to_have_attribute("aria-current", re.compile("."))

    def verdict(self, title: str, page: Page | None = None) -> None:
        """What the why panel says of the figures as typed."""
        why = (page or self.page).get_by_role("complementary", name="Why")
        expect(why.locator(".typical-verdict")).to_have_text(title)

    def overall(self, title: str | re.Pattern[str], page: Page | None = None) -> None:
        """The one verdict, once it is weighed."""
        why = (page or self.page).get_by_role("complementary", name="Why")
        expect(why.get_by_role("status")).to_have_text(title)


def middle(button: Locator) -> dict[str, float]:
    """Where a finger goes down on it."""
    expect(button).to_be_enabled()
    button.page.evaluate("document.fonts.ready")
    box = button.bounding_box()
    assert box is not None
    return {"x": box["x"] + box["width"] / 2, "y": box["y"] + box["height"] / 2}
