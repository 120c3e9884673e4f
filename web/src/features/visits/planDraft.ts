/** What is typed of a plan, as text in fields, and what of it can be sent. */
import { clock, minutesOf } from "./clock";
import type { Plan, PlanDefaults, PlanSave } from "./queries";

export interface JobDraft {
  /** At the loop [min]; empty for those that are computed. */
  minutes: string;
  skill: string;
  after: string;
  readyOn: string;
}

export interface Draft {
  name: string;
  firstDay: string;
  /** Of the day, as 08:00. */
  begins: string;
  /** Of a visit [h]. */
  hours: string;
  /** To isolate a breaker [min]. */
  isolate: string;
  /** Between two loops [min]. */
  walk: string;
  people: Record<string, string>;
  windows: Record<string, [string, string]>;
  jobs: Record<string, JobDraft>;
}

export const EMPTY_JOB: JobDraft = { minutes: "", skill: "", after: "", readyOn: "" };

/** A plan that is begun: the usual day, by whoever asks. */
export function newDraft(defaults: PlanDefaults): Draft {
  return {
    name: "",
    firstDay: tomorrow(),
    begins: "08:00",
    hours: "8",
    isolate: "8",
    walk: "2",
    people: { [defaults.me]: "" },
    windows: windowsOf(defaults.windows),
    jobs: {},
  };
}

/** A plan as it is kept. */
export function draftOf(plan: Plan): Draft {
  return {
    name: plan.name,
    firstDay: plan.first_day,
    begins: clock(plan.begins_min),
    hours: String(plan.visit_minutes / 60),
    isolate: String(plan.isolate_minutes),
    walk: String(plan.walk_minutes),
    people: Object.fromEntries(plan.asked_people.map((one) => [one.id, (one.skills ?? []).join(", ")])),
    windows: windowsOf(plan.windows),
    jobs: Object.fromEntries(
      plan.jobs.map((job) => [
        job.loop,
        {
          minutes: job.minutes === null ? "" : String(job.minutes),
          skill: job.skill,
          after: job.needs[0] ?? "",
          readyOn: job.ready_on ?? "",
        },
      ]),
    ),
  };
}

function windowsOf(windows: Plan["windows"]): Draft["windows"] {
  const said = (minutes: number | null) => (minutes === null ? "" : clock(minutes));
  return Object.fromEntries(windows.map((one) => [one.circuit, [said(one.begins_min), said(one.ends_min)]]));
}

function tomorrow(): string {
  const day = new Date();
  do day.setDate(day.getDate() + 1);
  while (day.getDay() % 6 === 0);
  return [day.getFullYear(), day.getMonth() + 1, day.getDate()]
    .map((part) => String(part).padStart(2, "0"))
    .join("-");
}

/** Null where something that must be a number is none; the server says the rest. */
export function savedOf(draft: Draft): PlanSave | null {
  const number = (text: string) => Number(text.replace(",", "."));
  const begins = minutesOf(draft.begins);
  const figures = [draft.hours, draft.isolate, draft.walk].map(number);
  const minutes = Object.values(draft.jobs)
    .filter((job) => job.minutes.trim() !== "")
    .map((job) => number(job.minutes));
  if (begins === null || draft.firstDay === "" || draft.name.trim() === "") return null;
  if ([...figures, ...minutes].some((value) => !Number.isFinite(value))) return null;
  return {
    name: draft.name.trim(),
    first_day: draft.firstDay,
    begins_min: begins,
    visit_minutes: Math.round((figures[0] ?? 0) * 60),
    isolate_minutes: Math.round(figures[1] ?? 0),
    walk_minutes: Math.round(figures[2] ?? 0),
    people: Object.entries(draft.people).map(([id, skills]) => ({
      id,
      skills: skills
        .split(",")
        .map((skill) => skill.trim())
        .filter(Boolean),
    })),
    windows: Object.entries(draft.windows).map(([circuit, [from, until]]) => ({
      circuit,
      begins_min: minutesOf(from),
      ends_min: minutesOf(until),
    })),
    jobs: Object.entries(draft.jobs).map(([loop, job]) => ({
      loop,
      minutes: job.minutes.trim() === "" ? null : Math.round(number(job.minutes)),
      skill: job.skill.trim(),
      needs: job.after === "" ? [] : [job.after],
      ready_on: job.readyOn || null,
    })),
  };
}

/** The same without one. */
export function leaving<T>(all: Record<string, T>, key: string): Record<string, T> {
  return Object.fromEntries(Object.entries(all).filter(([name]) => name !== key));
}
