"""Long work over many gangs: asked for once, done beside the requests, stopped, cut off, taken up again."""

from __future__ import annotations

import threading
import time
import uuid
from collections.abc import Callable
from datetime import timedelta
from typing import Any
from unittest.mock import patch

import MySQLdb
from django.db import OperationalError, connection
from django.test import TransactionTestCase, tag
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from accounts.models import Role, User
from audit.models import Change
from bench.services import keep_gang as keeping
from bench.services.make_loop import make_loop
from common.locking import is_held, named
from common.problems import Problem
from demo import shelf
from jobs.models import Job, State
from jobs.services import worker, working
from loops.models import Gang, Loop
from parts.models import Part
from parts.services.entries import make_part
from sites.models import Site
from tests.server.base import ServerTest, do_jobs, draft, fit

Json = dict[str, Any]
ADDRESS = "/api/v1/jobs/"


class Killed(BaseException):
    """The process ends in the middle."""


class JobTest(ServerTest):
    """A lamp of the shelf in four gangs of one mill, and newer figures of it."""

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        made = cls()
        made.setUp()
        lamp = next(entry for entry in shelf.entries() if entry.category == "lamp" and entry.kind == "rectifier")
        cls.part: Part = make_part(None, lamp)
        item = {**fit({**cls.part.figures, "count": 2}), "part": str(cls.part.pk)}
        cls.gangs = [cls.gang]
        cls.gangs += [make_loop(None, site=cls.site, circuit=None, name=f"Bay {n}").gangs.get() for n in range(3)]
        for gang in cls.gangs:
            sent = {"version": 1, **draft(lamps=[item])}
            made.assertEqual(made.api.put(f"/api/v1/gangs/{gang.pk}/", sent, format="json").status_code, 200)
        stop_v = cls.part.figures["v_stop_v"]["typical"]
        claim = {"field": "v_start_v", "low": stop_v + 9, "typical": stop_v + 10, "high": stop_v + 11}
        sent = {"version": cls.part.version, **claim, "source": "measured", "where": "bench"}
        answer = made.api.post(f"/api/v1/parts/{cls.part.pk}/claims/", sent, format="json")
        made.assertEqual(answer.status_code, 201, answer.content)

    def counts(self) -> tuple[int, int]:
        """Gangs that hold the part, and those with older figures."""
        shown = self.api.get(f"/api/v1/parts/{self.part.pk}/").json()
        return shown["use_count"], shown["older_count"]

    def ask(self, kind: str = "serve", **more: Any) -> Any:
        """Ask for a job."""
        part = str(self.part.pk) if kind == "serve" else None
        return self.api.post(ADDRESS, {"id": str(uuid.uuid4()), "kind": kind, "part": part, **more}, format="json")

    def asked(self, kind: str = "serve") -> str:
        """Its key."""
        answer = self.ask(kind)
        self.assertEqual(answer.status_code, 201, answer.content)
        return str(answer.json()["id"])

    def shown(self, key: str) -> Json:
        """As its list shows it."""
        return dict(next(row for row in self.api.get(ADDRESS).json() if row["id"] == key))


