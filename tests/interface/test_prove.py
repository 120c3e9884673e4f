"""Step Prove as two people use it: the list with its clock, away from the server, cases from complaint to end."""

from __future__ import annotations

import re

from django.test import tag
from playwright.sync_api import Locator, Page, expect

from loops.models import Gang, Loop
from proving.models import Case, CaseEvidence, ProveMark
from survey.models import Isolation
from tests.interface.base import InterfaceTest


class ProvePage(InterfaceTest):
    """The two sides of the step."""

    def at_list(self, name: str, page: Page | None = None) -> Page:
        """The list of a loop."""
        page = self.open_loop(name, page)
        self.go("Prove", "Prove it", page=page)
        expect(page.get_by_role("article")).to_be_visible()
        return page

    def card(self, page: Page, title: str) -> Locator:
        """The one large item, once it is that one."""
        card = page.get_by_role("article")
        expect(card.get_by_role("heading", level=2)).to_contain_text(title)
        return card

    def press(self, page: Page, title: str, result: str) -> None:
        """A result of an item."""
        self.card(page, title).get_by_role("button", name=result, exact=True).click()

    def complain(self, name: str, page: Page) -> Locator:
        """From the round to the form of a new case."""
        page.get_by_role("link", name=f"Something is wrong … {name}", exact=True).click()
        form = page.get_by_role("form", name="Open a case")
        expect(form).to_be_visible()
        return form

    def other(self, page: Page, title: str) -> None:
        """Another thing to find out than the one that is asked for."""
        page.get_by_text("Or find out something else").click()
        page.locator(".other-tests").get_by_role("button", name=re.compile(re.escape(title))).click()

    def answered(self, page: Page, title: str, answer: str) -> None:
        """An answer to a question that is asked, or that is taken from the others."""
        question = page.locator(".question")
        expect(question).to_be_visible()
        if title not in question.get_by_role("heading").inner_text():
            self.other(page, title)
        expect(question.get_by_role("heading")).to_contain_text(title)
        # Longer than a press that was meant for the question before.
        page.clock.run_for(1_000)
        question.get_by_role("button", name=answer, exact=True).click()
        expect(page.get_by_role("region", name="What was found out")).to_contain_text(answer)


# Every title that the one large item ever had.
WATCHED = """() => {
    const seen = (window.seen = []);
    const look = () => {
        const title = document.querySelector("article h2")?.textContent;
        if (title && seen.at(-1) !== title) seen.push(title);
    };
    new MutationObserver(look).observe(document.body, { subtree: true, childList: true, characterData: true });
    look();
}"""


