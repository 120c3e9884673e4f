"""Who sees what: nothing of a site where one does not work, at any address, by any method, in any role."""

from __future__ import annotations

import io
import uuid
from datetime import datetime, timedelta

from django.contrib.sessions.models import Session
from django.core.cache import cache
from django.test import Client, tag
from django.urls import URLPattern, get_resolver
from django.utils import timezone
from PIL import Image
from rest_framework.test import APIClient

from accounts.models import Role, SignIn, User
from accounts.policy import EDIT, POLICY
from audit.models import Change
from handover.models import Issue
from loops.models import Loop, MeasuredValue
from proving.models import Case, CaseEvidence
from sites.models import Circuit, Site
from survey.models import Isolation, Lock, Photo, TakenReading
from tests.server.base import CONTROL, DemoTest, Json, ServerTest, fit, load_whole_demo, stated
from visits.models import Plan

METHODS = ("get", "post", "put", "patch", "delete")
# Addresses with a key that is no record of a site: who may use them is a matter of role or of one's own.
OF_NO_SITE = {"parts", "notices", "accounts", "sign-ins", "tokens", "jobs"}


def keyed() -> list[URLPattern]:
    """Every address of the API that names a record."""
    return [entry for entry in get_resolver().url_patterns[0].url_patterns if "<uuid:pk>" in str(entry.pattern)]


