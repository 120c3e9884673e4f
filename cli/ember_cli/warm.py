"""Compile the numeric kernels; what is compiled is cached on disk for every later process."""

from __future__ import annotations

from shutil import rmtree

from ember_cli import examples
from ember_core import sheet
from ember_core.compatibility.gang import while_lit
from ember_core.compiled import CACHE
from ember_core.judgement import judge
from ember_core.onstate.case import read as read_case
from ember_core.onstate.simulate import simulate
from ember_core.parts import PhaseMode


def run() -> int:
    """Solve one settled and one blinking loop and a dimmed one, and look at lamps on either edge and on a contact."""
    for document in (examples.SETTLED[1], examples.BLINKING):
        judge(sheet.read(document))
    simulate(read_case(examples.DIMMED))
    for edge in (PhaseMode.LEADING, PhaseMode.ON_OFF):
        while_lit(sheet.read(examples.SETTLED[0]), edge=edge, with_picture=False)
    _forget_older()
    return 0


def _forget_older() -> None:
    """What was compiled from sources that are no more."""
    if CACHE.parent.name != ".numba_cache":
        return
    for folder in CACHE.parent.iterdir():
        if folder.is_dir() and folder != CACHE:
            rmtree(folder, ignore_errors=True)
