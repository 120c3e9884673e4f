"""The bench as a technician uses it."""

from __future__ import annotations

import json
import re
import tempfile
from pathlib import Path

from django.test import tag
from playwright.sync_api import Page, Route, expect

from judgements.models import Judgement
from loops.models import FittedControl, Gang, Loop, MeasuredValue
from parts.models import PartClaim
from tests.browser import TABLET
from tests.interface.base import InterfaceTest

# Over an answer that was asked for by a press, once the question is another.
OF_BEFORE = "For what stood here before"


class SigningIn(InterfaceTest):
    """The door."""

    def test_name_and_password_typed_in_and_a_wrong_one_refused(self) -> None:
        """By keyboard alone; the refusal says what is wrong and keeps the name."""
        page = self.page
        page.goto(f"{self.live_server_url}/loops/anything")
        self.typed(page.get_by_label("Name"), "wren")
        self.typed(page.get_by_label("Password"), "not it")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_have_text("Name or password is wrong.")
        expect(page.get_by_label("Name")).to_have_value("wren")
        self.typed(page.get_by_label("Password"), "kestrel-demo")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Sign out")).to_be_visible()
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


class TheRound(InterfaceTest):
    """Finding a loop, making one."""

    @tag("whole")
    def test_search_and_filter_by_keyboard(self) -> None:
        """Slash goes to the search; words narrow the rows; nothing found is said."""
        page = self.sign_in()
        expect(page.get_by_text("26 loops")).to_be_visible()
        page.keyboard.press("/")
        page.keyboard.type("mill kiln")
        expect(page.get_by_text("1 loop", exact=True)).to_be_visible()
        expect(page.get_by_role("row", name="Kiln room")).to_contain_text("blink")
        self.typed(page.get_by_label("Search loops"), "nowhere")
        expect(page.get_by_text("No loop matches")).to_be_visible()

    def test_a_loop_from_nothing_to_dark_and_fed(self) -> None:
        """New site, new loop with a new breaker, control, lamps and bypass from the shelf, kept, and on the round."""
        page = self.sign_in()
        page.get_by_role("button", name="New site").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Name of the site"), "Barge Hyacinth")
        # Nor is its supply guessed.
        expect(dialog.get_by_role("button", name="Make")).to_be_disabled()
        dialog.get_by_label("Supply").select_option("230 V 50 Hz")
        dialog.get_by_role("button", name="Make").click()
        expect(dialog).to_be_hidden()
        page.get_by_role("button", name="New loop").click()
        dialog = page.get_by_role("dialog")
        # Of several sites none is preselected.
        expect(dialog.get_by_role("button", name="Make")).to_be_disabled()
        dialog.get_by_role("combobox", name="Site").click()
        page.get_by_title("Barge Hyacinth", exact=True).click()
        self.typed(dialog.get_by_label("Name of the loop"), "Galley")
        self.typed(dialog.get_by_label("New breaker"), "2")
        dialog.get_by_role("button", name="Make").click()
        expect(page.get_by_role("heading", name="Galley")).to_be_visible()
        expect(page.get_by_role("heading", name="Before the visit")).to_be_visible()
        self.go("Parts", "Lamps")
        self.verdict("Not yet known")
        expect(page.get_by_role("complementary", name="Why")).to_contain_text("the control")
        self.typed(page.get_by_label("Lamps in this group"), "2")
        self.from_shelf("Candle", "Oxlip Works Candle 4 W")
        page.get_by_role("button", name="Control: not chosen").click()
        self.from_shelf("Relay S1", "Pellan & Sedge Relay S1, 802.15.4 mesh")
        page.get_by_role("button", name="No bypass").click()
        self.own_bypass("470n")
        self.verdict("Dark and fed")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        page.get_by_role("link", name="Ember Thread").click()
        row = page.get_by_role("row", name="Galley")
        expect(row).to_contain_text("probably works")
        expect(row).to_contain_text("choose the way")
        self.assertEqual(Loop.objects.get(name="Galley").circuit.breaker, "2")


