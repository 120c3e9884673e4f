"""Figures and words as hands put them in: key by key, by mouse, keyboard and touch."""

from __future__ import annotations

import re

from django.test import tag
from playwright.sync_api import Locator, Page, expect

from handover.models import Rules
from handover.services.standing import rules as rules_of_firm
from loops.models import Gang, Loop
from sites.models import Site
from tests.browser import TABLET
from tests.interface.base import InterfaceTest, middle
from work.models import CeilingPoint

CAPACITANCE = "capacitance"

# What a busy tablet does: everything that was put off to "in a moment" comes when the next key is long pressed.
BUSY = """
const at = window.setTimeout;
window.setTimeout = (what, later = 0, ...given) => at(what, later < 5 ? 400 : later, ...given);
"""


class Keys(InterfaceTest):
    """The field of a figure."""

    def capacitance(self) -> Locator:
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Bypass")
        return page.get_by_label(CAPACITANCE, exact=True)

    def watched(self, field: Locator, text: str) -> None:
        """Each key leaves exactly what was typed so far."""
        field.click()
        field.page.keyboard.press("Control+a")
        field.page.keyboard.press("Delete")
        for count, key in enumerate(text, start=1):
            field.page.keyboard.type(key)
            self.assertEqual(field.input_value(), text[:count])

    def test_nothing_is_rewritten_while_it_is_typed(self) -> None:
        """On the bench, as the trade writes values; read when the field is left, by Enter and by a click elsewhere."""
        field = self.capacitance()
        for text, leave, shown in (
            ("22n", "Enter", "22 nF"),
            ("4.7u", "Tab", "4.7 µF"),
            ("0,22 uF", "click", "220 nF"),
            ("2u2", "Enter", "2.2 µF"),
            ("330", "Tab", "330 nF"),
        ):
            with self.subTest(text):
                self.watched(field, text)
                if leave == "click":
                    self.page.get_by_role("heading", name="Loft landing").click()
                else:
                    self.page.keyboard.press(leave)
                expect(field).to_have_value(shown)
                expect(self.page.locator(".thread")).to_contain_text(shown.split()[0])

    @tag("whole")
    def test_a_length_and_a_current_take_the_unit_that_their_field_says(self) -> None:
        """35 is 35 mm and 2.1 is 2.1 mA; with another unit than its own a figure is not taken."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        page.keyboard.press("3")
        depth = page.get_by_label("Depth", exact=True)
        for text, shown in (("35", "35 mm"), ("35 mm", "35 mm"), ("3.5 cm", "35 mm"), ("0,035 m", "35 mm")):
            self.watched(depth, text)
            page.keyboard.press("Tab")
            expect(depth).to_have_value(shown)
        page.get_by_role("link", name="Round").click()
        self.open_loop("Kiln room")
        page.get_by_role("tab", name="Instruments").click()
        measure = page.get_by_role("region", name="Measure and narrow")
        measure.get_by_label("Measure and narrow", exact=True).select_option("line_i")
        value = measure.get_by_label("Value", exact=True)
        self.watched(value, "2.1")
        page.keyboard.press("Enter")
        expect(measure.get_by_role("list", name="Measured")).to_contain_text("2.10 mA")

    def test_an_unlikely_value_is_asked_about_and_counts_only_then(self) -> None:
        """An ampere for a milliampere: nothing is kept until it is said which was meant."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        page.get_by_role("tab", name="Instruments").click()
        measure = page.get_by_role("region", name="Measure and narrow")
        measure.get_by_label("Measure and narrow", exact=True).select_option("line_i")
        value = measure.get_by_label("Value", exact=True)
        self.typed(value, "2.1 A")
        expect(measure.get_by_role("alert")).to_contain_text("2.10 A is far from what is usual here")
        measure.get_by_role("button", name="Add reading", exact=True).click()
        rows = measure.get_by_role("list", name="Measured").get_by_role("listitem")
        expect(rows).to_have_count(0)
        measure.get_by_role("button", name="Value: I meant 2.10 mA").click()
        measure.get_by_role("button", name="Add reading", exact=True).click()
        expect(rows).to_have_count(1)
        expect(rows).to_contain_text("2.10 mA")

    @tag("whole")
    def test_half_a_reading_outlives_a_reload_and_is_gone_once_added(self) -> None:
        """With what it is of; also over a look at another page of the loop."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        instruments = page.get_by_role("tab", name="Instruments")
        instruments.click()
        measure = page.get_by_role("region", name="Measure and narrow")
        kind, value = measure.get_by_label("Measure and narrow", exact=True), measure.get_by_label("Value", exact=True)
        kind.select_option("line_i")
        self.typed(value, "2.1 mA")
        page.reload()
        instruments.click()
        expect(value).to_have_value("2.1 mA")
        self.go("Parts", "Lamps")
        self.go("Judge")
        instruments.click()
        expect(kind).to_have_value("line_i")
        expect(value).to_have_value("2.1 mA")
        measure.get_by_role("button", name="Add reading", exact=True).click()
        expect(measure.get_by_role("list", name="Measured")).to_contain_text("2.10 mA")
        page.reload()
        instruments.click()
        expect(value).to_have_value("")

    @tag("whole")
    def test_undo_goes_back_an_edit_and_escape_a_word(self) -> None:
        """Not a key at a time; Escape takes back what was not yet taken."""
        field = self.capacitance()
        before = field.input_value()
        self.watched(field, "330 nF")
        self.page.keyboard.press("Enter")
        self.watched(field, "999")
        self.page.keyboard.press("Escape")
        expect(field).to_have_value("330 nF")
        self.page.get_by_role("button", name="Undo").click()
        expect(field).to_have_value(before)
        expect(self.page.get_by_text("as recorded")).to_be_visible()
        expect(self.page.get_by_role("button", name="Undo")).to_be_disabled()

    @tag("whole")
    def test_keeping_by_keys_takes_what_is_half_typed_along(self) -> None:
        """The figure under the fingers is kept too, not the one before it."""
        field = self.capacitance()
        self.watched(field, "330n")
        self.page.keyboard.press("Control+s")
        expect(self.page.get_by_text("as recorded")).to_be_visible()
        expect(field).to_have_value("330 nF")
        stored = Gang.objects.get(loop__name="Loft landing").bypasses.get().figures["c_f"]
        self.assertEqual(stored["typical"], 3.3e-7)

    @tag("whole")
    def test_a_reload_in_the_middle_of_a_figure_keeps_it(self) -> None:
        """The page goes while the field has the focus: what was typed is on the bench afterwards."""
        field = self.capacitance()
        self.watched(field, "330n")
        self.page.reload()
        expect(self.page.get_by_label(CAPACITANCE, exact=True)).to_have_value("330 nF")

    @tag("whole")
    def test_a_typed_value_is_nobody_s_declaration(self) -> None:
        """Its source is asked; until it is said it counts as assumed, whatever stood there before."""
        field = self.capacitance()
        source = self.page.get_by_label(f"Source: {CAPACITANCE}", exact=True)
        expect(source).to_have_value("declared")
        self.typed(field, "330")
        expect(source).to_have_value("")
        self.page.get_by_role("button", name="Keep", exact=True).click()
        expect(self.page.get_by_text("as recorded")).to_be_visible()
        stored = Gang.objects.get(loop__name="Loft landing").bypasses.get().figures["c_f"]
        self.assertEqual((stored["source"], stored["low"], stored["high"]), ("assumed", 3.3e-7, 3.3e-7))
        source.select_option("measured")
        self.page.get_by_role("button", name="Keep", exact=True).click()
        expect(self.page.get_by_text("as recorded")).to_be_visible()
        stored = Gang.objects.get(loop__name="Loft landing").bypasses.get().figures["c_f"]
        self.assertEqual(stored["source"], "measured")

    @tag("whole")
    def test_a_range_is_put_in_where_one_is_wanted(self) -> None:
        """Lowest and highest beside the typical value; a lowest above it is refused in words and stays."""
        field = self.capacitance()
        self.typed(field, "330")
        self.page.get_by_label(f"Source: {CAPACITANCE}", exact=True).select_option("measured")
        self.page.get_by_role("button", name=f"range: {CAPACITANCE}", exact=True).click()
        low = self.page.get_by_label(f"{CAPACITANCE}, at least", exact=True)
        high = self.page.get_by_label(f"{CAPACITANCE}, at most", exact=True)
        self.typed(low, "400")
        expect(self.page.get_by_role("alert").first).to_be_visible()
        self.typed(low, "300")
        self.typed(high, "350")
        expect(self.page.get_by_role("alert")).to_have_count(0)
        self.page.get_by_role("button", name="Keep", exact=True).click()
        expect(self.page.get_by_text("as recorded")).to_be_visible()
        stored = Gang.objects.get(loop__name="Loft landing").bypasses.get().figures["c_f"]
        self.assertEqual((stored["low"], stored["typical"], stored["high"]), (3e-7, 3.3e-7, 3.5e-7))

    @tag("whole")
    def test_the_focus_goes_where_the_eye_is(self) -> None:
        """To the part that was added, and after taking it away to what stands in its place."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.go("Parts", "Bypass")
        page.get_by_role("button", name="Add bypass").click()
        expect(page.get_by_role("combobox", name="From the shelf")).to_be_focused()
        page.get_by_role("button", name="Cancel").click()
        expect(page.get_by_role("button", name="Add bypass")).to_be_focused()
        page.get_by_role("button", name="Add bypass").click()
        self.from_shelf("220 nF", "Quillfen X2 pack 220 nF")
        expect(page.get_by_role("combobox", name="From the shelf")).to_be_focused()
        page.get_by_role("button", name="Remove").click()
        expect(page.get_by_role("button", name="Add bypass")).to_be_focused()


