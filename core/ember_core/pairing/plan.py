"""The plan as a line of time for one pair of hands, each step with the windows it has to be done in."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ember_core.pairing.cards import Card, Companion, Prepare
from ember_core.pairing.job import ASK_S, CLOSE_S, FIND_S, NAME_S, OPEN_S, POWER_S, REMOVE_S, Device, Hindrance, Job
from ember_core.pairing.order import is_able, order_of

# With less than this the network is as good as closed [s].
LEAST_S = 1.0


class Do(StrEnum):
    """What hands do, or wait for."""

    FIND_HUB = "find_hub"
    REMOVE = "remove"
    POWER = "power"
    PREPARE = "prepare"
    OPEN = "open"
    CLOSE = "close"
    ENTER = "enter"
    JOIN = "join"
    CYCLE = "cycle"
    WAIT = "wait"
    ASK_LINK = "ask_link"
    LINK = "link"
    FIRMWARE = "firmware"
    NAME = "name"


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One step of the line of time.

    Parameters
    ----------
    device : which it is of, or a breaker for `POWER` and `CYCLE`, or a left-over name for `REMOVE`.
    begin_s, end_s : from the start of the plan [s]. latest_s : a window closes then; None where none is open.
    """

    do: Do
    begin_s: float
    end_s: float
    device: str = ""
    prepare: Prepare | None = None
    latest_s: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Pairing:
    """A plan, or what keeps it from being possible."""

    steps: tuple[Step, ...]
    against: tuple[Hindrance, ...]

    @property
    def is_possible(self) -> bool:
        """Everything joins."""
        return not self.against

    @property
    def seconds(self) -> float:
        """How long it takes [s]."""
        return self.steps[-1].end_s if self.steps else 0.0


def plan(job: Job) -> Pairing:
    """The order and the times; no steps where something is against it."""
    order, against = order_of(job)
    if against:
        return Pairing(steps=(), against=against)
    return Pairing(steps=_Line(job, order).steps(), against=())


