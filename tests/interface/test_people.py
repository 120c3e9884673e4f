"""Accounts, who works where, and taking out of sight: by hand, with two people in two browsers."""

from __future__ import annotations

from django.test import tag
from playwright.sync_api import Locator, Page, expect

from accounts.models import Role, User
from loops.models import Loop
from sites.models import Site
from tests.interface.base import InterfaceTest

GIVEN, OWN = "for the first day", "kingfisher-on-the-weir"


class People(InterfaceTest):
    """Fenna keeps the accounts; Ines is new."""

    def door(self) -> Page:
        """A browser of somebody who is not signed in yet."""
        context = self.browser.new_context(viewport=self.size, reduced_motion="reduce")
        self.addCleanup(context.close)
        page = context.new_page()
        page.on("pageerror", lambda error: self.wrongs.append(str(error)))
        page.goto(self.live_server_url)
        return page

    def enter(self, page: Page, password: str, *, is_shared: bool = False) -> None:
        self.typed(page.get_by_label("Name", exact=True), "ines")
        self.typed(page.get_by_label("Password", exact=True), password)
        if is_shared:
            page.get_by_label("This is a shared device").check()
        page.get_by_role("button", name="Sign in").click()

    def make_ines(self, page: Page) -> None:
        page.get_by_role("link", name="People").click()
        page.get_by_role("button", name="New account").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Name", exact=True), "Ines Quill")
        self.typed(dialog.get_by_label("Signs in as"), "ines")
        self.typed(dialog.get_by_label("Password for the first time"), "short")
        dialog.get_by_role("button", name="Make the account").click()
        expect(dialog.get_by_role("alert")).to_contain_text("too short")
        page.reload()
        page.get_by_role("button", name="New account").click()
        expect(dialog.get_by_label("Name", exact=True)).to_have_value("Ines Quill")
        expect(dialog.get_by_label("Signs in as")).to_have_value("ines")
        expect(dialog.get_by_label("Password for the first time")).to_have_value("")
        self.typed(dialog.get_by_label("Password for the first time"), GIVEN)
        dialog.get_by_role("button", name="Make the account").click()
        expect(page.get_by_role("row", name="Ines Quill")).to_contain_text("has not chosen a password yet")

    def choose_own(self, page: Page) -> None:
        self.enter(page, GIVEN)
        expect(page.get_by_role("heading", name="Choose your own password")).to_be_visible()
        self.typed(page.get_by_label("Present password"), GIVEN)
        self.typed(page.get_by_label("New password", exact=True), OWN)
        self.typed(page.get_by_label("New password once more"), OWN)
        page.get_by_role("button", name="Change the password").click()
        expect(page.get_by_role("heading", name="Round")).to_be_visible()

    @tag("whole")
    def test_a_newcomer_from_account_to_first_loop_and_out_again(self) -> None:
        """Made, own password, no site; added to the mill; sees it after a reload; ended while the page is open."""
        fenna = self.sign_in("fenna")
        self.make_ines(fenna)
        ines = self.door()
        self.choose_own(ines)
        expect(ines.get_by_text("No site is yours yet")).to_be_visible()
        expect(ines.get_by_role("link", name="People")).to_have_count(0)

        fenna.goto(self.live_server_url)
        fenna.get_by_label("Site").select_option(label="Kestrel Mill")
        fenna.get_by_role("link", name="Circuit schedule").click()
        fenna.get_by_role("button", name="Who works here").click()
        fenna.get_by_role("dialog").get_by_label("Ines Quill").check()
        fenna.get_by_role("dialog").get_by_role("button", name="Keep").click()
        expect(fenna.get_by_role("dialog")).to_have_count(0)

        ines.reload()
        expect(ines.get_by_role("link", name="Kiln room", exact=True)).to_be_visible()
        expect(ines.get_by_role("button", name="New loop")).to_be_visible()
        expect(ines.get_by_role("button", name="New site")).to_have_count(0)
        expect(ines.get_by_text("Larkspur Cannery")).to_have_count(0)

        fenna.get_by_role("link", name="People").click()
        fenna.get_by_role("button", name="Change: ines").click()
        fenna.get_by_role("dialog").get_by_label("may sign in").uncheck()
        fenna.get_by_role("dialog").get_by_role("button", name="Change").click()
        expect(fenna.get_by_role("row", name="Ines Quill")).to_contain_text("ended")
        ines.get_by_role("link", name="Kiln room", exact=True).click()
        expect(ines.get_by_role("dialog").get_by_label("Password")).to_be_visible()

    def who_works_at_the_mill(self, page: Page) -> Locator:
        """The dialog, from the round."""
        page.get_by_label("Site").select_option(label="Kestrel Mill")
        page.get_by_role("link", name="Circuit schedule").click()
        page.get_by_role("button", name="Who works here").click()
        return page.get_by_role("dialog")

    @tag("whole")
    def test_two_say_at_once_who_works_there(self) -> None:
        """The second is told, sees what the first chose with the own tick on it, and keeps both."""
        mill = Site.objects.get(name="Kestrel Mill")
        tam, odell = User.objects.get(username="tam"), User.objects.get(username="odell")
        mill.members.remove(tam, odell)
        one, two = self.sign_in("fenna"), self.another("wren")
        first, second = self.who_works_at_the_mill(one), self.who_works_at_the_mill(two)
        first.get_by_label(str(tam)).check()
        second.get_by_label(str(odell)).check()
        first.get_by_role("button", name="Keep").click()
        expect(first).to_have_count(0)
        second.get_by_role("button", name="Keep").click()
        expect(second.get_by_role("alert")).to_contain_text("Somebody else changed who works here")
        expect(second.get_by_label(str(tam))).to_be_checked()
        expect(second.get_by_label(str(odell))).to_be_checked()
        second.get_by_role("button", name="Keep").click()
        expect(second).to_have_count(0)
        self.assertLessEqual({tam, odell}, set(mill.members.all()))

    def test_two_change_one_account(self) -> None:
        """One lets Tam keep the shelf, the other renames: told once, then both stand."""
        User.objects.filter(username="wren").update(role=Role.ADMINISTRATOR)
        one, two = self.sign_in("fenna"), self.another("wren")
        for page in (one, two):
            page.get_by_role("link", name="People").click()
            page.get_by_role("row", name="Tam Osier").get_by_role("button", name="Change").click()
        first, second = (page.get_by_role("dialog") for page in (one, two))
        first.get_by_label("keep the shelf").check()
        self.typed(second.get_by_label("Name", exact=True), "Tam Osier-Reed")
        first.get_by_role("button", name="Change").click()
        expect(first).to_have_count(0)
        second.get_by_role("button", name="Change").click()
        expect(second.get_by_role("alert")).to_contain_text("Somebody else changed this meanwhile")
        expect(second.get_by_label("keep the shelf")).to_be_checked()
        second.get_by_role("button", name="Change").click()
        expect(second).to_have_count(0)
        tam = User.objects.get(username="tam")
        self.assertEqual((tam.display_name, tam.keeps_shelf), ("Tam Osier-Reed", True))

    @tag("whole")
    def test_a_session_elsewhere_is_ended_by_oneself(self) -> None:
        """Wren finds the tablet signed in and ends it there; here the work goes on."""
        here, there = self.sign_in("wren"), self.another("wren")
        here.get_by_role("button", name="Wren Talley").click()
        here.get_by_role("button", name="Sign out there").click()
        expect(here.get_by_role("button", name="Sign out there")).to_have_count(0)
        there.get_by_role("link", name="Kiln room", exact=True).click()
        expect(there.get_by_role("dialog").get_by_label("Password")).to_be_visible()
        here.keyboard.press("Escape")
        self.open_loop("Kiln room", here)

    @tag("whole")
    def test_who_was_not_given_it_changes_neither_sites_nor_shelf(self) -> None:
        """Tam works with what is there: no button promises what would be refused."""
        page = self.sign_in("tam")
        expect(page.get_by_role("button", name="New loop")).to_be_visible()
        expect(page.get_by_role("button", name="New site")).to_have_count(0)
        page.get_by_role("link", name="Parts shelf").click()
        expect(page.get_by_role("heading", name="Parts shelf")).to_be_visible()
        expect(page.get_by_role("button", name="New part")).to_have_count(0)
        page.goto(f"{self.live_server_url}/people")
        expect(page.get_by_role("heading", name="Round")).to_be_visible()


