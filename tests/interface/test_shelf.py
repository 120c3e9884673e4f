"""The parts shelf as a person uses it."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path

from django.test import tag
from playwright.sync_api import Page, Route, expect

from tests.browser import TABLET
from tests.interface.base import InterfaceTest


class Shelf(InterfaceTest):
    """Parts, sources, files."""

    def open_shelf(self) -> Page:
        page = self.sign_in()
        page.get_by_role("link", name="Parts shelf").click()
        expect(page.get_by_role("heading", name="Parts shelf")).to_be_visible()
        return page

    def open_part(self, page: Page, name: str) -> None:
        self.typed(page.get_by_label("Search parts"), name)
        page.get_by_role("button", name=name).first.click()

    def test_parts_are_found_and_compared(self) -> None:
        """Category and words narrow the list; two marked parts stand side by side with what differs marked in words."""
        page = self.open_shelf()
        expect(page.get_by_text("107 parts")).to_be_visible()
        page.get_by_role("button", name="Bypasses").click()
        self.typed(page.get_by_label("Search parts"), "X2 pack")
        for name in ("X2 pack 68 nF", "X2 pack 100 nF"):
            page.get_by_role("checkbox", name=f"Compare: Quillfen {name}", exact=True).check()
        page.get_by_role("button", name="Compare 2").click()
        side = page.get_by_role("region", name="Side by side")
        expect(side.get_by_role("row", name=re.compile("^capacitance differs"))).to_contain_text("100 nF")
        self.typed(page.get_by_label("Search parts"), "no such part")
        expect(page.get_by_text("No part matches")).to_be_visible()

    @tag("whole")
    def test_a_bench_test_is_entered_and_serves_every_loop(self) -> None:
        """A measured start threshold goes on the shelf, the loops that use the lamp are named, and take it over."""
        self.do_jobs()
        page = self.open_shelf()
        self.open_part(page, "Pygmy 2 W")
        card = page.get_by_role("article", name="Oxlip Works Pygmy 2 W")
        card.get_by_text("Add a source or a bench test").click()
        card.get_by_label("Figure").select_option(label="reservoir voltage at which the driver starts")
        self.typed(card.get_by_label("Typical"), "115 V")
        self.typed(card.get_by_label("Low"), "112")
        self.typed(card.get_by_label("High"), "118")
        self.typed(card.get_by_label("Leaflet, marking or bench test"), "bench, variable supply")
        # Measured is what somebody says, never what was in the list.
        expect(card.get_by_role("button", name="Add", exact=True)).to_be_disabled()
        card.get_by_role("combobox", name="Source").select_option("measured")
        card.get_by_role("button", name="Add", exact=True).click()
        expect(card).to_contain_text("Sources contradict each other")
        expect(card).to_contain_text("Wren Talley")
        expect(card).to_contain_text("1 gang still has older figures.")
        card.get_by_role("button", name="Take these figures over there").click()
        expect(card.get_by_text("1 gang judged anew.")).to_be_visible()
        card.get_by_role("link", name="Kestrel Mill, Packing loft").click()
        expect(page.get_by_role("region", name="How sure")).to_contain_text("64 of 64 dark and fed")

    @tag("whole")
    def test_of_two_who_add_a_source_the_second_sees_the_first_and_adds_theirs(self) -> None:
        """Refused once, with what was typed still there and what stands there now above it; then both are on record."""
        page, other = self.open_shelf(), self.another("fenna")
        other.get_by_role("link", name="Parts shelf").click()
        for who, watts in ((page, "4.8 W"), (other, "5.3 W")):
            self.open_part(who, "Spot 5 W dimmable")
            card = who.get_by_role("article")
            card.get_by_text("Add a source or a bench test").click()
            card.get_by_label("Figure").select_option(label="power while running")
            self.typed(card.get_by_label("Typical"), watts)
            self.typed(card.get_by_label("Leaflet, marking or bench test"), f"bench, {watts}")
            card.get_by_role("combobox", name="Source").select_option("measured")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_role("row", name=re.compile("bench, 4.8 W"))).to_contain_text("in use")
        add = other.get_by_role("button", name="Add", exact=True)
        add.click()
        expect(other.get_by_role("alert")).to_contain_text("Somebody else changed this part meanwhile")
        expect(other.get_by_role("row", name=re.compile("bench, 4.8 W"))).to_contain_text("in use")
        expect(other.get_by_label("Typical")).to_have_value("5.3 W")
        add.click()
        expect(other.get_by_role("row", name=re.compile("bench, 5.3 W"))).to_contain_text("in use")
        expect(other.get_by_role("row", name=re.compile("bench, 4.8 W"))).to_be_visible()

    @tag("whole")
    def test_another_source_is_put_in_use_and_the_bench_says_so(self) -> None:
        """The relay's measured need is chosen; a loop that holds the relay offers the shelf's newer figures."""
        page = self.open_shelf()
        self.open_part(page, "Relay S1, 802.15.4 mesh")
        card = page.get_by_role("article", name="Pellan & Sedge Relay S1, 802.15.4 mesh")
        card.get_by_role("button", name="Use this one").click()
        expect(card.get_by_role("row", name=re.compile("230 mW"))).to_contain_text("in use")
        page.get_by_role("link", name="Round").click()
        self.open_loop("Loft landing")
        self.go("Parts", "Control")
        expect(page.get_by_text("Figures here differ from those that the shelf has")).to_be_visible()
        page.get_by_role("button", name="Take the shelf's").click()
        expect(page.get_by_text("what-if copy")).to_be_visible()

    @tag("whole")
    def test_a_bad_file_is_told_row_by_row_and_a_good_one_is_taken(self) -> None:
        """What is saved can be read again; one bad cell keeps all of it out, with line, column and reason."""
        page = self.open_shelf()
        with page.expect_download() as caught:
            page.get_by_role("link", name="CSV").click()
        text = Path(caught.value.path()).read_text(encoding="utf-8")
        with tempfile.TemporaryDirectory() as folder:
            bad, good = Path(folder) / "bad.csv", Path(folder) / "good.csv"
            bad.write_text(text.replace("0.01,0.01,0.01,m", "0.01,a little,0.01,m", 1), encoding="utf-8")
            good.write_text(text.replace("Spacer 10 mm", "Spacer 12 mm", 1), encoding="utf-8")
            page.get_by_role("button", name="Read a file …").click()
            dialog = page.get_by_role("dialog")
            dialog.get_by_label("Choose a file").set_input_files(bad)
            expect(dialog.get_by_role("alert")).to_contain_text("nothing can be taken")
            expect(dialog.get_by_role("row", name=re.compile("typical A number is needed"))).to_be_visible()
            expect(dialog.get_by_role("button", name="Take it")).to_be_disabled()
            dialog.get_by_label("Choose a file").set_input_files(good)
            expect(dialog.get_by_text("1 new, 0 changed, 106 as they are.")).to_be_visible()
            dialog.get_by_role("button", name="Take it").click()
            expect(dialog.get_by_text("Taken.")).to_be_visible()
            dialog.get_by_role("button", name="Close").last.click()
        expect(page.get_by_text("108 parts")).to_be_visible()

    def test_a_new_part_is_put_on_the_shelf_and_a_bad_one_is_refused(self) -> None:
        """A box by hand, with its needed measures; out of bounds is told in words and keeps what was typed."""
        page = self.open_shelf()
        page.get_by_role("button", name="New part").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Category").select_option(label="Boxes")
        self.typed(dialog.get_by_label("Maker", exact=True), "Hobmoor")
        self.typed(dialog.get_by_label("Name"), "Odd box")
        self.typed(dialog.get_by_label("depth inside"), "5 m")
        self.typed(dialog.get_by_label("width inside"), "70 mm")
        self.typed(dialog.get_by_label("height inside"), "70 mm")
        # Metres where millimetres were meant: it is asked about, and until then nothing can be put away.
        expect(dialog.get_by_role("alert")).to_contain_text("5.00 m is far from what is usual here")
        dialog.get_by_label("Where these figures are from").select_option("declared")
        expect(dialog.get_by_role("button", name="Put on the shelf")).to_be_disabled()
        dialog.get_by_role("button", name="depth inside: It is 5.00 m").click()
        dialog.get_by_role("button", name="Put on the shelf").click()
        expect(dialog.get_by_role("alert")).to_contain_text("outside")
        self.typed(dialog.get_by_label("depth inside"), "50")
        expect(dialog.get_by_label("depth inside")).to_have_value("50 mm")
        dialog.get_by_role("button", name="Put on the shelf").click()
        expect(page.get_by_role("article", name="Hobmoor Odd box")).to_contain_text("50.0 mm")

    @tag("whole")
    def test_what_is_half_filled_outlives_a_reload_and_no_cancel(self) -> None:
        """A part and a source; what was sent or given up begins empty, and nobody else at this device sees it."""
        page = self.open_shelf()
        page.get_by_role("button", name="New part").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Category").select_option(label="Boxes")
        self.typed(dialog.get_by_label("Maker", exact=True), "Hobmoor")
        self.typed(dialog.get_by_label("depth inside"), "50 mm")
        page.reload()
        page.get_by_role("button", name="New part").click()
        expect(dialog.get_by_label("Maker", exact=True)).to_have_value("Hobmoor")
        expect(dialog.get_by_label("depth inside")).to_have_value("50 mm")
        for somebody, left in (("fenna", ""), ("wren", "Hobmoor")):
            self.sign_in(somebody)
            page.get_by_role("link", name="Parts shelf").click()
            page.get_by_role("button", name="New part").click()
            expect(dialog.get_by_label("Maker", exact=True)).to_have_value(left)
        dialog.get_by_role("button", name="Cancel").click()
        page.get_by_role("button", name="New part").click()
        expect(dialog.get_by_label("Maker", exact=True)).to_have_value("")
        dialog.get_by_role("button", name="Cancel").click()
        self.open_part(page, "Relay S1, 802.15.4 mesh")
        card = page.get_by_role("article", name="Pellan & Sedge Relay S1, 802.15.4 mesh")
        card.get_by_text("Add a source").click()
        self.typed(card.get_by_label("Leaflet, marking or bench test"), "on the bench, 3 h")
        card.get_by_role("combobox", name="Source").select_option("measured")
        self.typed(card.get_by_label("typical"), "240")
        page.reload()
        card.get_by_text("Add a source").click()
        expect(card.get_by_label("Leaflet, marking or bench test")).to_have_value("on the bench, 3 h")
        card.get_by_role("button", name="Add", exact=True).click()
        expect(card.get_by_text("on the bench, 3 h")).to_be_visible()
        expect(card.get_by_label("Leaflet, marking or bench test")).to_have_value("")

    @tag("whole")
    def test_a_lamp_is_put_on_the_shelf_as_its_leaflet_tells_it(self) -> None:
        """Watts and dimming; the electronics come from the range of its class, assumed, and are folded away."""
        page = self.open_shelf()
        page.get_by_role("button", name="New part").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Maker", exact=True), "Hobmoor")
        self.typed(dialog.get_by_label("Name"), "Globe 7 W")
        dialog.get_by_label("Where these figures are from").select_option("declared")
        expect(dialog.get_by_label("reservoir (bulk) capacitor behind the rectifier")).to_be_hidden()
        self.typed(dialog.get_by_label("power while running"), "7")
        # A lamp of 120 V put away as one of 230 V would be computed with the figures of another lamp.
        expect(dialog.get_by_role("button", name="Put on the shelf")).to_be_disabled()
        self.typed(dialog.get_by_label("Made for"), "230")
        dialog.get_by_role("button", name="Put on the shelf").click()
        card = page.get_by_role("article", name="Hobmoor Globe 7 W")
        expect(card.get_by_role("row", name=re.compile("power while running"))).to_contain_text("declared")
        row = card.get_by_role("row", name=re.compile("capacitor across the input"))
        expect(row).to_contain_text("assumed")
        expect(row).to_contain_text("to")
        page.get_by_role("button", name="New part").click()
        expect(dialog.get_by_label("Made for")).to_have_value("230 V")

    @tag("whole")
    def test_a_checker_reads_the_shelf_only(self) -> None:
        """No button that writes is shown."""
        page = self.sign_in("odell")
        page.get_by_role("link", name="Parts shelf").click()
        self.open_part(page, "Candle 4 W dimmable")
        expect(page.get_by_role("article")).to_contain_text("Sources contradict each other")
        for name in ("Use this one", "New part", "Read a file …"):
            expect(page.get_by_role("button", name=name)).to_have_count(0)


class Typical(InterfaceTest):
    """Lamps and cables of which little is known, on the tablet."""

    size = TABLET

    def test_a_lamp_by_its_class_and_a_cable_by_its_length(self) -> None:
        """From an empty gang to a judgement: the class gives the lamp, the shelf's cable and its metres the rest."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.go("Parts", "Lamps")
        page.get_by_role("combobox", name="Input stage").last.select_option(label="Linear: straight from the mains")
        self.typed(page.get_by_label("Watts, if known"), "900")
        page.get_by_role("button", name="It is 900 W").click()
        page.get_by_role("button", name="Take typical figures").click()
        expect(page.get_by_role("alert")).to_contain_text("outside")
        self.typed(page.get_by_label("Watts, if known"), "7")
        page.get_by_role("button", name="Take typical figures").click()
        page.get_by_text("Technical figures").click()
        expect(page.get_by_text("0.7 to 0.85 of the mains peak").first).to_be_visible()
        self.go("Parts", "Cable")
        self.typed(page.get_by_label("Drop to the switch"), "10")
        self.typed(page.get_by_label("Switched live beside neutral or earth"), "20")
        page.get_by_role("button", name="Work out", exact=True).click()
        expect(
            page.get_by_label("cable capacitance between the unswitched and the switched core", exact=True)
        ).to_have_value("1.2 nF")

    @tag("whole")
    def test_what_is_worked_out_after_its_step_was_left_is_put_over_nothing(self) -> None:
        """A cable and a typical lamp on a slow line: what was done meanwhile stays, what was given up does not come."""
        held: list[Route] = []
        for address in ("**/cable-run/", "**/typical-lamp/"):
            self.page.route(address, lambda route: held.append(route))
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Cable")
        cable = page.get_by_label("cable capacitance between the unswitched and the switched core", exact=True)
        before = cable.input_value()
        self.typed(page.get_by_label("Drop to the switch"), "10")
        self.typed(page.get_by_label("Switched live beside neutral or earth"), "20")
        page.get_by_role("button", name="Work out", exact=True).click()
        self.go("Parts", "Lamps")
        self.typed(page.get_by_label("number of equal lamps", exact=True), "5")
        with page.expect_response("**/cable-run/"):
            held.pop().continue_()
        page.get_by_role("button", name="Add lamp group").click()
        new = page.get_by_role("region", name="A new lamp group")
        new.get_by_role("combobox", name="Input stage").select_option(label="Linear: straight from the mains")
        new.get_by_role("button", name="Take typical figures").click()
        new.get_by_role("button", name="Cancel").click()
        with page.expect_response("**/typical-lamp/"):
            held.pop().continue_()
        self.go("Parts", "Cable")
        expect(cable).to_have_value(before)
        self.go("Parts", "Lamps")
        expect(page.get_by_label("number of equal lamps", exact=True)).to_have_value("5")

    @tag("whole")
    def test_what_is_typed_and_asked_in_a_group_goes_with_it(self) -> None:
        """The first of two is taken away: its refused figure goes along, and what the second asked for comes to it."""
        held: list[Route] = []
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Lamps")
        page.get_by_role("button", name="Add lamp group").click()
        new = page.get_by_role("region", name="A new lamp group")
        new.get_by_role("combobox", name="Input stage").select_option(label="Linear: straight from the mains")
        new.get_by_role("button", name="Take typical figures").click()
        expect(new).to_be_hidden()
        groups = page.locator(".editor .part")
        expect(groups).to_have_count(2)
        count = page.get_by_label("number of equal lamps", exact=True)
        self.typed(count.first, "some")
        count.last.click()
        expect(count.first).to_have_value("some")
        self.typed(count.last, "3")
        page.route("**/typical-lamp/", lambda route: held.append(route))
        groups.last.get_by_text("Only its class is known").click()
        stage = groups.last.get_by_role("combobox", name="Input stage")
        stage.last.select_option(label="Capacitive dropper: cheap lamps")
        groups.last.get_by_role("button", name="Take typical figures").click()
        groups.first.get_by_role("button", name="Remove").click()
        expect(groups).to_have_count(1)
        expect(count).to_have_value("3")
        with page.expect_response("**/typical-lamp/"):
            held.pop().continue_()
        expect(groups.get_by_role("combobox", name="Input stage").first).to_have_value("capacitive_dropper")
        expect(count).to_have_value("3")

    @tag("whole")
    def test_a_group_that_arrives_late_takes_no_focus_from_who_types(self) -> None:
        """Typical figures on a slow line: whoever goes on in another group types the rest of the word there."""
        held: list[Route] = []
        self.page.route("**/typical-lamp/", lambda route: held.append(route))
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Lamps")
        page.get_by_role("button", name="Add lamp group").click()
        new = page.get_by_role("region", name="A new lamp group")
        new.get_by_role("combobox", name="Input stage").select_option(label="Linear: straight from the mains")
        with page.expect_request("**/typical-lamp/"):
            new.get_by_role("button", name="Take typical figures").click()
        first = page.locator(".editor .part").first.get_by_role("textbox", name="Name", exact=True)
        first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type("Land")
        held.pop().continue_()
        expect(new).to_be_hidden()
        expect(page.locator(".editor .part")).to_have_count(2)
        page.keyboard.type("ing")
        expect(first).to_have_value("Landing")
        expect(first).to_be_focused()

    @tag("whole")
    def test_a_list_that_arrives_late_takes_no_focus_from_who_types(self) -> None:
        """The list to search in comes in the middle of a figure: the rest of it goes where it began."""
        late: list[Route] = []
        self.page.route("**/Themed*.js", lambda route: late.append(route))
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.go("Parts", "Lamps")
        page.get_by_label("Watts, if known").click()
        page.keyboard.type("1")
        expect(page.get_by_role("combobox", name="From the shelf")).to_be_disabled()
        for one in late:
            one.continue_()
        expect(page.get_by_role("combobox", name="From the shelf")).to_be_enabled()
        page.keyboard.type("4")
        expect(page.get_by_label("Watts, if known")).to_have_value("14")
        expect(page.get_by_label("Watts, if known")).to_be_focused()

    @tag("whole")
    def test_nor_from_who_clicks_into_a_field_while_the_list_is_being_drawn(self) -> None:
        """On a slow machine that takes a while; letters go where the field was clicked, whenever that was."""
        late: list[Route] = []
        self.page.route("**/Themed*.js", lambda route: late.append(route))
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.go("Parts", "Lamps")
        watts = page.get_by_label("Watts, if known")
        shelf = page.get_by_role("combobox", name="From the shelf")
        expect(shelf).to_be_disabled()
        self.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 6})
        for one in late:
            one.continue_()
        typed = ""
        for _ in range(1000):
            watts.focus()
            page.keyboard.press("End")
            page.keyboard.type("x")
            typed += "x"
            page.evaluate("document.activeElement.blur()")
            if shelf.is_enabled():
                break
        expect(shelf).to_be_enabled()
        expect(watts).to_have_value(typed)
