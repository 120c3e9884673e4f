"""The whole story of one new loop, by hand: telephone call, survey, parts, way, fitting, proving, signed issue."""

from __future__ import annotations

import re

from django.test import tag
from playwright.sync_api import Locator, Page, expect

from fitting.models import FitMark
from handover.models import Issue, Signature
from handover.services.issuing import faults_of
from loops.models import Loop
from survey.models import Proof
from tests.interface.test_fit import PICTURE, FitPage
from tests.interface.test_handover import HandoverPage

MOST_STEPS = 60


@tag("whole")
class Story(FitPage):
    """From nothing but a site to handed over."""

    site = "Kestrel Mill"
    lamp = ("Plain bulb", "Plain bulb 6 W")
    lamp_count = "4"
    control = ("Relay S1", "Relay S1, 802.15.4 mesh")
    bypass: tuple[str, str] | None = None
    name = "Willow stair"

    def test_from_a_telephone_call_to_a_signed_issue(self) -> None:
        """Every word typed and every press in its place, a reload between two steps, a checker in another browser."""
        page = self.sign_in()
        self.asked(page)
        self.surveyed(page)
        self.parted(page)
        self.way_chosen(page)
        page.reload()
        self.fitted(page)
        self.proved_to_work(page)
        self.handed_over(page)
        loop, issue = Loop.objects.get(name=self.name), Issue.objects.get()
        self.assertEqual((loop.stage, loop.next_step), ("handed_over", "done"))
        self.assertEqual(faults_of(issue), [])
        self.assertEqual(set(Signature.objects.values_list("role", flat=True)), {"technician", "client", "checker"})
        # Every place was proved dead before hands went in, each time anew.
        safe = FitMark.objects.filter(loop=loop, step__startswith="safe")
        self.assertTrue(safe)
        self.assertEqual(len({mark.proof_id for mark in safe} - {None}), len(safe))
        self.assertEqual(Proof.objects.filter(loop=loop).exclude(ended_at=None).count(), len(safe))
        # What the record says, the paper says.
        self.assertIn(self.name, issue.content)

    def asked(self, page: Page) -> None:
        """What was told on the telephone."""
        page.get_by_role("button", name="New loop").click()
        dialog = page.get_by_role("dialog", name="New loop")
        dialog.get_by_role("combobox", name="Site").click()
        page.get_by_title(self.site, exact=True).click()
        self.typed(dialog.get_by_label("Name of the loop"), self.name)
        self.typed(dialog.get_by_label("New breaker"), "31")
        self.typed(dialog.get_by_label("Note: complaint"), "Told by telephone: a switch by app is wanted.")
        dialog.get_by_role("button", name="Make").click()
        expect(page.get_by_role("heading", name=self.name)).to_be_visible()
        expect(page.get_by_role("heading", name="Before the visit")).to_be_visible()
        self.typed(page.get_by_label("Wired in the year"), "1974")
        self.saved()

    def surveyed(self, page: Page) -> None:
        """The box as found, its size, and which conductor is which by the meter."""
        self.go("Box", "As found")
        self.drawn_and_seen()
        page.get_by_label("Every conductor in the box is listed").check()
        for label, value in (("Depth", "47 mm"), ("Width", "70 mm"), ("Height", "70 mm")):
            field = page.get_by_label(label, exact=True)
            if field.count():
                self.typed(field, value)
        self.saved()
        self.go("Box", "Which is which")
        self.take_asked_readings()
        panel = page.get_by_role("complementary", name="What the box tells")
        expect(panel.get_by_role("status")).to_have_text("Every conductor on the list is known.")

    def parted(self, page: Page) -> None:
        """Lamps and control from the shelf, judged and kept."""
        self.go("Parts", "Lamps")
        self.typed(page.get_by_label("Lamps in this group"), self.lamp_count)
        self.taken(page, *self.lamp)
        self.go("Parts", "Control")
        self.taken(page, *self.control)
        if self.bypass:
            page.get_by_role("button", name="No bypass").click()
            page.get_by_role("button", name="Add bypass").click()
            self.taken(page, *self.bypass)
        self.overall(re.compile("works"))
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()

    def taken(self, page: Page, typed: str, title: str) -> None:
        """A part of the shelf, by the end of its name."""
        page.get_by_role("combobox", name="From the shelf").click()
        page.keyboard.type(typed)
        page.locator(f'[title$="{title}"]').first.click()

    def way_chosen(self, page: Page) -> None:
        """The favoured way, with why."""
        self.go("Route", "Ways")
        favoured = page.get_by_role("article").filter(has_text="Favoured").first
        expect(favoured).to_be_visible()
        favoured.get_by_role("button", name="Choose this way").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Why this one"), "No neutral in the box.")
        dialog.get_by_role("button", name="Choose this way").click()
        expect(page.get_by_role("region", name="Wire map", exact=True)).to_be_visible()

    def fitted(self, page: Page) -> None:
        """Step after step, whatever the way asks for, until nothing is left."""
        self.go("Fit")
        done = page.get_by_role("heading", name="Fitted")
        card = page.get_by_role("article")
        expect(card.or_(done).first).to_be_visible()
        for _ in range(MOST_STEPS):
            if done.is_visible():
                return
            title = card.get_by_role("heading", level=2).inner_text()
            self.step_done(page, card)
            expect(
                done.or_(card.get_by_role("heading", level=2).filter(has_not_text=exactly(title))).first
            ).to_be_visible()
        self.fail("fitting never ended")

    def step_done(self, page: Page, card: Locator) -> None:
        """One step: made safe, photographed, or done."""
        # While an entry is on its way nobody knows what is missing; for the first half second nothing can be pressed.
        self.all_sent(page)
        proved = card.get_by_role("button", name=re.compile("✓ Proved dead"))
        if proved.count():
            missing = card.locator(".fit-missing")
            expect(missing.or_(card.locator(".fit-tick:enabled")).first).to_be_visible()
            if missing.count():
                self.cut_off(page)
            proved.click()
            return
        if card.get_by_role("button", name="✓ Photographed").count():
            card.locator('input[type="file"]').set_input_files(PICTURE)
            expect(card.get_by_role("button", name="✓ Photographed")).to_be_enabled()
            card.get_by_role("button", name="✓ Photographed").click()
            return
        # A heavy thumb is given a moment in which nothing can be pressed.
        press = card.locator("button:enabled").filter(has_text="✓").first
        if re.search("Locks off|Power back", card.get_by_role("heading", level=2).inner_text()):
            self.power(page)
        expect(press).to_be_visible()
        press.click()

    def proved_to_work(self, page: Page) -> None:
        """Each item tried; what needs hours or a meter is excused with its reason."""
        self.go("Prove", "Prove it")
        card = page.get_by_role("article")
        expect(card).to_be_visible()
        # What was done on the last step is known here too, without a reload.
        next_step = page.get_by_role("complementary", name="Why").locator(".next-action")
        expect(next_step).to_have_text("Prove it")
        items = page.get_by_role("region", name="All items").get_by_role("listitem")
        for _ in range(items.count()):
            if card.count() == 0:
                break
            title = card.get_by_role("heading", level=2).inner_text()
            good = card.get_by_role("button", name="✓").first
            if good.count() and good.is_enabled():
                good.click()
            else:
                card.get_by_role("button", name="Cannot be done, excused").click()
                self.typed(card.get_by_label("Why, and who says so"), "the tenant comes back tonight, said Wren")
                card.get_by_role("button", name="Keep").click()
            self.all_sent()
            if Loop.objects.get(name=self.name).stage == "proved":
                break
            expect(card.get_by_role("heading", level=2).filter(has_not_text=exactly(title))).to_be_visible()
        self.assertEqual(Loop.objects.get(name=self.name).stage, "proved")

    def handed_over(self, page: Page) -> None:
        """Issue 1: technician and client on this tablet, the checker at the desk."""
        self.go("Hand over", "Sign")
        page.get_by_role("button", name="Make issue 1").click()
        expect(page.get_by_role("article", name="Issue 1")).to_be_visible()
        HandoverPage.sign(self, page, "technician")
        HandoverPage.sign(self, page, "client", "Ida Marl")
        other = self.another("odell")
        other.get_by_role("link", name="Handing over").click()
        other.get_by_role("list", name="What waits").get_by_role("link", name=self.name).click()
        expect(other.get_by_role("region", name="Look at this first")).to_contain_text("the tenant comes back tonight")
        HandoverPage.sign(self, other, "checker")
        expect(other.get_by_role("region", name="Stages").get_by_role("status")).to_contain_text("handed over")
        page.get_by_role("link", name="Round").click()
        row = page.get_by_role("row").filter(has_text=self.name)
        expect(row).to_contain_text("nothing to do")
        expect(row).to_contain_text("handed over")

    def form(self, page: Page, role: str) -> Locator:
        """As the page of signing does it."""
        return HandoverPage.form(self, page, role)

    def draw(self, form: Locator) -> None:
        """As the page of signing does it."""
        HandoverPage.draw(self, form)


class InTheCannery(Story):
    """The same at 120 V, in the other words of the trade, with a bypass at the one lamp."""

    site = "Larkspur Cannery"
    lamp = ("Downlight", "Downlight 9 W, 120 V")
    lamp_count = "1"
    control = ("Relay S1A", "Relay S1A, 802.15.4 mesh, 120 V")
    bypass = ("X2 pack 470", "X2 pack 470 nF (made for 230 V)")
    name = "Brine stair"


def exactly(text: str) -> re.Pattern[str]:
    """This text and no longer one."""
    return re.compile(f"^{re.escape(text)}$")