class TheList(ProvePage):
    """What is tried, watched and read."""

    @tag("whole")
    def test_what_was_pressed_does_not_open_again_on_its_way(self) -> None:
        """Between the press, its arrival and the next look at the list no item comes back under the thumb."""
        page = self.sign_in()
        self.at_list("Wheelhouse stair")
        page.evaluate(WATCHED)
        self.press(page, "on and off", "✓ works")
        self.press(page, "Each lamp", "✓ all light")
        self.card(page, "flicker watch")
        self.all_sent()
        seen = page.evaluate("window.seen")
        self.assertEqual(len(seen), 3, seen)

    @tag("whole")
    def test_the_watch_runs_by_the_clock_and_outlives_a_reload(self) -> None:
        """Dark cannot be pressed before its time, nor after a reload that lost nothing."""
        page = self.sign_in()
        page.clock.install()
        self.at_list("Wheelhouse stair")
        self.press(page, "on and off", "✓ works")
        self.press(page, "Each lamp", "✓ all light")
        card = self.card(page, "flicker watch")
        dark = card.get_by_role("button", name="✓ dark")
        expect(dark).to_be_disabled()
        card.get_by_role("button", name="Lights off, room dark: start the clock").click()
        page.clock.run_for(301_000)
        expect(card.get_by_role("timer")).to_contain_text("Watch the lamps")
        expect(dark).to_be_disabled()
        page.clock.run_for(46_000)
        expect(card.get_by_role("timer")).to_contain_text("somebody switches another load")
        page.reload()
        card = self.card(page, "flicker watch")
        expect(card.get_by_role("timer")).to_contain_text("Watch the lamps")
        page.clock.run_for(260_000)
        expect(card.get_by_role("timer")).to_contain_text("Watched long enough")
        card.get_by_role("button", name="✓ dark").click()
        self.card(page, "one reading")
        self.all_sent()
        mark = ProveMark.objects.get(item="flicker_watch:1")
        self.assertEqual((mark.outcome, mark.detail["watched_s"]), ("passed", 600))

    @tag("whole")
    def test_a_watch_that_was_left_behind_counts_no_more(self) -> None:
        """Begun, and come back to after hours: the clock begins anew, and dark cannot be pressed."""
        page = self.sign_in()
        page.clock.install()
        self.at_list("Wheelhouse stair")
        page.get_by_role("region", name="All items").get_by_role("button", name=re.compile("flicker watch")).click()
        card = self.card(page, "flicker watch")
        card.get_by_role("button", name="Lights off, room dark: start the clock").click()
        page.clock.fast_forward(3 * 3_600_000)
        page.reload()
        page.get_by_role("region", name="All items").get_by_role("button", name=re.compile("flicker watch")).click()
        expect(card.get_by_role("button", name="Lights off, room dark: start the clock")).to_be_visible()
        expect(card.get_by_role("button", name="✓ dark")).to_be_disabled()

    @tag("whole")
    def test_away_from_the_server_nothing_is_lost_and_nothing_is_proved_yet(self) -> None:
        """Marks wait on the device, the next item comes, and they arrive in order."""
        page = self.sign_in()
        self.at_list("Wheelhouse stair")
        self.context.set_offline(True)
        self.press(page, "on and off", "✓ works")
        self.press(page, "Each lamp", "one or more stay dark")
        self.assertEqual(ProveMark.objects.count(), 0)
        self.context.set_offline(False)
        self.all_sent()
        outcomes = dict(ProveMark.objects.values_list("item", "outcome"))
        self.assertEqual(outcomes, {"switches:1:box1": "passed", "each_lamp:1": "failed"})

    def test_what_fails_leads_to_a_case_with_its_sentence(self) -> None:
        """Find out why: the symptom is pressed already, and the case opens with it."""
        page = self.sign_in()
        self.at_list("Wheelhouse stair")
        self.press(page, "on and off", "✓ works")
        self.press(page, "Each lamp", "one or more stay dark")
        page.get_by_role("region", name="All items").get_by_role("button", name=re.compile("Each lamp")).click()
        self.card(page, "Each lamp").get_by_role("button", name="Find out why").click()
        form = page.get_by_role("form", name="Open a case")
        expect(form.get_by_label("One of several lamps stays dark.")).to_be_checked()
        form.get_by_role("button", name="Open the case").click()
        expect(page.get_by_role("heading", name="Case 1")).to_be_visible()
        self.assertEqual(Case.objects.get().told, [{"code": "one_lamp_dark"}])
        self.assertEqual(Case.objects.get().heard, "seen")

    @tag("whole")
    def test_a_reading_by_the_meter_settles_its_item(self) -> None:
        """Read by the stand-in, added, and the item lets pass only what the reading says."""
        page = self.sign_in()
        self.at_list("Wheelhouse stair")
        page.get_by_role("region", name="All items").get_by_role("button", name=re.compile("one reading")).click()
        card = self.card(page, "one reading")
        expect(card.get_by_role("button", name="✓ as computed")).to_be_disabled()
        card.get_by_role("button", name="Enter a reading").click()
        page.get_by_role("combobox", name="Meter").select_option("10 MΩ")
        page.get_by_role("button", name="Read by the simulated meter").click()
        expect(page.get_by_label("Value", exact=True)).to_have_value(re.compile(r"^\d+(\.\d+)? V$"))
        page.get_by_role("button", name="Add reading").click()
        self.all_sent()
        self.go("Prove", "Prove it")
        page.get_by_role("region", name="All items").get_by_role("button", name=re.compile("one reading")).click()
        expect(card.get_by_role("button", name="outside of what was computed")).to_have_count(0)
        card.get_by_role("button", name="✓ as computed").click()
        self.all_sent()
        self.assertEqual(ProveMark.objects.get(item="reading:1").outcome, "passed")

    @tag("whole")
    def test_a_reading_taken_of_other_lamps_without_a_connection_proves_nothing_of_these(self) -> None:
        """Read while the page names the old ones; a colleague puts others down before it arrives: its row says so."""
        page = self.sign_in()
        self.at_list("Wheelhouse stair")
        self.go("Prove", "Readings")
        rows = page.get_by_role("list", name="Measured").get_by_role("listitem")
        page.get_by_role("combobox", name="Meter").select_option("10 MΩ")
        self.context.set_offline(True)
        self.typed(page.get_by_label("Value", exact=True), "41 V")
        page.get_by_role("button", name="Add reading").click()
        expect(rows).to_contain_text("not sent yet")
        expect(rows).not_to_contain_text("of other parts")
        gang = Gang.objects.get(loop__name="Wheelhouse stair")
        lamp = gang.lamps.get()
        lamp.figures = {**lamp.figures, "count": 1}
        lamp.save()
        self.context.set_offline(False)
        self.all_sent()
        expect(rows).to_contain_text("of other parts than hang there now: not counted")
        self.typed(page.get_by_label("Value", exact=True), "42 V")
        page.get_by_role("button", name="Add reading").click()
        self.all_sent()
        expect(rows).to_have_count(2)
        expect(rows.last).not_to_contain_text("of other parts")

    def test_an_isolated_loop_proves_nothing(self) -> None:
        """Said, with the way to the locks; excused it can be, with a reason typed and a name."""
        page = self.sign_in()
        loop = Loop.objects.get(name="Wheelhouse stair")
        row = Isolation.objects.create(site=loop.site, loop=loop, scope="breakers")
        assert loop.circuit is not None
        row.circuits.add(loop.circuit)
        self.at_list("Wheelhouse stair")
        card = self.card(page, "on and off")
        expect(card).to_contain_text("nothing can be proved while it is isolated")
        expect(card.get_by_role("button", name="✓ works")).to_be_disabled()
        card.get_by_role("button", name="Cannot be done, excused").click()
        keep = card.get_by_role("button", name="Keep")
        expect(keep).to_be_disabled()
        self.typed(card.get_by_label("Why, and who says so"), "no key to the board")
        keep.click()
        self.all_sent()
        expect(page.get_by_role("region", name="All items")).to_contain_text("excused, Wren Talley")

    def test_two_people_prove_one_loop(self) -> None:
        """What the one found stands before the other, with a name."""
        page = self.sign_in()
        other = self.another("fenna")
        self.at_list("Wheelhouse stair")
        self.at_list("Wheelhouse stair", other)
        self.press(other, "on and off", "✓ works")
        self.all_sent(other)
        page.reload()
        self.card(page, "Each lamp")
        expect(page.get_by_role("region", name="All items")).to_contain_text("works, Fenna Brook")

    @tag("whole")
    def test_a_reason_that_is_being_typed_stays_with_its_item(self) -> None:
        """A colleague marks the item meanwhile: the next one comes when whoever types asks for it."""
        page = self.sign_in()
        other = self.another("fenna")
        self.at_list("Wheelhouse stair")
        self.at_list("Wheelhouse stair", other)
        card = self.card(page, "on and off")
        card.get_by_role("button", name="Cannot be done, excused").click()
        page.keyboard.type("no key to")
        self.press(other, "on and off", "✓ works")
        expect(page.get_by_role("region", name="All items")).to_contain_text("works, Fenna Brook")
        page.keyboard.type(" the board")
        expect(self.card(page, "on and off").get_by_label("Why, and who says so")).to_have_value("no key to the board")
        card.get_by_role("button", name="Cancel").click()
        expect(card).to_contain_text("passed: works, Fenna Brook")
        card.get_by_role("button", name="To the open item").click()
        self.card(page, "Each lamp")

    @tag("whole")
    def test_who_passes_what_a_colleague_found_to_fail_is_told_and_sees_it(self) -> None:
        """Two at one item in one moment: the failure stands, beside the refusal; seen, it may be tried again."""
        page = self.sign_in()
        other = self.another("fenna")
        self.at_list("Wheelhouse stair")
        self.at_list("Wheelhouse stair", other)
        self.press(other, "on and off", "nothing happens")
        self.all_sent(other)
        self.press(page, "on and off", "✓ works")
        card = self.card(page, "on and off")
        expect(card).to_contain_text("Fenna Brook found meanwhile that it fails")
        items = page.get_by_role("region", name="All items")
        expect(items).to_contain_text("failed: nothing happens, Fenna Brook")
        expect(card).to_contain_text("Fenna Brook found meanwhile that it fails")
        card.get_by_role("button", name="Look again").click()
        self.typed(card.get_by_label("Why it is open again"), "tried together, a lamp was loose")
        card.get_by_role("button", name="Keep").click()
        card.get_by_role("button", name="✓ works").click()
        expect(items).to_contain_text("passed: works, Wren Talley")


