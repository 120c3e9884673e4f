"""The release: what is in it, and what a machine that unpacks it does not need."""

from __future__ import annotations

import hashlib
import json
import os
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path
from unittest import mock

from django.test import SimpleTestCase, tag

from ember_launcher import built, python_env, release, system_packages
from ember_launcher.console import Refusal
from ember_launcher.places import ROOT


class Release(SimpleTestCase):
    """An archive of this tree with one built package, unpacked elsewhere."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        folder = tempfile.TemporaryDirectory(prefix="ember-test-")
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        wheels = cls.folder / "wheels"
        wheels.mkdir()
        (wheels / "reader-1.0-py3-none-any.whl").write_bytes(b"built")
        (wheels / built.LOCK).write_text(f"reader==1.0 --hash=sha256:{hashlib.sha256(b'built').hexdigest()}\n")
        (wheels / built.NEEDS).write_text("libmariadb3\n")
        cls.wheels = wheels
        cls.archive = cls.folder / "ember.tar.gz"
        release.write(cls.archive, wheels)
        with tarfile.open(cls.archive) as archive:
            cls.names = {name.removeprefix(f"{release.TOP}/") for name in archive.getnames()}
            # Ours, made a line above; filters came with a Python that Debian 12 has not.
            archive.extractall(cls.folder)
        cls.root = cls.folder / release.TOP

    def test_what_runs_is_in_it_and_what_only_builds_or_checks_is_not(self) -> None:
        """The built interface, no sources of it, no tests, nothing that was made on this machine."""
        self.assertLessEqual({"ember", "release.json", "web/dist/index.html", "requirements/app.txt"}, self.names)
        self.assertTrue((self.root / "ember").stat().st_mode & 0o100)
        for name in self.names:
            self.assertFalse(name.startswith(("web/src", "tests/", "var/", ".venv", ".git")), name)
            self.assertNotIn("__pycache__", name)
        told = json.loads((self.root / "release.json").read_text())
        self.assertEqual(told["wheels_for"], built.kind_of_machine())

    def test_the_same_sources_make_the_same_archive(self) -> None:
        """Content for content: neither times nor owners of this machine."""
        again = self.folder / "again.tar.gz"
        release.write(again, self.wheels)
        with tarfile.open(self.archive) as first, tarfile.open(again) as second:
            for one, other in zip(first, second, strict=True):
                self.assertEqual((one.name, one.mtime, one.uid, one.mode), (other.name, 946_684_800, 0, other.mode))
                self.assertEqual(first.extractfile(one).read(), second.extractfile(other).read(), one.name)  # type: ignore[union-attr]

    @tag("whole")
    def test_unpacked_it_wants_no_compiler_and_no_npm(self) -> None:
        """Asked by its own launcher, where no program can be found."""
        question = (
            "from ember_launcher import system_packages, web_build; web_build.ensure_built();"
            "print(*system_packages.to_run())"
        )
        env = {**os.environ, "PYTHONPATH": str(self.root / "launcher"), "PATH": "/nowhere"}
        asked = subprocess.run([sys.executable, "-c", question], env=env, capture_output=True, text=True)
        self.assertEqual(asked.returncode, 0, asked.stderr)
        wanted = asked.stdout.split()
        self.assertIn("libmariadb3", wanted)
        self.assertFalse(set(wanted) & set(system_packages.COMPILER))
        self.assertIn("gcc", system_packages.to_run())

    def test_on_another_kind_of_machine_it_is_built_there(self) -> None:
        """Packages that are linked for one system are not used on another."""
        with mock.patch.object(built, "ROOT", self.root):
            self.assertEqual(built.needs(), ("libmariadb3",))
            with mock.patch.object(built.platform, "machine", return_value="riscv64"):
                self.assertIsNone(built.needs())

    def test_it_is_no_place_to_check_or_to_release_from(self) -> None:
        """Told in words, before anything is made."""
        env = {**os.environ, "PYTHONPATH": str(self.root / "launcher")}
        for arguments in (["test"], ["release", str(self.folder / "other.tar.gz")]):
            command = [sys.executable, "-m", "ember_launcher", *arguments]
            done = subprocess.run(command, cwd=self.root, env=env, capture_output=True, text=True)
            self.assertEqual(done.returncode, 1)
            self.assertIn("this is a release", done.stderr)

    def test_a_file_that_is_there_is_not_written_over(self) -> None:
        """Nor is anything built for it."""
        with self.assertRaisesMessage(Refusal, "exists already"):
            release.make(self.archive)


class Lock(SimpleTestCase):
    """What is built from source."""

    def test_what_has_no_wheel_is_taken_from_the_lock_with_its_hashes(self) -> None:
        """And a name that is not locked is told."""
        found = release.locked(python_env.APP_LOCK.read_text(), release.FROM_SOURCE)
        self.assertEqual(
            [line.split("==")[0].lower() for line in found.splitlines() if "==" in line], ["mysqlclient", "pyicu"]
        )
        self.assertGreaterEqual(found.count("--hash=sha256:"), 2)
        self.assertNotIn("numpy", found)
        with self.assertRaisesMessage(Refusal, "nowhere"):
            release.locked("numpy==2 \\\n    --hash=sha256:0\n", ("nowhere",))

    def test_the_lock_covers_every_python_that_the_starter_takes(self) -> None:
        """No entry holds for one version of Python alone, and the starter names the same versions as the lock."""
        starter = (ROOT / "ember").read_text()
        self.assertIn("(3, 11) <= sys.version_info[:2] <= (3, 13)", starter)
        for lock in (python_env.APP_LOCK, python_env.DEV_LOCK):
            text = lock.read_text()
            self.assertIn("--universal", text)
            self.assertIn("--python-version 3.11", text)
