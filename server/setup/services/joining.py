"""The plan of joining as the API gives it: steps in words with windows, what to repeat after a miss, what came."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from accounts.models import User
from common.problems import Problem
from ember_core.house.document import House, HubPlace
from ember_core.house.fits import job_of
from ember_core.pairing.job import OPEN_S, Device, Hindrance, Job
from ember_core.pairing.plan import Do, Pairing, Step, act_s, again, plan
from ember_core.survey.isolation import Scope
from loops.models import Gang, Loop
from setup.models import PairMark
from setup.services.houses import house_of, how_to_enter
from setup.services.marks import RESET, joined_of, mark_step, marks_of
from sites.models import Site
from survey.services.covering import locks_on, open_isolations
from survey.services.safety import name_of
from wording.texts import catalogue, fill

Json = dict[str, Any]
# In place of a breaker: the whole installation.
EVERY = ""


def hub_of(house: House, name: str) -> HubPlace:
    """One of the hubs.

    Raises
    ------
    Problem : there is none of this name.
    """
    hub = house.hub(name)
    if hub is None:
        raise Problem(422, "unknown_hub", path="hub", key=name[:80])
    return hub


def breakers_of(site: Site) -> dict[str, str]:
    """What feeds the control of each gang, by its loop's breaker."""
    rows = Gang.objects.filter(loop__site=site).select_related("loop__circuit")
    return {str(gang.pk): gang.loop.circuit.breaker if gang.loop.circuit else f"~{gang.loop_id}" for gang in rows}


def locked_breakers(site: Site) -> dict[str, str]:
    """Breakers that are kept off by the record, and by whom; `EVERY` where the whole installation is."""
    found: dict[str, str] = {}
    for row in open_isolations(site.pk):
        who = ", ".join(sorted({name_of(lock.person) for lock in locks_on(row)})) or name_of(row.opened_by)
        names = [EVERY] if row.scope == Scope.WHOLE else [circuit.breaker for circuit in row.circuits.all()]
        found.update(dict.fromkeys(names, who))
    return found


def job_at(site: Site, house: House, hub: HubPlace, joined: set[str]) -> Job:
    """What is still to be joined."""
    return job_of(house, hub, breakers_of(site), frozenset(joined))


def left_out(job: Job, without: frozenset[str]) -> Job:
    """A job without some devices, and without remotes of a dimmer that is left out."""
    gone = without | {device.id for device in job.devices if device.dimmer in without}
    return replace(job, devices=tuple(device for device in job.devices if device.id not in gone))


def key_of(step: Step) -> str:
    """The name of a step; a device that is asked twice has two."""
    return ":".join((step.do.value, step.device, "" if step.prepare is None else step.prepare.value))


def pairing_answer(site: Site, hub_name: str, without: frozenset[str] = frozenset()) -> Json:
    """The plan for what is not in yet, what is in, and what is against the rest.

    Parameters
    ----------
    without : devices that are left out this time; a remote whose dimmer is left out is left out too.
    """
    house = house_of(site)
    hub = hub_of(house, hub_name)
    marks = [mark for mark in marks_of(site) if mark.hub == hub.id]
    joined = joined_of(marks).get(hub.id, set())
    whole = job_at(site, house, hub, joined)
    job = left_out(whole, without)
    made = plan(job) if job.devices else Pairing(steps=(), against=())
    texts = catalogue("setup")
    names = _names(house) | _supplies(site, house, texts)
    return {
        "hub": hub.id,
        "hub_name": hub.name,
        "is_possible": made.is_possible,
        "is_done": not whole.devices and bool(joined),
        "open": [{"id": one.id, "name": names[one.id], "is_left_out": one not in job.devices} for one in whole.devices],
        "locked": [
            {
                "breaker": breaker,
                "text": fill(texts["locked_all" if breaker == EVERY else "locked"], {"breaker": breaker, "who": who}),
            }
            for breaker, who in locked_breakers(site).items()
        ],
        "against": [_against(one, names, texts) for one in made.against],
        "seconds": made.seconds,
        "steps": [
            {
                **_step(one, house, hub, names, texts),
                "again": _again(job, job.device(one.device), house, hub, names, texts) if one.do is Do.JOIN else [],
            }
            for one in made.steps
        ],
        "joined": [{"id": name, "name": names.get(name, name), **_who(marks, name)} for name in sorted(joined)],
        "marks": [_mark(mark) for mark in marks[-60:]],
    }


def _names(house: House) -> dict[str, str]:
    return {**{hub.id: hub.name for hub in house.hubs}, **{one.id: one.name for one in house.devices}}


