"""Wirings for tests: how boxes are fed, controls of every demand, one to three gangs, one- and two-way."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from itertools import product
from typing import Any

import numpy as np

from ember_core.wiring.drawing import Control, Drawing, Kind, contacts_of

Json = dict[str, Any]
PRACTICES = ("loop_in", "fed_at_switch")
CONTROLS = ("two_wire", "two_wire_turnable", "with_bypass", "neutral", "neutral_or_link")


def one_way(practice: str = "loop_in", control: str = "two_wire", gangs: int = 1) -> Json:
    """A control in one box, a lamp a gang.

    Parameters
    ----------
    practice : `loop_in`: the supply comes to the ceiling, the switch hangs on a drop; `fed_at_switch`: it comes to the
        box, where its neutral is joined through.
    control : `two_wire…`: no neutral; `with_bypass`: the same with a bypass at the lamps that feed it; `neutral`: wants
        one; `neutral_or_link`: two-wire by a link.
    """
    loads = [f"L{k}" for k in range(1, gangs + 1)]
    has_neutral = control == "neutral"
    device: Json = {
        "id": "ctl",
        "kind": "control",
        "line": "L",
        "loads": loads,
        "neutral": "N" if has_neutral or control == "neutral_or_link" else None,
        "neutral_use": "required" if has_neutral else "optional" if control == "neutral_or_link" else "none",
        "earth": "PE",
        "needs_earth": True,
        "reversible": control == "two_wire_turnable",
        "feeding_loads": [] if has_neutral else ["L1"],
        "holds": {"N": 4},
        "link": ["L", "N"] if control == "neutral_or_link" else None,
    }
    devices: list[Json] = [device]
    cores = [_core("A1", "board", "far", "brown"), _core("A2", "board", "far", "blue")]
    cores.append(_core("A3", "board", "far", "green-yellow"))
    joints = [["7.L", "A1@board"], ["7.N", "A2@board"], ["E", "A3@board"]]
    capped = []
    live, neutral, earth = ["A1@far"], ["A2@far"], ["A3@far"]
    at_box = practice == "fed_at_switch"
    if not at_box:
        cores += [_core("B1", "far", "wall", "brown"), _core("B3", "far", "wall", "green-yellow")]
        live.append("B1@far")
        earth.append("B3@far")
        joints += [["B1@wall", "ctl.L"], ["B3@wall", "ctl.PE"]]
        if has_neutral:
            cores.append(_core("B4", "far", "wall", "blue"))
            neutral.append("B4@far")
            joints.append(["B4@wall", "ctl.N"])
    else:
        live.append("ctl.L")
        earth.append("ctl.PE")
        if has_neutral:
            neutral.append("ctl.N")
    for k, load in enumerate(loads, 1):
        lamp = f"lamp{k}"
        devices.append({"id": lamp, "kind": "lamp"})
        cores.append(_core(f"C{k}", "wall", f"ceiling{k}", "black" if k == 1 else "grey-brown", "live"))
        joints.append([f"ctl.{load}", f"C{k}@wall"])
        at_lamp = [f"C{k}@ceiling{k}", f"{lamp}.1"]
        cores.append(_core(f"D{k}", "far", f"ceiling{k}", "blue"))
        neutral.append(f"D{k}@far")
        back = [f"D{k}@ceiling{k}", f"{lamp}.2"]
        if control == "with_bypass" and k == 1:
            devices.append({"id": "byp", "kind": "bypass"})
            at_lamp.append("byp.1")
            back.append("byp.2")
        joints += [at_lamp, back]
    if control == "neutral_or_link":
        next(joint for joint in (live, *joints) if "ctl.L" in joint).append("ctl.N")
    if not at_box and not has_neutral:
        cores.append(_core("B4", "far", "wall", "grey"))
        capped += ["B4@far", "B4@wall"]
        cores[-1]["colour"] = "red"
    joints += [live, neutral, earth]
    return {
        "name": f"{practice} {control} {gangs}",
        "circuits": ["7"],
        "devices": devices,
        "cores": cores,
        "joints": joints,
        "capped": capped,
        "intended": {f"lamp{k}": [f"ctl.{load}"] for k, load in enumerate(loads, 1)},
    }


def two_way(*, intermediate: bool = False) -> Json:
    """Ordinary two-way switches at both ends of a landing, and one between them."""
    devices: list[Json] = [
        {"id": "foot", "kind": "two_way"},
        {"id": "head", "kind": "two_way"},
        {"id": "lamp1", "kind": "lamp"},
    ]
    cores = [_core("A1", "board", "foot", "brown"), _core("A2", "board", "lamp", "blue")]
    cores += [_core("T3", "head", "lamp", "black", "live")]
    joints = [["7.L", "A1@board"], ["7.N", "A2@board"], ["A1@foot", "foot.COM"], ["head.COM", "T3@head"]]
    joints += [["T3@lamp", "lamp1.1"], ["A2@lamp", "lamp1.2"]]
    for k in (1, 2):
        if intermediate:
            cores += [_core(f"T{k}", "foot", "middle", "grey"), _core(f"U{k}", "middle", "head", "grey")]
            cores[-1]["colour"] = cores[-2]["colour"] = "black"
            joints += [[f"foot.L{k}", f"T{k}@foot"], [f"T{k}@middle", f"mid.IN{k}"]]
            joints += [[f"mid.OUT{k}", f"U{k}@middle"], [f"U{k}@head", f"head.L{k}"]]
        else:
            cores.append(_core(f"T{k}", "foot", "head", "black"))
            joints += [[f"foot.L{k}", f"T{k}@foot"], [f"T{k}@head", f"head.L{k}"]]
    if intermediate:
        devices.append({"id": "mid", "kind": "intermediate"})
    return {
        "name": "landing",
        "circuits": ["7"],
        "devices": devices,
        "cores": cores,
        "joints": joints,
        "capped": [],
        "intended": {},
    }


def every() -> list[Json]:
    """All of them."""
    found = [one_way(*given) for given in product(PRACTICES, CONTROLS, (1, 2, 3))]
    return [*found, two_way(), two_way(intermediate=True)]


def _core(name: str, a: str, b: str, colour: str, marked: str | None = None) -> Json:
    return {"id": name, "ends": [a, b], "colour": colour, "marked": marked, "size_m2": 1.5e-6}


def moved(drawing: Json, point: str, to: int) -> Json:
    """A copy in which a point lies in another joint."""
    made = copy.deepcopy(drawing)
    made["joints"] = [[one for one in joint if one != point] for joint in made["joints"]]
    made["joints"][to].append(point)
    return made


def exchanged(drawing: Json, one: str, other: str) -> Json:
    """A copy in which two points have changed places."""
    made = copy.deepcopy(drawing)
    swap = {one: other, other: one}
    made["joints"] = [[swap.get(point, point) for point in joint] for joint in made["joints"]]
    return made


def without(drawing: Json, point: str) -> Json:
    """A copy in which a point touches nothing, nor is capped."""
    made = copy.deepcopy(drawing)
    made["joints"] = [left for joint in made["joints"] if (left := [one for one in joint if one != point])]
    made["capped"] = [one for one in made["capped"] if one != point]
    return made


def second_volts(drawing: Drawing, positions: Mapping[str, str]) -> dict[str, float]:
    """Voltage of every point over the supply, every contact and core a small resistance: a second model of a wiring."""
    joined = [core.points for core in drawing.cores]
    joined += [(joint[0], point) for joint in drawing.joints for point in joint[1:]]
    weak = []
    for device in drawing.devices:
        if device.id in positions:
            for a, b in contacts_of(device, positions[device.id]):
                joined.append((f"{device.id}.{a}", f"{device.id}.{b}"))
        if device.kind in (Kind.LAMP, Kind.BYPASS):
            weak.append((f"{device.id}.1", f"{device.id}.2", 1e-3 if device.kind is Kind.LAMP else 1e-5))
        if isinstance(device, Control):
            on = positions[device.id].split("+")
            weak += [
                (f"{device.id}.{device.line}", f"{device.id}.{load}", 1e-7)
                for load in device.feeding_loads
                if load not in on
            ]
            # An input is pulled to the line inside, weakly.
            weak += [(f"{device.id}.{device.line}", f"{device.id}.{name}", 1e-7) for name in device.inputs]
    sources = {f"{circuit}.L": 1.0 for circuit in drawing.circuits}
    sources |= {f"{circuit}.N": 0.0 for circuit in drawing.circuits} | {"E": 0.0}
    names = sorted({p for a, b, *_ in (*joined, *weak) for p in (a, b)} | set(sources))
    place = {name: k for k, name in enumerate(names)}
    matrix, right = np.eye(len(names)) * 1e-12, np.zeros(len(names))
    for a, b, g in [(a, b, 1e3) for a, b in joined] + weak:
        i, j = place[a], place[b]
        matrix[i, i] += g
        matrix[j, j] += g
        matrix[i, j] -= g
        matrix[j, i] -= g
    for name, volts in sources.items():
        matrix[place[name], place[name]] += 1e6
        right[place[name]] += 1e6 * volts
    return dict(zip(names, np.linalg.solve(matrix, right), strict=True))
