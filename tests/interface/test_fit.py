"""Step Fit with gloves on: one step after the other, two rounds, away from the server, half done, by two people."""

from __future__ import annotations

import itertools
import re
import uuid

from django.test import tag
from playwright.sync_api import Locator, Page, Request, expect

from accounts.models import User
from demo.management.commands.load_demo import survey_document
from demo.sites import SURVEYS
from ember_core.routes.ways import Way
from fitting.models import FitLeft, FitMark, KitCheck
from fitting.services.marking import mark_step
from fitting.services.standing import standing_of
from loops.documents import hung_of
from loops.models import Gang, Loop
from proving.models import ProveMark
from survey.models import Isolation, Photo, Proof
from survey.services.recording import save_survey
from tests.interface.test_safety import STATE, SafetyPage
from tests.server.test_survey import picture
from work.services.choosing import choose_way, judged_choice
from work.services.finding import load

PICTURE = {"name": "box.jpg", "mimeType": "image/jpeg", "buffer": picture()}


class FitPage(SafetyPage):
    """A surveyed loop with a way."""

    def chosen(self, name: str, way: str) -> Loop:
        """Survey a loop and choose its way, as was done on the days before."""
        who = User.objects.get(username="wren")
        loop = Loop.objects.select_related("site", "circuit").get(name=name)
        save_survey(who, loop.pk, 0, survey_document(loop, SURVEYS[name]))
        choose_way(who, loop.pk, uuid.uuid4(), 0, "", judged_choice(load(loop), Way(way), None))
        return loop

    def at_fit(self, name: str, page: Page | None = None) -> Page:
        """The step on the bench of a loop."""
        page = self.open_loop(name, page)
        self.go("Fit", page=page)
        expect(page.get_by_role("article")).to_be_visible()
        return page

    def card(self, page: Page, title: str) -> Locator:
        """The one large step, once it is that one."""
        card = page.get_by_role("article")
        expect(card.get_by_role("heading", level=2)).to_contain_text(title)
        return card

    def tick(self, page: Page, title: str, button: str = "Done") -> None:
        """Press what says that it is done."""
        self.card(page, title).get_by_role("button", name=f"✓ {button}").click()

    def photographed(self, page: Page, title: str) -> None:
        """A picture by the step's own button, then the tick that waited for it."""
        card = self.card(page, title)
        expect(card).to_contain_text("No photograph of this place")
        expect(card.get_by_role("button", name="✓ Photographed")).to_be_disabled()
        card.locator('input[type="file"]').set_input_files(PICTURE)
        expect(card.get_by_role("button", name="✓ Photographed")).to_be_enabled()
        self.tick(page, title, "Photographed")

    def cut_off(self, page: Page) -> None:
        """From the step to Make safe, everything there, and back."""
        page.get_by_role("article").get_by_role("button", name="Cut off and prove dead here").click()
        expect(page.locator(STATE)).to_be_visible()
        self.locked(page)
        self.proved(page)
        self.go("Fit", page=page)

    def proved(self, page: Page) -> None:
        """The whole proof, pair by pair as they are asked for, typed key by key."""
        page.get_by_role("button", name="tester proved on a known source").click()
        pair, last = page.locator(".pair-name"), page.get_by_role("button", name="Tester proved again")
        expect(pair).to_be_visible()
        while pair.is_visible():
            asked = pair.inner_text()
            page.get_by_label("Volts shown").click()
            for key in "0.3":
                page.keyboard.type(key)
            page.keyboard.press("Enter")
            expect(last.or_(pair.filter(has_not_text=re.compile(f"^{re.escape(asked)}$")))).to_be_visible()
        last.click()
        page.get_by_role("button", name="Fitted: operated until silent").click()
        expect(page.locator(STATE)).to_contain_text("Proved dead")

    def power(self, page: Page) -> None:
        """Lock off, power back, and back to the step."""
        page.get_by_role("article").get_by_role("button", name="Locks and power").click()
        page.get_by_role("button", name="Take my lock off").click()
        page.get_by_role("button", name="Put the power back").first.click()
        expect(page.locator(STATE)).to_contain_text("Live")
        self.go("Fit", page=page)

    def lines(self, page: Page) -> None:
        """Every core of the wire map that is asked for, and the pull at each."""
        card = page.get_by_role("article")
        tug = card.get_by_role("heading", name="Pull at every core")
        for _ in range(20):
            expect(card.get_by_role("button", name="✓").first).to_be_enabled()
            if tug.is_visible():
                return
            title = card.get_by_role("heading", level=2).inner_text()
            card.get_by_role("button", name="✓ Done").click()
            expect(card.get_by_role("heading", level=2)).not_to_have_text(title)
        self.fail("the pull never came")


