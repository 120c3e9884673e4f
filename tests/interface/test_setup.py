"""Step Set up as people use it: noted key by key, joined against the clock, cut off, by two; programs that fail."""

from __future__ import annotations

import re
import time
import uuid

from django.test import tag
from playwright.sync_api import Locator, Page, Route, expect

from accounts.models import User
from demo.management.commands.load_demo import load_radio
from loops.models import Loop
from setup.models import House, PairMark, Programs
from survey.services.isolating import energise, open_new
from tests.browser import TABLET
from tests.interface.base import InterfaceTest, middle


class SetupPage(InterfaceTest):
    """The tabs of the step."""

    def setUp(self) -> None:
        super().setUp()
        load_radio(User.objects.get(username="wren"))

    def field(self, row: Locator, name: str) -> Locator:
        """A field of a row by the beginning of its label."""
        return row.locator("label", has_text=re.compile(f"^{re.escape(name)}")).locator("input, select").first

    def at_tab(self, name: str, tab: str, page: Page | None = None) -> Page:
        """A tab of a loop's step."""
        page = self.open_loop(name, page)
        self.go("Set up", tab, page=page)
        return page

    def section(self, page: Page, name: str) -> Locator:
        """A part of the form."""
        return page.get_by_role("region", name=name, exact=True)

    def row(self, page: Page, title: str, number: int) -> Locator:
        """A row of a table, added."""
        self.section(page, title).get_by_role("button", name=f"Add: {title}").click()
        return self.section(page, title).get_by_role("group", name=f"{title} {number}")


