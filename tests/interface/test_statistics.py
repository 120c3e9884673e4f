"""The record of all loops as pictures, each number opening its loops."""

from __future__ import annotations

from playwright.sync_api import expect

from accounts.models import User
from ember_core.routes.comparing import compare
from handover.services.statistics import statistics_of
from loops.models import Loop
from tests.interface.base import InterfaceTest
from work.models import TaskRecord
from work.services.choosing import choose_way, judged_choice
from work.services.finding import load


class Statistics(InterfaceTest):
    """By whoever runs the firm."""

    def record(self) -> None:
        """Minutes of two tasks at one loop."""
        who = User.objects.get(username="wren")
        loop = Loop.objects.select_related("site", "circuit").get(name="Kiln room", site__name="Kestrel Mill")
        loaded = load(loop)
        wanted = compare(loaded.ask).favoured
        assert wanted is not None
        choice = choose_way(
            who, loop.pk, "9a1d3d52-0a0f-4f7e-8a4b-3f1c52f4ae01", 0, "", judged_choice(loaded, wanted, None)
        )
        for task, minutes, count in (("fit", 66.0, 2), ("prove", 9.0, 1)):
            TaskRecord.objects.create(loop=loop, choice=choice, task=task, minutes=minutes, count=count)

    def test_every_number_is_that_of_its_loops(self) -> None:
        """From the board to the statistics; each stage opens as many loops as it says; minutes against the plan."""
        self.record()
        page = self.sign_in("odell")
        page.get_by_role("link", name="Handing over").click()
        page.get_by_role("link", name="Statistics of the firm").click()
        stages = page.get_by_role("region", name="Where the loops stand")
        judged = stages.get_by_role("button", name="judged")
        count = Loop.objects.filter(stage="judged").count()
        self.assertGreater(count, 1)
        expect(judged).to_have_text(str(count))
        judged.click()
        behind = page.get_by_role("status", name="judged")
        expect(behind.get_by_role("listitem")).to_have_count(count)
        behind.get_by_role("button", name="Close").click()
        minutes = page.get_by_role("region", name="Minutes by task")
        fit = minutes.get_by_role("row").filter(has_text="33 min")
        expect(fit).to_contain_text("8 to 25 min")
        expect(fit).to_contain_text("outside the plan")
        expect(minutes.get_by_role("row").filter(has_text="9 min")).not_to_contain_text("outside the plan")
        page.get_by_label("Site", exact=True).select_option(label="Larkspur Cannery")
        expect(minutes.get_by_text("Nothing is on record of this yet.")).to_be_visible()
        parts = page.get_by_role("region", name="Lamps and controls that make trouble")
        wanted = statistics_of(User.objects.get(username="odell"), Loop.objects.filter(site__region="na")[0].site_id)
        expect(parts.get_by_role("row")).to_have_count(len(wanted["parts"]))
        parts.get_by_role("row").first.get_by_role("button").click()
        name = wanted["parts"][0]["loops"][0]["name"]
        page.get_by_role("link", name=f"Larkspur Cannery, {name}").click()
        expect(page.get_by_role("heading", name=name)).to_be_visible()
