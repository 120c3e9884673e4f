"""The control with the light on: levels, both edges, typed figures, loads and the round."""

from __future__ import annotations

import re

from django.test import tag
from playwright.sync_api import Locator, expect

from loops.models import Gang
from tests.browser import TABLET
from tests.interface.base import InterfaceTest


class LitTest(InterfaceTest):
    """Opens it."""

    def look(self, name: str) -> Locator:
        """The region with the light on of a loop."""
        page = self.sign_in()
        self.open_loop(name)
        self.go("Judge", "Light on")
        lit = page.get_by_role("region", name="With the light on")
        expect(lit.get_by_role("status")).to_contain_text("Control and lamps")
        return lit


class LightOn(LitTest):
    """At 1280 by 800."""

    def test_the_level_is_dragged_in_the_half_cycle(self) -> None:
        """Pulled to the right the dimmer turns off later: the figure, the slider and the words follow."""
        lit = self.look("Bell chamber")
        handle = lit.locator(".level-handle circle")
        box = handle.bounding_box()
        assert box is not None
        self.page.mouse.move(box["x"] + 5, box["y"] + 5)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 105, box["y"] + 5, steps=6)
        self.page.mouse.up()
        level = int(lit.get_by_label("Turns off at").input_value())
        self.assertGreater(level, 105)
        expect(lit.get_by_role("img", name=re.compile(f"Turned off at {level}"))).to_be_visible()

    @tag("whole")
    def test_a_dimmer_with_two_edges_is_judged_on_both(self) -> None:
        """Ring transformers: leading goes if, trailing must not; the other edge can be looked at."""
        lit = self.look("Eel weir porch")
        edges = lit.get_by_role("list", name="Both edges")
        expect(edges.get_by_role("listitem").nth(0)).to_contain_text("goes with conditions")
        expect(edges.get_by_role("listitem").nth(1)).to_contain_text("must not")
        expect(edges).to_contain_text("No iron core on a trailing edge")
        lit.get_by_role("button", name="trailing edge").click()
        expect(lit.get_by_role("status")).to_contain_text("must not")
        expect(lit.get_by_role("img", name=re.compile("Turned off at"))).to_be_visible()

    @tag("whole")
    def test_a_relay_is_seen_running_and_closing(self) -> None:
        """Its supply window in words, then the inrush against what the contact stands."""
        lit = self.look("Wheelhouse stair")
        expect(lit.get_by_role("img", name=re.compile("It opens for the first 35"))).to_be_visible()
        lit.get_by_role("button", name="closing").click()
        expect(lit.get_by_role("img", name=re.compile("Closed at 90"))).to_be_visible()
        expect(lit.get_by_text(re.compile("the control stands 80.0 A"))).to_be_visible()
        # The band follows what is drawn: amperes of an inrush, not the milliamperes of running.
        expect(lit.get_by_text(re.compile(r"Shaded: .*up to \d+\.\d A"))).to_be_visible()

    @tag("whole")
    def test_a_figure_typed_for_the_control_moves_its_window_and_is_kept(self) -> None:
        """A gap measured on site; nonsense is refused beside the field and changes nothing."""
        lit = self.look("Wheelhouse stair")
        lit.get_by_text("Figures of the control with the light on").click()
        field = lit.get_by_label("longest it stays open in a half-cycle for its own supply", exact=True)
        self.typed(field, "wide")
        expect(lit.get_by_text("Write a number")).to_be_visible()
        self.typed(field, "42")
        expect(lit.get_by_role("img", name=re.compile("It opens for the first 42"))).to_be_visible()
        source = lit.get_by_label("Source: longest it stays open in a half-cycle for its own supply")
        source.select_option("measured")
        self.page.get_by_role("button", name="Keep").click()
        expect(self.page.get_by_text("as recorded")).to_be_visible()
        figure = Gang.objects.get(loop__name="Wheelhouse stair").control.figures["gap_deg"]
        self.assertEqual((figure["typical"], figure["source"]), (42, "measured"))

    @tag("whole")
    def test_loads_are_told_with_what_governs_and_come_to_the_round(self) -> None:
        """Each limit in a row; the round says lamps there and wanted, and whether the control drives them."""
        lit = self.look("Eel weir porch")
        loads = lit.get_by_role("region", name="Least and largest load")
        governing = loads.get_by_role("row", name=re.compile("Largest load, transformers"))
        expect(governing).to_contain_text("governs")
        expect(governing).to_contain_text("At most 4 lamps")
        self.page.get_by_role("link", name="Round").click()
        row = self.page.get_by_role("row", name=re.compile("Eel weir porch"))
        expect(row).to_contain_text("2 lamps, wanted 2 to 4")
        expect(row).to_contain_text("when on: goes with conditions")

    @tag("whole")
    def test_the_matrix_opens_row_by_row(self) -> None:
        """Each answer with its reason, without a pointer to hover with."""
        lit = self.look("Bell chamber")
        lit.get_by_text("Which load goes on which control").click()
        row = lit.get_by_role("row", name=re.compile("dimmable driver trailing only"))
        row.get_by_role("button").click()
        expect(lit.get_by_text(re.compile("each firing would charge its input capacitors"))).to_be_visible()

    @tag("whole")
    def test_a_transformer_from_the_shelf_takes_the_place_of_lamps(self) -> None:
        """An electronic one on a trailing-edge dimmer: its maker says nothing, so it is not known."""
        page = self.sign_in()
        self.open_loop("Bell chamber")
        self.go("Parts", "Lamps")
        page.get_by_role("combobox", name="From the shelf").click()
        page.keyboard.type("Slim transformer")
        page.get_by_title("Hobmoor Slim transformer 60 W", exact=True).click()
        self.go("Judge", "Light on")
        lit = page.get_by_role("region", name="With the light on")
        expect(lit.get_by_text(re.compile("Lamp group 1: electronic transformer"))).to_be_visible()
        expect(lit.get_by_role("status")).to_contain_text("not known")


@tag("whole")
class OnTheTablet(LitTest):
    """Held upright."""

    size = TABLET

    def test_nothing_is_wider_than_the_tablet(self) -> None:
        """Half-cycle, load table and open matrix stay within its width."""
        lit = self.look("Bell chamber")
        lit.get_by_text("Which load goes on which control").click()
        expect(lit.get_by_role("row", name=re.compile("dimmable driver both"))).to_be_visible()
        wide = self.page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertLessEqual(wide, 0)
