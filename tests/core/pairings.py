"""Drawn sites with devices to join, a plan carried out on the simulated hub, and a search that knows no plan."""

from __future__ import annotations

import random
from collections.abc import Iterator, Mapping
from dataclasses import replace

from ember_core.pairing.cards import Act, Card, Companion, Prepare, cards
from ember_core.pairing.job import ASK_S, CLOSE_S, OPEN_S, POWER_S, Device, Hub, Job
from ember_core.pairing.plan import Do, Step, act_s
from ember_core.radio.budget import Band
from ember_core.radio.mesh import Kind
from standins.hub_rules import SimulatedHub


def drawn_card(draw: random.Random, code: str, codes: list[str]) -> Card:
    """A card with times about those of the trade, now and then one that cannot be met."""
    companion = draw.choice((Companion.NONE,) * 6 + (Companion.DIMMER_FIRST, Companion.LINK_LATER))
    act = draw.choice((Act.HOLD, Act.PRESS)) if companion is not Companion.NONE else draw.choice(tuple(Act))
    others = [other for other in codes if other != code]
    return Card(
        code=code,
        band=draw.choice((Band.MESH,) * 12 + (Band.SUB_GHZ,)),
        kind=Kind.END if companion is not Companion.NONE else draw.choice((Kind.ROUTER, Kind.END)),
        act=act,
        act_s=draw.choice((3.0, 8.0, 20.0)),
        window_s=draw.choice((15.0, 30.0, 60.0, 180.0)),
        join_s=draw.choice((8.0, 15.0, 25.0)),
        prepare_s={} if companion is not Companion.NONE else draw.choice(({}, {}, {Prepare.LEARN_LOAD: 40.0})),
        companion=companion,
        link_s=draw.choice((5.0, 10.0, 20.0)),
        link_window_s=draw.choice((15.0, 25.0, 60.0)) if companion is Companion.NONE else 0.0,
        first_window_s=draw.choice((0.0, 15.0)) if companion is Companion.NONE else 0.0,
        waits_for=(draw.choice(others),) if others and draw.random() < 0.15 else (),
    )


def drawn_job(draw: random.Random, most: int) -> Job:
    """A hub and devices, not all of which can join."""
    codes = [f"card{k}" for k in range(draw.randint(1, 5))]
    kinds = [drawn_card(draw, code, codes) for code in codes]
    wired = [card for card in kinds if card.companion is Companion.NONE]
    devices: list[Device] = []
    for k in range(draw.randint(1, most)):
        card = draw.choice(kinds)
        dimmers = [one.id for one in devices if one.card.companion is Companion.NONE]
        if card.companion is not Companion.NONE:
            dimmer = draw.choice(dimmers) if dimmers else ""
            devices.append(Device(id=f"d{k}", card=card, dimmer=dimmer, d_m=draw.uniform(1.0, 40.0)))
        elif wired:
            breaker = f"F{draw.randint(1, 3)}"
            devices.append(Device(id=f"d{k}", card=card, breaker=breaker, d_m=draw.uniform(1.0, 40.0)))
    names = ["hub", *(device.id for device in devices)]
    density = draw.choice((0.3, 0.6, 1.0))
    pairs = {(a, b) for k, a in enumerate(names) for b in names[k + 1 :] if draw.random() < density}
    hears = {
        name: frozenset(b if a == name else a for a, b in pairs if name in (a, b)) for name in names if name != "hub"
    }
    return Job(
        hub=Hub(
            id="hub",
            bands=frozenset({Band.MESH}),
            left=draw.choice((len(devices), len(devices) + 3, max(0, len(devices) - 1))),
            window_s=draw.choice((20.0, 30.0, 60.0, 180.0)),
            listed=None if draw.random() < 0.8 else frozenset(codes[: max(1, len(codes) - 1)]),
        ),
        devices=tuple(devices),
        hears=hears,
    )


def easy_job(draw: random.Random, most: int) -> Job:
    """A site where everything fits: cards of the trade, all in range of something."""
    known = [card for card in cards().values() if card.band is Band.MESH]
    wired = [card for card in known if card.companion is Companion.NONE]
    devices: list[Device] = []
    for k in range(draw.randint(1, most)):
        dimmers = [one.id for one in devices if one.card.link_window_s > 0.0]
        card = draw.choice(known if dimmers else wired)
        near = draw.uniform(1.0, 40.0)
        if card.companion is not Companion.NONE:
            devices.append(Device(id=f"d{k}", card=card, dimmer=draw.choice(dimmers), d_m=near))
        else:
            devices.append(Device(id=f"d{k}", card=card, breaker=f"F{draw.randint(1, 4)}", d_m=near))
    hears: dict[str, frozenset[str]] = {}
    routers = ["hub"]
    for device in devices:
        hears[device.id] = frozenset({draw.choice(routers)})
        if device.card.kind is Kind.ROUTER:
            routers.append(device.id)
    hub = Hub(id="hub", bands=frozenset({Band.MESH}), left=len(devices), window_s=draw.choice((45.0, 60.0, 180.0)))
    return Job(hub=hub, devices=tuple(devices), hears=hears, left_over=("test lamp",))


