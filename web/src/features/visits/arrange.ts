/** Who does what when, as a plan is changed by hand: nothing is computed here, only put elsewhere. */
import type { Schemas } from "../../api/client";
import type { Plan } from "./queries";

export type Arrangement = Schemas["VisitSaveRequest"][];

export function arrangementOf(plan: Plan): Arrangement {
  return plan.planned.map((visit) => ({
    person: visit.person,
    day: visit.day,
    loops: visit.stops.map((stop) => stop.loop),
  }));
}

/** A loop taken from where it stands and put into a visit, before the place that is named. */
export function moved(now: Arrangement, loop: string, visit: number, before: number): Arrangement {
  const from = now.findIndex((one) => one.loops.includes(loop));
  const at = from === visit ? (now[visit]?.loops.indexOf(loop) ?? 0) : -1;
  const taken = now.map((one) => ({ ...one, loops: one.loops.filter((other) => other !== loop) }));
  const place = at >= 0 && at < before ? before - 1 : before;
  return taken.map((one, k) =>
    k === visit ? { ...one, loops: [...one.loops.slice(0, place), loop, ...one.loops.slice(place)] } : one,
  );
}

/** A loop in no visit. */
export function without(now: Arrangement, loop: string): Arrangement {
  return now.map((one) => ({ ...one, loops: one.loops.filter((other) => other !== loop) }));
}

/** One more day, of the person who is named. */
export function withVisit(now: Arrangement, person: string, loop: string): Arrangement {
  const days = now.filter((one) => one.person === person).map((one) => one.day);
  return [...without(now, loop), { person, day: days.length ? Math.max(...days) + 1 : 0, loops: [loop] }];
}
