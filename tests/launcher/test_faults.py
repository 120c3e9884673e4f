"""Copies that are killed while people write, and whose disk is full: what was acknowledged stays, once."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from http.client import HTTPException
from pathlib import Path
from typing import Any
from unittest import skipUnless
from urllib.error import HTTPError

from django.test import tag

from ember_launcher.app_server import AppServer
from ember_launcher.database import Database
from ember_launcher.places import Instance
from tests.launcher.base import Caller, LauncherTest
from tests.server.base import draft

PASSWORD = "kingfisher-on-the-weir"
ROUNDS = 20
WRITERS = 3
# Readings that a writer gives one gang, and gangs that it has.
A_GANG, GANGS = 150, 6
GANGS_OF_JOB = 6 * GANGS
SMALL_MB = 720
READING = {"kind": "lamp_v", "value": 12.0}
Json = dict[str, Any]


class Faults(LauncherTest):
    """A copy for real work with one loop and somebody signed in."""

    def begin(self) -> Caller:
        """Started, with an account."""
        self.from_made()
        done = self.ember("start")
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(self.ember("account", "mara", "--role", "administrator", stdin=PASSWORD + "\n").returncode, 0)
        return self.signed_in()

    def signed_in(self) -> Caller:
        """A new session."""
        caller = Caller(self.port)
        caller.sign_in("mara", PASSWORD)
        return caller

    def gang(self, caller: Caller, site_name: str = "Weir house") -> str:
        """A site with a loop; its gang."""
        site = caller.ask("/sites/", "POST", {"name": site_name, "v_rms": 230, "f_hz": 50})
        loop = caller.ask("/loops/", "POST", {"site": site["id"], "name": "Kiln room"})
        return str(loop["gangs"][0]["id"])

    def start_again(self) -> None:
        """As `./ember start` does it, without its look at packages and build."""
        instance = Instance(var=self.var, demo=False)
        Database(instance).ensure_running()
        AppServer(instance, self.port).ensure_running()

    def kill_worker(self) -> None:
        """One of the server's processes; its master makes another."""
        children = subprocess.run(["pgrep", "-P", str(self.pid("app"))], capture_output=True, text=True).stdout.split()
        os.kill(int(children[0]), signal.SIGKILL)

    def kill_server(self) -> None:
        """With all its processes."""
        pid = self.pid("app")
        os.killpg(os.getpgid(pid), signal.SIGKILL)
        self.wait_dead(pid)

    def kill_database(self) -> None:
        """Under a server that goes on."""
        pid = self.pid("db")
        os.kill(pid, signal.SIGKILL)
        self.wait_dead(pid)

    def kill_both(self) -> None:
        """As when the power fails."""
        self.kill_database()
        self.kill_server()


