"""`ember routes`: the ways through a box of one practice, each with its moves and its proof, without a server."""

from __future__ import annotations

from typing import Any

from ember_cli.solving import each
from ember_core.errors import InputError, InputErrors
from ember_core.routes.found import Feed, box, landing
from ember_core.routes.seats import Seats
from ember_core.routes.ways import Route, landing_routes, routes
from ember_core.wiring.proof import prove

KEYS = {"name", "practice", "gangs", "region", "spare", "smart"}
LANDING = "two_way"
MOST_GANGS = 3


def answer(document: Any) -> dict[str, Any]:
    """What was found, and every way through it or the one thing that stands against it."""
    if not isinstance(document, dict):
        raise InputError("not_an_object")
    errors = [InputError("unknown_key", path=str(key), key=str(key)) for key in document if key not in KEYS]
    practices = {feed.value for feed in Feed} | {LANDING}
    practice, gangs = document.get("practice"), document.get("gangs", 1)
    if practice not in practices:
        errors.append(InputError("unknown_word", path="practice", given=str(practice)[:60]))
    if isinstance(gangs, bool) or not isinstance(gangs, int) or not 1 <= gangs <= MOST_GANGS:
        errors.append(InputError("out_of_bounds", path="gangs", low=1, high=MOST_GANGS))
    region = document.get("region", "eu")
    if region not in ("eu", "na"):
        errors.append(InputError("unknown_word", path="region", given=str(region)[:60]))
    for key in ("spare", "smart"):
        if not isinstance(document.get(key, False), bool):
            errors.append(InputError("not_a_truth_value", path=key))
    if errors:
        raise InputErrors(errors)
    if practice == LANDING:
        found = landing(region=region)
        ways = landing_routes(found)
    else:
        feed = Feed(str(practice))
        found = box(feed, gangs, region=region, spare=document.get("spare", False), smart=document.get("smart", False))
        ways = routes(found, feed)
    return {"found": _seats(found), "works_as_found": prove(found.drawing()).works, "routes": [_route(w) for w in ways]}


def _seats(wiring: Seats) -> dict[str, Any]:
    return {
        "cores": [
            {"id": core.id, "ends": list(core.ends), "colour": core.colour, "marked": core.marked}
            for core in wiring.cores
        ],
        "seats": dict(wiring.seat_of),
    }


def _route(route: Route) -> dict[str, Any]:
    told = {"way": route.way.value, "against": route.against}
    if route.wanted is None or route.proof is None:
        return told
    return {
        **told,
        "moves": [{"point": move.point, "from": move.before, "to": move.after} for move in route.moves],
        "wanted": _seats(route.wanted),
        "cautions": [finding.code for finding in route.proof.findings],
    }


def run(file: str) -> int:
    """Answer every box of a file; status 1 when one failed."""
    return each(file, answer)
