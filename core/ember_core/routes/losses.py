"""What a way costs: what is lost against what is planned, and what must be bought."""

from __future__ import annotations

from collections.abc import Mapping

from ember_core.bypass.choose import Candidate as BypassCandidate
from ember_core.parts import PhaseMode
from ember_core.parts.hardware import Sort, WithoutHub, YesNo
from ember_core.routes.rated import Asked, Offered
from ember_core.routes.ways import COMPANION_AT_WALL, MODULES, Route, Way
from ember_core.sheet import Sheet
from ember_core.wiring.drawing import Companion
from ember_core.wiring.drawing import Control as WiredControl


def mode_of(sheet: Sheet) -> PhaseMode | None:
    """Phase mode of the control; None for one that switches only."""
    mode = sheet.loop.control.phase_mode
    return None if mode is PhaseMode.ON_OFF else mode


def wants_to_dim(ask: Asked) -> bool:
    """Whether what is planned dims."""
    planned = [one for one in ask.offered if one.key in ask.planned.values()]
    return any(sheet.loop.control.is_dimmer for one in planned for sheet in one.sheets.values())


def _wish(ask: Asked) -> Sort | None:
    """What the planned control is; None where an ordinary switch is, or nothing is planned and nothing may be said."""
    for one in ask.offered:
        if one.key in ask.planned.values():
            return one.hardware.word("sort")
    return None if ask.planned else Sort.CONTROL


def losses_of(ask: Asked, way: Way, one: Offered | None, dims: PhaseMode | None) -> tuple[str, ...]:
    """Codes of what is lost against what is planned.

    Parameters
    ----------
    one : the control of the way. dims : its phase mode, None for one that switches only.
    """
    found: list[str] = []
    wish = _wish(ask)
    has_radio = wish in (Sort.CONTROL, Sort.MODULE)
    if has_radio and way in (Way.LEAVE, Way.TIMER):
        found.append("no_remote")
    if wish is Sort.TIMER and way is Way.LEAVE:
        found.append("no_program")
    if wish in (Sort.TIMER, None) and way not in (Way.LEAVE, Way.TIMER):
        found.append("more_than_asked")
    if wants_to_dim(ask) and dims is None:
        found.append("no_dimming")
    if way is Way.DROP_AS_FEED:
        found.append("no_wired_control")
    if way is Way.NEW_NEUTRAL:
        found.append("conduit_may_be_full" if ask.known.in_conduit else "fabric_opened")
    if wish is Sort.MODULE and way not in (*MODULES, Way.LEAVE, Way.TIMER):
        found.append("not_the_old_switch")
    if way in COMPANION_AT_WALL:
        found.append("battery_at_the_wall")
    if one is not None and one.hardware.word("without_hub") is WithoutHub.NOTHING:
        found.append("nothing_without_hub")
    wants_one = way in (*COMPANION_AT_WALL, Way.CONTROL_AND_COMPANION)
    if wants_one and one is not None and one.hardware.word("companion") is YesNo.NO:
        found.append("no_companion")
    return tuple(found)


def price_of(ask: Asked, one: Offered | None, route: Route, bypass: Mapping[int, BypassCandidate]) -> float | None:
    """Of what must be bought, in the money of the site; None where one price is not known.

    Parameters
    ----------
    one : the control of the way. bypass : for each gang the one that the way is judged with.
    """
    if one is None:
        return 0.0
    if one.hardware.price is None:
        return None
    devices = () if route.wanted is None else route.wanted.devices
    count = max(1, sum(isinstance(device, WiredControl) for device in devices))
    total = one.hardware.price * max(0, count - (1 if one.is_there else 0))
    companions = sum(isinstance(device, Companion) for device in devices)
    if companions:
        plates = [
            o.hardware.price for o in ask.offered if o.hardware.word("sort") is Sort.COMPANION and o.hardware.price
        ]
        total += companions * min(plates, default=0.0)
    there = {candidate.name for candidate in dict(ask.fitted_bypass).values()}
    for chosen in bypass.values():
        if chosen.name in there:
            continue
        if chosen.bypass is None or chosen.bypass.price is None:
            return None
        total += chosen.bypass.price
    return total