class Cases(ProvePage):
    """Something is wrong."""

    @tag("whole")
    def test_from_a_complaint_to_a_cause(self) -> None:
        """Told key by key, a reload in the middle, questions one by one, one struck out; closed, opened again."""
        page = self.sign_in()
        page.clock.install()
        form = self.complain("Loft landing", page)
        form.get_by_label("The light is off, and it blinks in a rhythm.").check()
        self.typed(form.get_by_label("Since when, what was changed"), "since Sunday")
        page.reload()
        expect(form.get_by_label("The light is off, and it blinks in a rhythm.")).to_be_checked()
        expect(form.get_by_label("Since when, what was changed")).to_have_value("since Sunday")
        self.typed(form.get_by_label("From flash to flash"), "0,8")
        expect(form.get_by_label("From flash to flash")).to_have_value("0,8 s")
        form.get_by_role("button", name="Open the case").click()
        expect(page.get_by_role("region", name="What it may be")).to_be_visible()
        expect(page.get_by_role("list", name="What was told")).to_contain_text("From flash to flash 0.800 s")
        self.answered(page, "Ask: what was changed before it began?", "lamps")
        self.answered(page, "Look at the lamps from below", "a smart lamp")
        causes = page.get_by_role("region", name="What it may be")
        expect(causes.get_by_role("listitem").filter(has_text="A smart lamp hangs").first).to_contain_text("9")
        page.get_by_role("button", name="Strike out: Ask: what was changed").click()
        self.typed(page.get_by_role("dialog").get_by_label("Why it is wrong"), "asked the wrong tenant")
        page.get_by_role("dialog").get_by_role("button", name="Strike out").click()
        expect(page.get_by_role("region", name="What was found out")).to_contain_text("asked the wrong tenant")
        page.get_by_role("button", name="Close the case").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_label("What it was")).to_have_value("")
        expect(dialog.get_by_role("button", name="Close the case")).to_be_disabled()
        suspected = dialog.locator("optgroup[label='What it may be'] option")
        expect(suspected.first).to_have_attribute("value", "smart_lamp")
        options = dialog.get_by_label("What it was").locator("option").evaluate_all("all => all.map(one => one.value)")
        self.assertEqual(len(options), len(set(options)))
        dialog.get_by_label("What it was").select_option("smart_lamp")
        likely, others = (
            dialog.locator(f"optgroup[label='{label}'] option") for label in ("What would help", "Everything else")
        )
        helping = page.locator("section[aria-label='What would help'] li")
        expect(likely).to_have_count(helping.count())
        expect(helping.first).to_contain_text(likely.first.inner_text())
        words = others.all_inner_texts()
        self.assertEqual(words, sorted(words, key=str.casefold))
        dialog.get_by_label("What was done").select_option(label="Take the smart lamp out of this loop")
        for field in dialog.locator("select, input").all():
            inside, outside = field.bounding_box() or {}, dialog.bounding_box() or {}
            self.assertLess(inside["x"] + inside["width"], outside["x"] + outside["width"])
        self.typed(dialog.get_by_label("Note, what proved it"), "out of its socket, all is dark")
        # Left chosen, and suspected no more by now: nothing stands there, and nothing is closed with it.
        page.evaluate(
            """Object.entries(localStorage).forEach(([name, left]) => name.includes("close:")
            && localStorage.setItem(name, left.replace('"smart_lamp"', '"smart_lamp+lamp_dead+of_before"')))"""
        )
        page.reload()
        page.get_by_role("button", name="Close the case").click()
        expect(dialog.get_by_label("What was done")).to_have_value("smart_lamp_out")
        expect(dialog.get_by_label("What it was")).to_have_value("")
        expect(dialog.get_by_role("button", name="Close the case")).to_be_disabled()
        dialog.get_by_label("What it was").select_option("smart_lamp")
        page.reload()
        page.get_by_role("button", name="Close the case").click()
        expect(dialog.get_by_label("What was done")).to_have_value("smart_lamp_out")
        tam = self.another("tam")
        tam.goto(page.url)
        tam.get_by_role("button", name="Strike out: Look at the lamps").click()
        self.typed(tam.get_by_role("dialog").get_by_label("Why it is wrong"), "it was the next room")
        tam.get_by_role("dialog").get_by_role("button", name="Strike out").click()
        expect(tam.get_by_text("struck out: it was the next room")).to_be_visible()
        dialog.get_by_role("button", name="Close the case").click()
        expect(dialog.get_by_role("alert")).to_contain_text("has changed since you looked at it")
        expect(page.get_by_text("struck out: it was the next room")).to_be_attached()
        expect(dialog.get_by_label("Note, what proved it")).to_have_value("out of its socket, all is dark")
        dialog.get_by_role("button", name="Close the case").click()
        expect(page.get_by_text("closed: A smart lamp hangs behind the control")).to_be_visible()
        case = Case.objects.get()
        self.assertEqual((case.is_open, case.cause), (False, "smart_lamp"))
        self.assertEqual(case.told, [{"code": "blink_off", "period_s": 0.8}])
        page.get_by_role("button", name="Open again").click()
        self.typed(page.get_by_role("dialog").get_by_label("Why it is open again"), "it blinks again")
        page.get_by_role("dialog").get_by_role("button", name="Open again").click()
        expect(page.get_by_role("heading", name="Case 1")).to_contain_text("open")
        page.get_by_role("link", name="Round").click()
        expect(page.get_by_role("row", name="Loft landing")).to_contain_text("find out what is wrong")

    def test_what_the_server_refuses_is_said_and_stays(self) -> None:
        """A box that nobody isolated: the reason stands there, nothing is kept; not knowing is taken."""
        page = self.sign_in()
        page.clock.install()
        gang = Gang.objects.get(loop__name="Loft landing")
        case = Case.objects.create(
            number=1,
            loop=gang.loop,
            gang=gang,
            told=[{"code": "nothing_lights"}],
            by=gang.loop.site.members.get(username="wren"),
        )
        page.goto(f"{self.live_server_url}/loops/{gang.loop.pk}/1?step=prove&tab=wrong")
        question = page.locator(".question")
        self.other(page, "Isolate, open the switch box")
        expect(question.get_by_role("heading")).to_contain_text("Isolate, open the switch box")
        page.clock.run_for(1_000)
        question.get_by_role("button", name="link missing", exact=True).click()
        expect(page.get_by_text("isolated and proved dead first")).to_be_visible()
        self.assertEqual(CaseEvidence.objects.filter(case=case).count(), 0)

    @tag("whole")
    def test_half_a_value_outlives_a_reload(self) -> None:
        """The question that was taken and what was typed so far stand there again, and the rest is typed."""
        page = self.sign_in()
        page.clock.install()
        form = self.complain("Loft landing", page)
        form.get_by_label("The light is off, and it blinks in a rhythm.").check()
        form.get_by_role("button", name="Open the case").click()
        self.other(page, "Read the supply voltage")
        box = page.locator(".question").get_by_label("Value read", exact=True)
        self.typed(box, "23")
        page.reload()
        expect(box).to_have_value("23 V")
        box.press("Home")
        for _ in "23":
            page.keyboard.press("ArrowRight")
        page.keyboard.type("4")
        page.clock.run_for(1_000)
        page.locator(".question").get_by_role("button", name="Take down").click()
        expect(page.get_by_role("region", name="What was found out")).to_contain_text("234 V")
        self.assertEqual(CaseEvidence.objects.get().data["v_rms"], 234.0)

    @tag("whole")
    def test_away_from_the_server_a_case_waits_on_the_device(self) -> None:
        """It is told where it is, and arrives with what was told."""
        page = self.sign_in()
        form = self.complain("Gallery", page)
        form.get_by_label("It drops off the network").check()
        self.context.set_offline(True)
        form.get_by_role("button", name="Open the case").click()
        expect(page.get_by_text("kept on this device, not arrived yet")).to_be_visible()
        self.assertEqual(Case.objects.count(), 0)
        self.context.set_offline(False)
        expect(page.get_by_role("heading", name="Case 1")).to_be_visible()
        self.assertEqual(Case.objects.get().told, [{"code": "drops_off_network"}])

    @tag("whole")
    def test_two_people_at_one_case_see_each_other(self) -> None:
        """What the one finds out moves the other's causes, with the name."""
        page = self.sign_in()
        page.clock.install()
        form = self.complain("Gallery", page)
        form.get_by_label("It drops off the network").check()
        form.get_by_role("button", name="Open the case").click()
        expect(page.get_by_role("region", name="What it may be")).to_be_visible()
        other = self.another("fenna")
        other.clock.install()
        other.goto(page.url)
        self.answered(other, "Look at the network", "weak signal")
        page.reload()
        found = page.get_by_role("region", name="What was found out")
        expect(found).to_contain_text("weak signal")
        expect(found).to_contain_text("Fenna Brook")
