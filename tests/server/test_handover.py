"""Handing over over the API: stages, issues that nobody alters unnoticed, signatures, asking back, cheating, by two."""

from __future__ import annotations

import io
import json
import uuid
from typing import Any
from unittest.mock import patch

import qrcode
from django.core.management import call_command
from django.db import connection
from django.test import tag
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from weasyprint import HTML

from accounts.models import Role, User
from audit.models import Change
from bench.services.keep_gang import update_loop
from bench.services.make_loop import make_loop
from ember_core.handover.frozen import GENESIS, digest
from ember_core.handover.unusual import Unusual
from ember_core.survey.isolation import Scope
from fitting.models import FitMark
from handover.models import AskBack, Issue, Rules, Signature
from handover.services import signing
from handover.services.issuing import _chain, faults_of, seal_of
from handover.services.looking import workers_at, workers_of
from handover.services.papers import STICKERS, code_svg
from loops.models import Loop, MeasuredValue
from sites.models import Circuit
from survey.models import Isolation, Notice
from tests.demo_copy import start_once
from tests.server.base import LAMP
from tests.server.test_fitting import FitTest
from wording.texts import catalogue

Json = dict[str, Any]
DRAWN = [[[100.0 + 20 * k, 200.0 + 5 * k] for k in range(12)]]


class HandoverTest(FitTest):
    """A loop that was fitted and proved."""

    is_proved = True

    @classmethod
    def setUpTestData(cls) -> None:
        if cls.is_proved:
            start_once(cls, "proved", cls.choose_and_prove)
        else:
            super().setUpTestData()
        made = cls()
        made.setUp()
        made.prepare()
        made.doCleanups()

    @classmethod
    def choose_and_prove(cls) -> None:
        """A way, fitted and proved."""
        cls.choose_way()
        made = cls()
        made.setUp()
        made.prove()
        made.doCleanups()

    def setUp(self) -> None:
        super().setUp()
        self.checker = self.clients[Role.CHECKER]

    def prepare(self) -> None:
        """What a class wants beside."""

    def prove(self) -> None:
        """Everything fitted, every item excused."""
        self.do()
        for item in self.api.get(self.at("prove/")).json()["items"]:
            body = {"id": str(uuid.uuid4()), "item": item["key"], "result": "excused", "reason": "shown in a test"}
            self.assertEqual(self.api.post(self.at("prove/marks/"), body, format="json").status_code, 201)

    def handover(self, api: Any = None) -> Json:
        """The step as it is."""
        return dict((api or self.api).get(self.at("handover/")).json())

    def issue(self, api: Any = None, **more: Any) -> Any:
        """Make an issue."""
        body = {"id": str(uuid.uuid4()), "note": "", **more}
        return (api or self.api).post(self.at("issues/"), body, format="json")

    def newest(self, api: Any = None) -> Json:
        """The newest issue, whole."""
        pk = self.handover(api)["issues"][0]["id"]
        return dict((api or self.api).get(f"/api/v1/issues/{pk}/").json())

    def sign(self, role: str, api: Any = None, **more: Any) -> Any:
        """Sign the newest issue."""
        shown = self.newest(api)
        body = {
            **{"id": str(uuid.uuid4()), "role": role, "way": "drawn", "strokes": DRAWN, "chain": shown["chain"]},
            **more,
        }
        return (api or self.api).post(f"/api/v1/issues/{shown['id']}/sign/", body, format="json")

    def ask_back(self, api: Any = None, note: str = "show the earth of the plate") -> Any:
        """Ask back about the newest issue."""
        body = {"id": str(uuid.uuid4()), "note": note}
        return (api or self.checker).post(f"/api/v1/issues/{self.newest()['id']}/ask-back/", body, format="json")

    def refused(self, answer: Any, code: str, status: int = 422) -> None:
        """The refusal has this code, with words of its own."""
        self.assertEqual(answer.status_code, status, answer.content)
        told = answer.json()
        self.assertIn(code, [told["code"], *(error["code"] for error in told["errors"])])

    def stage(self) -> str:
        """Where the loop stands by the round, which is what the step says too."""
        self.loop.refresh_from_db()
        self.assertEqual(self.handover()["stage"], self.loop.stage)
        return str(self.loop.stage)