class Done(JobTest):
    """To the end."""

    def test_it_is_asked_for_at_once_and_done_beside(self) -> None:
        """The answer comes before any gang is touched; done, all four have the figures, each a version later."""
        self.assertEqual(self.counts(), (4, 4))
        key = self.asked()
        self.assertEqual((self.shown(key)["state"], self.counts()), ("waiting", (4, 4)))
        do_jobs()
        job = self.shown(key)
        self.assertEqual((job["state"], job["done"], job["of"], job["changed"], job["refused"]), ("done", 4, 4, 4, []))
        self.assertIsNotNone(job["ended_at"])
        self.assertEqual(self.counts(), (4, 0))
        self.assertEqual({gang.version for gang in Gang.objects.filter(pk__in=[g.pk for g in self.gangs])}, {3})

    def test_what_is_out_of_date_is_judged_again(self) -> None:
        """After another supply of the site every one is named until then, and afterwards none."""
        version = self.api.get(f"/api/v1/sites/{self.site.pk}/").json()["version"]
        change = {"version": version, "v_rms": 240.0}
        self.api.patch(f"/api/v1/sites/{self.site.pk}/", change, format="json")
        self.assertEqual(len(self.api.get("/api/v1/outdated/").json()), 4)
        key = self.asked("again")
        do_jobs()
        self.assertEqual((self.shown(key)["state"], self.shown(key)["changed"]), ("done", 4))
        self.assertEqual(self.api.get("/api/v1/outdated/").json(), [])
        self.assertEqual(Change.objects.filter(action="kept", who=self.people[Role.TECHNICIAN]).count(), 8)

    def test_one_that_somebody_judged_meanwhile_is_left_as_it_is(self) -> None:
        """Between the list and its turn: looked at, not changed again."""
        key = self.asked("again")
        turn = working._turn

        def after_other(job: Job, gang: Any) -> Any:
            if gang == self.gangs[2].pk:
                self.assertEqual(self.api.post(f"/api/v1/gangs/{gang}/judge-again/").status_code, 200)
            return turn(job, gang)

        with patch.object(working, "_turn", after_other):
            do_jobs()
        self.assertEqual((self.shown(key)["done"], self.shown(key)["changed"]), (4, 3))
        self.assertEqual(Gang.objects.get(pk=self.gangs[2].pk).version, 3)

    def test_two_people_who_ask_for_the_same_get_in_nobody_s_way(self) -> None:
        """A colleague's job takes each gang just before this one keeps it: nothing is refused, nothing done twice."""
        keep, colleague = keeping.keep_gang, self.people[Role.ADMINISTRATOR]
        gangs = Gang.objects.filter(pk__in=[gang.pk for gang in self.gangs])

        def just_before(who: Any, pk: Any, version: int, given: Any) -> Any:
            if who != colleague:
                keep(colleague, pk, version, given)
            return keep(who, pk, version, given)

        for kind, version in (("serve", 3), ("again", 4)):
            if kind == "again":
                Site.objects.filter(pk=self.site.pk).update(v_rms=233.0)
            key = self.asked(kind)
            with patch("bench.services.serving.keep_gang", just_before):
                do_jobs()
            job = self.shown(key)
            self.assertEqual((job["done"], job["of"], job["changed"], job["refused"]), (4, 4, 0, []))
            self.assertEqual(set(gangs.values_list("version", flat=True)), {version})
        self.assertEqual((self.counts(), self.api.get("/api/v1/outdated/").json()), ((4, 0), []))

    def test_one_that_cannot_be_kept_holds_up_nobody(self) -> None:
        """It is named in the words of who reads it, and asked for again only that one is left."""
        keep = keeping.keep_gang

        def refusing(who: Any, pk: Any, version: int, given: Any) -> Any:
            if pk == self.gangs[1].pk:
                raise Problem(422, "unknown_part", path="lamps[0].part")
            return keep(who, pk, version, given)

        key = self.asked()
        with patch("bench.services.serving.keep_gang", refusing):
            do_jobs()
        job = self.shown(key)
        self.assertEqual((job["state"], job["changed"], self.counts()), ("done", 3, (4, 1)))
        (refused,) = job["refused"]
        self.assertEqual((refused["loop_name"], refused["position"], refused["code"]), ("Bay 0", 1, "unknown_part"))
        german = self.api.get(ADDRESS, HTTP_ACCEPT_LANGUAGE="de").json()[0]["refused"][0]["text"]
        self.assertNotEqual(german, refused["text"])
        self.asked()
        do_jobs()
        self.assertEqual(self.counts(), (4, 0))

    def test_one_that_finds_no_turn_to_compute_is_tried_again(self) -> None:
        """Others compute for a while: nobody is refused for that."""
        keep, full = keeping.keep_gang, [Problem(503, "too_busy")] * 2

        def waiting(*given: Any) -> Any:
            if full:
                raise full.pop()
            return keep(*given)

        key = self.asked()
        with patch("bench.services.serving.keep_gang", waiting), patch("bench.services.serving.WAIT_S", 0.0):
            do_jobs()
        self.assertEqual((self.shown(key)["changed"], self.shown(key)["refused"], full), (4, [], []))


