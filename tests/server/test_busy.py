"""Many at once: computation leaves room for everybody else, locks are short, and long work goes on where it was."""

from __future__ import annotations

import json
import re
import threading
from typing import Any
from unittest.mock import patch

from django.db import OperationalError, connection
from django.test.utils import CaptureQueriesContext

from bench.services import keep_gang as keeping
from common import heavy
from common.locking import DEADLOCK, retried
from loops.models import Gang
from sites.models import Site
from tests.server.base import LAMP, ServerTest, draft, fit


class TheLine(ServerTest):
    """One computes, a few wait, the next is told to come again."""

    def test_a_full_line_is_told_at_once_with_when_to_come_again(self) -> None:
        """503 with Retry-After for a computation; a list is answered meanwhile, and afterwards all is free again."""
        held = [heavy._line.acquire(blocking=False) for _ in range(heavy.MOST_IN_LINE)]
        self.assertTrue(all(held))
        try:
            answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/spread/", draft(), format="json")
            self.assertEqual((answer.status_code, answer.json()["code"], answer["Retry-After"]), (503, "too_busy", "2"))
            streamed = self.api.post(f"/api/v1/gangs/{self.gang.pk}/spread/?progress=1", draft(), format="json")
            *_, last = b"".join(streamed.streaming_content).decode().splitlines()
            self.assertEqual(json.loads(last)["problem"]["code"], "too_busy")
            self.assertEqual(self.api.get("/api/v1/loops/").status_code, 200)
        finally:
            for _ in held:
                heavy._line.release()
        given = {**draft(), "samples": 8}
        self.assertEqual(self.api.post(f"/api/v1/gangs/{self.gang.pk}/spread/", given, format="json").status_code, 200)

    def test_only_one_computes_at_a_time(self) -> None:
        """A second one waits until the first is done."""
        order: list[str] = []
        inside, may_end = threading.Event(), threading.Event()

        def first() -> None:
            with heavy.slot():
                order.append("first")
                inside.set()
                may_end.wait(10.0)
                order.append("ended")

        def second() -> None:
            with heavy.slot():
                order.append("second")

        threads = [threading.Thread(target=first), threading.Thread(target=second)]
        threads[0].start()
        self.assertTrue(inside.wait(10.0))
        threads[1].start()
        may_end.set()
        for thread in threads:
            thread.join(10.0)
        self.assertEqual(order, ["first", "ended", "second"])

    def test_whoever_has_the_place_keeps_it(self) -> None:
        """A judgement within a computation waits for nobody, least of all for itself."""
        with heavy.slot() as turn:
            with heavy.slot() as again:
                self.assertIs(again, turn)
            self.assertFalse(heavy._running.acquire(blocking=False))
        self.assertTrue(heavy._running.acquire(blocking=False))
        heavy._running.release()

    def test_a_gang_is_not_kept_where_nobody_can_judge_it(self) -> None:
        """A full line refuses the write, changes nothing, and says when to come again."""
        held = [heavy._line.acquire(blocking=False) for _ in range(heavy.MOST_IN_LINE)]
        try:
            refused = self.keep()
        finally:
            for _ in held:
                heavy._line.release()
        self.assertEqual((refused.status_code, refused.json()["code"]), (503, "too_busy"))
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).version, 1)
        self.assertEqual(self.keep().status_code, 200)

    def test_a_turn_ends_when_its_time_is_spent_and_says_so(self) -> None:
        """Whole or in lines: what was looked at by then, nothing called sure that was not, and why it ended."""
        given = draft(
            lamps=[fit({**LAMP, "c_bulk_f": {"low": 1e-6, "typical": 4.7e-6, "high": 5e-5, "source": "assumed"}})]
        )
        gang = f"/api/v1/gangs/{self.gang.pk}"
        with patch.object(heavy, "BUDGET_S", 0.0):
            spread = self.api.post(f"{gang}/spread/", given, format="json").json()
            choosing = self.api.post(f"{gang}/choose/", given, format="json").json()
            answer = self.api.post(f"{gang}/choose/?progress=1", given, format="json")
            *_, last = b"".join(answer.streaming_content).decode().splitlines()
            sweep = self.api.post(f"{gang}/sweep/", {**given, "path": "lamps[0].c_bulk_f"}, format="json").json()
        self.assertEqual((spread["samples"], spread["failed"]), (1, 0))
        self.assertIn("were over after 1 samples", spread["ended"])
        self.assertEqual(spread["text"], "")
        for found in (choosing, json.loads(last)["result"]):
            self.assertIn("was not looked at over the ranges", found["ended"])
            self.assertNotIn("works", {part["verdict"] for part in found["parts"]})
            self.assertEqual((found["none_needed"], found["none_cures"]), (False, ""))
        self.assertEqual(sweep["points"], [])
        self.assertIn("is not known", sweep["text"])
        whole = self.api.post(f"{gang}/spread/", given, format="json").json()
        self.assertEqual((whole["samples"], whole["ended"]), (64, ""))

    def test_what_fails_inside_leaves_the_place(self) -> None:
        """An error is no lost turn."""
        for _ in range(heavy.MOST_IN_LINE + 1):
            with self.assertRaises(ZeroDivisionError), heavy.slot():
                raise ZeroDivisionError