@tag("whole")
class Stages(HandoverTest):
    """From asked to handed over."""

    is_proved = False

    def test_each_stage_is_computed_from_the_record(self) -> None:
        """Way chosen, fitted, proved, signed; a part that changes afterwards takes it back, a complaint opens it."""
        self.assertEqual(self.stage(), "route_chosen")
        self.refused(self.issue(), "not_proved")
        self.do()
        self.assertEqual(self.stage(), "fitted")
        self.prove()
        self.assertEqual((self.stage(), self.loop.next_step), ("proved", "hand_over"))
        self.assertEqual(self.issue().status_code, 201)
        self.assertEqual(self.sign("technician").status_code, 201)
        self.assertEqual((self.stage(), self.loop.next_step), ("proved", "hand_over"))
        self.assertEqual(self.sign("client", name="Ida Marl").status_code, 201)
        self.assertEqual((self.stage(), self.loop.next_step), ("proved", "check"))
        self.assertEqual(self.sign("checker", self.checker).status_code, 201)
        self.assertEqual((self.stage(), self.loop.next_step), ("handed_over", "done"))
        body = {"id": str(uuid.uuid4()), "told": [{"code": "glow_off"}], "heard": "told", "gang": str(self.gang.pk)}
        made = self.api.post(self.at("cases/"), body, format="json")
        self.assertEqual(made.status_code, 201, made.content)
        self.assertEqual((self.stage(), self.loop.next_step), ("reopened", "case"))
        told = {one["stage"]: one for one in self.handover()["stages"]}
        self.assertTrue(told["fitted"]["is_met"])
        self.assertFalse(told["proved"]["is_met"])
        self.assertIn("A complaint is open.", told["proved"]["lacks"])

    def test_every_word_is_there_in_both_languages(self) -> None:
        """Stages, what is lacking, what is unusual."""
        texts = catalogue("handover")
        self.assertEqual(set(texts["unusual"]), {one.value for one in Unusual})


@tag("whole")
class Board(HandoverTest):
    """Who has to do what next."""

    def test_the_round_filters_and_the_board_counts(self) -> None:
        """By stage; the board names what waits, for whom, and whose turn it is."""
        found = self.api.get("/api/v1/loops/", {"stage": "proved"}).json()["results"]
        self.assertEqual([(row["name"], row["stage_text"]) for row in found], [("Kiln room", "proved")])
        self.assertEqual(self.api.get("/api/v1/loops/", {"stage": "asked"}).json()["results"], [])
        board = self.api.get("/api/v1/handover/board/").json()
        self.assertEqual({row["stage"]: row["count"] for row in board["stages"]}["proved"], 1)
        self.assertEqual([(row["waits"], row["is_mine"]) for row in board["waiting"]], [("issue", True)])
        self.issue()
        self.sign("technician")
        self.sign("client", way="absent", strokes=[], reason="the house is empty")
        mine = self.checker.get("/api/v1/handover/board/").json()["waiting"]
        self.assertEqual([(row["waits"], row["is_mine"], row["number"]) for row in mine], [("checker", True, 1)])
        User.objects.get(pk=self.people[Role.CHECKER].pk).sites.clear()
        self.assertEqual(self.checker.get("/api/v1/handover/board/").json()["waiting"], [])

    def to_checker(self) -> None:
        """An issue that waits for a checker."""
        self.issue()
        self.sign("technician")
        self.sign("client", way="absent", strokes=[], reason="the house is empty")

    def test_the_board_asks_as_often_for_many_loops_as_for_one(self) -> None:
        """Checkers and issues waited for; so many are listed, one's own first, and all are counted."""
        self.to_checker()
        self.checker.get("/api/v1/handover/board/")
        with CaptureQueriesContext(connection) as of_one:
            self.checker.get("/api/v1/handover/board/")
        issue = Issue.objects.get()
        for number in range(10):
            loop = make_loop(None, site=self.site, circuit=None, name=f"Bay {number}")
            Loop.objects.filter(pk=loop.pk).update(stage="proved")
            if number < 5:
                copied = Issue.objects.create(
                    number=1, loop=loop, content=issue.content, pdf=b"", wants=issue.wants, by=issue.by
                )
                for row in issue.signatures.all():
                    Signature.objects.create(issue=copied, role=row.role, way=row.way, by=row.by)
        with CaptureQueriesContext(connection) as of_many:
            board = self.checker.get("/api/v1/handover/board/").json()
        self.assertEqual(len(of_many), len(of_one))
        self.assertEqual(board["waiting_count"], 11)
        waits = [(row["waits"], row["is_mine"]) for row in board["waiting"]]
        self.assertEqual(waits, [("checker", True)] * 6 + [("issue", False)] * 5)
        with patch("handover.services.answers.MOST_WAITING", 6):
            board = self.checker.get("/api/v1/handover/board/").json()
        self.assertEqual((len(board["waiting"]), board["waiting_count"]), (6, 11))
        self.assertTrue(all(row["is_mine"] for row in board["waiting"]))

    def test_who_worked_at_a_loop_checks_others(self) -> None:
        """A reading of the checker's makes it theirs no more; who was at each of two loops is found at once."""
        self.to_checker()
        other = make_loop(None, site=self.site, circuit=None, name="Bay")
        technician, checker = self.people[Role.TECHNICIAN].pk, self.people[Role.CHECKER]
        self.assertEqual(workers_at([other, self.loop]), {other.pk: set(), self.loop.pk: {technician}})
        MeasuredValue.objects.create(gang=self.gang, occasion="before", data={}, by=checker)
        self.assertEqual(workers_of(self.loop), {technician, checker.pk})
        self.assertEqual(workers_of(other), set())
        (row,) = self.checker.get("/api/v1/handover/board/").json()["waiting"]
        self.assertEqual((row["waits"], row["is_mine"]), ("checker", False))


