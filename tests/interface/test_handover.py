"""Step Hand over as people use it: signed on the tablet, by two in two browsers, asked back, cheated, reloaded."""

from __future__ import annotations

import re
import uuid

from django.test import tag
from playwright.sync_api import Locator, Page, expect

from accounts.models import User
from demo.handovers import FOUND
from handover.models import Issue, Signature
from loops.models import Loop
from proving.services.listing import prove_standing
from proving.services.marking import mark_item
from tests.interface.base import InterfaceTest
from tests.interface.readable import readable


class HandoverPage(InterfaceTest):
    """A loop that hangs there and was proved by Wren."""

    loop = "Loft landing"

    def setUp(self) -> None:
        super().setUp()
        wren, loop = User.objects.get(username="wren"), Loop.objects.get(name=self.loop)
        rest = {"reason": "", "watched_s": None, "taps_s": [], "basis": "", "made_at": None}
        for item in prove_standing(loop).items:
            found = FOUND.get(item.act.value, {"result": "excused", "reason": "no meter up there"})
            mark_item(wren, loop.pk, {"id": uuid.uuid4(), "item": item.key, **rest, **found})

    def at_sign(self, page: Page | None = None) -> Page:
        """The part where it is signed."""
        page = self.open_loop(self.loop, page)
        self.go("Hand over", "Sign", page=page)
        expect(page.get_by_role("region", name="Stages")).to_be_visible()
        return page

    def make(self, page: Page, number: int) -> Locator:
        """The next issue."""
        page.get_by_role("button", name=f"Make issue {number}").click()
        return self.issue(page, number)

    def issue(self, page: Page, number: int) -> Locator:
        """An issue, once it is shown."""
        article = page.get_by_role("article", name=f"Issue {number}")
        expect(article).to_be_visible()
        return article

    def form(self, page: Page, role: str) -> Locator:
        """The form to sign in, opened; eye and keys go there, and back when somebody does not sign after all."""
        button = page.get_by_role("button", name=f"Sign: {role}")
        form = page.get_by_role("form", name=re.compile(f"signed as {role}"))
        button.click()
        form.get_by_role("button", name="Not now").click()
        expect(button).to_be_focused()
        page.keyboard.press("Enter")
        expect(form.get_by_role("radio").first).to_be_focused()
        expect(form.get_by_role("button", name="Sign it")).to_be_in_viewport()
        return form

    def draw(self, form: Locator) -> None:
        """A hand that signs: pressed, moved, let go, and once more."""
        pad = form.get_by_role("img", name="Sign here")
        pad.scroll_into_view_if_needed()
        box = pad.bounding_box()
        assert box is not None
        mouse = form.page.mouse
        for line in (0.3, 0.6):
            mouse.move(box["x"] + 40, box["y"] + box["height"] * line)
            mouse.down()
            for k in range(1, 9):
                mouse.move(box["x"] + 40 + 30 * k, box["y"] + box["height"] * line + (12 if k % 2 else -12))
            mouse.up()

    def sign(self, page: Page, role: str, name: str = "") -> None:
        """Drawn, with a client's own name."""
        form = self.form(page, role)
        if name:
            self.typed(form.get_by_label("Client’s name"), name)
        self.draw(form)
        form.get_by_role("button", name="Sign it").click()
        expect(form).to_have_count(0)


