"""The shelf over the API: sources, files in and out, bench tests that serve every loop, typical lamps."""

from __future__ import annotations

import csv
import io
import json
import uuid
from typing import Any

from accounts.models import Role
from audit.models import Change
from demo import shelf
from ember_core.catalogue.formats import write_document, write_table
from ember_core.parts import LAMP_CLASSES
from loops.models import Gang
from parts.models import Part
from parts.services.entries import make_part
from tests.empty import SHELF, without
from tests.server.base import ServerTest, do_jobs, draft

Json = dict[str, Any]


class ShelfTest(ServerTest):
    """The demo's parts on the shelf of one mill."""

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        for entry in shelf.entries():
            make_part(None, entry)
        cls.candle = Part.objects.get(name="Candle 4 W dimmable")

    def detail(self, part: Part) -> Json:
        return self.api.get(f"/api/v1/parts/{part.pk}/").json()

    def serve(self) -> Json:
        """The candle's figures for all that hold it, to the end."""
        sent = {"id": str(uuid.uuid4()), "kind": "serve", "part": str(self.candle.pk)}
        self.assertEqual(self.api.post("/api/v1/jobs/", sent, format="json").status_code, 201)
        do_jobs()
        job: Json = next(row for row in self.api.get("/api/v1/jobs/").json() if row["id"] == sent["id"])
        return job

    def test_the_demo_shelf_spans_every_category_with_a_source_for_every_figure(self) -> None:
        """At least 60 parts, every category and input stage among them, no figure without source and place."""
        self.assertGreaterEqual(Part.objects.count(), 60)
        self.assertEqual(
            set(Part.objects.values_list("category", flat=True)),
            {"lamp", "control", "bypass", "cable", "box", "spacer"},
        )
        kinds = set(Part.objects.filter(category="lamp").values_list("kind", flat=True))
        self.assertEqual(kinds, {part_class.kind for part_class in LAMP_CLASSES} | {"smart"})
        for part in Part.objects.prefetch_related("claims"):
            for claim in part.claims.all():
                self.assertTrue(claim.where, (part.name, claim.field))

    def test_contradicting_sources_are_both_kept_and_one_is_in_use(self) -> None:
        """Leaflet and bench differ on a start threshold: both are shown, the leaflet's is calculated with."""
        claims = [claim for claim in self.detail(self.candle)["claims"] if claim["field"] == "v_start_v"]
        self.assertEqual(
            {(claim["source"], claim["in_use"]) for claim in claims},
            {("declared", True), ("measured", False)},
        )
        self.assertEqual(self.candle.figures["v_start_v"]["source"], "declared")

    def test_another_source_is_taken_into_use(self) -> None:
        """The bench value is chosen: the piece changes, the leaflet's stays on record, the trail says who."""
        shown = self.detail(self.candle)
        bench = next(claim for claim in shown["claims"] if claim["source"] == "measured")
        answer = self.api.post(
            f"/api/v1/parts/{self.candle.pk}/use/", {"version": shown["version"], "claim": bench["id"]}
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.candle.refresh_from_db()
        self.assertEqual(self.candle.figures["v_start_v"]["typical"], 82.0)
        self.assertEqual(sum(claim["field"] == "v_start_v" for claim in answer.json()["claims"]), 2)
        change = Change.objects.filter(subject_id=self.candle.pk).first()
        self.assertEqual((change.action, change.who), ("changed", self.people[Role.TECHNICIAN]))

    def test_a_bench_test_serves_every_loop_that_uses_the_lamp(self) -> None:
        """A measured threshold is added on the shelf; the gang that holds the lamp is told and judged anew with it."""
        lamp = {
            "part": str(self.candle.pk),
            "label": "candle",
            "status": "fitted",
            "figures": {**self.candle.figures, "count": 3},
        }
        self.keep(lamps=[lamp])
        self.assertFalse(self.detail(self.candle)["uses"][0]["differs"])
        version = self.detail(self.candle)["version"]
        test = {
            "field": "v_start_v",
            "low": 70.0,
            "typical": 72.0,
            "high": 74.0,
            "source": "measured",
            "where": "bench",
        }
        answer = self.api.post(f"/api/v1/parts/{self.candle.pk}/claims/", {"version": version, **test})
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertTrue(answer.json()["uses"][0]["differs"])
        served = self.serve()
        self.assertEqual((served["changed"], served["refused"], served["state"]), (1, [], "done"))
        gang = Gang.objects.get(pk=self.gang.pk)
        figures = gang.lamps.get().figures
        self.assertEqual((figures["v_start_v"]["typical"], figures["count"]), (72.0, 3))
        self.assertEqual(gang.version, 3)
        self.assertEqual(self.serve()["changed"], 0)

    def test_bad_and_stale_sources_change_nothing(self) -> None:
        """Out of bounds, a figure the kind lacks, an old version, a stop above the start: refused, with code."""
        part = self.detail(self.candle)
        claim = {"low": 70.0, "typical": 72.0, "high": 74.0, "source": "measured", "where": "bench"}
        for changed, status, code in (
            ({"field": "v_start_v", "version": 99}, 409, "stale_version"),
            ({"field": "wattage"}, 422, "unknown_key"),
            ({"field": "v_start_v", "high": 9000.0}, 422, "out_of_bounds"),
            ({"field": "v_stop_v", "low": 300.0, "typical": 310.0, "high": 320.0}, 422, "stop_not_below_start"),
        ):
            sent = {"version": part["version"], **claim, **changed}
            answer = self.api.post(f"/api/v1/parts/{self.candle.pk}/claims/", sent)
            self.assertEqual(answer.status_code, status, answer.content)
            self.assertIn(code, [answer.json()["code"], *(error["code"] for error in answer.json()["errors"])])
        self.assertEqual(self.detail(self.candle), part)

    def test_who_checks_may_read_but_not_write(self) -> None:
        """A checker sees the shelf and its export, and is refused every change."""
        checker = self.clients[Role.CHECKER]
        self.assertEqual(checker.get(f"/api/v1/parts/{self.candle.pk}/").status_code, 200)
        self.assertEqual(checker.get("/api/v1/parts.csv").status_code, 200)
        for path in ("jobs/", "parts/import/", f"parts/{self.candle.pk}/claims/", "parts/"):
            self.assertEqual(checker.post(f"/api/v1/{path}", {}).status_code, 403)

    def test_a_part_is_made_from_nothing(self) -> None:
        """A box by hand; the same name again is refused."""
        claim = {"low": 0.03, "typical": 0.03, "high": 0.03, "source": "measured", "where": "rule"}
        box = {
            "maker": "Hobmoor",
            "name": "Odd box",
            "category": "box",
            "kind": "box",
            "claims": [{"field": name, **claim} for name in ("depth_m", "width_m", "height_m")],
        }
        self.assertEqual(self.api.post("/api/v1/parts/", box).status_code, 201)
        self.assertEqual(self.api.post("/api/v1/parts/", box).json()["code"], "name_taken")
        lacking = self.api.post("/api/v1/parts/", {**box, "name": "Half box", "claims": box["claims"][:2]})
        self.assertEqual([error["code"] for error in lacking.json()["errors"]], ["missing"])


class FilesTest(ShelfTest):
    """Files in and out."""

    def imported(self, text: str, form: str, *, apply: bool) -> Any:
        return self.api.post("/api/v1/parts/import/", {"text": text, "format": form, "apply": apply})

    def test_the_shelf_comes_back_from_both_files_and_changes_nothing(self) -> None:
        """What is exported, imported again, finds every part unchanged, also when applied."""
        changes = Change.objects.count()
        for form in ("csv", "json"):
            text = self.api.get(f"/api/v1/parts.{form}").content.decode()
            for apply in (False, True):
                answer = self.imported(text, form, apply=apply).json()
                self.assertEqual((answer["new"], answer["changed"], answer["bad"]), ([], [], []))
                self.assertEqual(answer["unchanged"], Part.objects.count())
        self.assertEqual(Change.objects.count(), changes)

    def test_a_new_and_a_changed_part_are_seen_before_they_are_taken(self) -> None:
        """The look names them and stores nothing; applied once it stores them; applied twice it changes nothing."""
        text = self.api.get("/api/v1/parts.csv").content.decode()
        rows = list(csv.reader(io.StringIO(text)))
        mine = [row for row in rows if row[1] == "Pygmy 2 W"]
        own = [[row[0], "Pygmy 3 W", *row[2:]] for row in mine]
        for row in mine:
            row[5] = "read again"
        out = io.StringIO()
        csv.writer(out).writerows([rows[0], *mine, *own])
        look = self.imported(out.getvalue(), "csv", apply=False).json()
        self.assertEqual((look["new"], look["changed"]), (["Oxlip Works Pygmy 3 W"], ["Oxlip Works Pygmy 2 W"]))
        self.assertFalse(Part.objects.filter(name="Pygmy 3 W").exists())
        self.assertTrue(self.imported(out.getvalue(), "csv", apply=True).json()["is_applied"])
        self.assertEqual(Part.objects.get(name="Pygmy 2 W").note, "read again")
        changes = Change.objects.count()
        again = self.imported(out.getvalue(), "csv", apply=True).json()
        self.assertEqual((again["new"], again["changed"], again["unchanged"]), ([], [], 2))
        self.assertEqual(Change.objects.count(), changes)

    def test_one_bad_row_keeps_the_whole_file_out(self) -> None:
        """Each bad row is told by line, column and reason in words; nothing of the good rows is stored."""
        entries = [entry for entry in shelf.entries() if entry.name in ("Spacer 10 mm", "Spacer 15 mm")]
        without(*SHELF)
        text = write_table(entries).replace("0.015", "a little", 1)
        look = self.imported(text, "csv", apply=False).json()
        self.assertEqual([(row["line"], row["column"]) for row in look["bad"]], [(3, "low")])
        self.assertTrue(all(row["text"] for row in look["bad"]))
        refused = self.imported(text, "csv", apply=True)
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "import_refused"))
        self.assertFalse(Part.objects.filter(name="Spacer 10 mm").exists())

    def test_a_bad_document_names_part_and_path(self) -> None:
        """JSON: the number of the part and the figure."""
        given = json.loads(write_document(shelf.entries()[:2]))
        given["parts"][1]["figures"][0]["typical"] = "much"
        look = self.imported(json.dumps(given), "json", apply=False).json()
        self.assertEqual([(row["line"], row["column"]) for row in look["bad"]], [(2, "figures[0].typical")])


