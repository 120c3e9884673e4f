"""The plan carried out on the stand-in, over the same interface that a real hub answers."""

from __future__ import annotations

import json
from http.client import HTTPConnection, HTTPException
from typing import Any

from common.problems import Problem
from ember_core.pairing.job import Job
from ember_core.pairing.plan import Do, Pairing, Step, plan
from instruments import stand_ins
from instruments.hub import TIMEOUT_S, HttpHub, HubError
from setup.services.houses import house_of
from setup.services.joining import hub_of, job_at, key_of, left_out
from setup.services.marks import joined_at
from sites.models import Site
from wording.texts import catalogue, fill

Json = dict[str, Any]
_HANDS = {Do.POWER: "power", Do.CYCLE: "cycle", Do.ENTER: "enter", Do.ASK_LINK: "ask_link"}


def new_hub(job_data: Json) -> HttpHub:
    """A simulated hub of its own, reached over HTTP."""
    host, port = stand_ins.hub().address()
    connection = HTTPConnection(host, port, timeout=TIMEOUT_S)
    try:
        connection.request("POST", "/hubs", json.dumps(job_data))
        path = json.loads(connection.getresponse().read())["path"]
    except (OSError, HTTPException, KeyError, ValueError) as error:
        raise HubError("hub_away", str(error)[:120]) from error
    finally:
        connection.close()
    return HttpHub(host, port, path)


def rehearse(site: Site, hub_name: str, late: dict[str, float], without: frozenset[str] = frozenset()) -> Json:
    """Every step of the plan on the stand-in.

    Parameters
    ----------
    late : by the key of a step, how much later than planned hands come to it [s]; everything after it is as late.
    without : devices that are left out this time.

    Raises
    ------
    Problem : the plan is not possible, or the stand-in does not answer.
    """
    house = house_of(site)
    place = hub_of(house, hub_name)
    job = left_out(job_at(site, house, place, joined_at(site).get(place.id, set())), without)
    made = possible(job)
    try:
        hub = new_hub(stand_ins.hub().job_data(job))
        behind, told = 0.0, []
        for step in made.steps:
            behind += late.get(key_of(step), 0.0)
            told.append(_done(hub, step, behind))
        end = hub.state((made.steps[-1].end_s if made.steps else 0.0) + behind)
    except HubError as error:
        raise Problem(502, error.code, path="", said=error.said) from error
    names = {one.id: one.name for one in house.devices}
    texts = catalogue("setup")
    missing = [device.id for device in job.devices if device.id not in end.joined]
    unlinked = [d.id for d in job.devices if d.card.companion and d.id not in end.linked]
    return {
        "steps": told,
        "joined": list(end.joined),
        "is_complete": not missing and not unlinked and not end.is_open,
        "missing": [names.get(name, name) for name in sorted({*missing, *unlinked})],
        "events": [
            {
                **event,
                "name": names.get(event["device"], event["device"]),
                "text": fill(
                    texts["events"].get(event["code"], event["code"]), {"name": names.get(event["device"], "")}
                ),
            }
            for event in end.events
        ],
    }


def possible(job: Job) -> Pairing:
    """The plan of a job.

    Raises
    ------
    Problem : something is against it.
    """
    made = plan(job)
    if not made.is_possible:
        raise Problem(422, "plan_not_possible", path="hub")
    return made


def try_out(site: Site, hub_name: str, acts: list[Json], without: frozenset[str] = frozenset()) -> Json:
    """Levels and power cuts on the stand-in, once everything has joined there.

    Parameters
    ----------
    acts : in their order: `level` of a device with its level, `cut` and `back` of a breaker, `starve` and `feed` of a
        control; each a second after the one before.

    Raises
    ------
    Problem : the plan is not possible, an act of nothing that is there, or the stand-in does not answer.
    """
    house = house_of(site)
    place = hub_of(house, hub_name)
    job = left_out(job_at(site, house, place, set()), without)
    made = possible(job)
    known = {device.id for device in job.devices} | {device.breaker for device in job.devices if device.breaker}
    for k, act in enumerate(acts):
        if act["name"] not in known:
            raise Problem(422, "unknown_device", path=f"acts[{k}].name", key=act["name"])
    names = {one.id: one.name for one in house.devices}
    texts = catalogue("setup")
    told: list[Json] = []
    try:
        hub = new_hub(stand_ins.hub().job_data(job))
        for step in made.steps:
            _done(hub, step, 0.0)
        at = made.steps[-1].end_s if made.steps else 0.0
        for act in acts:
            at += 1.0
            params = {"name": names.get(act["name"], act["name"]), "percent": round(100.0 * act["level"])}
            answered = _act(hub, act, at)
            text = texts["tried"][f"{act['act']}_done"] if answered else texts["events"]["no_answer"]
            told.append({"text": fill(text, params), "is_refusal": not answered})
        state = hub.state(at)
    except HubError as error:
        raise Problem(502, error.code, path="", said=error.said) from error
    return {
        "told": told,
        "devices": [
            {"id": one.id, "name": names[one.id], "level": state.levels.get(one.id, 0.0), "breaker": one.breaker}
            for one in job.devices
        ],
    }


def _act(hub: HttpHub, act: Json, at: float) -> bool:
    """One act; False where a device does not answer."""
    if act["act"] != "level":
        hub.hands("power" if act["act"] == "back" else str(act["act"]), act["name"], at)
        return True
    try:
        hub.command(act["name"], act["level"], at)
    except HubError as error:
        if error.code != "no_answer":
            raise
        return False
    return True


def _done(hub: HttpHub, step: Step, behind: float) -> Json:
    """One step; what came of it."""
    at = step.end_s + behind
    if step.do in _HANDS:
        hub.hands(_HANDS[step.do], step.device, at)
    elif step.do is Do.PREPARE:
        hub.hands("prepare", step.device, at, "" if step.prepare is None else step.prepare.value)
    elif step.do is Do.OPEN:
        hub.open_network(at)
    elif step.do is Do.CLOSE:
        hub.close_network(at)
    elif step.do is Do.REMOVE:
        hub.remove(step.device, at)
    state = hub.state(at)
    worked = True
    if step.do is Do.JOIN:
        worked = step.device in state.joined
    elif step.do is Do.LINK:
        worked = step.device in state.linked
    return {"key": key_of(step), "at_s": at, "worked": worked}