@tag("long")
class Frozen(HandoverTest):
    """What was signed."""

    def prepare(self) -> None:
        self.assertEqual(self.issue().status_code, 201)
        self.sign("technician")

    def faults(self) -> list[str]:
        """What the newest issue says of itself."""
        return faults_of(Issue.objects.get())

    def test_nobody_alters_an_issue_unnoticed(self) -> None:
        """Text, pages, number, chain, a signature's name, strokes or moment; even with every digest made anew."""
        self.assertEqual(self.faults(), [])
        issue, signature = Issue.objects.get(), Signature.objects.get()
        content = issue.content
        for row, changes in (
            (issue, {"content": content.replace("Kiln room", "Kiln rooM", 1)}),
            (issue, {"content": "no document"}),
            (issue, {"content": content.replace('"excused"', '"exxused"')}),
            (issue, {"content": content.replace('"label"', '"lxbel"')}),
            (issue, {"content": json.dumps({**json.loads(content), "lines": 7, "unusual": {"en": "all of it"}})}),
            (issue, {"pdf": bytes(issue.pdf) + b" "}),
            (issue, {"number": 2}),
            (issue, {"wants": ["technician"]}),
            (issue, {"chain": "0" * 64}),
            (signature, {"name": "Somebody Else"}),
            (signature, {"strokes": [[[1.0, 1.0]]]}),
            (signature, {"moment": "2020-01-01T00:00:00+00:00"}),
            (signature, {"signed": "0" * 64}),
        ):
            model = type(row)
            before = {name: getattr(row, name) for name in changes}
            model.objects.filter(pk=row.pk).update(**changes)
            self.assertNotEqual(self.faults(), [], changes.keys())
            self.assertNotEqual(self.newest()["faults"], [])
            self.refused(self.sign("client", name="Ida Marl"), "issue_altered", 409)
            model.objects.filter(pk=row.pk).update(**before)
            self.assertEqual(self.faults(), [])
        # Somebody who knows how it is made, and makes every digest anew: the trail noted another.
        issue.content = content.replace("Kiln room", "Kiln rooM", 1)
        issue.content_sha256 = digest(issue.content)
        issue.chain = _chain(issue, GENESIS)
        issue.save()
        signature.signed = issue.chain
        signature.seal = seal_of(signature)
        signature.save()
        self.assertEqual(self.faults(), ["not_as_noted"])

    def test_what_is_downloaded_is_what_was_frozen(self) -> None:
        """Byte for byte, whatever was changed since."""
        shown, issue = self.newest(), Issue.objects.get()
        self.api.patch(f"/api/v1/loops/{self.loop.pk}/", {"version": self.loop.version, "note": "later"}, format="json")
        pdf = self.api.get(f"/api/v1/issues/{shown['id']}/issue.pdf")
        self.assertEqual(bytes(pdf.content), bytes(issue.pdf))
        self.assertTrue(bytes(pdf.content).startswith(b"%PDF"))
        told = self.api.get(f"/api/v1/issues/{shown['id']}/issue.json")
        self.assertEqual(told.content.decode(), issue.content)
        self.assertEqual(json.loads(told.content)["format"], "ember-thread/issue")
        page = self.api.get(f"/api/v1/issues/{shown['id']}/signatures.pdf")
        self.assertTrue(bytes(page.content).startswith(b"%PDF"))

    @tag("whole")
    def test_what_changes_makes_the_next_issue_with_its_differences(self) -> None:
        """Unchanged: no second issue. A note: issue 2 says so, in the reader's language; the first stays as it was."""
        self.refused(self.issue(), "nothing_changed")
        loop = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()
        self.api.patch(
            f"/api/v1/loops/{self.loop.pk}/", {"version": loop["version"], "note": "by the kiln"}, format="json"
        )
        self.assertEqual([one["text"] for one in self.handover()["changed"]], ["new: by the kiln"])
        german = self.api.get(self.at("handover/"), headers={"Accept-Language": "de"}).json()
        self.assertEqual([(one["label"], one["text"]) for one in german["changed"]], [("Notiz", "neu: by the kiln")])
        first = Issue.objects.get().content
        self.assertEqual(self.issue(note="a note").status_code, 201)
        newest = self.newest()
        self.assertEqual((newest["number"], [one["label"] for one in newest["new"]]), (2, ["Note"]))
        german = self.api.get(f"/api/v1/issues/{newest['id']}/", headers={"Accept-Language": "de"}).json()
        self.assertEqual([one["text"] for one in german["new"]], ["neu: by the kiln"])
        self.assertEqual(Issue.objects.get(number=1).content, first)
        body = {"id": str(uuid.uuid4()), "role": "client", "way": "drawn", "strokes": DRAWN, "name": "Ida Marl"}
        old = Issue.objects.get(number=1)
        answer = self.api.post(f"/api/v1/issues/{old.pk}/sign/", {**body, "chain": old.chain}, format="json")
        self.refused(answer, "later_issue", 409)
        self.assertEqual(faults_of(Issue.objects.get(number=2)), [])

    def test_nobody_signs_for_parts_that_hang_there_no_more(self) -> None:
        """Another lamp since: the stage goes back, and the open signatures are refused."""
        gang = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["gangs"][0]
        body = {name: gang[name] for name in ("name", "cable", "control", "bypasses", "version")}
        lamps = [{**gang["lamps"][0], "figures": {**LAMP, "count": 3}}]
        answer = self.api.put(f"/api/v1/gangs/{gang['id']}/", {**body, "lamps": lamps}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.stage(), "fitted")
        self.refused(self.sign("client", name="Ida Marl"), "record_changed", 409)

    @tag("whole")
    def test_nobody_signs_for_what_is_open_again(self) -> None:
        """An item taken back, or a reading struck out by which one passed, since the issue: prove it first."""
        key = next(one["key"] for one in self.api.get(self.at("prove/")).json()["items"] if one["act"] == "reading")
        mark = {"item": key, "reason": "read by another meter"}
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()["readings"]
        value = next(one["expected"]["p50"] for one in worth if one["read"] == "lamp_v")
        row = self.read_lamp(value)
        for result, wrong in (("as_computed", "struck"), ("excused", "open")):
            body = {"id": str(uuid.uuid4()), "result": result, **mark}
            self.assertEqual(self.api.post(self.at("prove/marks/"), body, format="json").status_code, 201)
            self.assertEqual(self.issue().status_code, 201)
            self.assertEqual(self.stage(), "proved")
            if wrong == "struck":
                path, body = f"/api/v1/measured/{row['id']}/strike/", {"reason": "wrong leads"}
            else:
                path, body = self.at("prove/marks/"), {"id": str(uuid.uuid4()), "result": "open", **mark}
            self.assertLess(self.api.post(path, body, format="json").status_code, 300)
            self.assertEqual(self.stage(), "fitted", wrong)
            self.refused(self.sign("client", name="Ida Marl"), "not_proved_since", 409)

    def read_lamp(self, value: float) -> Json:
        """Volts at the lamps with the parts in."""
        reading = {"kind": "lamp_v", "value": value, "meter_r_ohm": 1e7, "group": 0}
        body = {"id": str(uuid.uuid4()), "occasion": "after_fitting", "meter": "", "reading": reading}
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/measured/", body, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        return dict(answer.json())

    def test_nobody_signs_for_what_a_later_reading_contradicts(self) -> None:
        """Read far outside after the issue, and marked by nobody: the loop is to be proved again at once."""
        worth = self.api.get(f"/api/v1/gangs/{self.gang.pk}/worth/").json()["readings"]
        self.read_lamp(next(one["expected"]["p50"] for one in worth if one["read"] == "lamp_v"))
        body = {"id": str(uuid.uuid4()), "item": "reading:1", "result": "as_computed"}
        self.assertEqual(self.api.post(self.at("prove/marks/"), body, format="json").status_code, 201)
        self.assertEqual(self.issue().status_code, 201)
        self.assertEqual(self.stage(), "proved")
        self.read_lamp(180.0)
        self.loop.refresh_from_db()
        self.assertEqual((self.loop.stage, self.loop.next_step), ("fitted", "prove"))
        self.refused(self.sign("client", name="Ida Marl"), "not_proved_since", 409)

    def test_nobody_signs_while_a_complaint_is_open(self) -> None:
        """Told between the issue and a signature: refused with who told it, until it is closed with what it was."""
        body = {
            "id": str(uuid.uuid4()),
            "gang": str(self.gang.pk),
            "told": [{"code": "drops_off_network"}],
            "heard": "told",
        }
        made = self.api.post(self.at("cases/"), body, format="json")
        self.assertEqual(made.status_code, 201, made.content)
        refused = self.sign("client", name="Ida Marl")
        self.refused(refused, "complaint_open", 409)
        self.assertIn("told of something wrong there, and case 1 is open", refused.json()["title"])
        self.assertFalse(Signature.objects.filter(role="client").exists())
        closing = {"cause": "out_of_range", "remedy": "", "note": "a router between"}
        closed = self.api.post(f"/api/v1/cases/{made.json()['id']}/close/", closing, format="json")
        self.assertEqual(closed.status_code, 200, closed.content)
        self.assertEqual(self.sign("client", name="Ida Marl").status_code, 201)

    def test_the_same_entry_twice_is_one(self) -> None:
        """An issue, a signature, an answer sent again after a lost connection."""
        key = str(uuid.uuid4())
        self.assertEqual(self.sign("client", id=key, name="Ida Marl").status_code, 201)
        self.assertEqual(self.sign("client", id=key, name="Ida Marl").status_code, 201)
        self.assertEqual(Signature.objects.count(), 2)
        self.refused(self.sign("checker", self.checker, id=key), "entry_differs", 409)