class WholeJob(FitPage):
    """One person, both rounds."""

    @tag("whole")
    def test_from_the_first_lock_to_the_plate(self) -> None:
        """Each press in its order; what is shut says why; a reload in the middle loses nothing; the power is asked for
        twice, and the second proof cannot be the first."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        card = self.card(page, "Isolate and prove dead: the box")
        expect(card).to_contain_text("Nothing is recorded as switched off")
        expect(card.get_by_role("button", name="✓ Proved dead here")).to_be_disabled()
        self.cut_off(page)
        self.tick(page, "Isolate and prove dead", "Proved dead here")
        self.photographed(page, "Photograph before anything moves")
        self.tick(page, "Loosen and draw out")
        expect(page.locator(".fit-count")).to_contain_text("3 of ")
        page.reload()
        expect(page.locator(".fit-count")).to_contain_text("3 of ")
        self.lines(page)
        beside = page.get_by_role("complementary", name="Power and wire map")
        expect(beside).to_contain_text("proved dead")
        self.tick(page, "Pull at every core", "All of them held")
        card = self.card(page, "Fold the cores back")
        card.get_by_role("button", name="Not needed").click()
        expect(card.get_by_role("button", name="Not needed", exact=True)).to_be_disabled()
        self.typed(card.get_by_label("Why it is not needed"), "shallow ring, they lie flat")
        card.get_by_role("button", name="Not needed", exact=True).click()
        self.tick(page, "Hold it with two screws half in")
        card = self.card(page, "Locks off, power on")
        expect(card).to_contain_text("still isolated")
        self.power(page)
        self.tick(page, "Locks off, power on", "Power is on")
        self.tick(page, "Try lamp", "Works")
        card = self.card(page, "Isolate again and prove dead again")
        expect(card.get_by_role("button", name="✓ Proved dead again")).to_be_disabled()
        self.cut_off(page)
        self.tick(page, "Isolate again", "Proved dead again")
        self.tick(page, "Fix it")
        self.tick(page, "Plate on")
        self.power(page)
        self.tick(page, "Power back", "Works")
        expect(page.get_by_role("heading", name="Fitted")).to_be_visible()
        self.all_sent()
        page.get_by_text("All steps").click()
        expect(page.get_by_role("region", name="First round")).to_contain_text("shallow ring, they lie flat")
        self.assertEqual(Proof.objects.count(), 2)
        self.assertEqual(Photo.objects.get().place, 1)
        skipped = FitMark.objects.get(outcome="skipped")
        self.assertEqual((skipped.step, skipped.by.username), ("fold@box", "wren"))
        # The round says the same as the bench.
        page.get_by_role("link", name="Round").click()
        row = page.get_by_role("row").filter(has_text="Wheelhouse stair")
        expect(row).not_to_contain_text("fit it")

    @tag("whole")
    def test_a_chosen_way_stands_beside_the_verdict_of_the_bench(self) -> None:
        """Where the thread is one line too: neither is taken for the other."""
        self.chosen("Grain loft", "module_with_switch")
        self.sign_in()
        page = self.at_fit("Grain loft")
        strip = page.get_by_role("region", name="The loop in short")
        expect(strip).to_contain_text("does not work")
        expect(strip).to_contain_text("chosen: Module at the luminaire")
        expect(strip).to_contain_text("probably works")

    @tag("whole")
    def test_a_loop_without_a_way_says_whether_there_is_anything_to_fit(self) -> None:
        """What hangs there already was put in without one and is proved next; what is planned needs a way first."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Fit")
        expect(page.locator(".empty")).to_contain_text("told as fitted: they were put in without one")
        page.get_by_role("link", name="Round").click()
        self.open_loop("Wheelhouse stair")
        self.go("Fit")
        expect(page.locator(".empty")).to_contain_text("nobody knows which core goes where")

    def test_two_presses_tick_one_step(self) -> None:
        """A heavy thumb that presses twice does not tick what comes next."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        self.card(page, "Isolate and prove dead").get_by_role("button", name="✓ Proved dead here").dblclick()
        self.card(page, "Photograph before anything moves")
        self.photographed(page, "Photograph before anything moves")
        self.card(page, "Loosen").get_by_role("button", name="✓ Done").dblclick()
        expect(page.locator(".fit-count")).to_contain_text("3 of ")
        self.all_sent()
        self.assertEqual(FitMark.objects.count(), 3)


class Away(FitPage):
    """No server, and no end."""

    def test_a_press_without_a_server_waits_and_arrives(self) -> None:
        """It counts on this device, survives a reload of the page, and is on record once the server is back."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        self.tick(page, "Isolate and prove dead", "Proved dead here")
        self.photographed(page, "Photograph before anything moves")
        self.card(page, "Loosen and draw out")
        self.all_sent()
        page.route("**/fit/marks/", lambda route: route.abort())
        self.tick(page, "Loosen and draw out")
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        self.card(page, "put on a sleeve")
        page.reload()
        self.card(page, "put on a sleeve")
        self.assertFalse(FitMark.objects.filter(step="loosen@box").exists())
        page.unroute("**/fit/marks/")
        self.all_sent()
        self.assertEqual(FitMark.objects.get(step="loosen@box").by.username, "wren")

    @tag("whole")
    def test_a_picture_that_nobody_took_is_missing_while_a_press_is_on_its_way(self) -> None:
        """The next step opened before the answer came, and a quick press was refused; one that waits here opens it."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        page.route("**/fit/marks/", lambda route: route.abort())
        self.tick(page, "Isolate and prove dead", "Proved dead here")
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        self.photographed(page, "Photograph before anything moves")
        self.card(page, "Loosen and draw out")
        page.unroute("**/fit/marks/")
        self.all_sent()
        self.assertEqual(set(FitMark.objects.values_list("step", flat=True)), {"safe@box", "photograph@box"})

    @tag("whole")
    def test_a_picture_on_its_way_keeps_its_step_open(self) -> None:
        """The press before it arrives first: the step that opened on the picture does not shut under the thumb."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        page.route("**/photos/", lambda route: route.abort())
        with page.expect_response(lambda answer: answer.url.endswith("/fit/marks/")):
            self.tick(page, "Isolate and prove dead", "Proved dead here")
        card = self.card(page, "Photograph before anything moves")
        expect(card).to_contain_text("No photograph of this place")
        self.all_sent()
        card.locator('input[type="file"]').set_input_files(PICTURE)
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        self.tick(page, "Photograph before anything moves", "Photographed")
        expect(page.locator(".tray-bar")).to_contain_text("2 entries wait")
        self.card(page, "Loosen and draw out")
        page.unroute("**/photos/")
        self.all_sent()
        self.assertEqual(set(FitMark.objects.values_list("step", flat=True)), {"safe@box", "photograph@box"})

    @tag("whole")
    def test_what_hangs_there_is_left_to_the_server_while_a_press_is_on_its_way(self) -> None:
        """A reading names the parts on its page, unless a step of fitting that may change them has not arrived."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        self.go("Prove", "Readings", page=page)
        page.get_by_role("combobox", name="Meter").select_option("10 MΩ")
        gang = Gang.objects.get(loop__name="Wheelhouse stair")
        at = f"/api/v1/gangs/{gang.pk}/measured/"

        def is_reading(sent: Request) -> bool:
            return sent.method == "POST" and sent.url.endswith(at)

        self.typed(page.get_by_label("Value", exact=True), "41 V")
        with page.expect_request(is_reading) as first:
            page.get_by_role("button", name="Add reading").click()
        self.all_sent()
        self.assertEqual(first.value.post_data_json["hung"], hung_of(gang))
        self.go("Fit", page=page)
        page.route("**/fit/marks/", lambda route: route.abort())
        self.tick(page, "Isolate and prove dead", "Proved dead here")
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        self.go("Prove", "Readings", page=page)
        self.typed(page.get_by_label("Value", exact=True), "42 V")
        page.get_by_role("button", name="Add reading").click()
        expect(page.locator(".tray-bar")).to_contain_text("2 entries wait")
        with page.expect_request(is_reading) as second:
            page.unroute("**/fit/marks/")
        self.all_sent()
        self.assertEqual(second.value.post_data_json["hung"], "")

    @tag("whole")
    def test_power_that_is_still_off_is_told_while_a_press_is_on_its_way(self) -> None:
        """A press that has not arrived puts no power back; with one's own lock on its way off, one may go on."""
        loop = self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        self.card(page, "Isolate").locator('input[type="file"]').set_input_files(PICTURE)
        self.all_sent()
        who, standing = User.objects.get(username="wren"), standing_of(loop)
        assert standing is not None
        Photo.objects.update(moment="before")
        for step in itertools.takewhile(lambda one: one.key != "hold@box", standing.steps):
            given = {"id": uuid.uuid4(), "step": step.key, "outcome": "done", "reason": "", "made_at": None}
            mark_step(who, loop.pk, {**given, "choice": standing.choice.pk})
        page.reload()
        page.route("**/fit/marks/", lambda route: route.abort())
        self.tick(page, "Hold it with two screws half in")
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        card = self.card(page, "Locks off, power on")
        expect(card).to_contain_text("still isolated")
        expect(card.get_by_role("button", name="✓ Power is on")).to_be_disabled()
        card.get_by_role("button", name="Locks and power").click()
        page.get_by_role("button", name="Take my lock off").click()
        expect(page.locator(".tray-bar")).to_contain_text("2 entries wait")
        self.go("Fit", page=page)
        expect(self.card(page, "Locks off").get_by_role("button", name="✓ Power is on")).to_be_enabled()

    @tag("whole")
    def test_nothing_is_proved_of_what_has_not_arrived(self) -> None:
        """While a step of fitting waits on the device the list waits too, and says so; after it, a press counts."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        self.card(page, "Isolate and prove dead")
        self.all_sent()
        page.route("**/fit/marks/", lambda route: route.abort())
        self.tick(page, "Isolate and prove dead", "Proved dead here")
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        self.go("Prove", "Prove it")
        expect(page.get_by_text("What was fitted is still on this device.")).to_be_visible()
        expect(page.get_by_role("article")).to_have_count(0)
        page.unroute("**/fit/marks/")
        self.all_sent()
        expect(page.get_by_text("What was fitted is still on this device.")).to_have_count(0)
        card = page.get_by_role("article")
        card.get_by_role("button", name="Cannot be done, excused").click()
        self.typed(card.get_by_label("Why, and who says so"), "the power is off")
        card.get_by_role("button", name="Keep").click()
        self.all_sent()
        self.assertEqual(ProveMark.objects.get().outcome, "excused")

    @tag("whole")
    def test_a_survey_that_changed_since_is_told_before_hands_go_on(self) -> None:
        """A colleague turns the terminals in the survey: what is pressed here is refused and said; it leads back."""
        loop = self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        expect(page.get_by_text("says another wiring today")).to_have_count(0)
        other = self.another("tam")
        self.open_loop("Wheelhouse stair", other)
        self.go("Box", page=other)
        for name, end in (("c1", "1:l1"), ("c2", "1:common")):
            other.get_by_role("group", name=name, exact=True).get_by_label("Ends at").select_option(value=end)
        expect(other.get_by_role("region", name="Box, As found").get_by_text("saved", exact=True)).to_be_visible()
        card = page.get_by_role("article")
        card.get_by_role("button", name="Trouble").click()
        self.typed(card.get_by_label("What the trouble is"), "the screw turns through")
        card.get_by_role("button", name="Trouble", exact=True).click()
        told = page.get_by_role("alert").filter(has_text="says another wiring today")
        expect(told.first).to_be_visible()
        self.assertEqual(FitMark.objects.filter(loop=loop).count(), 0)
        page.get_by_role("button", name="Compare again").click()
        expect(page.get_by_role("region", name="Route, Ways")).to_be_visible()

    @tag("whole")
    def test_a_trouble_that_is_being_told_stays_with_its_step(self) -> None:
        """The step is marked on another device while the words are typed: they and their step stay until told."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        self.all_sent()
        card = self.card(page, "Isolate and prove dead")
        card.get_by_role("button", name="Trouble").click()
        page.keyboard.type("the tester")
        other = self.another("wren")
        self.at_fit("Wheelhouse stair", other)
        self.tick(other, "Isolate and prove dead", "Proved dead here")
        expect(card.locator(".fit-settled")).to_contain_text("Wren Talley")
        page.keyboard.type(" is old")
        expect(card.get_by_label("What the trouble is")).to_have_value("the tester is old")
        card.get_by_role("button", name="Trouble", exact=True).click()
        self.card(page, "Isolate and prove dead")
        self.all_sent()
        told = list(FitMark.objects.order_by("number").values_list("outcome", "reason"))
        self.assertEqual(told, [("done", ""), ("trouble", "the tester is old")])

    @tag("whole")
    def test_trouble_is_on_record_and_a_colleague_sees_it(self) -> None:
        """Told by one, read by the other, who cannot tick without a lock of their own; taken back it leaves a trace."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        self.cut_off(page)
        self.tick(page, "Isolate and prove dead", "Proved dead here")
        self.photographed(page, "Photograph before anything moves")
        card = self.card(page, "Loosen and draw out")
        card.get_by_role("button", name="Trouble").click()
        self.typed(card.get_by_label("What the trouble is"), "a nicked core")
        page.reload()
        card.get_by_role("button", name="Trouble").click()
        expect(card.get_by_label("What the trouble is")).to_have_value("a nicked core")
        card.get_by_role("button", name="Trouble", exact=True).click()
        expect(card.get_by_role("alert")).to_contain_text("a nicked core")
        self.all_sent()
        other = self.another("tam")
        self.at_fit("Wheelhouse stair", other)
        seen = self.card(other, "Loosen and draw out")
        expect(seen.get_by_role("alert")).to_contain_text("a nicked core (Wren Talley)")
        expect(seen).to_contain_text("Your own lock")
        expect(seen.get_by_role("button", name="✓ Done")).to_be_disabled()
        self.tick(page, "Loosen and draw out")
        self.card(page, "put on a sleeve")
        page.get_by_text("All steps").click()
        page.get_by_role("button", name="Loosen and draw out").click()
        card = self.card(page, "Loosen and draw out")
        card.get_by_role("button", name="Take back").click()
        self.typed(card.get_by_label("Why it is taken back"), "pressed by mistake")
        card.get_by_role("button", name="Take back", exact=True).click()
        self.card(page, "Loosen and draw out")
        self.all_sent()
        told = list(FitMark.objects.filter(step="loosen@box").values_list("outcome", flat=True))
        self.assertEqual(told, ["trouble", "done", "open"])


@tag("whole")
class HalfDone(FitPage):
    """Broken off, with a luminaire of its own."""

    def test_parted_it_is_left_safe_before_the_power_comes_back(self) -> None:
        """The power is refused and says which loop; capped it comes; the luminaire asks for a proof of its own."""
        self.chosen("Sack hoist", "module_at_lamp")
        page = self.sign_in()
        self.at_fit("Sack hoist")
        page.get_by_text("Leave it safe").click()
        expect(page.get_by_text("Nothing is parted at the moment")).to_be_visible()
        self.cut_off(page)
        self.tick(page, "Isolate and prove dead: the box", "Proved dead here")
        self.photographed(page, "Photograph before anything moves")
        self.tick(page, "Loosen and draw out")
        card = page.get_by_role("article")
        for _ in range(6):
            expect(card.get_by_role("button", name="✓ Done")).to_be_enabled()
            title = card.get_by_role("heading", level=2).inner_text()
            card.get_by_role("button", name="✓ Done").click()
            expect(card.get_by_role("heading", level=2)).not_to_have_text(title)
            if title.startswith("Part the cores"):
                break
        self.all_sent()
        self.go("Make safe")
        page.get_by_role("button", name="Take my lock off").click()
        page.get_by_role("button", name="Put the power back").click()
        expect(page.locator(".tray-bar")).to_contain_text("refused")
        self.assertTrue(Isolation.objects.filter(closed_at=None, site__name="Kestrel Mill").exists())
        page.locator(".tray-bar").click()
        tray = page.get_by_role("dialog", name="Entries on this device")
        expect(tray.get_by_role("alert")).to_contain_text("Sack hoist has cores that are parted")
        tray.get_by_role("button", name="Discard").click()
        tray.get_by_role("button", name="Yes, discard").click()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Put my lock on").click()
        self.proved(page)
        self.go("Fit")
        page.get_by_text("Leave it safe").click()
        page.get_by_label("Cap what is loose").check()
        self.typed(page.get_by_label("Note for whoever goes on"), "module is missing")
        page.get_by_role("button", name="It is left like this").click()
        expect(page.locator(".fit-left")).to_contain_text("module is missing")
        self.all_sent()
        self.assertTrue(FitLeft.objects.get().caps)
        # The luminaire is proved by itself.
        page.get_by_text("All steps").click()
        page.get_by_role("button", name="Isolate and prove dead: the luminaire").click()
        card.get_by_role("button", name="Cut off and prove dead here").click()
        expect(page.get_by_text("This is the luminaire of gang 1")).to_be_visible()
        page.get_by_role("button", name="tester proved on a known source").click()
        expect(page.locator(".pair-name")).to_contain_text("known earth")

    def test_a_kit_with_a_piece_missing(self) -> None:
        """Each thing pressed there or missing; kept, it is on record with a name."""
        self.chosen("Wheelhouse stair", "two_wire")
        page = self.sign_in()
        self.at_fit("Wheelhouse stair")
        page.get_by_text("Kit of").click()
        kit = page.locator(".fit-kit")
        keep = kit.get_by_role("button", name="Keep what was found")
        expect(keep).to_be_disabled()
        for row in kit.get_by_role("listitem").all():
            wanted = "Missing" if "screws" in row.inner_text() else "There"
            row.get_by_role("button", name=wanted).click()
        keep.click()
        self.all_sent()
        expect(kit).to_contain_text("Wren Talley")
        self.assertEqual([name for name, there in KitCheck.objects.get().found.items() if not there], ["screws"])