class Asked(JobTest):
    """Who may ask, what twice, and what is nobody else's."""

    def test_the_same_entry_twice_is_one_and_another_content_is_refused(self) -> None:
        """An answer that was lost on the way is asked for again."""
        key = str(uuid.uuid4())
        self.assertEqual(self.ask(id=key).status_code, 201)
        self.assertEqual(self.ask(id=key).status_code, 201)
        self.assertEqual((Job.objects.count(), DBTaskResult.objects.count()), (1, 1))
        other = self.ask("again", id=key)
        self.assertEqual((other.status_code, other.json()["code"]), (409, "entry_differs"))

    def test_the_same_work_is_not_asked_for_beside_itself(self) -> None:
        """While it is under way; another work may be, and afterwards it may again."""
        self.asked()
        self.assertEqual((self.ask().status_code, self.ask().json()["code"]), (409, "job_runs"))
        self.assertEqual(self.ask("again").status_code, 201)
        do_jobs()
        self.assertEqual(self.ask().status_code, 201)

    def test_bad_requests_are_told_and_nothing_is_asked_for(self) -> None:
        """No such kind, no such part, a part that is missing."""
        for sent, status, code in (
            ({"kind": "wash"}, 400, "invalid"),
            ({"kind": "serve", "part": None}, 422, "unknown_part"),
            ({"kind": "serve", "part": str(uuid.uuid4())}, 422, "unknown_part"),
        ):
            with self.subTest(sent):
                answer = self.ask(**sent)
                self.assertEqual((answer.status_code, answer.json()["code"]), (status, code), answer.content)
        self.assertEqual(Job.objects.count(), 0)

    def test_whoever_may_not_change_gangs_or_the_shelf_asks_for_nothing(self) -> None:
        """A checker neither; a technician who does not keep the shelf judges again and serves nothing."""
        self.assertEqual(self.clients[Role.CHECKER].post(ADDRESS, {"kind": "again"}).status_code, 403)
        User.objects.filter(pk=self.people[Role.TECHNICIAN].pk).update(keeps_shelf=False)
        self.assertEqual((self.ask().status_code, self.ask("again").status_code), (403, 201))

    def test_a_job_is_nobody_else_s(self) -> None:
        """Neither listed nor stopped by another, who does not learn that there is one."""
        key = self.asked()
        for role in (Role.ADMINISTRATOR, Role.CHECKER):
            self.assertEqual(self.clients[role].get(ADDRESS).json(), [])
        self.assertEqual(self.clients[Role.ADMINISTRATOR].post(f"{ADDRESS}{key}/stop/").status_code, 404)
        self.assertFalse(Job.objects.get().is_stop_asked)

    @tag("long")
    def test_only_what_the_person_sees_is_touched(self) -> None:
        """A gang of a site where one does not work stays as it is, and out of date."""
        loop = make_loop(None, site=self.other_site, circuit=None, name="Dock")
        item = {**fit({**self.part.figures, "v_start_v": 99.0, "count": 2}), "part": str(self.part.pk)}
        sent = {"version": 1, **draft(lamps=[item])}
        self.api.put(f"/api/v1/gangs/{loop.gangs.get().pk}/", sent, format="json")
        self.other_site.members.remove(self.people[Role.TECHNICIAN])
        key = self.asked()
        do_jobs()
        self.assertEqual(self.shown(key)["changed"], 4)
        self.assertEqual(loop.gangs.get().version, 2)

    def test_who_lost_the_right_meanwhile_changes_nothing_more(self) -> None:
        """The account was ended before the job's turn came."""
        key = self.asked()
        User.objects.filter(pk=self.people[Role.TECHNICIAN].pk).update(is_active=False)
        do_jobs()
        self.assertEqual((Job.objects.get(pk=key).state, Job.objects.get(pk=key).changed), (State.STOPPED, 0))

    def test_who_loses_the_right_in_the_middle_changes_nothing_after_it(self) -> None:
        """The account ends after the first gang: there it stops. Taken off the site: the rest stays as it is."""
        turn = working._turn
        people = User.objects.filter(pk=self.people[Role.TECHNICIAN].pk)

        def then(change: Callable[[], object]) -> Any:
            def changing(job: Job, gang: Any) -> Any:
                try:
                    return turn(job, gang)
                finally:
                    change()

            return patch.object(working, "_turn", changing)

        key = self.asked()
        with then(lambda: people.update(is_active=False)):
            do_jobs()
        self.assertEqual((Job.objects.get(pk=key).state, Job.objects.get(pk=key).changed), (State.STOPPED, 1))
        people.update(is_active=True)
        self.setUp()
        key = self.asked()
        with then(lambda: self.site.members.remove(self.people[Role.TECHNICIAN])):
            do_jobs()
        self.assertEqual((Job.objects.get(pk=key).state, Job.objects.get(pk=key).changed), (State.DONE, 1))


