"""What an administrator keeps beside accounts: tokens for programs, and what is on record of clients."""

from __future__ import annotations

import urllib.error
import urllib.request
from pathlib import Path

from django.test import tag
from playwright.sync_api import expect

from loops.models import Loop
from tests.interface.base import InterfaceTest


@tag("whole")
class Tokens(InterfaceTest):
    """By whoever keeps the accounts."""

    def status(self, token: str) -> int:
        """What the round answers to a program."""
        request = urllib.request.Request(f"{self.live_server_url}/api/v1/loops/")
        request.add_header("Authorization", f"Bearer {token}")
        try:
            with urllib.request.urlopen(request) as answer:
                return int(answer.status)
        except urllib.error.HTTPError as refused:
            return refused.code

    def test_made_shown_once_used_ended(self) -> None:
        """It opens the round until it is ended; after a reload nobody reads it again."""
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_role("button", name="Use fenna").click()
        page.get_by_role("link", name="People").click()
        tokens = page.get_by_role("region", name="Tokens for programs")
        expect(tokens.get_by_text("No program has a token.")).to_be_visible()
        tokens.get_by_role("button", name="New token").click()
        dialog = page.get_by_role("dialog", name="New token")
        self.typed(dialog.get_by_label("What it is for"), "Order desk")
        expect(dialog.get_by_role("button", name="Make the token")).to_be_disabled()
        dialog.get_by_label("Kestrel Mill").check()
        dialog.get_by_role("button", name="Make the token").click()
        shown = tokens.get_by_label("Token", exact=True)
        expect(shown).to_be_visible()
        token = shown.input_value()
        self.assertEqual(self.status(token), 200)
        page.reload()
        row = tokens.get_by_role("row").filter(has_text="Order desk")
        expect(row).to_contain_text("read and judge")
        expect(row).to_contain_text("Kestrel Mill")
        expect(tokens.get_by_label("Token", exact=True)).to_have_count(0)
        row.get_by_role("button", name="End it: Order desk").click()
        expect(row).to_contain_text("ended")
        self.assertEqual(self.status(token), 401)


@tag("whole")
class Personal(InterfaceTest):
    """What is kept of a client."""

    def test_found_handed_out_and_erased(self) -> None:
        """Typed, found in a note, handed out as a file, erased with the reason; then nothing is left but the trail."""
        loop = Loop.objects.get(name="Kiln room", site__name="Kestrel Mill")
        Loop.objects.filter(pk=loop.pk).update(note="key with Ida Marl")
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_role("button", name="Use fenna").click()
        page.get_by_role("link", name="People").click()
        kept = page.get_by_role("region", name="What is kept of a client")
        self.typed(kept.get_by_label("Name, as it was written"), "Id")
        page.keyboard.press("Enter")
        expect(kept.get_by_role("alert")).to_contain_text("Write 3 letters at least")
        self.typed(kept.get_by_label("Name, as it was written"), "Ida Marl")
        kept.get_by_role("button", name="Find").click()
        expect(kept.get_by_role("listitem")).to_contain_text("note of the loop")
        with page.expect_download() as got:
            kept.get_by_role("link", name="Hand it out").click()
        self.assertIn("key with Ida Marl", Path(got.value.path()).read_text(encoding="utf-8"))
        erase = kept.get_by_role("button", name="Erase it for good")
        expect(erase).to_be_disabled()
        self.typed(kept.get_by_label("Who asked for it, and when"), "letter of the 3rd")
        erase.click()
        expect(kept.get_by_text("Erased. This is what is left:")).to_be_visible()
        expect(kept.get_by_text("Nothing is kept under this name.")).to_be_visible()
        self.assertEqual(Loop.objects.get(pk=loop.pk).note, "key with […]")
