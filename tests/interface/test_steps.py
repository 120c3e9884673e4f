"""The steps with several looks: walked by keyboard, fitting a tablet, in both regions."""

from __future__ import annotations

import re

from django.test import tag
from playwright.sync_api import Locator, Page, Route, expect

from loops.models import Gang
from sites.models import Site
from tests.browser import TABLET
from tests.interface.base import InterfaceTest, wait_until

# Steps with tabs, and the tabs of each.
OFF_LOOKS = ("How sure", "Instruments", "One figure", "Waveforms")
LOOKS: dict[tuple[str, ...], tuple[str, ...]] = {
    ("Parts", "Control"): (),
    ("Judge", "Light on"): (),
    ("Judge", "Loads"): (),
    ("Judge", "Light off"): OFF_LOOKS,
    ("Route", "Ways"): (),
    ("Route", "Wire map"): (),
    ("Route", "Check a drawing"): (),
    ("Route", "Which bypass"): ("Which one", "Where it goes", "Habits compared"),
    ("Prove",): (),
    ("Hand over", "Papers"): (),
    ("Hand over", "Sign"): (),
    ("Hand over", "History"): (),
}


class ByKeyboard(InterfaceTest):
    """No mouse."""

    def test_arrow_keys_walk_the_tabs_and_the_focus_goes_along(self) -> None:
        """Right from the last comes back to the first; only the chosen one is in the order of Tab."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.go("Judge", "Light off")
        page.get_by_role("tab", name="How sure").focus()
        for name in (*OFF_LOOKS[1:], "How sure"):
            page.keyboard.press("ArrowRight")
            chosen = page.get_by_role("tab", name=name)
            expect(chosen).to_be_focused()
            expect(chosen).to_have_attribute("aria-selected", "true")
        page.keyboard.press("ArrowLeft")
        expect(page.get_by_role("tab", name="Waveforms")).to_be_focused()
        self.assertEqual(page.locator('[role="tab"][tabindex="0"]').count(), 1)

    @tag("whole")
    def test_a_step_that_was_left_takes_nothing_any_more(self) -> None:
        """Pressed it is marked at once; while its form is fetched the one before is gone, and comes back as it was."""
        page = self.sign_in()
        held: list[Route] = []
        page.route("**/SetupStep-*.js", lambda route: held.append(route))
        self.open_loop("Kiln room")
        self.go("Visit")
        asked = page.get_by_role("region", name="Visit")
        self.typed(asked.get_by_label("Gangs in the box"), "2")
        with page.expect_request("**/SetupStep-*.js"):
            self.go("Set up")
        expect(asked).to_have_count(0)
        wait_until(page, lambda: held)
        held.pop().continue_()
        expect(page.get_by_role("region", name=re.compile("^Set up"))).to_be_visible()
        self.go("Visit")
        expect(asked.get_by_label("Gangs in the box")).to_have_value("2")

    @tag("whole")
    def test_what_arrives_late_takes_no_focus(self) -> None:
        """The remedies come after their verdict; whoever walks the tabs meanwhile stays where he is."""
        page = self.sign_in()
        held: list[Route] = []
        page.route("**/Remedies-*.js", lambda route: held.append(route))
        self.open_loop("Kiln room")
        with page.expect_request("**/Remedies-*.js"):
            self.go("Judge", "Light off")
        tab = page.get_by_role("tab", name="How sure")
        tab.focus()
        with page.expect_response("**/Remedies-*.js"):
            held[0].continue_()
        expect(page.get_by_role("heading", name="What would help")).to_be_visible()
        expect(tab).to_be_focused()

    @tag("whole")
    def test_a_place_is_undone_like_any_other_change(self) -> None:
        """One step back takes the last answer away, discarding takes all."""
        page = self.sign_in()
        self.open_loop("Packing loft")
        self.go("Route", "Which bypass")
        page.get_by_role("tab", name="Where it goes").click()
        reach = page.get_by_label("The joint stays within reach")
        reach.select_option("yes")
        page.get_by_label("Thermal insulation covers it").select_option("no")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Thermal insulation covers it")).to_have_value("")
        expect(reach).to_have_value("yes")
        page.get_by_role("button", name="Discard").click()
        expect(reach).to_have_value("")
        self.assertEqual(Gang.objects.get(loop__name="Packing loft").place, {})

    @tag("whole")
    def test_what_is_on_the_bench_outlives_a_reload(self) -> None:
        """A place typed and not kept is there again, still as a what-if."""
        page = self.sign_in()
        self.open_loop("Packing loft")
        self.go("Route", "Which bypass")
        page.get_by_role("tab", name="Where it goes").click()
        page.get_by_label("The joint stays within reach").select_option("no")
        expect(page.get_by_text("what-if copy")).to_be_visible()
        page.reload()
        expect(page.get_by_text("what-if copy")).to_be_visible()
        self.go("Route", "Which bypass")
        page.get_by_role("tab", name="Where it goes").click()
        expect(page.get_by_label("The joint stays within reach")).to_have_value("no")


class Choosing(InterfaceTest):
    """The bypass as it is chosen."""

    def choose(self, page: Page) -> Locator:
        """The region of the step, everything computed."""
        self.go("Route", "Which bypass")
        found = page.get_by_role("region", name="How much bypass this loop bears")
        expect(found.get_by_role("group", name=re.compile("Over the ranges"))).to_be_visible()
        return found

    def test_rejected_parts_say_why_with_figures(self) -> None:
        """Folded away, with a count; a large capacitor by its current, a bleeder by its heat."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        choose = self.choose(page)
        choose.get_by_text(re.compile("^[0-9]+ rejected, with reasons")).click()
        large = choose.get_by_role("listitem").filter(has_text="Quillfen X2 pack 1 µF")
        expect(large).to_contain_text("mA while the light is on")
        bleeder = choose.get_by_role("listitem").filter(has_text="Quillfen Bleeder 10 kΩ")
        expect(bleeder).to_contain_text("is too warm at a luminaire")

    @tag("whole")
    def test_a_year_is_reckoned_with_the_price_given(self) -> None:
        """Twice the hours, twice the kilowatt-hours; with a price its cost stands beside."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        choose = self.choose(page)
        warm = choose.get_by_role("listitem").filter(has_text="Tarnbrook Warm bleeder P1")
        expect(warm).to_contain_text("0.81 kWh a year")
        self.typed(choose.get_by_label("Hours on, a year"), "2000")
        self.typed(choose.get_by_label("Price of a kilowatt-hour"), "0.50")
        page.keyboard.press("Tab")
        expect(warm).to_contain_text("1.6 kWh a year (0.81)")

    @tag("whole")
    def test_taking_none_takes_the_bypass_away(self) -> None:
        """None is ranked like the others, and can be taken."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        choose = self.choose(page)
        choose.get_by_text(re.compile("^[0-9]+ rejected, with reasons")).click()
        choose.get_by_role("button", name="Take it: no bypass").click()
        expect(page.get_by_role("button", name="No bypass. Open")).to_be_visible()

    @tag("whole")
    def test_at_120_volts_more_is_needed_and_the_words_are_that_region_s(self) -> None:
        """A small lamp there needs several hundred nanofarads; the wire map says load wire."""
        page = self.sign_in()
        self.open_loop("Dock office")
        choose = self.choose(page)
        window = choose.get_by_role("group", name=re.compile("^Capacitor: from [0-9]{3} nF"))
        expect(window).to_be_visible()
        page.get_by_role("tab", name="Where it goes").click()
        expect(page.get_by_role("row", name=re.compile("^load wire at the luminaire"))).to_be_visible()