class CutOff(JobTest):
    """In the middle."""

    def cut(self, after: int, error: type[BaseException]) -> Any:
        """A turn that ends the process once so many gangs are done."""
        turn, left = working._turn, [after]

        def cutting(job: Job, gang: Any) -> Any:
            if left[0] == 0:
                raise error("secret")
            left[0] -= 1
            return turn(job, gang)

        return patch.object(working, "_turn", cutting)

    def said(self) -> Any:
        """The queue's log tells of it."""
        return self.assertLogs("django_tasks", "ERROR")

    def test_stopped_it_ends_after_the_gang_that_it_is_at(self) -> None:
        """What was done stays, and asked for anew it goes on with the rest."""
        key = self.asked()
        turn = working._turn

        def pressed(job: Job, gang: Any) -> Any:
            if job.done == 1:
                self.assertEqual(self.api.post(f"{ADDRESS}{key}/stop/").json()["is_stop_asked"], True)
            return turn(job, gang)

        with patch.object(working, "_turn", pressed):
            do_jobs()
        job = self.shown(key)
        self.assertEqual((job["state"], job["done"], job["of"], self.counts()), ("stopped", 2, 4, (4, 2)))
        key = self.asked()
        do_jobs()
        self.assertEqual((self.shown(key)["of"], self.counts()), (2, (4, 0)))

    def test_stopped_before_its_turn_it_touches_nothing(self) -> None:
        """And a stop after the end changes nothing."""
        key = self.asked()
        self.api.post(f"{ADDRESS}{key}/stop/")
        do_jobs()
        self.assertEqual((self.shown(key)["state"], self.counts()), ("stopped", (4, 4)))
        ended = self.shown(key)
        self.assertEqual(self.api.post(f"{ADDRESS}{key}/stop/").json(), ended)

    def test_a_killed_process_leaves_it_to_the_next(self) -> None:
        """Two of four done; the next worker goes on with the other two, and nothing is done twice."""
        key = self.asked()
        with self.cut(2, Killed), self.said():
            do_jobs()
        self.assertEqual((self.shown(key)["state"], self.shown(key)["done"], self.counts()), ("running", 2, (4, 2)))
        do_jobs()
        job = self.shown(key)
        self.assertEqual((job["state"], job["done"], job["of"], job["changed"]), ("done", 4, 4, 4))
        self.assertEqual({gang.version for gang in Gang.objects.filter(pk__in=[g.pk for g in self.gangs])}, {3})

    def test_a_database_that_goes_away_ends_nothing(self) -> None:
        """It is taken up again, as after a kill."""
        key = self.asked()
        with self.cut(1, OperationalError), self.said():
            do_jobs()
        self.assertEqual(self.shown(key)["state"], "running")
        do_jobs()
        self.assertEqual((self.shown(key)["state"], self.counts()), ("done", (4, 0)))

    def test_an_error_of_ours_at_one_gang_holds_up_nobody(self) -> None:
        """It is in the log, the gang is named, the others are done."""
        key = self.asked()
        turn = working._turn

        def failing(job: Job, gang: Any) -> Any:
            if gang == self.gangs[1].pk:
                raise RuntimeError("secret")
            return turn(job, gang)

        with patch.object(working, "_turn", failing), self.assertLogs("jobs.services.working", "ERROR"):
            do_jobs()
        job = self.shown(key)
        self.assertEqual((job["state"], job["changed"], self.counts()), ("done", 3, (4, 1)))
        self.assertEqual([one["code"] for one in job["refused"]], ["gang_failed"])
        self.assertNotIn("secret", str(job))

    def test_an_error_of_ours_beside_the_gangs_is_said_and_not_tried_for_ever(self) -> None:
        """It broke off; nobody takes it up."""
        key = self.asked()
        with (
            patch.object(working, "_gangs", side_effect=RuntimeError("secret")),
            self.assertLogs("jobs.services.working", "ERROR"),
        ):
            do_jobs()
        do_jobs()
        self.assertEqual((self.shown(key)["state"], self.counts()), ("broken", (4, 4)))

    def test_what_is_cut_off_each_time_ends_at_last(self) -> None:
        """A gang that ends whoever takes it would end process after process, whatever was done before it."""
        key = self.asked()
        with self.cut(1, Killed), self.said():
            for _ in range(working.MOST_TRIES + 2):
                do_jobs()
        self.assertEqual(self.shown(key)["state"], "broken")

    def test_one_taken_from_the_queue_and_never_begun_is_put_there_again(self) -> None:
        """Killed between the two: not at once, since it may be just beginning."""
        key = self.asked()
        entry = DBTaskResult.objects.get()
        entry.claim("somebody")
        self.assertEqual(working.take_up(), 0)
        DBTaskResult.objects.update(started_at=timezone.now() - 2 * working.BEGINS_WITHIN)
        do_jobs()
        self.assertEqual(self.shown(key)["state"], "done")

    def test_entries_of_the_queue_do_not_pile_up(self) -> None:
        """Those that ended before yesterday go with the end of the next."""
        self.asked()
        do_jobs()
        DBTaskResult.objects.update(finished_at=timezone.now() - 2 * working.KEPT_IN_QUEUE)
        self.asked()
        do_jobs()
        self.assertEqual(DBTaskResult.objects.count(), 1)

    def test_what_ended_long_ago_is_not_listed(self) -> None:
        """The record of it stays."""
        self.asked()
        do_jobs()
        Job.objects.update(ended_at=timezone.now() - timedelta(days=3))
        self.assertEqual((self.api.get(ADDRESS).json(), Job.objects.count()), ([], 1))