class Strangers(ServerTest):
    """Somebody of the firm who does not work at the mill."""

    def setUp(self) -> None:
        super().setUp()
        self.strangers = {}
        for role in (Role.TECHNICIAN, Role.CHECKER):
            person = User.objects.create(username=f"strange-{role}", role=role, keeps_sites=True, keeps_shelf=True)
            self.strangers[role] = APIClient()
            self.strangers[role].force_login(person)
        self.stranger = self.strangers[Role.TECHNICIAN]

    def records(self) -> dict[str, uuid.UUID]:
        """One record of every kind that an address can name."""
        self.assertEqual(self.keep().status_code, 200)
        loop, who = self.loop, self.people[Role.TECHNICIAN]
        isolation = Isolation.objects.create(site=self.site, loop=loop, scope="breakers", opened_by=who)
        lock = Lock.objects.create(isolation=isolation, person=who, loop=loop)
        reading = TakenReading.objects.create(loop=loop, data={}, by=who)
        photo = Photo.objects.create(loop=loop, moment="before", width_px=1, height_px=1, by=who)
        measured = MeasuredValue.objects.create(gang=self.gang, occasion="off_state", data={}, by=who)
        case = Case.objects.create(loop=loop, gang=self.gang, number=1, told=[{"code": "buzz"}], by=who)
        evidence = CaseEvidence.objects.create(case=case, number=1, data={"test": "wall_pressed"}, by=who)
        return {
            "sites": self.site.pk,
            "cases": case.pk,
            "evidence": evidence.pk,
            "circuits": self.circuit.pk,
            "loops": loop.pk,
            "gangs": self.gang.pk,
            "readings": reading.pk,
            "isolations": isolation.pk,
            "locks": lock.pk,
            "photos": photo.pk,
            "measured": measured.pk,
            "judgements": self.gang.judgements.get().pk,
            "issues": Issue.objects.create(loop=self.loop, number=1, content="{}", pdf=b"", wants=[], by=who).pk,
            "plans": Plan.objects.create(site=self.site, name="Day", first_day="2026-12-01", by=who).pk,
        }

    @tag("long")
    def test_a_walk_over_every_address_and_method(self) -> None:
        """A stranger of either role gets what somebody gets who asks for what never was; nothing is changed."""
        records, walked = self.records(), 0
        changes = Change.objects.count()
        for entry in keyed():
            kind = str(entry.pattern).split("/")[0]
            if kind in OF_NO_SITE:
                continue
            address = "/api/v1/" + str(entry.pattern).replace("<uuid:pk>", str(records[kind]))
            action = getattr(entry.callback.view_class, "write_action", EDIT)
            for role, client in self.strangers.items():
                for method in METHODS:
                    answer = getattr(client, method)(address, {}, format="json")
                    # What a role may do nowhere is refused before anybody looks where.
                    by_role = (403,) if role == Role.CHECKER or role not in POLICY[action] else ()
                    told = f"{role} {method} {address}: {answer.content[:200]!r}"
                    self.assertIn(answer.status_code, (404, 405, *by_role), told)
                    walked += answer.status_code == 404
        self.assertGreater(walked, 60)
        self.assertEqual(Change.objects.count(), changes)

    def test_every_view_with_a_key_names_its_record(self) -> None:
        """Whoever adds an address says what it is of; otherwise nobody would be kept out."""
        for entry in keyed():
            if str(entry.pattern).split("/")[0] not in OF_NO_SITE:
                self.assertIsNotNone(getattr(entry.callback.view_class, "record", None), str(entry.pattern))

    def test_lists_hold_nothing_of_it(self) -> None:
        """Sites, breakers, loops, the board, what is out of date, and where a part is used."""
        self.records()
        for address in ("sites", "circuits", "loops"):
            self.assertEqual(self.stranger.get(f"/api/v1/{address}/").json()["count"], 0, address)
            self.assertGreater(self.api.get(f"/api/v1/{address}/").json()["count"], 0, address)
        self.assertEqual(self.stranger.get("/api/v1/isolations/").json(), [])
        self.assertEqual(len(self.api.get("/api/v1/isolations/").json()), 1)
        self.assertEqual(self.stranger.get("/api/v1/outdated/").json(), [])
        self.assertEqual(self.stranger.get(f"/api/v1/isolations/?site={self.site.pk}").status_code, 404)
        for subject in (self.gang.pk, self.loop.pk):
            address = f"/api/v1/changes/?subject={subject}"
            self.assertEqual(self.stranger.get(address).status_code, 404)
            self.assertGreater(self.api.get(address).json()["count"], 0)

    def test_nothing_can_be_put_there(self) -> None:
        """Neither a loop nor a breaker, by naming the site in what is sent."""
        made = self.stranger.post("/api/v1/loops/", {"site": str(self.site.pk), "name": "Mine"}, format="json")
        self.assertEqual((made.status_code, made.json()["errors"][0]["path"]), (400, "site"))
        made = self.stranger.post("/api/v1/circuits/", {"site": str(self.site.pk), "breaker": "99"}, format="json")
        self.assertEqual(made.status_code, 400)
        self.assertFalse(Circuit.objects.filter(breaker="99").exists())

    def test_a_new_site_is_its_maker_s_and_others_join(self) -> None:
        """Whoever makes it works there; then whoever they name, and no longer who is left out."""
        made = self.stranger.post(
            "/api/v1/sites/", {"name": "Heron Wharf", "v_rms": 230.0, "f_hz": 50.0}, format="json"
        ).json()
        members = f"/api/v1/sites/{made['id']}/members/"
        self.assertEqual(self.api.get(members).status_code, 404)
        people = self.stranger.get(members).json()
        self.assertEqual([one["works_here"] for one in people].count(True), 1)
        tech = self.people[Role.TECHNICIAN]
        before = [one["id"] for one in people if one["works_here"]]
        answer = self.stranger.put(members, {"members": [str(tech.pk)], "before": before}, format="json")
        self.assertEqual([one["works_here"] for one in answer.json()].count(True), 2)
        self.assertEqual(self.api.get(f"/api/v1/sites/{made['id']}/").status_code, 200)
        before.append(str(tech.pk))
        self.stranger.put(members, {"members": [], "before": before}, format="json")
        self.assertEqual(self.api.get(f"/api/v1/sites/{made['id']}/").status_code, 404)
        change = Change.objects.filter(action="members").first()
        assert change is not None
        self.assertEqual(len(change.before["members"]) - len(change.after["members"]), 1)
        nobody = self.stranger.put(members, {"members": [str(uuid.uuid4())], "before": before[:1]}, format="json")
        self.assertEqual(nobody.status_code, 400)

    def test_nobody_is_left_out_by_a_list_read_before_they_came(self) -> None:
        """Two who say who works there: the second one's list is of before and refused; whose account rests stays."""
        site = f"/api/v1/sites/{self.site.pk}/members/"
        read = [one["id"] for one in self.api.get(site).json() if one["works_here"]]
        came, resting = str(self.people[Role.ADMINISTRATOR].pk), self.people[Role.CHECKER]
        self.assertIn(str(resting.pk), read)
        self.site.members.remove(came)
        read = [one for one in read if one != came]
        with_them = {"members": [*read, came], "before": read}
        self.assertEqual(self.api.put(site, with_them, format="json").status_code, 200)
        late = self.api.put(site, {"members": read[:1], "before": read}, format="json")
        self.assertEqual((late.status_code, late.json()["code"]), (409, "members_changed"))
        self.assertEqual({str(one.pk) for one in self.site.members.all()}, {*read, came})
        resting.is_active = False
        resting.save(update_fields=("is_active",))
        awake = [one for one in (*read, came) if one != str(resting.pk)]
        self.assertEqual(self.api.put(site, {"members": awake, "before": awake}, format="json").status_code, 200)
        self.assertIn(resting, self.site.members.all())

    def test_sites_and_shelf_are_not_every_technician_s(self) -> None:
        """Without being given them: no site, no supply, no part; a breaker and a loop still."""
        person = self.people[Role.TECHNICIAN]
        User.objects.filter(pk=person.pk).update(keeps_sites=False, keeps_shelf=False)
        site = f"/api/v1/sites/{self.site.pk}/"
        for method, address, sent in (
            ("post", "/api/v1/sites/", {"name": "x"}),
            ("patch", site, {"version": 1, "v_rms": 240.0}),
            ("put", f"{site}members/", {"members": [], "before": []}),
            ("post", f"{site}archive/", {"reason": "x"}),
            ("post", "/api/v1/parts/", {}),
            ("post", "/api/v1/parts/import/", {}),
        ):
            answer = getattr(self.api, method)(address, sent, format="json")
            self.assertEqual((answer.status_code, answer.json()["code"]), (403, "not_allowed"), address)
        made = self.api.post("/api/v1/circuits/", {"site": str(self.site.pk), "breaker": "31"}, format="json")
        self.assertEqual(made.status_code, 201, made.content)
        session = self.api.get("/api/v1/session/").json()["user"]
        self.assertEqual(
            (session["may_edit"], session["may_keep_sites"], session["may_keep_shelf"]), (True, False, False)
        )


