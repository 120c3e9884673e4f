"""Sites and loops out of one copy and into another: the same content, nothing unasked, hostile or half."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import re
import uuid
import zipfile
from collections.abc import Callable
from typing import Any
from unittest import mock

import jsonschema
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db.models import F
from django.test import TestCase, override_settings, tag
from django.utils import timezone, translation
from PIL import Image
from rest_framework.test import APIClient

from accounts.models import Role, SignIn, User
from audit.models import Change
from bench.services.keep_gang import update_loop
from bench.services.make_loop import make_loop
from bundle.tables import TABLES, TRAIL
from bundle.telling import told_columns
from bundle.zipped import content_digest
from handover.models import Issue, Signature
from handover.services.issuing import faults_of
from loops.models import FittedControl, Gang, Loop, MeasuredValue
from parts.models import Part
from sites.models import Circuit, Site
from survey.models import Isolation, Lock, Notice, Photo, Survey
from tests.demo_copy import load_once
from tests.server.base import load_whole_demo
from tests.server.test_handover import HandoverTest
from visits.models import VanItem
from wording.texts import catalogue
from work.models import TaskRange

Json = dict[str, Any]
Files = dict[str, bytes]


def packed(files: Files) -> bytes:
    """Files as a zip."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return made.getvalue()


def with_digests(files: Files) -> Files:
    """The same files under a manifest that fits them, as a forger makes it."""
    manifest = json.loads(files["manifest.json"])
    manifest["files"] = [
        {"name": key, "bytes": len(content), "sha256": hashlib.sha256(content).hexdigest()}
        for key, content in files.items()
        if key not in ("manifest.json", "SHA256SUMS")
    ]
    manifest["content_sha256"] = content_digest(manifest["files"])
    return {**files, "manifest.json": json.dumps(manifest).encode()}


def changed(files: Files, table: str, change: Callable[[list[Json]], None]) -> Files:
    """A bundle of which one table was changed, with digests made anew."""
    rows = json.loads(files[f"data/{table}.json"])
    change(rows)
    return with_digests({**files, f"data/{table}.json": json.dumps(rows).encode()})


def content(files: Files) -> list[tuple[str, str]]:
    """What a bundle holds, without when it was made."""
    return sorted((one["name"], one["sha256"]) for one in json.loads(files["manifest.json"])["files"])


def empty() -> None:
    """A copy that knows nothing of any site, part, or person but administrators."""
    for table in (TRAIL, *reversed(TABLES)):
        for nest in table.nests:
            nest.model._base_manager.all().delete()
        for one in table.model._meta.many_to_many:
            getattr(table.model, one.name).through.objects.all().delete()
        rows = table.model._base_manager.all()
        if table.name == "drawings":
            rows.update(corrects=None)
        rows._raw_delete(rows.db)
    for model in (SignIn, Notice):
        model.objects.all().delete()
    for settings_of in (TaskRange, VanItem):
        settings_of.objects.update(by=None)
    User.objects.exclude(role=Role.ADMINISTRATOR).delete()


def signed_in(person: User) -> APIClient:
    """A client of somebody."""
    api = APIClient(enforce_csrf_checks=False)
    api.force_login(person)
    return api


class Bundles(TestCase):
    """Bundles, for whoever is `office`."""

    office: Any

    def fetch(self, path: str, api: Any = None) -> Files:
        """A bundle as its files."""
        answer = (api or self.office).get(f"/api/v1/{path}/bundle.zip")
        self.assertEqual(answer.status_code, 200)
        archive = zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))
        return {name: archive.read(name) for name in archive.namelist()}

    def send(self, files: Files | bytes, *, apply: bool = False, take: str = "", api: Any = None) -> Any:
        """A bundle handed in."""
        whole = files if isinstance(files, bytes) else packed(files)
        body = {"file": SimpleUploadedFile("mill.zip", whole), "apply": apply, "take": take}
        return (api or self.office).post("/api/v1/bundles/", body, format="multipart")

    def look(self, files: Files, **more: Any) -> Json:
        """What a bundle would do, or did."""
        answer = self.send(files, **more)
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())

    def refused(self, answer: Any, code: str, status: int = 422) -> None:
        """With this code, in words."""
        self.assertEqual((answer.status_code, answer.json()["code"]), (status, code), answer.content)
        self.assertNotIn("{", answer.json()["errors"][0]["text"])