@tag("whole")
class Storm(Faults):
    """kill -9, again and again."""

    def test_what_was_acknowledged_is_there_once_after_twenty_kills(self) -> None:
        """A process of the server, the server, the database or both die while three write; what is not acknowledged
        is sent again under the same identity until it is, and nothing is lost, doubled or broken."""
        caller = self.begin()
        gangs = [[self.gang(caller, f"Bay {writer}.{n}") for n in range(GANGS)] for writer in range(WRITERS)]
        drawn = random.Random(7)
        acknowledged: list[str] = []
        stop = threading.Event()

        def write(number: int) -> None:
            key, done = str(uuid.uuid4()), 0
            while not stop.is_set():
                gang = gangs[number][done // A_GANG % GANGS]
                try:
                    sent = {"id": key, "occasion": "off_state", "reading": READING}
                    caller.ask(f"/gangs/{gang}/measured/", "POST", sent)
                except HTTPError as error:
                    # Told that it is away for a moment, never anything else.
                    self.told.add(error.code)
                    time.sleep(0.05)
                except (OSError, HTTPException):
                    time.sleep(0.05)
                else:
                    acknowledged.append(key)
                    key, done = str(uuid.uuid4()), done + 1
            unfinished.add(key)

        self.told: set[int] = set()
        unfinished: set[str] = set()
        writers = [threading.Thread(target=write, args=(number,), daemon=True) for number in range(WRITERS)]
        self.addCleanup(stop.set)
        for writer in writers:
            writer.start()
        kills: list[Callable[[], None]] = [self.kill_worker, self.kill_server, self.kill_database, self.kill_both]
        for number in range(ROUNDS):
            self.wait_for_more(acknowledged)
            time.sleep(drawn.uniform(0.0, 0.1))
            kills[number % len(kills)]()
            self.start_again()
        self.wait_for_more(acknowledged)
        stop.set()
        for writer in writers:
            writer.join(60.0)
        reader = self.signed_in()
        each = [reader.ask(f"/gangs/{gang}/measured/") for of_one in gangs for gang in of_one]
        kept = [row["id"] for rows in each for row in rows]
        self.assertEqual(len(kept), len(set(kept)))
        self.assertEqual(set(acknowledged) - set(kept), set())
        # A last one may have been written without anybody hearing of it.
        self.assertLessEqual(set(kept) - set(acknowledged), unfinished)
        self.assertLessEqual(self.told, {503})
        self.assertEqual(len(acknowledged), len(set(acknowledged)))
        checked = Database(Instance(var=self.var, demo=False)).client("CHECK TABLE ember.loops_measuredvalue EXTENDED;")
        self.assertIn("OK", checked)

    def wait_for_more(self, acknowledged: list[str]) -> None:
        """Until the writers got on."""
        wanted = len(acknowledged) + 5
        until = time.monotonic() + 60.0
        while len(acknowledged) < wanted:
            self.assertLess(time.monotonic(), until, "the writers do not get on")
            time.sleep(0.01)


@tag("whole")
class JobsGoOn(Faults):
    """Long work whose processes die under it."""

    def test_a_job_ends_whoever_is_killed_meanwhile(self) -> None:
        """First every process of the server dies, then server and database together; there are so many gangs that
        none is through with them before. Each is judged once on the new supply, and nobody has to ask again."""
        caller = self.begin()
        site = caller.ask("/sites/", "POST", {"name": "Weir house", "v_rms": 230, "f_hz": 50})
        gangs = []
        for number in range(GANGS_OF_JOB // GANGS):
            loop = caller.ask("/loops/", "POST", {"site": site["id"], "name": f"Bay {number}"})
            gangs.append(loop["gangs"][0]["id"])
            gangs += [caller.ask(f"/loops/{loop['id']}/gangs/", "POST", {})["id"] for _ in range(GANGS - 1)]
        for gang in gangs:
            caller.ask(f"/gangs/{gang}/", "PUT", {"version": 1, **draft()})
        caller.ask(f"/sites/{site['id']}/", "PATCH", {"version": site["version"], "v_rms": 233})
        self.assertEqual(len(caller.ask("/outdated/")), GANGS_OF_JOB)
        key = caller.ask("/jobs/", "POST", {"id": str(uuid.uuid4()), "kind": "again"})["id"]
        self.wait_done(caller, key, 2)
        self.kill_workers()
        self.assertLess(self.wait_done(caller, key, 4)["done"], GANGS_OF_JOB)
        self.kill_both()
        self.start_again()
        job = self.wait_done(self.signed_in(), key, GANGS_OF_JOB)
        self.assertEqual((job["of"], job["changed"], job["refused"]), (GANGS_OF_JOB, GANGS_OF_JOB, []))
        reader = self.signed_in()
        self.assertEqual(reader.ask("/outdated/"), [])
        self.assertEqual({reader.ask(f"/gangs/{gang}/")["version"] for gang in gangs}, {3})

    def wait_done(self, caller: Caller, key: str, done: int) -> Json:
        """Until so many gangs are; whoever is being started again is asked later."""
        until = time.monotonic() + 120.0
        while time.monotonic() < until:
            with suppress(OSError, HTTPException):
                job: Json = next(row for row in caller.ask("/jobs/") if row["id"] == key)
                if job["done"] >= done and (done < GANGS_OF_JOB or job["state"] == "done"):
                    return job
            time.sleep(0.02)
        raise AssertionError("the job does not get on")

    def kill_workers(self) -> None:
        """Every process of the server but its master, which makes others."""
        children = subprocess.run(["pgrep", "-P", str(self.pid("app"))], capture_output=True, text=True).stdout.split()
        for child in children:
            os.kill(int(child), signal.SIGKILL)


@contextmanager
def small_disk(folder: Path) -> Iterator[None]:
    """A file system of its own, that can be filled."""
    folder.mkdir(parents=True)
    subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={SMALL_MB}m,mode=755", "tmpfs", str(folder)], check=True)
    try:
        yield
    finally:
        subprocess.run(["umount", "--lazy", str(folder)], check=False)


def can_mount() -> bool:
    """Whether this machine lets its tests have a small disk."""
    return (
        subprocess.run(["unshare", "--mount", "mount", "-t", "tmpfs", "tmpfs", "/mnt"], capture_output=True).returncode
        == 0
    )


@tag("whole")
class FullDisk(Faults):
    """The disk of a copy that runs."""

    @skipUnless(can_mount(), "a small disk can be mounted by root alone")
    def test_a_full_disk_is_told_costs_nothing_and_is_over_when_there_is_room(self) -> None:
        """Writes are refused in words, reading goes on, what was acknowledged stays, a backup to another disk works;
        with room again writing goes on by itself."""
        disk = self.var.parent / "disk"
        self.enterContext(small_disk(disk))
        self.var = disk / "copy"
        caller = self.begin()
        self.addCleanup(self.ember, "stop")
        gang = self.gang(caller)
        ballast = disk / "ballast"
        with open(ballast, "wb", buffering=0) as file, suppress(OSError):
            while True:
                file.write(b"x" * 4096)
        acknowledged, refusals = [], []
        for _ in range(3000):
            key = str(uuid.uuid4())
            try:
                caller.ask(f"/gangs/{gang}/measured/", "POST", {"id": key, "occasion": "off_state", "reading": READING})
                acknowledged.append(key)
            except HTTPError as error:
                refusals.append((error.code, error.headers["Content-Type"], error.read().decode()))
                if len(refusals) == 20:
                    break
        self.assertEqual(len(refusals), 20)
        for code, kind, text in refusals:
            self.assertEqual((code, kind), (503, "application/problem+json"))
            self.assertIn('"code":"disk_full"', text)
        self.assertEqual({row["id"] for row in caller.ask(f"/gangs/{gang}/measured/")}, set(acknowledged))
        saved = self.var.parents[1] / "saved.tar.gz"
        backup = self.ember("backup", str(saved))
        self.assertEqual(backup.returncode, 0, backup.stderr)
        self.assertIn("was not tried out: there is no room", backup.stderr)
        refused = self.ember("backup", str(disk / "here.tar.gz"))
        self.assertEqual(refused.returncode, 1)
        self.assertIn("name a file in another folder", refused.stderr)
        self.assertFalse(list(disk.glob("here*")))
        self.assertIn("MB are free", self.ember("start").stderr)
        ballast.unlink()
        key = str(uuid.uuid4())
        caller.ask(f"/gangs/{gang}/measured/", "POST", {"id": key, "occasion": "off_state", "reading": READING})
        self.assertEqual({row["id"] for row in caller.ask(f"/gangs/{gang}/measured/")}, {*acknowledged, key})
