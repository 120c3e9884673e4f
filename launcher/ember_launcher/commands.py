"""The commands of `./ember` that serve, keep and check; those that compute are in `computing`."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from ember_launcher import (
    app_server,
    archive,
    checks,
    computing,
    nightly,
    places,
    python_env,
    release,
    restoring,
    service,
    system_packages,
    web_build,
)
from ember_launcher.console import Refusal, run_quietly, say
from ember_launcher.database import Database
from ember_launcher.places import PYTHON, ROOT, Instance, instance_of, one_at_a_time


def serve(instance: Instance, port: int) -> None:
    """Set everything up and leave database and server running."""
    system_packages.ensure(system_packages.to_run())
    python_env.ensure(development=False)
    web_build.ensure_built()
    instance.prepare()
    database, server = Database(instance), app_server.AppServer(instance, port)
    started = database.ensure_running()
    try:
        restoring.finish(instance, database)
        server.prepare()
        if instance.demo:
            say(server.manage("load_demo").strip())
        server.ensure_running()
    except BaseException:
        # A start that is given up leaves nothing running that was not.
        if started and server.pid() is None:
            database.stop()
        raise
    restoring.forget_former(instance, database)
    print(f"Ember Thread runs at {server.url}")
    if instance.demo:
        print("Demo accounts are shown on the sign-in page. Stop with: ./ember stop")
    elif not database.has_accounts():
        print("There is no account yet. Make one with: ./ember account NAME --role administrator")


def stop(folders: list[Path]) -> None:
    """Stop servers, then databases, of these copies."""
    any_running = False
    for folder in folders:
        instance = Instance(var=folder, demo=False)
        stopped = app_server.AppServer(instance, 0).stop()
        stopped = Database(instance).stop() or stopped
        if stopped:
            say(f"stopped the copy in {folder}")
        any_running = any_running or stopped
    if not any_running:
        say("nothing was running")


def with_database(instance: Instance, port: int, action: str, file: Path) -> None:
    """Back up or restore with the database running; leave things as they were found."""
    if action == "restore" and not file.is_file():
        raise Refusal(f"there is no file {file}")
    if action == "restore":
        archive.check(file)
    if action == "backup" and not instance.settings_file.exists():
        raise Refusal(f"there is no copy in {instance.var}; name one with --var DIR")
    system_packages.ensure(system_packages.to_run())
    python_env.ensure(development=False)
    # A backup saves what lies on a disk that is full.
    instance.prepare(needs_room=action == "restore")
    database, server = Database(instance), app_server.AppServer(instance, port)
    was_serving = server.pid() is not None
    if was_serving and (kept := server.kept_port()):
        # What runs is not moved to another port by the way.
        server = app_server.AppServer(instance, kept)
    started = database.ensure_running()
    try:
        if action == "backup":
            archive.back_up(instance, database, file)
            if places.has_room(instance.var):
                restoring.try_out(instance, database, file)
            else:
                say(f"{file} was not tried out: there is no room for that under {instance.var}")
        else:
            web_build.ensure_built()
            _restore(instance, database, server, file, was_serving=was_serving)
    finally:
        if started:
            database.stop()


def _restore(
    instance: Instance, database: Database, server: app_server.AppServer, file: Path, *, was_serving: bool
) -> None:
    """Restore and bring up to this code; where that fails the former state comes back, and the server with it."""
    restoring.stage(instance, database, file)
    server.stop()
    try:
        restoring.swap(instance, database)
        try:
            server.prepare()
        except Refusal:
            restoring.bring_back(instance, database)
            raise
    finally:
        if was_serving:
            server.ensure_running()
    if was_serving:
        restoring.forget_former(instance, database)


def arguments() -> argparse.Namespace:
    """What was asked."""
    parser = argparse.ArgumentParser(prog="ember", description="Ember Thread: judges two-wire switch loops.")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def command(name: str, text: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text)
        made.add_argument("--var", type=Path, help="folder of this copy (database, files, logs); default var/<mode>")
        made.add_argument(
            "--port", type=int, default=None, help=f"port to serve on (default {places.DEFAULT_APP_PORT})"
        )
        return made

    command("demo", "set up, load the demo sites and serve")
    command("start", "set up and serve for real work, with no demo data")
    command("stop", "stop the copy in --var, or every copy under var/")
    for name in ("backup", "restore"):
        made = command(name, f"{name} database and files; FILE is a tar archive")
        made.add_argument("file", type=Path)
        made.add_argument("--demo", action="store_true", help="the demo copy instead of the real one")
        if name == "backup":
            made.add_argument("--nightly", action="store_true", help="FILE is a folder: a file named by the date in it")
            made.add_argument("--keep", type=int, default=service.KEPT, help="nightly ones to keep there")
    installed = command("service", "units for systemd: serve after a start, back up every night")
    installed.add_argument("action", choices=("install",))
    installed.add_argument("--backups", type=Path, required=True, help="folder for nightly backups, on another disk")
    installed.add_argument("--into", type=Path, default=service.UNITS, help="folder of the units")
    account = command("account", "make an account; asks for the password")
    account.add_argument("name")
    account.add_argument("--role", choices=("technician", "checker", "administrator"), default="technician")
    test = command("test", "lint, types, build and the tests")
    test.add_argument("labels", nargs="*", help="only these tests: dotted paths, files or folders")
    extent = test.add_mutually_exclusive_group()
    for name, help_text in (
        (checks.Extent.QUICK, "no tests in the browser, none that start copies, none that take long"),
        (checks.Extent.WHOLE, "every test, as CI runs them"),
        (checks.Extent.THOROUGH, "every test, and properties on all cases that are drawn, not on a part"),
    ):
        extent.add_argument(f"--{name}", dest="extent", action="store_const", const=name, help=help_text)
    test.set_defaults(extent=checks.Extent.USUAL)
    released = command("release", "what runs the application in one archive, built: no npm, no compiler needed there")
    released.add_argument("file", type=Path)
    command("format", "rewrite the layout of all source files")
    command("api", "rewrite the committed OpenAPI document and the client generated from it")
    command("screenshots", "draw docs/screenshots/ anew from the demo data")
    for name in computing.COMMANDS:
        commands.add_parser(name, help=f"see ./ember {name} --help", add_help=False)
    return parser.parse_args()


def write_api() -> None:
    """The OpenAPI document and the TypeScript types, from the server's code."""
    node = checks.set_up()
    instance = instance_of("test", None)
    instance.prepare()
    server = app_server.AppServer(instance, places.DEFAULT_APP_PORT)
    server.manage("spectacular", "--file", str(places.SERVER / "openapi.yaml"), "--validate", "--fail-on-warn")
    server.manage("write_usual", str(places.WEB / "src" / "api" / "generated" / "usual.json"))
    run_quietly(["npm", "run", "--silent", "api"], cwd=places.WEB, env=node, remedy="")
    run_quietly(["npx", "prettier", "--write", "src/api/generated/schema.ts"], cwd=places.WEB, env=node, remedy="")