@tag("whole")
@override_settings(DEMO=True)
class WholeScenario(Bundles):
    """Everything that ships as an example."""

    @classmethod
    def setUpTestData(cls) -> None:
        load_once("whole", load_whole_demo)
        now = timezone.now()
        Isolation.objects.filter(closed_at=None).update(closed_at=now, closed_made_at=now)
        Lock.objects.filter(off_at=None).update(off_at=now)

    def setUp(self) -> None:
        self.office = signed_in(User.objects.get(role=Role.ADMINISTRATOR))

    def test_out_in_and_out_again_is_the_same(self) -> None:
        """Both sites into a copy that knows nothing, and out of it again: every table, picture and page alike."""
        sites = list(Site.objects.order_by("name"))
        before = {site.pk: self.fetch(f"sites/{site.pk}") for site in sites}
        stages = {loop.pk: (loop.stage, loop.next_step, loop.verdict) for loop in Loop.everything.all()}
        counts = {table.name: table.model._base_manager.count() for table in (*TABLES, TRAIL)}
        empty()
        self.assertFalse(Loop.everything.exists() or Part.objects.exists())
        for files in before.values():
            looked = self.look(files)
            self.assertEqual((looked["obstacles"], looked["differences"], looked["is_applied"]), ([], [], False))
            self.assertFalse(Site.objects.filter(name=looked["site"]).exists())
            self.assertTrue(self.look(files, apply=True)["is_applied"])
        for site in sites:
            self.assertEqual(content(self.fetch(f"sites/{site.pk}")), content(before[site.pk]), site.name)
        self.assertEqual(
            {loop.pk: (loop.stage, loop.next_step, loop.verdict) for loop in Loop.everything.all()}, stages
        )
        self.assertEqual([fault for issue in Issue.objects.all() for fault in faults_of(issue)], [])
        # What is on the shelf and in no loop stays at home, and so does what the copy did for itself.
        for table in TABLES:
            if table.model is not Part:
                self.assertEqual(table.model._base_manager.count(), counts[table.name], table.name)
        self.assertGreater(sum(counts.values()), 500)

    def test_each_loop_goes_alone_too(self) -> None:
        """One loop with what it leans on, into an empty copy and out again; then the whole site beside it."""
        site = Site.objects.get(name="Kestrel Mill")
        whole = self.fetch(f"sites/{site.pk}")
        alone = {loop.pk: self.fetch(f"loops/{loop.pk}") for loop in site.loops.exclude(routes=None)}
        self.assertGreater(len(alone), 2)
        empty()
        for pk, files in alone.items():
            self.assertEqual(self.look(files)["obstacles"], [])
            self.assertTrue(self.look(files, apply=True)["is_applied"])
            self.assertEqual(content(self.fetch(f"loops/{pk}")), content(files))
        looked = self.look(whole, apply=True)
        self.assertTrue(looked["is_applied"])
        self.assertEqual(looked["differences"], [])

    def test_what_a_bundle_says_of_itself(self) -> None:
        """Each table holds to the schema beside it, its CSV has as many rows; the digests are those of the files."""
        site = Site.objects.get(name="Kestrel Mill")
        files = self.fetch(f"sites/{site.pk}")
        schema = json.loads(files["schema.json"])
        rows_seen = 0
        for name, shape in schema["$defs"].items():
            rows = json.loads(files[f"data/{name}.json"])
            jsonschema.Draft202012Validator(shape).validate(rows)
            table = list(csv.reader(io.StringIO(files[f"csv/{name}.csv"].decode())))
            self.assertEqual(max(len(table) - 1, 0), len(rows), name)
            rows_seen += len(rows)
        self.assertGreater(rows_seen, 300)
        sums = dict(reversed(line.split("  ", 1)) for line in files["SHA256SUMS"].decode().splitlines())
        self.assertEqual(
            sums,
            {
                name: hashlib.sha256(content).hexdigest()
                for name, content in files.items()
                if name not in ("SHA256SUMS", "manifest.json")
            },
        )
        self.assertNotIn("password", files["data/people.json"].decode())


