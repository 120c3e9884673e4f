"""Make safe as two people at one board do it, with a connection that goes away and a browser that is shared."""

from __future__ import annotations

from django.test import tag
from playwright.sync_api import APIResponse, Page, Route, expect

from survey.models import Isolation, Lock, ProofEvent, StepMark, Survey, TakenReading
from tests.interface.base import ENTRIES_KEPT, wait_until
from tests.interface.test_survey import SurveyPage

# What the one large line says.
STATE = ".safety-word"


class SafetyPage(SurveyPage):
    """What these tests share."""

    def at_safe(self, loop: str = "Sluice lobby", page: Page | None = None) -> Page:
        """The step on the bench of a loop."""
        page = self.open_loop(loop, page)
        self.go("Make safe", page=page)
        expect(page.locator(STATE)).to_be_visible()
        return page

    def listed(self) -> Page:
        """A box with its conductors seen."""
        page = self.sign_in()
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        self.drawn_and_seen()
        self.step("2", "Make safe")
        return page

    def locked(self, page: Page) -> None:
        """Switched off, and one's own lock on."""
        page.get_by_role("button", name="Record as switched off").click()
        page.get_by_role("button", name="Put my lock on").click()
        expect(page.get_by_role("button", name="Take my lock off")).to_be_visible()

    def volts(self, page: Page, pair: str, value: str) -> None:
        """The pair that is asked for, typed key by key."""
        expect(page.locator(".pair-name")).to_have_text(pair)
        page.get_by_label("Volts shown").click()
        for key in value:
            page.keyboard.type(key)
        page.keyboard.press("Enter")

    PAIRS = ("c1 – known earth", "c2 – known earth", "c3 – known earth", "c1 – c2", "c1 – c3", "c2 – c3")

    def note_pairs(self, page: Page) -> None:
        """From now on the page notes each pair that is asked for, however short."""
        page.evaluate(
            """() => {
                window.asked = [document.querySelector(".pair-name").textContent];
                new MutationObserver(() => {
                    const pair = document.querySelector(".pair-name")?.textContent;
                    if (pair !== window.asked.at(-1)) window.asked.push(pair);
                }).observe(document.body, { childList: true, characterData: true, subtree: true });
            }"""
        )

    def noted(self, page: Page) -> list[str]:
        """The pairs that were asked for, in order."""
        return [one for one in page.evaluate("window.asked") if one in self.PAIRS]

    def proved(self, page: Page) -> None:
        """The whole proof, in its order."""
        page.get_by_role("button", name="tester proved on a known source").click()
        for pair in self.PAIRS:
            self.volts(page, pair, "0.3")
        page.get_by_role("button", name="Tester proved again on the known source").click()
        page.get_by_role("button", name="Fitted: operated until silent").click()
        expect(page.locator(STATE)).to_contain_text("Proved dead")