def carry_out(hub: SimulatedHub, step: Step) -> None:
    """One step of a plan, done at the end of its time."""
    match step.do:
        case Do.REMOVE:
            hub.remove(step.device, step.end_s)
        case Do.POWER:
            hub.power(step.device, step.end_s)
        case Do.CYCLE:
            hub.cycle(step.device, step.end_s)
        case Do.PREPARE:
            assert step.prepare is not None
            hub.prepare(step.device, step.prepare, step.end_s)
        case Do.OPEN:
            hub.open_network(step.end_s)
        case Do.CLOSE:
            hub.close_network(step.end_s)
        case Do.ENTER:
            hub.enter(step.device, step.end_s)
        case Do.ASK_LINK:
            hub.ask_link(step.device, step.end_s)
        case Do.NAME:
            hub.call(step.device, f"name of {step.device}", step.end_s)
        case _:
            hub.advance(step.end_s)


def clone(hub: SimulatedHub) -> SimulatedHub:
    """The same moment of the same hub, to try something else from."""
    made = SimulatedHub(hub._job)
    made._states = {
        name: replace(
            state, prepared=set(state.prepared), window=replace(state.window), link_window=replace(state.link_window)
        )
        for name, state in hub._states.items()
    }
    made._powered, made._network, made._now = dict(hub._powered), replace(hub._network), hub._now
    made._taking, made._linking, made.events = hub._taking, dict(hub._linking), list(hub.events)
    return made


def ready(job: Job) -> SimulatedHub:
    """Everything prepared and under power for long: what is left is to join and to link."""
    hub = SimulatedHub(job)
    for breaker in sorted({device.breaker for device in job.devices if device.breaker}):
        hub.power(breaker, 0.0)
    for device in job.devices:
        for what in device.card.prepare_s:
            hub.prepare(device.id, what, 0.0)
    hub.advance(10_000.0)
    return hub


def acts_of(job: Job) -> Mapping[tuple[str, str], float]:
    """Everything that hands could do, with how long it takes [s]."""
    found: dict[tuple[str, str], float] = {("open", ""): OPEN_S, ("close", ""): CLOSE_S}
    for device in job.devices:
        if device.card.by_power:
            found["cycle", device.breaker] = POWER_S
        else:
            found["enter", device.id] = act_s(device.card)
        if device.card.companion is not Companion.NONE and device.dimmer:
            found["ask", device.dimmer] = ASK_S
            found["cycle", job.device(device.dimmer).breaker] = POWER_S
    return found


def do(hub: SimulatedHub, act: tuple[str, str], seconds: float) -> None:
    """One act of hands."""
    what, name = act
    at = hub.now_s + seconds
    match what:
        case "open":
            hub.open_network(at)
        case "close":
            hub.close_network(at)
        case "cycle":
            hub.cycle(name, at)
        case "enter":
            hub.enter(name, at)
        case "ask":
            hub.ask_link(name, at)


def reach(job: Job, hub: SimulatedHub, most_acts: int, wanted: str | None = None) -> int | None:
    """Fewest acts by which everything, or one device, joins and is linked; None where so many do not suffice.

    A breadth-first search over every order of acts, with a wait after none, some or all of them.
    """
    acts = acts_of(job)
    edge = [hub]
    for count in range(most_acts + 1):
        later: list[SimulatedHub] = []
        seen: set[tuple[object, ...]] = set()
        for state in edge:
            for waited in _waits(state):
                if _is_reached(job, waited, wanted):
                    return count
                if count == most_acts:
                    continue
                for act, seconds in acts.items():
                    made = clone(waited)
                    do(made, act, seconds)
                    key = _key(job, made)
                    if key not in seen:
                        seen.add(key)
                        later.append(made)
        edge = later
    return None


def _waits(state: SimulatedHub) -> Iterator[SimulatedHub]:
    """Going on at once, and after each thing that would happen by itself."""
    yield state
    seen = len(state.events)
    for seconds in (5.0, 8.0, 10.0, 15.0, 20.0, 25.0):
        made = clone(state)
        made.advance(state.now_s + seconds)
        if len(made.events) > seen or seconds == 15.0:
            seen = len(made.events)
            yield made


def _is_reached(job: Job, hub: SimulatedHub, wanted: str | None) -> bool:
    names = [device.id for device in job.devices] if wanted is None else [wanted]
    return all(
        hub.has_joined(name) and (job.device(name).card.companion is Companion.NONE or hub.is_linked(name))
        for name in names
    )


def _key(job: Job, hub: SimulatedHub) -> tuple[object, ...]:
    """What of a state matters: who is in, and how much of each window is left."""
    left = (max(0.0, hub.network_until_s - hub.now_s),)
    each = tuple(
        (hub.has_joined(d.id), hub.is_linked(d.id), max(0.0, hub.window_until_s(d.id) - hub.now_s)) for d in job.devices
    )
    links = tuple(max(0.0, hub._states[d.id].link_window.end - hub.now_s) for d in job.devices)
    return (*left, *each, *links)


def small(job: Job) -> Job:
    """The same with room to spare."""
    return replace(job, hub=replace(job.hub, left=len(job.devices)))
