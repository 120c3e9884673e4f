"""The step Route as a technician uses it: compared, looked at, chosen by one and seen by another, checked."""

from __future__ import annotations

import re
import threading
from unittest import mock

from django.test import tag
from playwright.sync_api import Page, expect

from ember_core.routes.comparing import rate
from ember_core.routes.rated import Asked, Rated
from ember_core.routes.ways import Way
from tests.interface.base import InterfaceTest
from work.models import CeilingPoint, CheckedDrawing, RouteChoice


class Route(InterfaceTest):
    """From the demo's loops, whose boxes nobody has surveyed here."""

    def open_ways(self, loop: str) -> Page:
        """The ways of a loop, all compared."""
        page = self.sign_in()
        self.open_loop(loop)
        self.go("Route")
        self.compared(page)
        return page

    def compared(self, page: Page) -> None:
        """Nothing is under way any more."""
        expect(page.get_by_role("region", name="What cannot be here")).to_be_visible()
        expect(page.locator('.answer[aria-busy="true"]')).to_have_count(0)

    def test_one_large_answer_and_what_stands_against_the_rest(self) -> None:
        """The favoured way with its reason; what cannot be has one sentence each; what nobody saw is told."""
        page = self.open_ways("Wheelhouse stair")
        favoured = page.get_by_role("article", name="Two-wire control, no bypass")
        expect(favoured).to_contain_text("Favoured")
        expect(favoured).to_contain_text("Light off: it works in 64 of 64 trials")
        expect(favoured).to_contain_text("electronics do not isolate")
        cannot = page.get_by_role("region", name="What cannot be here")
        expect(cannot).to_contain_text("There is no neutral of this circuit in the box")
        granted = page.get_by_role("region", name="Taken for granted")
        expect(granted).to_contain_text("Nobody has surveyed the box")
        # The figures beside it are those of the same loop.
        self.overall("Probably works")

    @tag("whole")
    def test_nothing_is_favoured_before_all_are_compared(self) -> None:
        """The first of those that are rated is the best so far; a way that comes later may still pass it."""
        later = threading.Event()
        self.addCleanup(later.set)
        rated: list[Way] = []

        def slowly(ask: Asked, way: Way, control: str | None = None) -> Rated:
            if rated:
                later.wait(30.0)
            rated.append(way)
            return rate(ask, way, control)

        with mock.patch("ember_core.routes.comparing.rate", slowly):
            page = self.sign_in()
            self.open_loop("Wheelhouse stair")
            self.go("Route")
            way = page.get_by_role("article").filter(has_text="Best so far")
            expect(way).to_have_count(1)
            expect(page.get_by_text("Favoured")).to_have_count(0)
            later.set()
            expect(page.get_by_role("article").filter(has_text="Favoured")).to_have_count(1)
            expect(way).to_have_count(0)

    @tag("whole")
    def test_a_ceiling_point_that_was_looked_at_changes_the_answer(self) -> None:
        """Said without a live, no drop can be turned; it outlives a reload and is compared anew."""
        page = self.open_ways("Kiln room")
        expect(page.get_by_role("article", name=re.compile("old switch as its input"))).to_be_visible()
        page.get_by_label("A permanent live is there").select_option("no")
        cannot = page.get_by_role("region", name="What cannot be here")
        expect(cannot).to_contain_text("The supply does not come to the wall from above")
        page.reload()
        self.compared(page)
        expect(page.get_by_label("A permanent live is there")).to_have_value("no")
        self.assertEqual(CeilingPoint.objects.get().seen["line"], "no")
        # The live comes in the cable of what is switched, so something lies between.
        taken = page.get_by_role("region", name="Taken for granted")
        expect(taken).to_contain_text("there is a junction box between that nobody has seen")

    @tag("whole")
    def test_what_was_seen_at_one_end_was_not_seen_at_another(self) -> None:
        """Said of the luminaire it does not go over to a junction box; said of that, what cannot be is refused."""
        page = self.open_ways("Wheelhouse stair")
        live, end = page.get_by_label("A permanent live is there"), page.get_by_label("The cable from the box ends")
        live.select_option("no")
        expect(live).to_have_value("no")
        expect(live).to_be_enabled()
        end.select_option("in junction box 1")
        expect(live).to_have_value("unknown")
        self.compared(page)
        live.select_option("no")
        wrong = page.get_by_role("alert").filter(has_text="then it is there too where that cable ends")
        expect(wrong).to_be_visible()
        expect(page.get_by_role("button", name="Choose this way")).to_have_count(0)
        live.select_option("yes")
        expect(wrong).to_have_count(0)
        self.compared(page)
        # At the luminaire: that is another place, until nobody has looked any more.
        end.select_option("at the luminaire")
        expect(live).to_have_value("unknown")
        live.select_option("yes")
        expect(live).to_have_value("yes")
        expect(live).to_be_enabled()
        end.select_option("nobody looked")
        expect(end).to_have_value("unknown")
        expect(live).to_have_value("yes")

    @tag("whole")
    def test_a_junction_box_is_said_and_hands_go_there(self) -> None:
        """Its ways come, their map draws it between board and box; fitting it is proved dead by itself."""
        page = self.open_ways("Wheelhouse stair")
        expect(page.get_by_role("article", name="Module in the junction box, old switch as its input")).to_have_count(0)
        page.get_by_label("The cable from the box ends").select_option("in junction box 1")
        page.get_by_label("A permanent live is there").select_option("yes")
        card = page.get_by_role("article", name="Module in the junction box, old switch as its input")
        expect(card).to_contain_text("Hands work in junction box 1.")
        page.reload()
        self.compared(page)
        expect(page.get_by_label("The cable from the box ends")).to_have_value("1")
        card.get_by_role("button", name="Choose this way").click()
        page.get_by_role("dialog").get_by_role("button", name="Choose this way").click()
        wire_map = page.get_by_role("region", name="Wire map", exact=True)
        expect(wire_map).to_contain_text("joint of the permanent live, junction box 1")
        self.go("Fit")
        expect(page.get_by_text("Isolate and prove dead: Junction box 1").first).to_be_visible()

    def test_what_is_chosen_is_named_as_it_was_compared(self) -> None:
        """The control and the bypass with which a way was judged stand once more where it is chosen."""
        page = self.open_ways("Kiln room")
        card = page.get_by_role("article", name="Two-wire control with a bypass")
        told = card.locator("b", has_text="With ")
        expect(told).to_contain_text(" + ")
        card.get_by_role("button", name="Choose this way").click()
        expect(page.get_by_role("dialog")).to_contain_text(told.inner_text())

    @tag("whole")
    def test_a_way_is_chosen_and_another_person_sees_its_map(self) -> None:
        """Why is typed; the map opens, its states can be switched; a colleague who chooses late is told."""
        page = self.open_ways("Wheelhouse stair")
        other = self.another("tam")
        other.goto(page.url)
        self.compared(other)
        page.get_by_role("article", name="Two-wire control, no bypass").get_by_role(
            "button", name="Choose this way"
        ).click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Why this one"), "No neutral, four pendants")
        dialog.get_by_role("button", name="Choose this way").click()
        wire_map = page.get_by_role("region", name="Wire map", exact=True)
        expect(wire_map.get_by_role("status").first).to_contain_text("lamp 1: dark")
        wire_map.get_by_role("button", name="L1", exact=True).click()
        expect(wire_map.get_by_role("status").first).to_contain_text("lamp 1: lit")
        core = wire_map.get_by_role("button", name=re.compile(r"^Core c2 .*live|^core c2 .*live"))
        core.focus()
        page.keyboard.press("Enter")
        expect(wire_map).to_contain_text("from switch 1, terminal L1 to control, terminal L1")
        wire_map.get_by_role("button", name="Connect it otherwise, to try").click()
        expect(page.get_by_text("It does what the chosen map does")).to_be_visible()
        page.get_by_role("button", name="Take c1@box away").click()
        expect(page.get_by_text("This wiring does not work.")).to_be_visible()
        expect(page.get_by_text(re.compile("Only in the chosen map: .*c1"))).to_be_visible()
        self.go("Route", "Wire map")
        first = wire_map.get_by_role("listitem").filter(has_text="Isolate, lock, prove dead")
        expect(first).to_be_visible()
        wire_map.get_by_role("tab", name="Back").click()
        expect(wire_map).to_contain_text("from control, terminal L to switch 1, terminal COM")
        # The colleague still has the ways of before on the screen.
        other.get_by_role("article", name="Module behind the old switch").get_by_role(
            "button", name="Choose this way"
        ).click()
        other.get_by_role("dialog").get_by_role("button", name="Choose this way").click()
        expect(other.get_by_role("dialog").get_by_role("alert")).to_be_visible()
        self.assertEqual([row.way for row in RouteChoice.objects.all()], ["two_wire"])
        self.assertEqual(RouteChoice.objects.get().why, "No neutral, four pendants")
        other.reload()
        self.compared(other)
        expect(other.get_by_role("region", name="Chosen so far")).to_contain_text("No neutral, four pendants")

    @tag("whole")
    def test_what_is_on_the_bench_and_not_kept_is_said(self) -> None:
        """The ways are of what is kept."""
        page = self.open_ways("Wheelhouse stair")
        self.go("Parts", "Lamps")
        count = page.get_by_label("number of equal lamps")
        self.typed(count, "1")
        self.go("Route", "Ways")
        expect(page.get_by_text("What stands on the bench is not kept yet")).to_be_visible()

    @tag("whole")
    def test_a_leaflet_that_is_wrong_is_told_and_kept(self) -> None:
        """Begun with the box as found, one end taken off: the fault is named; kept it stays with the loop."""
        page = self.open_ways("Wheelhouse stair")
        self.go("Route", "Check a drawing")
        drawing = page.get_by_role("region", name="Check a drawing")
        drawing.get_by_role("button", name=re.compile("Begin with the chosen map")).click()
        expect(drawing.get_by_text("This wiring works.")).to_be_visible()
        drawing.get_by_role("button", name="Take c2@box away").click()
        expect(drawing.get_by_text("This wiring does not work.")).to_be_visible()
        expect(drawing.get_by_text("Lamp 1 never lights.")).to_be_visible()
        self.typed(drawing.get_by_label("Name", exact=True), "Leaflet of the relay")
        self.typed(drawing.get_by_label("Where it is from"), "in the box, page 2")
        drawing.get_by_role("button", name="Keep it with the loop").click()
        kept = drawing.get_by_role("article", name="Leaflet of the relay")
        expect(kept).to_contain_text("This wiring does not work.")
        expect(kept).to_contain_text("Lamp 1 never lights.")
        self.assertEqual(CheckedDrawing.objects.get().source, "in the box, page 2")

    @tag("whole")
    def test_a_drawing_from_nothing_by_keyboard_fields(self) -> None:
        """A control, a lamp, cores; joints are picked from what is free; an empty one says what is wrong."""
        page = self.open_ways("Wheelhouse stair")
        self.go("Route", "Check a drawing")
        drawing = page.get_by_role("region", name="Check a drawing")
        drawing.get_by_role("button", name="Begin with nothing").click()
        drawing.get_by_label("add a device").select_option("one_way")
        drawing.get_by_label("add a device").select_option("lamp")
        for name, start, end in (("A1", "board", "wall"), ("B1", "wall", "ceiling")):
            self.typed(drawing.get_by_label("Core", exact=True), name)
            self.typed(drawing.get_by_label("from", exact=True), start)
            self.typed(drawing.get_by_label("to", exact=True), end)
            drawing.get_by_role("button", name="Add the core").click()
        joints = (
            ("1.L", "A1@board"),
            ("A1@wall", "sw1.COM"),
            ("sw1.L1", "B1@wall"),
            ("B1@ceiling", "lamp1.1"),
            ("lamp1.2", "1.N"),
        )
        for number, (one, other) in enumerate(joints):
            drawing.get_by_label("Another joint").select_option(one)
            drawing.get_by_label("add a point").nth(number).select_option(other)
        expect(drawing.get_by_text("This wiring works.")).to_be_visible()

    @tag("whole")
    def test_the_ways_fit_the_tablet(self) -> None:
        """Nothing runs out of the page; each button is large enough for a thumb in a glove."""
        page = self.open_ways("Wheelhouse stair")
        page.set_viewport_size({"width": 1024, "height": 768})
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertLessEqual(wide, 0)
        for button in page.locator(".way-do button").all():
            box = button.bounding_box()
            assert box is not None
            self.assertGreaterEqual(box["height"], 43.5)