class Names(TransactionTestCase):
    """Locks by name, as two processes have them."""

    def test_a_lock_is_its_connection_s(self) -> None:
        """Held by one the other has it not; gone with the connection of whoever had it."""
        name = f"{connection.settings_dict['NAME']} job x"
        settings = connection.get_connection_params()
        other = MySQLdb.connect(**{k: settings[k] for k in ("host", "port", "user", "password") if k in settings})
        cursor = other.cursor()
        cursor.execute("SELECT GET_LOCK(%s, 0)", [name])
        self.assertEqual(cursor.fetchone(), (1,))
        self.assertTrue(is_held("job x"))
        with named("job x") as is_ours:
            self.assertFalse(is_ours)
        self.assertTrue(is_held("job x"))
        other.close()
        # The server learns a little later that nobody is there any more.
        began = time.monotonic()
        while is_held("job x") and time.monotonic() - began < 30.0:
            time.sleep(0.01)
        self.assertFalse(is_held("job x"))
        with named("job x") as is_ours:
            self.assertTrue(is_ours)
        self.assertFalse(is_held("job x"))

    def test_a_thread_does_what_is_in_the_queue_until_it_is_told(self) -> None:
        """Beside whoever asks; what goes wrong beside a job does not end it."""
        asked, came = threading.Event(), threading.Event()
        rounds: list[int] = []

        def trouble() -> None:
            rounds.append(len(rounds))
            if len(rounds) == 1:
                raise OperationalError(2002, "no server")
            came.set()

        quick = patch.multiple(worker, do_all=trouble, AFTER_TROUBLE_S=0.0)
        with quick, self.assertLogs("jobs.services.worker", "ERROR"):
            thread = worker.begin(asked)
            self.assertTrue(came.wait(30.0))
            asked.set()
            thread.join(30.0)
        self.assertFalse(thread.is_alive())
        self.assertGreaterEqual(len(rounds), 2)
        self.assertEqual(Loop.objects.count(), 0)