class Archive(ServerTest):
    """Taking out of sight and bringing back."""

    def act(self, kind: str, pk: object, way: str = "archive", reason: str = "entered twice") -> Json:
        answer = self.api.post(f"/api/v1/{kind}/{pk}/{way}/", {"reason": reason}, format="json")
        return {"status": answer.status_code, **answer.json()}

    def test_a_loop_goes_and_comes_back_whole(self) -> None:
        """With its gang, judgement and readings; nothing can be written meanwhile; both are on the trail."""
        self.keep()
        TakenReading.objects.create(loop=self.loop, data={}, by=None)
        before = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()
        self.assertEqual(self.act("loops", self.loop.pk)["is_archived"], True)
        self.assertEqual(self.api.get("/api/v1/loops/").json()["count"], 0)
        listed = self.api.get("/api/v1/loops/?archived=1").json()["results"]
        self.assertEqual([row["name"] for row in listed], ["Kiln room"])
        gone = self.api.get(f"/api/v1/loops/{self.loop.pk}/")
        self.assertEqual((gone.status_code, gone.json()["code"]), (404, "archived"))
        refused = self.keep(version=2)
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "archived"))
        self.assertEqual(self.act("loops", self.loop.pk, "bring-back", "it is another one")["is_archived"], False)
        self.assertEqual(self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["gangs"], before["gangs"])
        trail = [row.action for row in Change.objects.filter(subject_id=self.loop.pk)]
        self.assertEqual({"archived", "brought_back"} & set(trail), {"archived", "brought_back"})

    def test_not_under_somebody_s_lock(self) -> None:
        """A loop of an open isolation stays in sight, and so does its site."""
        who = self.people[Role.TECHNICIAN]
        row = Isolation.objects.create(site=self.site, loop=self.loop, scope="breakers", opened_by=who)
        for kind, pk in (("loops", self.loop.pk), ("sites", self.site.pk)):
            self.assertEqual(self.act(kind, pk)["code"], "still_isolated")
        Isolation.objects.filter(pk=row.pk).update(closed_at="2026-11-01T00:00:00Z")
        self.assertEqual(self.act("loops", self.loop.pk)["status"], 200)

    def test_a_reason_is_needed(self) -> None:
        """Without one nothing happens."""
        answer = self.api.post(f"/api/v1/loops/{self.loop.pk}/archive/", {"reason": " "}, format="json")
        self.assertEqual(answer.status_code, 400)
        self.assertEqual(self.api.get("/api/v1/loops/").json()["count"], 1)

    def test_a_photograph_that_is_archived_counts_no_more(self) -> None:
        """The step that wants one asks again."""
        made = io.BytesIO()
        Image.new("RGB", (20, 20), "teal").save(made, "PNG")
        made.name = "box.png"
        self.api.put(f"/api/v1/loops/{self.loop.pk}/survey/", {"version": 0, "place": 1}, format="json")
        sent: Json = {"id": str(uuid.uuid4()), "place": 1, "moment": "before", "caption": "", "file": made}
        photos = f"/api/v1/loops/{self.loop.pk}/photos/"
        made.seek(0)
        shown = self.api.post(photos, sent, format="multipart").json()
        self.assertEqual(len(shown["photos"]), 1)
        self.assertEqual(self.act("photos", shown["photos"][0]["id"])["status"], 200)
        again = self.api.get(f"/api/v1/loops/{self.loop.pk}/survey/").json()
        self.assertEqual(again["photos"], [])
        made.seek(0)
        # A tablet that sends its entry once more gets no second one.
        self.assertEqual(self.api.post(photos, sent, format="multipart").json()["photos"], [])
        self.assertEqual(Photo.everything.count(), 1)
        self.assertEqual(self.api.get(f"/api/v1/photos/{shown['photos'][0]['id']}/image.jpg").status_code, 404)

    def test_a_loop_is_judged_by_the_gangs_that_are_there(self) -> None:
        """A wrong second gang leaves the loop; the last one cannot."""
        second = self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {}, format="json").json()
        self.keep(control=fit({**CONTROL, "p_min_w": stated(5.0)}))
        self.assertEqual(self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["works"], "unknown")
        self.assertEqual(self.act("gangs", second["id"])["status"], 200)
        loop = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()
        self.assertEqual(len(loop["gangs"]), 1)
        self.assertNotEqual(loop["works"], "unknown")
        self.assertEqual(self.act("gangs", self.gang.pk)["code"], "last_gang")
        # Its place stays its own: another gang comes behind it, and it can come back.
        third = self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {}, format="json")
        self.assertEqual((third.status_code, third.json()["position"]), (201, 3))
        again = self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/", {"id": second["id"]}, format="json")
        self.assertEqual(again.status_code, 201)
        self.assertEqual(self.act("gangs", second["id"], "bring-back")["is_archived"], False)
        gangs = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()["gangs"]
        self.assertEqual([gang["position"] for gang in gangs], [1, 2, 3])

    def test_what_holds_no_record_is_deleted_and_the_rest_is_not(self) -> None:
        """A fresh loop with its gang, its breaker, a site; not what was judged, nor what a loop hangs on."""
        site = Site.objects.create(name="Heron Wharf", v_rms=230.0, f_hz=50.0)
        site.members.add(self.people[Role.TECHNICIAN])
        sent = {"site": str(site.pk), "name": "Shed"}
        loop = self.api.post("/api/v1/loops/", sent, format="json").json()
        breaker = self.api.post("/api/v1/circuits/", {"site": str(site.pk), "breaker": "1"}, format="json").json()
        self.assertEqual(self.api.delete(f"/api/v1/sites/{site.pk}/").json()["code"], "has_record")
        self.assertEqual(Circuit.objects.filter(site=site).count(), 1)
        for address in (f"loops/{loop['id']}", f"circuits/{breaker['id']}", f"sites/{site.pk}"):
            self.assertEqual(self.api.delete(f"/api/v1/{address}/").status_code, 204, address)
        self.keep()
        for address in (f"loops/{self.loop.pk}", f"circuits/{self.circuit.pk}", f"sites/{self.site.pk}"):
            answer = self.api.delete(f"/api/v1/{address}/")
            self.assertEqual((answer.status_code, answer.json()["code"]), (409, "has_record"), address)
        self.assertTrue(hasattr(self.gang, "control"))