class Locks(ServerTest):
    """Writes that meet."""

    def test_nothing_is_locked_while_a_gang_is_judged(self) -> None:
        """The numerics run before the first row is locked, and the site's row never is."""
        seen: list[int] = []
        with CaptureQueriesContext(connection) as asked:
            judge = keeping.judge_document

            def noted(document: Any) -> Any:
                seen.append(sum("FOR UPDATE" in query["sql"] for query in asked.captured_queries))
                return judge(document)

            with patch.object(keeping, "judge_document", noted):
                self.assertEqual(self.keep().status_code, 200)
        self.assertEqual(seen, [0])
        locking = [query["sql"] for query in asked.captured_queries if "FOR UPDATE" in query["sql"]]
        held = [table for query in locking for table in re.findall(r"FROM `(\w+)`", query)]
        self.assertEqual(held, ["loops_loop", "loops_gang", "loops_loop"])
        self.assertFalse([query for query in locking if "sites_site" in query])

    def test_a_supply_that_changes_meanwhile_is_judged_again_on_the_new_one(self) -> None:
        """What is stored stands on the supply that holds, once; a supply that never rests is told."""
        judge = keeping.judge_document
        calls: list[float] = []

        def moved(document: Any, *, times: int = 1) -> Any:
            calls.append(document["supply"]["v_rms"]["typical"])
            if len(calls) <= times:
                site = Site.objects.get(pk=self.site.pk)
                Site.objects.filter(pk=site.pk).update(v_rms=site.v_rms + 5.0, version=site.version + 1)
            return judge(document)

        with patch.object(keeping, "judge_document", moved):
            self.assertEqual(self.keep().status_code, 200)
        self.assertEqual(calls, [230.0, 235.0])
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).judged_on["v_rms"], 235.0)
        self.assertEqual(self.gang.judgements.count(), 1)
        calls.clear()
        with patch.object(keeping, "judge_document", lambda document: moved(document, times=99)):
            refused = self.keep(version=2)
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "supply_changes"))
        self.assertEqual(self.gang.judgements.count(), 1)

    def test_a_deadlock_is_tried_once_more_and_then_told(self) -> None:
        """Outside a transaction; another error of the database is told at once."""
        tries: list[int] = []

        def work() -> str:
            tries.append(1)
            if len(tries) == 1:
                raise OperationalError(DEADLOCK, "deadlock")
            return "done"

        with patch("common.locking.connection") as outside:
            outside.in_atomic_block = False
            self.assertEqual(retried(work), "done")
            self.assertEqual(len(tries), 2)
            with self.assertRaises(OperationalError):
                retried(lambda: (_ for _ in ()).throw(OperationalError(2006, "gone away")))
        with patch.object(keeping, "_keep", side_effect=OperationalError(DEADLOCK, "deadlock")):
            answer = self.keep()
        self.assertEqual((answer.status_code, answer.json()["code"], answer["Retry-After"]), (503, "busy", "2"))

    def test_a_record_that_vanishes_between_two_looks_is_not_found(self) -> None:
        """No error of the server."""
        with patch.object(keeping, "_check_version", side_effect=Gang.DoesNotExist):
            self.assertEqual(self.keep().status_code, 404)
