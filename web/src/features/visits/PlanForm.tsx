/** What a plan asks for: its hours, who comes, which loops, when their circuits may be off. */
import { useState } from "react";
import { Refusal } from "../../api/client";
import { say, texts } from "../../texts";
import { useCircuits } from "../round/queries";
import { clock, minutesOf } from "./clock";
import { useDraft } from "./useDraft";
import { type Plan, type PlanSave, useChangePlan, useDefaults, useLoopsOf, useMakePlan } from "./queries";

const words = texts.visits;

interface JobDraft {
  minutes: string;
  skill: string;
  after: string;
  readyOn: string;
}

interface Draft {
  name: string;
  firstDay: string;
  begins: string;
  hours: string;
  isolate: string;
  walk: string;
  people: Record<string, string>;
  windows: Record<string, [string, string]>;
  jobs: Record<string, JobDraft>;
}

const EMPTY_JOB: JobDraft = { minutes: "", skill: "", after: "", readyOn: "" };

function draftOf(plan: Plan): Draft {
  return {
    name: plan.name,
    firstDay: plan.first_day,
    begins: clock(plan.begins_min),
    hours: String(plan.visit_minutes / 60),
    isolate: String(plan.isolate_minutes),
    walk: String(plan.walk_minutes),
    people: Object.fromEntries(plan.asked_people.map((one) => [one.id, (one.skills ?? []).join(", ")])),
    windows: Object.fromEntries(
      plan.windows.map((one) => [
        one.circuit,
        [
          one.begins_min === null ? "" : clock(one.begins_min),
          one.ends_min === null ? "" : clock(one.ends_min),
        ],
      ]),
    ),
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

function tomorrow(): string {
  const day = new Date();
  do day.setDate(day.getDate() + 1);
  while (day.getDay() % 6 === 0);
  return [day.getFullYear(), day.getMonth() + 1, day.getDate()]
    .map((part) => String(part).padStart(2, "0"))
    .join("-");
}

/** Null where something that must be a number is none; the server says the rest. */
function savedOf(draft: Draft): PlanSave | null {
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

interface Props {
  site: string;
  plan: Plan | null;
  mayEdit: boolean;
  onSaved: (id: string) => void;
}

export function PlanForm({ site, plan, mayEdit, onSaved }: Props) {
  const [id] = useState(() => crypto.randomUUID());
  const defaults = useDefaults(site);
  const loops = useLoopsOf(site);
  const circuits = useCircuits(site);
  const make = useMakePlan();
  const save = useChangePlan(plan?.id ?? "");
  const [begun, keep] = useDraft<Draft>(plan?.id ?? `new ${site}`);
  if (defaults.data === undefined || loops.data === undefined) {
    return <p className="quiet">{texts.bench.loading}</p>;
  }
  const first: Draft =
    plan === null
      ? {
          name: "",
          firstDay: tomorrow(),
          begins: "08:00",
          hours: "8",
          isolate: "8",
          walk: "2",
          people: { [defaults.data.me]: "" },
          windows: Object.fromEntries(
            defaults.data.windows.map((one) => [
              one.circuit,
              [
                one.begins_min === null ? "" : clock(one.begins_min),
                one.ends_min === null ? "" : clock(one.ends_min),
              ],
            ]),
          ),
          jobs: {},
        }
      : draftOf(plan);
  const draft = begun?.draft ?? first;
  const version = begun?.version ?? plan?.version ?? 0;
  const set = (part: Partial<Draft>) => keep({ draft: { ...draft, ...part }, version });
  const saved = savedOf(draft);
  const error = make.error ?? save.error;
  const isBusy = make.isPending || save.isPending;
  const names = new Map(loops.data.results.map((loop) => [loop.id, loop.name]));
  const own = new Map(plan?.jobs.map((job) => [job.loop, job]));
  const field = (name: "name" | "firstDay" | "begins" | "hours" | "isolate" | "walk", type: string) => (
    <label className="field">
      {words.fields[name]}
      <input
        type={type}
        value={draft[name]}
        maxLength={80}
        inputMode={type === "text" && name !== "name" ? "decimal" : undefined}
        onChange={(event) => set({ [name]: event.target.value })}
      />
    </label>
  );
  const done = (kept: Plan) => {
    keep(null);
    onSaved(kept.id);
  };
  const submit = (over = version) => {
    if (saved === null) return;
    if (plan === null) make.mutate({ ...saved, id, site }, { onSuccess: done });
    else save.mutate({ ...saved, version: over }, { onSuccess: done });
  };
  const theirs =
    error instanceof Refusal && error.code === "stale_version"
      ? (error.current as { version: number } | null)
      : null;
  return (
    <form
      className="plan-form"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <fieldset className="plain-set" disabled={!mayEdit}>
        <div className="plan-fields">
          {field("name", "text")}
          {field("firstDay", "date")}
          {field("begins", "time")}
          {field("hours", "text")}
          {field("isolate", "text")}
          {field("walk", "text")}
        </div>
        <h2>{words.people}</h2>
        <ul className="plan-people">
          {defaults.data.people.map((person) => {
            const comes = person.id in draft.people;
            return (
              <li key={person.id}>
                <label className="tick">
                  <input
                    type="checkbox"
                    checked={comes}
                    onChange={() => {
                      set({
                        people: comes
                          ? leaving(draft.people, person.id)
                          : { ...draft.people, [person.id]: (person.skills ?? []).join(", ") },
                      });
                    }}
                  />
                  {person.name}
                </label>
                {comes && (
                  <input
                    aria-label={say(words.skillsOf, { person: person.name })}
                    placeholder={words.skills}
                    value={draft.people[person.id]}
                    maxLength={200}
                    onChange={(event) =>
                      set({ people: { ...draft.people, [person.id]: event.target.value } })
                    }
                  />
                )}
              </li>
            );
          })}
        </ul>
        <h2>{words.loops}</h2>
        <table className="rows plan-loops">
          <thead>
            <tr>
              <th scope="col">{texts.list.loop}</th>
              <th scope="col">{words.minutesColumn}</th>
              <th scope="col">{words.after}</th>
              <th scope="col">{words.skillColumn}</th>
              <th scope="col">{words.readyOn}</th>
            </tr>
          </thead>
          <tbody>
            {loops.data.results.map((loop) => {
              const job = draft.jobs[loop.id];
              const put = (part: Partial<JobDraft>) =>
                set({ jobs: { ...draft.jobs, [loop.id]: { ...EMPTY_JOB, ...job, ...part } } });
              const own_minutes = own.get(loop.id)?.minutes_own;
              return (
                <tr key={loop.id}>
                  <th scope="row">
                    <label className="tick">
                      <input
                        type="checkbox"
                        checked={job !== undefined}
                        onChange={() => {
                          if (job === undefined) put({});
                          else set({ jobs: leaving(draft.jobs, loop.id) });
                        }}
                      />
                      {loop.name}
                    </label>
                    <small>
                      {say(words.breaker, { breaker: loop.breaker ?? "?" })}
                      {own.get(loop.id)?.way && ` · ${own.get(loop.id)?.way}`}
                    </small>
                  </th>
                  {job === undefined ? (
                    <td colSpan={4} className="quiet">
                      {loop.next_step && texts.list.nextSteps[loop.next_step]}
                    </td>
                  ) : (
                    <>
                      <td>
                        <input
                          className="figure plan-minutes"
                          inputMode="numeric"
                          aria-label={say(words.minutesOf, { loop: loop.name })}
                          placeholder={own_minutes ? String(own_minutes) : words.own}
                          value={job.minutes}
                          onChange={(event) => put({ minutes: event.target.value })}
                        />
                      </td>
                      <td>
                        <select
                          aria-label={say(words.afterOf, { loop: loop.name })}
                          value={job.after}
                          onChange={(event) => put({ after: event.target.value })}
                        >
                          <option value="">{words.any}</option>
                          {Object.keys(draft.jobs)
                            .filter((other) => other !== loop.id)
                            .map((other) => (
                              <option key={other} value={other}>
                                {names.get(other)}
                              </option>
                            ))}
                        </select>
                      </td>
                      <td>
                        <input
                          aria-label={say(words.skillOf, { loop: loop.name })}
                          placeholder={words.anybody}
                          value={job.skill}
                          maxLength={60}
                          onChange={(event) => put({ skill: event.target.value })}
                        />
                      </td>
                      <td>
                        <input
                          type="date"
                          aria-label={say(words.readyOf, { loop: loop.name })}
                          value={job.readyOn}
                          onChange={(event) => put({ readyOn: event.target.value })}
                        />
                      </td>
                    </>
                  )}
                </tr>
              );
            })}
          </tbody>
        </table>
        <h2>{words.windows}</h2>
        <p className="quiet">{words.windowsLead}</p>
        <ul className="plan-windows">
          {(circuits.data?.results ?? []).map((circuit) => {
            const [from, until] = draft.windows[circuit.id] ?? ["", ""];
            const put = (next: [string, string]) =>
              set({ windows: { ...draft.windows, [circuit.id]: next } });
            return (
              <li key={circuit.id}>
                <span>
                  <b>{say(words.breaker, { breaker: circuit.breaker })}</b>{" "}
                  {circuit.label_now || circuit.label_as_found}
                </span>
                <input
                  type="time"
                  aria-label={say(words.offFrom, { breaker: circuit.breaker })}
                  value={from}
                  onChange={(event) => put([event.target.value, until])}
                />
                –
                <input
                  type="time"
                  aria-label={say(words.offUntil, { breaker: circuit.breaker })}
                  value={until}
                  onChange={(event) => put([from, event.target.value])}
                />
              </li>
            );
          })}
        </ul>
      </fieldset>
      {error && (
        <div className="notice wrong" role="alert">
          <p>{error.message}</p>
          {theirs && (
            <p className="plan-do">
              <button
                type="button"
                className="outlined"
                onClick={() => {
                  keep(null);
                  save.reset();
                }}
              >
                {texts.bench.takeTheirs}
              </button>
              <button type="button" className="solid" onClick={() => submit(theirs.version)}>
                {texts.bench.keepMine}
              </button>
            </p>
          )}
          {error instanceof Refusal && error.errors.length > 0 && (
            <ul>
              {error.errors.map((one, k) => (
                <li key={k}>
                  {placeOf(one.path, draft, names)} {one.text}
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
      {mayEdit && (
        <div className="plan-do">
          <button type="submit" className="solid" disabled={saved === null || isBusy}>
            {words.save}
          </button>
          {saved === null && <span className="quiet">{words.notWhole}</span>}
        </div>
      )}
    </form>
  );
}

/** The same without one. */
function leaving<T>(all: Record<string, T>, key: string): Record<string, T> {
  return Object.fromEntries(Object.entries(all).filter(([name]) => name !== key));
}

/** Which loop an error is about. */
function placeOf(path: string, draft: Draft, names: Map<string, string>): string {
  const found = /^jobs\[?\.?(\d+)/.exec(path);
  const loop = found ? Object.keys(draft.jobs)[Number(found[1])] : undefined;
  return loop ? `${names.get(loop) ?? ""}:` : "";
}
