"""The plan: fewest visits, then isolations, then minutes; a dozen jobs exactly, more by constraint programming.

There a visit is a way from a depot through its jobs and back. For hundreds of jobs, ways that nobody would go are left
out, and what is found is never worse than grouping by breaker.
"""

from __future__ import annotations

import itertools
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ortools.sat.python import cp_model

from ember_core.visits import exact
from ember_core.visits.jobs import Cost, Day, Job, Visit, total
from ember_core.visits.simple import LeftOut, able, grouped, left_out, named

# Up to so many jobs every order is open; beyond, each job knows so many that may follow it.
MOST_WHOLE = 40
FOLLOWERS = 14
LIMIT_S = 15.0
TICK_S = 0.25
WORKERS = 8
SEED = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """What is done when and by whom.

    Parameters
    ----------
    visits : in their order; what a job needs stands before it. is_optimal : proved; nothing better is possible.
    """

    visits: tuple[Visit, ...]
    cost: Cost
    left_out: tuple[LeftOut, ...]
    is_optimal: bool


# Told how much of its time is gone, of how much; False stops with the best so far.
Progress = Callable[[int, int], bool]


def plan(day: Day, *, limit_s: float = LIMIT_S, progress: Progress | None = None) -> Plan:
    """The best plan that is found in a time.

    Parameters
    ----------
    limit_s : longest search [s].
    """
    out = left_out(day)
    gone = {one.id for one in out}
    jobs = [job for job in day.jobs if job.id not in gone]
    if not jobs:
        return Plan(visits=(), cost=Cost(visits=0, isolations=0, minutes=0), left_out=out, is_optimal=True)
    if len(jobs) <= exact.MOST_JOBS:
        visits = named(day, exact.best(day, jobs))
        return Plan(visits=visits, cost=total(day, visits), left_out=out, is_optimal=True)
    simple = grouped(day, jobs)
    best, cost = simple, total(day, simple)
    found, is_optimal = searched(day, jobs, simple, limit_s=limit_s, progress=progress)
    if found is not None:
        named_so = named(day, found)
        found_cost = total(day, named_so)
        if found_cost.key <= cost.key:
            best, cost = named_so, found_cost
    return Plan(visits=best, cost=cost, left_out=out, is_optimal=is_optimal)


def searched(
    day: Day, jobs: Sequence[Job], simple: Sequence[Visit], *, limit_s: float, progress: Progress | None = None
) -> tuple[list[list[Job]] | None, bool]:
    """Visits by the constraint solver, begun with a simple plan, and whether they are proved the best."""
    return _Search(day, jobs, simple).run(limit_s, progress)


