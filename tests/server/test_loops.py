"""Sites, loops and gangs over the API."""

from __future__ import annotations

import copy
import json
import uuid
from importlib import import_module
from unittest.mock import patch

from django.apps import apps

from accounts.models import Role
from audit.models import Change
from bench.services.make_loop import add_gang, make_loop
from common.plain import plain
from judgements.models import Judgement
from loops.models import FittedControl, Gang, LampGroup, Loop
from sites.models import Circuit
from tests.empty import without
from tests.server.base import BYPASS, CONTROL, LAMP, ServerTest, draft, fit, stated


class FromNothing(ServerTest):
    """A new site, its breaker, its loop."""

    def test_a_loop_from_nothing_to_a_verdict(self) -> None:
        """Site, circuit, loop, gang; the round shows verdict and next step after each."""
        site = self.api.post("/api/v1/sites/", {"name": "Barge", "v_rms": 230, "f_hz": 50}, format="json").json()
        circuit = self.api.post("/api/v1/circuits/", {"site": site["id"], "breaker": "2"}, format="json").json()
        loop = self.api.post(
            "/api/v1/loops/", {"site": site["id"], "circuit": circuit["id"], "name": "Galley"}, format="json"
        ).json()
        self.assertEqual((loop["verdict"], loop["next_step"]), ("unknown", "lamps"))
        gang = loop["gangs"][0]
        answer = self.api.put(
            f"/api/v1/gangs/{gang['id']}/",
            {"version": 1, **draft(control=fit({**CONTROL, "p_min_w": stated(5.0)}))},
            format="json",
        )
        self.assertEqual((answer.status_code, answer.json()["verdict"], answer.json()["version"]), (200, "dark", 2))
        row = self.api.get("/api/v1/loops/", {"search": "galley"}).json()["results"][0]
        self.assertEqual((row["verdict"], row["next_step"], row["breaker"]), ("dark", "route", "2"))

    def test_a_breaker_of_another_site_is_refused(self) -> None:
        """And no loop is made."""
        elsewhere = Circuit.objects.create(site=self.other_site, breaker="12")
        body = {"site": str(self.site.pk), "circuit": str(elsewhere.pk), "name": "Attic"}
        answer = self.api.post("/api/v1/loops/", body, format="json")
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "circuit_of_other_site"))
        self.assertFalse(Loop.objects.filter(name="Attic").exists())

    def test_a_taken_name_is_a_conflict(self) -> None:
        """For sites, breakers and loops alike."""
        for address, body in (
            ("sites", {"name": "Kestrel Mill", "v_rms": 230, "f_hz": 50}),
            ("circuits", {"site": str(self.site.pk), "breaker": "7"}),
            ("loops", {"site": str(self.site.pk), "name": "Kiln room"}),
        ):
            answer = self.api.post(f"/api/v1/{address}/", body, format="json")
            self.assertEqual((answer.status_code, answer.json()["code"]), (409, "name_taken"), address)

    def test_an_impossible_supply_is_refused_at_the_door(self) -> None:
        """600 V is no site's supply."""
        answer = self.api.post("/api/v1/sites/", {"name": "X", "v_rms": 600, "f_hz": 50}, format="json")
        self.assertEqual((answer.status_code, answer.json()["errors"][0]["path"]), (400, "v_rms"))