@tag("long")
class Signing(HandoverTest):
    """Who may sign what."""

    def prepare(self) -> None:
        self.assertEqual(self.issue().status_code, 201)

    def test_nothing_drawn_nobody_named_no_reason(self) -> None:
        """Each refused in words, and nothing is kept; a client signs with no password."""
        self.refused(self.sign("technician", strokes=[]), "nothing_drawn")
        self.refused(self.sign("technician", strokes=[[[2000.0, 1.0]] * 20]), "nothing_drawn")
        self.refused(self.sign("client"), "name_needed")
        self.refused(self.sign("client", way="absent", strokes=[], reason="no"), "reason_needed")
        self.refused(self.sign("technician", way="absent", reason="on the road"), "only_clients_are_absent")
        self.refused(self.sign("client", way="password", name="Ida Marl", password="kestrel"), "wrong_password")
        self.refused(self.sign("technician", chain="0" * 64), "another_issue_shown", 409)
        self.assertEqual(Signature.objects.count(), 0)

    def test_sent_again_while_the_first_is_being_kept_it_is_one(self) -> None:
        """A connection that was lost sends it twice; the second waits, finds it, and is told no refusal."""
        key, hold, answers = str(uuid.uuid4()), signing.held_issue, []

        def meanwhile(pk: Any) -> Issue:
            with patch.object(signing, "held_issue", hold):
                answers.append(self.sign("technician", id=key).status_code)
            return hold(pk)

        with patch.object(signing, "held_issue", meanwhile):
            answers.append(self.sign("technician", id=key).status_code)
        self.assertEqual(len(set(answers)), 1, answers)
        self.assertLess(answers[0], 300)
        self.assertEqual(str(Signature.objects.get().pk), key)

    @tag("whole")
    def test_asked_back_sent_again_after_the_next_issue_is_kept_once(self) -> None:
        """What arrived is no refusal later; another question under its identity is one."""
        path = f"/api/v1/issues/{self.newest()['id']}/ask-back/"
        body = {"id": str(uuid.uuid4()), "note": "show the earth of the plate"}
        self.assertEqual(self.checker.post(path, body, format="json").status_code, 201)
        self.assertEqual(self.issue().status_code, 201)
        self.assertEqual(self.checker.post(path, body, format="json").status_code, 201)
        self.refused(self.checker.post(path, {**body, "note": "another thing"}, format="json"), "entry_differs", 409)
        self.assertEqual(AskBack.objects.get().note, body["note"])

    def test_signatures_are_printed_in_the_time_of_their_site(self) -> None:
        """As the issue above them: signed in the evening in Europe is signed in the afternoon in New York."""
        type(self.site).objects.update(zone="America/New_York")
        answer = self.sign("technician")
        self.assertEqual(answer.status_code, 201, answer.content)
        row = Signature.objects.get()
        # What somebody put there since is told as it is, below the line that says so.
        for sealed, told in (("2026-07-01T21:50:00+00:00", "2026-07-01 17:50"), ("last week", "last week")):
            row.moment = sealed
            row.save()
            with patch("handover.services.pages.HTML", wraps=HTML) as page:
                answer = self.api.get(f"/api/v1/issues/{self.newest()['id']}/signatures.pdf")
            self.assertEqual(answer.status_code, 200)
            self.assertIn(f"{told} New York time", page.call_args.kwargs["string"])

    def test_by_name_and_password(self) -> None:
        """The wrong one is refused, and counted with those at the door; the right one signs."""
        person = User.objects.get(pk=self.people[Role.TECHNICIAN].pk)
        person.set_password("a long enough one")
        person.save()
        self.api.force_login(person)
        self.refused(self.sign("technician", way="password", password="guess"), "wrong_password")
        answer = self.sign("technician", way="password", password="a long enough one")
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual(answer.json()["signatures"][0]["name"], "The technician")

    def test_not_ones_own_work(self) -> None:
        """An administrator who fitted it cannot check it, unless the firm says so; a technician never."""
        admin = self.clients[Role.ADMINISTRATOR]
        self.refused(self.sign("checker"), "not_allowed", 403)
        self.refused(self.sign("technician", self.checker), "not_allowed", 403)
        item = self.api.get(self.at("prove/")).json()["items"][0]["key"]
        body = {"id": str(uuid.uuid4()), "item": item, "result": "excused", "reason": "seen by the office"}
        self.assertEqual(admin.post(self.at("prove/marks/"), body, format="json").status_code, 201)
        self.issue(note="the office looked too")
        self.refused(self.sign("checker", admin), "own_work")
        self.assertTrue(self.newest(admin)["is_own_work"])
        put = admin.put(
            "/api/v1/handover/rules/",
            {"needs_checker": True, "needs_client": False, "own_work": True, "version": 0},
            format="json",
        )
        self.assertEqual(put.status_code, 200, put.content)
        self.assertEqual(self.sign("checker", admin).status_code, 201)
        self.assertEqual(self.sign("technician").status_code, 201)
        # The client is wanted by the rules of the day on which it was made.
        self.assertEqual(self.stage(), "proved")
        self.assertEqual(self.sign("client", name="Ida Marl").status_code, 201)
        self.assertEqual(self.stage(), "handed_over")

    def test_rules_are_the_administrators_and_not_overwritten(self) -> None:
        """A technician may not; a stale write is refused."""
        body = {"needs_checker": False, "needs_client": False, "own_work": True, "version": 0}
        self.assertEqual(self.api.put("/api/v1/handover/rules/", body, format="json").status_code, 403)
        admin = self.clients[Role.ADMINISTRATOR]
        self.assertEqual(admin.put("/api/v1/handover/rules/", body, format="json").json()["version"], 1)
        self.refused(admin.put("/api/v1/handover/rules/", body, format="json"), "stale_version", 409)
        self.assertEqual(Rules.objects.count(), 1)

    @tag("whole")
    def test_the_checkers_signature_is_next_until_asked_back_or_changed(self) -> None:
        """The round says whose turn it is: the checker's, and the technician's again where there is work to do."""
        for role, more in (("technician", {}), ("client", {"name": "Ida Marl"})):
            self.assertEqual(self.sign(role, **more).status_code, 201)
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "check")
        (row,) = self.api.get("/api/v1/loops/?next_step=check").json()["results"]
        self.assertEqual((row["next_step"], row["id"]), ("check", str(self.loop.pk)))
        # As a record of before comes in.
        Loop.objects.update(stage="", next_step="hand_over")
        call_command("restage")
        self.loop.refresh_from_db()
        self.assertEqual((self.loop.stage, self.loop.next_step), ("proved", "check"))
        self.assertEqual(self.ask_back().status_code, 201)
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "hand_over")
        self.assertEqual(self.issue(note="it has its earth").status_code, 201)
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "hand_over")

    def test_one_loop_that_cannot_be_worked_out_stops_no_start(self) -> None:
        """It is told; every other one stands where it stands."""
        broken = Loop.objects.create(site=self.loop.site, name="A loop of before")
        Loop.objects.update(stage="")

        def fails(loop: Loop) -> None:
            if loop.pk == broken.pk:
                raise ZeroDivisionError
            update_loop(loop)

        told = io.StringIO()
        with (
            patch("handover.management.commands.restage.update_loop", fails),
            self.assertLogs("handover.management.commands.restage", "ERROR"),
        ):
            call_command("restage", stderr=told)
        self.assertIn("A loop of before", told.getvalue())
        self.assertEqual(list(Loop.everything.filter(stage="").values_list("pk", flat=True)), [broken.pk])

    def test_asked_back_reaches_the_technician_and_stops_every_signature(self) -> None:
        """The note stands on every page of whoever made it; nothing is signed until the next issue."""
        self.refused(self.ask_back(note="no"), "reason_needed")
        self.assertEqual(self.ask_back(self.api).status_code, 403)
        self.assertEqual(self.ask_back().status_code, 201)
        notice = Notice.objects.get()
        self.assertEqual((notice.person_id, notice.code), (self.people[Role.TECHNICIAN].pk, "asked_back"))
        told = self.api.get("/api/v1/notices/").json()[0]["text"]
        self.assertIn("show the earth of the plate", told)
        self.refused(self.sign("technician"), "asked_back", 409)
        self.refused(self.ask_back(), "asked_back", 409)
        waiting = self.api.get("/api/v1/handover/board/").json()["waiting"]
        self.assertEqual([(row["waits"], row["is_mine"]) for row in waiting], [("answer", True)])
        self.assertTrue(self.handover()["may_issue"])
        self.assertEqual(self.issue(note="it has its earth").status_code, 201)
        self.assertEqual(self.sign("technician").status_code, 201)
        self.assertEqual(AskBack.objects.count(), 1)

    def test_everything_is_in_the_trail(self) -> None:
        """Issue, signature, asking back."""
        self.sign("technician")
        self.ask_back()
        actions = set(Change.objects.filter(subject_id=self.loop.pk).values_list("action", flat=True))
        self.assertLessEqual({"issued", "signed", "asked back"}, actions)

    def test_a_stranger_sees_no_issue(self) -> None:
        """Of a site where they do not work."""
        pk = self.newest()["id"]
        User.objects.get(pk=self.people[Role.CHECKER].pk).sites.clear()
        for path in ("", "issue.pdf", "issue.json", "signatures.pdf"):
            self.assertEqual(self.checker.get(f"/api/v1/issues/{pk}/{path}").status_code, 404, path)