class Proving(SafetyPage):
    """One person, one order."""

    def test_the_way_from_live_to_proved_dead_and_back(self) -> None:
        """Every press in its order; 60 V fails the proof for good; a new one is taken; the last lock ends it."""
        page = self.listed()
        expect(page.locator(STATE)).to_contain_text("Live")
        expect(page.get_by_role("button", name="tester proved on a known source")).to_have_count(0)
        self.locked(page)
        expect(page.locator(STATE)).to_contain_text("Off, not proved dead")
        page.get_by_role("button", name="Begin: tester proved on a known source").click()
        self.volts(page, self.PAIRS[0], "60")
        expect(page.locator(STATE)).to_contain_text("NOT DEAD")
        expect(page.get_by_label("Volts shown")).to_have_count(0)
        self.proved(page)
        expect(page.locator(".safety")).to_contain_text("by Wren Talley")
        self.assertEqual(ProofEvent.objects.filter(v=60.0).count(), 1)
        page.get_by_role("button", name="Take my lock off").click()
        expect(page.locator(STATE)).to_contain_text("No longer proved dead")
        page.get_by_role("button", name="Put the power back").click()
        expect(page.locator(STATE)).to_contain_text("Live")
        self.assertIsNotNone(Isolation.objects.get().closed_at)
        page.get_by_text("Proofs and isolations before").click()
        expect(page.get_by_text("60 V").first).to_be_visible()

    @tag("whole")
    def test_a_look_that_is_older_than_an_entry_takes_nothing_back(self) -> None:
        """The survey asked for before a pair was kept comes after it: no pair is asked for twice, no key is lost."""
        page = self.listed()
        self.locked(page)
        page.get_by_role("button", name="Begin: tester proved on a known source").click()
        expect(page.locator(".pair-name")).to_have_text(self.PAIRS[0])
        self.all_sent(page)
        older: list[tuple[Route, APIResponse]] = []
        page.route("**/survey/?*", lambda look: older.append((look, look.fetch())), times=1)
        wait_until(page, lambda: older)
        self.note_pairs(page)
        self.volts(page, self.PAIRS[0], "0.3")
        self.all_sent(page)
        expect(page.locator(".pair-name")).to_have_text(self.PAIRS[1])
        page.get_by_label("Volts shown").click()
        page.keyboard.type("0.")
        look, answer = older[0]
        with page.expect_response("**/survey/?*"):
            look.fulfill(response=answer)
        with page.expect_response("**/survey/?*"):
            pass
        page.keyboard.type("4")
        page.keyboard.press("Enter")
        expect(page.locator(".pair-name")).to_have_text(self.PAIRS[2])
        self.assertEqual(self.noted(page), [*self.PAIRS[:3]])
        self.all_sent(page)
        self.assertEqual([one.v for one in ProofEvent.objects.filter(kind="reading").order_by("number")], [0.3, 0.4])

    @tag("whole")
    def test_what_another_tab_sent_stays_read_until_this_one_has_it(self) -> None:
        """Two tabs of one person: the first sends for both, and the second asks for no pair again meanwhile."""
        sender = self.listed()
        self.locked(sender)
        sender.get_by_role("button", name="Begin: tester proved on a known source").click()
        expect(sender.locator(".pair-name")).to_have_text(self.PAIRS[0])
        self.all_sent(sender)
        page = self.context.new_page()
        page.goto(sender.url)
        expect(page.locator(".pair-name")).to_have_text(self.PAIRS[0])
        held: list[Route] = []
        released: list[bool] = []
        page.route("**/survey/?*", lambda look: look.continue_() if released else held.append(look))
        self.note_pairs(page)
        with sender.expect_response("**/proof-events/"):
            self.volts(page, self.PAIRS[0], "0.3")
        expect(page.locator(".pair-name")).to_have_text(self.PAIRS[1])
        wait_until(page, lambda: page.evaluate(ENTRIES_KEPT) == 0)
        wait_until(page, lambda: held)
        released.append(True)
        for look in held:
            look.continue_()
        self.all_sent(page)
        self.assertEqual(self.noted(page), [*self.PAIRS[:2]])

    @tag("whole")
    def test_what_is_no_figure_is_told_and_kept_by_nobody(self) -> None:
        """Letters, nothing, below zero; then the meter, marked as simulated."""
        page = self.listed()
        self.locked(page)
        page.get_by_role("button", name="Begin: tester proved on a known source").click()
        for wrong, why in (
            ("about nothing", "Write a number"),
            ("-3", "zero or more"),
            ("", "Write the volts that the tester shows"),
        ):
            self.typed(page.get_by_label("Volts shown"), wrong)
            page.get_by_role("button", name="Keep", exact=True).last.click()
            expect(page.get_by_text(why).first).to_be_visible()
        self.assertEqual(ProofEvent.objects.filter(kind="reading").count(), 0)
        page.get_by_role("button", name="Read by meter (simulated)").click()
        expect(page.get_by_label("Volts shown")).not_to_have_value("")
        page.get_by_label("Volts shown").press("Enter")
        expect(page.get_by_role("list", name="Readings of this proof")).to_contain_text("simulated")
        self.all_sent()
        self.assertEqual(ProofEvent.objects.get(kind="reading").origin, "simulated")

    @tag("whole")
    def test_a_breaker_that_is_on_no_list_yet_is_added_where_it_is_found(self) -> None:
        """A second circuit comes into the box: it is on the schedule, counts for this box, and stays over a reload."""
        page = self.listed()
        page.locator("summary", has_text="Other breakers whose circuits").click()
        page.get_by_role("button", name="It is not on the list").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Breaker", exact=True), "3")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog.get_by_role("alert")).to_be_visible()
        self.typed(dialog.get_by_label("Breaker", exact=True), "21")
        self.typed(dialog.get_by_label("Label as found"), "Weir lamps")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_have_count(0)
        expect(page.get_by_role("checkbox", name="21: Weir lamps")).to_be_checked()
        which = page.get_by_role("region", name="What is switched off")
        expect(which.get_by_role("checkbox", name="21: Weir lamps")).to_be_checked()
        self.all_sent()
        page.reload()
        page.locator("summary", has_text="Other breakers whose circuits").click()
        expect(page.get_by_role("checkbox", name="21: Weir lamps")).to_have_count(2)
        found = Survey.objects.get(loop__name="Sluice lobby")
        self.assertEqual([one.breaker for one in found.other_circuits.all()], ["21"])

    @tag("whole")
    def test_steps_say_what_is_missing_and_an_override_stays_with_its_name(self) -> None:
        """Fit is shut with every reason; photograph is marked all the same, with a reason on record."""
        page = self.listed()
        steps = page.get_by_role("region", name="Steps")
        expect(steps.get_by_role("button", name="Mark done: Fit")).to_be_disabled()
        expect(steps).to_contain_text("Nothing is recorded as switched off")
        self.locked(page)
        steps.get_by_role("button", name="Mark done: Open the box").click()
        expect(steps.get_by_role("button", name="Take back: Open the box")).to_be_visible()
        expect(steps).to_contain_text("There is no photograph from before yet.")
        steps.get_by_role("button", name="Mark it all the same").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_role("textbox"), "what is given up")
        dialog.get_by_role("button", name="Cancel").click()
        steps.get_by_role("button", name="Mark it all the same").click()
        expect(dialog.get_by_role("textbox")).to_have_value("")
        self.typed(dialog.get_by_role("textbox"), "camera broken, sketch on paper")
        page.reload()
        steps.get_by_role("button", name="Mark it all the same").click()
        expect(dialog.get_by_role("textbox")).to_have_value("camera broken, sketch on paper")
        dialog.get_by_role("button", name="Mark it all the same").click()
        expect(steps).to_contain_text("marked against a gate: camera broken, sketch on paper")
        self.assertEqual(StepMark.objects.last().overridden, ["no_photo_yet"])