def make_account(instance: Instance, port: int, name: str, role: str) -> None:
    """Make one account, with its password asked for at the keyboard or read from standard input."""
    import getpass

    if Database(instance).pid() is None:
        raise Refusal("this copy does not run; start it first with: ./ember start")
    password = getpass.getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().strip()
    print(
        app_server.AppServer(instance, port).manage("make_account", name, "--role", role, stdin=password + "\n").strip()
    )


def run(asked: argparse.Namespace) -> int:
    """Do what was asked."""
    port = asked.port or places.DEFAULT_APP_PORT
    if asked.command == "test":
        # It locks its own set-up only: tests start copies of their own.
        return checks.run_tests(instance_of("test", asked.var), asked.labels, asked.extent)
    with one_at_a_time(ROOT / "var"):
        match asked.command:
            case "demo" | "start":
                serve(instance_of("demo" if asked.command == "demo" else "live", asked.var), port)
            case "stop":
                stop([asked.var.resolve()] if asked.var else app_server.running_instances(ROOT / "var"))
            case "backup" if asked.nightly:
                instance = instance_of("demo" if asked.demo else "live", asked.var)
                nightly.back_up(lambda file: with_database(instance, port, "backup", file), asked.file, asked.keep)
            case "backup" | "restore":
                with_database(instance_of("demo" if asked.demo else "live", asked.var), port, asked.command, asked.file)
            case "service":
                service.install(instance_of("live", asked.var), port, asked.backups, asked.into)
            case "account":
                make_account(instance_of("live", asked.var), port, asked.name, asked.role)
            case "release":
                release.make(asked.file)
            case "format":
                checks.format_all()
            case "api":
                write_api()
            case "screenshots":
                checks.set_up()
                instance = instance_of("demo", asked.var)
                serve(instance, port)
                server = app_server.AppServer(instance, port)
                run_quietly(
                    [PYTHON, "-m", "tests.screenshots", server.url], cwd=ROOT, env=instance.environment(port), remedy=""
                )
    return 0