class Noting(SetupPage):
    """The radio of a site."""

    def test_from_nothing_to_who_is_in_range(self) -> None:
        """Typed key by key, a reload in the middle, a window of 0 s said beside its field, mended, kept, judged."""
        House.objects.all().delete()
        page = self.sign_in()
        self.at_tab("Dock office", "In range")
        page.get_by_role("button", name="Note rooms, hubs, devices").click()
        self.typed(page.get_by_label("Latitude"), "43.6")
        self.typed(page.get_by_label("Longitude"), "-70.2")
        for number, name in ((1, "Plant room"), (2, "Dock office")):
            self.typed(self.row(page, "Rooms", number).get_by_label("Name"), name)
        page.reload()
        page.get_by_role("button", name="Note rooms, hubs, devices").click()
        expect(self.section(page, "Rooms").get_by_role("group", name="Rooms 2").get_by_label("Name")).to_have_value(
            "Dock office"
        )
        between = self.row(page, "What lies between two rooms", 1)
        self.field(between, "From").select_option(label="Plant room")
        self.field(between, "To").select_option(label="Dock office")
        self.typed(self.field(between, "Distance (m)"), "8,5")
        self.typed(self.field(between, "Brick"), "1")
        hub = self.row(page, "Hubs", 1)
        self.typed(self.field(hub, "Name"), "Plant hub")
        self.field(hub, "Room").select_option(label="Plant room")
        self.typed(self.field(hub, "Open for (s)"), "0")
        device = self.row(page, "Devices that join", 1)
        self.field(device, "Kind").select_option(label="switch without neutral, mesh")
        self.field(device, "Room").select_option(label="Dock office")
        self.field(device, "Hub").select_option(label="Plant hub")
        self.field(device, "Controls").select_option(label="Dock office · 1")
        expect(self.field(device, "Name")).to_have_value("Dock office")
        self.typed(self.field(device, "Name"), "Dock lamp")
        page.get_by_role("button", name="Keep", exact=True).last.click()
        expect(hub.get_by_text("is outside")).to_be_visible()
        self.assertEqual(House.objects.count(), 0)
        self.typed(self.field(hub, "Open for (s)"), "60")
        page.get_by_role("button", name="Keep", exact=True).last.click()
        found = page.get_by_role("region", name="Plant hub")
        expect(found.get_by_role("listitem").filter(has_text="Dock lamp")).to_contain_text("in range")
        expect(found).to_contain_text("nobody noted how many it takes")
        document = House.objects.get().document
        self.assertEqual(document["between"][0]["d_m"], 8.5)
        self.assertIsNone(document["devices"][0]["metal_box"])

    def two_noting(self) -> tuple[Page, Page]:
        """Both have begun on the same."""
        page, other = self.sign_in(), self.another("fenna")
        for who in (page, other):
            self.at_tab("Dock office", "In range", who)
            who.get_by_role("button", name="Change what is noted").click()
        return page, other

    @tag("whole")
    def test_two_people_note_and_neither_loses(self) -> None:
        """The second is told that the first kept another; what was typed is still there."""
        page, other = self.two_noting()
        box = "Channels of other Wi-Fi networks"
        self.typed(other.get_by_label(box), "11")
        other.get_by_role("button", name="Keep", exact=True).last.click()
        expect(other.get_by_role("region", name="Plant hub")).to_be_visible()
        self.typed(page.get_by_label(box), "6")
        page.get_by_role("button", name="Keep", exact=True).last.click()
        expect(page.get_by_role("alert")).to_contain_text("Somebody else kept another version")
        expect(page.get_by_label(box)).to_have_value("6")
        page.get_by_role("button", name="Keep mine over it").click()
        expect(page.get_by_role("region", name="Plant hub")).to_be_visible()
        self.assertEqual(House.objects.get(site__name="Larkspur Cannery").document["neighbours"], [6])

    @tag("whole")
    def test_what_two_people_note_is_put_together(self) -> None:
        """Each keeps what the other left; of what both changed one's own stands, is named, and is kept last."""
        page, other = self.two_noting()
        box = "Channels of other Wi-Fi networks"
        first = page.get_by_role("group", name="Rooms 1", exact=True)
        self.typed(other.get_by_role("group", name="Rooms 1", exact=True).get_by_label("Name"), "Weighing room")
        self.typed(other.get_by_label(box), "11")
        other.get_by_role("button", name="Take away: Devices that join 1", exact=True).click()
        other.get_by_role("button", name="Keep", exact=True).last.click()
        expect(other.get_by_role("region", name="Plant hub")).to_be_visible()
        before = House.objects.get(site__name="Larkspur Cannery").document
        self.typed(page.get_by_label(box), "6")
        self.typed(first.get_by_label("Floor"), "2")
        page.get_by_role("button", name="Add: Rooms").click()
        added = page.get_by_role("group", name=re.compile("^Rooms")).last
        self.typed(added.get_by_label("Name"), "Net loft")
        page.get_by_role("button", name="Keep", exact=True).last.click()
        page.get_by_role("button", name="Put both together").click()
        told = page.get_by_role("status").filter(has_text="put together here")
        expect(told.get_by_role("listitem")).to_have_text([re.compile(box)])
        expect(first.get_by_label("Name")).to_have_value("Weighing room")
        page.reload()
        page.get_by_role("button", name="Change what is noted").click()
        expect(first.get_by_label("Floor")).to_have_value("2")
        expect(told.get_by_role("listitem")).to_have_text([re.compile(box)])
        page.get_by_role("button", name="Keep", exact=True).last.click()
        expect(page.get_by_role("region", name="Plant hub")).to_be_visible()
        after = House.objects.get(site__name="Larkspur Cannery").document
        self.assertEqual((after["neighbours"], after["devices"]), ([6], before["devices"]))
        rooms = [(room["name"], room["floor"]) for room in after["rooms"]]
        floors = [(room["name"], room["floor"]) for room in before["rooms"]]
        self.assertEqual(rooms, [("Weighing room", 2), *floors[1:], ("Net loft", None)])


