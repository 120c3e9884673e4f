/** What a plan asks for: its hours, who comes, which loops, when their circuits may be off. */
import { useState } from "react";
import { isStale, Refusal } from "../../api/client";
import { say, texts } from "../../texts";
import { useCircuits } from "../round/queries";
import { type Draft, draftOf, newDraft, savedOf } from "./planDraft";
import { PlanLoops } from "./PlanLoops";
import { PlanPeople } from "./PlanPeople";
import { PlanWindows } from "./PlanWindows";
import { type Plan, useChangePlan, useDefaults, useLoopsOf, useMakePlan } from "./queries";
import { type Clash, putTogether } from "./together";
import { useDraft } from "./useDraft";

const words = texts.visits;

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
  const [begun, keep, settle] = useDraft<Draft, Clash>(plan?.id ?? `new ${site}`);
  if (defaults.data === undefined || loops.data === undefined) {
    return <p className="quiet">{texts.bench.loading}</p>;
  }
  const first = plan === null ? newDraft(defaults.data) : draftOf(plan);
  const draft = begun?.draft ?? first;
  const version = begun?.version ?? plan?.version ?? 0;
  const base = begun ? begun.base : first;
  const set = (part: Partial<Draft>) =>
    keep({ ...begun, draft: { ...draft, ...part }, version, ...(base && { base }) });
  const saved = savedOf(draft);
  const error = make.error ?? save.error;
  const isBusy = make.isPending || save.isPending;
  const names = new Map(loops.data.results.map((loop) => [loop.id, loop.name]));
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
    else
      save.mutate(
        { ...saved, version: over },
        { onSuccess: (now) => settle(draft, now.version) && onSaved(now.id) },
      );
  };
  const theirs = isStale(error) ? (error.current as { version: number } | null) : null;
  // Put together with what stands on record now, once that has come.
  const both =
    theirs && base && plan?.version === theirs.version
      ? () => {
          keep({ ...putTogether(base, draft, first), version: plan.version, base: first });
          save.reset();
        }
      : null;
  const told = ({ field: of, key }: Clash): string => {
    if (of === "people") return defaults.data.people.find((one) => one.id === key)?.name ?? words.people;
    if (of === "jobs") return names.get(key) ?? words.loops;
    if (of === "windows") {
      const circuit = circuits.data?.results.find((one) => one.id === key);
      return circuit ? say(words.windowOf, { breaker: circuit.breaker }) : words.windows;
    }
    return words.fields[of];
  };
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
        <PlanPeople
          people={defaults.data.people}
          coming={draft.people}
          onChange={(people) => set({ people })}
        />
        <h2>{words.loops}</h2>
        <PlanLoops
          loops={loops.data.results}
          planned={plan?.jobs ?? []}
          jobs={draft.jobs}
          onChange={(jobs) => set({ jobs })}
        />
        <h2>{words.windows}</h2>
        <p className="quiet">{words.windowsLead}</p>
        <PlanWindows
          circuits={circuits.data?.results ?? []}
          windows={draft.windows}
          onChange={(windows) => set({ windows })}
        />
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
              <button
                type="button"
                className={both ? "outlined" : "solid"}
                onClick={() => submit(theirs.version)}
              >
                {texts.bench.keepMine}
              </button>
              {both && (
                <button type="button" className="solid" onClick={both}>
                  {texts.bench.both}
                </button>
              )}
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
      {begun?.clashes && !error && (
        <p className="notice" role="status">
          {words.together}
          {begun.clashes.length > 0 &&
            ` ${say(words.clashes, { parts: begun.clashes.map(told).join(", ") })}`}
        </p>
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

/** Which loop an error is about. */
function placeOf(path: string, draft: Draft, names: Map<string, string>): string {
  const found = /^jobs\[?\.?(\d+)/.exec(path);
  const loop = found ? Object.keys(draft.jobs)[Number(found[1])] : undefined;
  return loop ? `${names.get(loop) ?? ""}:` : "";
}
