"""A site out of one copy and into another, in the browser."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.test import tag
from playwright.sync_api import Page, expect

from loops.models import Loop
from sites.models import Site
from tests.interface.base import InterfaceTest


class Bundles(InterfaceTest):
    """Whoever keeps sites."""

    def fetch(self, page: Page, site: str) -> Path:
        """As somebody does: the site chosen, the link pressed, the file kept."""
        page.get_by_label("Site", exact=True).select_option(label=site)
        with page.expect_download() as got:
            page.get_by_role("link", name="This site as a bundle").click()
        self.assertEqual(got.value.suggested_filename, "kestrel-mill.zip")
        return Path(got.value.path())

    def hand_in(self, page: Page, content: bytes) -> Any:
        """The dialog with a file."""
        page.get_by_role("button", name="A bundle from elsewhere").click()
        dialog = page.get_by_role("dialog", name="Bring in a bundle")
        chosen: Any = {"name": "mill.zip", "mimeType": "application/zip", "buffer": content}
        dialog.get_by_label("Choose a file").set_input_files(chosen)
        return dialog

    def test_out_and_in_with_what_differs_chosen(self) -> None:
        """A loop that was made since stays, a note that was written since is chosen back; wrong files are told."""
        page = self.sign_in()
        kept = self.fetch(page, "Kestrel Mill").read_bytes()
        dialog = self.hand_in(page, kept)
        expect(dialog.get_by_text("Everything in it is here already.")).to_be_visible()
        expect(dialog.get_by_role("button", name="Bring it in")).to_be_disabled()
        dialog.get_by_role("button", name="Close").last.click()
        mill = Site.objects.get(name="Kestrel Mill")
        Loop.objects.filter(site=mill, name="Kiln room").update(note="written since")
        dialog = self.hand_in(page, kept)
        differs = dialog.get_by_role("group", name="Loops: Kiln room")
        expect(differs).to_contain_text("here: written since")
        expect(differs.get_by_label("Keep what is here")).to_be_checked()
        expect(dialog.get_by_role("button", name="Bring it in")).to_be_disabled()
        differs.get_by_label("Take what the bundle says").check()
        dialog.get_by_role("button", name="Bring it in").click()
        expect(dialog.get_by_text("Brought in.")).to_be_visible()
        self.assertNotEqual(Loop.objects.get(site=mill, name="Kiln room").note, "written since")
        dialog.get_by_role("button", name="Close").last.click()
        dialog = self.hand_in(page, kept[:5000])
        expect(dialog.get_by_role("alert")).to_contain_text("This is no bundle of a site or loop")

    @tag("whole")
    def test_whoever_keeps_no_sites_only_fetches(self) -> None:
        """The link is there, the way in is not; a loop alone goes out from its papers."""
        page = self.sign_in("tam")
        self.fetch(page, "Kestrel Mill")
        expect(page.get_by_role("button", name="A bundle from elsewhere")).to_have_count(0)
        self.open_loop("Kiln room")
        self.go("Hand over", "Papers")
        with page.expect_download() as got:
            page.get_by_role("link", name="This loop as a bundle").click()
        self.assertEqual(got.value.suggested_filename, "kiln-room.zip")