@tag("whole")
class FromIssueToHandedOver(HandoverPage):
    """The whole way."""

    def test_two_people_from_the_first_issue_to_handed_over(self) -> None:
        """Issue, hand, reloads, client on the same tablet, asked back, next issue, password, checker, the round."""
        page = self.sign_in()
        expect(page.get_by_role("row", name=self.loop)).to_contain_text("hand it over")
        page.get_by_role("row", name=self.loop).get_by_role("link", name="hand it over").click()
        expect(page.get_by_role("region", name="Look at this first")).to_contain_text("no meter up there")
        self.typed(page.get_by_label("What it is made for, if anything"), "before the tenant moves in")
        page.reload()
        expect(page.get_by_label("What it is made for, if anything")).to_have_value("before the tenant moves in")
        first = self.make(page, 1)
        expect(first).to_contain_text("as they were made")
        self.sign(page, "technician")
        expect(page.get_by_role("list", name="Signatures")).to_contain_text("Wren Talley")
        page.reload()
        self.sign(page, "client", "Ida Marl")
        expect(page.get_by_role("list", name="Signatures")).to_contain_text("Ida Marl")
        expect(page.get_by_text("Still missing: checker")).to_be_visible()
        page.get_by_role("link", name="Round").click()
        page.get_by_role("row", name=self.loop).get_by_role("link", name="have the checker sign").click()
        expect(page.get_by_text("Still missing: checker")).to_be_visible()

        other = self.another("odell")
        other.get_by_role("link", name="Handing over").click()
        waits = other.get_by_role("list", name="What waits")
        expect(waits).to_contain_text("Your turn: A checker has to sign.")
        readable(self, other, "the board")
        waits.get_by_role("link", name=self.loop).click()
        self.issue(other, 1)
        other.get_by_role("button", name="Ask back").click()
        self.typed(other.get_by_label("What is wanted first"), "Measure at the lamps first.")
        other.reload()
        other.get_by_role("button", name="Ask back").click()
        expect(other.get_by_label("What is wanted first")).to_have_value("Measure at the lamps first.")
        other.get_by_role("dialog").get_by_role("button", name="Ask back about issue 1").click()
        expect(self.issue(other, 1)).to_contain_text("Asked back by Odell Marsh")
        self.assertEqual(Signature.objects.count(), 2)

        expect(page.get_by_role("alert").filter(has_text="asks back about issue 1")).to_contain_text(
            "Measure at the lamps first."
        )
        self.make(page, 2)
        form = self.form(page, "technician")
        form.get_by_label("with my password").check()
        self.typed(form.get_by_label("Your password"), "a-guess-of-mine")
        form.get_by_role("button", name="Sign it").click()
        expect(form.get_by_role("alert")).to_contain_text("That is not your password.")
        self.typed(form.get_by_label("Your password"), "kestrel-demo")
        form.get_by_role("button", name="Sign it").click()
        expect(form).to_have_count(0)
        form = self.form(page, "client")
        form.get_by_label("nobody is there").check()
        self.typed(form.get_by_label("Why the client does not sign"), "signed the first one, is away")
        page.reload()
        page.get_by_role("button", name="Sign: client").click()
        expect(form.get_by_label("nobody is there")).to_be_checked()
        expect(form.get_by_label("Why the client does not sign")).to_have_value("signed the first one, is away")
        form.get_by_role("button", name="Keep the reason").click()
        expect(form).to_have_count(0)

        other.reload()
        self.issue(other, 1)
        expect(other.get_by_text("There is a later one: issue 2.")).to_be_visible()
        other.get_by_label("Issues").select_option(index=0)
        self.issue(other, 2)
        self.sign(other, "checker")
        expect(other.get_by_role("region", name="Stages").get_by_role("status")).to_contain_text("handed over")
        page.get_by_role("link", name="Round").click()
        expect(page.get_by_role("row", name=self.loop)).to_contain_text("nothing to do")
        expect(page.get_by_role("row", name=self.loop)).to_contain_text("handed over")

    def test_a_change_afterwards_makes_the_next_issue_with_its_difference(self) -> None:
        """A note typed on the loop: the step says so beside the issue, which stays as it was."""
        page = self.sign_in()
        self.at_sign()
        self.make(page, 1)
        page.get_by_role("button", name="Edit loop").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Note"), "ladder in the loft")
        dialog.get_by_role("button", name="Change").click()
        expect(dialog).to_have_count(0)
        changed = page.get_by_role("region", name="Changed on record since issue 1")
        expect(changed).to_contain_text("ladder in the loft")
        self.make(page, 2)
        expect(page.get_by_role("region", name="New since issue 1")).to_contain_text("ladder in the loft")
        self.assertNotIn("ladder in the loft", Issue.objects.get(number=1).content)


class Refused(HandoverPage):
    """What goes wrong."""

    @tag("whole")
    def test_an_empty_field_and_a_lost_connection_lose_nothing(self) -> None:
        """Nothing drawn is said; drawn without a connection it says so, and the strokes are still there to send."""
        page = self.sign_in()
        self.at_sign()
        self.make(page, 1)
        form = self.form(page, "technician")
        form.get_by_role("button", name="Sign it").click()
        expect(form.get_by_role("alert")).to_contain_text("There is no signature in the field")
        self.draw(form)
        page.context.set_offline(True)
        form.get_by_role("button", name="Sign it").click()
        expect(form.get_by_role("alert")).to_be_visible()
        expect(form.get_by_role("alert")).not_to_contain_text("There is no signature")
        self.assertEqual(Signature.objects.count(), 0)
        page.context.set_offline(False)
        form.get_by_role("button", name="Sign it").click()
        expect(form).to_have_count(0)
        self.assertEqual(Signature.objects.count(), 1)

    @tag("whole")
    def test_an_issue_that_somebody_altered_says_so_and_is_not_signed(self) -> None:
        """The page tells what is not as it was made, and no button signs it."""
        page = self.sign_in()
        self.at_sign()
        self.make(page, 1)
        row = Issue.objects.get()
        Issue.objects.filter(pk=row.pk).update(content=row.content.replace("dark, Wren", "glow, Wren", 1))
        self.assertNotEqual(Issue.objects.get().content, row.content)
        page.reload()
        article = self.issue(page, 1)
        expect(article.get_by_role("alert")).to_contain_text("is not as it was made")
        expect(page.get_by_role("button", name=re.compile("^Sign:"))).to_have_count(0)

    def test_a_checker_does_not_sign_own_work(self) -> None:
        """The administrator who proved an item is told so; the technician has no button for the checker."""
        fenna, loop = User.objects.get(username="fenna"), Loop.objects.get(name=self.loop)
        item = prove_standing(loop).items[0].key
        rest = {"reason": "looked again", "watched_s": None, "taps_s": [], "basis": "", "made_at": None}
        mark_item(fenna, loop.pk, {"id": uuid.uuid4(), "item": item, "result": "excused", **rest})
        page = self.sign_in()
        self.at_sign()
        self.make(page, 1)
        expect(page.get_by_role("button", name="Sign: checker")).to_have_count(0)
        other = self.another("fenna")
        self.at_sign(other)
        expect(self.issue(other, 1)).to_contain_text("You worked on this loop: another checker signs it.")
        expect(other.get_by_role("button", name="Sign: checker")).to_have_count(0)
        other.get_by_role("link", name="Handing over").click()
        other.get_by_label("A checker may sign what they worked on themselves").click()
        expect(other.get_by_label("A checker may sign what they worked on themselves")).to_be_checked()
        self.at_sign(self.home(other))
        expect(other.get_by_role("button", name="Sign: checker")).to_be_visible()

    def home(self, page: Page) -> Page:
        """To the round."""
        page.get_by_role("link", name="Round").click()
        return page
