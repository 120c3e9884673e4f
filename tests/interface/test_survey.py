"""The survey as a technician does it, at the desk and at the wall."""

from __future__ import annotations

import re

from django.test import tag
from playwright.sync_api import Page, Route, expect

from accounts.models import User
from demo.management.commands.load_demo import survey_document
from demo.sites import SURVEYS
from loops.models import Loop
from sites.models import Circuit, Site
from survey.models import Photo, StepMark, Survey, TakenReading
from survey.services.recording import save_survey
from tests.browser import TABLET
from tests.interface.base import ENTRIES_KEPT, InterfaceTest, wait_until
from tests.server.test_survey import picture

AGAIN = re.compile("take it again", re.IGNORECASE)


class SurveyPage(InterfaceTest):
    """What these tests share."""

    def step(self, key: str, heading: str) -> Page:
        """Go to a step by its heading; the box has two parts."""
        self.go(*{"2": ("Make safe",), "3": ("Box", "As found"), "4": ("Box", "Which is which")}[key])
        expect(self.page.get_by_role("heading", name=heading, exact=True)).to_be_visible()
        return self.page

    def saved(self) -> None:
        """Everything typed is on the server."""
        self.all_sent()
        expect(self.page.locator(".save-state")).to_have_text("saved")

    def drawn_and_seen(self, practice: str = "feed_at_ceiling") -> None:
        """A preset, and somebody who has looked."""
        self.page.get_by_label("Wiring practice").select_option(practice)
        self.page.get_by_role("button", name="I have looked: all are as drawn").click()
        self.saved()

    def discard(self) -> None:
        """A refused entry is given up by a person, who is asked once more."""
        self.page.locator(".tray-bar").click()
        tray = self.page.get_by_role("dialog", name="Entries on this device")
        tray.get_by_role("button", name="Discard").click()
        tray.get_by_role("button", name="Yes, discard").click()
        expect(tray).to_contain_text("Nothing waits")
        self.page.keyboard.press("Escape")

    def take_asked_readings(self) -> None:
        """Take what is asked for by the meter until every conductor is known; which meter is said once."""
        page = self.page
        page.get_by_label("What", exact=True).select_option("volts")
        page.get_by_label("Meter", exact=True).select_option("400 kΩ, low impedance")
        known = page.get_by_role("complementary", name="What the box tells").get_by_text(
            "Every conductor on the list is known."
        )
        for count in range(1, 17):
            button = page.get_by_role("button", name="Take this reading")
            expect(known.or_(button.last).first).to_be_visible()
            if known.is_visible():
                break
            button.last.click()
            page.get_by_role("button", name="Read by meter").click()
            expect(page.get_by_label("Value")).not_to_have_value("")
            page.get_by_role("button", name="Keep reading").click()
            expect(page.get_by_role("region", name="Readings").get_by_role("listitem")).to_have_count(count)
            self.saved()


