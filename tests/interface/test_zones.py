"""Times on the screen: those of the site, as its papers have them, whatever the clock of the device says."""

from __future__ import annotations

from django.test import tag
from playwright.sync_api import expect

from handover.services.history import history_of
from loops.models import Loop
from sites.models import Site
from tests.interface.base import InterfaceTest
from wording.moments import in_zone, minute_of


@tag("whole")
class Zones(InterfaceTest):
    """A loop of a site in another zone, looked at from there and from elsewhere."""

    def told(self, zone: str, loop_name: str = "Packing loft") -> str:
        """When the newest entry of the history was, on a device in this zone."""
        context = self.browser.new_context(viewport=self.size, timezone_id=zone, locale="en-GB")
        self.addCleanup(context.close)
        page = self.sign_in("wren", context.new_page())
        self.open_loop(loop_name, page)
        self.go("Hand over", "History", page=page)
        first = page.get_by_role("list", name="History").get_by_role("listitem").first
        expect(first).to_be_visible()
        return first.locator("small").inner_text()

    def test_a_device_elsewhere_shows_the_time_of_the_site_and_says_so(self) -> None:
        """The same hour, written as on paper; the city is named where the clock on the wall shows another."""
        self.sign_in()
        Site.objects.filter(name="Kestrel Mill").update(zone="America/New_York")
        at_home, far = self.told("America/New_York"), self.told("Europe/Berlin")
        with in_zone("America/New_York"):
            newest = history_of(Loop.objects.get(name="Packing loft"))[0]["at"]
            self.assertTrue(at_home.startswith(f"{minute_of(newest)} · "), at_home)
        self.assertIn(" (New York) · ", far)
        self.assertEqual(far.replace(" (New York)", ""), at_home)

    def test_a_site_without_a_zone_is_told_in_that_of_its_papers(self) -> None:
        """UTC, named, until somebody chooses."""
        self.sign_in()
        Site.objects.filter(name="Kestrel Mill").update(zone="")
        as_on_paper, far = self.told("UTC"), self.told("Asia/Kolkata")
        self.assertIn(" (UTC) · ", far)
        self.assertEqual(far.replace(" (UTC)", ""), as_on_paper)
