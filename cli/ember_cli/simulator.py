"""Running Debian's general circuit simulator on a netlist of ours, for the bench and for tests."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ember_core.offstate.network import Floats

COMMAND = "ngspice"


@dataclass(frozen=True, slots=True, kw_only=True)
class Simulated:
    """What a run gave: its time steps, one column for each vector by name, and how long it took [s]."""

    columns: dict[str, Floats]
    took_s: float


def is_installed() -> bool:
    """True when the simulator can be run."""
    return shutil.which(COMMAND) is not None


def run(text: str) -> Simulated:
    """Run one netlist made by `ember_core.netlist`.

    Raises
    ------
    RuntimeError : it gave no result; the exit status alone does not tell, so the output is looked at.
    """
    with tempfile.TemporaryDirectory() as folder:
        Path(folder, "loop.cir").write_text(text)
        began = time.perf_counter()
        done = subprocess.run([COMMAND, "-b", "loop.cir"], cwd=folder, capture_output=True, text=True)
        took = time.perf_counter() - began
        result = Path(folder, "out.txt")
        if "aborted" in done.stdout + done.stderr or not result.exists():
            raise RuntimeError(f"{COMMAND} gave no result: {(done.stdout + done.stderr)[-500:]}")
        with result.open() as lines:
            names = lines.readline().lower().split()
        data = np.loadtxt(result, skiprows=1)
    return Simulated(columns={name: data[:, k] for k, name in enumerate(names)}, took_s=took)
