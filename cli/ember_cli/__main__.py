"""Command line of the computing commands."""

from __future__ import annotations

import argparse
import gc
import json
import os
import sys
from importlib import import_module
from typing import Any


def main() -> int:
    """Run one command."""
    parser = argparse.ArgumentParser(prog="ember", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, text in (
        ("solve", "off state of a loop sheet, or of a list of them"),
        ("netlist", "SPICE netlist of a loop sheet"),
        ("choose", "working window of a bypass for a loop sheet, and parts ranked"),
        ("dim", "a case of the on state: leading or trailing edge, supply gap or window, relay inrush"),
        ("routes", "the ways through a switch box of a practice, each with its moves, proved"),
        ("wire", "what a wiring does in every state of its switches, and what is wrong with it"),
        ("plan", "jobs put into visits with the least visits, isolations and minutes"),
        ("diagnose", "causes of a complaint by their share, the test that tells most, remedies by their chance"),
        ("radio", "margins, reach, weak points and channel of a site's radio"),
        ("programs", "when a lamp is on by its programs, for how long, and what goes against what"),
        ("box", "roles of a switch box's conductors from readings, and what to read next"),
    ):
        command = commands.add_parser(name, help=text, description=text)
        command.add_argument("file", help="JSON file, or - for standard input")
        if name == "dim":
            command.add_argument("--netlist", action="store_true", help="print SPICE netlists instead of answers")
    judging_command = commands.add_parser("judge", help="a loop sheet judged over the ranges of its figures")
    judging_command.add_argument("file", help="JSON file, or - for standard input")
    judging_command.add_argument("--samples", type=int, default=None, help="samples (default 64)")
    judging_command.add_argument("--seed", type=int, default=1, help="the same seed draws the same samples")
    commands.add_parser("schema", help="JSON Schema of a loop sheet")
    timing = commands.add_parser("bench", help="measure how fast the solver is, against the circuit simulator")
    timing.add_argument("--rounds", type=int, default=30, help="timed rounds (default 30)")
    timing.add_argument("--server", default="", help="address of a running copy: also time a second client there")
    timing.add_argument("--name", default="wren", help="account to sign in there with (default the demo's)")
    timing.add_argument("--password", default="kestrel-demo", help="its password (default the demo's)")
    commands.add_parser("warm", help="compile and cache the numeric kernels")
    asked = parser.parse_args()
    return _run(asked)


def _module(name: str) -> Any:
    """A command's own module: what the others need is not brought in, so that a command is there at once.

    Nothing of it is garbage, and none is looked for in it.
    """
    gc.disable()
    found = import_module(f"ember_cli.{name}")
    gc.freeze()
    gc.enable()
    return found


def _run(asked: argparse.Namespace) -> int:
    done: int
    match asked.command:
        case "solve":
            done = _module("solving").run_solve(asked.file)
        case "netlist":
            done = _module("solving").run_netlist(asked.file)
        case "judge":
            done = _module("judging").run(asked.file, asked.samples, asked.seed)
        case "choose":
            done = _module("choosing").run(asked.file)
        case "dim":
            dimming = _module("dimming")
            done = dimming.run_netlist(asked.file) if asked.netlist else dimming.run(asked.file)
        case "box":
            done = _module("boxes").run(asked.file)
        case "routes":
            done = _module("routing").run(asked.file)
        case "wire":
            done = _module("wiring").run(asked.file)
        case "plan":
            done = _module("planning").run(asked.file)
        case "diagnose":
            done = _module("diagnosing").run(asked.file)
        case "radio":
            done = _module("radio").run(asked.file)
        case "programs":
            done = _module("programming").run(asked.file)
        case "schema":
            json.dump(import_module("ember_core.sheet").json_schema(), sys.stdout, indent=1, ensure_ascii=False)
            print()
            done = 0
        case "bench" if asked.server:
            done = _module("second_client").run(asked.server, asked.name, asked.password)
        case "bench":
            done = _module("bench").run(asked.rounds)
        case _:
            done = _module("warm").run()
    return done


if __name__ == "__main__":
    try:
        sys.exit(main())
    except BrokenPipeError:
        # Whoever read our output has read enough; do not complain again when Python closes it.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(1)
