"""What has changed since a way was chosen: the wiring that it is for, or what else it stands on."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ember_core.routes.surveyed import Surveyed
from loops.models import Loop
from work.models import RouteChoice
from work.services.finding import Loaded, is_drawn_from_same, today
from work.services.mapping import seats_data


@dataclass(frozen=True, slots=True, kw_only=True)
class Since:
    """What stands against working by a choice.

    Parameters
    ----------
    is_other_wiring : the record says another wiring today; sleeves count not, and nothing once all is done.
    is_current : nor has anything else changed that it stands on, as long as nobody has begun.
    """

    is_other_wiring: bool
    is_current: bool


def since(loop: Loop, choice: RouteChoice, loaded: Loaded | None = None) -> Since:
    """What has changed since a choice.

    Parameters
    ----------
    loaded : the loop as it is, where the caller has it.
    """
    basis, found = today(loop, choice.basis) if loaded is None else (loaded.basis, loaded.ask.found)
    if is_drawn_from_same(choice.basis, basis):
        found = None
    is_other = choice.done_at is None and found is not None and _is_other(found, choice)
    is_same = choice.begun_at is not None or choice.basis == basis
    return Since(is_other_wiring=is_other, is_current=is_same and not is_other)


def _is_other(found: Surveyed, choice: RouteChoice) -> bool:
    return found.seats is None or _wiring(seats_data(found.seats)) != _wiring(choice.wire_map["found"])


def _wiring(kept: Mapping[str, Any]) -> Any:
    """What of a wiring that is kept says where each core goes."""
    cores = [{name: value for name, value in core.items() if name != "marked"} for core in kept["cores"]]
    return json.loads(json.dumps([kept["circuits"], kept["devices"], cores, kept["seat_of"]]))
