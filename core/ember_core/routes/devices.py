"""A control of the shelf as a device of a wiring: its terminals named as hands find them."""

from __future__ import annotations

from dataclasses import replace

from ember_core.parts.hardware import Demand, Hardware, InputUse, Sort, YesNo
from ember_core.wiring.drawing import Control, Kind, NeutralUse

# What stands for a control of which nobody says anything, by what it is to the wiring.
_USUAL_CORES = 2


def word(kind: type[Sort] | type[Demand] | type[YesNo], value: Sort | Demand | YesNo) -> float:
    """The place of a word among its kind, as figures keep it."""
    return float(list(kind).index(value))


def plain(*, sort: Sort = Sort.CONTROL, neutral: Demand = Demand.NONE, earth: Demand = Demand.NONE) -> Hardware:
    """A control of no make: any number of outputs, the first of which feeds it where it has no neutral."""
    return Hardware(
        sort=word(Sort, sort),
        outputs=4,
        feeding_outputs=0 if neutral is Demand.REQUIRED else 1,
        neutral=word(Demand, neutral),
        earth=word(Demand, earth),
        inputs=4 if sort is Sort.MODULE else 0,
        two_way_input=word(YesNo, YesNo.YES),
        companion=word(YesNo, YesNo.YES),
        cores_per_terminal=_USUAL_CORES,
    )


def control_of(hardware: Hardware, name: str, gangs: int, *, with_neutral: bool) -> Control:
    """The device.

    Parameters
    ----------
    gangs : outputs that are used, L1 to Ln. with_neutral : its neutral is connected, so that no output feeds it.
    """
    neutral = hardware.word("neutral") or Demand.NONE
    earth = hardware.word("earth") or Demand.NONE
    loads = tuple(f"L{k}" for k in range(1, gangs + 1))
    feeding = 0 if with_neutral or neutral is Demand.REQUIRED else hardware.count("feeding_outputs", 1)
    inputs = min(hardware.count("inputs", 0), gangs)
    holds = hardware.count("cores_per_terminal", _USUAL_CORES)
    made = Control(
        id=name,
        kind=Kind.CONTROL,
        line="L",
        loads=loads,
        neutral=None if neutral is Demand.NONE else "N",
        neutral_use=_USE[neutral],
        earth=None if earth is Demand.NONE else "PE",
        needs_earth=earth is Demand.REQUIRED,
        reversible=hardware.word("reversible") is YesNo.YES,
        feeding_loads=loads[:feeding],
        link=("L", "N") if hardware.word("link") is YesNo.YES and neutral is not Demand.NONE else None,
        inputs=("S", *(f"S{k}" for k in range(1, inputs + 1))) if inputs else (),
    )
    terminals = [made.line, *loads, *(one for one in (made.neutral, made.earth) if one), *made.inputs]
    return replace(
        made, holds={terminal: holds for terminal in terminals if terminal != "S"} | {"S": max(holds, gangs)}
    )


def no_rocker(hardware: Hardware) -> str | None:
    """What stands against an ordinary switch at the inputs; None where nothing does."""
    if not hardware.count("inputs", 0):
        return "no_input"
    return "input_wants_push" if hardware.word("input_use") is InputUse.PUSH else None


_USE = {
    Demand.NONE: NeutralUse.NONE,
    Demand.OPTIONAL: NeutralUse.OPTIONAL,
    Demand.REQUIRED: NeutralUse.REQUIRED,
}