class Joining(SetupPage):
    """Step by step."""

    def step(self, page: Page, title: str) -> Locator:
        """The large step, once it is that one."""
        card = page.get_by_role("article")
        expect(card.get_by_role("heading", level=2)).to_contain_text(title)
        return card

    def until(self, page: Page, title: str) -> Locator:
        """Press done until a step comes."""
        card = page.get_by_role("article")
        for _ in range(30):
            shown = card.get_by_role("heading", level=2).inner_text()
            if title in shown:
                return card
            card.get_by_role("button", name=re.compile("Done|It is linked|It has joined")).click()
            expect(card.get_by_role("heading", level=2)).not_to_have_text(shown)
        raise AssertionError(f"no step {title}")

    @tag("whole")
    def test_what_is_left_out_is_ticked_before_the_plan_without_it_is_there(self) -> None:
        """The tick stands at once; the plan that still has it cannot be begun."""
        page = self.sign_in()
        self.at_tab("Dock office", "Join")
        page.get_by_text("Leave out this time").click()
        left_out = page.get_by_role("group", name="Leave out this time")
        lamp = left_out.get_by_role("checkbox", name="Packing stair lamp")
        begin = page.get_by_role("button", name="Begin")
        expect(begin).to_be_enabled()
        held, released = list[Route](), list[bool]()
        page.route("**/pairing/?*", lambda route: route.continue_() if released else held.append(route))
        with page.expect_request("**/pairing/?*"):
            lamp.click()
        self.assertTrue(lamp.is_checked())
        self.assertTrue(begin.is_disabled())
        released.append(True)
        for one in held:
            one.continue_()
        begin.click()
        expect(page.get_by_role("article")).to_be_visible()
        for _ in range(30):
            card = page.get_by_role("article")
            if card.count() == 0:
                break
            shown = card.get_by_role("heading", level=2).inner_text()
            self.assertNotIn("Packing stair lamp", shown)
            card.get_by_role("button", name=re.compile("Done|It is linked|It has joined")).click()
            expect(page.get_by_role("heading", name=shown, exact=True)).to_have_count(0)

    def test_against_the_clock_with_a_reload_and_a_miss(self) -> None:
        """The window runs on over a reload; once it has closed only what closed is repeated; then it is in."""
        page = self.sign_in()
        page.clock.install()
        self.at_tab("Dock office", "Join")
        page.get_by_role("button", name="Rehearse on the stand-in").click()
        rehearsed = page.get_by_text("On the stand-in everything joins")
        expect(rehearsed).to_be_visible()
        # Another plan was not rehearsed.
        page.get_by_text("Leave out this time").click()
        lamp = page.get_by_role("group", name="Leave out this time").get_by_role("checkbox").first
        lamp.click()
        expect(lamp).to_be_checked()
        expect(rehearsed).to_have_count(0)
        lamp.click()
        expect(lamp).not_to_be_checked()
        expect(rehearsed).to_have_count(0)
        page.get_by_role("button", name="Begin").click()
        card = self.until(page, "Packing stair lamp: wait until it has joined")
        expect(card.get_by_role("timer")).to_contain_text("left")
        page.reload()
        card = self.step(page, "Packing stair lamp: wait until it has joined")
        page.clock.run_for(95_000)
        expect(card.get_by_role("timer")).to_contain_text("The window has closed")
        expect(card).to_contain_text("network open")
        # Where the hub hangs there is often no connection: what to repeat needs none.
        page.context.set_offline(True)
        card.get_by_role("button", name="Not yet: what to repeat").click()
        card = self.step(page, "Packing stair lamp: ask it to join")
        expect(card).to_contain_text("Repeat only this")
        page.context.set_offline(False)
        card.get_by_role("button", name="Done").click()
        card = self.step(page, "Packing stair lamp: wait until it has joined")
        card.get_by_role("button", name="It has joined").click()
        self.all_sent()
        expect(page.get_by_role("region", name="In the network")).to_contain_text("Packing stair lamp, Wren Talley")
        came = list(PairMark.objects.filter(device="packing-stair-lamp").values_list("step", "came"))
        self.assertEqual(came[-2:], [("join:packing-stair-lamp:", "again"), ("join:packing-stair-lamp:", "worked")])

    @tag("whole")
    def test_cut_off_in_the_middle_and_seen_by_another(self) -> None:
        """What joined waits on the device and arrives; the other sees it with the name, and their plan is shorter."""
        page = self.sign_in()
        self.at_tab("Dock office", "Join")
        expect(page.get_by_text("0 in, 3 to join")).to_be_visible()
        page.get_by_role("button", name="Begin").click()
        card = self.until(page, "Dock office lamp: wait until it has joined")
        self.context.set_offline(True)
        card.get_by_role("button", name="It has joined").click()
        expect(page.get_by_text("kept on this device, not arrived yet")).to_be_visible()
        self.assertEqual(PairMark.objects.filter(step__startswith="join").count(), 0)
        self.context.set_offline(False)
        self.all_sent()
        other = self.another("fenna")
        self.at_tab("Dock office", "Join", other)
        expect(other.get_by_text("1 in, 2 to join")).to_be_visible()
        expect(other.get_by_role("region", name="In the network")).to_contain_text("Dock office lamp, Wren Talley")

    def test_a_breaker_under_a_lock_is_not_switched_on_for_joining(self) -> None:
        """The step says who keeps it off and cannot be done; once the power is back it can."""
        wren = User.objects.get(username="wren")
        loop = Loop.objects.get(name="Dock office")
        assert loop.circuit is not None
        row = open_new(User.objects.get(username="fenna"), loop.pk, uuid.uuid4(), "breakers", [loop.circuit.pk])
        page = self.sign_in()
        self.at_tab("Dock office", "Join")
        page.get_by_role("button", name="Begin").click()
        card = self.until(page, f"Switch breaker {loop.circuit.breaker} on")
        expect(card.get_by_role("alert")).to_contain_text("kept off by Fenna Brook")
        expect(card.get_by_role("button", name="Done")).to_be_disabled()
        energise(wren, row.pk, uuid.uuid4(), "")
        page.reload()
        expect(card.get_by_role("button", name="Done")).to_be_enabled()

    @tag("whole")
    def test_levels_are_tried_on_the_stand_in(self) -> None:
        """A level that is none cannot be set; one that is goes there, and behind a cut breaker nobody answers."""
        page = self.sign_in()
        self.at_tab("Dock office", "Join")
        page.get_by_text("Try it out on the stand-in").click()
        states = page.get_by_role("status", name="How it stands")
        expect(states).to_contain_text("Dock office lamp: 0 %")
        page.get_by_label("Device").select_option(label="Dock office lamp")
        box = page.get_by_label("Level (%)")
        self.typed(box, "140")
        expect(page.get_by_role("button", name="Set", exact=True)).to_be_disabled()
        self.typed(box, "40")
        page.get_by_role("button", name="Set", exact=True).click()
        expect(states).to_contain_text("Dock office lamp: 40 %")
        page.get_by_role("button", name="Cut breaker").click()
        expect(states).to_contain_text("Dock office lamp: 0 %")
        page.get_by_role("button", name="Set", exact=True).click()
        expect(page.get_by_text("Dock office lamp: does not answer")).to_be_visible()
        self.assertEqual(PairMark.objects.count(), 0)

    @tag("whole")
    def test_what_cannot_join_is_named_and_left_out(self) -> None:
        """The mill's bell chamber: the plan says so, and goes on without it, and counts the same after a reload."""
        page = self.sign_in()
        self.at_tab("Gallery", "Join")
        expect(page.get_by_role("alert")).to_contain_text("Bell chamber spots: out of range")
        expect(page.get_by_role("button", name="Begin")).to_have_count(0)
        page.get_by_role("button", name="Plan without them").click()
        expect(page.get_by_role("button", name="Begin")).to_be_visible()
        expect(page.get_by_role("checkbox", name="Bell chamber spots")).to_be_checked()
        expect(page.get_by_text("0 in, 8 to join")).to_be_visible()
        page.get_by_role("button", name="Begin").click()
        expect(page.get_by_role("article")).to_contain_text("Step 1 of")
        page.reload()
        expect(page.get_by_role("article")).to_contain_text("Step 1 of")
        expect(page.get_by_text("0 in, 8 to join")).to_be_visible()


