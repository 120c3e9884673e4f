"""The best plan of a few jobs, by dynamic programming over sets of jobs.

First the best order within a visit for every set that fits into one; then the best cut of all jobs into such sets, in
an order that needs allow. Twelve jobs have 4 096 sets and 531 441 cuts.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ember_core.visits.jobs import Day, Job
from ember_core.visits.simple import able

MOST_JOBS = 12


@dataclass(frozen=True, slots=True)
class _Order:
    """Some jobs of a visit in an order: what it costs so far, when it ends, and what stood before its last job."""

    isolations: int
    walks: int
    end: int
    last: int
    before: _Order | None


def best(day: Day, jobs: Sequence[Job]) -> list[list[Job]]:
    """Visits with the fewest visits, then isolations, then minutes; each job fits into one by itself.

    Parameters
    ----------
    jobs : at most `MOST_JOBS`, with all that they need among them.
    """
    count = len(jobs)
    place = {job.id: k for k, job in enumerate(jobs)}
    needs = [sum(1 << place[need] for need in job.needs) for job in jobs]
    orders = _orders(day, jobs, needs)
    whole = (1 << count) - 1
    is_free = not any(needs)
    wanted = {sets: _union(needs, sets) & ~sets for sets in orders}
    # For each set that is done: visits, isolations, walks; what was done before the last visit.
    reached: dict[int, tuple[tuple[int, int, int], int]] = {0: ((0, 0, 0), 0)}
    for done in range(whole):
        if done not in reached:
            continue
        (visits, isolations, walks), _ = reached[done]
        rest = whole & ~done
        # Where no visit needs another, the first open job is always next.
        first = rest & -rest if is_free else 0
        sets = rest
        while sets:
            order = orders.get(sets)
            if order is not None and sets & first == first and not wanted[sets] & ~done:
                cost = (visits + 1, isolations + order.isolations, walks + order.walks)
                after = done | sets
                if after not in reached or cost < reached[after][0]:
                    reached[after] = (cost, done)
            sets = (sets - 1) & rest
    found: list[list[Job]] = []
    done = whole
    while done:
        before = reached[done][1]
        found.append([jobs[k] for k in _places(orders[done & ~before])])
        done = before
    return found[::-1]


def _orders(day: Day, jobs: Sequence[Job], needs: Sequence[int]) -> dict[int, _Order]:
    """The best order of every set of jobs that one person can do in one visit."""
    count = len(jobs)
    people = [able(day, job) for job in jobs]
    latest = [day.latest(job) - job.minutes for job in jobs]
    isolating = [[day.isolate_minutes if one.breaker != other.breaker else 0 for other in jobs] for one in jobs]
    walking = [[day.walk(one.room, other.room) for other in jobs] for one in jobs]
    changes = [[int(one.breaker != other.breaker) for other in jobs] for one in jobs]
    labels: dict[int, list[_Order]] = {}
    common: dict[int, frozenset[str]] = {}
    for k, job in enumerate(jobs):
        begin = max(day.isolate_minutes, job.not_before)
        labels[1 << k] = [_Order(1, 0, begin + job.minutes, k, None)]
        common[1 << k] = people[k]
    found: dict[int, _Order] = {}
    for sets in range(1, 1 << count):
        here = labels.pop(sets, None)
        if here is None:
            continue
        kept = _undominated(here)
        # An order that puts a job before what it needs was never made; one that holds all of them counts.
        found[sets] = min(kept, key=lambda order: (order.isolations, order.walks))
        for k in range(count):
            bit = 1 << k
            if sets & bit:
                continue
            together = common[sets] & people[k]
            # What needs this one must not stand before it.
            if not together or any(needs[n] & bit for n in range(count) if sets >> n & 1):
                continue
            common[sets | bit] = together
            for order in kept:
                last = order.last
                begin = max(order.end + isolating[last][k] + walking[last][k], jobs[k].not_before)
                if begin <= latest[k]:
                    labels.setdefault(sets | bit, []).append(
                        _Order(
                            order.isolations + changes[last][k],
                            order.walks + walking[last][k],
                            begin + jobs[k].minutes,
                            k,
                            order,
                        )
                    )
    return found


def _undominated(orders: list[_Order]) -> list[_Order]:
    """For each last job the orders that none beats in isolations, walks and end at once."""
    kept: list[_Order] = []
    for order in sorted(orders, key=lambda one: (one.last, one.isolations, one.walks, one.end)):
        if not any(
            one.last == order.last
            and one.isolations <= order.isolations
            and one.walks <= order.walks
            and one.end <= order.end
            for one in kept
        ):
            kept.append(order)
    return kept


def _union(needs: Sequence[int], sets: int) -> int:
    found = 0
    for k, need in enumerate(needs):
        if sets >> k & 1:
            found |= need
    return found


def _places(order: _Order) -> list[int]:
    found = []
    at: _Order | None = order
    while at is not None:
        found.append(at.last)
        at = at.before
    return found[::-1]
