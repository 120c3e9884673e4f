"""Words found anywhere on record, of one's own sites, whole or in part, with accents or without."""

from __future__ import annotations

import uuid
from typing import Any
from unittest.mock import patch

from accounts.models import Role, User
from bench.services.make_loop import make_loop
from handover.services.search import MOST_A_KIND, SOURCES, around, found_for
from loops.models import Gang
from parts.models import Part
from proving.models import Case
from sites.models import Circuit, LabelCorrection, Site
from survey.models import Photo, Survey
from tests.server.base import ServerTest

Json = dict[str, Any]


class Everywhere(ServerTest):
    """A word in each kind of record that can be made without a whole job."""

    def setUp(self) -> None:
        super().setUp()
        who = self.people[Role.TECHNICIAN]
        path = f"/api/v1/loops/{self.loop.pk}/"
        self.api.patch(path, {"version": 1, "note": "the Zephyrine lamp hums"}, format="json")
        Site.objects.filter(pk=self.site.pk).update(place="behind the zephyrine weir")
        Circuit.objects.filter(pk=self.circuit.pk).update(label_as_found="Zephyrine row")
        LabelCorrection.objects.create(
            circuit=self.circuit, label_before="x", label="Zephyrine kiln", how_found="tried", by=who
        )
        Gang.objects.filter(pk=self.gang.pk).update(name="zephyrine side")
        Survey.objects.update_or_create(loop=self.loop, place=1, defaults={"name": "by the zephyrine door"})
        Photo.objects.create(
            loop=self.loop, moment="before", caption="zephyrine plate", width_px=1, height_px=1, file="x"
        )
        Case.objects.create(
            id=uuid.uuid4(), number=1, loop=self.loop, gang=self.gang, told=[], note="zephyrine at night", by=who
        )
        Part.objects.create(
            category="lamp", kind="rectifier", maker="Fen", name="Zephyrine Six", v_rms=230.0, figures={}
        )

    def find(self, words: str, api: Any = None) -> dict[str, list[Json]]:
        """Rows by kind."""
        answer = (api or self.api).get("/api/v1/search/", {"q": words})
        self.assertEqual(answer.status_code, 200, answer.content)
        return {kind["kind"]: kind["rows"] for kind in answer.json()["kinds"]}

    def test_found_in_every_kind_with_the_words_around(self) -> None:
        """Whatever case, inside of longer text, with loop and site beside it."""
        found = self.find("ZEPHYRINE")
        self.assertEqual(set(found), {"loop", "site", "circuit", "label", "gang", "box", "photo", "case", "part"})
        self.assertEqual(found["loop"][0]["text"], "the Zephyrine lamp hums")
        self.assertEqual((found["case"][0]["loop_name"], found["case"][0]["site_name"]), ("Kiln room", "Kestrel Mill"))
        self.assertEqual((found["circuit"][0]["site_name"], found["circuit"][0]["loop"]), ("Kestrel Mill", None))

    def test_accents_and_parts_of_words(self) -> None:
        """`zephyr` and `zéphyrine` find the same, and show the same words around."""
        self.assertEqual(set(self.find("ephyr")), set(self.find("zéphyrine")))
        self.assertEqual(around("behind the Zéphyrine weir", "zephyrine"), "behind the Zéphyrine weir")
        self.assertEqual(around("behind the Zephyrine weir", "zéphyr"), "behind the Zephyrine weir")
        self.assertEqual(around("behind the weir", "zéphyr"), "")

    def test_every_word_must_be_there(self) -> None:
        """Two words in one record, in any order; one of them elsewhere is not enough."""
        self.assertEqual(set(self.find("hums zephyrine")), {"loop"})
        self.assertEqual(self.find("hums weir"), {})

    def test_of_ones_own_sites_and_what_is_in_sight(self) -> None:
        """A stranger finds the shelf alone; archived photographs, gangs and loops are not found."""
        stranger = self.api.__class__()
        stranger.force_login(User.objects.create(username="stranger", role=Role.TECHNICIAN))
        self.assertEqual(set(self.find("zephyrine", stranger)), {"part"})
        for path in (f"photos/{Photo.objects.get().pk}", f"loops/{self.loop.pk}"):
            self.api.post(f"/api/v1/{path}/archive/", {"reason": "done"}, format="json")
            self.assertNotIn(path.split("/")[0].rstrip("s"), self.find("zephyrine"))
        self.assertEqual(set(self.find("zephyrine")), {"site", "circuit", "label", "part"})

    def test_many_are_counted_and_the_first_shown(self) -> None:
        """More than fit are told as a number; letters alone and nothing find nothing."""
        for k in range(MOST_A_KIND + 3):
            make_loop(None, site=self.site, circuit=None, name=f"Sail {k}", note="zephyrine")
        kinds = {kind["kind"]: kind for kind in self.api.get("/api/v1/search/", {"q": "zephyrine"}).json()["kinds"]}
        self.assertEqual((kinds["loop"]["count"], len(kinds["loop"]["rows"])), (MOST_A_KIND + 4, MOST_A_KIND))
        self.assertEqual(self.find("z"), {})
        self.assertEqual(self.find("% _"), {})
        self.assertEqual(self.find(""), {})
        self.assertEqual(self.api.get("/api/v1/search/", {"q": "z" * 201}).status_code, 400)

    def test_so_many_that_they_are_looked_up_another_way_are_the_same(self) -> None:
        """Just as many as are looked up by their keys, and one more: the same rows, counts and order."""
        for number in range(4):
            Gang.objects.create(loop=self.loop, position=number + 2, name=f"zephyrine {number}", cable={})
        told = []
        for most in (5, 4):
            with patch("handover.services.search.MOST_KEYS", most):
                told.append(self.api.get("/api/v1/search/", {"q": "zephyrine"}).json())
        self.assertEqual(told[0], told[1])
        self.assertEqual([kind["count"] for kind in told[0]["kinds"] if kind["kind"] == "gang"], [5])

    def test_where_nothing_is_found_each_kind_is_asked_once(self) -> None:
        """Who asks, at which sites, and one look at each table: no word of ten thousand loops takes longer."""
        with self.assertNumQueries(len(SOURCES) + 1):
            found_for(self.people[Role.TECHNICIAN], "nowhere to be seen")
        with self.assertNumQueries(0):
            found_for(self.people[Role.TECHNICIAN], "a b")

    def test_each_source_can_be_asked(self) -> None:
        """No kind of record breaks the search, whether it has rows or not."""
        for source in SOURCES:
            self.assertTrue(all(hasattr(source.model, column) for column in source.columns), source.kind)
        self.assertEqual(self.find("nothing has this"), {})