@tag("whole")
class OutOfSight(InterfaceTest):
    """Archiving and deleting."""

    def test_a_loop_is_archived_with_a_reason_and_brought_back(self) -> None:
        """Gone from the round, in the list of what is archived, on the trail; back with its verdict."""
        page = self.sign_in("wren")
        verdict = page.get_by_role("row", name="Loft landing").locator(".verdict-mark").inner_text()
        self.open_loop("Loft landing")
        page.get_by_role("button", name="Archive…").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_role("button", name="Archive", exact=True)).to_be_disabled()
        dialog.get_by_role("button", name="Delete").click()
        expect(dialog.get_by_role("alert")).to_contain_text("on record")
        self.typed(dialog.get_by_label("Why"), "entered twice")
        dialog.get_by_role("button", name="Archive", exact=True).click()
        expect(page.get_by_role("heading", name="Round")).to_be_visible()
        expect(page.get_by_role("link", name="Loft landing", exact=True)).to_have_count(0)
        page.get_by_role("button", name="Archived loops").click()
        row = page.get_by_role("row", name="Loft landing")
        row.get_by_role("button", name="Bring back").click()
        self.typed(page.get_by_role("dialog").get_by_label("Why"), "it is another one")
        page.get_by_role("dialog").get_by_role("button", name="Bring back").click()
        expect(row).to_have_count(0)
        page.get_by_role("button", name="Back to the round").click()
        expect(page.get_by_role("row", name="Loft landing").locator(".verdict-mark")).to_have_text(verdict)

        checker = self.another("odell")
        checker.get_by_role("link", name="Trail").click()
        expect(checker.get_by_role("row", name="brought back")).to_contain_text("it is another one")
        self.typed(checker.get_by_role("searchbox"), "archived")
        expect(checker.locator("tbody tr")).to_have_count(1)
        expect(checker.get_by_role("row", name="archived")).to_contain_text("entered twice")

    def test_a_fresh_loop_is_deleted_for_good(self) -> None:
        """Entered by mistake a moment ago: nothing is left of it."""
        page = self.sign_in("wren")
        page.get_by_role("button", name="New loop").click()
        page.get_by_role("dialog").get_by_role("combobox", name="Site").click()
        page.get_by_title("Kestrel Mill", exact=True).click()
        self.typed(page.get_by_role("dialog").get_by_label("Name of the loop"), "By mistake")
        page.get_by_role("dialog").get_by_role("button", name="Make", exact=True).click()
        expect(page.get_by_role("heading", name="By mistake")).to_be_visible()
        page.get_by_role("button", name="Archive…").click()
        page.get_by_role("dialog").get_by_role("button", name="Delete").click()
        expect(page.get_by_role("heading", name="Round")).to_be_visible()
        self.assertFalse(Loop.everything.filter(name="By mistake").exists())
        self.assertTrue(User.objects.get(username="wren").is_active)