class Dialogs(InterfaceTest):
    """Windows over the page, and single keys."""

    def test_a_dialog_is_filled_sent_and_left_by_keys_alone(self) -> None:
        """Its first field has the focus, Enter sends, Escape leaves."""
        page = self.sign_in()
        page.get_by_role("button", name="New site").click()
        expect(page.get_by_role("dialog").get_by_label("Name of the site")).to_be_focused()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_be_hidden()
        page.get_by_role("button", name="New site").click()
        expect(page.get_by_role("dialog").get_by_label("Name of the site")).to_be_focused()
        for key in "Osier barn":
            page.keyboard.type(key)
        page.keyboard.press("Tab")
        expect(page.get_by_role("dialog").get_by_label("Supply")).to_be_focused()
        page.keyboard.type("120")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog")).to_be_hidden()
        self.assertEqual(Site.objects.get(name="Osier barn").v_rms, 120.0)

    @tag("whole")
    def test_a_new_site_and_loop_half_filled_outlive_a_reload(self) -> None:
        """Their words are there when the dialog is opened again; once made, the next one begins empty."""
        page = self.sign_in()
        dialog = page.get_by_role("dialog")
        for button, label, more in (
            ("New site", "Name of the site", "Where it is"),
            ("New loop", "Name of the loop", "Note"),
        ):
            page.get_by_role("button", name=button).click()
            self.typed(dialog.get_by_label(label), "Osier barn")
            self.typed(dialog.get_by_label(more), "behind the weir")
            page.reload()
            page.get_by_role("button", name=button).click()
            expect(dialog.get_by_label(label)).to_have_value("Osier barn")
            expect(dialog.get_by_label(more)).to_have_value("behind the weir")
            dialog.get_by_role("button", name="Cancel").click()
        page.get_by_role("button", name="New site").click()
        expect(dialog.get_by_label("Name of the site")).to_have_value("")
        self.typed(dialog.get_by_label("Name of the site"), "Osier barn")
        dialog.get_by_label("Supply").select_option("120 V 60 Hz")
        dialog.get_by_role("button", name="Make").click()
        expect(dialog).to_be_hidden()
        page.get_by_role("button", name="New site").click()
        expect(dialog.get_by_label("Name of the site")).to_have_value("")

    @tag("whole")
    def test_digits_change_no_step_behind_a_dialog(self) -> None:
        """And none at all once a person has switched single keys off; on again they work."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        before = page.locator("[aria-current=step]").inner_text()
        page.keyboard.press("?")
        dialog = page.get_by_role("dialog")
        expect(dialog).to_be_visible()
        page.keyboard.press("1")
        shortcuts = dialog.get_by_role("checkbox", name=re.compile("Single keys"))
        shortcuts.uncheck()
        page.keyboard.press("Escape")
        expect(dialog).to_be_hidden()
        page.keyboard.press("1")
        page.keyboard.press("?")
        expect(dialog).to_be_hidden()
        self.assertEqual(page.locator("[aria-current=step]").inner_text(), before)
        page.get_by_role("button", name="Help").click()
        shortcuts.check()
        page.keyboard.press("Escape")
        expect(dialog).to_be_hidden()
        page.keyboard.press("1")
        expect(page.locator("[aria-current=step]")).to_contain_text("Visit")


@tag("whole")
class OnTheWay(InterfaceTest):
    """What is kept as it is put in, on a busy device and a slow connection: no field is shut or goes back meanwhile."""

    def setUp(self) -> None:
        super().setUp()
        self.page.add_init_script(BUSY)

    def test_the_supply_of_a_site_is_typed_field_after_field(self) -> None:
        """Volts, the next field, hertz, the next, a choice by its keys: all of it arrives, nothing is a colleague's."""
        mill = Site.objects.get(name="Kestrel Mill")
        page = self.sign_in("fenna")
        page.goto(f"{self.live_server_url}/sites/{mill.pk}/schedule")
        supply = page.get_by_role("group", name="Supply")
        volts, hertz = (supply.get_by_role("textbox").nth(k) for k in (0, 1))
        expect(volts).to_have_value("230 V")
        self.slow(700)
        with page.expect_response(lambda one: "tolerance_ratio" in (one.request.post_data or "")) as last:
            self.typed(volts, "231")
            expect(hertz).to_be_focused()
            page.keyboard.press("Control+a")
            for key in "60":
                page.keyboard.type(key)
            page.keyboard.press("Tab")
            page.keyboard.press("ArrowDown")
            expect(volts).to_have_value("231 V")
            expect(hertz).to_have_value("60 Hz")
        # The third is answered upon the two before it.
        self.assertEqual(last.value.status, 200)
        mill.refresh_from_db()
        self.assertEqual((mill.v_rms, mill.f_hz, mill.tolerance_ratio), (231.0, 60.0, 0.15))

    def test_what_was_seen_at_the_ceiling_is_chosen_by_keys(self) -> None:
        """Two presses of a key choose the second word, upon the first; a digit leads to no other step."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.go("Route")
        live = page.get_by_label("A permanent live is there")
        expect(live).to_have_value("unknown")
        self.slow(700)
        live.focus()
        with page.expect_response(lambda one: '"line":"yes"' in (one.request.post_data or "")) as last:
            page.keyboard.press("ArrowUp")
            page.keyboard.press("ArrowUp")
            page.keyboard.press("5")
            expect(live).to_be_focused()
            expect(live).to_have_value("yes")
        self.assertEqual(last.value.status, 200)
        expect(page.locator("[aria-current=step]").first).to_contain_text("Route")
        seen = CeilingPoint.objects.get()
        self.assertEqual((seen.seen["line"], seen.version), ("yes", 2))

    def test_rules_are_ticked_one_after_the_other(self) -> None:
        """Both ticks stand at once, and the second does not take the first back."""
        page = self.sign_in("fenna")
        page.goto(f"{self.live_server_url}/handing-over")
        rules = page.get_by_role("region", name="What the firm wants")
        client, own = (rules.get_by_role("checkbox").nth(k) for k in (0, 2))
        expect(client).to_be_visible()
        before = rules_of_firm()
        self.slow(700)
        with page.expect_response(lambda one: f'"version":{before.version + 1}' in (one.request.post_data or "")):
            client.press("Space")
            self.assertEqual(client.is_checked(), not before.needs_client)
            own.press("Space")
            self.assertEqual(own.is_checked(), not before.own_work)
        kept = Rules.objects.get()
        self.assertEqual(
            (kept.needs_client, kept.needs_checker, kept.own_work),
            (not before.needs_client, before.needs_checker, not before.own_work),
        )

    def test_a_button_that_is_pressed_twice_makes_one(self) -> None:
        """A gang by two clicks, a loop by Enter upon Enter: nothing is made twice, nothing refused as already there."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        kiln = Loop.objects.get(name="Kiln room")
        before = kiln.gangs.count()
        self.slow(300)
        page.get_by_role("button", name="+ Add gang").dblclick()
        expect(page).to_have_url(re.compile(f"/loops/{kiln.pk}/{before + 1}"))
        self.assertEqual(kiln.gangs.count(), before + 1)
        asked: list[str] = []
        page.on("request", lambda one: asked.append(one.url) if one.method == "POST" else None)
        page.goto(self.live_server_url)
        page.get_by_role("button", name="New loop").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("combobox", name="Site").click()
        page.get_by_title("Kestrel Mill", exact=True).click()
        dialog.get_by_label("Name of the loop").press_sequentially("Hayloft")
        page.keyboard.press("Enter")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Hayloft")).to_be_visible()
        self.assertEqual(len([url for url in asked if url.endswith("/api/v1/loops/")]), 1)

    def test_rules_that_another_changed_are_not_changed_back(self) -> None:
        """A tick upon what stood here before is refused, told, and leaves the other one's."""
        page = self.sign_in("fenna")
        page.goto(f"{self.live_server_url}/handing-over")
        rules = page.get_by_role("region", name="What the firm wants")
        own = rules.get_by_role("checkbox").nth(2)
        expect(own).to_be_visible()
        before = rules_of_firm()
        Rules.objects.create(needs_checker=not before.needs_checker)
        own.press("Space")
        expect(rules.get_by_role("alert")).to_be_visible()
        expect(rules.get_by_role("checkbox").nth(1)).to_be_checked(checked=not before.needs_checker)
        expect(own).to_be_checked(checked=before.own_work)
        self.assertEqual(Rules.objects.get().own_work, before.own_work)