class OfTheDemo(DemoTest):
    """The demo copy, started again."""

    def test_the_demo_starts_again_with_loops_and_a_site_archived(self) -> None:
        """Nothing is made a second time, nothing comes back by itself."""
        for model, name in ((Loop, "Kiln room"), (Site, "Larkspur Cannery")):
            model.everything.filter(name=name).update(archived_at=timezone.now())
        count = Loop.everything.count()
        load_whole_demo()
        self.assertEqual((Loop.everything.count(), Site.objects.count()), (count, 1))


class Accounts(ServerTest):
    """An administrator's page."""

    def setUp(self) -> None:
        super().setUp()
        self.admin = self.clients[Role.ADMINISTRATOR]
        self.made = self.admin.post(
            "/api/v1/accounts/",
            {"username": "ines", "display_name": "Ines Quill", "role": "technician", "password": "for the first day"},
            format="json",
        ).json()

    def sign_in(self, password: str, **more: object) -> tuple[Client, int]:
        client = Client()
        sent = {"username": "ines", "password": password, **more}
        return client, client.post("/api/v1/session/", sent, content_type="application/json").status_code

    def last_seen(self, client: Client, minutes: int) -> datetime:
        """As if it had been used last so many minutes ago."""
        cache.clear()
        then = timezone.now() - timedelta(minutes=minutes)
        SignIn.objects.filter(session_key=client.session.session_key).update(last_seen_at=then)
        return then

    def test_only_an_administrator_keeps_accounts(self) -> None:
        """Nobody else reads or changes them."""
        for role in (Role.TECHNICIAN, Role.CHECKER):
            for method, address in (
                ("get", "/api/v1/accounts/"),
                ("post", "/api/v1/accounts/"),
                ("patch", f"/api/v1/accounts/{self.made['id']}/"),
                ("post", f"/api/v1/accounts/{self.made['id']}/password/"),
            ):
                self.assertEqual(getattr(self.clients[role], method)(address).status_code, 403, (role, address))

    @tag("long")
    def test_a_given_password_is_for_one_signing_in(self) -> None:
        """Nothing else works before it is changed; afterwards everything does, and the given one no more."""
        client, status = self.sign_in("for the first day")
        self.assertEqual(status, 200)
        self.assertTrue(client.get("/api/v1/session/").json()["user"]["must_change"])
        self.assertEqual(client.get("/api/v1/loops/").json()["code"], "change_password_first")
        for present, password, code in (
            ("not this", "quite another one", "wrong_present_password"),
            ("for the first day", "for the first day", "same_password"),
            ("for the first day", "short", "weak_password"),
        ):
            sent = {"present": present, "password": password}
            answer = client.put("/api/v1/password/", sent, content_type="application/json")
            self.assertEqual(answer.json()["code"], code)
        sent = {"present": "for the first day", "password": "kingfisher-on-the-weir"}
        self.assertEqual(client.put("/api/v1/password/", sent, content_type="application/json").status_code, 204)
        self.assertEqual(client.get("/api/v1/loops/").status_code, 200)
        self.assertEqual(self.sign_in("for the first day")[1], 403)
        self.assertEqual(self.sign_in("kingfisher-on-the-weir")[1], 200)

    def test_who_is_deactivated_is_out_at_once_and_their_entries_stay(self) -> None:
        """Also where a page is open."""
        client, _ = self.sign_in("for the first day")
        User.objects.filter(username="ines").update(must_change=False)
        self.assertEqual(client.get("/api/v1/loops/").status_code, 200)
        answer = self.admin.patch(
            f"/api/v1/accounts/{self.made['id']}/", {"version": 1, "is_active": False}, format="json"
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(client.get("/api/v1/loops/").status_code, 401)
        self.assertEqual(self.sign_in("for the first day")[1], 403)
        self.assertTrue(Change.objects.filter(who__username="ines").exists())

    def test_nobody_locks_themselves_out(self) -> None:
        """Neither by role nor by deactivating; another administrator can."""
        mine = self.people[Role.ADMINISTRATOR]
        for change in ({"role": "technician"}, {"is_active": False}):
            answer = self.admin.patch(f"/api/v1/accounts/{mine.pk}/", {"version": 1, **change}, format="json")
            self.assertEqual((answer.status_code, answer.json()["code"]), (409, "not_oneself"))
        mine.refresh_from_db()
        self.assertEqual((mine.role, mine.is_active, mine.version), (Role.ADMINISTRATOR, True, 1))

    def test_a_stale_change_and_a_taken_name_are_refused(self) -> None:
        """With what is there now."""
        address = f"/api/v1/accounts/{self.made['id']}/"
        self.assertEqual(self.admin.patch(address, {"version": 1, "keeps_shelf": True}, format="json").status_code, 200)
        stale = self.admin.patch(address, {"version": 1, "keeps_shelf": False}, format="json")
        self.assertEqual((stale.status_code, stale.json()["current"]["keeps_shelf"]), (409, True))
        sent = {"username": "ines", "display_name": "x", "role": "checker", "password": "another long one"}
        self.assertEqual(self.admin.post("/api/v1/accounts/", sent, format="json").json()["code"], "name_taken")

    def test_sessions_are_listed_and_ended(self) -> None:
        """One's own by oneself, from another device; nobody else's."""
        User.objects.filter(username="ines").update(must_change=False)
        here, _ = self.sign_in("for the first day")
        there, _ = self.sign_in("for the first day")
        rows = here.get("/api/v1/sign-ins/").json()
        self.assertEqual(sorted(row["is_this"] for row in rows), [False, True])
        other = next(row["id"] for row in rows if not row["is_this"])
        self.assertEqual(self.api.post(f"/api/v1/sign-ins/{other}/end/").status_code, 404)
        self.assertEqual(here.post(f"/api/v1/sign-ins/{other}/end/").status_code, 204)
        self.assertEqual(there.get("/api/v1/loops/").status_code, 401)
        self.assertEqual(len(here.get("/api/v1/sign-ins/").json()), 1)

    def test_a_new_password_keeps_this_session_and_ends_the_others(self) -> None:
        """Also where the other one was used last."""
        User.objects.filter(username="ines").update(must_change=False)
        here, _ = self.sign_in("for the first day")
        there, _ = self.sign_in("for the first day")
        there.get("/api/v1/loops/")
        sent = {"present": "for the first day", "password": "kingfisher-on-the-weir"}
        self.assertEqual(here.put("/api/v1/password/", sent, content_type="application/json").status_code, 204)
        self.assertEqual([row["is_this"] for row in here.get("/api/v1/sign-ins/").json()], [True])
        self.assertEqual(there.get("/api/v1/loops/").status_code, 401)

    def test_a_session_that_ran_out_is_not_listed(self) -> None:
        """Nobody is signed in there any more."""
        User.objects.filter(username="ines").update(must_change=False)
        here, _ = self.sign_in("for the first day")
        self.sign_in("for the first day")
        Session.objects.exclude(session_key=here.session.session_key).update(expire_date=timezone.now())
        self.assertEqual(len(here.get("/api/v1/sign-ins/").json()), 1)

    def test_a_shared_device_is_signed_out_when_idle_and_one_s_own_is_not(self) -> None:
        """A quarter of an hour without a request."""
        User.objects.filter(username="ines").update(must_change=False)
        for is_shared, status in ((True, 401), (False, 200)):
            client, _ = self.sign_in("for the first day", is_shared=is_shared)
            self.assertEqual(client.get("/api/v1/loops/").status_code, 200)
            self.last_seen(client, 16)
            self.assertEqual(client.get("/api/v1/loops/").status_code, status, is_shared)

    def test_whoever_takes_over_a_shared_device_says_so_too(self) -> None:
        """Signing in over another's session empties it; what kind of device it is stays told."""
        client = Client()
        client.force_login(self.people[Role.TECHNICIAN])
        sent = {"username": "ines", "password": "for the first day", "is_shared": True}
        self.assertEqual(client.post("/api/v1/session/", sent, content_type="application/json").status_code, 200)
        self.assertTrue(client.session["is_shared"])
        self.assertTrue(User.objects.get(username="ines").sign_ins.get().is_shared)

    def test_a_page_that_looks_by_itself_keeps_no_session_alive(self) -> None:
        """Somebody at the device does."""
        User.objects.filter(username="ines").update(must_change=False)
        client, _ = self.sign_in("for the first day", is_shared=True)
        for idle_s, is_noted in (("300", False), ("3", True), ("rubbish", True)):
            before = self.last_seen(client, 5)
            self.assertEqual(client.get("/api/v1/loops/", headers={"X-Ember-Idle": idle_s}).status_code, 200)
            seen = SignIn.objects.get(session_key=client.session.session_key).last_seen_at
            self.assertEqual(seen > before, is_noted, idle_s)
        self.last_seen(client, 16)
        self.assertEqual(client.get("/api/v1/loops/", headers={"X-Ember-Idle": "960"}).status_code, 401)


class Trail(ServerTest):
    """Who changed what, for those who answer for it."""

    def test_before_and_after_in_words_and_as_a_table(self) -> None:
        """A changed supply shows both values; the table holds the same; a technician reads neither."""
        self.api.patch(f"/api/v1/sites/{self.site.pk}/", {"version": 1, "v_rms": 238.0}, format="json")
        checker = self.clients[Role.CHECKER]
        row = checker.get("/api/v1/trail/?subject_kind=site&action=changed").json()["results"][0]
        self.assertEqual((row["name"], row["who"]), ("Kestrel Mill", "The technician"))
        self.assertIn({"name": "voltage", "before": "230 V", "after": "238 V"}, row["differs"])
        table = b"".join(checker.get("/api/v1/trail.csv?subject_kind=site").streaming_content).decode()
        self.assertIn("Kestrel Mill", table)
        for address in ("/api/v1/trail/", "/api/v1/trail.csv"):
            self.assertEqual(self.api.get(address).status_code, 403, address)

    def test_a_change_is_told_in_words(self) -> None:
        """Who, which breaker and how many lamps; no key of the database, no name of a column, no structure."""
        tech = self.people[Role.TECHNICIAN]
        address = f"/api/v1/loops/{self.loop.pk}/"
        sent = {"version": self.loop.version, "assigned": str(tech.pk), "circuit": str(self.circuit.pk)}
        self.assertEqual(self.api.patch(address, {**sent, "note": "two_lamps"}, format="json").status_code, 200)
        self.assertEqual(self.keep().status_code, 200)
        rows = self.clients[Role.CHECKER].get("/api/v1/trail/").json()["results"]
        changed = next(row["differs"] for row in rows if row["action"] == "changed")
        self.assertIn({"name": "whose work it is", "before": "", "after": "The technician"}, changed)
        self.assertIn({"name": "note", "before": "", "after": "two_lamps"}, changed)
        kept = next(row for row in rows if row["action"] == "kept")
        self.assertIn("lamps · 1 · number", [line["name"] for line in kept["differs"]])
        self.assertEqual(kept["name"], "Kestrel Mill: Kiln room, gang 1")
        for line in (line for row in rows for line in row["differs"]):
            for told in set(line.values()) - {"two_lamps"}:
                self.assertNotRegex(told, r"[0-9a-f]{8}-[0-9a-f]{4}-|_|[{}\[\]]")

    def test_a_key_within_a_change_is_told_by_name_and_minutes_of_the_day_by_the_clock(self) -> None:
        """When a breaker may be off, of a plan."""
        after = {"windows": {str(self.circuit.pk): [605, None]}}
        who = self.people[Role.TECHNICIAN]
        Change.objects.create(
            who=who, action="changed", subject_kind="plan", subject_id=uuid.uuid4(), before={"windows": {}}, after=after
        )
        row = self.clients[Role.CHECKER].get("/api/v1/trail/?subject_kind=plan").json()["results"][0]
        self.assertEqual(
            row["differs"],
            [{"name": f"when a circuit may be off · {self.circuit}", "before": "", "after": "10:05–…"}],
        )

    def test_no_cell_of_the_table_is_a_formula(self) -> None:
        """A loop named like one."""
        sent = {"site": str(self.site.pk), "name": "=1+1"}
        self.assertEqual(self.api.post("/api/v1/loops/", sent, format="json").status_code, 201)
        table = b"".join(self.clients[Role.CHECKER].get("/api/v1/trail.csv").streaming_content).decode()
        self.assertIn(",'=1+1,", table)