@tag("whole")
class OnATablet(InterfaceTest):
    """Held upright."""

    size = TABLET

    def test_every_look_fits_and_its_targets_suit_a_thumb(self) -> None:
        """Nothing sticks out sideways, and no button is small."""
        page = self.sign_in()
        self.open_loop("Bell chamber")
        for step, tabs in LOOKS.items():
            self.go(*step)
            for name in tabs or ("",):
                if name:
                    page.get_by_role("tab", name=name, exact=True).click()
                page.wait_for_timeout(400)
                wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
                self.assertLessEqual(wide, 0, f"{step}, {name}")
                small = page.evaluate(
                    "[...document.querySelectorAll('button, [role=tab], summary')]"
                    ".filter(e => e.offsetParent && e.getBoundingClientRect().height < 36).map(e => e.textContent)"
                )
                self.assertEqual(small, [], f"{step}, {name}")

    def test_the_shelf_fits_too(self) -> None:
        """List and part one below the other."""
        page = self.sign_in()
        page.get_by_role("link", name="Parts shelf").click()
        page.get_by_role("button", name=re.compile("Push dimmer T6")).click()
        expect(page.get_by_role("row", name=re.compile("what it does to the half-cycle while on"))).to_contain_text(
            "trailing edge"
        )
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertLessEqual(wide, 0)


