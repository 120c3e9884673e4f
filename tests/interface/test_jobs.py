"""Long work as people meet it: it goes on without the page, shows on every device of whoever asked, and is stopped."""

from __future__ import annotations

import threading
from typing import Any
from unittest.mock import patch

from django.test import tag
from playwright.sync_api import Route, expect

from jobs.models import Job
from jobs.services import working
from loops.models import Gang, Loop
from sites.models import Site
from tests.interface.base import InterfaceTest

# All gangs of a site judged one after the other, on a machine that does other things too.
SLOW = 120_000


@tag("whole")
class JudgedAgain(InterfaceTest):
    """Another supply at the mill: every verdict there is out of date."""

    def setUp(self) -> None:
        super().setUp()
        site = Site.objects.get(name="Kestrel Mill")
        Site.objects.filter(pk=site.pk).update(v_rms=232.0, version=site.version + 1)
        self.count = Gang.objects.filter(loop__site=site).exclude(judged_on={}).count()
        self.assertGreater(self.count, 3)
        # Each gang waits until the test lets it go.
        self.let_go = threading.Semaphore(0)
        turn = working._turn

        def slow(job: Job, gang: Any) -> Any:
            if not self.let_go.acquire(timeout=60.0):
                raise AssertionError("nobody let it go")
            return turn(job, gang)

        waiting = patch.object(working, "_turn", slow)
        waiting.start()
        self.addCleanup(waiting.stop)
        self.do_jobs()
        # A test that fails leaves no thread that waits.
        self.addCleanup(self.let_go.release, 200)

    def test_it_goes_on_when_the_page_is_left_and_is_there_after_a_reload(self) -> None:
        """Pressed, two done, the page gone and opened again: where it is, to the end; then nothing is out of date."""
        page = self.sign_in()
        notice = page.locator(".notice.outdated")
        expect(notice).to_contain_text("Judged before the site's supply or region changed")
        expect(page.get_by_text("out of date:").first).to_be_visible()
        notice.get_by_role("button", name="Judge all again").click()
        expect(notice.locator(".progress-line")).to_contain_text(f"0 / {self.count}")
        expect(notice.get_by_role("button", name="Judge all again")).to_have_count(0)
        self.let_go.release(2)
        expect(notice.locator(".progress-line")).to_contain_text(f"2 / {self.count}")
        expect(notice).to_contain_text(f"{self.count - 2} verdicts were judged on something that has changed since.")
        page.goto("about:blank")
        self.let_go.release(1)
        page.goto(self.live_server_url)
        expect(notice.locator(".progress-line")).to_contain_text(f"3 / {self.count}")
        self.let_go.release(self.count)
        expect(notice).to_have_count(0, timeout=SLOW)
        expect(page.get_by_text("out of date:")).to_have_count(0)
        self.assertEqual(Job.objects.get().changed, self.count)

    def test_an_answer_that_is_lost_on_the_way_loses_no_work_and_doubles_none(self) -> None:
        """The press arrives, its answer does not: said at first; pressed again, the one work is shown and no error."""
        page = self.sign_in()
        notice = page.locator(".notice.outdated")

        def lost(route: Route) -> None:
            if route.request.method == "POST":
                route.fetch()
            route.abort()

        page.route("**/api/v1/jobs/", lost)
        notice.get_by_role("button", name="Judge all again").click()
        expect(notice.get_by_role("alert")).to_be_visible()
        page.unroute("**/api/v1/jobs/")
        # Nobody has told this page of the work that it asked for.
        again = notice.get_by_role("button", name="Judge all again")
        if again.is_visible():
            again.click()
        expect(notice.locator(".progress-line")).to_contain_text(f"0 / {self.count}")
        expect(notice.get_by_role("alert")).to_have_count(0)
        self.assertEqual(Job.objects.count(), 1)
        self.let_go.release(self.count)
        expect(notice).to_have_count(0, timeout=SLOW)
        self.assertEqual(Job.objects.get().changed, self.count)

    def test_another_device_of_the_same_person_stops_it(self) -> None:
        """It ends after the gang that it is at; what is left is said on both, and the colleague saw nothing of it."""
        page, tablet, other = self.sign_in(), self.another("wren"), self.another("tam")
        page.locator(".notice.outdated").get_by_role("button", name="Judge all again").click()
        expect(page.locator(".progress-line")).to_be_visible()
        tablet.reload()
        tablet.locator(".progress-line").get_by_role("button", name="Stop").click()
        expect(tablet.locator(".notice.outdated")).to_contain_text("It stops after the gang that it is at.")
        self.let_go.release(1)
        left = f"Stopped after 1 of {self.count}; what was done stays."
        for one in (page, tablet):
            expect(one.locator(".notice.outdated")).to_contain_text(left)
            expect(one.locator(".progress-line")).to_have_count(0)
        expect(other.get_by_role("button", name="Judge all again")).to_be_visible()
        expect(other.locator(".progress-line")).to_have_count(0)

    def test_one_that_cannot_be_judged_is_named(self) -> None:
        """Its figures became impossible in the database; the others are judged, and it is said why."""
        loop = Loop.objects.filter(site__name="Kestrel Mill", gangs__judged_on__has_key="core").first()
        assert loop is not None
        lamp = loop.gangs.get(position=1).lamps.first()
        assert lamp is not None
        lamp.figures = {**lamp.figures, "count": 0}
        lamp.save()
        page = self.sign_in()
        page.locator(".notice.outdated").get_by_role("button", name="Judge all again").click()
        self.let_go.release(self.count)
        wrong = page.locator(".notice.outdated").get_by_role("alert")
        impossible = f"{loop.name}, gang 1: number of equal lamps: 0 is outside 1 to 200. Check"
        expect(wrong).to_contain_text(impossible, timeout=SLOW)
        expect(page.locator(".notice.outdated")).to_contain_text("One verdict was judged on something")