class Bounce(SetupPage):
    """A thumb that bounces, a key that is held: one press."""

    def joining(self, page: Page) -> tuple[Locator, Locator]:
        """The first step of joining, and its button."""
        self.at_tab("Dock office", "Join", page)
        page.get_by_role("button", name="Begin").click()
        card = page.get_by_role("article")
        return card, card.get_by_role("button", name="Done")

    def one_step(self, card: Locator, first: str) -> None:
        """The second step stands there, not the third."""
        expect(card.locator(".fit-stage")).to_contain_text("Step 2 of")
        expect(card).not_to_contain_text(first)

    def test_a_double_click_is_one_step(self) -> None:
        """By mouse; the next press counts again."""
        card, done = self.joining(self.sign_in())
        first = card.get_by_role("heading", level=2).inner_text()
        done.dblclick()
        self.one_step(card, first)
        done.click()
        expect(card.locator(".fit-stage")).to_contain_text("Step 3 of")

    @tag("whole")
    def test_a_held_key_is_one_step(self) -> None:
        """Enter repeats itself while it is held."""
        page = self.sign_in()
        card, done = self.joining(page)
        done.focus()
        for _ in range(4):
            page.keyboard.down("Enter")
        page.keyboard.up("Enter")
        expect(card.locator(".fit-stage")).to_contain_text("Step 2 of")

    @tag("whole")
    def test_two_taps_are_one_step(self) -> None:
        """By touch, where nobody counts taps but us."""
        context = self.browser.new_context(viewport=TABLET, has_touch=True, reduced_motion="reduce")
        self.addCleanup(context.close)
        page = self.sign_in(page=context.new_page())
        card, done = self.joining(page)
        first = card.get_by_role("heading", level=2).inner_text()
        at = middle(done)
        fingers = context.new_cdp_session(page)
        # By the finger's clock: how fast this machine is does not count.
        now = time.time()
        for tap in (0.0, 0.2):
            down, up = now + tap, now + tap + 0.05
            fingers.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [at], "timestamp": down})
            fingers.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": [], "timestamp": up})
        self.one_step(card, first)