@tag("whole")
class Words(InterfaceTest):
    """Figures that are words."""

    def test_a_second_source_for_a_word_stands_beside_the_first(self) -> None:
        """Found on the bench to do otherwise than its leaflet says: both stay, the new one is in use."""
        page = self.sign_in()
        page.get_by_role("link", name="Parts shelf").click()
        page.get_by_role("button", name=re.compile("Push dimmer T6")).click()
        page.get_by_text("Add a source").first.click()
        form = page.locator(".add-source")
        form.get_by_label("Figure").select_option(label="what it does to the half-cycle while on ")
        form.get_by_label("Value").select_option("leading edge")
        form.get_by_role("combobox", name="Source").select_option("measured")
        self.typed(form.get_by_label("Leaflet, marking or bench test"), "seen on the bench")
        form.get_by_role("button", name="Add").click()
        row = page.get_by_role("row", name=re.compile("what it does to the half-cycle while on"))
        expect(row).to_contain_text("Sources contradict each other")

    def test_a_declaration_typed_on_the_bench_changes_the_answer(self) -> None:
        """Said to be for the leading edge only, the lamps must not go on a trailing-edge dimmer."""
        page = self.sign_in()
        self.open_loop("Bell chamber")
        self.go("Parts", "Lamps")
        page.get_by_label("what its maker says of dimming", exact=True).select_option("leading edge")
        self.go("Judge", "Light on")
        lit = page.get_by_role("region", name="With the light on")
        expect(lit.get_by_role("status")).to_contain_text("must not")
        expect(lit.get_by_text(re.compile("leading edge only; filter and bleeder"))).to_be_visible()


class WhereOneIs(InterfaceTest):
    """Steps in the address, the thread as a line, the way from the round."""

    def test_reload_and_back_lead_to_the_same_place(self) -> None:
        """Step and part stand in the address and in the page's title."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        expect(page).to_have_title("Judge, Light off · Kiln room · Ember Thread")
        self.go("Parts", "Cable")
        expect(page).to_have_title("Parts, Cable · Kiln room · Ember Thread")
        page.keyboard.press("6")
        expect(page).to_have_title("Route, Ways · Kiln room · Ember Thread")
        page.go_back()
        expect(page).to_have_title("Parts, Cable · Kiln room · Ember Thread")
        page.reload()
        expect(page.get_by_role("heading", name="Cable of this gang")).to_be_visible()

    @tag("whole")
    def test_an_address_of_no_step_leads_to_where_one_begins(self) -> None:
        """Neither a step that is none nor nonsense breaks the page."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        address = page.url.split("?")[0]
        for wrong in ("?step=dance", "?step=nowhere&tab=loads", "?step=judge&tab=lamps"):
            page.goto(address + wrong)
            expect(page.locator("[aria-current=step]")).to_contain_text("Judge")
            expect(page.locator(".step-tab[aria-current]")).to_have_text("Light off")

    @tag("whole")
    def test_the_next_step_of_the_round_is_a_link_to_it(self) -> None:
        """What does not work leads to the remedies, what lacks its lamps to the lamps; a filter keeps those rows."""
        page = self.sign_in()
        page.get_by_role("row", name="Sluice lobby").get_by_role("link", name="enter the lamps").click()
        expect(page.locator(".step-tab[aria-current]")).to_have_text("Lamps")
        page.get_by_role("link", name="Round").click()
        page.get_by_role("row", name="Kiln room").get_by_role("link", name="find a remedy").click()
        expect(page.locator("[aria-current=step]")).to_contain_text("Route")
        expect(page.locator(".step-tab[aria-current]")).to_have_text("Which bypass")
        page.goto(f"{self.live_server_url}/?next=lamps")
        expect(page.get_by_text("2 loops", exact=True)).to_be_visible()

    def test_one_story_in_round_head_and_panel(self) -> None:
        """Word and cause are the same; a change is weighed anew, and kept it stands in the round."""
        page = self.sign_in()
        row = page.get_by_role("row", name="Kiln room")
        expect(row).to_contain_text("does not work")
        cause = "Light off: the lamps blink. It works in 0 of 64 trials within the tolerances."
        expect(row).to_contain_text(cause)
        self.open_loop("Kiln room")
        self.overall("Does not work")
        expect(page.get_by_role("complementary", name="Why")).to_contain_text(cause)
        expect(page.get_by_role("region", name="The loop in short")).to_contain_text("does not work")
        page.get_by_role("complementary", name="Why").get_by_role("button", name="Choose a bypass").click()
        page.get_by_role("button", name="Take it: Quillfen X2 pack 220 nF").click()
        self.overall(re.compile("^(Probably works|Not sure|Works)$"))
        said = page.get_by_role("complementary", name="Why").get_by_role("status").inner_text().lower()
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        page.get_by_role("link", name="Round").click()
        expect(row).to_contain_text(said)