class TwoPeople(SafetyPage):
    """Wren and Tam on breaker 3."""

    def test_the_power_stays_off_until_both_locks_are_off(self) -> None:
        """Tam sees it on another loop, joins, and neither can switch on over the other."""
        page = self.listed()
        self.locked(page)
        tam = self.another("tam")
        expect(tam.get_by_role("row", name="Wheelhouse stair")).to_contain_text("breaker 3 off since")
        self.at_safe("Wheelhouse stair", tam)
        expect(tam.locator(STATE)).to_contain_text("Off, not proved dead")
        expect(tam.get_by_text("Wren Talley, Sluice lobby").first).to_be_visible()
        expect(tam.get_by_role("button", name="Record as switched off")).to_have_count(0)
        expect(tam.get_by_role("button", name="Take off the lock of Wren Talley")).to_have_count(0)
        tam.get_by_role("button", name="Put my lock on").click()
        expect(tam.get_by_role("button", name="Take my lock off")).to_be_visible()
        page.get_by_role("button", name="Take my lock off").click()
        expect(page.get_by_text("Put the power back: waits for the lock of Tam Osier.")).to_be_visible()
        expect(page.get_by_role("button", name="Put the power back")).to_have_count(0)
        tam.get_by_role("button", name="Take my lock off").click()
        expect(tam.get_by_role("button", name="Put the power back")).to_be_visible()
        self.assertEqual(Lock.objects.exclude(off_at=None).count(), 2)

    @tag("whole")
    def test_what_is_typed_stays_with_its_pair_though_a_colleague_reads_that_one(self) -> None:
        """Half a figure is in the field when Tam's reading comes: the rest of it goes to no other pair."""
        page = self.listed()
        self.locked(page)
        tam = self.at_safe(page=self.another("tam"))
        tam.get_by_role("button", name="Put my lock on").click()
        self.all_sent(tam)
        page.get_by_role("button", name="Begin: tester proved on a known source").click()
        self.all_sent(page)
        page.get_by_label("Volts shown").click()
        page.keyboard.type("0.")
        self.volts(tam, self.PAIRS[0], "0.3")
        self.all_sent(tam)
        readings = page.get_by_role("list", name="Readings of this proof").get_by_role("listitem")
        expect(readings).to_have_count(1)
        expect(page.locator(".pair-name")).to_have_text(self.PAIRS[0])
        page.keyboard.type("4")
        page.keyboard.press("Enter")
        expect(page.locator(".pair-name")).to_have_text(self.PAIRS[1])
        expect(page.get_by_label("Volts shown")).to_have_value("")
        self.all_sent(page)
        kept = ProofEvent.objects.filter(kind="reading").order_by("number")
        self.assertEqual([(one.a, one.v, one.by.username) for one in kept], [("c1", 0.3, "tam"), ("c1", 0.4, "wren")])

    def test_a_checker_takes_a_lock_off_with_a_reason_and_both_are_told(self) -> None:
        """On the board; Wren finds it on the next page, and until it is read."""
        page = self.listed()
        self.locked(page)
        odell = self.another("odell")
        odell.get_by_role("link", name="Isolations").click()
        odell.get_by_role("button", name="Take off the lock of Wren Talley").click()
        dialog = odell.get_by_role("dialog")
        button = dialog.get_by_role("button", name="Take off the lock of Wren Talley")
        self.typed(dialog.get_by_label("Why"), "gone home")
        expect(button).to_be_disabled()
        self.typed(dialog.get_by_label("Why"), "gone home, reached by telephone")
        button.click()
        expect(odell.get_by_text("You took off the lock of Wren Talley")).to_be_visible()
        expect(page.get_by_text("Your lock on breaker 3 was taken off by Odell Marsh")).to_be_visible()
        page.get_by_role("button", name="I have read this").click()
        expect(page.get_by_text("Your lock on breaker 3 was taken off")).to_have_count(0)

    @tag("whole")
    def test_who_may_only_read_sees_no_field_that_pretends_to_save(self) -> None:
        """The checker's box has every field shut and no button that keeps."""
        page = self.sign_in("odell")
        self.open_loop("Sluice lobby")
        self.step("3", "The box")
        expect(page.get_by_label("Material")).to_be_disabled()
        expect(page.get_by_label("Depth", exact=True)).to_be_disabled()
        expect(page.get_by_role("button", name="Add conductor")).to_have_count(0)