class Week(SetupPage):
    """Programs."""

    @tag("whole")
    def test_a_time_that_is_none_is_said_where_it_stands(self) -> None:
        """25:00 typed key by key; nothing is kept; mended it shows, is kept, and outlives a reload."""
        page = self.sign_in()
        self.at_tab("Gallery", "Programs")
        page.get_by_role("button", name="Add a program").click()
        row = page.get_by_role("group", name="Program 1")
        on = self.field(row, "On")
        self.typed(on, "25:00")
        expect(row).to_contain_text("“25:00” is no time")
        page.reload()
        expect(on).to_have_value("25:00")
        self.assertFalse(Programs.objects.filter(gang__loop__name="Gallery").exists())
        self.typed(on, "18:00")
        # A date field takes its parts one after another, as the browser's language has them.
        page.get_by_label("First day").press_sequentially("03242027")
        expect(page.get_by_label("First day")).to_have_value("2027-03-24")
        strip = page.get_by_role("region", name="Eight days of the light")
        expect(strip).to_contain_text("18:00–23:00")
        expect(strip).to_contain_text("23 h: the clock changes")
        expect(strip.get_by_role("status")).to_contain_text("40.0 h in these eight days, 1825 h a year")
        strip.get_by_label("Try a power cut").select_option(label="10 min")
        expect(strip.get_by_role("status")).to_contain_text("37.0 h")
        # Nobody noted it: a figure that is reckoned with it says so, and nothing of it is kept.
        after = page.get_by_label("After a power cut")
        expect(after.locator("option:checked")).to_have_text("not noted")
        expect(strip).to_contain_text("is not noted: shown here as if it stayed off")
        expect(strip).to_contain_text("goes on without supply is not noted: shown here as if it lost no time")
        after.select_option("comes on")
        expect(strip).not_to_contain_text("as if it stayed off")
        holds, again = page.get_by_label("Its clock goes on"), page.get_by_label("A network sets its clock again")
        expect(again.locator("option:checked")).to_have_text("not noted")
        self.typed(holds, "60")
        expect(strip).not_to_contain_text("as if it lost no time")
        expect(strip).to_contain_text("sets its clock again is not noted: shown here as if one did")
        again.select_option("no")
        expect(strip).not_to_contain_text("is not noted")
        expect(strip).to_contain_text("The control has lost its clock on 2027-03-24")
        again.select_option("not noted")
        self.typed(holds, "")
        expect(strip.get_by_role("status")).not_to_contain_text("37.0 h")
        after.select_option("not noted")
        expect(strip.get_by_role("status")).to_contain_text("37.0 h")
        page.get_by_role("button", name="Keep the programs").click()
        expect(page.get_by_role("button", name="Keep the programs")).to_be_disabled()
        page.reload()
        expect(on).to_have_value("18:00")
        document = Programs.objects.get(gang__loop__name="Gallery").document
        self.assertEqual(document["programs"][0]["on"], "18:00")
        self.assertEqual(document["device"], {"most_programs": None, "clock_holds_s": None})

    @tag("whole")
    def test_what_was_seen_after_a_power_cut_stands_beside_what_is_noted(self) -> None:
        """Seen at the proof to stay off: noted otherwise, one of the two is wrong, and that is said at the field."""
        loop = Loop.objects.get(name="Gallery")
        self.client.force_login(User.objects.get(username="wren"), "django.contrib.auth.backends.ModelBackend")
        mark = {"id": str(uuid.uuid4()), "item": "power_on", "result": "stays_off"}
        answer = self.client.post(f"/api/v1/loops/{loop.pk}/prove/marks/", mark, content_type="application/json")
        self.assertEqual(answer.status_code, 201, answer.content)
        page = self.sign_in()
        self.at_tab("Gallery", "Programs")
        seen = page.get_by_text("Seen at the proof after a power cut: stays off.")
        expect(seen).to_be_visible()
        after = page.get_by_label("After a power cut")
        for noted, differs in (("comes on", True), ("stays off", False), ("as before", True), ("not noted", False)):
            after.select_option(noted)
            expect(page.get_by_text("one of the two is wrong")).to_have_count(int(differs))

    @tag("whole")
    def test_what_is_typed_while_they_are_being_kept_stays(self) -> None:
        """On a slow line another hour is typed before the answer: it stands there, and is kept at the next press."""
        page = self.sign_in()
        self.at_tab("Gallery", "Programs")
        page.get_by_role("button", name="Add a program").click()
        row = page.get_by_role("group", name="Program 1")
        self.typed(self.field(row, "On"), "18:00")
        held: list[Route] = []
        page.route("**/programs/", lambda one: held.append(one) if one.request.method == "PUT" else one.fallback())
        keep = page.get_by_role("button", name="Keep the programs")
        keep.click()
        expect(keep).to_be_disabled()
        self.typed(self.field(row, "On"), "19:15")
        held.pop().continue_()
        page.unroute("**/programs/")
        expect(keep).to_be_enabled()
        expect(self.field(row, "On")).to_have_value("19:15")
        keep.click()
        expect(keep).to_be_disabled()
        page.reload()
        expect(self.field(row, "On")).to_have_value("19:15")
        self.assertEqual(Programs.objects.get(gang__loop__name="Gallery").document["programs"][0]["on"], "19:15")

    def test_what_still_works_is_told_of_this_loop_first(self) -> None:
        """The gallery's lamp with its remote; the wall works whatever fails."""
        page = self.sign_in()
        self.at_tab("Gallery", "When it fails")
        row = page.get_by_role("row", name=re.compile("Gallery pictures"))
        expect(row).to_contain_text("this loop")
        expect(row).to_contain_text("Lost: by Gallery remote")
        self.assertIn("Gallery pictures", page.get_by_role("row").nth(1).inner_text())
        expect(page.get_by_role("table")).not_to_contain_text("nothing works")
        self.assertTrue(Loop.objects.filter(name="Gallery").exists())