class _Search:
    """The model: jobs 1 to n, the depot 0."""

    def __init__(self, day: Day, jobs: Sequence[Job], simple: Sequence[Visit]) -> None:
        self.day, self.jobs, self.simple = day, list(jobs), simple
        self.model = cp_model.CpModel()
        self.place = {job.id: k for k, job in enumerate(self.jobs, 1)}
        self.is_whole = len(self.jobs) <= MOST_WHOLE
        self.arcs: dict[tuple[int, int], cp_model.IntVar] = {}
        self._ways()
        self._times()
        self._people()
        self._needs()
        self._costs()
        self._hint()

    def _job(self, k: int) -> Job:
        return self.jobs[k - 1]

    def _ways(self) -> None:
        """Every job is on one way; a way may begin and end with any."""
        count = len(self.jobs)
        pairs = {(0, k) for k in range(1, count + 1)} | {(k, 0) for k in range(1, count + 1)}
        for k in range(1, count + 1):
            others = [n for n in range(1, count + 1) if n != k]
            if not self.is_whole:
                one = self._job(k)
                others.sort(key=lambda n: (self.day.between(one, self._job(n)), n))
                others = others[:FOLLOWERS]
            pairs |= {(k, n) for n in others}
        for visit in self.simple:
            ids = [self.place[name] for name in visit.jobs]
            pairs |= set(itertools.pairwise(ids))
        self.arcs = {pair: self.model.new_bool_var(f"{pair[0]}>{pair[1]}") for pair in sorted(pairs)}
        self.model.add_multiple_circuit([(a, b, arc) for (a, b), arc in self.arcs.items()])

    def _times(self) -> None:
        self.begin = {}
        for k, job in enumerate(self.jobs, 1):
            low = max(self.day.isolate_minutes, job.not_before)
            self.begin[k] = self.model.new_int_var(low, self.day.latest(job) - job.minutes, f"begin {k}")
        for (a, b), arc in self._between():
            gap = self._job(a).minutes + self.day.between(self._job(a), self._job(b))
            self.model.add(self.begin[b] >= self.begin[a] + gap).only_enforce_if(arc)

    def _between(self) -> list[tuple[tuple[int, int], cp_model.IntVar]]:
        return [(pair, arc) for pair, arc in self.arcs.items() if 0 not in pair]

    def _people(self) -> None:
        """One person a visit, who may do all of it; nothing to say where everybody may do everything."""
        everybody = {person.id for person in self.day.people}
        if all(able(self.day, job) == everybody for job in self.jobs):
            return
        number = {person.id: k for k, person in enumerate(self.day.people)}
        who = {
            k: self.model.new_int_var_from_domain(
                cp_model.Domain.from_values(sorted(number[name] for name in able(self.day, job))), f"who {k}"
            )
            for k, job in enumerate(self.jobs, 1)
        }
        for (a, b), arc in self._between():
            self.model.add(who[a] == who[b]).only_enforce_if(arc)

    def _needs(self) -> None:
        """Earlier in the same visit, or in an earlier one; visits are known by their first job."""
        self.rank: dict[int, cp_model.IntVar] = {}
        pairs = [(self.place[need], k) for k, job in enumerate(self.jobs, 1) for need in job.needs]
        if not pairs:
            return
        count = len(self.jobs)
        self.rank = {k: self.model.new_int_var(0, count - 1, f"rank {k}") for k in range(1, count + 1)}
        first = {k: self.model.new_int_var(1, count, f"visit {k}") for k in range(1, count + 1)}
        for k in range(1, count + 1):
            self.model.add(first[k] == k).only_enforce_if(self.arcs[0, k])
        for (a, b), arc in self._between():
            self.model.add(self.rank[a] == self.rank[b]).only_enforce_if(arc)
            self.model.add(first[a] == first[b]).only_enforce_if(arc)
        for before, after in pairs:
            together = self.model.new_bool_var(f"{before} and {after} together")
            self.model.add(first[before] == first[after]).only_enforce_if(together)
            gap = self._job(before).minutes
            self.model.add(self.begin[after] >= self.begin[before] + gap).only_enforce_if(together)
            self.model.add(self.rank[after] >= self.rank[before] + 1).only_enforce_if(~together)

    def _costs(self) -> None:
        """What is made small, one after the other; what must be at least is said beforehand."""
        day, count = self.day, len(self.jobs)
        visits = sum(self.arcs[0, k] for k in range(1, count + 1))
        changes = [arc for (a, b), arc in self._between() if self._job(a).breaker != self._job(b).breaker]
        isolations = visits + sum(changes)
        walks = sum(day.walk(self._job(a).room, self._job(b).room) * arc for (a, b), arc in self._between())
        work = sum(job.minutes for job in self.jobs)
        breakers = len({job.breaker for job in self.jobs})
        least = -(-(work + day.isolate_minutes * breakers) // day.visit_minutes)
        self.model.add(visits >= max(1, least))
        self.model.add(isolations >= breakers)
        self.goals = (visits, isolations, walks)

    def _hint(self) -> None:
        """The simple plan, so that whatever is found is no worse."""
        used: set[tuple[int, int]] = set()
        for visit in self.simple:
            ids = [0, *(self.place[name] for name in visit.jobs), 0]
            used |= set(itertools.pairwise(ids))
        for pair, arc in self.arcs.items():
            self.model.add_hint(arc, pair in used)

    def run(self, limit_s: float, progress: Progress | None) -> tuple[list[list[Job]] | None, bool]:
        """The visits that were found, in an order that needs allow, and whether they are proved the best.

        Visits are made few first; then, with so many, isolations; then minutes.
        """
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = WORKERS
        solver.parameters.random_seed = SEED
        solver.parameters.linearization_level = 2
        clock = _Clock(limit_s, progress)
        found: list[list[Job]] | None = None
        is_proved = True
        for goal in self.goals:
            if clock.left_s <= 0.0:
                is_proved = False
                break
            self.model.minimize(goal)
            status = clock.solve(solver, self.model)
            if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
                is_proved = False
                break
            found = self._visits(solver)
            is_proved = is_proved and status == cp_model.OPTIMAL
            self.model.add(goal <= round(solver.objective_value))
            self.model.clear_hints()  # type: ignore[no-untyped-call]
            for arc in self.arcs.values():
                self.model.add_hint(arc, solver.boolean_value(arc))
        return found, is_proved and self.is_whole

    def _visits(self, solver: cp_model.CpSolver) -> list[list[Job]]:
        after = {a: b for (a, b), arc in self.arcs.items() if a != 0 and solver.boolean_value(arc)}
        starts = [k for k in range(1, len(self.jobs) + 1) if solver.boolean_value(self.arcs[0, k])]
        if self.rank:
            starts.sort(key=lambda k: solver.value(self.rank[k]))
        visits = []
        for start in starts:
            visit, k = [], start
            while k != 0:
                visit.append(self._job(k))
                k = after[k]
            visits.append(visit)
        return visits


class _Clock:
    """The time that is left for all goals together, told as it goes."""

    def __init__(self, limit_s: float, progress: Progress | None) -> None:
        self.left_s, self.progress = limit_s, progress
        self.ticks, self.most = 0, max(1, round(limit_s / TICK_S))

    def solve(self, solver: cp_model.CpSolver, model: cp_model.CpModel) -> cp_model.CpSolverStatus:
        """Search until it is proved, the time is gone, or whoever is told says stop; its status."""
        solver.parameters.max_time_in_seconds = self.left_s
        status: list[cp_model.CpSolverStatus] = []
        done = threading.Event()

        def search() -> None:
            try:
                status.append(solver.solve(model))
            finally:
                done.set()

        threading.Thread(target=search, daemon=True).start()
        while not done.wait(TICK_S):
            self.ticks += 1
            if self.progress is not None and not self.progress(min(self.ticks, self.most), self.most):
                solver.stop_search()
                done.wait()
                self.left_s = 0.0
        self.left_s -= solver.wall_time
        return status[0] if status else cp_model.UNKNOWN