class WithoutConnection(SafetyPage):
    """Proved dead is never shown from an old answer."""

    def test_nothing_is_confirmed_while_the_server_is_away_or_entries_wait(self) -> None:
        """Away: not confirmed; a lock taken off meanwhile waits, survives a reload, and is told when it arrived."""
        page = self.listed()
        self.locked(page)
        self.proved(page)
        page.route("**/api/v1/**", lambda route: route.abort())
        expect(page.locator(STATE)).to_contain_text("Not confirmed")
        expect(page.get_by_role("region", name="Steps")).to_contain_text("as the server last knew it")
        page.get_by_role("button", name="Take my lock off").click()
        expect(page.locator(".safety")).to_contain_text("has not reached the server")
        expect(page.get_by_role("list", name="Locks")).to_contain_text("not sent yet")
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        page.unroute("**/api/v1/**")
        page.route("**/off/", lambda route: route.abort())
        page.reload()
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        self.go("Make safe")
        expect(page.locator(STATE)).to_contain_text("Not confirmed")
        page.unroute("**/off/")
        self.all_sent()
        expect(page.locator(STATE)).to_contain_text("No longer proved dead")

    def test_a_refused_entry_stays_in_the_tray_until_a_person_deals_with_it(self) -> None:
        """Typed while away, refused on arrival: kept over a reload with its reason, corrected there, and taken."""
        page = self.listed()
        self.step("4", "Which conductor is which")
        self.context.set_offline(True)
        self.typed(page.get_by_label("Value"), "950")
        page.get_by_role("button", name="It is 950").click()
        page.get_by_label("Meter", exact=True).select_option("400 kΩ, low impedance")
        page.get_by_role("button", name="Keep reading").click()
        self.context.set_offline(False)
        expect(page.locator(".tray-bar")).to_contain_text("1 entry was refused")
        page.reload()
        page.locator(".tray-bar").click()
        tray = page.get_by_role("dialog", name="Entries on this device")
        expect(tray.get_by_role("alert")).to_contain_text("beyond what a 230 V supply")
        self.typed(tray.get_by_role("textbox", name="V"), "229")
        tray.get_by_role("button", name="Try again").click()
        expect(tray).to_contain_text("Nothing waits")
        self.assertEqual(TakenReading.objects.get().data["v"], 229.0)

    @tag("whole")
    def test_what_is_changed_just_before_leaving_a_step_arrives(self) -> None:
        """A choice and the next step within a blink of an eye."""
        page = self.listed()
        self.step("3", "The box")
        page.get_by_label("Material").select_option("metal")
        self.go("Parts", "Lamps")
        self.all_sent()
        self.step("3", "The box")
        expect(page.get_by_label("Material")).to_have_value("metal")


