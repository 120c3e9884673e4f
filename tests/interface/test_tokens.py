"""A token for a program, made by an administrator in the browser and used outside of it."""

from __future__ import annotations

import urllib.error
import urllib.request

from playwright.sync_api import expect

from tests.interface.base import InterfaceTest


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