@tag("whole")
class TheLine(InterfaceTest):
    """The thread where nothing is put on it, on a tablet held upright."""

    size = TABLET

    def test_the_step_begins_in_the_upper_third(self) -> None:
        """One line of at most 56 px with the verdict and the figures; the drawing comes and goes by a press."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        strip = page.get_by_role("region", name="The loop in short")
        expect(strip).to_contain_text("58.9 V")
        self.assertLessEqual(strip.bounding_box()["height"], 56)  # type: ignore[index]
        for step in ("Visit", "Make safe", "Box", "Judge", "Prove", "Hand over"):
            self.go(step)
            expect(strip).to_be_visible()
            top = page.locator("section.work").bounding_box()["y"]  # type: ignore[index]
            self.assertLess(top, TABLET["height"] / 3, step)
        page.get_by_role("button", name="Show the loop").click()
        expect(page.get_by_role("region", name="Thread")).to_be_visible()
        page.get_by_role("button", name="Hide the loop").click()
        expect(strip).to_be_visible()
        self.go("Parts")
        expect(page.get_by_role("region", name="Thread")).to_be_visible()


class OutOfDate(InterfaceTest):
    """A supply that changes under what was judged."""

    def test_what_was_judged_before_is_marked_and_judged_again_at_one_press(self) -> None:
        """Every loop of that site, none of the other; afterwards nothing is marked."""
        self.do_jobs()
        page = self.sign_in()
        expect(page.locator(".notice.outdated")).to_have_count(0)
        site = Site.objects.get(name="Larkspur Cannery")
        page.goto(f"{self.live_server_url}/sites/{site.pk}/schedule")
        supply = page.get_by_label("Supply, rms")
        expect(supply).to_have_value("120 V")
        self.typed(supply, "127")
        expect(supply).to_have_value("127 V")
        page.get_by_role("link", name="Round").click()
        marks = page.locator(".out-of-date")
        expect(page.locator(".notice.outdated")).to_contain_text("supply or region changed")
        for row in page.get_by_role("row").filter(has=marks).all():
            expect(row).to_contain_text("Larkspur Cannery")
        expect(marks).not_to_have_count(0)
        page.get_by_role("button", name="Judge all again").click()
        expect(marks).to_have_count(0)
        expect(page.locator(".notice.outdated")).to_have_count(0)

    @tag("whole")
    def test_the_bench_of_such_a_loop_says_so_too(self) -> None:
        """And judges it again there."""
        Gang.objects.filter(loop__name="Kiln room").update(judged_on={"core": "0"})
        page = self.sign_in()
        self.open_loop("Kiln room")
        notice = page.locator(".notice.outdated")
        expect(notice).to_contain_text("One verdict was judged on something that has changed since")
        notice.get_by_role("button", name="Judge again").click()
        expect(notice).to_have_count(0)
