"""What the survey's forms choose from, in the region's words."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ember_core.survey.box import ALONE, SWITCH_TERMINALS, EarthFound, Material, Role, Terminal, Ways
from ember_core.survey.colours import COLOURS, USUAL
from ember_core.survey.document import write_conductor
from ember_core.survey.practices import PRACTICES, conductors_of, guessed
from ember_core.survey.readings import Reference
from ember_core.survey.visit import Complaint, LampsKnown, Radio
from survey.services.words import Words

Json = dict[str, Any]
_ELSEWHERE = (Terminal.JOINT_1, Terminal.JOINT_2, Terminal.JOINT_3, Terminal.EARTH, *ALONE)


def choices(region: str) -> Json:
    """Lists of values with their words."""
    words = Words(region)

    def listed(table: str, values: Iterable[str]) -> list[Json]:
        return [{"value": str(value), "text": words.text(table, str(value))} for value in values]

    return {
        "colours": listed("colours", [colour for colour in COLOURS if colour in USUAL[region]]),
        "roles": listed("roles", [role.value for role in Role]),
        "terminals": {
            **{ways.value: listed("terminals", [t.value for t in SWITCH_TERMINALS[ways]]) for ways in Ways},
            "elsewhere": listed("terminals", [t.value for t in _ELSEWHERE]),
        },
        "ways": listed("ways", [ways.value for ways in Ways]),
        "positions": dict(words.texts["positions"]),
        "materials": listed("materials", [material.value for material in Material]),
        "earths": listed("earths", [earth.value for earth in EarthFound]),
        "references": listed(
            "references",
            [
                reference.value
                for reference in (Reference.EARTH, Reference.LINE, Reference.NEUTRAL, Reference.EARTH_ALONE)
            ],
        ),
        "complaints": listed("complaints", [complaint.value for complaint in Complaint]),
        "radios": listed("radios", [radio.value for radio in Radio]),
        "lamps": listed("lamps", [lamps.value for lamps in LampsKnown]),
        "practices": [
            {
                "value": practice.id,
                "text": words.text("practices", practice.id),
                "ways": practice.ways.value,
                "conductors": [write_conductor(conductor) for conductor in guessed(practice, region)],
                "usual": [words.text("colours", drawn.colour) for drawn in conductors_of(practice, region)],
            }
            for practice in PRACTICES
        ],
    }