class OneBrowserTwoPeople(SafetyPage):
    """A tablet that is passed on, a session that lapses."""

    def test_a_lapsed_session_is_renewed_over_the_page_and_nothing_is_lost(self) -> None:
        """The cookie is gone; what is typed waits; signing in again sends it, on the same page."""
        page = self.listed()
        self.step("3", "The box")
        self.context.clear_cookies()
        self.typed(page.get_by_label("Depth", exact=True), "35 mm")
        door = page.get_by_role("dialog", name="Your session has ended")
        expect(door).to_be_visible()
        self.typed(door.get_by_label("Password"), "kestrel-demo")
        door.get_by_role("button", name="Sign in").click()
        expect(door).to_have_count(0)
        self.all_sent()
        expect(page.get_by_label("Depth", exact=True)).to_have_value("35 mm")

    def test_entries_of_one_are_never_sent_under_another(self) -> None:
        """Wren's reading waits; Tam signs in on the same device, sees that it waits, and not what; Wren returns."""
        page = self.listed()
        self.step("4", "Which conductor is which")
        page.route("**/readings/", lambda route: route.abort())
        self.typed(page.get_by_label("Value"), "229 V")
        page.get_by_label("Meter", exact=True).select_option("400 kΩ, low impedance")
        page.get_by_role("button", name="Keep reading").click()
        expect(page.locator(".tray-bar")).to_contain_text("1 entry waits")
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_text("1 entry of Wren Talley waits on this device")).to_be_visible()
        page.unroute("**/readings/")
        page.get_by_role("button", name="Use tam").click()
        expect(page.get_by_role("heading", name="Round")).to_be_visible()
        self.all_sent()
        self.open_loop("Sluice lobby")
        self.step("4", "Which conductor is which")
        expect(page.get_by_label("Value")).to_have_value("")
        self.assertEqual(TakenReading.objects.count(), 0)
        page.get_by_role("button", name="Sign out").click()
        page.get_by_role("button", name="Use wren").click()
        expect(page.get_by_role("heading", name="Round")).to_be_visible()
        self.all_sent()
        self.assertEqual(TakenReading.objects.get().by.username, "wren")

    @tag("whole")
    def test_a_tab_whose_person_was_exchanged_sends_and_shows_nothing(self) -> None:
        """Tam signs in in a second tab: Wren's tab asks who is there, and sends only when Wren is back."""
        page = self.listed()
        self.step("3", "The box")
        second = self.context.new_page()
        second.goto(self.live_server_url)
        second.get_by_role("button", name="Sign out").click()
        second.get_by_role("button", name="Use tam").click()
        expect(second.get_by_role("heading", name="Round")).to_be_visible()
        door = page.get_by_role("dialog", name="Somebody else signed in here")
        expect(door).to_be_visible()
        self.typed(door.get_by_label("Password"), "kestrel-demo")
        door.get_by_role("button", name="Sign in").click()
        expect(door).to_have_count(0)
        page.get_by_label("Material").select_option("plastic")
        self.all_sent()


