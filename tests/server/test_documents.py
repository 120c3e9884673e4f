"""What is published must match what is there: API document, client, migrations, sheets, paper."""

from __future__ import annotations

import io
import json
import re
import subprocess
import tempfile
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.db.migrations.loader import MigrationLoader
from django.test import tag

from demo import shelf
from ember_core import sheet
from ember_core.catalogue.entry import Category, check, piece
from ember_core.usual import USUAL
from judging.management.commands.write_usual import usual_file
from tests.server.base import DemoTest, ServerTest, load_whole_demo

ROOT = Path(settings.ROOT)


class Snapshots(ServerTest):
    """Committed copies."""

    @tag("long")
    def test_the_committed_api_document_is_the_server_s(self) -> None:
        """After a change: ./ember api."""
        with tempfile.NamedTemporaryFile("r", suffix=".yaml") as file:
            call_command("spectacular", "--file", file.name)
            self.assertEqual(file.read(), (ROOT / "server" / "openapi.yaml").read_text(), "run ./ember api")

    @tag("long")
    def test_the_committed_client_is_generated_from_that_document(self) -> None:
        """After a change: ./ember api."""
        with tempfile.TemporaryDirectory() as folder:
            target = Path(folder, "schema.ts")
            command = ["npx", "openapi-typescript", "../server/openapi.yaml", "--default-non-nullable", "false", "-o"]
            subprocess.run([*command, str(target)], cwd=ROOT / "web", check=True, capture_output=True)

            def squeezed(text: str) -> str:
                # The committed one is laid out by the formatter.
                return re.sub(r"[\s;,]+", "", text)

            committed = (ROOT / "web" / "src" / "api" / "generated" / "schema.ts").read_text()
            self.assertEqual(squeezed(target.read_text()), squeezed(committed), "run ./ember api")

    def test_the_committed_table_of_usual_figures_is_the_core_s(self) -> None:
        """After a change: ./ember api."""
        committed = (ROOT / "web" / "src" / "api" / "generated" / "usual.json").read_text(encoding="utf-8")
        self.assertEqual(usual_file(), committed, "run ./ember api")

    def test_every_figure_of_the_demo_shelf_is_usual(self) -> None:
        """Nobody is asked about an ordinary part."""
        for part in shelf.entries():
            for claim in part.claims:
                usual = USUAL.get(claim.field.split(".")[-1])
                if usual is not None:
                    with self.subTest(part=part.name, field=claim.field):
                        self.assertLessEqual(usual.low, claim.figure.typical)
                        self.assertGreaterEqual(usual.high, claim.figure.typical)

    def test_no_model_changed_without_a_migration(self) -> None:
        """`makemigrations` finds nothing to do."""
        said = io.StringIO()
        call_command("makemigrations", "--check", "--dry-run", stdout=said)
        self.assertIn("No changes", said.getvalue())

    def test_tables_made_at_once_are_those_made_in_steps(self) -> None:
        """A new copy has what one has that went through every migration; those are kept for copies half-way."""

        def tables(*, at_once: bool) -> dict[tuple[str, str], tuple[dict[str, object], dict[str, object], set[str]]]:
            loader = MigrationLoader(None, ignore_no_migrations=True, replace_migrations=at_once)
            return {
                key: (
                    {name: field.deconstruct()[1:] for name, field in model.fields.items()},
                    {name: value for name, value in model.options.items() if name != "indexes"},
                    {repr(index) for index in model.options["indexes"]},
                )
                for key, model in loader.project_state().models.items()
            }

        in_steps = tables(at_once=False)
        self.assertGreater(len(in_steps), 50)
        self.assertEqual(tables(at_once=True), in_steps)