def _supplies(site: Site, house: House, texts: Json) -> dict[str, str]:
    """What is switched on where nobody knows the breaker: that of the loop, or the device itself, as of a plug."""
    unknown = Loop.objects.filter(site=site, circuit=None).values_list("pk", "name")
    return {
        **{f"~{one.id}": one.name for one in house.devices},
        **{f"~{pk}": fill(texts["breaker_of"], {"name": name}) for pk, name in unknown},
    }


def _who(marks: list[PairMark], device: str) -> Json:
    mark = next(m for m in reversed(marks) if m.device == device and m.step.startswith(Do.JOIN))
    return {"by": name_of(mark.by), "at": mark.made_at or mark.at}


def _mark(mark: PairMark) -> Json:
    return {
        "id": mark.pk,
        "step": mark.step,
        "device": mark.device,
        "name": mark.name,
        "came": mark.came,
        "note": mark.note,
        "by": name_of(mark.by),
        "at": mark.made_at or mark.at,
    }


def _against(one: Hindrance, names: dict[str, str], texts: Json) -> Json:
    ring = " → ".join(names.get(name, name) for name in (*one.ring, *one.ring[:1]))
    params = {"name": names.get(one.device, one.device), "ring": ring}
    return {"code": one.why.value, "device": one.device, "text": fill(texts["against"][one.why.value], params)}


def _step(step: Step, house: House, hub: HubPlace, names: dict[str, str], texts: Json) -> Json:
    device = next((one for one in house.devices if one.id == step.device), None)
    breaker = ""
    if device is None:
        breaker = names.get(step.device) or fill(texts["breaker"], {"name": step.device})
    params = {
        "name": names.get(step.device, step.device),
        "hub": hub.name,
        "breaker": breaker,
        "seconds": round(step.end_s - step.begin_s),
        "window": round(hub.window_s),
        "dimmer": "" if device is None else names.get(device.dimmer, ""),
    }
    entry = texts["steps"][step.do.value if step.prepare is None else step.prepare.value]
    how = "" if device is None or step.do is not Do.ENTER else how_to_enter(device.card.code)
    shows = ""
    if device is not None and step.do in (Do.ENTER, Do.JOIN):
        shows = texts["shows"].get(device.card.shows, "")
    shows_window = step.do in (Do.ENTER, Do.JOIN)
    back = ""
    if device is not None:
        back = fill(
            texts["resets"][device.card.reset.value],
            {"seconds": round(device.card.reset_s), "times": device.card.times},
        )
    return {
        "key": key_of(step),
        "do": step.do.value,
        "device": step.device,
        "title": fill(entry["title"], params),
        "text": fill(entry["text"], params),
        "how": how,
        "shows": shows,
        "back_out": back,
        "begin_s": step.begin_s,
        "end_s": step.end_s,
        "latest_s": step.latest_s,
        "window_s": hub.window_s if step.do is Do.OPEN else device.card.window_s if device and shows_window else None,
        "is_marked": step.do in (Do.JOIN, Do.LINK),
    }


def _again(job: Job, device: Device, house: House, hub: HubPlace, names: dict[str, str], texts: Json) -> list[Json]:
    """What to repeat after a miss, by what is still open then: known beforehand, so that nobody has to ask for it."""
    found = []
    for way in again(job, device):
        at, steps = 0.0, []
        for do in way.acts:
            takes = {Do.OPEN: OPEN_S, Do.JOIN: device.card.join_s}.get(do, act_s(device.card))
            of = device.breaker if do is Do.CYCLE else "" if do is Do.OPEN else device.id
            step = Step(do=do, begin_s=at, end_s=at + takes, device=of)
            steps.append(_step(step, house, hub, names, texts))
            at += takes
        found.append({"network_s": way.network_s, "window_s": way.window_s, "steps": steps})
    return found


def mark(who: User, site: Site, given: Json) -> PairMark:
    """Keep what came of a step.

    Raises
    ------
    Problem : no such hub, no such step or device.
    """
    house = house_of(site)
    hub = hub_of(house, given["hub"])
    do, _, rest = given["step"].partition(":")
    name = rest.partition(":")[0]
    if do not in (*Do, RESET):
        raise Problem(422, "unknown_kind", path="step", value=given["step"][:40], known=", ".join((*Do, RESET)))
    device = next((one for one in house.devices if one.id == name and one.hub == hub.id), None)
    if do in (Do.JOIN, Do.LINK, Do.ENTER, RESET) and device is None:
        raise Problem(422, "unknown_device", path="step", key=name[:80])
    gang = None if device is None or not device.gang else Gang.objects.filter(pk=device.gang).first()
    return mark_step(who, site.pk, given, "" if device is None else name, "" if device is None else device.name, gang)