class FromNothing(SurveyPage):
    """A loop nobody has looked at."""

    def survey_a_loop(self) -> None:
        """From an empty survey to every conductor known."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        expect(page.get_by_role("heading", name="Before the visit")).to_be_visible()
        self.typed(page.get_by_label("Wired in the year"), "1974")
        page.get_by_label("Complaint").select_option("flicker_off")
        expect(page.get_by_text("a neutral in the box is unlikely")).to_be_visible()
        self.saved()
        self.go("Box", "As found")
        page.get_by_label("Wiring practice").select_option("feed_at_ceiling")
        expect(page.get_by_text("3 conductors are guesses of the preset")).to_be_visible()
        self.drawn_and_seen()
        page.get_by_label("Every conductor in the box is listed").check()
        expect(page.get_by_role("group", name="c1")).to_be_visible()
        self.saved()
        self.step("4", "Which conductor is which")
        self.take_asked_readings()
        panel = page.get_by_role("complementary", name="What the box tells")
        expect(panel.get_by_role("status")).to_have_text("Every conductor on the list is known.")
        expect(panel).to_contain_text("no neutral")
        page.get_by_role("button", name="Show the loop").click()
        expect(page.locator(".thread-words")).to_contain_text("In the box: permanent live (colour not noted), switched")

    def test_at_the_desk(self) -> None:
        """1280 by 800; the round then asks for the lamps. The drawn loop tells of the box that switches it, not of
        another that is looked at."""
        self.survey_a_loop()
        self.page.get_by_role("link", name="Ember Thread").click()
        expect(self.page.get_by_role("row", name="Sluice lobby")).to_contain_text("enter the lamps")
        page = self.open_loop("Sluice lobby")
        self.go("Visit")
        page.get_by_label("Switched from another place too").select_option("yes")
        self.step("3", "The box")
        page.get_by_role("button", name="Box 2").click()
        expect(page.get_by_text("No conductor yet.")).to_be_visible()
        self.drawn_and_seen("two_way_far_end")
        panel = page.get_by_role("complementary", name="What the box tells")
        expect(panel).to_contain_text("not settled")
        page.get_by_role("button", name="Show the loop").click()
        expect(page.locator(".thread-words")).to_contain_text("In the box: permanent live (colour not noted), switched")

    @tag("whole")
    def test_a_reload_loses_nothing(self) -> None:
        """Neither what is saved nor a reading half typed."""
        self.survey_a_loop()
        page = self.page
        page.get_by_label("Value").click()
        page.keyboard.type("117.")
        page.reload()
        self.step("4", "Which conductor is which")
        expect(page.get_by_label("Value")).to_have_value("117.")
        expect(page.get_by_role("complementary", name="What the box tells")).to_contain_text("switched live")


@tag("whole")
class OnATablet(FromNothing):
    """The same at the wall."""

    size = TABLET


@tag("whole")
class OverThere(SurveyPage):
    """Where conductors go by gauge."""

    def test_a_conductor_that_is_added_has_the_usual_gauge_of_the_region(self) -> None:
        """In the first box of a loop of the cannery, and on record."""
        page = self.sign_in()
        self.open_loop("Dock office")
        self.step("3", "The box")
        page.get_by_role("button", name="Add conductor").click()
        expect(page.get_by_role("group", name="c1").get_by_label("Size").locator("option:checked")).to_have_text(
            "14 gauge"
        )
        self.saved()
        kept = Survey.objects.get(loop__name="Dock office").box["conductors"]
        self.assertEqual([one["size_m2"] for one in kept], [2.08e-6])


class BadInput(SurveyPage):
    """A clear answer, and nothing is lost."""

    @tag("whole")
    def test_wrong_figures_are_told_at_their_place_and_saved_once_right(self) -> None:
        """Negative depth, two permanent lives, 600 V, a meter with a flat battery, a photograph that is none."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        self.drawn_and_seen()
        self.typed(page.get_by_label("Depth", exact=True), "-35 mm")
        expect(page.get_by_text("Write a number of zero or more")).to_be_visible()
        self.typed(page.get_by_label("Depth", exact=True), "35 mm")
        self.saved()
        self.assertEqual(Survey.objects.get(loop__name="Sluice lobby").box["depth_m"], 0.035)
        for name in ("c1", "c2"):
            page.get_by_role("group", name=name).get_by_label("Marked as").select_option("permanent_live")
        expect(page.get_by_text("only one is possible").first).to_be_visible()
        page.get_by_role("group", name="c2").get_by_label("Marked as").select_option("")
        self.saved()
        page.get_by_label("Add photograph").set_input_files(
            {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": b"not a picture"}
        )
        expect(page.get_by_text("This is no picture that can be read")).to_be_visible()
        self.discard()
        page.get_by_label("Add photograph").set_input_files(
            {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": picture()}
        )
        expect(page.get_by_role("img", name="before")).to_be_visible()
        self.step("4", "Which conductor is which")
        self.typed(page.get_by_label("Value"), "600 V")
        page.get_by_role("button", name="It is 600 V").click()
        page.get_by_label("Meter", exact=True).select_option("400 kΩ, low impedance")
        page.get_by_role("button", name="Keep reading").click()
        expect(page.get_by_role("region", name="A reading").get_by_role("alert")).to_contain_text(
            "beyond what a 230 V supply"
        )
        page.get_by_role("button", name="Correct it").click()
        expect(page.get_by_label("Value")).to_have_value("600 V")
        page.get_by_label("Fault switch").select_option("flat_battery")
        page.get_by_role("button", name="Read by meter").click()
        expect(page.get_by_text("battery low")).to_be_visible()
        self.assertEqual(TakenReading.objects.count(), 0)

    @tag("whole")
    def test_what_is_typed_while_the_server_is_away_arrives_later(self) -> None:
        """The box and a reading, kept on the device, sent when the connection is back."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        self.drawn_and_seen()
        self.step("4", "Which conductor is which")
        self.context.set_offline(True)
        self.typed(page.get_by_label("Value"), "229 V")
        page.get_by_label("Meter", exact=True).select_option("10 MΩ")
        page.get_by_role("button", name="Keep reading").click()
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        self.assertEqual(TakenReading.objects.count(), 0)
        self.context.set_offline(False)
        self.all_sent()
        expect(page.get_by_role("region", name="Readings").get_by_role("listitem")).to_have_count(1)
        self.saved()
        self.assertEqual(TakenReading.objects.count(), 1)

    def two_at_one_box(self, name: str) -> tuple[Page, Page]:
        """Both see the same; without a server the first cannot learn of the other's change before it makes its own."""
        page = self.sign_in()
        self.open_loop(name)
        self.step("3", "The box")
        other = self.another("fenna")
        self.open_loop(name, other)
        self.go("Box", "As found", page=other)
        self.context.set_offline(True)
        return page, other

    @tag("whole")
    def test_a_second_tab_goes_on_from_what_the_first_one_sent(self) -> None:
        """A choice in the second, which the first sends, is forgotten at no moment, and no colleague's at the next."""
        sender = self.sign_in()
        self.open_loop("Sluice lobby")
        self.all_sent(sender)
        page = self.context.new_page()
        page.goto(sender.url)
        complaint = page.get_by_label("Complaint")
        expect(complaint).to_be_visible()
        held: list[Route] = []
        page.route("**/survey/?*", lambda look: held.append(look))
        with sender.expect_response(lambda one: one.request.method == "PUT" and one.url.endswith("/survey/")):
            complaint.select_option("flicker_off")
        wait_until(page, lambda: page.evaluate(ENTRIES_KEPT) == 0)
        self.all_sent(page)
        expect(complaint).to_have_value("flicker_off")
        late: list[Route] = []
        sender.route("**/survey/", lambda save: late.append(save), times=1)
        page.get_by_label("Radio network").select_option("wifi_2g4")
        wait_until(page, lambda: late)
        self.typed(page.get_by_label("Wired in the year"), "1974")
        late[0].continue_()
        self.all_sent(page)
        told = Survey.objects.get(loop__name="Sluice lobby").enquiry
        self.assertEqual((told["complaint"], told["radio"], told["wired_year"]), ("flicker_off", "wifi_2g4", 1974))

    @tag("whole")
    def test_two_people_at_one_box_do_not_overwrite_each_other(self) -> None:
        """The later one is told, and chooses."""
        page, other = self.two_at_one_box("Sluice lobby")
        other.get_by_label("Material").select_option("metal")
        self.all_sent(other)
        page.get_by_label("Material").select_option("plastic")
        self.context.set_offline(False)
        expect(page.get_by_role("alert")).to_contain_text("Someone else saved this survey")
        page.get_by_role("button", name="Show theirs").click()
        expect(page.get_by_label("Material")).to_have_value("metal")

    def test_what_two_people_found_at_one_box_is_put_together(self) -> None:
        """One is on the telephone, the other at the wall: nothing of either is lost, and what both changed is told."""
        loop = Loop.objects.select_related("site", "circuit").get(name="Yard gate")
        who = User.objects.get(username="wren")
        before = save_survey(who, loop.pk, 0, survey_document(loop, SURVEYS[loop.name]))
        page, other = self.two_at_one_box(loop.name)
        first, second = (one["id"] for one in before.box["conductors"][:2])
        other.get_by_label("Material").select_option("metal")
        self.assertTrue(before.box["all_listed"])
        other.get_by_label("Every conductor in the box is listed").uncheck()
        other.get_by_role("group", name=second, exact=True).get_by_label("Colour found").select_option("grey")
        other.get_by_role("group", name=first, exact=True).get_by_label("Colour found").select_option("grey")
        self.all_sent(other)
        page.get_by_role("group", name=first, exact=True).get_by_label("Colour found").select_option("black")
        self.typed(page.get_by_label("Depth", exact=True), "44 mm")
        self.go("Visit")
        page.get_by_label("Complaint").select_option("glow_off")
        self.context.set_offline(False)
        expect(page.get_by_role("alert")).to_contain_text("Someone else saved this survey")
        page.get_by_role("button", name="Put both together").click()
        told = page.get_by_role("status").filter(has_text="Both are put together")
        expect(told.get_by_role("listitem")).to_have_text([re.compile(f"Conductor {first}; theirs: grey")])
        self.saved()
        after = Survey.objects.get(pk=before.pk)
        colours = {one["id"]: one["colour"] for one in after.box["conductors"]}
        self.assertEqual((colours[first], colours[second]), ("black", "grey"))
        self.assertEqual((after.box["material"], after.box["depth_m"]), ("metal", 0.044))
        self.assertEqual(after.enquiry["complaint"], "glow_off")
        # Nobody says any more that these are all.
        self.assertFalse(after.box["all_listed"])
        page.reload()
        expect(told.get_by_role("listitem")).to_have_count(1)
        told.get_by_role("button", name="I have seen this").click()
        expect(told).to_have_count(0)

    @tag("whole")
    def test_two_conductors_under_one_name_are_not_put_together(self) -> None:
        """What the one reads of it would be told of the other's wire: they choose, as before."""
        page, other = self.two_at_one_box("Sluice lobby")
        for who, colour in ((other, "grey"), (page, "black")):
            who.get_by_role("button", name="Add conductor").click()
            added = who.get_by_role("listitem").filter(has=who.get_by_label("Colour found")).last
            added.get_by_label("Colour found").select_option(colour)
        self.all_sent(other)
        self.context.set_offline(False)
        expect(page.get_by_role("alert")).to_contain_text("Someone else saved this survey")
        expect(page.get_by_role("button", name="Keep mine instead of theirs")).to_be_visible()
        expect(page.get_by_role("button", name="Put both together")).to_have_count(0)


class Schedule(SurveyPage):
    """The board."""

    def test_a_label_is_corrected_for_good(self) -> None:
        """With who and how; and the isolation names it from then on."""
        page = self.sign_in()
        self.open_loop("Kiln room")
        self.step("2", "Make safe")
        page.get_by_role("link", name="Circuit schedule of the site").click()
        row = page.get_by_role("row", name="7")
        expect(row).to_contain_text("Glaze store")
        page.get_by_role("button", name="Correct label: 7").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Label now"), "kiln + glaze lights")
        self.typed(dialog.get_by_label("How it was found out"), "tripped it, both went dark")
        dialog.get_by_role("button", name="Save").click()
        expect(row).to_contain_text("kiln + glaze lights")
        expect(row).to_contain_text("Wren Talley")
        row.get_by_role("link", name="Glaze store").click()
        self.step("2", "Make safe")
        expect(page.get_by_label("7: kiln + glaze lights").first).to_be_visible()

    @tag("whole")
    def test_half_a_breaker_outlives_a_reload(self) -> None:
        """What was typed of a new breaker, and of a label; once it is kept the next one begins empty."""
        page = self.sign_in()
        page.goto(f"{self.live_server_url}/sites/{Site.objects.get(name='Kestrel Mill').pk}/schedule")
        dialog = page.get_by_role("dialog")
        add, correct = (page.get_by_role("button", name=name) for name in ("Add breaker", "Correct label: 7"))
        correct.click()
        self.typed(dialog.get_by_label("How it was found out"), "tripped it")
        page.reload()
        add.click()
        self.typed(dialog.get_by_label("Really feeds"), "the boat house")
        page.reload()
        correct.click()
        expect(dialog.get_by_label("How it was found out")).to_have_value("tripped it")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_have_count(0)
        add.click()
        expect(dialog.get_by_label("Really feeds")).to_have_value("the boat house")
        self.typed(dialog.get_by_label("Breaker", exact=True), "31")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_have_count(0)
        expect(page.get_by_role("row", name="31")).to_contain_text("the boat house")
        for button, field in ((add, "Really feeds"), (correct, "How it was found out")):
            button.click()
            expect(dialog.get_by_label(field)).to_have_value("")
            page.keyboard.press("Escape")
            expect(dialog).to_have_count(0)

    @tag("whole")
    def test_two_correct_one_label(self) -> None:
        """One writes what else it feeds, the other the label: the second is told once, sees it, and loses neither."""
        page, other = self.sign_in(), self.another("fenna")
        for who in (page, other):
            who.goto(f"{self.live_server_url}/sites/{Site.objects.get(name='Kestrel Mill').pk}/schedule")
            who.get_by_role("button", name="Correct label: 7").click()
        theirs, mine = (who.get_by_role("dialog") for who in (other, page))
        self.typed(theirs.get_by_label("Really feeds"), "kiln and the cellar")
        theirs.get_by_role("button", name="Save").click()
        expect(theirs).to_have_count(0)
        self.typed(mine.get_by_label("Label now"), "kiln + glaze lights")
        mine.get_by_role("button", name="Save").click()
        expect(mine.get_by_role("alert")).to_contain_text("Somebody else changed this meanwhile")
        expect(mine.get_by_label("Really feeds")).to_have_value("kiln and the cellar")
        mine.get_by_role("button", name="Save").click()
        expect(mine).to_have_count(0)
        circuit = Circuit.objects.get(site__name="Kestrel Mill", breaker="7")
        self.assertEqual((circuit.label_now, circuit.feeds), ("kiln + glaze lights", "kiln and the cellar"))


class AtTheBox(SurveyPage):
    """Gangs, two-way circuits, readings struck out, who may write."""

    def test_a_two_way_box_ends_with_its_side_known(self) -> None:
        """The far end: read what is asked for, and the page says load side; the round then goes on to the lamps."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        self.drawn_and_seen("two_way_far_end")
        page.get_by_label("Every conductor in the box is listed").check()
        self.saved()
        self.step("4", "Which conductor is which")
        expect(page.get_by_text("this box is the end that is not settled yet")).to_be_visible()
        # Two switches, each by a name of its own.
        expect(page.get_by_label("Switch here", exact=True)).to_be_visible()
        expect(page.get_by_label("Switch elsewhere", exact=True)).to_be_visible()
        self.take_asked_readings()
        expect(page.get_by_text("Gang 1: this box is the load side.")).to_be_visible()

    @tag("whole")
    def test_no_meter_is_taken_for_granted(self) -> None:
        """Volts without a meter are kept by no button; what was said holds for the next and after a reload."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        self.drawn_and_seen()
        self.step("4", "Which conductor is which")
        meter = page.get_by_label("Meter", exact=True)
        page.get_by_label("What", exact=True).select_option("volts")
        expect(meter.locator("option:checked")).to_have_text("choose …")
        page.get_by_role("button", name="Read by meter").click()
        expect(page.get_by_text("Say with which meter")).to_be_visible()
        self.typed(page.get_by_label("Value"), "112 V")
        page.get_by_role("button", name="Keep reading").click()
        expect(page.get_by_text("Say with which meter")).to_be_visible()
        expect(page.get_by_label("Value")).to_have_value("112 V")
        meter.select_option("10 MΩ")
        page.get_by_role("button", name="Keep reading").click()
        kept = page.get_by_role("region", name="Readings").get_by_role("listitem")
        expect(kept).to_contain_text("10 MΩ")
        self.saved()
        self.assertEqual(TakenReading.objects.get().data["meter_r_ohm"], 1e7)
        page.reload()
        expect(meter.locator("option:checked")).to_have_text("10 MΩ")
        # What is asked for wants the other one; who has it says so.
        page.get_by_role("button", name="Take this reading").last.click()
        expect(meter.locator("option:checked")).to_have_text("10 MΩ")

    @tag("whole")
    def test_what_the_meter_answers_late_is_of_the_points_that_it_was_asked_for(self) -> None:
        """Another conductor is chosen while it reads: nothing stands in the field; asked again, it is of that one."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        self.drawn_and_seen()
        self.step("4", "Which conductor is which")
        held: list[Route] = []
        page.route(
            "**/meter/", lambda route: held.append(route) if route.request.method == "POST" else route.fallback()
        )
        page.get_by_label("What", exact=True).select_option("volts")
        page.get_by_label("Meter", exact=True).select_option("400 kΩ, low impedance")
        read = page.get_by_role("button", name="Read by meter")
        read.click()
        page.get_by_label("From", exact=True).select_option("c2")
        expect(read).to_be_disabled()
        held.pop().continue_()
        page.unroute("**/meter/")
        expect(read).to_be_enabled()
        expect(page.get_by_label("Value")).to_have_value("")
        read.click()
        expect(page.get_by_label("Value")).to_have_value(re.compile("V$"))
        # What was read by the one meter is no reading by the other; what was typed over it is.
        page.get_by_label("Meter", exact=True).select_option("10 MΩ")
        expect(page.get_by_label("Value")).to_have_value("")
        read.click()
        expect(page.get_by_label("Value")).to_have_value(re.compile("V$"))
        self.typed(page.get_by_label("Value"), "112 V")
        page.get_by_label("Meter", exact=True).select_option("400 kΩ, low impedance")
        expect(page.get_by_label("Value")).to_have_value("112 V")
        page.get_by_label("Meter", exact=True).select_option("10 MΩ")
        read.click()
        expect(page.get_by_label("Value")).to_have_value(re.compile("V$"))
        page.get_by_role("button", name="Keep reading").click()
        self.saved()
        expect(page.get_by_role("region", name="Readings").get_by_role("listitem")).to_contain_text("10 MΩ")
        kept = TakenReading.objects.get().data
        self.assertEqual((kept["a"], kept["meter_r_ohm"]), ("c2", 1e7))

    @tag("whole")
    def test_a_wrong_reading_is_struck_out_with_its_reason_and_stays(self) -> None:
        """Typed by hand with a slip, told as fitting nothing, struck out, no longer counted."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        self.drawn_and_seen()
        self.step("4", "Which conductor is which")
        page.get_by_label("Switches").select_option("off")
        self.typed(page.get_by_label("Value"), "298 V")
        page.get_by_role("button", name="It is 298 V").click()
        page.get_by_label("Meter", exact=True).select_option("400 kΩ, low impedance")
        page.get_by_role("button", name="Keep reading").click()
        panel = page.get_by_role("complementary", name="What the box tells")
        expect(panel).to_contain_text(AGAIN)
        page.get_by_role("button", name="Strike out: 298.0 V").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_role("button", name="Strike out")).to_be_disabled()
        self.typed(dialog.get_by_label("Why it was wrong"), "lead slipped")
        dialog.get_by_role("button", name="Strike out").click()
        expect(page.get_by_role("region", name="Readings")).to_contain_text("struck out: lead slipped")
        expect(panel).not_to_contain_text(AGAIN)
        self.assertEqual(TakenReading.objects.get().struck_reason, "lead slipped")

    @tag("whole")
    def test_two_gangs_and_whether_the_control_goes_in(self) -> None:
        """A gang more, its switch two-way; a control too deep needs a spacer, then another box."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        page.get_by_label("Wiring practice").select_option("feed_at_ceiling")
        page.get_by_role("button", name="Add gang", exact=True).click()
        page.get_by_label("Gang 2", exact=True).select_option("two_way")
        self.saved()
        ends = page.get_by_role("group", name="c1").get_by_label("Ends at")
        expect(ends.get_by_role("option", name="Gang 2, L2")).to_have_count(1)
        for label, value in (("Depth", "35 mm"), ("Width", "70 mm"), ("Height", "70 mm")):
            self.typed(page.get_by_label(label, exact=True), value)
        for label, value in (("depth behind the plate", "33 mm"), ("width", "45 mm"), ("height", "45 mm")):
            self.typed(page.get_by_label(f"Control: {label}"), value)
        answer = page.get_by_role("region", name="Will the control go in?").get_by_role("status")
        expect(answer).to_contain_text("It fits with a spacer of")
        expect(answer).to_contain_text("to be checked")
        spacers = page.get_by_role("group", name="Spacers at hand")
        expect(spacers).to_contain_text("Not noted: reckoned with 10, 16 and 22 mm")
        spacers.get_by_label("none").check()
        expect(answer).to_contain_text("It does not fit with the spacers at hand")
        self.saved()
        page.reload()
        expect(spacers.get_by_label("none")).to_be_checked()
        spacers.get_by_label("16.0 mm").check()
        expect(spacers.get_by_label("none")).not_to_be_checked()
        expect(answer).to_contain_text("It fits with a spacer of")
        depth = page.get_by_label("Control: depth behind the plate")
        self.typed(depth, "80 mm")
        expect(answer).to_contain_text("It does not fit")

    @tag("whole")
    def test_a_checker_reads_everything_and_changes_nothing(self) -> None:
        """No button that writes is there."""
        page = self.sign_in("odell")
        self.open_loop("Kiln room")
        for key, heading, names in (
            ("2", "Make safe", ("Record isolation", "Mark done")),
            ("3", "The box", ("Add conductor", "Add photograph")),
            ("4", "Which conductor is which", ("Keep reading", "Strike out")),
        ):
            self.step(key, heading)
            for name in names:
                expect(page.get_by_role("button", name=name)).to_have_count(0)


@tag("whole")
class TheBoard(SurveyPage):
    """The circuit schedule."""

    def test_a_breaker_is_added_and_a_name_twice_refused(self) -> None:
        """From the round, by site; the dialog keeps what was typed."""
        page = self.sign_in()
        page.get_by_label("Site", exact=True).select_option(label="Kestrel Mill")
        page.get_by_role("link", name="Circuit schedule").click()
        page.get_by_role("button", name="Add breaker").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Breaker"), "7")
        self.typed(dialog.get_by_label("Label as found"), "spare")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog.get_by_role("alert")).to_contain_text("already")
        self.typed(dialog.get_by_label("Breaker"), "11")
        dialog.get_by_role("button", name="Save").click()
        expect(page.get_by_role("row", name="11")).to_contain_text("spare")
        self.assertEqual(Circuit.objects.get(breaker="11").label_as_found, "spare")

    def test_the_time_zone_of_the_site_is_searched_and_stays(self) -> None:
        """Typed key by key, chosen by keys; it outlives a reload and is on record."""
        page = self.sign_in()
        page.get_by_label("Site", exact=True).select_option(label="Larkspur Cannery")
        page.get_by_role("link", name="Circuit schedule").click()
        zone = page.get_by_role("combobox", name="Its time zone")
        zone.click()
        zone.press_sequentially("halifax")
        expect(page.get_by_role("option", name="America/Halifax")).to_be_attached()
        with page.expect_response(lambda answer: answer.request.method == "PATCH"):
            zone.press("Enter")
        page.reload()
        expect(page.get_by_text("America/Halifax")).to_be_visible()
        self.assertEqual(Site.objects.get(name="Larkspur Cannery").zone, "America/Halifax")


@tag("whole")
class APhotograph(SurveyPage):
    """What it shows is said once more where it is taken."""

    def test_once_cores_are_parted_it_is_none_from_before(self) -> None:
        """What stands there chosen follows the steps of the box, so that nobody keeps the work as what was found."""
        page = self.sign_in()
        loop = Loop.objects.get(name="Sluice lobby")
        shows = page.get_by_role("radiogroup", name="Photographs")
        for step, moment in (("open", "before"), ("disconnect", "during"), ("fit", "after")):
            StepMark.objects.create(loop=loop, step=step, is_done=True, by=User.objects.get(username="wren"))
            page.goto(f"{self.live_server_url}/loops/{loop.pk}/1?step=box")
            expect(shows.get_by_role("radio", name=moment)).to_be_checked()
        page.get_by_label("Add photograph").set_input_files(
            {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": picture()}
        )
        expect(page.get_by_role("region", name="Photographs").get_by_role("img", name="after")).to_be_visible()
        self.all_sent()
        self.assertEqual(Photo.objects.get().moment, "after")


class APhotographWithoutConnection(SurveyPage):
    """Taken where the walls are thick."""

    def test_it_waits_on_the_device_over_a_reload_and_arrives_once(self) -> None:
        """The server refuses the connection while it is taken; the page is reloaded; later it is there, once."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        page.route("**/photos/", lambda route: route.abort())
        page.get_by_label("Add photograph").set_input_files(
            {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": picture()}
        )
        photographs = page.get_by_role("region", name="Photographs")
        expect(photographs).to_contain_text("not sent yet")
        page.reload()
        self.step("3", "The box")
        expect(photographs).to_contain_text("not sent yet")
        page.unroute("**/photos/")
        expect(photographs.get_by_role("img", name="before")).to_be_visible()
        expect(photographs).not_to_contain_text("not sent yet")
        self.assertEqual(Photo.objects.count(), 1)
