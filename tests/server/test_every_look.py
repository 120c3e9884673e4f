"""What holds of every look at a draft alike: who may, what is refused, and that nothing is ever stored."""

from __future__ import annotations

from typing import Any

from django.test import tag

from accounts.models import Role
from audit.models import Change
from judgements.models import Judgement
from loops.models import Gang
from tests.server.base import BYPASS, CONTROL, LAMP, ServerTest, draft, fit

Json = dict[str, Any]
DRIVER = {**LAMP, "kind": "dimmable_driver", "count": 2}
# Every look, with what it needs beside the draft.
LOOKS: dict[str, Json] = {
    "judge": {},
    "spread": {"samples": 8},
    "narrow": {"readings": [{"kind": "lamp_v", "value": 40.0}]},
    "least-load": {},
    "choose": {},
    "after-fitting": {"readings": [{"kind": "seen", "seen": "dark"}]},
    "predict": {},
    "sweep": {"path": "lamps[0].v_start_v"},
    "together": {},
    "loads": {},
    "cures": {},
    "lit": {},
    "lit-band": {},
}


class EveryLook(ServerTest):
    """One gang."""

    def ask(self, look: str, given: Json, client: Any = None) -> Any:
        return (client or self.api).post(f"/api/v1/gangs/{self.gang.pk}/{look}/", {**given, **LOOKS[look]})

    def test_every_role_may_look(self) -> None:
        """Computing changes nothing, so a checker and an administrator may as well."""
        for look in ("judge", "loads", "lit"):
            for role in Role.values:
                self.assertEqual(self.ask(look, draft(), self.clients[role]).status_code, 200, (look, role))

    @tag("long")
    def test_nothing_is_stored(self) -> None:
        """No judgement, no change of the gang, no line in the trail, whatever is looked at."""
        before = (Judgement.objects.count(), Change.objects.count(), Gang.objects.get(pk=self.gang.pk).version)
        for look in LOOKS:
            answer = self.ask(look, draft(lamps=[fit(LAMP)]))
            self.assertIn(answer.status_code, (200, 422), (look, answer.content))
        after = (Judgement.objects.count(), Change.objects.count(), Gang.objects.get(pk=self.gang.pk).version)
        self.assertEqual(before, after)

    def test_a_draft_that_lacks_lamps_or_control_is_told_what(self) -> None:
        """By path; judging alone answers that something is missing."""
        for look in LOOKS:
            for lacking, path in ((draft(lamps=[]), "lamps"), (draft(control=None), "control")):
                answer = self.ask(look, lacking)
                if look in ("judge", "together"):
                    self.assertEqual(answer.status_code, 200, look)
                    continue
                self.assertEqual(answer.status_code, 422, (look, answer.content))
                self.assertIn(path, [error["path"] for error in answer.json()["errors"]], look)

    def test_a_figure_out_of_bounds_is_refused_with_its_path(self) -> None:
        """The same path and code whatever is looked at; a box with a single gang has nothing to judge together."""
        wrong = draft(lamps=[fit({**LAMP, "c_bulk_f": 5.0})])
        for look in set(LOOKS) - {"together"}:
            answer = self.ask(look, wrong)
            self.assertEqual(answer.status_code, 422, look)
            errors = [(error["code"], error["path"]) for error in answer.json()["errors"]]
            self.assertIn(("out_of_bounds", "lamps[0].c_bulk_f"), errors, look)

    def test_a_gang_that_is_not_there(self) -> None:
        """404 as a problem."""
        for look in LOOKS:
            answer = self.api.post(f"/api/v1/gangs/00000000-0000-4000-8000-000000000000/{look}/", draft())
            self.assertEqual((answer.status_code, answer["Content-Type"]), (404, "application/problem+json"), look)


class Kept(ServerTest):
    """Place and trims on a gang."""

    PLACE: Json = {"where": "junction_box", "name": "loft", "has_both_conductors": True}
    TRIMS: Json = {"drop_out_deg": 22.0, "least_deg": 30.0}

    def keep(self, version: int, **changes: Any) -> Any:
        return self.api.put(f"/api/v1/gangs/{self.gang.pk}/", {"version": version, **draft(**changes)})

    def test_they_come_back_whole(self) -> None:
        """What nobody looked at as null."""
        kept = self.keep(1, place=self.PLACE, trims=self.TRIMS).json()
        self.assertEqual(kept["place"]["name"], "loft")
        self.assertIsNone(kept["place"]["is_reachable"])
        self.assertEqual((kept["trims"]["drop_out_deg"], kept["trims"]["top_deg"]), (22.0, None))

    def test_left_out_they_are_gone(self) -> None:
        """The gang is one document: keeping it without them takes them away."""
        self.keep(1, place=self.PLACE, trims=self.TRIMS)
        kept = self.keep(2).json()
        self.assertEqual((kept["place"], kept["trims"]), (None, None))

    def test_a_stale_write_changes_neither(self) -> None:
        """409 with what is stored now; the place of the other stays."""
        self.keep(1, place=self.PLACE, trims=self.TRIMS)
        stale = self.keep(1, place={**self.PLACE, "name": "cellar"})
        self.assertEqual(stale.status_code, 409)
        self.assertEqual(stale.json()["current"]["place"]["name"], "loft")
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).place["name"], "loft")

    def test_the_trail_tells_who_moved_the_bypass(self) -> None:
        """Before and after are whole documents."""
        self.keep(1, place=self.PLACE)
        self.keep(2, place={**self.PLACE, "where": "luminaire"})
        change = Change.objects.order_by("-at").first()
        assert change is not None
        self.assertEqual(change.before["place"]["where"], "junction_box")
        self.assertEqual(change.after["place"]["where"], "luminaire")

    def test_a_place_that_cannot_be_is_refused(self) -> None:
        """An unknown kind of place, a name too long, a room of a kilometre."""
        for place, path in (
            ({"where": "cupboard"}, "place.where"),
            ({"name": "x" * 61}, "place.name"),
            ({"room_m": 1000.0}, "place.room_m"),
        ):
            refused = self.keep(1, place=place)
            self.assertEqual(refused.status_code, 400)
            self.assertEqual(refused.json()["errors"][0]["path"], path)
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).version, 1)

    def test_a_word_of_a_part_is_kept_as_given_and_checked(self) -> None:
        """A phase mode as word or place; a made-up one changes nothing."""
        control = {**CONTROL, "phase": "leading"}
        kept = self.keep(1, control=fit(control), bypasses=[fit(BYPASS)], lamps=[fit({**DRIVER, "dimming": 3})])
        self.assertEqual(kept.status_code, 200, kept.content)
        self.assertEqual(kept.json()["control"]["figures"]["phase"], "leading")
        refused = self.keep(2, lamps=[fit({**DRIVER, "dimming": "sometimes"})])
        self.assertEqual((refused.status_code, refused.json()["errors"][0]["code"]), (422, "unknown_word"))
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).version, 2)