class TypicalTest(ServerTest):
    """Lamps of which only the class is known."""

    def test_a_class_gives_a_lamp_with_assumed_ranges(self) -> None:
        """Each stage of the mains' class makes a lamp that the gang can be judged with."""
        stages = self.api.get("/api/v1/stages/", {"v_rms": 230}).json()
        self.assertGreaterEqual(len(stages), 8)
        for stage in stages:
            self.assertTrue(stage["text"])
            asked = {"stage": stage["stage"], "v_rms": 230.0, "f_hz": 50.0}
            figures = self.api.post("/api/v1/typical-lamp/", asked).json()["figures"]
            lamp = {"part": None, "label": "", "status": "planned", "figures": {**figures, "count": 2}}
            answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/judge/", draft(lamps=[lamp]))
            self.assertEqual(answer.status_code, 200, answer.content)

    def test_watts_beyond_the_class_are_refused(self) -> None:
        """With the place and the bounds in words."""
        answer = self.api.post("/api/v1/typical-lamp/", {"stage": "linear", "v_rms": 230.0, "f_hz": 50.0, "p_w": 900.0})
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(answer.json()["errors"][0]["path"], "p_w")

    def test_a_smart_lamp_is_refused_with_its_reason(self) -> None:
        """On the bench the lamp is named and the reason told."""
        lamp = {"part": None, "label": "", "status": "planned", "figures": {"kind": "smart", "count": 1}}
        answer = self.api.post(f"/api/v1/gangs/{self.gang.pk}/judge/", draft(lamps=[lamp]))
        self.assertEqual(answer.json()["errors"][0]["code"], "smart_lamp_refused")
        self.assertIn("two-wire", answer.json()["errors"][0]["text"])
