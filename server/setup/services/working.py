"""What still works of each lamp when something fails, in words."""

from __future__ import annotations

from typing import Any

from ember_core.errors import InputError, InputErrors
from ember_core.house.document import Placed
from ember_core.house.works import unknown, works
from ember_core.rules.paths import Cell, Failure, Table, Works
from loops.models import Gang
from setup.services.houses import house_of
from sites.models import Site
from wording.texts import catalogue, fill

Json = dict[str, Any]


def works_answer(site: Site) -> Json:
    """The table: each lamp with what works never or nobody knows, and with each failure what is left and lost."""
    house = house_of(site)
    try:
        found = works(house)
    except InputError as error:
        raise InputErrors([error]) from error
    unheard = unknown(house)

    def is_unknown(device: Placed, way: str) -> bool:
        return not unheard.isdisjoint((device.id, way.partition(":")[2]))

    texts = catalogue("setup")
    names = {one.id: one.name for one in house.devices}
    lamps = {f"~lamp:{one.gang}": one for one in house.devices if one.gang}
    gangs = {str(gang.pk): gang for gang in Gang.objects.filter(loop__site=site).select_related("loop")}
    failures = [one for one in Failure if any(cell.failure is one for cell in found.cells)]
    return {
        "failures": [{"code": one.value, "text": texts["failures"][one.value]} for one in failures],
        "lamps": [
            {
                "gang": device.gang,
                "loop": gangs[device.gang].loop_id if device.gang in gangs else None,
                "name": device.name,
                "never": [_way(name, names, texts) for name in found.never[lamp] if not is_unknown(device, name)],
                "unknown": [_way(name, names, texts) for name in found.never[lamp] if is_unknown(device, name)],
                "cells": [
                    {
                        "failure": cell.failure.value,
                        "works": cell.works.value,
                        "works_text": texts["works"][_works(cell, found)],
                        "left": [_way(name, names, texts) for name in cell.left],
                        "lost": [_way(name, names, texts) for name in cell.lost],
                        "by": names.get(cell.by, ""),
                    }
                    for cell in found.cells
                    if cell.lamp == lamp
                ],
            }
            for lamp, device in lamps.items()
        ],
    }


def _works(cell: Cell, found: Table) -> str:
    """Of a lamp that some way never works for, not all works when nothing more is lost."""
    return "rest" if cell.works is Works.ALL and found.never[cell.lamp] else cell.works.value


def _way(name: str, names: dict[str, str], texts: Json) -> str:
    kind, _, of = name.partition(":")
    return str(fill(texts["ways"][kind], {"name": names.get(of, "")}))
