"""Compile the numeric kernels; what is compiled is cached on disk for every later process."""

from __future__ import annotations

from ember_cli import examples
from ember_core import sheet
from ember_core.dimming.on_case import read as read_case
from ember_core.dimming.simulate import simulate
from ember_core.judgement import judge


def run() -> int:
    """Solve one settled and one blinking loop and a dimmed one, which compiles everything."""
    for document in (examples.SETTLED[1], examples.BLINKING):
        judge(sheet.read(document))
    simulate(read_case(examples.DIMMED))
    return 0
