"""Writes of two people that meet: each on a connection of its own, as two requests are."""

from __future__ import annotations

import threading
import uuid
from collections.abc import Callable
from contextlib import suppress
from datetime import date
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
from survey.models import Isolation, StepMark, Survey, TakenReading
from survey.services import isolating, marking, recording
from tests.server.base import draft
from tests.server.test_survey import ONE_WAY
from tests.unhurried import unhurried
from visits.models import Plan
from visits.services import planning

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

    def test_a_plan_sent_twice_in_one_moment_is_one(self) -> None:
        """The second finds what the first has kept."""
        who = User.objects.create(username="tam", role=Role.TECHNICIAN, keeps_sites=True)
        self.loop.site.members.add(who)
        minutes = {"begins_min": 480, "visit_minutes": 480, "isolate_minutes": 5, "walk_minutes": 5}
        people = [{"id": who.pk, "skills": []}]
        given = {"name": "Stair", "first_day": date(2026, 3, 2), "people": people, "windows": [], "jobs": [], **minutes}
        met, key, check = threading.Barrier(2), uuid.uuid4(), planning._check

        def together(*asked: Any) -> None:
            check(*asked)
            with suppress(threading.BrokenBarrierError):
                met.wait(MEET_S)

        def send() -> None:
            planning.save(who, self.loop.site, None, 0, given, key)

        with patch.object(planning, "_check", together):
            self.assertEqual(at_once(send, send), [])
        self.assertEqual(Plan.objects.get().pk, key)

    def test_no_lock_goes_on_for_a_loop_that_is_archived_in_that_moment(self) -> None:
        """Whoever comes second is told: the loop is gone, or it is locked off."""
        who = User.objects.create(username="tam", role=Role.TECHNICIAN, keeps_sites=True)
        self.loop.site.members.add(who)
        looked, isolated = threading.Event(), threading.Event()
        check = LoopArchiveView.check
        wrong: list[type[BaseException]] = []

        def slowly(view: LoopArchiveView, row: Loop) -> None:
            check(view, row)
            looked.set()
            isolated.wait(MEET_S)

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
            isolated.set()

        with patch.object(LoopArchiveView, "check", slowly):
            self.assertEqual(at_once(archive, isolate), [])
        self.assertEqual((Loop.objects.count(), Isolation.objects.count(), wrong), (0, 0, [Loop.DoesNotExist]))

    def test_nobody_takes_the_last_lock_off_while_a_step_is_marked_under_it(self) -> None:
        """Whoever takes it off sees the step; else power could come back to ends that are loose by then."""
        who = User.objects.create(username="tam", role=Role.TECHNICIAN, keeps_sites=True)
        isolation = isolating.open_new(who, self.loop.pk, uuid.uuid4(), Scope.WHOLE, [])
        lock = isolating.put_lock(who, isolation.pk, uuid.uuid4(), self.loop.pk)
        looked, off = threading.Event(), threading.Event()
        passed = marking._passed
        marks: list[int] = []

        def slowly(*given: Any) -> list[str]:
            over = passed(*given)
            looked.set()
            off.wait(MEET_S)
            return over

        def mark() -> None:
            given = {"id": uuid.uuid4(), "place": 1, "step": "open", "is_done": True, "override_reason": ""}
            marking.mark_step(who, self.loop.pk, given)

        def take_off() -> None:
            looked.wait(60.0)
            isolating.take_lock_off(who, lock.pk, "")
            off.set()
            marks.append(StepMark.objects.count())

        with patch.object(marking, "_passed", slowly):
            self.assertEqual(at_once(mark, take_off), [])
        self.assertEqual(marks, [1])

    def test_of_two_readings_struck_at_once_neither_counts(self) -> None:
        """Whether the box is known is told by what is left of both."""
        who = User.objects.create(username="tam", role=Role.TECHNICIAN, keeps_sites=True)
        browser = APIClient()
        browser.force_login(who)
        self.loop.site.members.add(who)
        box = {"version": 0, "enquiry": {}, "box": ONE_WAY}
        self.assertEqual(browser.put(f"/api/v1/loops/{self.loop.pk}/survey/", box, format="json").status_code, 200)

        def read(conductor: str, v: float, switch: str) -> Any:
            key, switches = str(uuid.uuid4()), {"1": switch}
            body = {"id": key, "a": conductor, "b": "known_earth", "v": v, "meter_r_ohm": 4e5, "switches": switches}
            answer = browser.post(f"/api/v1/loops/{self.loop.pk}/readings/", body, format="json")
            self.assertEqual(answer.status_code, 201, answer.content)
            return key

        read("c1", 0.6, "off")
        read("c1", 230.0, "on")
        twice = [read("c2", 231.0, "off") for _ in range(2)]
        self.assertTrue(Survey.objects.get().is_known)
        both = threading.Barrier(2)
        strike = recording.strike

        def met(*given: Any) -> Any:
            struck = strike(*given)
            with suppress(threading.BrokenBarrierError):
                both.wait(MEET_S)
            return struck

        with patch.object(recording, "strike", met):
            works = [lambda key=key: recording.strike_reading(who, key, "wrong core") for key in twice]
            self.assertEqual(at_once(*works), [])
        self.assertFalse(TakenReading.objects.filter(pk__in=twice, struck_reason="").exists())
        self.assertFalse(Survey.objects.get().is_known)