class Touch(InterfaceTest):
    """A tablet: taps only."""

    size = TABLET

    def test_a_figure_a_tick_and_a_choice_are_put_in_by_touch(self) -> None:
        """One of each kind of field, left by a tap elsewhere."""
        context = self.browser.new_context(viewport=self.size, has_touch=True, reduced_motion="reduce")
        self.addCleanup(context.close)
        page: Page = self.sign_in(page=context.new_page())
        page.get_by_role("link", name="Sluice lobby", exact=True).tap()
        page.get_by_role("button", name=re.compile("Box")).first.tap()
        depth = page.get_by_label("Depth", exact=True)
        depth.tap()
        for key in "47":
            page.keyboard.type(key)
        page.get_by_role("heading", name="Sluice lobby").tap()
        expect(depth).to_have_value("47 mm")
        page.get_by_label("Material").select_option(index=1)
        spacer = page.get_by_role("checkbox", name="30.0 mm")
        was = spacer.is_checked()
        spacer.tap()
        expect(spacer).to_be_checked(checked=not was)

    def test_a_tap_counts_for_what_the_finger_went_down_on(self) -> None:
        """An answer pushes the button away before the finger is up: it is pressed, what slid there instead is not."""
        context = self.browser.new_context(viewport=self.size, has_touch=True, reduced_motion="reduce")
        self.addCleanup(context.close)
        page: Page = self.sign_in(page=context.new_page())
        expect(page.get_by_role("link", name="Kiln room", exact=True)).to_be_visible()
        at = middle(page.get_by_role("button", name="My work"))
        fingers = context.new_cdp_session(page)
        fingers.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [at]})
        slid = pushed_in(page)
        fingers.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
        expect(page.get_by_role("button", name="My work")).to_have_attribute("aria-pressed", "true")
        expect(slid).to_have_text("not pressed")


