"""`ember bench`: how fast the solver is, as ratios to the circuit simulator measured in the same run.

Each figure is a median over rounds with the spread of its middle half, which tells how noisy the machine
was. Solver and simulator take turns loop by loop, so both see the same machine.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import fields, replace
from functools import partial

import numpy as np

from ember_cli import examples, simulator
from ember_core import netlist, sheet
from ember_core.bypass.choose import Candidate, choose
from ember_core.bypass.window import capacitor_of
from ember_core.compatibility.gang import while_lit
from ember_core.compatibility.load_limits import load_limits
from ember_core.diagnosis.evidence import Case, Evidence, Told
from ember_core.diagnosis.inference import diagnose
from ember_core.diagnosis.symptoms import Symptom
from ember_core.house.document import read as read_house
from ember_core.house.fits import fits
from ember_core.judgement import judge
from ember_core.lit.pictures import View, band
from ember_core.loop import Loop
from ember_core.offstate.solve import settled_state, solve
from ember_core.onstate import netlist as on_netlist
from ember_core.onstate.case import read as read_case
from ember_core.onstate.simulate import simulate
from ember_core.parts import PhaseMode, ResistorBypass
from ember_core.parts.hardware import Demand, Sort
from ember_core.quantities import Figure, Source
from ember_core.remembered import forget
from ember_core.routes.aloft import At, CeilingPoint
from ember_core.routes.boxes import usual_box
from ember_core.routes.comparing import compare
from ember_core.routes.devices import plain
from ember_core.routes.found import Feed, box
from ember_core.routes.rated import Asked, Offered
from ember_core.routes.surveyed import found_of
from ember_core.spread.judged import judge_spread
from ember_core.survey.judge import judge_box
from ember_core.wiring.proof import prove

# Wanted of a settled solution, which is what the simulator's transient ends in.
WANTED_RATIO = 1000.0
# What the simulator simulates: long enough for the reservoirs to settle from their start values.
SIMULATED_S = 8.0
# What whole answers are measured on.
RANGED = (("settled", examples.SETTLED[1]), ("blinking", examples.BLINKING))


def _timed(work: Callable[[], object], rounds: int) -> list[float]:
    work()
    times = []
    for _ in range(rounds):
        forget()
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return times


def _row(name: str, times: list[float]) -> None:
    low, middle, high = np.quantile(times, [0.25, 0.5, 0.75]) * 1e3
    print(f"  {name:<44} {middle:9.3f} ms   middle half {low:.3f} to {high:.3f} ms")


def _every_figure(loop: Loop) -> object:
    return solve(loop, with_power=False)


def with_ranges(given: sheet.Sheet) -> sheet.Sheet:
    """The sheet with every figure of lamps and supply known within a fifth only."""
    figures = dict(given.figures)
    for path, part in given.loop.parts():
        if not path.startswith(("lamps", "supply")):
            continue
        for spec in fields(part):
            value = getattr(part, spec.name)
            if isinstance(value, float) and value > 0.0 and spec.name not in ("f_hz", "v0_v"):
                wide = 0.1 if path == "supply" else 0.2
                figures[f"{path}.{spec.name}"] = Figure(
                    low=value * (1.0 - wide), typical=value, high=value * (1.0 + wide), source=Source.ASSUMED
                )
    return replace(given, figures=figures)


def run(rounds: int) -> int:
    """Measure and print; status 1 when the solver is slower than it should be."""
    few = min(rounds, max(3, rounds // 5))
    slow = settled(rounds)
    ranged = [(name, with_ranges(sheet.read(document))) for name, document in RANGED]
    (_, settles), (_, blinks) = ranged
    _whole_answers(few)
    _over_ranges(ranged, few)
    _choosing(blinks, few)
    _boxes(few)
    _ways(settles, few)
    _diagnosing(blinks, few)
    _setting_up(few)
    _lit(few)
    return 1 if slow else 0


def settled(rounds: int) -> bool:
    """Loops that settle, beside the simulator; whether the solver is slower than it should be."""
    slow = False
    with_simulator = simulator.is_installed()
    print("Off state of settled loops, one core, warm:")
    for document in examples.SETTLED:
        loop = sheet.read(document).loop
        simulated = simulator.run(netlist.write(loop, duration_s=SIMULATED_S)).took_s if with_simulator else None
        for what, work in (("settled voltages", settled_state), ("every figure", _every_figure)):
            times = _timed(partial(work, loop), rounds)
            _row(f"{document['name']}: {what}", times)
            if simulated is None:
                print(f"  {'':<44} {1.0 / np.median(times):9.0f} loops a second")
                continue
            ratio = simulated / float(np.median(times))
            slow = slow or (work is settled_state and ratio < WANTED_RATIO)
            print(f"  {'':<44} {ratio:9.0f} × faster than the simulator's {simulated:.2f} s")
    if not with_simulator:
        print(f"  {simulator.COMMAND} is not installed: no ratio")
    return slow


def _whole_answers(rounds: int) -> None:
    print("Whole answers:")
    settles, blinks = (sheet.read(document) for _, document in RANGED)
    _row("off state with the power curve", _timed(lambda: solve(settles.loop), rounds))
    _row("judgement with both meter readings", _timed(lambda: judge(settles), rounds))
    _row("judgement of a blinking loop", _timed(lambda: judge(blinks), rounds))


def _over_ranges(ranged: list[tuple[str, sheet.Sheet]], rounds: int) -> None:
    print("Over ranges, 64 samples, warm; wanted on one core 100 ms settled and 300 ms blinking:")
    for name, given in ranged:
        for cores in (1, 2):
            work = partial(judge_spread, given, threads=cores)
            _row(f"judgement of a {name} loop, {cores} core{'s' if cores > 1 else ''}", _timed(work, rounds))


def _boxes(rounds: int) -> None:
    print("Which conductor is which; wanted 500 ms:")
    sixteen, readings = examples.box_of_sixteen()
    for count in (0, len(readings)):
        work = partial(judge_box, sixteen, readings[:count], v_rms=230.0, region="eu")
        _row(f"a box of {len(sixteen.conductors)} conductors in three gangs, {count} readings", _timed(work, rounds))


def _setting_up(rounds: int) -> None:
    print("Setting up; wanted of a house of eighty devices 1 s:")
    eighty = read_house(examples.house_of(80))
    _row("who hears whom, and what would help", _timed(partial(fits, eighty), rounds))


def _lit(rounds: int) -> None:
    print("With the light on; wanted of a gang over 32 samples 1 s, of one figure 150 ms:")
    dimmed = sheet.read(examples.DIMMED_GANG)
    _row("gang on a leading-edge dimmer, no picture", _timed(partial(while_lit, dimmed, with_picture=False), rounds))
    _row("the same with a picture of the half-cycle", _timed(partial(while_lit, dimmed), rounds))
    _row("its band over 8 samples", _timed(partial(band, dimmed, PhaseMode.LEADING, View.RUNNING, 90.0), rounds))
    _row("its least and largest load, whole", _timed(partial(load_limits, dimmed), rounds))
    for document in (examples.DIMMED, examples.TRAILED, examples.CLOSED):
        case = read_case(document)
        times = _timed(partial(simulate, case), rounds)
        _row(f"one case marched: {document['name']}", times)
        if simulator.is_installed():
            took_s = simulator.run(on_netlist.write(case, let_go_deg=150.0)).took_s
            ratio = took_s / float(np.median(times))
            print(f"  {'':<44} {ratio:9.1f} × faster than the simulator's {took_s:.2f} s")


def _ways(given: sheet.Sheet, rounds: int) -> None:
    """A wiring proved, and the ways through a loop compared: when the first is there, and when all are."""
    print("Ways through a loop; wanted of a proof 50 ms, of the first way 1 s, of all 3 s:")
    three = box(Feed.CEILING, 3).drawing()
    _row("proof of a box of three gangs", _timed(partial(prove, three), rounds))
    fed = replace(given, loop=replace(given.loop, control=replace(given.loop.control, standby=None)))
    offered = [
        Offered(key=f"{sort.value} {need.value}", hardware=plain(sort=sort, neutral=need), sheets={1: sheet_of})
        for sort in (Sort.CONTROL, Sort.MODULE, Sort.TIMER)
        for need, sheet_of in ((Demand.NONE, given), (Demand.REQUIRED, fed))
    ]
    bypasses = [Candidate(name=f"{c_f:g}", bypass=capacitor_of(c_f), figures={}) for c_f in examples.BYPASS_F[:8]]
    found = found_of([usual_box("eu", 1)], region="eu", ceiling={1: CeilingPoint(line=At.YES)})
    ask = Asked(found=found, offered=offered, planned={1: offered[0].key}, as_found={1: fed}, bypasses=bypasses)
    first: list[float] = []
    whole: list[float] = []
    for _ in range(rounds + 1):
        forget()
        began = time.perf_counter()

        def progress(done: int, of: int, so_far: object, began: float = began) -> bool:
            if done == 1:
                first.append(time.perf_counter() - began)
            return True

        compare(ask, progress)
        whole.append(time.perf_counter() - began)
    _row("the first way", first[1:])
    _row("all twelve, eight bypasses and six controls", whole[1:])


def _diagnosing(given: sheet.Sheet, rounds: int) -> None:
    """A complaint about a loop that blinks: the first answer from nothing, the next question after an answer."""
    print("Finding the cause of a complaint, on one core; wanted 1 s first, 500 ms next:")
    first = Case(sheet=given, told=(Told(code=Symptom.BLINK_OFF, period_s=0.6),))
    seen = Evidence(test="lamps_looked_at", outcome="as_recorded")
    following = replace(first, evidence=(seen,))
    seeds = iter(range(1, 10_000))
    _row("first answer", _timed(lambda: diagnose(first, seed=next(seeds), with_remedies=False), rounds))
    _row("next question", _timed(lambda: diagnose(following, seed=1, with_remedies=False), rounds))
    _row("the same with remedies tried", _timed(lambda: diagnose(following, seed=1), rounds))


def _choosing(given: sheet.Sheet, rounds: int) -> None:
    """Choosing the bypass among many parts: when the first order is there, and when it is complete."""
    print("Choosing the bypass, 20 parts and the series over 64 samples, two cores; wanted 300 ms first, 2 s complete:")
    offered = [Candidate(name=f"{c_f:g}", bypass=capacitor_of(c_f), figures={}) for c_f in examples.BYPASS_F]
    offered += [Candidate(name=f"{r:g}", bypass=ResistorBypass(r_ohm=r), figures={}) for r in examples.BYPASS_OHM]
    first: list[float] = []
    whole: list[float] = []
    for _ in range(rounds + 1):
        forget()
        began = time.perf_counter()

        def progress(done: int, of: int, so_far: object, began: float = began) -> bool:
            if so_far is not None:
                first.append(time.perf_counter() - began)
            return True

        choose(given, offered, with_values=True, progress=progress)
        whole.append(time.perf_counter() - began)
    # The first round warms up.
    _row("first order, typical figures", first[1:])
    _row("complete, over the ranges", whole[1:])
