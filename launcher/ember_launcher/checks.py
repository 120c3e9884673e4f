"""`./ember test`: lint, types, layers, build, then every test with the real database and browser."""

from __future__ import annotations

import io
import os
import re
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from enum import StrEnum

from ember_launcher import built, python_env, system_packages, web_build
from ember_launcher.console import Refusal, Step, run_quietly, say
from ember_launcher.database import Database
from ember_launcher.places import PYTHON, ROOT, SERVER, VENV, WEB, Instance, one_at_a_time

PYTHON_FOLDERS = ("launcher", "core", "cli", "server", "tests")
# With an error of the browser's tests stands what was on the screen, below a line that begins so.
ON_SCREEN = "on the screen:"
# Of tests and classes of tests that take seconds each.
LONG = "long"
# Of those that take long and ask in another place, another state or another order what shorter ones ask.
WHOLE = "whole"
# Of tests that measure, which nothing else may keep waiting.
ALONE = "alone"
# Labels of tests, and options of the runner.
Part = tuple[list[str], list[str]]


class Extent(StrEnum):
    """How much is run."""

    # No browser, no copies of its own, nothing long.
    QUICK = "quick"
    # Every rule, and each step of a job in the browser: before each commit.
    USUAL = "usual"
    # Everything: as CI does.
    WHOLE = "whole"
    # Everything, and properties on every case that is drawn for them: before a release.
    THOROUGH = "thorough"


IN_PART = (Extent.QUICK, Extent.USUAL)
BENCH_REMEDY = "mend what is listed above; ./ember format rewrites the layout of all files"


def set_up() -> dict[str, str]:
    """Everything that checking needs; returns the environment for node."""
    if built.ABOUT.exists():
        raise Refusal("this is a release: it brings neither tests nor what checks the sources")
    system_packages.ensure(system_packages.to_run() + system_packages.TEST)
    python_env.ensure(development=True)
    return web_build.ensure_packages()


def gates(node: dict[str, str]) -> None:
    """Lint beside layers and types, then build: any of them failing ends the run, with all that failed."""
    with ThreadPoolExecutor() as side_by_side:
        asked = [side_by_side.submit(gate, node) for gate in (_lint, _layers_and_types)]
    refusals = [str(error) for one in asked if isinstance(error := one.exception(), Refusal)]
    if refusals:
        raise Refusal("\n".join(refusals))
    for one in asked:
        one.result()
    web_build.ensure_built()


def _lint(node: dict[str, str]) -> None:
    tool = VENV / "bin"
    with Step("lint"):
        run_quietly([tool / "ruff", "check", *PYTHON_FOLDERS], cwd=ROOT, remedy=BENCH_REMEDY)
        run_quietly([tool / "ruff", "format", "--check", *PYTHON_FOLDERS], cwd=ROOT, remedy=BENCH_REMEDY)
        run_quietly(["npm", "run", "--silent", "lint"], cwd=WEB, env=node, remedy=BENCH_REMEDY)


def _layers_and_types(node: dict[str, str]) -> None:
    tool = VENV / "bin"
    with Step("layers"):
        run_quietly(
            [tool / "lint-imports", "--no-cache"], cwd=ROOT, remedy="an import goes the wrong way, see pyproject.toml"
        )
    with Step("types"):
        run_quietly([tool / "mypy"], cwd=ROOT, remedy=BENCH_REMEDY)
        run_quietly(["npm", "run", "--silent", "types"], cwd=WEB, env=node, remedy=BENCH_REMEDY)


def format_all() -> None:
    """Rewrite the layout of all files."""
    node = set_up()
    run_quietly([VENV / "bin" / "ruff", "check", "--fix-only", "--quiet", *PYTHON_FOLDERS], cwd=ROOT, remedy="")
    run_quietly([VENV / "bin" / "ruff", "format", *PYTHON_FOLDERS], cwd=ROOT, remedy=BENCH_REMEDY)
    run_quietly(["npx", "prettier", "--write", "src"], cwd=WEB, env=node, remedy=BENCH_REMEDY)


def run_tests(instance: Instance, labels: list[str], extent: Extent) -> int:
    """Run the gates and the tests; the last line is `N passed, N failed, N skipped` as counted by the runner.

    Parameters
    ----------
    labels : dotted paths, files or folders of tests; none for all that the extent has.
    extent : how much of it; what is named is run whole.
    """
    began = time.monotonic()
    if labels and extent is Extent.USUAL:
        extent = Extent.WHOLE
    # Read by tests.drawn.
    os.environ["EMBER_EXTENT"] = extent
    named = [dotted(label) for label in labels]
    with one_at_a_time(ROOT / "var"):
        node = set_up()
        gates(node)
        instance.prepare()
    # A copy that was named may hold more than tests.
    database = Database(instance, lasting=instance.var != ROOT / "var" / "test")
    started = database.ensure_running()
    try:
        return _run(instance, stages_of(named, extent), began, node, is_part=extent in IN_PART)
    finally:
        if started:
            database.stop()


def dotted(label: str) -> str:
    """A file or folder of tests as the runner names it; what is no path stays as it is."""
    return label.removesuffix(".py").strip("/").replace("/", ".") if (ROOT / label).exists() else label