class Keeping(ServerTest):
    """What is tried becomes the record, or nothing changes."""

    def state(self) -> str:
        """Everything of the gang as text."""
        return json.dumps(self.api.get(f"/api/v1/gangs/{self.gang.pk}/").json(), sort_keys=True)

    def test_keeping_stores_parts_judgement_and_trail(self) -> None:
        """Rows for each part, a snapshot with inputs and core version, and one entry in the trail."""
        self.assertEqual(self.keep().status_code, 200)
        self.assertEqual(LampGroup.objects.get(gang=self.gang).figures, LAMP)
        stored = Judgement.objects.get(gang=self.gang)
        self.assertEqual(stored.sheet["lamps"][0], LAMP)
        self.assertEqual(stored.gang_version, 2)
        self.assertTrue(stored.core_version)
        entry = Change.objects.get(subject_id=self.gang.pk, action="kept")
        self.assertEqual(entry.before["lamps"], [])
        self.assertEqual(entry.after["lamps"][0]["figures"], LAMP)

    def test_trying_stores_nothing(self) -> None:
        """A judgement on the bench leaves no trace."""
        before = self.state()
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/judge/", draft(), format="json")
        self.assertEqual(answer.json()["verdict"], "dark")
        self.assertEqual(self.state(), before)
        self.assertEqual(Judgement.objects.count(), 0)

    def test_a_stale_write_is_refused_with_both_states(self) -> None:
        """The second writer learns what is stored, and the first one's work stands."""
        self.keep()
        before = self.state()
        answer = self.keep(version=1, lamps=[])
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "stale_version"))
        self.assertEqual(answer.json()["current"]["version"], 2)
        self.assertEqual(answer.json()["current"]["lamps"][0]["figures"], LAMP)
        self.assertEqual(self.state(), before)

    def test_a_wrong_figure_changes_nothing(self) -> None:
        """Refused with the path, and the parts that were there still are."""
        self.keep()
        before = self.state()
        wrong = copy.deepcopy(LAMP)
        wrong["v_stop_v"] = 500.0
        answer = self.keep(version=2, lamps=[fit(wrong)])
        self.assertEqual((answer.status_code, answer.json()["errors"][0]["path"]), (422, "lamps[0].v_stop_v"))
        self.assertEqual(self.state(), before)
        self.assertEqual(Judgement.objects.count(), 1)

    def test_an_incomplete_gang_is_kept_as_unknown(self) -> None:
        """Lamps alone are worth keeping; a wrong figure among them still is refused."""
        answer = self.keep(control=None)
        self.assertEqual((answer.status_code, answer.json()["verdict"]), (200, "unknown"))
        self.loop.refresh_from_db()
        self.assertEqual(self.loop.next_step, "control")
        wrong = self.keep(version=2, control=None, lamps=[fit({**LAMP, "count": 0})])
        self.assertEqual((wrong.status_code, wrong.json()["errors"][0]["path"]), (422, "lamps[0].count"))

    def test_nan_is_no_number(self) -> None:
        """The word that Python would read is refused."""
        body = json.dumps({"version": 1, **draft()}).replace("1e-07", "NaN")
        answer = self.api.put(f"/api/v1/gangs/{self.gang.pk}/", body, content_type="application/json")
        self.assertEqual(answer.status_code, 400)

    def test_an_unknown_part_is_refused_and_changes_nothing(self) -> None:
        """A reference to a part that is not on the shelf."""
        before = self.state()
        answer = self.keep(lamps=[{**fit(LAMP), "part": str(uuid.uuid4())}])
        self.assertIn(answer.status_code, (400, 409, 422))
        self.assertEqual(self.state(), before)

    def test_the_worst_gang_makes_the_loop(self) -> None:
        """A dark gang and a blinking one: the loop blinks and wants a remedy."""
        self.keep()
        made = self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/").json()
        early = {**LAMP, "v_start_v": 60.0, "v_stop_v": 30.0}
        body = {"version": 1, **draft(bypasses=[], lamps=[fit(early)])}
        self.api.put(f"/api/v1/gangs/{made['id']}/", body, format="json")
        self.loop.refresh_from_db()
        self.assertEqual((self.loop.verdict, self.loop.next_step), ("blink", "remedy"))

    def test_changing_name_and_breaker_is_versioned_and_trailed(self) -> None:
        """And refused when stale, or without a version."""
        address = f"/api/v1/loops/{self.loop.pk}/"
        self.assertEqual(self.api.patch(address, {"name": "Kiln", "version": 1}, format="json").json()["name"], "Kiln")
        self.assertEqual(self.api.patch(address, {"name": "Oven", "version": 1}, format="json").status_code, 409)
        self.assertEqual(self.api.patch(address, {"name": "Oven"}, format="json").status_code, 400)
        self.assertTrue(Change.objects.filter(subject_id=self.loop.pk, action="changed").exists())

    def test_a_site_is_versioned_too(self) -> None:
        """Stale is refused with what is stored."""
        address = f"/api/v1/sites/{self.site.pk}/"
        self.assertEqual(
            self.api.patch(address, {"place": "by the weir", "version": 1}, format="json").status_code, 200
        )
        stale = self.api.patch(address, {"place": "elsewhere", "version": 1}, format="json")
        self.assertEqual((stale.status_code, stale.json()["current"]["place"]), (409, "by the weir"))