class Downloads(ServerTest):
    """Sheet, netlist and paper of a gang."""

    def test_the_downloaded_sheet_reads_back(self) -> None:
        """And holds ranges and sources, with the site's tolerance on the supply."""
        self.keep()
        answer = self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.json")
        given = sheet.read(json.loads(answer.content))
        self.assertEqual(given.source_of("lamps[0].v_start_v").value, "measured")
        self.assertAlmostEqual(given.figures["supply.v_rms"].low, 207.0)

    def test_the_paper_comes_as_a_pdf(self) -> None:
        """Shown in the browser, and not kept by it."""
        self.keep()
        answer = self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "application/pdf"))
        self.assertEqual(answer["Cache-Control"], "no-store")
        self.assertTrue(answer.content.startswith(b"%PDF"))

    def test_the_paper_s_words(self) -> None:
        """The page as HTML, before it becomes a PDF: figures, sources, cautions, date and core version."""
        from unittest import mock

        from ember_core import CORE_VERSION

        self.keep()
        with mock.patch("handover.services.sheet.HTML") as page:
            page.return_value.write_pdf.return_value = b"%PDF"
            self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf")
        html = page.call_args.kwargs["string"]
        for wanted in ("Dark and fed", "2.35 mA", "measured, bench", "95.0 V to 120 V", "never isolates", CORE_VERSION):
            self.assertIn(wanted, html)
        self.assertIn("<svg", html)
        self.assertIn("The technician", html)
        with mock.patch("handover.services.sheet.HTML") as page:
            page.return_value.write_pdf.return_value = b"%PDF"
            self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf", HTTP_ACCEPT_LANGUAGE="de")
        html = page.call_args.kwargs["string"]
        for wanted in ("gemessen, bench", "angegeben, Netz des Ortes mit seiner Toleranz"):
            self.assertIn(wanted, html)
        for english in ("declared", "measured", "assumed"):
            self.assertNotIn(f"<td>{english}", html)

    def test_an_incomplete_gang_has_no_paper_but_a_sheet(self) -> None:
        """The refusal says what is missing."""
        answer = self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("control and lamps", answer.json()["title"])
        self.assertEqual(self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.json").status_code, 200)

    def test_a_name_cannot_break_out_of_the_download_header_or_the_page(self) -> None:
        """Quotes, line ends and markup in a loop's name stay text."""
        self.keep()
        self.loop.name = 'K"iln\r\n<script>x</script>'
        self.loop.save()
        answer = self.api.get(f"/api/v1/gangs/{self.gang.pk}/netlist.cir")
        self.assertEqual(answer.status_code, 200)
        self.assertIn('filename="k-iln-script-x-script-gang-1.cir"', answer["Content-Disposition"])
        self.assertNotIn("script", answer.content.decode())

    def test_a_stored_judgement_shows_what_was_known_then(self) -> None:
        """Inputs and words, from the snapshot."""
        self.keep()
        row = self.api.get(f"/api/v1/gangs/{self.gang.pk}/judgements/").json()["results"][0]
        stored = self.api.get(f"/api/v1/judgements/{row['id']}/").json()
        self.assertEqual(stored["judgement"]["verdict"], "dark")
        self.assertEqual(stored["sheet"]["bypass"][0]["c_f"], 1e-7)
        self.assertTrue(stored["judgement"]["findings"][0]["text"])


class Judging(ServerTest):
    """The judge address."""

    def test_reasons_come_with_inputs_and_their_sources(self) -> None:
        """The lamp's start threshold is named as measured, with its range."""
        self.keep()
        document = json.loads(self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.json").content)
        answer = self.api.post("/api/v1/judge/", {"sheet": document}, format="json").json()
        inputs = [entry for finding in answer["findings"] for entry in finding["inputs"]]
        start = next(entry for entry in inputs if entry["path"] == "lamps[0].v_start_v")
        self.assertEqual((start["value"], start["range"], start["source"]), ("110 V", "95.0 V to 120 V", "measured"))

    def test_an_incomplete_sheet_is_unknown_and_says_what_is_missing(self) -> None:
        """Never an ok."""
        answer = self.api.post("/api/v1/judge/", {"sheet": {"supply": {"v_rms": 230, "f_hz": 50}}}, format="json")
        self.assertEqual((answer.json()["verdict"], answer.json()["missing"]), ("unknown", ["control", "lamps"]))

    def test_words_follow_the_region(self) -> None:
        """Earth here, ground there."""
        sheet_given = {"supply": {"v_rms": 120, "f_hz": 60}}
        for region, word in (("eu", "earth"), ("na", "ground")):
            answer = self.api.post("/api/v1/judge/", {"sheet": sheet_given, "region": region}, format="json").json()
            self.assertIn(word, " ".join(entry["text"] for entry in answer["cautions"]))


@tag("long")
class Demo(DemoTest):
    """The demo data."""

    @tag("whole")
    def test_every_sheet_of_the_demo_is_two_pages_and_the_record(self) -> None:
        """Laid out for real: the off state with its cautions, then the light on with its loads."""
        from unittest import mock

        from weasyprint import HTML

        from handover.services.sheet import FONTS
        from loops.models import Gang

        complete = Gang.objects.filter(control__isnull=False, lamps__isnull=False).distinct()
        self.assertGreaterEqual(complete.count(), 9)
        for gang in complete:
            with mock.patch("handover.services.sheet.HTML") as page:
                page.return_value.write_pdf.return_value = b"%PDF"
                self.api.get(f"/api/v1/gangs/{gang.pk}/sheet.pdf")
            laid_out = HTML(string=page.call_args.kwargs["string"], base_url=FONTS.as_uri()).render()
            # What was found and done at the box comes after them, as far as anything was.
            is_surveyed = gang.loop.surveys.exists()
            self.assertEqual(len(laid_out.pages) > 2, is_surveyed, str(gang))

    def test_loading_twice_changes_nothing_and_every_state_is_there(self) -> None:
        """Dark, glow, blink, starved, unknown; a bypass, an ordinary switch; a second site at 120 V."""
        from loops.models import FittedBypass, Loop

        count = Loop.objects.count()
        verdicts = set(Loop.objects.values_list("verdict", flat=True))
        self.assertLessEqual({"dark", "glow", "blink", "starved", "unknown"}, verdicts)
        self.assertGreaterEqual(Loop.objects.filter(site__name="Kestrel Mill").count(), 6)
        self.assertTrue(Loop.objects.filter(site__v_rms=120.0, site__f_hz=60.0).exists())
        self.assertTrue(FittedBypass.objects.exists())
        said = io.StringIO()
        load_whole_demo(said)
        self.assertIn("already there", said.getvalue())
        self.assertEqual(Loop.objects.count(), count)

    def test_every_shelf_part_is_a_valid_piece_of_a_sheet(self) -> None:
        """Kinds, bounds and ranges of all parts, by the core."""
        from demo import shelf
        from tests.server.base import CONTROL, LAMP

        for entry in shelf.entries():
            check(entry)
            made, v_rms = piece(entry), entry.v_rms or 230.0
            if entry.kind == "smart":
                continue
            if entry.category is Category.LAMP:
                sheet.read(_whole(v_rms, CONTROL, [], [{**made, "count": 1}]))
            elif entry.category is Category.CONTROL:
                sheet.read(_whole(v_rms, made, [], [LAMP]))
            elif entry.category is Category.BYPASS:
                sheet.read(_whole(v_rms, CONTROL, [made], [LAMP]))


def _whole(v_rms: float, control: dict, bypass: list, lamps: list) -> dict:
    return {"supply": {"v_rms": v_rms, "f_hz": 50.0}, "control": control, "bypass": bypass, "lamps": lamps}


class GeneratedDocuments(ServerTest):
    """The tables in docs/ say what the code says."""

    def test_nomenclature_and_thresholds_are_current(self) -> None:
        """After a change run tests.documents; measured errors may differ by rounding and are left out."""
        from tests.documents import DOCS, PARTS, generated, schema_files

        for file in PARTS:
            committed = (DOCS / file).read_text(encoding="utf-8")
            self.assertEqual(generated(file, without=("errors",)), committed, f"{file}: run python -m tests.documents")
        for file, text in schema_files().items():
            self.assertEqual(text, (DOCS / "schemas" / file).read_text(encoding="utf-8"), file)