class OnTheBench(SafetyPage):
    """Races and old answers."""

    def test_an_answer_for_other_figures_is_marked_while_the_server_is_away(self) -> None:
        """The count of lamps is changed with nobody there: what is shown is told to be of something else."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Lamps")
        expect(page.get_by_role("complementary", name="Why").get_by_role("listitem").first).to_be_visible()
        page.route("**/judge/", lambda route: route.abort())
        self.typed(page.get_by_label("number of equal lamps").first, "9")
        expect(page.get_by_role("complementary", name="Why")).to_contain_text("Not for what stands here now")
        page.unroute("**/judge/")
        expect(page.get_by_role("complementary", name="Why")).not_to_contain_text("Not for what stands here now")

    @tag("whole")
    def test_edits_made_while_keep_is_on_its_way_are_kept(self) -> None:
        """The answer is held back; what is typed meanwhile stands on top of it."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", "Cable")
        held: list[object] = []
        page.route("**/api/v1/gangs/*/", lambda route: held.append(route))
        self.typed(page.get_by_label("Name of this gang"), "First")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("button", name="Keep", exact=True)).to_be_disabled()
        self.typed(page.get_by_label("Name of this gang"), "Second")
        self.assertEqual(len(held), 1)
        held[0].continue_()  # type: ignore[attr-defined]
        expect(page.get_by_role("link", name="First")).to_be_visible()
        expect(page.get_by_label("Name of this gang")).to_have_value("Second")
        expect(page.get_by_text("what-if copy")).to_be_visible()

    def left_behind(self, part: str, field: str, text: str) -> Page:
        """Wren leaves a copy with one figure typed; Fenna keeps another name; Wren comes back to the loop."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        self.go("Parts", part)
        self.typed(page.get_by_label(field, exact=True), text)
        page.get_by_role("link", name="Ember Thread").click()
        fenna = self.another("fenna")
        self.open_loop("Loft landing", fenna)
        self.go("Parts", "Cable", page=fenna)
        self.typed(fenna.get_by_label("Name of this gang"), "Theirs")
        fenna.get_by_role("button", name="Keep", exact=True).click()
        expect(fenna.get_by_text("as recorded")).to_be_visible()
        page.reload()
        self.open_loop("Loft landing")
        return page

    @tag("whole")
    def test_a_copy_whose_record_moved_on_is_offered_not_erased(self) -> None:
        """It is asked, over a reload too, and taken up; of the name that both changed it says so."""
        page = self.left_behind("Cable", "Name of this gang", "Mine")
        expect(page.get_by_role("alert")).to_contain_text("You left a copy here")
        page.reload()
        page.get_by_role("button", name="Put my copy on the bench").click()
        expect(page.get_by_role("status").filter(has_text="on the bench together")).to_contain_text("the gang's name")
        self.go("Parts", "Cable")
        expect(page.get_by_label("Name of this gang")).to_have_value("Mine")

    @tag("whole")
    def test_a_copy_taken_up_leaves_what_another_changed_meanwhile(self) -> None:
        """The copy is of the bypass, the record of the name: with the copy on the bench both stand."""
        page = self.left_behind("Bypass", "capacitance", "470n")
        page.get_by_role("button", name="Put my copy on the bench").click()
        self.go("Parts", "Cable")
        expect(page.get_by_label("Name of this gang")).to_have_value("Theirs")
        self.go("Parts", "Bypass")
        expect(page.get_by_label("capacitance", exact=True)).to_have_value("470 nF")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_text("as recorded")).to_be_visible()

    @tag("whole")
    def test_a_missing_part_of_the_application_leaves_words_not_white(self) -> None:
        """The chunk of the shelf cannot be fetched: the bar stays, the page says what to do."""
        page = self.sign_in()
        page.route("**/ShelfPage*.js", lambda route: route.abort())
        page.get_by_role("link", name="Parts shelf").click()
        expect(page.get_by_role("alert")).to_contain_text("could not be fetched")
        page.get_by_role("link", name="Round").click()
        expect(page.get_by_role("heading", name="Round")).to_be_visible()

    def note(self, message: object) -> None:
        """A chunk that is kept away complains in the console; the page must not."""

    @tag("whole")
    def test_measured_values_stay_when_the_step_is_left(self) -> None:
        """Typed with the meter's name, beside what was computed; struck out, not erased."""
        page = self.sign_in()
        self.open_loop("Loft landing")
        page.get_by_role("tab", name="Instruments").click()
        form = page.get_by_role("region", name="Narrow")
        self.typed(form.get_by_label("Which meter"), "bench meter 2")
        self.typed(form.get_by_label("Value", exact=True), "47 V")
        form.get_by_role("combobox", name="Meter").select_option("10 MΩ")
        form.get_by_role("button", name="Add").click()
        values = page.get_by_role("list", name="Measured values")
        expect(values).to_contain_text("bench meter 2")
        self.go("Parts", "Lamps")
        self.go("Judge", "Light off")
        page.get_by_role("tab", name="Instruments").click()
        expect(values).to_contain_text("47.0 V")
        expect(values).to_contain_text("computed")
        values.get_by_role("button", name="Strike out").click()
        dialog = page.get_by_role("dialog")
        self.typed(dialog.get_by_label("Why it was wrong"), "wrong lamp")
        dialog.get_by_role("button", name="Strike out").click()
        expect(values).to_contain_text("struck out: wrong lamp")