class _Line:
    """A line of time that grows step by step, and what is open on it."""

    def __init__(self, job: Job, order: tuple[Device, ...]) -> None:
        self._job, self._order = job, order
        self._steps: list[Step] = []
        self._now = 0.0
        self._network_until = -1.0
        # When each breaker was switched on last.
        self._powered: dict[str, float] = {}
        # Devices that entered pairing by their supply, with when and until when.
        self._awake: dict[str, tuple[float, float]] = {}
        self._joined: list[Device] = []

    def steps(self) -> tuple[Step, ...]:
        """The whole of it."""
        self._add(Do.FIND_HUB, FIND_S)
        for name in self._job.left_over:
            self._add(Do.REMOVE, REMOVE_S, name)
        for device in self._order:
            for what, seconds in device.card.prepare_s.items():
                self._power(device)
                self._add(Do.PREPARE, seconds, device.id, prepare=what)
        for device in self._order:
            if device.card.companion is Companion.DIMMER_FIRST:
                self._link(device)
        while left := [device for device in self._order if device not in self._joined]:
            self._join(left[0])
        if self._order:
            self._add(Do.CLOSE, CLOSE_S)
        for device in self._order:
            if device.card.companion is Companion.LINK_LATER:
                self._link_later(device)
        for device in self._order:
            if device.card.firmware_s > 0.0:
                self._add(Do.FIRMWARE, device.card.firmware_s, device.id)
        for device in self._order:
            self._add(Do.NAME, NAME_S, device.id)
        return tuple(self._steps)

    def _add(
        self,
        do: Do,
        seconds: float,
        device: str = "",
        *,
        prepare: Prepare | None = None,
        latest_s: float | None = None,
    ) -> None:
        end = self._now + seconds
        self._steps.append(Step(do=do, begin_s=self._now, end_s=end, device=device, prepare=prepare, latest_s=latest_s))
        self._now = end

    def _power(self, device: Device) -> None:
        if device.breaker and device.breaker not in self._powered:
            self._switch(Do.POWER, device.breaker)

    def _switch(self, do: Do, breaker: str) -> None:
        """Whoever enters pairing by this supply does so now, meant or not."""
        self._add(do, POWER_S, breaker)
        self._powered[breaker] = self._now
        for device in self._order:
            if device.breaker == breaker and device.card.by_power and device not in self._joined:
                self._awake[device.id] = self._now, self._now + device.card.window_s

    def _open(self) -> None:
        self._add(Do.OPEN, OPEN_S)
        self._network_until = self._now + self._job.hub.window_s

    def _join(self, device: Device) -> None:
        """Bring one in, and with it whoever is awake on the same supply."""
        if not device.card.by_power:
            # A breaker that is switched takes nothing of a window.
            self._power(device)
        if any(until > self._now + OPEN_S for _, until in self._awake.values()):
            # The hub would take in those that are awake before anybody who is asked now.
            if self._now + LEAST_S > self._network_until:
                self._open()
            self._take_in()
            return
        self._awake.clear()
        if device.card.by_power:
            self._wake(device)
        else:
            self._ask(device)

    def _ask(self, device: Device) -> None:
        card = device.card
        opens_after = False
        if self._now + card.act_s + card.join_s > self._network_until:
            opens_after = card.act_s + card.join_s > self._job.hub.window_s
            if not opens_after:
                self._open()
        self._add(Do.ENTER, card.act_s, device.id)
        until = self._now + card.window_s
        if opens_after:
            self._open()
        self._add(Do.JOIN, card.join_s, device.id, latest_s=min(until, self._network_until))
        self._joined.append(device)

    def _wake(self, device: Device) -> None:
        """Switch the supply that brings a device into pairing; the times suit the one that the hub takes first."""
        first = min((one for one in self._sleeping(device.breaker) if self._is_able(one)), key=lambda one: one.id)
        opens_after = False
        if self._now + POWER_S + first.card.join_s > self._network_until:
            opens_after = POWER_S + first.card.join_s > self._job.hub.window_s
            if not opens_after:
                self._open()
        self._switch(Do.CYCLE if device.breaker in self._powered else Do.POWER, device.breaker)
        if opens_after:
            self._open()
        self._take_in()

    def _sleeping(self, breaker: str) -> list[Device]:
        return [one for one in self._order if one.breaker == breaker and one.card.by_power and one not in self._joined]

    def _is_able(self, device: Device) -> bool:
        return is_able(self._job, device, self._joined)

    def _take_in(self) -> None:
        """The hub takes in those that are awake, one after another, in the order in which they woke."""
        for name, (_, until) in sorted(self._awake.items(), key=lambda entry: (entry[1][0], entry[0])):
            device = self._job.device(name)
            latest = min(until, self._network_until)
            if self._now >= self._network_until:
                # The others are still awake when it opens again.
                return
            if self._now < latest and self._is_able(device) and self._now + device.card.join_s > latest:
                # It is in the way until a window closes.
                self._add(Do.WAIT, latest - self._now, name)
                if until > latest:
                    return
            elif self._now < latest and self._is_able(device):
                self._add(Do.JOIN, device.card.join_s, name, latest_s=latest)
                self._joined.append(device)
            del self._awake[name]

    def _link(self, device: Device) -> None:
        """A remote to its dimmer, while the network is closed."""
        card, dimmer = device.card, self._job.device(device.dimmer)
        self._power(dimmer)
        listens = self._powered.get(dimmer.breaker, -dimmer.card.first_window_s) + dimmer.card.first_window_s
        if listens > self._now:
            self._add(Do.WAIT, listens - self._now, dimmer.id)
        if card.act_s + card.link_s <= dimmer.card.link_window_s:
            self._add(Do.ASK_LINK, ASK_S, dimmer.id)
            until = self._now + dimmer.card.link_window_s
            self._add(Do.ENTER, card.act_s, device.id)
            latest = min(until, self._now + card.window_s)
        else:
            self._add(Do.ENTER, card.act_s, device.id)
            until = self._now + card.window_s
            self._add(Do.ASK_LINK, ASK_S, dimmer.id)
            latest = min(until, self._now + dimmer.card.link_window_s)
        self._add(Do.LINK, card.link_s, device.id, latest_s=latest)

    def _link_later(self, device: Device) -> None:
        """Dimmer off and on, its first window waited out, and then the remote in the window after it."""
        card, dimmer = device.card, self._job.device(device.dimmer)
        first, lasts = dimmer.card.first_window_s, dimmer.card.link_window_s
        if card.link_s > lasts - max(0.0, card.act_s - first):
            # Hands would be too slow afterwards: the remote is asked before the dimmer is switched.
            self._add(Do.ENTER, card.act_s, device.id)
            until = self._now + card.window_s
            self._switch(Do.CYCLE, dimmer.breaker)
            self._add(Do.WAIT, first, dimmer.id)
        else:
            self._switch(Do.CYCLE, dimmer.breaker)
            wait_s = first if card.act_s + card.link_s <= lasts else max(0.0, first - card.act_s)
            self._add(Do.WAIT, wait_s, dimmer.id)
            self._add(Do.ENTER, card.act_s, device.id)
            until = self._now + card.window_s
        closes = self._powered[dimmer.breaker] + first + lasts
        self._add(Do.LINK, card.link_s, device.id, latest_s=min(until, closes))


def act_s(card: Card) -> float:
    """How long hands need to get a device into pairing [s]."""
    return POWER_S if card.by_power else card.act_s


@dataclass(frozen=True, slots=True, kw_only=True)
class Again:
    """What to repeat after a miss, where network and device are still open for so long [s]; None: however long.

    Parameters
    ----------
    acts : in an order that fits; the last is always the wait for it to join.
    """

    network_s: float | None
    window_s: float | None
    acts: tuple[Do, ...]


def again(job: Job, device: Device) -> tuple[Again, ...]:
    """What to repeat after a device did not join: nothing more than what has closed meanwhile.

    The first whose windows are still open for long enough is the one with the fewest acts; the last always serves.
    """
    card = device.card
    enter = Do.CYCLE if card.by_power else Do.ENTER
    takes = act_s(card)
    whole = (Do.OPEN, enter, Do.JOIN) if takes + card.join_s <= job.hub.window_s else (enter, Do.OPEN, Do.JOIN)
    return (
        Again(network_s=card.join_s, window_s=card.join_s, acts=(Do.JOIN,)),
        Again(network_s=takes + card.join_s, window_s=None, acts=(enter, Do.JOIN)),
        Again(network_s=None, window_s=OPEN_S + card.join_s, acts=(Do.OPEN, Do.JOIN)),
        Again(network_s=None, window_s=None, acts=whole),
    )


def redo(job: Job, device: Device, *, network_left_s: float, window_left_s: float) -> tuple[Do, ...]:
    """The same at a moment.

    Parameters
    ----------
    network_left_s, window_left_s : how long network and device are still open, negative where they are closed [s].
    """
    return next(
        one.acts
        for one in again(job, device)
        if (one.network_s is None or one.network_s <= network_left_s)
        and (one.window_s is None or one.window_s <= window_left_s)
    )
