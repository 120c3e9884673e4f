"""What is looked for: one's own work, and words anywhere on record."""

from __future__ import annotations

import re
from datetime import date, timedelta

from django.test import tag
from playwright.sync_api import Route, expect

from loops.models import Loop
from parts.models import Part
from tests.interface.base import InterfaceTest


class Assignment(InterfaceTest):
    """Two technicians in two browsers."""

    def test_given_by_one_and_done_by_the_other(self) -> None:
        """Chosen in the loop's own dialog; the other finds it under my work, late in words; cleared, it is gone."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        page.get_by_role("button", name="Edit loop").click()
        dialog = page.get_by_role("dialog", name="Edit loop")
        dialog.get_by_role("combobox", name="Whose work it is").click()
        page.get_by_title("Tam Osier").click()
        late = date.today() - timedelta(days=2)
        dialog.get_by_label("Due on").press_sequentially(f"{late:%m%d%Y}")
        dialog.get_by_role("button", name="Change").click()
        expect(dialog).to_be_hidden()
        self.assertEqual(Loop.objects.get(name="Kiln room", site__name="Kestrel Mill").due_on, late)
        tam = self.another("tam")
        tam.get_by_role("button", name="My work").click()
        rows = tam.locator("table.rows tbody tr")
        expect(rows).to_have_count(1)
        expect(rows).to_contain_text("Kiln room")
        expect(rows).to_contain_text("Tam Osier · ! overdue since")
        tam.reload()
        expect(tam.get_by_role("button", name="My work")).to_have_attribute("aria-pressed", "true")
        expect(rows).to_have_count(1)
        page.goto(f"{self.live_server_url}/?mine=1")
        expect(page.get_by_text("Nothing is yours to do.")).to_be_visible()

    @tag("whole")
    def test_my_work_stays_where_the_finger_goes_down(self) -> None:
        """The sites arrive late: *New loop* comes into its own place, and nothing slips under a finger that is down."""
        page = self.sign_in("tam")
        held: list[Route] = []
        page.route("**/api/v1/sites/*", lambda one: held.append(one))
        page.reload()
        mine, new = (page.get_by_role("button", name=name) for name in ("My work", "New loop"))
        expect(mine).to_be_visible()
        page.evaluate("document.fonts.ready")
        mine.hover()
        page.mouse.down()
        expect(new).to_be_disabled()
        for one in held:
            one.continue_()
        page.unroute("**/api/v1/sites/*")
        expect(new).to_be_enabled()
        page.mouse.up()
        expect(mine).to_have_attribute("aria-pressed", "true")

    @tag("whole")
    def test_what_a_colleague_gave_meanwhile_is_not_taken_back(self) -> None:
        """The dialog is open while another gives the loop away and the page asks anew: told once, nothing is lost."""
        self.page.clock.install()
        page, other = self.sign_in(), self.another("fenna")
        for who in (page, other):
            self.open_loop("Kiln room", who)
            who.get_by_role("button", name="Edit loop").click()
        theirs, dialog = (who.get_by_role("dialog", name="Edit loop") for who in (other, page))
        self.typed(dialog.get_by_label("Note"), "Ring before coming")
        theirs.get_by_role("combobox", name="Whose work it is").click()
        other.get_by_title("Tam Osier").click()
        theirs.get_by_role("button", name="Change").click()
        expect(theirs).to_be_hidden()
        # As by coming back to the tab.
        with page.expect_response(re.compile(r"/api/v1/loops/[0-9a-f-]{36}/$")):
            page.clock.fast_forward(60_000)
            page.evaluate("() => window.dispatchEvent(new Event('visibilitychange'))")
        dialog.get_by_role("button", name="Change").click()
        expect(dialog.get_by_role("alert")).to_contain_text("Somebody else changed this meanwhile")
        expect(dialog).to_contain_text("Tam Osier")
        expect(dialog.get_by_label("Note")).to_have_value("Ring before coming")
        dialog.get_by_role("button", name="Change").click()
        expect(dialog).to_be_hidden()
        kept = Loop.objects.get(name="Kiln room", site__name="Kestrel Mill")
        assert kept.assigned is not None
        self.assertEqual((kept.note, kept.assigned.username), ("Ring before coming", "tam"))

    @tag("whole")
    def test_what_is_half_typed_is_neither_lost_nor_put_over_a_colleagues(self) -> None:
        """A touch beside the dialog and a reload lose nothing; what changed meanwhile is told; given up, it is gone."""
        page, other = self.sign_in(), self.another("fenna")
        self.open_loop("Kiln room")
        edit = page.get_by_role("button", name="Edit loop")
        edit.click()
        dialog = page.get_by_role("dialog", name="Edit loop")
        again = dialog.get_by_text("What you had typed here before")
        expect(dialog.get_by_label("Note")).to_be_visible()
        expect(again).to_have_count(0)
        before = dialog.get_by_label("Note").input_value()
        self.typed(dialog.get_by_label("Note"), "Ring before coming")
        page.mouse.click(8, 300)
        expect(dialog.get_by_label("Note")).to_have_value("Ring before coming")
        page.reload()
        self.open_loop("Kiln room", other)
        other.get_by_role("button", name="Edit loop").click()
        theirs = other.get_by_role("dialog", name="Edit loop")
        self.typed(theirs.get_by_label("Note"), "Bring the ladder")
        theirs.get_by_role("button", name="Change").click()
        expect(theirs).to_be_hidden()
        page.reload()
        edit.click()
        expect(again).to_be_visible()
        expect(dialog.get_by_label("Note")).to_have_value("Ring before coming")
        dialog.get_by_role("button", name="Change").click()
        expect(dialog.get_by_role("alert")).to_contain_text("Somebody else changed this meanwhile")
        page.keyboard.press("Escape")
        expect(dialog).to_be_hidden()
        edit.click()
        expect(dialog.get_by_label("Note")).to_have_value("Bring the ladder")
        expect(again).to_have_count(0)
        self.assertNotEqual(before, "Bring the ladder")
        dialog.get_by_role("button", name="Cancel").click()
        other.reload()
        other.get_by_role("button", name="Edit loop").click()
        expect(theirs.get_by_label("Note")).to_have_value("Bring the ladder")
        expect(theirs.get_by_text("What you had typed here before")).to_have_count(0)


@tag("whole")
class Everywhere(InterfaceTest):
    """Words."""

    def test_from_the_round_to_wherever_it_stands(self) -> None:
        """A word that no loop has is found on the shelf and leads there; typed key by key, kept by a reload."""
        page = self.sign_in()
        part = Part.objects.filter(category="control").order_by("name")[0]
        self.typed(page.get_by_role("searchbox", name="Search loops"), part.name)
        page.get_by_role("link", name=f"Search everywhere for “{part.name}”").click()
        expect(page.get_by_role("heading", name="Search everywhere")).to_be_visible()
        shelf = page.get_by_role("region", name="Parts of the shelf")
        expect(shelf.get_by_role("link").first).to_be_visible()
        page.reload()
        expect(page.get_by_role("searchbox", name="Words")).to_have_value(part.name)
        shelf.get_by_role("link").first.click()
        expect(page.get_by_role("heading", name=part.name)).to_be_visible()
        page.go_back()
        self.typed(page.get_by_role("searchbox", name="Words"), "no such words")
        expect(page.get_by_text("Nothing on record has all of these words.")).to_be_visible()

    def test_the_link_pressed_between_two_keys(self) -> None:
        """Whoever leaves the round before its search is asked stays where they went, however late that page comes."""
        page = self.sign_in()
        held: list[Route] = []
        page.route("**/SearchPage*", lambda one: held.append(one))
        field = page.get_by_role("searchbox", name="Search loops")
        self.typed(field, "dim")
        link = page.get_by_role("link", name="Search everywhere for")
        expect(link).to_be_visible()
        field.focus()
        page.keyboard.type("m")
        link.dispatch_event("click")
        expect(page).to_have_url(re.compile("/search"))
        page.evaluate("new Promise((done) => setTimeout(done, 600))")
        expect(page).to_have_url(re.compile("/search"))
        for one in held:
            one.continue_()
        page.unroute("**/SearchPage*")
        expect(page.get_by_role("heading", name="Search everywhere")).to_be_visible()
        expect(page.get_by_role("searchbox", name="Words")).to_have_value(re.compile("^dimm?$"))

    def test_a_link_to_the_round_clears_its_search(self) -> None:
        """What a link asks wins over what stood in the field, which does not ask again by itself."""
        page = self.sign_in()
        field = page.get_by_role("searchbox", name="Search loops")
        self.typed(field, "dim")
        expect(page).to_have_url(re.compile("search=dim"))
        page.get_by_role("link", name="Round", exact=True).click()
        expect(field).to_have_value("")
        page.evaluate("new Promise((done) => setTimeout(done, 600))")
        expect(page).not_to_have_url(re.compile("search="))