class TheBench(InterfaceTest):
    """What-if, why, undo, keep."""

    def test_changing_the_bypass_turns_blink_into_dark_and_keeps_nothing_until_kept(self) -> None:
        """The verdict follows every change; undo and discard go back; the record stands until Keep."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.verdict("Lamps blink when off")
        expect(page.get_by_text(re.compile("flashes in .* one every"))).to_be_visible()
        self.go("Parts", "Bypass")
        self.own_bypass("220n")
        self.verdict("Dark and fed")
        expect(page.get_by_text("what-if copy")).to_be_visible()
        self.assertEqual(Gang.objects.get(loop__name="Kiln room").bypasses.count(), 0)
        page.get_by_role("button", name="Discard").click()
        self.verdict("Lamps blink when off")
        page.get_by_role("button", name="Undo").click()
        self.verdict("Dark and fed")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        kept = Gang.objects.get(loop__name="Kiln room")
        self.assertEqual(kept.bypasses.get().figures["c_f"]["typical"], 2.2e-7)
        self.assertEqual(Judgement.objects.filter(gang=kept).first().verdict, "dark")

    @tag("whole")
    def test_a_copy_survives_a_reload(self) -> None:
        """What was typed is there again, still not kept."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.verdict("Dark and fed")
        self.go("Parts", "Bypass")
        self.typed(page.get_by_label("capacitance", exact=True), "330 nF")
        expect(page.get_by_text("what-if copy")).to_be_visible()
        page.reload()
        expect(page.get_by_text("what-if copy")).to_be_visible()
        self.go("Parts", "Bypass")
        expect(page.get_by_label("capacitance", exact=True)).to_have_value("330 nF")

    def test_every_reason_opens_into_formula_and_sources(self) -> None:
        """By keyboard: the start threshold is named as measured, with its range."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        reason = page.get_by_role("button", name=re.compile("reservoir against start"))
        reason.focus()
        page.keyboard.press("Enter")
        why = page.get_by_role("complementary", name="Why")
        expect(why).to_contain_text("104 V to 116 V")
        expect(why).to_contain_text("measured, bench")
        expect(why.get_by_text("V_bulk")).to_be_visible()

    def test_bad_figures_are_refused_in_words_and_nothing_is_lost(self) -> None:
        """A word, a negative capacitance, a stop above the start: each is told, and the rest stays."""
        page = self.sign_in()
        self.open_loop("Wheelhouse stair")
        self.go("Parts", "Lamps")
        page.get_by_text("Technical figures").click()
        field = page.get_by_label("reservoir (bulk) capacitor behind the rectifier", exact=True)
        self.typed(field, "plenty")
        expect(page.get_by_text("Write a number")).to_be_visible()
        expect(field).to_have_value("plenty")
        self.typed(field, "-4.7u")
        expect(page.get_by_text("Write a number of zero or more")).to_be_visible()
        self.typed(field, "47 mF")
        page.get_by_role("button", name="It is 47.0 mF").click()
        expect(page.get_by_role("alert")).to_contain_text("outside")
        self.typed(field, "4.7u")
        expect(page.get_by_role("alert")).to_be_hidden()
        self.typed(page.get_by_label("reservoir voltage at which a running driver stops", exact=True), "200")
        expect(page.get_by_role("alert")).to_contain_text("must stop")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("alert").first).to_contain_text("must stop")
        self.assertEqual(Gang.objects.get(loop__name="Wheelhouse stair").version, 2)

    @tag("whole")
    def test_the_second_writer_is_asked_not_overruled(self) -> None:
        """Two people on one gang: the later one sees the conflict and chooses."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.verdict("Dark and fed")
        other_context = self.browser.new_context(viewport=self.size)
        self.addCleanup(other_context.close)
        other = self.sign_in("fenna", other_context.new_page())
        self.open_loop("Loft landing", other)
        self.go("Parts", "Bypass", page=other)
        self.typed(other.get_by_label("capacitance", exact=True), "150n")
        other.get_by_role("button", name="Keep", exact=True).click()
        expect(other.get_by_text("as recorded")).to_be_visible()
        self.go("Parts", "Bypass")
        self.typed(page.get_by_label("capacitance", exact=True), "470n")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Someone else kept a change")
        page.get_by_role("button", name="Show theirs").click()
        expect(page.get_by_label("capacitance", exact=True)).to_have_value("150 nF")

    @tag("whole")
    def test_what_two_people_changed_is_put_together(self) -> None:
        """Each keeps what the other left; of what both changed one's own stands, and is named until it is kept."""
        page, other = self.sign_in(), self.another("fenna")
        for who, name, size in ((other, "Upper landing", "150n"), (page, "", "470n")):
            self.open_loop("Loft landing", who)
            self.go("Parts", "Bypass", page=who)
            self.typed(who.get_by_label("capacitance", exact=True), size)
            self.go("Parts", "Cable", page=who)
            if name:
                self.typed(who.get_by_label("Name of this gang"), name)
        other.get_by_role("button", name="Keep", exact=True).click()
        expect(other.get_by_text("as recorded")).to_be_visible()
        core = "cable capacitance between the switched core and neutral or protective conductor"
        self.typed(page.get_by_label(core, exact=True), "700p")
        page.get_by_role("button", name="Keep", exact=True).click()
        page.get_by_role("button", name="Put both together").click()
        told = page.get_by_role("status").filter(has_text="on the bench together")
        expect(told).to_contain_text("Both of you changed this, and yours stands here: the bypasses.")
        expect(page.get_by_role("alert")).to_have_count(0)
        # Nothing is kept before it was looked at, and all of it is there after a reload.
        kept = Gang.objects.get(loop__name="Loft landing")
        self.assertEqual(kept.name, "Upper landing")
        expect(page.get_by_text("what-if copy")).to_be_visible()
        page.reload()
        expect(told).to_contain_text("the bypasses")
        expect(page.get_by_label(core, exact=True)).to_have_value("700 pF")
        expect(page.get_by_label("Name of this gang")).to_have_value("Upper landing")
        self.go("Parts", "Bypass")
        expect(page.get_by_label("capacitance", exact=True)).to_have_value("470 nF")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        expect(told).to_have_count(0)
        self.assertEqual(Gang.objects.get(loop__name="Loft landing").name, "Upper landing")

    @tag("whole")
    def test_a_checker_tries_but_cannot_keep(self) -> None:
        """No Keep, no new loop, and a word why."""
        page = self.sign_in("odell")
        expect(page.get_by_role("button", name="New loop")).to_be_hidden()
        self.open_loop("Kiln room")
        expect(page.get_by_text("does not keep")).to_be_visible()
        self.go("Parts", "Bypass")
        self.own_bypass("100n")
        expect(page.get_by_text("what-if copy")).to_be_visible()
        expect(page.get_by_role("button", name="Keep", exact=True)).to_be_hidden()

    @tag("whole")
    def test_the_thread_is_walked_by_keyboard_and_says_everything_in_words(self) -> None:
        """Each part is a button with its state in its name; Enter opens its editor."""
        page = self.sign_in()
        self.open_loop("Gallery")
        self.verdict("Control is starved")
        self.go("Parts")
        control = page.get_by_role("button", name=re.compile("^Control: .*starved"))
        control.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_label("current the control needs while off", exact=True)).to_be_visible()
        page.keyboard.press("Tab")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        expect(page.get_by_label("capacitance", exact=True)).to_be_visible()
        words = page.locator(".thread-words")
        expect(words).to_contain_text("through the control (starved)")
        expect(words).to_contain_text("through lamp group 1 (dark)")

    @tag("whole")
    def test_gangs_branch_and_another_is_added(self) -> None:
        """Two gangs of the pottery, each with its own thread, and a third from nothing."""
        page = self.sign_in()
        self.open_loop("Pottery studio")
        self.verdict("Dark and fed")
        # Beside the loop its gangs are links too, once what they do together has been computed.
        page.get_by_role("navigation", name="2 gangs").get_by_role("link", name=re.compile("Drying racks")).click()
        self.verdict("Dark")
        page.get_by_role("button", name="+ Add gang").click()
        self.verdict("Not yet known")
        tabs = page.get_by_role("navigation", name="3 gangs")
        expect(tabs.get_by_role("link", name=re.compile("Gang 3"))).to_be_visible()

    @tag("whole")
    def test_loop_and_gang_are_renamed_and_moved_to_another_breaker(self) -> None:
        """The loop at once, with a taken name refused; the gang with the rest of its copy."""
        page = self.sign_in()
        self.open_loop("Pottery studio")
        page.get_by_role("button", name="Edit loop").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Name of the loop"), "Gallery")
        dialog.get_by_role("button", name="Change").click()
        expect(dialog.get_by_role("alert")).to_contain_text("already")
        self.typed(dialog.get_by_label("Name of the loop"), "Clay room")
        dialog.get_by_role("combobox", name="Breaker").click()
        page.get_by_title("7", exact=True).click()
        dialog.get_by_role("button", name="Change").click()
        expect(page.get_by_role("heading", name="Clay room")).to_be_visible()
        expect(page.get_by_role("region", name="The loop in short")).to_contain_text("Breaker 7")
        self.go("Parts", "Cable")
        self.typed(page.get_by_label("Name of this gang"), "Throwing")
        page.get_by_role("button", name="Keep", exact=True).click()
        tabs = page.get_by_role("navigation", name="2 gangs")
        expect(tabs.get_by_role("link", name=re.compile("Throwing"))).to_be_visible()

    @tag("whole")
    def test_a_ptc_s_temperature_is_told_in_degrees(self) -> None:
        """80 °C on the screen, 353.15 K in the record."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Bypass")
        page.get_by_role("combobox", name="From the shelf").click()
        page.keyboard.type("warm")
        page.get_by_title("Tarnbrook Warm bleeder P2", exact=True).click()
        field = page.get_by_label("temperature at which the resistance begins to rise", exact=True)
        expect(field).to_have_value("80 °C")
        self.typed(field, "85")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        figures = Gang.objects.get(loop__name="Loft landing").bypasses.get().figures
        self.assertEqual(figures["t_switch_k"]["typical"], 358.15)

    @tag("whole")
    def test_dark_mode_and_help(self) -> None:
        """Changed by a button and kept; the help opens with its key."""
        page = self.sign_in()
        page.get_by_role("button", name="Dark").click()
        expect(page.locator("html")).to_have_attribute("data-mode", "dark")
        page.reload()
        expect(page.locator("html")).to_have_attribute("data-mode", "dark")
        page.get_by_role("heading", name="Round").click()
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("steps of the bench")

    def test_a_changed_value_has_new_figures_within_the_time_of_a_blink_of_an_eye(self) -> None:
        """The answer comes; how fast is measured by the bench, here only that it is not seconds."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Bypass")
        with page.expect_response(re.compile("/judge/"), timeout=3000) as answer:
            self.typed(page.get_by_label("capacitance", exact=True), "200n")
        self.assertEqual(answer.value.status, 200)
        expect(page.locator(".thread")).to_contain_text("200 nF")