class Pointer(InterfaceTest):
    """A mouse whose button is held while the page changes under it."""

    def test_a_press_counts_for_what_was_there_as_it_began(self) -> None:
        """As by touch; one that is drawn away before it is let go presses nothing."""
        page = self.sign_in()
        # Nothing else moves it.
        expect(page.get_by_role("link", name="Kiln room", exact=True)).to_be_visible()
        mine = page.get_by_role("button", name="My work")
        at = middle(mine)
        page.mouse.move(**at)
        page.mouse.down()
        slid = pushed_in(page)
        page.mouse.up()
        expect(mine).to_have_attribute("aria-pressed", "true")
        expect(slid).to_have_text("not pressed")
        at = middle(mine)
        page.mouse.move(**at)
        page.mouse.down()
        page.evaluate("document.querySelector('#slid').remove()")
        page.mouse.move(at["x"], at["y"] + 40)
        page.mouse.up()
        page.evaluate("new Promise((done) => setTimeout(done, 100))")
        expect(mine).to_have_attribute("aria-pressed", "true")


def pushed_in(page: Page) -> Locator:
    """A wide button that comes in above the tools of the round and lies where they were."""
    page.evaluate(
        """() => {
          const slid = document.createElement("button");
          slid.id = "slid";
          slid.style.cssText = "display: block; width: 100%; height: 160px";
          slid.textContent = "not pressed";
          slid.addEventListener("click", () => (slid.textContent = "pressed"));
          document.querySelector(".round-tools").before(slid);
        }"""
    )
    return page.locator("#slid")