@tag("long")
class Rules(HandoverTest, Bundles):
    """A loop that was handed over, and what a bundle of it may do."""

    def prepare(self) -> None:
        """Proved, issued, signed, with a photograph."""
        picture = io.BytesIO()
        Image.new("RGB", (60, 40), (90, 120, 30)).save(picture, "PNG")
        body = {
            "id": str(uuid.uuid4()),
            "place": 1,
            "moment": "after",
            "caption": "plate",
            "file": SimpleUploadedFile("plate.png", picture.getvalue(), "image/png"),
        }
        self.assertEqual(self.api.post(self.at("photos/"), body, format="multipart").status_code, 201)
        self.assertEqual(self.issue().status_code, 201)
        self.assertEqual(self.sign("technician").status_code, 201)
        self.assertEqual(self.sign("client", name="Ida Marl").status_code, 201)
        now = timezone.now()
        Isolation.objects.filter(closed_at=None).update(closed_at=now, closed_made_at=now)
        Lock.objects.filter(off_at=None).update(off_at=now)

    def setUp(self) -> None:
        super().setUp()
        self.office = self.clients[Role.ADMINISTRATOR]

    def of_site(self) -> Files:
        """The mill as a bundle."""
        return self.fetch(f"sites/{self.site.pk}")

    def test_the_same_again_changes_nothing(self) -> None:
        """Everything is known: nothing new, nothing differs."""
        counts = self.look(self.of_site(), apply=True)["counts"]
        self.assertEqual({(one["new"], one["differ"]) for one in counts}, {(0, 0)})

    def test_what_differs_stays_unless_it_is_taken(self) -> None:
        """A note written since stays as it is here; taken, it is what the bundle says, and an open page is told."""
        files = self.of_site()
        self.loop.refresh_from_db()
        version = self.loop.version
        Loop.objects.filter(pk=self.loop.pk).update(note="written since", version=version + 1)
        looked = self.look(files, apply=True)
        (one,) = looked["differences"]
        self.assertEqual((one["title"], one["may_take"]), ("Kiln room", True))
        self.assertIn({"name": "note", "here": "written since", "there": ""}, one["columns"])
        self.loop.refresh_from_db()
        self.assertEqual((self.loop.note, self.loop.version), ("written since", version + 1))
        self.look(files, apply=True, take=one["mark"])
        self.loop.refresh_from_db()
        self.assertEqual((self.loop.note, self.loop.version), ("", version + 2))
        noted = Change.objects.filter(action="bundle brought in").first()
        assert noted is not None
        self.assertEqual(noted.before["loops"][0]["note"], "written since")

    def reckoned(self, files: Files, **more: Any) -> set[str]:
        """The loops that are worked out anew while a bundle comes in."""
        with mock.patch("bundle.taking.update_loop", wraps=update_loop) as reckon:
            self.look(files, apply=True, **more)
        return {call.args[0].name for call in reckon.call_args_list}

    def test_only_what_was_written_of_is_reckoned_anew(self) -> None:
        """Nothing for nothing, one loop for a note or a row far below it, every one for what all lean on."""
        other = make_loop(None, site=self.site, circuit=self.loop.circuit, name="Sluice")
        files = self.of_site()
        self.assertEqual(self.reckoned(files), set())
        Loop.objects.filter(pk=self.loop.pk).update(note="written since")
        (one,) = self.look(files)["differences"]
        self.assertEqual(self.reckoned(files, take=one["mark"]), {self.loop.name})
        Signature.objects.filter(role="client").delete()
        self.assertEqual(self.reckoned(files), {self.loop.name})
        self.assertEqual(Signature.objects.count(), 2)
        alone = self.fetch(f"loops/{self.loop.pk}")
        Circuit.objects.filter(pk=self.loop.circuit_id).update(version=F("version") + 1, breaker="written since")
        (one,) = self.look(alone)["differences"]
        self.assertEqual(self.reckoned(alone, take=one["mark"]), {self.loop.name, other.name})

    def test_a_bundle_of_before_says_how_its_controls_hang(self) -> None:
        """The column came later: two wires, or the neutral that the leaflet demands, as an older copy becomes it."""

        def drop(rows: list[Json]) -> None:
            for row in rows:
                for control in row["control"]:
                    del control["wired"]

        def by_two_wires(rows: list[Json]) -> None:
            for row in rows:
                for control in row["control"]:
                    control["wired"] = "loop"

        self.assertEqual(self.look(changed(self.of_site(), "gangs", drop))["differences"], [])
        relay = Part.objects.get(name="Relay N1, 802.15.4 mesh")
        FittedControl.objects.filter(gang=self.gang).update(part=relay, wired="straight")
        files = self.of_site()
        for change in (drop, by_two_wires):
            self.assertEqual(self.look(changed(files, "gangs", change))["differences"], [])

    def test_a_bundle_of_before_does_not_know_what_hung_there(self) -> None:
        """The column came later: nobody knows, and no row is refused or changed for it."""

        def drop(rows: list[Json]) -> None:
            self.assertTrue(rows)
            for row in rows:
                del row["hung"]

        MeasuredValue.objects.create(gang=self.gang, occasion="after_fitting", data={"kind": "line_i", "value": 1e-5})
        files = changed(self.of_site(), "measured", drop)
        self.assertEqual(self.look(files, apply=True)["differences"], [])
        self.assertEqual(MeasuredValue.objects.get().hung, "")

    def test_what_somebody_changed_after_the_look_is_not_replaced(self) -> None:
        """Chosen while it said one thing, and says another now: refused, told, nothing brought in."""
        files = self.of_site()
        Loop.objects.filter(pk=self.loop.pk).update(note="seen by who chose")
        (one,) = self.look(files)["differences"]
        Loop.objects.filter(pk=self.loop.pk).update(note="written by a colleague")
        self.refused(self.send(files, apply=True, take=one["mark"]), "bundle_changed_since", 409)
        self.assertEqual(Loop.objects.get(pk=self.loop.pk).note, "written by a colleague")

    def test_parts_of_a_gang_come_and_go_with_it(self) -> None:
        """Lamps that were changed since are one difference of their gang; taken, they are those of the bundle."""
        files = self.of_site()
        group = self.gang.lamps.get()
        count = group.figures["count"]
        group.figures = {**group.figures, "count": count + 1}
        group.save()
        # Kept anew it is another row of the database, which nobody compares.
        control = FittedControl.objects.get(gang=self.gang)
        FittedControl.objects.filter(pk=control.pk).delete()
        control.pk = uuid.uuid4()
        control.save(force_insert=True)
        (one,) = self.look(files)["differences"]
        self.assertEqual((one["kind"], one["title"]), ("Gangs", "Kiln room, gang 1"))
        columns = [{"name": "lamps · 1 · number", "here": str(count + 1), "there": str(count)}]
        self.assertEqual(one["columns"], columns)
        self.look(files, apply=True, take=one["mark"])
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).lamps.get().figures["count"], count)

    def test_a_difference_is_told_in_words(self) -> None:
        """Who, which breaker, which day and in which unit; no key, no name of a column, nothing that is worked out."""
        files = self.of_site()
        tam = User.objects.create(username="tam", display_name="Tam Osier")
        other = Circuit.objects.create(site=self.site, breaker="31")
        Loop.objects.filter(pk=self.loop.pk).update(assigned=tam, circuit=other, due_on="2026-12-24")
        Site.objects.filter(pk=self.site.pk).update(v_rms=240.0, proof_lasts_s=1800.0)
        group = self.gang.lamps.get()
        group.figures = {**group.figures, "p_run_w": {"low": 3.0, "typical": 4.5, "high": 5.0, "source": "measured"}}
        group.save()
        survey = Survey.objects.filter(loop=self.loop).order_by("place")[0]
        survey.box = {**survey.box, "has_metal_box": True}
        survey.save()
        told = {one["kind"]: one["columns"] for one in self.look(files)["differences"]}
        self.assertEqual(
            {line["name"]: (line["here"], line["there"]) for line in told["Loops"] + told["Boxes surveyed"]},
            {"breaker": ("31", "7"), "whose work it is": ("Tam Osier", ""), "due on": ("2026-12-24", "")}
            | {"box · has metal box": ("yes", "")},
        )
        self.assertEqual(told["Sites"][0], {"name": "voltage", "here": "240 V", "there": "230 V"})
        Site.objects.filter(pk=self.site.pk).update(v_rms=230.04)
        (near,) = [one["columns"][0] for one in self.look(files)["differences"] if one["kind"] == "Sites"]
        self.assertNotEqual(near["here"], near["there"])
        (line,) = told["Gangs"]
        self.assertEqual((line["name"].split(" · ")[:2], line["here"]), (["lamps", "1"], "4.50 W measured"))
        said = json.dumps(told)
        self.assertIsNone(re.search(r"[0-9a-f]{8}-[0-9a-f]{4}-|_|'", said), said)
        files = self.of_site()
        Gang.objects.filter(pk=self.gang.pk).update(version=F("version") + 1, judged_on={})
        (reckoned,) = self.look(files)["differences"]
        self.assertEqual((reckoned["title"], reckoned["columns"]), ("Kiln room, gang 1", []))

    def test_every_column_that_may_differ_has_a_word(self) -> None:
        """In every language, and each row within a row too."""
        for spoken in ("en", "de"):
            with translation.override(spoken):
                words = catalogue("records")["columns"]
                for table in TABLES:
                    if not table.is_frozen:
                        self.assertEqual([name for name in told_columns(table) if not words.get(name)], [], table.name)

    def test_what_was_frozen_is_never_another(self) -> None:
        """An issue or a reading of the trail that is not as it is here keeps the whole bundle out."""
        files = self.of_site()

        def rewrite(rows: list[Json]) -> None:
            rows[0]["note"] = "never said"

        forged = changed(files, "issues", rewrite)
        self.assertEqual(len(self.look(forged)["obstacles"]), 1)
        self.refused(self.send(forged, apply=True), "bundle_altered", 409)
        self.assertEqual(Issue.objects.get().note, "")

    def test_a_forged_issue_does_not_come_in_as_new(self) -> None:
        """With every digest of the file made anew, its own chain still tells."""
        files = self.of_site()

        def rewrite(rows: list[Json]) -> None:
            rows[0]["content"] = rows[0]["content"].replace("Kiln room", "Mill room")

        forged = changed(files, "issues", rewrite)
        empty()
        self.refused(self.send(forged, apply=True), "bundle_altered")
        self.assertFalse(Site.everything.exists() or Part.objects.exists())

    def test_a_name_erased_here_does_not_come_back(self) -> None:
        """The bundle still has it; the signature here stays without."""
        files = self.of_site()
        signature = Signature.objects.get(role="client")
        Signature.objects.filter(pk=signature.pk).update(name="", strokes=[], salt="")
        looked = self.look(files, apply=True)
        self.assertEqual((looked["obstacles"], looked["differences"]), ([], []))
        self.assertEqual(Signature.objects.get(pk=signature.pk).name, "")

    def test_what_is_switched_off_stays_in_one_house(self) -> None:
        """While an isolation is open there, nobody can read here that it is off."""
        Isolation.objects.update(closed_at=None)
        files = self.of_site()
        empty()
        self.assertEqual(len(self.look(files)["obstacles"]), 1)
        self.refused(self.send(files, apply=True), "bundle_still_isolated", 409)
        self.assertFalse(Site.everything.exists())

    def test_a_name_that_something_else_has_here(self) -> None:
        """Another site of that name, another loop of that name: told, and nothing is brought in."""
        files = self.of_site()
        empty()
        Site.objects.create(name="KESTREL MILL", region="eu", v_rms=230.0, f_hz=50.0)
        self.assertIn("Kestrel Mill", self.look(files)["obstacles"][0])
        self.refused(self.send(files, apply=True), "bundle_clash_in", 409)
        self.assertFalse(Loop.everything.exists())

    def test_a_part_that_is_here_under_another_identity(self) -> None:
        """By maker and name it is the same part; the figures on the gang are those that it was judged with."""
        part = Part.objects.create(category="lamp", kind="rectifier", maker="Fen", name="Six", v_rms=230.0, figures={})
        self.gang.lamps.update(part=part)
        files = self.of_site()
        empty()
        mine = Part.objects.create(category="lamp", kind="rectifier", maker="FEN", name="six", v_rms=230.0, figures={})
        self.look(files, apply=True)
        self.assertEqual(Gang.objects.get(pk=self.gang.pk).lamps.get().part_id, mine.pk)
        self.assertEqual(self.look(files)["differences"], [])

    def test_whoever_is_named_cannot_sign_in(self) -> None:
        """People of elsewhere are names without a password, and no member of anything."""
        files = self.of_site()
        empty()
        looked = self.look(files, apply=True)
        self.assertIn("The technician", looked["new_people"])
        made = User.objects.get(display_name="The technician")
        self.assertEqual((made.is_active, made.has_usable_password()), (False, False))
        self.assertEqual([one.role for one in Site.objects.get().members.all()], [Role.ADMINISTRATOR])

    def test_files_that_are_no_bundle(self) -> None:
        """Another zip, no zip, a cut one, a flipped byte, a file too many, a later form: refused, nothing in."""
        files = self.of_site()
        whole = packed(files)
        before = Change.objects.count()
        self.refused(self.send(b"no zip at all"), "not_a_bundle")
        self.refused(self.send(packed({"letter.txt": b"hello"})), "not_a_bundle")
        self.refused(self.send(whole[: len(whole) // 2]), "not_a_bundle")
        flipped = bytearray(whole)
        flipped[whole.index(files["data/loops.json"]) + 40] ^= 1
        self.refused(self.send(bytes(flipped)), "bundle_damaged")
        self.refused(self.send({**files, "extra.sh": b"#!"}), "bundle_damaged")
        self.refused(
            self.send({name: one for name, one in files.items() if name != "data/loops.json"}), "bundle_damaged"
        )
        self.refused(self.send({**files, "manifest.json": b"["}), "bundle_damaged")
        later = {**json.loads(files["manifest.json"]), "format_version": 2}
        self.refused(self.send({**files, "manifest.json": json.dumps(later).encode()}), "bundle_of_other_version")
        self.assertEqual(Change.objects.count(), before)

    def test_rows_that_are_not_as_they_should_be(self) -> None:
        """A column too many, a wrong kind, a way out of the bundle, a picture that is none, a sheet that is none."""
        files = self.of_site()

        def cases() -> list[tuple[str, str, Callable[[list[Json]], None]]]:
            return [
                ("bundle_shape", "loops", lambda rows: rows[0].update(is_admin=True)),
                ("bundle_shape", "gangs", lambda rows: rows[0].update(position="1")),
                ("bundle_shape", "loops", lambda rows: rows[0].update(name="x" * 200)),
                ("bundle_shape", "people", lambda rows: rows[0].update(role="administrator")),
                ("bundle_leads_out", "loops", lambda rows: rows[0].update(site=str(self.other_site.pk))),
                ("bundle_leads_out", "gangs", lambda rows: rows[0].update(loop=str(uuid.uuid4()))),
                ("bundle_leads_out", "trail", lambda rows: rows[0].update(subject_id=str(self.other_site.pk))),
                ("bundle_leads_out", "people", lambda rows: rows.clear()),
            ]

        for code, table, change in cases():
            with self.subTest(code=code, table=table):
                self.refused(self.send(changed(files, table, change)), code)
        picture = next(name for name in files if name.startswith("photographs/"))
        empty()
        self.refused(self.send(with_digests({**files, picture: b"<svg/>"}), apply=True), "not_a_photo")
        broken = changed(files, "gangs", lambda rows: rows[0]["lamps"][0].update(figures={"kind": "none"}))
        self.refused(self.send(broken, apply=True), "bundle_untold")
        self.assertFalse(Site.everything.exists() or Photo.everything.exists())

    def test_a_loop_of_here_is_not_drawn_into_another_site(self) -> None:
        """The identity of a loop that is here, in a bundle of another site."""
        files = self.of_site()
        Circuit.objects.create(site=self.other_site, breaker="3")
        Loop.objects.filter(pk=self.loop.pk).update(site=self.other_site, circuit=None)
        self.assertIn("Kiln room", " ".join(self.look(files)["obstacles"]))
        self.refused(self.send(files, apply=True), "bundle_of_another", 409)

    def test_who_may(self) -> None:
        """Whoever works there fetches; whoever keeps sites brings in; a stranger finds neither."""
        files = self.fetch(f"loops/{self.loop.pk}", self.checker)
        self.assertEqual(json.loads(files["manifest.json"])["scope"], "loop")
        self.assertEqual(self.send(files, api=self.checker).status_code, 403)
        keeper = signed_in(User.objects.create(username="keeper", role=Role.TECHNICIAN, keeps_sites=True))
        self.assertEqual(self.send(files, api=keeper).status_code, 404)
        self.assertEqual(keeper.get(f"/api/v1/sites/{self.site.pk}/bundle.zip").status_code, 404)
        fetched = Change.objects.filter(action="bundle fetched", subject_id=self.loop.pk)
        self.assertEqual([one.who for one in fetched], [self.people[Role.CHECKER]])