@tag("long")
class LookedAtFirst(HandoverTest):
    """What is unusual."""

    def test_the_step_asks_once_for_all_proofs_that_work_rests_on(self) -> None:
        """However many steps were done dead."""
        resting = FitMark.objects.filter(loop=self.loop, proof__isnull=False).values("proof").distinct().count()
        self.assertGreater(FitMark.objects.filter(loop=self.loop, proof__isnull=False).count(), resting)
        with CaptureQueriesContext(connection) as asked:
            self.handover()
        of_proofs = [one["sql"] for one in asked if " FROM `survey_proof` " in one["sql"]]
        self.assertEqual(len(of_proofs), 1, of_proofs)

    def test_excused_and_unmeasured_are_told_with_their_reasons(self) -> None:
        """Every item that was excused, the gravest kind first."""
        kinds = [one["kind"] for one in self.handover(self.checker)["unusual"]]
        self.assertIn("excused", kinds)
        order = [one.value for one in Unusual]
        self.assertEqual(kinds, sorted(kinds, key=order.index))
        texts = [one["text"] for one in self.handover()["unusual"] if one["kind"] == "excused"]
        self.assertTrue(all("“shown in a test”" in text for text in texts), texts)

    @tag("whole")
    def test_what_was_frozen_is_told_in_the_language_of_whoever_reads(self) -> None:
        """As the step tells it, in either; an issue of before, which has one only, is told as it is."""
        self.assertEqual(self.issue().status_code, 201)
        in_english = self.newest()["unusual"]
        self.assertEqual(in_english, self.handover()["unusual"])
        self.api.credentials(HTTP_ACCEPT_LANGUAGE="de")
        in_german = self.newest()["unusual"]
        self.assertEqual(in_german, self.handover()["unusual"])
        self.assertEqual([one["kind"] for one in in_german], [one["kind"] for one in in_english])
        alike = [one["text"] for one, other in zip(in_german, in_english, strict=True) if one["text"] == other["text"]]
        self.assertEqual(alike, [])
        issue = Issue.objects.get()
        content = json.loads(issue.content)
        Issue.objects.update(content=json.dumps({**content, "unusual": content["unusual"]["en"]}))
        told = [one["text"] for one in self.newest()["unusual"]]
        self.assertEqual(told, [one["text"] for one in in_english])

    def test_round_and_step_say_the_same_after_the_supply_changed(self) -> None:
        """The stage stays; that the judgement no longer holds is what a checker sees."""
        self.assertNotIn("outdated", self.kinds())
        self.loop.site.v_rms = 240.0
        self.loop.site.save()
        self.assertEqual(self.stage(), "proved")
        self.assertIn("outdated", self.kinds())

    def kinds(self) -> list[str]:
        """What is told."""
        return [one["kind"] for one in self.handover()["unusual"]]

    def test_a_broken_trace_of_isolation_comes_first(self) -> None:
        """Whole as it was done; kept off by the whole installation too; not by another breaker, not by too late."""
        self.assertNotIn("trace_broken", self.kinds())
        rows = Isolation.objects.filter(loop=self.loop)
        circuits = {row.pk: list(row.circuits.all()) for row in rows}
        for row in rows:
            row.circuits.set([Circuit.objects.create(site=self.site, breaker=f"9{row.pk.hex[:4]}")])
        self.assertEqual(self.kinds()[0], "trace_broken")
        rows.update(scope=Scope.WHOLE)
        self.assertNotIn("trace_broken", self.kinds())
        for row in rows:
            row.circuits.set(circuits[row.pk])
        rows.update(scope=Scope.BREAKERS)
        self.assertNotIn("trace_broken", self.kinds())
        self.loop.circuit = None
        self.loop.save()
        self.assertIn("trace_broken", self.kinds())
        self.loop.circuit = self.circuit
        self.loop.save()
        rows.update(opened_at=timezone.now(), opened_made_at=None, closed_at=None, closed_made_at=None)
        self.assertEqual(self.kinds()[0], "trace_broken")