class Typing(InterfaceTest):
    """Figures as people write them."""

    def test_prefixes_commas_and_units_are_understood(self) -> None:
        """Every way of writing 220 nF gives the same value, shown the same when the field is left."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Bypass")
        field = page.get_by_label("capacitance", exact=True)
        for typed in ("220n", "220 nF", "0.22u", "0,22 µF", "220", "220000p", "2.2e-7 F"):
            self.typed(field, "100n")
            self.typed(field, typed)
            expect(page.locator(".thread").get_by_text("220 nF")).to_be_visible()
            expect(field).to_have_value("220 nF")
        for wrong, why in (
            ("220x", "not a unit"),
            ("n", "Write a number"),
            ("2..2u", "not a unit"),
            ("220 V", "not a unit"),
            ("1,500", "can be read both ways"),
        ):
            self.typed(field, wrong)
            expect(page.get_by_text(why)).to_be_visible()
            expect(field).to_have_value(wrong)
        expect(page.locator(".thread").get_by_text("220 nF")).to_be_visible()

    @tag("whole")
    def test_a_source_is_chosen_and_an_optional_figure_left_empty(self) -> None:
        """Measured instead of declared shows among the reasons' inputs; no discharge resistor is a state of its own."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Control")
        page.get_by_label("Source: power the control needs while off").select_option("measured")
        page.get_by_role("button", name=re.compile("Power for the control")).click()
        expect(page.get_by_role("complementary", name="Why")).to_contain_text("measured, leaflet")
        page.keyboard.press("Escape")
        self.go("Parts", "Bypass")
        self.typed(page.get_by_label("discharge resistor across the capacitor", exact=True), "")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        figures = Gang.objects.get(loop__name="Loft landing").bypasses.get().figures
        self.assertNotIn("r_parallel_ohm", figures)

    @tag("whole")
    def test_another_kind_of_bypass_asks_for_its_own_figures(self) -> None:
        """A resistor has a resistance, and until it is given the loop is told to lack it."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Bypass")
        page.get_by_label("Kind of bypass").select_option("resistor")
        expect(page.get_by_role("alert")).to_contain_text("resistance is missing")
        self.typed(page.get_by_label("resistance", exact=True), "22k")
        expect(page.get_by_role("alert")).to_be_hidden()
        self.verdict("Dark and fed")


@tag("whole")
class HowItHangs(InterfaceTest):
    """Through the lamps, or by a neutral."""

    def hangs(self, *ways: str) -> None:
        """How a control may hang, as it is offered."""
        expect(self.page.get_by_label("How it hangs in the loop").locator("option")).to_have_text(list(ways))

    def test_a_relay_of_two_wires_is_not_kept_as_fed_by_a_neutral(self) -> None:
        """Its leaflet knows none: not offered, and refused where the leaflet came to say so while somebody chose."""
        page = self.sign_in()
        control = FittedControl.objects.get(gang__loop__name="Loft landing")
        said = PartClaim.objects.filter(part=control.part, field="wiring.neutral")
        self.open_loop("Loft landing")
        self.go("Parts", "Control")
        self.hangs("two wires: fed through the lamps", "two of them, one at each place")
        said.update(in_use=False)
        page.reload()
        hangs = page.get_by_label("How it hangs in the loop")
        hangs.select_option(label="fed by a neutral of its own")
        thread = page.get_by_role("region", name="Thread")
        expect(thread).to_contain_text("fed by its neutral")
        said.update(in_use=True)
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("knows no neutral")
        hangs.select_option(label="two wires: fed through the lamps")
        expect(page.get_by_text("as recorded")).to_be_visible()
        expect(thread).not_to_contain_text("fed by its neutral")
        self.assertEqual(Gang.objects.get(loop__name="Loft landing").control.wired, "loop")

    def test_a_dimmer_that_wants_a_neutral_comes_with_one(self) -> None:
        """Taken from the shelf it hangs by its neutral and in no other way; the list of proof tries its electronics."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Control")
        self.from_shelf("N6", "Tarnbrook Dimmer N6, 802.15.4 mesh")
        thread = page.get_by_role("region", name="Thread")
        expect(thread).to_contain_text("fed by its neutral")
        expect(thread).to_contain_text("through the control (fed by its neutral)")
        self.hangs("fed by a neutral of its own")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        self.assertEqual(Gang.objects.get(loop__name="Loft landing").control.wired, "straight")
        self.go("Prove", "Prove it")
        proof = page.get_by_role("main")
        expect(proof).to_contain_text("What it does after a power cut")
        expect(proof).to_contain_text("one reading is as computed")