def _run(
    instance: Instance, stages: list[list[Part]], began: float, node: dict[str, str], *, is_part: bool = False
) -> int:
    env = {**os.environ, **instance.environment(), "PYTHONPATH": str(ROOT)}
    # Tests call node too, wherever it is.
    env["PATH"] = f"{VENV / 'bin'}{os.pathsep}{node['PATH']}"
    total = [0, 0, 0]
    blocks: list[list[str]] = []
    for parts in stages:
        with ThreadPoolExecutor() as side_by_side:
            asked = [side_by_side.submit(_part, *part, env) for part in parts]
        for one in asked:
            counts, found = one.result()
            total = [sum(pair) for pair in zip(total, counts, strict=True)]
            blocks += found
    passed, failed, skipped = total
    # Once more at the end, where it is read even if what was shown in between is not kept.
    for block in blocks:
        say("\n".join(shortened(block)))
    say(f"all of it took {time.monotonic() - began:.0f} s")
    if is_part:
        say(f"not everything was run: ./ember test --{Extent.WHOLE} does that, as CI")
    print(f"{passed} passed, {failed} failed, {skipped} skipped", flush=True)
    return 1 if failed else 0


def _part(labels: list[str], options: list[str], env: dict[str, str]) -> tuple[tuple[int, int, int], list[list[str]]]:
    """Run these; what they counted, and what the runner says of each test that did not pass."""
    say(f"tests: {' '.join(labels)}")
    since = time.monotonic()
    status, tail, found = _runner(labels, options, env)
    say(f"tests: {' '.join(labels)}: {time.monotonic() - since:.0f} s")
    return counted(tail, status), found


def stages_of(labels: list[str], extent: Extent) -> list[list[Part]]:
    """Parts of the tests with the options of the runner: those of a stage side by side, then those of the next.

    First, on every processor, what shares nothing but the database's server, and beside it what starts copies of its
    own and waits much; then what measures how soon a copy answers, and nothing beside it. A usual run leaves out what
    measures and what is tagged for the whole only; a quick one also the browser, copies and what is tagged as long.
    What is named is run as it is named, in one process, so that an error can be looked into.
    """
    if labels:
        return [[(labels, [])]]
    processes = max(2, min(4, os.cpu_count() or 2))
    together = [f"tests.{name}" for name in ("core", "cli", "server")]
    parallel = f"--parallel={processes}"
    is_part = extent in IN_PART
    left_out = [f"--exclude-tag={WHOLE}"] if is_part else []
    if extent is Extent.QUICK:
        return [[(together, [parallel, *left_out, f"--exclude-tag={LONG}"])]]
    copies = ["tests.launcher"]
    first = [
        ([*together, "tests.interface"], [parallel, *left_out]),
        (copies, [*left_out, f"--exclude-tag={ALONE}"]),
    ]
    return [first] if is_part else [first, [(copies, [f"--tag={ALONE}"])]]


def _runner(labels: list[str], options: list[str], env: dict[str, str]) -> tuple[int, str, list[list[str]]]:
    """Run these, shown as they go; status, last lines and what the runner says of each test that did not pass."""
    command = [PYTHON, SERVER / "manage.py", "test", "--noinput", "--top-level-directory", ROOT, *options, *labels]
    runner = subprocess.Popen(
        [str(part) for part in command], cwd=ROOT, env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )
    output = runner.stdout or io.StringIO()
    tail = ""
    failures = Failures()
    for line in output:
        sys.stderr.write(line)
        sys.stderr.flush()
        tail = (tail + line)[-4000:]
        failures.read(line.rstrip("\n"))
    return runner.wait(), tail, failures.blocks


class Failures:
    """Collects from the runner's lines what it says of each test that did not pass."""

    def __init__(self) -> None:
        self.blocks: list[list[str]] = []
        self._ruled = self._open = False

    def read(self, line: str) -> None:
        """The next line: a block begins with a double rule and a name, and ends where the count stands."""
        if self._ruled and re.match(r"(ERROR|FAIL|UNEXPECTED SUCCESS): ", line):
            self.blocks.append([])
            self._open = True
        elif re.match(r"Ran \d+ tests?", line):
            self._open = False
        self._ruled = re.fullmatch("={70}", line) is not None
        if self._open and not self._ruled and line.strip("-"):
            self.blocks[-1].append(line)


def shortened(block: list[str], lines: int = 14, of_screen: int = 50) -> list[str]:
    """The name of the test, the last lines of what was said of it, and the last of the first screen that it left."""
    screens = [index for index, line in enumerate(block) if line.startswith(ON_SCREEN)]
    if screens:
        first, *others = [*screens, len(block)]
        screen = block[first : others[0]]
        return [*shortened(block[:first], lines), screen[0], *(line[:100] for line in screen[1:][-of_screen:])]
    return block if len(block) <= lines else [block[0], "[...]", *block[1 - lines :]]


def counted(tail: str, status: int) -> tuple[int, int, int]:
    """Passed, failed and skipped, from the closing lines of the runner and its exit status.

    Raises
    ------
    Refusal : the runner ended before it counted.
    """
    ran = re.findall(r"^Ran (\d+) tests?", tail, re.MULTILINE)
    if not ran:
        raise Refusal("the test runner ended before it counted any test")
    counts = dict(re.findall(r"(failures|errors|skipped|unexpected successes)=(\d+)", tail))
    failed = sum(int(counts.get(key, 0)) for key in ("failures", "errors", "unexpected successes"))
    skipped = int(counts.get("skipped", 0))
    passed = int(ran[-1]) - failed - skipped
    if status != 0 and failed == 0:
        failed = 1
    return passed, failed, skipped
