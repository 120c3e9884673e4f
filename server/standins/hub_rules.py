"""A simulated hub and the devices about it: what pairing does in time, by the cards, and what it refuses.

Time is a number of seconds that the caller moves on; nothing here reads a clock. Acts count from the moment at which
hands have done them. Joining and linking happen by themselves, while everything that they need is open.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from math import inf

from ember_core.pairing.cards import Card, Companion, Prepare
from ember_core.pairing.job import Device, Job
from ember_core.radio.mesh import Kind


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """Something that happened: joined, linked, or refused and why."""

    at_s: float
    device: str
    code: str
    is_refusal: bool = False


@dataclass(slots=True, kw_only=True)
class _Span:
    """An open window; it is closed by its end, or earlier."""

    begin: float = inf
    end: float = -inf

    def holds(self, at: float) -> bool:
        return self.begin <= at < self.end


@dataclass(slots=True, kw_only=True)
class _State:
    """What one device knows and does."""

    device: Device
    prepared: set[Prepare] = field(default_factory=set)
    window: _Span = field(default_factory=_Span)
    link_window: _Span = field(default_factory=_Span)
    listens_until: float = -inf
    joined: bool = False
    linked: bool = False
    name: str = ""
    level: float = 0.0
    starved: bool = False

    @property
    def card(self) -> Card:
        return self.device.card


class SimulatedHub:
    """One hub, its network and the devices of a job."""

    def __init__(self, job: Job) -> None:
        self._job = job
        self._states = {device.id: _State(device=device) for device in job.devices}
        self._powered: dict[str, bool] = {}
        self._network = _Span()
        self._left_over = set(job.left_over)
        self._now = 0.0
        # Which device the hub is taking in, and since when.
        self._taking: tuple[str, float] | None = None
        self._linking: dict[str, float] = {}
        self.events: list[Event] = []

    @property
    def now_s(self) -> float:
        """How far time has come [s]."""
        return self._now

    @property
    def is_open(self) -> bool:
        """The network takes devices."""
        return self._network.holds(self._now)

    @property
    def network_until_s(self) -> float:
        """Until when the network is open; in the past where it is not [s]."""
        return self._network.end

    def window_until_s(self, name: str) -> float:
        """Until when a device can join; in the past where it cannot [s]."""
        return self._states[name].window.end

    def has_joined(self, name: str) -> bool:
        """A device is in the network."""
        return self._states[name].joined

    def is_linked(self, name: str) -> bool:
        """A remote is linked to its dimmer."""
        return self._states[name].linked

    @property
    def joined(self) -> tuple[str, ...]:
        """Every device in the network."""
        return tuple(name for name, state in self._states.items() if state.joined)

    @property
    def linked(self) -> tuple[str, ...]:
        """Every remote that is linked to its dimmer."""
        return tuple(name for name, state in self._states.items() if state.linked)

    @property
    def levels(self) -> dict[str, float]:
        """The level of every device that is in."""
        return {name: state.level for name, state in self._states.items() if state.joined}

    @property
    def left_over(self) -> frozenset[str]:
        """Names that are still there from a test."""
        return frozenset(self._left_over)

    def is_done(self) -> bool:
        """Everything has joined, every remote is linked, and the network is closed."""
        states = self._states.values()
        return (
            all(state.joined for state in states)
            and all(state.linked for state in states if state.card.companion is not Companion.NONE)
            and not self.is_open
        )

    # What hands do.

    def open_network(self, at_s: float) -> None:
        """Let devices in, for as long as this hub does."""
        self.advance(at_s)
        # Opened again, it begins anew with whomever it was taking in.
        self._taking = None
        self._network = _Span(begin=at_s, end=at_s + self._job.hub.window_s)

    def close_network(self, at_s: float) -> None:
        """Let nobody in any more."""
        self.advance(at_s)
        self._network = _Span()
        self._taking = None

    def remove(self, name: str, at_s: float) -> None:
        """Take a name away that a test left there."""
        self.advance(at_s)
        self._left_over.discard(name)

    def power(self, breaker: str, at_s: float, *, is_on: bool = True) -> None:
        """A breaker is switched; off ends whatever was open on it."""
        self.advance(at_s)
        self._powered[breaker] = is_on
        for state in self._fed_by(breaker):
            # Whoever loses the supply is dark, and stays so until it is told otherwise.
            state.level = 0.0
            state.window, state.link_window = _Span(), _Span()
            self._forget(state.device.id)
            if not is_on:
                continue
            card = state.card
            if card.by_power and not state.joined:
                state.window = _Span(begin=at_s, end=at_s + card.window_s)
            if card.link_window_s > 0.0:
                state.listens_until = at_s + card.first_window_s
                state.link_window = _Span(begin=state.listens_until, end=state.listens_until + card.link_window_s)

    def cycle(self, breaker: str, at_s: float) -> None:
        """Off and on; on at that time."""
        self.power(breaker, at_s, is_on=False)
        self.power(breaker, at_s)

    def prepare(self, name: str, what: Prepare, at_s: float) -> None:
        """Let a control learn its load, or set its mode link."""
        self.advance(at_s)
        state = self._states[name]
        if self._lives(state):
            state.prepared.add(what)
        else:
            self._refuse(name, "no_supply")

    def enter(self, name: str, at_s: float) -> None:
        """Bring a device into pairing, as its card says; one that does so by its supply takes no press."""
        self.advance(at_s)
        state = self._states[name]
        if not self._lives(state):
            self._refuse(name, "no_supply")
        elif state.card.by_power:
            self._refuse(name, "enters_by_power")
        else:
            self._forget(name)
            state.window = _Span(begin=at_s, end=at_s + state.card.window_s)

    def ask_link(self, name: str, at_s: float) -> None:
        """Ask a dimmer to be linked; while it listens to the hub alone it does not hear that."""
        self.advance(at_s)
        state = self._states[name]
        if not self._lives(state):
            self._refuse(name, "no_supply")
        elif at_s < state.listens_until:
            self._refuse(name, "listens_to_hub")
        else:
            state.link_window = _Span(begin=at_s, end=at_s + state.card.link_window_s)

    def reset(self, name: str, at_s: float) -> None:
        """Everything that a device knew is gone, and the hub forgets it."""
        self.advance(at_s)
        state = self._states[name]
        state.joined = state.linked = False
        state.name = ""
        state.window = _Span()
        self._forget(name)

    def starve(self, name: str, at_s: float, *, is_starved: bool = True) -> None:
        """A control that is not fed while its lamp is off: it drops off."""
        self.advance(at_s)
        self._states[name].starved = is_starved

    def call(self, name: str, spoken: str, at_s: float) -> None:
        """Give a device its name."""
        self.advance(at_s)
        if self._states[name].joined:
            self._states[name].name = spoken
        else:
            self._refuse(name, "not_joined")

    def command(self, name: str, level: float, at_s: float) -> bool:
        """Set a level, 0 to 1; False where the device does not answer."""
        self.advance(at_s)
        state = self._states[name]
        if not state.joined or not self._lives(state) or state.starved or not self._is_heard(state):
            self._refuse(name, "no_answer")
            return False
        state.level = level
        return True

    # What time does.

    def advance(self, to_s: float) -> None:
        """Move time on; whatever joins or is linked meanwhile does so at its own moment."""
        if to_s < self._now:
            raise ValueError(f"time goes back from {self._now} to {to_s}")
        while True:
            self._begin()
            step = min((at for at in self._moments() if at > self._now), default=inf)
            if step > to_s:
                self._now = to_s
                self._end()
                self._begin()
                return
            self._now = step
            self._end()

    def _moments(self) -> Iterator[float]:
        """When something begins or ends."""
        yield self._network.begin
        yield self._network.end
        for state in self._states.values():
            for span in (state.window, state.link_window):
                yield span.begin
                yield span.end
        if self._taking is not None:
            name, since = self._taking
            yield since + self._states[name].card.join_s
        for name, since in self._linking.items():
            yield since + self._states[name].card.link_s

    def _end(self) -> None:
        """What has come to its end now."""
        if self._taking is not None:
            name, since = self._taking
            state = self._states[name]
            if self._now >= since + state.card.join_s:
                self._taking = None
                state.joined, state.window = True, _Span()
                taken_over = state.card.companion is Companion.DIMMER_FIRST and not state.linked
                self._tell(name, "taken_over" if taken_over else "joined")
            elif not (state.window.holds(self._now) and self.is_open):
                self._taking = None
                self._refuse(name, "window_over" if self.is_open else "network_closed")
        for name, since in list(self._linking.items()):
            state = self._states[name]
            if self._now >= since + state.card.link_s:
                del self._linking[name]
                state.linked, state.window = True, _Span()
                self._states[state.device.dimmer].link_window = _Span()
                self._tell(name, "linked")
            elif not self._may_link(state):
                del self._linking[name]
                self._refuse(name, "window_over")

    def _begin(self) -> None:
        """What begins now: one device at a time is taken in, remotes are linked while the network is closed."""
        if self._taking is None and self.is_open:
            waiting = [s for s in self._states.values() if s.window.holds(self._now) and not s.joined]
            for state in sorted(waiting, key=lambda s: (s.window.begin, s.device.id)):
                refusal = self._refusal(state)
                if refusal:
                    state.window = _Span()
                    self._refuse(state.device.id, refusal)
                else:
                    self._taking = state.device.id, self._now
                    break
        for name, state in self._states.items():
            if name not in self._linking and self._may_link(state):
                self._linking[name] = self._now

    def _may_link(self, state: _State) -> bool:
        if state.card.companion is Companion.NONE or state.linked or self.is_open:
            return False
        # Joined before it was linked, the one listens to the hub alone; the other must have joined.
        if state.joined is not (state.card.companion is Companion.LINK_LATER):
            return False
        dimmer = self._states.get(state.device.dimmer)
        return (
            dimmer is not None
            and self._lives(dimmer)
            and state.window.holds(self._now)
            and dimmer.link_window.holds(self._now)
        )

    def _refusal(self, state: _State) -> str:
        """Why the hub does not take a device; empty where it does."""
        hub, card = self._job.hub, state.card
        if card.band not in hub.bands:
            return "wrong_family"
        if hub.listed is not None and card.code not in hub.listed:
            return "not_listed"
        if len(self.joined) >= hub.left:
            return "hub_full"
        if not self._is_heard(state):
            return "out_of_range"
        if not set(card.prepare_s) <= state.prepared:
            return "not_prepared"
        there = {other.card.code for other in self._states.values() if other.joined}
        return "" if set(card.waits_for) <= there else "waits_for_another"

    def _is_heard(self, state: _State) -> bool:
        """Over routers that have joined and have their supply, the hub hears it."""
        seen, edge = {self._job.hub.id}, [self._job.hub.id]
        while edge:
            at = edge.pop()
            for name, other in self._states.items():
                if name in seen or at not in self._job.hears.get(name, frozenset()):
                    continue
                if name == state.device.id:
                    return True
                if other.joined and other.card.kind is Kind.ROUTER and self._lives(other):
                    seen.add(name)
                    edge.append(name)
        return False

    def _lives(self, state: _State) -> bool:
        return not state.device.breaker or self._powered.get(state.device.breaker, False)

    def _fed_by(self, breaker: str) -> list[_State]:
        return [state for state in self._states.values() if state.device.breaker == breaker]

    def _forget(self, name: str) -> None:
        if self._taking is not None and self._taking[0] == name:
            self._taking = None
        self._linking.pop(name, None)

    def _tell(self, name: str, code: str) -> None:
        self.events.append(Event(at_s=self._now, device=name, code=code))

    def _refuse(self, name: str, code: str) -> None:
        self.events.append(Event(at_s=self._now, device=name, code=code, is_refusal=True))
