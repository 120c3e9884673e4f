"""Writes of two people that meet: each on a connection of its own, as two requests are."""

from __future__ import annotations

import threading
import uuid
from collections.abc import Callable
from contextlib import suppress
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.db import connection
from django.test import TransactionTestCase
from rest_framework.test import APIClient

from accounts.models import Role, User
from bench.services import keep_gang as keeping
from bench.services.make_loop import add_gang, make_loop
from ember_core.survey.isolation import Scope
from loops.models import Gang, Loop
from sites.models import Site
from survey.api.archive import GangArchiveView, LoopArchiveView
from survey.models import Isolation
from survey.services import isolating
from tests.server.base import draft
from tests.unhurried import unhurried

# Whoever is let through alone waits for nobody longer than this.
MEET_S = 2.0


def at_once(*works: Callable[[], object]) -> list[BaseException]:
    """Each in a thread; what went wrong in any."""
    wrongs: list[BaseException] = []

    def run(work: Callable[[], object]) -> None:
        try:
            work()
        except BaseException as wrong:
            wrongs.append(wrong)
        finally:
            connection.close()

    threads = [threading.Thread(target=run, args=(work,)) for work in works]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60.0)
    return wrongs


class Meeting(TransactionTestCase):
    """On one loop."""

    available_apps = [app.name for app in apps.get_app_configs()]

    def setUp(self) -> None:
        self.enterContext(unhurried())
        site = Site.objects.create(name="Kestrel Mill", region="eu", v_rms=230.0, f_hz=50.0)
        self.loop: Loop = make_loop(None, site=site, circuit=None, name="Kiln room")

    def keep(self, gang: Gang) -> Gang:
        """What is dark and fed."""
        return keeping.keep_gang(None, gang.pk, 1, {**draft(), "name": f"gang {gang.position}"})

    def test_two_gangs_kept_at_once_leave_the_loop_with_the_verdict_of_both(self) -> None:
        """Neither tells the loop's state from what the other has not written yet."""
        gangs = [self.loop.gangs.get(), add_gang(None, self.loop.pk)]  # type: ignore[arg-type]
        both = threading.Barrier(2)
        replace = keeping._replace_fits

        def met(*given: Any) -> None:
            replace(*given)
            with suppress(threading.BrokenBarrierError):
                both.wait(MEET_S)

        with patch.object(keeping, "_replace_fits", met):
            self.assertEqual(at_once(*[lambda gang=gang: self.keep(gang) for gang in gangs]), [])
        verdicts = set(Gang.objects.values_list("verdict", flat=True))
        self.assertEqual(verdicts, {"dark"})
        self.assertEqual(Loop.objects.get().verdict, "dark")

    def test_a_way_chosen_while_a_gang_is_kept_stays(self) -> None:
        """What is kept of the loop is only what was worked out."""
        gang = self.loop.gangs.get()
        kept, chosen = threading.Event(), threading.Event()
        replace = keeping._replace_fits

        def slowly(*given: Any) -> None:
            replace(*given)
            kept.set()
            chosen.wait(MEET_S)

        def choose() -> None:
            kept.wait(60.0)
            Loop.objects.filter(pk=self.loop.pk).update(chosen={"way": "control", "control": "", "label": "switch"})
            chosen.set()

        with patch.object(keeping, "_replace_fits", slowly):
            self.assertEqual(at_once(lambda: self.keep(gang), choose), [])
        self.assertEqual(Loop.objects.get().chosen["way"], "control")

    def test_two_gangs_archived_at_once_leave_one(self) -> None:
        """The second is told that it is the last; a loop without a gang cannot be judged."""
        add_gang(None, self.loop.pk)  # type: ignore[arg-type]
        who = User.objects.create(username="tam", role=Role.TECHNICIAN, keeps_sites=True)
        self.loop.site.members.add(who)
        met = threading.Barrier(2)
        check = GangArchiveView.check
        answers: list[int] = []

        def together(view: GangArchiveView, row: Gang) -> None:
            check(view, row)
            with suppress(threading.BrokenBarrierError):
                met.wait(MEET_S)

        def archive(gang: Gang) -> None:
            browser = APIClient()
            browser.force_login(who)
            told = browser.post(f"/api/v1/gangs/{gang.pk}/archive/", {"reason": "wrong gang"}, format="json")
            answers.append(told.status_code)

        with patch.object(GangArchiveView, "check", together):
            self.assertEqual(at_once(*[lambda gang=gang: archive(gang) for gang in Gang.objects.all()]), [])
        self.assertEqual(sorted(answers), [200, 409])
        self.assertEqual(Gang.objects.count(), 1)

    def test_no_lock_goes_on_for_a_loop_that_is_archived_in_that_moment(self) -> None:
        """Whoever comes second is told: the loop is gone, or it is locked off."""
        who = User.objects.create(username="tam", role=Role.TECHNICIAN, keeps_sites=True)
        self.loop.site.members.add(who)
        looked, archived = threading.Event(), threading.Event()
        check = LoopArchiveView.check
        wrong: list[type[BaseException]] = []

        def slowly(view: LoopArchiveView, row: Loop) -> None:
            check(view, row)
            looked.set()
            archived.wait(MEET_S / 2)

        def archive() -> None:
            browser = APIClient()
            browser.force_login(who)
            browser.post(f"/api/v1/loops/{self.loop.pk}/archive/", {"reason": "wrong loop"}, format="json")

        def isolate() -> None:
            looked.wait(60.0)
            try:
                isolating.open_new(who, self.loop.pk, uuid.uuid4(), Scope.WHOLE, [])
            except Loop.DoesNotExist as gone:
                wrong.append(type(gone))

        with patch.object(LoopArchiveView, "check", slowly):
            self.assertEqual(at_once(archive, isolate), [])
        self.assertEqual((Loop.objects.count(), Isolation.objects.count(), wrong), (0, 0, [Loop.DoesNotExist]))
