"""The page Visits: a plan typed, computed, moved about by keys and by hand, refused in words, shared by two."""

from __future__ import annotations

import re

from django.test import tag
from django.utils import timezone
from playwright.sync_api import Page, Route, expect

from loops.models import Loop
from tests.interface.readable import readable
from tests.interface.test_fit import FitPage
from visits.models import Plan, VanItem

LOOPS = (("Wheelhouse stair", "two_wire"), ("Sack hoist", "module_at_lamp"), ("Grain loft", "module_with_switch"))


class Visits(FitPage):
    """Three loops on two breakers, and one without a way."""

    def planned(self) -> Page:
        """A plan made from nothing, typed key by key, and computed."""
        for name, way in LOOPS:
            self.chosen(name, way)
        page = self.sign_in()
        page.get_by_role("link", name="Visits").click()
        expect(page.get_by_role("heading", name="Visits")).to_be_visible()
        page.get_by_label("Site").select_option("Kestrel Mill")
        expect(page.get_by_text("No day is planned at this site yet")).to_be_visible()
        page.get_by_role("button", name="New plan").first.click()
        self.typed(page.get_by_label("Name of the plan"), "Stair, hoist and loft")
        for name in (*(name for name, _ in LOOPS), "Bell chamber"):
            page.get_by_role("checkbox", name=name).check()
        page.get_by_role("button", name="Keep", exact=True).click()
        page.get_by_role("button", name="Plan it").click()
        expect(page.locator(".plan-cost")).to_contain_text("1 visit, 2 isolations")
        expect(page.locator(".plan-cost")).to_contain_text("Nothing better is possible")
        return page

    def stops(self, page: Page) -> list[str]:
        """Loops in their order."""
        return page.locator(".stop-name a").all_inner_texts()

    def test_a_day_from_nothing_and_what_moving_costs(self) -> None:
        """By keys and by dragging; each change says what it costs; undo brings it back; a reload keeps it."""
        page = self.planned()
        left = page.get_by_role("region", name="In no visit")
        expect(left).to_contain_text("Bell chamber No way is chosen for it")
        for look in ("Take along", "What it asks", "What tasks take", "Days"):
            tab = page.get_by_role("tab", name=look)
            tab.click()
            expect(tab).to_have_attribute("aria-selected", "true")
            expect(page.locator("[aria-busy=true], .waiting")).to_have_count(0)
            readable(self, page, f"visits, {look}")
        first = self.stops(page)
        middle = first[1]
        before = page.locator(".plan-cost b").inner_text()
        # The stair stands at one end: between the two loops of breaker 9 it costs an isolation more.
        outer = "Wheelhouse stair"
        button = "earlier" if first.index(outer) == 2 else "later"
        move = page.get_by_role("button", name=f"{outer}: {button}")
        move.focus()
        page.keyboard.press("Enter")
        expect(page.locator(".plan-cost")).to_contain_text("isolations +1")
        self.assertEqual(self.stops(page)[1], outer)
        page.reload()
        expect(page.locator(".plan-cost")).to_contain_text("isolations +1")
        page.locator(".stops li").filter(has_text=outer).drag_to(page.locator(".stops li").filter(has_text=first[0]))
        expect(page.locator(".plan-cost")).not_to_contain_text("isolations +1")
        page.get_by_role("button", name="Undo").click()
        expect(page.locator(".plan-cost")).to_contain_text("isolations +1")
        page.get_by_label(f"{middle}: move to").select_option("a new day of Wren Talley")
        expect(page.locator(".visit-card")).to_have_count(2)
        expect(page.locator(".plan-cost")).to_contain_text("visits +1")
        page.get_by_label(f"{middle}: move to").select_option("out of the plan")
        expect(left).to_contain_text("Taken out by hand")
        page.get_by_role("button", name="Plan again").click()
        expect(page.locator(".plan-cost b")).to_have_text(before)
        self.assertFalse(Plan.objects.get().is_by_hand)

    @tag("whole")
    def test_a_stop_is_moved_again_and_again_by_keys_alone(self) -> None:
        """No line of its menu is done on the way to the one that is wanted; the keys go on at the same stop."""
        page = self.planned()
        first = self.stops(page)
        moves: list[str] = []
        page.on("request", lambda one: moves.append(one.url) if one.method == "PUT" else None)
        move = page.get_by_label(f"{first[1]}: move to")
        move.focus()
        page.keyboard.press("ArrowDown")
        # The list is open; its last line is *out of the plan*, the one before it a new day.
        page.keyboard.press("End")
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Enter")
        expect(page.locator(".visit-card")).to_have_count(2)
        expect(page.get_by_label(f"{first[1]}: move to")).to_be_focused()
        self.assertEqual(len(moves), 1)
        later = page.get_by_role("button", name=f"{first[0]}: later")
        later.focus()
        page.keyboard.press("Enter")
        # It is the last one now, and goes no later.
        expect(later).to_be_disabled()
        expect(page.get_by_label(f"{first[0]}: move to")).to_be_focused()

    @tag("whole")
    def test_undo_takes_back_what_one_did_oneself(self) -> None:
        """Of two who move loops, the one who was late is refused, and has nothing of the other's to undo."""
        page = self.planned()
        tam = self.another("tam")
        tam.goto(page.url)
        undo, his = (one.get_by_role("button", name="Undo") for one in (page, tam))
        expect(tam.locator(".plan-cost")).to_contain_text("1 visit, 2 isolations")
        page.get_by_label("Sack hoist: move to").select_option("a new day of Wren Talley")
        expect(page.locator(".visit-card")).to_have_count(2)
        expect(undo).to_be_visible()
        tam.get_by_label("Grain loft: move to").select_option("out of the plan")
        expect(tam.get_by_role("alert").filter(has_text="Someone else changed this")).to_be_visible()
        expect(tam.locator(".visit-card")).to_have_count(2)
        expect(his).to_have_count(0)
        tam.get_by_label("Grain loft: move to").select_option("out of the plan")
        expect(tam.get_by_role("region", name="In no visit")).to_contain_text("Grain loft")
        expect(his).to_be_visible()
        undo.click()
        expect(page.get_by_role("alert").filter(has_text="Someone else changed this")).to_be_visible()
        expect(page.get_by_role("region", name="In no visit")).to_contain_text("Grain loft")
        expect(undo).to_have_count(0)
        his.click()
        expect(tam.get_by_role("region", name="In no visit")).not_to_contain_text("Grain loft")
        expect(tam.locator(".visit-card")).to_have_count(2)

    @tag("whole")
    def test_what_two_people_asked_of_a_plan_is_put_together(self) -> None:
        """One shortens the day and takes a loop out, the other names a skill and the day: both stand, told which."""
        page = self.planned()
        tam = self.another("tam")
        tam.goto(page.url)
        for who in (page, tam):
            who.get_by_role("tab", name=re.compile("^What it asks")).click()
        self.typed(tam.get_by_label("Hours a day"), "6")
        self.typed(tam.get_by_label("Minutes between two loops"), "5")
        tam.get_by_role("checkbox", name="Bell chamber").uncheck()
        tam.get_by_role("button", name="Keep", exact=True).click()
        expect(tam.locator(".plan-cost")).to_be_visible()
        self.typed(page.get_by_label("Hours a day"), "7")
        self.typed(page.get_by_label("Minutes at Bell chamber"), "25")
        self.typed(page.get_by_label("Minutes to isolate a breaker"), "9")
        page.get_by_role("button", name="Keep", exact=True).click()
        page.get_by_role("button", name="Put both together").click()
        told = page.get_by_role("status").filter(has_text="put together here")
        expect(told).to_contain_text("stays: Hours a day, Bell chamber.")
        page.reload()
        expect(told).to_contain_text("Hours a day, Bell chamber")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.locator(".plan-cost")).to_be_visible()
        plan = Plan.objects.get()
        self.assertEqual((plan.visit_minutes, plan.isolate_minutes, plan.walk_minutes), (420, 9, 5))
        self.assertIn(25, [job.minutes for job in plan.jobs.all()])

    @tag("whole")
    def test_every_figure_of_a_visit_agrees(self) -> None:
        """The end of the day is its begin and its minutes; each circuit is off for as long as its loops take."""
        page = self.planned()

        def clocks(text: str) -> list[int]:
            return [int(hour) * 60 + int(minute) for hour, minute in re.findall(r"(\d\d):(\d\d)", text)]

        head = page.locator(".visit-card header p").inner_text()
        begins, ends = clocks(head)
        took = head.rpartition(", ")[2]
        hours, minutes = re.fullmatch(r"(?:(\d+) h ?)?(?:(\d+) min)?", took).groups("0")
        self.assertEqual(ends - begins, int(hours) * 60 + int(minutes))
        self.assertGreater(ends - begins, 60)
        self.assertLess(int(minutes), 60)
        self.assertIn(f", {took}.", page.locator(".plan-cost b").inner_text())
        times = [clocks(text) for text in page.locator(".stop-time").all_inner_texts()]
        told = [int(re.findall(r"(\d+) min", text)[0]) for text in page.locator(".stop-name small").all_inner_texts()]
        self.assertEqual([end - begin for begin, end in times], told)
        self.assertEqual(times[-1][1], ends)
        dark = [clocks(text) for text in page.locator(".dark .figure").all_inner_texts()]
        self.assertEqual((dark[0][0], dark[-1][1]), (begins, ends))
        self.assertEqual(len(dark), 2)

    @tag("whole")
    def test_a_plan_that_lost_a_loop_says_so_until_it_is_planned_again(self) -> None:
        """Nothing that was reckoned with that loop is told of what is left, by hand or not."""
        page = self.planned()
        Loop.objects.filter(name="Grain loft").update(archived_at=timezone.now())
        page.reload()
        cost = page.locator(".plan-cost")
        expect(cost).to_contain_text("A loop has gone out since it was planned")
        expect(cost).not_to_contain_text("proved")
        expect(page.get_by_role("region", name="In no visit")).to_contain_text("Grain loft")
        page.get_by_role("button", name="Plan again").click()
        expect(cost).to_contain_text("Nothing better is possible")

    @tag("whole")
    def test_what_is_asked_wrongly_is_told_and_nothing_is_lost(self) -> None:
        """Negative minutes, letters, hours out of order: said where it is; what was typed stays."""
        page = self.planned()
        page.get_by_role("tab", name="What it asks").click()
        self.typed(page.get_by_label("Minutes at Sack hoist"), "-5")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Sack hoist:")
        expect(page.get_by_label("Minutes at Sack hoist")).to_have_value("-5")
        self.typed(page.get_by_label("Minutes at Sack hoist"), "soon")
        expect(page.get_by_role("button", name="Keep", exact=True)).to_be_disabled()
        self.typed(page.get_by_label("Minutes at Sack hoist"), "500")
        page.get_by_role("button", name="Keep", exact=True).click()
        page.get_by_role("button", name="Plan again").click()
        expect(page.get_by_role("region", name="In no visit")).to_contain_text("Sack hoist It takes longer than a day")

    @tag("whole")
    def test_what_is_typed_outlives_a_reload_and_a_colleague(self) -> None:
        """Not kept yet, reloaded, still there; kept over somebody else's change only when that was seen and meant."""
        page = self.planned()
        page.get_by_role("tab", name="What it asks").click()
        self.typed(page.get_by_label("Minutes at Sack hoist"), "55")
        page.reload()
        expect(page.get_by_label("Minutes at Sack hoist")).to_have_value("55")
        other = self.another("tam")
        other.goto(page.url)
        self.typed(other.get_by_label("Name of the plan"), "Tam's day")
        other.get_by_role("button", name="Keep", exact=True).click()
        expect(other.locator(".stop-name").first).to_be_visible()
        page.reload()
        page.get_by_role("button", name="Keep", exact=True).click()
        alert = page.get_by_role("alert")
        expect(alert).to_be_visible()
        expect(page.get_by_label("Minutes at Sack hoist")).to_have_value("55")
        self.assertEqual(Plan.objects.get().name, "Tam's day")
        alert.get_by_role("button", name="Keep mine").click()
        expect(page.locator(".stop-name").first).to_be_visible()
        self.assertEqual(Plan.objects.get().jobs.get(loop__name="Sack hoist").minutes, 55)

    @tag("whole")
    def test_what_tasks_take_is_the_administrators_to_say(self) -> None:
        """Typed by one, read by the other: every estimate follows; a range out of order is refused and stays typed."""
        page = self.planned()
        before = page.locator(".plan-cost b").inner_text()
        boss = self.another("fenna")
        boss.goto(page.url)
        boss.get_by_role("tab", name="What tasks take").click()
        self.typed(boss.get_by_label("Typical minutes: fit the control"), "99")
        boss.get_by_role("button", name="Keep: fit the control").click()
        expect(boss.get_by_role("alert")).to_be_visible()
        expect(boss.get_by_label("Typical minutes: fit the control")).to_have_value("99")
        self.typed(boss.get_by_label("High minutes: fit the control"), "120")
        boss.get_by_role("button", name="Keep: fit the control").click()
        expect(boss.get_by_text("set by Fenna Brook")).to_be_visible()
        page.get_by_role("tab", name="What tasks take").click()
        expect(page.get_by_label("Typical minutes: fit the control")).to_have_count(0)
        page.reload()
        page.get_by_role("tab", name="Days").click()
        expect(page.locator(".plan-cost b")).not_to_have_text(before)

    @tag("whole")
    def test_two_people_at_one_plan_and_one_van(self) -> None:
        """The later change is refused and told; what the van holds is typed, and need not be bought."""
        page = self.planned()
        other = self.another("tam")
        other.goto(page.url)
        expect(other.locator(".stop-name").first).to_be_visible()
        page.get_by_role("button", name=re.compile(": later$")).first.click()
        expect(page.locator(".plan-cost")).to_contain_text(re.compile("By hand|Beside the computed plan"))
        other.get_by_role("button", name=re.compile(": later$")).first.click()
        expect(other.get_by_role("alert")).to_be_visible()
        self.assertEqual(Plan.objects.get().version, 3)
        page.get_by_role("tab", name="Take along").click()
        field = page.get_by_label(re.compile("In the van: .*Ceiling module M1"))
        row = page.get_by_role("row").filter(has=field)
        expect(row.get_by_role("cell").nth(3)).to_contain_text("1")
        self.typed(field, "1")
        expect(row.get_by_role("cell").nth(3)).to_contain_text("0")
        self.assertEqual(VanItem.objects.get().count, 1.0)
        page.reload()
        expect(page.get_by_label(re.compile("In the van: .*Ceiling module M1"))).to_have_value("1")

    @tag("whole")
    def test_a_count_that_did_not_arrive_is_not_lost(self) -> None:
        """The server away, a reload, a colleague who was first, no number: each is told, and what was typed stands."""
        page, other = self.planned(), self.another("tam")
        named = re.compile("In the van: .*Ceiling module M1")
        other.goto(page.url)
        for who in (page, other):
            who.get_by_role("tab", name="Take along").click()
        mine, theirs = page.get_by_label(named), other.get_by_label(named)
        expect(theirs).to_be_visible()
        page.route("**/api/v1/van/", lambda route: route.abort())
        self.typed(mine, "3")
        cell = page.get_by_role("cell").filter(has=mine)
        expect(cell).to_contain_text("Not kept yet; on record: 0.")
        page.unroute("**/api/v1/van/")
        page.reload()
        expect(mine).to_have_value("3")
        self.assertEqual(VanItem.objects.count(), 0)
        with page.expect_response("**/api/v1/van/"):
            cell.get_by_role("button", name="Keep").click()
        expect(cell).not_to_contain_text("Not kept yet")
        self.assertEqual(VanItem.objects.get().count, 3.0)
        self.typed(theirs, "5")
        told = other.get_by_role("cell").filter(has=theirs)
        expect(told).to_contain_text("Not kept yet; on record: 3.")
        expect(theirs).to_have_value("5")
        asked = re.compile(r"/materials/(\?|$)")
        with other.expect_response(asked), other.expect_response("**/api/v1/van/"):
            told.get_by_role("button", name="Keep").click()
        expect(told).not_to_contain_text("Not kept yet")
        self.assertEqual(VanItem.objects.get().count, 5.0)
        # While what the van holds now is asked for anew, somebody types on.
        held: list[Route] = []
        other.route(asked, lambda route: held.append(route))
        with other.expect_request(asked), other.expect_response("**/api/v1/van/"):
            self.typed(theirs, "6")
        theirs.press_sequentially("a")
        self.assertEqual(len(held), 1)
        with other.expect_response(asked):
            held[0].continue_()
        other.unroute(asked)
        theirs.press("Tab")
        expect(told.get_by_role("alert")).to_have_text("Write a number")
        self.assertEqual(VanItem.objects.get().count, 6.0)
        with other.expect_response("**/api/v1/van/"):
            self.typed(theirs, "5")
        expect(told.get_by_role("alert")).to_have_count(0)
        self.assertEqual(VanItem.objects.get().count, 5.0)

    @tag("whole")
    def test_counts_typed_faster_than_they_arrive_are_nobody_elses(self) -> None:
        """The page shows a version between one's own: what is typed then is no late write."""
        page = self.planned()
        page.get_by_role("tab", name="Take along").click()
        field = page.get_by_label(re.compile("In the van: .*Ceiling module M1"))
        expect(field).to_be_visible()
        sent: list[Route] = []
        page.route("**/api/v1/van/", lambda route: sent.append(route) if len(sent) < 2 else route.continue_())
        with page.expect_request("**/api/v1/van/"):
            self.typed(field, "6")
        self.typed(field, "7")
        asked = re.compile(r"/materials/(\?|$)")
        with page.expect_response(asked), page.expect_request("**/api/v1/van/"):
            sent[0].continue_()
        row = page.get_by_role("row").filter(has=field)
        expect(row.get_by_role("cell").nth(3)).to_contain_text("0")
        self.typed(field, "8")
        with page.expect_response(lambda answer: (answer.request.post_data_json or {}).get("count") == 8) as last:
            sent[1].continue_()
        self.assertEqual(last.value.status, 200)
        self.assertEqual(VanItem.objects.get().count, 8.0)
        expect(page.get_by_role("cell").filter(has=field)).not_to_contain_text("Not kept yet")