@tag("whole")
class Filtering(InterfaceTest):
    """The round by state and site."""

    def test_state_and_site_narrow_the_round_and_stay_in_the_address(self) -> None:
        """A link to a filtered round shows the same rows."""
        page = self.sign_in()
        page.goto(f"{self.live_server_url}/?state=blink&state=starved")
        expect(page.get_by_text("8 loops")).to_be_visible()
        page.get_by_role("combobox", name="Site").select_option(label="Larkspur Cannery")
        expect(page.get_by_text("1 loop", exact=True)).to_be_visible()
        expect(page.get_by_role("row", name="Dock office")).to_be_visible()
        page.reload()
        expect(page.get_by_text("1 loop", exact=True)).to_be_visible()

    def test_an_address_that_leads_nowhere_says_so(self) -> None:
        """A loop that does not exist, with the way back."""
        page = self.sign_in()
        page.goto(f"{self.live_server_url}/loops/00000000-0000-4000-8000-000000000000")
        expect(page.get_by_role("alert")).to_contain_text("does not exist")
        page.get_by_role("link", name="Back to the round").click()
        expect(page.get_by_role("heading", name="Round")).to_be_visible()


@tag("whole")
class Files(InterfaceTest):
    """What goes out and comes in."""

    def test_sheet_netlist_and_paper_are_offered_and_a_sheet_is_opened_as_what_if(self) -> None:
        """The downloaded sheet of one loop opened on another changes only the copy."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Hand over")
        with page.expect_download() as got:
            page.get_by_role("link", name="Loop sheet (JSON)").click()
        text = Path(got.value.path()).read_text()
        self.assertEqual(json.loads(text)["lamps"][0]["count"], 1)
        paper = page.request.get(
            f"{self.live_server_url}{page.get_by_role('link', name='Print sheet').get_attribute('href')}"
        )
        self.assertTrue(paper.body().startswith(b"%PDF"))
        expect(page.get_by_role("link", name="Netlist")).to_be_visible()
        expect(page.get_by_text(re.compile("Wren Talley · core"))).to_be_visible()
        page.get_by_role("link", name="Ember Thread").click()
        self.open_loop("Kiln room")
        self.go("Hand over")
        with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
            file.write(text)
            file.flush()
            page.get_by_label("Open a loop sheet …").set_input_files(file.name)
            self.verdict("Dark and fed")
        with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
            file.write("no sheet")
            file.flush()
            page.get_by_label("Open a loop sheet …").set_input_files(file.name)
            expect(page.get_by_text("This file is no loop sheet.")).to_be_visible()
        self.assertEqual(Gang.objects.get(loop__name="Kiln room").bypasses.count(), 0)


class OnATablet(InterfaceTest):
    """Held upright."""

    size = TABLET

    def test_the_bench_fits_and_its_targets_suit_a_thumb(self) -> None:
        """Nothing sticks out sideways, and every button and link is at least 44 high, text links in rows aside."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.verdict("Lamps blink when off")
        for key in "1234567890":
            page.keyboard.press(key)
            page.wait_for_timeout(150)
            wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
            self.assertLessEqual(wide, 0, f"step {key}")
        small = page.evaluate(
            "[...document.querySelectorAll('button, .steps button, .gangs a')]"
            ".filter(e => e.offsetParent && e.getBoundingClientRect().height < 36).map(e => e.textContent)"
        )
        self.assertEqual(small, [])

    @tag("whole")
    def test_a_value_is_changed_by_touch(self) -> None:
        """Tap the bypass on the thread, choose one, and the lamp goes dark."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.verdict("Lamps blink when off")
        page.get_by_role("button", name="Show the loop").click()
        page.get_by_role("button", name="No bypass").click()
        page.get_by_role("button", name="Add bypass").click()
        page.get_by_role("combobox", name="From the shelf").click()
        page.keyboard.type("220 nF")
        page.get_by_title("Quillfen X2 pack 220 nF", exact=True).click()
        self.verdict("Dark and fed")

    @tag("whole")
    def test_a_dropper_on_a_dimmer_must_not(self) -> None:
        """The answer with its mark and word, and the pulse in figures."""
        page = self.sign_in()
        self.open_loop("Glaze store")
        self.go("Judge", "Light on")
        lit = page.get_by_role("region", name="With the light on")
        expect(lit.get_by_role("status")).to_contain_text("✗ Control and lamps: must not")
        expect(lit.get_by_text(re.compile("step of twice the peak"))).to_be_visible()


class HowSure(InterfaceTest):
    """The off-state step over the ranges of its figures."""

    @tag("whole")
    def test_shares_margins_and_what_decides_are_shown_in_words(self) -> None:
        """And a reading narrows them, the least load is worked out, and a word is refused as a reading."""
        page = self.sign_in()
        self.open_loop("Wheelhouse stair")
        sure = page.get_by_role("region", name="How sure")
        expect(sure).to_contain_text("64 of 64 dark and fed")
        expect(sure.get_by_role("img", name="Lamp group 1: dark 64 of 64")).to_be_visible()
        expect(sure).to_contain_text("capacitor across the input of lamp group 1")
        expect(sure).to_contain_text("Another load switching")
        page.get_by_role("tab", name="Instruments").click()
        page.reload()
        shown = page.get_by_role("region", name="What instruments will show")
        expect(shown.get_by_role("row", name="A 400 kΩ meter")).to_contain_text(" V to ")
        measure = page.get_by_role("region", name="Measure and narrow")
        self.typed(measure.get_by_label("Value", exact=True), "much")
        measure.get_by_role("button", name="Add reading").click()
        expect(measure).to_contain_text("Write a number")
        self.typed(measure.get_by_label("Value", exact=True), "47 V")
        measure.get_by_role("button", name="Add reading").click()
        # No meter is taken for granted.
        expect(measure.get_by_role("alert")).to_contain_text("Say which of the two the meter is")
        measure.get_by_role("combobox", name="Meter").select_option("10 MΩ")
        measure.get_by_role("button", name="Add reading").click()
        expect(measure.get_by_role("list", name="Measured values")).to_contain_text("47.0 V (10.0 MΩ)")
        measure.get_by_role("combobox", name="Measure and narrow").select_option(label="What was seen, off")
        measure.get_by_role("button", name="lamps dark").click()
        measure.get_by_role("button", name="Judge with it").click()
        expect(measure).to_contain_text("The assumptions explain what was read")
        expect(measure.get_by_text(OF_BEFORE)).to_have_count(0)
        # One reading more, and what was judged without it says so, until it is judged again.
        measure.get_by_role("button", name="lamps dark").click()
        expect(measure.get_by_text(OF_BEFORE)).to_be_visible()
        measure.get_by_role("button", name="Judge with it").click()
        expect(measure.get_by_text(OF_BEFORE)).to_have_count(0)
        expect(measure).to_contain_text("The assumptions explain what was read")
        self.go("Parts", "Lamps")
        self.typed(page.get_by_label("number of equal lamps", exact=True), "5")
        self.go("Judge", "Loads")
        least = page.get_by_role("region", name="Least load", exact=True)
        least.get_by_role("button", name="Work out the least load").click()
        expect(least.get_by_role("row", name="Lamp group 1, no bypass")).to_contain_text("at least 4 lamps")
        expect(least.get_by_text(OF_BEFORE)).to_have_count(0)
        cures = page.get_by_role("region", name="One filament lamp among them")
        expect(cures.get_by_text(re.compile("Computing"))).to_have_count(0)
        page.route("**/cures/", lambda route: route.abort())
        page.keyboard.press("Control+z")
        expect(least.get_by_text(OF_BEFORE)).to_be_visible()
        # What cannot be computed anew says so, and shows nothing of before.
        expect(cures.get_by_role("alert")).to_be_visible()
        expect(cures.get_by_role("listitem")).to_have_count(0)

    @tag("whole")
    def test_what_the_meter_answers_late_is_no_value_of_another_sort(self) -> None:
        """Volts are chosen while it reads the current: milliamperes do not come to stand there as volts."""
        page = self.sign_in()
        self.open_loop("Wheelhouse stair")
        page.get_by_role("tab", name="Instruments").click()
        measure = page.get_by_role("region", name="Measure and narrow")
        sort = measure.get_by_role("combobox", name="Measure and narrow")
        value = measure.get_by_label("Value", exact=True)
        held: list[Route] = []
        page.route(
            "**/meter/", lambda route: held.append(route) if route.request.method == "POST" else route.fallback()
        )
        sort.select_option("line_i")
        measure.get_by_role("button", name="Read by the simulated meter").click()
        sort.select_option("lamp_v")
        with page.expect_response("**/meter/"):
            for one in held:
                one.continue_()
        self.typed(measure.get_by_label("Which meter"), "bench meter 2")
        expect(value).to_have_value("")
        page.unroute("**/meter/")
        measure.get_by_role("combobox", name="Meter").select_option("10 MΩ")
        measure.get_by_role("button", name="Read by the simulated meter").click()
        expect(value).to_have_value(re.compile(r"\d V$"))
        measure.get_by_role("combobox", name="Meter").select_option("400 kΩ")
        expect(value).to_have_value("")

    @tag("whole")
    def test_a_reading_is_missing_at_no_moment_and_can_be_struck_before_it_arrives(self) -> None:
        """It stands in the list though the list cannot be asked for again; what was struck unsent arrives struck."""
        page = self.sign_in()
        self.open_loop("Wheelhouse stair")
        page.get_by_role("tab", name="Instruments").click()
        measure = page.get_by_role("region", name="Measure and narrow")
        measure.get_by_role("combobox", name="Measure and narrow").select_option(label="What was seen, off")
        rows = measure.get_by_role("list", name="Measured").get_by_role("listitem")
        page.route("**/measured/", lambda route: route.abort() if route.request.method == "GET" else route.fallback())
        measure.get_by_role("button", name="lamps dark").click()
        self.all_sent()
        expect(rows).to_have_count(1)
        expect(rows).to_contain_text("Wren Talley")
        page.unroute("**/measured/")
        page.route("**/measured/**", lambda route: route.abort())
        measure.get_by_role("button", name="lamps dark").click()
        expect(rows).to_have_count(2)
        rows.last.get_by_role("button", name="Strike out").click()
        self.typed(page.get_by_role("dialog").get_by_role("textbox"), "pressed twice")
        page.get_by_role("dialog").get_by_role("button", name="Strike out").click()
        page.unroute("**/measured/**")
        self.all_sent()
        expect(rows.last).to_contain_text("pressed twice")
        self.assertEqual(
            list(MeasuredValue.objects.order_by("at").values_list("struck_reason", flat=True)), ["", "pressed twice"]
        )

    def test_one_figure_is_dragged_and_the_judgement_moves(self) -> None:
        """The figure that decides is offered; towards its small end the lamps blink, towards its large one they do
        not, said in words, by keyboard."""
        page = self.sign_in()
        self.open_loop("Packing loft")
        page.get_by_role("tab", name="One figure").click()
        panel = page.get_by_role("region", name="One figure")
        slider = panel.get_by_role("slider")
        slider.focus()
        page.keyboard.press("Home")
        expect(panel.get_by_text("beyond its range")).to_be_visible()
        expect(panel.get_by_role("img", name=re.compile("Then: .*blinks|Then: .*blink"))).to_be_visible()
        page.keyboard.press("End")
        expect(panel.get_by_role("img", name=re.compile("Then: .*dark and fed"))).to_be_visible()

    @tag("whole")
    def test_of_a_switch_that_needs_no_supply_nothing_is_said_of_feeding(self) -> None:
        """A contact with a leak: the lamps are dark or not, over the ranges and where one figure is dragged to."""
        page = self.sign_in()
        self.open_loop("Millrace walk")
        self.go("Judge", "Light off")
        expect(page.get_by_role("region", name="How sure")).to_contain_text("of 64 dark.")
        page.get_by_role("tab", name="One figure").click()
        panel = page.get_by_role("region", name="One figure")
        panel.get_by_role("slider").focus()
        page.keyboard.press("End")
        expect(panel.get_by_role("img", name=re.compile("^Then: dark [0-9]+ %, blink"))).to_be_visible()

    @tag("whole")
    def test_gangs_of_a_box_are_judged_together_and_swapping_is_offered(self) -> None:
        """The twin control's feeding output gets the filament lamps: it is computed and said, with its caution."""
        page = self.sign_in()
        self.open_loop("Millstone passage")
        together = page.get_by_role("region", name="The gangs of this box together")
        expect(together).to_contain_text("Swapping cures it: Stone case to the output of Passage")
        expect(together).to_contain_text("isolate, prove dead")
        self.go("Judge", "Loads")
        loads = page.get_by_role("region", name="Least and largest load")
        expect(loads).to_contain_text("resistive load")
        expect(loads.get_by_role("row", name=re.compile("Dark and fed while off"))).to_contain_text("At least")
        cures = page.get_by_role("region", name="One filament lamp among them")
        expect(cures).to_contain_text("cures it")

    @tag("whole")
    def test_the_single_flash_complaint_is_explained(self) -> None:
        """A loop that is dark, but flashes once when another load switches, says from which step of the mains on."""
        page = self.sign_in()
        self.open_loop("Packing loft")
        sure = page.get_by_role("region", name="How sure")
        expect(sure).to_contain_text(re.compile(r"dark up to a step of [5-9] % of the mains; beyond it lamp group 1"))

    @tag("whole")
    def test_the_waveforms_carry_the_band_of_their_ranges(self) -> None:
        """The band is told in words too, and the words of the verdict say what they hang on."""
        page = self.sign_in()
        self.open_loop("Packing loft")
        # The shares move what stands below them.
        expect(page.get_by_role("region", name="How sure")).to_contain_text("of 64 dark and fed")
        page.get_by_text("What these words hang on").click()
        expect(page.get_by_text("An eye used to the dark")).to_be_visible()
        page.get_by_role("tab", name="Waveforms").click()
        expect(page.get_by_role("img", name=re.compile("Over the ranges the lamp terminals peak at"))).to_be_visible()

    def test_the_bypass_that_works_is_taken_from_the_ranked_shelf(self) -> None:
        """The window is told in words; what the shelf offers first cures the blink at one press."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.verdict("Lamps blink when off")
        self.go("Route", "Which bypass")
        choose = page.get_by_role("region", name="How much bypass this loop bears")
        expect(choose.get_by_role("group", name=re.compile("below it lamp group 1 blinks"))).to_be_visible()
        page.get_by_role("button", name="Take it: Quillfen X2 pack 220 nF").click()
        self.verdict("Dark and fed")
        expect(page.get_by_text("what-if copy")).to_be_visible()

    @tag("whole")
    def test_a_part_that_this_page_does_not_know_yet_is_fetched_and_never_nothing_taken(self) -> None:
        """The shelf that the page has is older than the answer: what is there stays, or the part comes."""
        page = self.sign_in()
        page.route("**/api/v1/parts/", lambda route: route.fulfill(json=[]))
        self.open_loop("Packing loft")
        self.go("Route", "Which bypass")
        take = page.get_by_role("button", name="Take it: Quillfen X2 pack 220 nF")
        take.click()
        expect(page.get_by_role("alert")).to_contain_text("no longer on the shelf")
        expect(page.get_by_text("as recorded")).to_be_visible()
        page.unroute("**/api/v1/parts/")
        take.click()
        expect(page.get_by_text("what-if copy")).to_be_visible()
        expect(page.get_by_role("alert")).to_have_count(0)
        self.go("Parts", "Bypass")
        expect(page.get_by_label("Name", exact=True)).to_have_value("Quillfen X2 pack 220 nF")

    def open_bypass(self, loop: str) -> Page:
        """The bypass step of a loop, everything computed."""
        page = self.sign_in()
        self.open_loop(loop)
        self.go("Route", "Which bypass")
        choose = page.get_by_role("region", name="How much bypass this loop bears")
        expect(choose.get_by_role("group", name=re.compile("Over the ranges"))).to_be_visible()
        return page

    @tag("whole")
    def test_a_part_is_taken_on_the_window_by_keyboard(self) -> None:
        """Each part is a mark on the axis that the keyboard reaches; Enter takes it; limits are told in words."""
        page = self.open_bypass("Kiln room")
        page.get_by_role("button", name="Quillfen X2 pack 150 nF, unsure. Take it").focus()
        page.keyboard.press("Enter")
        self.verdict("Dark and fed")
        page.get_by_text("What limits it").click()
        expect(page.get_by_text("The control's maker", exact=True)).to_be_visible()
        page.get_by_role("button", name="Electronic bleeder", exact=True).click()
        expect(page.get_by_role("group", name=re.compile("^Electronic bleeder: from"))).to_be_visible()

    @tag("whole")
    def test_the_place_is_looked_at_and_kept(self) -> None:
        """Said to lack a conductor it speaks against the part; put right, kept, it is there again and on the thread."""
        page = self.open_bypass("Packing loft")
        page.get_by_role("tab", name="Where it goes").click()
        expect(page.get_by_text("Isolate and prove dead before anything is opened")).to_be_visible()
        self.typed(page.get_by_label("Which one", exact=True).last, "loft lamp")
        page.get_by_label("The switched conductor and neutral are both there").select_option("no")
        expect(page.get_by_text("The switched live and neutral are not both there.").first).to_be_visible()
        page.get_by_label("The switched conductor and neutral are both there").select_option("yes")
        self.typed(page.get_by_label("Room for the part, largest side"), "30 mm")
        page.get_by_label("The joint stays within reach").select_option("yes")
        expect(page.get_by_role("row", name=re.compile("switched live at the loft lamp"))).to_be_visible()
        page.get_by_role("button", name="Keep").click()
        expect(page.get_by_text("as recorded")).to_be_visible()
        place = Gang.objects.get(loop__name="Packing loft").place
        self.assertEqual((place["name"], place["room_m"], place["has_both_conductors"]), ("loft lamp", 0.03, True))
        expect(page.get_by_role("button", name=re.compile("^Bypass: .*at loft lamp"))).to_be_visible()

    @tag("whole")
    def test_habits_and_what_was_read_afterwards(self) -> None:
        """Numbers speak for and against each habit; a lamp that still flashes gets its next remedy with a chance."""
        page = self.open_bypass("Packing loft")
        page.get_by_role("tab", name="Habits compared").click()
        expect(page.get_by_role("listitem").filter(has_text="Fit one only on proof")).to_contain_text("serves")
        self.go("Prove", "Readings")
        page.get_by_label("What was read after fitting").last.select_option("seen")
        page.get_by_role("button", name="lamps blink").click()
        page.get_by_role("button", name="Compare and weigh").click()
        expect(page.get_by_text(re.compile("Next remedy: .* with a chance of"))).to_be_visible()

    @tag("whole")
    def test_the_phase_mode_of_a_control_brings_its_limits(self) -> None:
        """Said to be a leading-edge control, the window lists the pulses among its limits."""
        page = self.open_bypass("Kiln room")
        self.go("Parts", "Control")
        page.get_by_text("Declared limits and ratings").first.click()
        page.get_by_label("what it does to the half-cycle while on", exact=True).select_option("leading edge")
        self.go("Route", "Which bypass")
        page.get_by_text("What limits it").click()
        expect(page.get_by_text("Pulses of the leading-edge control")).to_be_visible()

    def test_what_a_dimmer_does_with_the_light_on(self) -> None:
        """Verdict with its reason, the half-cycle at a level that can be moved, trims in words, the whole matrix."""
        page = self.sign_in()
        self.open_loop("Bell chamber")
        self.go("Judge", "Light on")
        lit = page.get_by_role("region", name="With the light on")
        expect(lit.get_by_role("status")).to_contain_text("Control and lamps: goes with conditions")
        expect(lit.get_by_text(re.compile("learns its load at the first start"))).to_be_visible()
        expect(lit.get_by_role("img", name=re.compile("Turned off at 90"))).to_be_visible()
        lit.get_by_label("Turns off at").focus()
        for _ in range(3):
            page.keyboard.press("PageUp")
        for _ in range(18):
            page.keyboard.press("ArrowLeft")
        expect(lit.get_by_role("img", name=re.compile("Turned off at 120"))).to_be_visible()
        expect(lit.get_by_role("img", name=re.compile("From above the first lamps go out"))).to_be_visible()
        self.typed(lit.get_by_label("Least level set"), "12")
        page.keyboard.press("Tab")
        expect(lit.get_by_text(re.compile("The least level is set to 12.0°; the lamps may go out"))).to_be_visible()
        lit.get_by_text("Which load goes on which control").click()
        row = lit.get_by_role("row", name=re.compile("dimmable driver leading only"))
        expect(row).to_contain_text("must not")