@tag("long")
class Papers(HandoverTest):
    """What others get."""

    def pages(self, path: str, api: Any = None) -> list[str]:
        """The text of each page of a paper, as its template was laid out."""
        said: list[str] = []

        class Seen(HTML):  # type: ignore[misc]  # the package is not typed
            """Keeps what was laid out."""

            def __init__(self, *args: Any, **kwargs: Any) -> None:
                said.append(kwargs["string"])
                super().__init__(*args, **kwargs)

        with patch("handover.services.pages.HTML", Seen):
            answer = (api or self.api).get(path)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertTrue(bytes(answer.content).startswith(b"%PDF"))
        return said

    def test_the_clients_page_says_what_is_known_and_what_nobody_tried(self) -> None:
        """Breaker and live sockets always; a power cut only as it was seen; a number of lamps only where it is sure."""
        page = self.pages(self.at("client.pdf"))[0]
        self.assertIn("switch off breaker 7", page)
        self.assertIn("live, even when the light is off", page)
        self.assertIn("Nobody tried what it does after a power cut", page)
        self.mark_power("stays_off")
        self.assertIn("stays off until somebody presses", self.pages(self.at("client.pdf"))[0])
        for load, said in (
            ({"never_rule": None, "least": 2, "most": 12}, "2 to 12"),
            ({"never_rule": None, "least": 14, "most": 5}, "only the same lamps"),
            ({"never_rule": "x", "least": None, "most": None}, "only the same lamps"),
            ({"never_rule": None, "least": None, "most": 5}, "at most 5"),
            ({}, "only the same lamps"),
        ):
            self.loop.gangs.update(load=load)
            self.assertIn(said, self.pages(self.at("client.pdf"))[0], load)
        self.loop.circuit = None
        self.loop.save()
        self.assertIn("do not open it, call", self.pages(self.at("client.pdf"))[0])

    def mark_power(self, result: str) -> None:
        """What was seen after a power cut."""
        body = {"id": str(uuid.uuid4()), "item": "power_on", "result": result}
        self.assertEqual(self.api.post(self.at("prove/marks/"), body, format="json").status_code, 201)

    def test_one_page_a_language_and_no_language_that_is_none(self) -> None:
        """Both in one file; another is refused in words."""
        pages = self.pages(self.at("client.pdf?languages=en,de"))
        self.assertEqual(len(pages), 2)
        self.assertIn("Sicherung 7 ausschalten", pages[1])
        self.refused(self.api.get(self.at("client.pdf?languages=xx")), "unknown_form", 400)

    def test_stickers_fill_a_sheet_to_the_millimetre(self) -> None:
        """Breaker, box with its code, luminaire; every form fits on A4; a form that is none is refused."""
        for form, (columns, rows, width, height) in STICKERS.items():
            self.assertLessEqual(columns * width, 210.0)
            self.assertLessEqual(rows * height, 297.0)
            page = self.pages(self.at(f"stickers.pdf?form={form}"))[0]
            self.assertIn(f"width: {width:.2f}mm; height: {height:.2f}mm", page)
        self.assertIn("Live when the light is off. Isolate at breaker 7", page)
        self.assertEqual(page.count("<svg"), 1)
        self.refused(self.api.get(self.at("stickers.pdf?form=7")), "unknown_form", 400)

    def test_the_code_on_a_sticker_is_the_address_of_the_loop(self) -> None:
        """Drawn by the package's own matrix for that address."""
        address = f"http://testserver/loops/{self.loop.pk}"
        made = qrcode.QRCode(border=2)
        made.add_data(address)
        made.make(fit=True)
        dark = sum(sum(row) for row in made.get_matrix())
        self.assertEqual(code_svg(address).count("M"), dark)

    def test_the_sheet_of_a_site_has_every_loop_and_breaker(self) -> None:
        """With stages, and with the label that was wrong."""
        self.circuit.label_now = "kiln room"
        self.circuit.save()
        page = self.pages(f"/api/v1/sites/{self.site.pk}/sheet.pdf")[0]
        self.assertIn("Kiln room", page)
        self.assertIn("(was: kiln)", page)
