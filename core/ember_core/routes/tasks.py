"""The timed tasks of one loop, from its way and from what the survey has settled."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ember_core.parts.hardware import Hardware, Sort
from ember_core.routes.lines import lines_of
from ember_core.routes.points import is_aloft
from ember_core.routes.seats import Seats
from ember_core.survey.depth import DepthCheck, Fit
from ember_core.times.minutes import Task
from ember_core.wiring.drawing import Companion, Control, Core

# What belongs to finding and cutting off a circuit; a visit counts it once for all loops of a breaker.
OF_THE_CIRCUIT = (Task.FIND_BREAKER, Task.FIND_PROVED_BREAKER, Task.ISOLATE)


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """What is settled before anybody goes there.

    Parameters
    ----------
    is_breaker_proved : the schedule says which breaker it is, and somebody proved it. is_identified : every conductor
        of the box is sure. is_in_place : control and bypass hang there already as the way wants them.
    in_conduit : cores lie single in conduit, so that one more can be drawn in.
    """

    is_breaker_proved: bool = False
    is_identified: bool = False
    is_in_place: bool = False
    in_conduit: bool = False


def tasks_of(
    found: Seats,
    wanted: Seats,
    *,
    known: Known,
    hardware: Hardware | None = None,
    depth: DepthCheck | None = None,
    dims: bool = False,
) -> Mapping[Task, int]:
    """How often each task is done; a way that changes nothing has only its hand-over."""
    places = places_of(found, wanted)
    if not places:
        return {Task.HAND_OVER: 1}
    if known.is_in_place:
        return {Task.PROVE: 1, Task.HAND_OVER: 1}
    boxes = [place for place in places if not is_aloft(place)]
    controls = sum(isinstance(one, Control) for one in wanted.devices)
    companions = sum(isinstance(one, Companion) for one in wanted.devices)
    pulls = {frozenset(core.ends) for core in wanted.cores if _is_pulled(core, found)}
    has_radio = hardware is not None and hardware.word("sort") in (Sort.CONTROL, Sort.MODULE)
    tasks = {
        Task.FIND_PROVED_BREAKER if known.is_breaker_proved else Task.FIND_BREAKER: 1,
        # Each place is proved dead by itself, and each box once more before it is fixed.
        Task.ISOLATE: len(places) + len(boxes),
        Task.OPEN: len(places),
        Task.IDENTIFY: 0 if known.is_identified else 1,
        Task.FIT: max(1, controls),
        Task.CEILING: len(places) - len(boxes),
        Task.SECOND_BOX: max(0, len(boxes) - 1),
        Task.SPACER: int(depth is not None and depth.fit is Fit.FITS_WITH_SPACER),
        Task.DEEPEN: int(depth is not None and depth.fit is Fit.DOES_NOT_FIT),
        Task.PULL_CONDUIT if known.in_conduit else Task.PULL_CABLE: len(pulls),
        Task.PROVE: 1,
        Task.PAIR: controls + companions if has_radio else 0,
        Task.LEVELS: int(dims),
        Task.HAND_OVER: 1,
    }
    return {task: count for task, count in tasks.items() if count}


def _is_pulled(core: Core, found: Seats) -> bool:
    """New, and from one place to another."""
    one, other = (end.rstrip("'") for end in core.ends)
    return one != other and all(core.id != old.id for old in found.cores)


def places_of(found: Seats, wanted: Seats) -> tuple[str, ...]:
    """Places where hands do something, boxes first; never the board.

    A place is opened where an end moves; a sleeve goes on wherever its core ends at one of them. Where only sleeves are
    put on, the boxes are opened for them.
    """
    lines = lines_of(found, wanted)
    names = {line.place for line in lines if line.place} | {place for line in lines for place in _ends(line.points)}
    if not names - {"board", ""}:
        sleeved = {line.sleeve.core for line in lines if line.sleeve is not None}
        names = {end.rstrip("'") for core in wanted.cores if core.id in sleeved for end in core.ends}
        names = {name for name in names if not is_aloft(name)}
    return tuple(sorted(names - {"board", ""}, key=lambda name: (is_aloft(name), _RANK.get(name, 5), name)))


_RANK = {"box": 0, "foot": 1, "head": 9}


def _ends(points: Iterable[str]) -> set[str]:
    return {point.partition("@")[2].rstrip("'") for point in points}