class TheRound(ServerTest):
    """Thousands of rows."""

    def make_many(self, count: int) -> None:
        """Loops straight into the table."""
        loops = [
            Loop(
                site=self.site,
                circuit=self.circuit,
                name=f"Room {k:05d}",
                words=f"Room {k:05d}",
                plain_words=f"room {k:05d}",
                verdict="blink" if k % 3 else "dark",
            )
            for k in range(count)
        ]
        Loop.objects.bulk_create(loops)
        Gang.objects.bulk_create(Gang(loop=loop, position=1) for loop in loops)

    def test_a_page_takes_the_same_queries_for_ten_loops_as_for_a_thousand(self) -> None:
        """Session, user, sites, count, keys and rows of the page: six."""
        for count in (10, 1000):
            without("loops")
            self.make_many(count)
            self.api.get("/api/v1/session/")
            with self.assertNumQueries(6):
                answer = self.api.get("/api/v1/loops/", {"page_size": 50})
            self.assertGreaterEqual(answer.json()["count"], count)

    def test_pages_do_not_overlap_and_miss_nothing(self) -> None:
        """The order is total."""
        self.make_many(130)
        seen = []
        for page in (1, 2, 3):
            rows = self.api.get("/api/v1/loops/", {"page": page, "page_size": 50}).json()["results"]
            seen += [row["id"] for row in rows]
        self.assertEqual((len(seen), len(set(seen))), (131, 131))

    def test_a_page_is_the_same_whether_few_or_many_are_found(self) -> None:
        """Cut from all keys or asked of the database: the same rows in the same order, and no page after the last."""
        self.make_many(30)
        for order in ("name", "recent"):
            asked = {"search": "mill room", "page_size": 7, "page": 2, "order": order}
            of_few = self.api.get("/api/v1/loops/", asked).json()
            with patch("common.paging.FEW", 0):
                of_many = self.api.get("/api/v1/loops/", asked).json()
            self.assertEqual(of_few, of_many)
            self.assertEqual(len(of_few["results"]), 7)
        self.assertEqual(self.api.get("/api/v1/loops/", {**asked, "page": 9999}).status_code, 404)

    def test_search_and_filter_combine(self) -> None:
        """Every word must be found; states add up."""
        self.make_many(30)
        found = self.api.get("/api/v1/loops/", {"search": "mill room 0001", "verdict": "dark"}).json()
        self.assertEqual(found["count"], 3)
        both = self.api.get("/api/v1/loops/?verdict=dark&verdict=blink").json()
        self.assertEqual(both["count"], 30)
        self.assertEqual(self.api.get("/api/v1/loops/", {"search": "7"}).json()["count"], 31)
        self.assertEqual(self.api.get("/api/v1/loops/", {"site": str(self.other_site.pk)}).json()["count"], 0)

    def test_search_finds_parts_people_and_letters_with_or_without_accents(self) -> None:
        """A lamp by a piece of its label, whoever kept it, é by e, what a breaker feeds; the old name no more."""
        lamp = {**fit(LAMP), "label": "Candle of the Ferry works"}
        self.assertEqual(self.keep(lamps=[lamp]).status_code, 200)
        self.api.patch(f"/api/v1/loops/{self.loop.pk}/", {"version": 1, "name": "Café Ångström"}, format="json")
        for words in ("andle fer", "cafe", "angstrom", "CAFÉ", "technician", "kestrel", "7"):
            found = self.api.get("/api/v1/loops/", {"search": words}).json()
            self.assertEqual([row["name"] for row in found["results"]], ["Café Ångström"], words)
        for words in ("Kiln room", "cafe nowhere", "larkspur", "caf_", "%"):
            self.assertEqual(self.api.get("/api/v1/loops/", {"search": words}).json()["count"], 0, words)

    def test_letters_that_are_one_to_a_reader_are_one_to_the_search(self) -> None:
        """Each finds what is written with the other: case, accents apart or in one, strokes, ligatures."""
        pairs = (
            ("STRASSE", "Straße"),
            ("Smørrebrød", "smorrebrod"),
            ("Łódź", "lodz"),
            ("Œuvre", "oeuvre"),
            ("Ⅳ", "iv"),
        )
        for one, other in (*pairs, ("e\u0301tage", "ÉTAGE"), ("fi", "ﬁ"), ("k\u212b", "kå"), ("İZMİR", "izmir")):
            for written, sought in ((one, other), (other, one)):
                version = Loop.objects.get(pk=self.loop.pk).version
                asked = {"version": version, "note": f"beside {written} 2"}
                self.api.patch(f"/api/v1/loops/{self.loop.pk}/", asked, format="json")
                found = self.api.get("/api/v1/loops/", {"search": sought}).json()
                self.assertEqual(found["count"], 1, (written, sought))

    def test_no_search_finds_other_than_the_words_as_they_are_shown(self) -> None:
        """The plain words follow every change of the shown ones: made, renamed, given to somebody, kept, copied in."""
        who = self.people[Role.TECHNICIAN]
        path = f"/api/v1/loops/{self.loop.pk}/"
        for change in ({"name": "Öfen"}, {"note": "Größer"}, {"assigned": str(who.pk)}, {"note": ""}):
            version = Loop.objects.get(pk=self.loop.pk).version
            self.assertEqual(self.api.patch(path, {**change, "version": version}, format="json").status_code, 200)
            loop = Loop.objects.get(pk=self.loop.pk)
            self.assertEqual(loop.plain_words, plain(loop.words), change)
        self.assertIn("the technician", loop.plain_words)
        self.assertEqual(self.keep(lamps=[{**fit(LAMP), "label": "Käfig"}]).status_code, 200)
        self.assertIn("kafig", Loop.objects.get(pk=self.loop.pk).plain_words)

    def test_loops_of_before_get_their_plain_words(self) -> None:
        """What the upgrade fills in is what keeping them would."""
        Loop.objects.filter(pk=self.loop.pk).update(words="Café Ångström", plain_words="")
        import_module("loops.migrations.0017_plain_words").fill(apps, None)
        self.assertEqual(Loop.objects.get(pk=self.loop.pk).plain_words, "cafe angstrom")

    def test_no_two_gangs_of_a_loop_get_one_name(self) -> None:
        """Whatever its case; nothing is kept then. No name, the own one, and that of an archived gang are free."""
        self.assertEqual(self.keep(name="Spots").status_code, 200)
        second, third = add_gang(None, self.loop.pk), add_gang(None, self.loop.pk)
        for _ in range(2):
            path = f"/api/v1/gangs/{second.pk}/"
            refused = self.api.put(path, {"version": 1, **draft(name="spots")}, format="json")
            self.assertEqual((refused.status_code, refused.json()["code"]), (409, "gang_name_taken"))
            second.refresh_from_db()
            self.assertEqual((second.version, second.name, second.lamps.count()), (1, "", 0))
        self.assertEqual(self.api.put(path, {"version": 1, **draft()}, format="json").status_code, 200)
        free = self.api.put(f"/api/v1/gangs/{third.pk}/", {"version": 1, **draft()}, format="json")
        self.assertEqual(free.status_code, 200)
        self.assertEqual(self.keep(version=2, name="Spots").status_code, 200)
        gone = self.api.post(f"/api/v1/gangs/{self.gang.pk}/archive/", {"reason": "no such output"}, format="json")
        self.assertEqual(gone.status_code, 200, gone.content)
        self.assertEqual(self.api.put(path, {"version": 2, **draft(name="spots")}, format="json").status_code, 200)

    def test_a_loop_with_six_gangs_takes_no_more_queries_than_with_one(self) -> None:
        """Gangs and their parts come along."""
        self.keep()
        for _ in range(5):
            self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/")
        with self.assertNumQueries(9):
            answer = self.api.get(f"/api/v1/loops/{self.loop.pk}/")
        self.assertEqual(len(answer.json()["gangs"]), 6)
        self.assertEqual(self.api.post(f"/api/v1/loops/{self.loop.pk}/gangs/").status_code, 422)


