"""Wiring practices as presets: the conductors one would find, with colours and terminals. No role is concluded."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ember_core.survey.box import AT_SWITCH, Conductor, Terminal, Ways

# What a lighting circuit is usually wired with [m²]: 1.5 mm²; No. 14 of the American gauge.
USUAL_SIZE_M2 = {"eu": 1.5e-6, "na": 2.08e-6}


@dataclass(frozen=True, slots=True, kw_only=True)
class Practice:
    """A preset.

    Parameters
    ----------
    id : stable name; its words are in the text catalogue.
    ways : the switch it is for.
    ends : per conductor: cable, colour in a new installation by region, terminal.
    neutral_expected : whether the box usually holds a neutral of this circuit.
    """

    id: str
    ways: Ways
    ends: tuple[tuple[str, str, str, Terminal], ...]
    neutral_expected: bool


_EARTHS = ("green_yellow", "bare")
PRACTICES: tuple[Practice, ...] = (
    Practice(
        id="feed_at_ceiling",
        ways=Ways.ONE_WAY,
        ends=(
            ("A", "brown", "black", Terminal.COMMON),
            ("A", "blue", "white", Terminal.L1),
            ("A", *_EARTHS, Terminal.EARTH),
        ),
        neutral_expected=False,
    ),
    Practice(
        id="feed_at_switch",
        ways=Ways.ONE_WAY,
        ends=(
            ("A", "brown", "black", Terminal.COMMON),
            ("A", "blue", "white", Terminal.JOINT_1),
            ("A", *_EARTHS, Terminal.EARTH),
            ("B", "brown", "black", Terminal.L1),
            ("B", "blue", "white", Terminal.JOINT_1),
            ("B", *_EARTHS, Terminal.EARTH),
        ),
        neutral_expected=True,
    ),
    Practice(
        id="singles_in_conduit",
        ways=Ways.ONE_WAY,
        ends=(("A", "brown", "black", Terminal.COMMON), ("A", "brown", "red", Terminal.L1)),
        neutral_expected=False,
    ),
    Practice(
        id="fixture_fed_light_live",
        ways=Ways.ONE_WAY,
        ends=(
            ("A", "blue", "white", Terminal.COMMON),
            ("A", "brown", "black", Terminal.L1),
            ("A", *_EARTHS, Terminal.EARTH),
        ),
        neutral_expected=False,
    ),
    Practice(
        id="two_way_feed_end",
        ways=Ways.TWO_WAY,
        ends=(
            ("A", "brown", "black", Terminal.COMMON),
            ("B", "black", "red", Terminal.L1),
            ("B", "grey", "blue", Terminal.L2),
            ("A", "blue", "white", Terminal.JOINT_1),
            ("B", "brown", "white", Terminal.JOINT_1),
            ("A", *_EARTHS, Terminal.EARTH),
            ("B", *_EARTHS, Terminal.EARTH),
        ),
        neutral_expected=False,
    ),
    Practice(
        id="two_way_far_end",
        ways=Ways.TWO_WAY,
        ends=(
            ("A", "brown", "black", Terminal.COMMON),
            ("A", "black", "red", Terminal.L1),
            ("A", "grey", "white", Terminal.L2),
            ("A", *_EARTHS, Terminal.EARTH),
        ),
        neutral_expected=False,
    ),
    Practice(
        id="intermediate",
        ways=Ways.INTERMEDIATE,
        ends=(
            ("A", "black", "red", Terminal.IN_1),
            ("A", "grey", "blue", Terminal.IN_2),
            ("B", "black", "red", Terminal.OUT_1),
            ("B", "grey", "blue", Terminal.OUT_2),
            ("A", "brown", "white", Terminal.JOINT_1),
            ("B", "brown", "white", Terminal.JOINT_1),
            ("A", *_EARTHS, Terminal.EARTH),
            ("B", *_EARTHS, Terminal.EARTH),
        ),
        neutral_expected=False,
    ),
)
BY_ID = {practice.id: practice for practice in PRACTICES}


def guessed(practice: Practice, region: str) -> tuple[Conductor, ...]:
    """What a preset draws before anybody has looked: names, cables and likely ends; no colour, nothing seen."""
    return tuple(replace(conductor, colour="", is_seen=False) for conductor in conductors_of(practice, region))


def conductors_of(practice: Practice, region: str, gang: int = 1, first: int = 1) -> tuple[Conductor, ...]:
    """The conductors a preset draws for one gang; ids go on from `first`, each of the first gangs has its own joint."""
    joints = (Terminal.JOINT_1, Terminal.JOINT_2, Terminal.JOINT_3)
    joint = joints[min(gang, len(joints)) - 1]
    return tuple(
        Conductor(
            id=f"c{first + k}",
            cable=cable,
            colour=na if region == "na" else eu,
            terminal=joint if terminal is Terminal.JOINT_1 else terminal,
            gang=gang if terminal in AT_SWITCH else None,
            size_m2=USUAL_SIZE_M2.get(region, USUAL_SIZE_M2["eu"]),
        )
        for k, (cable, eu, na, terminal) in enumerate(practice.ends)
    )
