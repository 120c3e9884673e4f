"""Who the web server works as: never root where that can be helped, and not the user of the database either."""

from __future__ import annotations

import os
import pwd
import subprocess
from collections.abc import Iterable, Mapping
from pathlib import Path

from ember_launcher.console import run_quietly, say
from ember_launcher.places import PYTHON, ROOT, SERVER, Instance

NAME = "ember-thread"
AS_IT = ("setpriv", f"--reuid={NAME}", f"--regid={NAME}", "--clear-groups")
# What the server must be able to read and run, and the library it was read from: another is not the one that was tried.
_TRY = "import os, subprocess, django, MySQLdb, gunicorn, ember_core.version; print(os.__file__)"


def serving_user(instance: Instance, env: dict[str, str]) -> str | None:
    """The user that serves, with all that it writes made its own; None for whoever starts the server.

    As root a user of no other use is made. Where it cannot read the project or reach the copy, as below root's home,
    that is told.
    The environment is changed: it compiles into a folder of its own, since root runs what lies in the project's.
    """
    if os.geteuid() != 0:
        return None
    _ensure_there()
    if not _reaches(env):
        say(f"the server works as root: the user {NAME} cannot read {ROOT} or its Python; keep both outside of homes")
        return None
    if not enters(instance.var):
        say(f"the server works as root: the user {NAME} cannot reach {instance.var}; keep it outside of homes")
        return None
    give_to(NAME, written_by_it(instance))
    compiled = instance.served_dir / "compiled"
    # By the user itself: root writes nothing into a folder in which somebody else may have laid a link.
    subprocess.run([*AS_IT, "cp", "-r", "--", f"{env['NUMBA_CACHE_DIR']}/.", str(compiled)], capture_output=True)
    env["NUMBA_CACHE_DIR"] = str(compiled)
    return NAME


def written_by_it(instance: Instance) -> tuple[Path, ...]:
    """Uploads, and the log of requests with caches; made where they are missing."""
    folders = (instance.var / "media", instance.served_dir)
    for folder in folders:
        folder.mkdir(parents=True, exist_ok=True)
    return folders


def give_to(user: str, folders: Iterable[Path]) -> None:
    """These folders and all in them; what a link leads to stays whose it is."""
    owner = pwd.getpwnam(user)
    for folder in folders:
        for path in (folder, *folder.rglob("*")):
            if path.lstat().st_uid != owner.pw_uid:
                os.chown(path, owner.pw_uid, owner.pw_gid, follow_symlinks=False)


def _ensure_there() -> None:
    try:
        pwd.getpwnam(NAME)
    except KeyError:
        run_quietly(
            ["useradd", "--system", "--user-group", "--no-create-home", "--shell=/usr/sbin/nologin", NAME],
            remedy=f"make a system user {NAME}",
        )


def enters(folder: Path) -> bool:
    """Whether that user can go into a folder: each one above it lets it through."""
    return subprocess.run([*AS_IT, "test", "-x", str(folder)], capture_output=True).returncode == 0


def _reaches(env: Mapping[str, str]) -> bool:
    found = []
    for before in ((), AS_IT):
        tried = subprocess.run(
            [*before, str(PYTHON), "-c", _TRY],
            cwd=SERVER,
            env={**os.environ, **env, "PYTHONDONTWRITEBYTECODE": "1"},
            capture_output=True,
        )
        found.append((tried.returncode, tried.stdout))
    return found[0][0] == 0 and found[0] == found[1]