class Fits(ServerTest):
    """Parts on a gang are copies."""

    def test_a_bypass_kept_twice_is_two_rows_in_order(self) -> None:
        """And removing one leaves the other."""
        second = {**BYPASS, "c_f": 2.2e-7}
        self.keep(bypasses=[fit(BYPASS), fit(second)])
        kept = self.keep(version=2, bypasses=[fit(second)]).json()
        self.assertEqual([item["figures"]["c_f"] for item in kept["bypasses"]], [2.2e-7])

    def test_removing_the_control_removes_its_row(self) -> None:
        """No orphan stays."""
        self.keep()
        self.keep(version=2, control=None)
        self.assertFalse(FittedControl.objects.filter(gang=self.gang).exists())


class Order(ServerTest):
    """The round in another order."""

    def names(self, order: str) -> list[str]:
        """As listed."""
        answer = self.api.get("/api/v1/loops/", {"order": order})
        self.assertEqual(answer.status_code, 200)
        return [row["name"] for row in answer.json()["results"]]

    def test_by_breaker_a_number_counts_and_what_has_none_comes_last(self) -> None:
        """Site by site: 2 before 7 before 10."""
        for breaker in ("10", "2"):
            circuit = Circuit.objects.create(site=self.site, breaker=breaker)
            make_loop(None, site=self.site, circuit=circuit, name=f"Breaker {breaker}")
        make_loop(None, site=self.site, circuit=None, name="A loose end")
        self.assertEqual(self.names("breaker"), ["Breaker 2", "Kiln room", "Breaker 10", "A loose end"])

    def test_worst_first_and_latest_first(self) -> None:
        """What does not work before what is not judged before what works."""
        for name, works in (("Fine", "works"), ("Bad", "does_not"), ("Open", "unknown"), ("Doubt", "not_sure")):
            loop = make_loop(None, site=self.site, circuit=None, name=name)
            Loop.objects.filter(pk=loop.pk).update(works=works)
        self.assertEqual(self.names("worst"), ["Bad", "Doubt", "Kiln room", "Open", "Fine"])
        self.assertEqual(self.names("recent")[0], "Doubt")

    def test_an_unknown_order_is_refused(self) -> None:
        """By the name of what is wrong."""
        self.assertEqual(self.api.get("/api/v1/loops/", {"order": "fancy"}).status_code, 400)
