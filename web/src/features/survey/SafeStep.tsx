/** Step 2: what keeps the power off, proving dead, and the steps that need it. */
import { useState } from "react";
import { Link } from "react-router";
import { useLatest } from "../../app/useLatest";
import { texts } from "../../texts";
import { IsolationCard } from "../isolation/IsolationCard";
import { useIsolationEntries } from "../isolation/useIsolationEntries";
import { whatOf } from "../isolation/words";
import { useCircuits } from "../round/queries";
import { AddCircuitDialog } from "../schedule/AddCircuitDialog";
import { FIRST_POINT } from "./BoxPlaces";
import { Tick } from "./fields";
import { PastSafety } from "./PastSafety";
import { ProofCard } from "./ProofCard";
import { SafetyState } from "./SafetyState";
import { StepMarks } from "./StepMarks";
import type { StepProps } from "./stepProps";

const words = texts.isolation;

export function SafeStep(props: StepProps) {
  const { survey, site, draft, at, mayEdit } = props;
  const circuits = useCircuits(site);
  const own = survey.circuits[0]?.id;
  const others = draft.doc.other_circuits;
  const [isAdding, setAdding] = useState(false);
  const mark = (next: string[]) =>
    draft.change({ other_circuits: next, box: { ...draft.doc.box, circuits: next.length + 1 } });
  // Put to what stands here by then.
  const added = useLatest((id: string) => mark([...others, id]));
  const isCovered = survey.is_off && survey.cover_missing.every((entry) => entry.code === "no_lock_of_yours");
  return (
    <>
      <h2>{texts.survey.safe.title}</h2>
      <SafetyState {...props} />
      <p className="quiet">
        {texts.survey.safe.lead} <Link to={`/sites/${site}/schedule`}>{texts.survey.safe.schedule}</Link>
      </p>
      <h3>{words.first}</h3>
      {survey.isolations.map((isolation) => (
        <IsolationCard
          key={isolation.id}
          isolation={isolation}
          at={at}
          mayEdit={mayEdit}
          mayRelease={survey.may_release}
        />
      ))}
      {!isCovered && mayEdit && <NewIsolation {...props} />}
      {survey.is_off && survey.cover_missing.length > 0 && (
        <ul className="missing">
          {survey.cover_missing.map((entry, index) => (
            <li key={`${entry.code}-${index}`}>{entry.text}</li>
          ))}
        </ul>
      )}
      <details>
        <summary>{words.others}</summary>
        <fieldset className="plain-set ticks">
          <legend className="unseen">{words.others}</legend>
          {(circuits.data?.results ?? [])
            .filter((circuit) => circuit.id !== own)
            .map((circuit) => (
              <Tick
                key={circuit.id}
                label={`${circuit.breaker}: ${circuit.label_now || circuit.label_as_found || "?"}`}
                isOn={others.includes(circuit.id)}
                disabled={!mayEdit}
                onChange={(isOn) =>
                  mark(isOn ? [...others, circuit.id] : others.filter((id) => id !== circuit.id))
                }
              />
            ))}
        </fieldset>
        {mayEdit && (
          <button type="button" className="outlined add" onClick={() => setAdding(true)}>
            {words.notListed} …
          </button>
        )}
        {isAdding && (
          <AddCircuitDialog
            site={site}
            onAdded={(id) => added.current(id)}
            onClose={() => setAdding(false)}
          />
        )}
      </details>
      <h3>{words.second}</h3>
      <ProofCard {...props} />
      {survey.place < FIRST_POINT && <StepMarks {...props} />}
      <PastSafety survey={survey} />
    </>
  );
}

/** Recording what is switched off: the loop's own breakers that are not off yet, or everything. */
function NewIsolation({ survey, at, waiting }: StepProps) {
  const entries = useIsolationEntries(at);
  const isOff = (id: string) => survey.isolations.some((entry) => entry.circuits.includes(id));
  const free = survey.circuits.filter((circuit) => !isOff(circuit.id));
  const [scope, setScope] = useState<"breakers" | "whole_installation">("breakers");
  const [left, setLeft] = useState<string[]>([]);
  const chosen = free.filter((circuit) => !left.includes(circuit.id));
  const isBreakers = scope === "breakers" && free.length > 0;
  const isOnItsWay = waiting.some(
    (entry) => entry.state === "waiting" && entry.path.endsWith("/isolations/"),
  );
  return (
    <section className="isolation" aria-label={words.which}>
      <p>{words.recordLead}</p>
      <div className="ticks" role="radiogroup" aria-label={words.which}>
        {(["breakers", "whole_installation"] as const).map((value) => (
          <label className="tick" key={value}>
            <input
              type="radio"
              checked={isBreakers === (value === "breakers")}
              disabled={value === "breakers" && free.length === 0}
              onChange={() => setScope(value)}
            />
            {value === "breakers" ? words.breakers : words.whole}
          </label>
        ))}
        {isBreakers &&
          free.map((circuit) => (
            <Tick
              key={circuit.id}
              label={`${circuit.breaker}: ${circuit.label_now || circuit.label_as_found || "?"}`}
              isOn={!left.includes(circuit.id)}
              onChange={(isOn) =>
                setLeft(isOn ? left.filter((id) => id !== circuit.id) : [...left, circuit.id])
              }
            />
          ))}
      </div>
      {survey.circuits.length === 0 && <p className="quiet">{words.noBreaker}</p>}
      <button
        type="button"
        className="solid add"
        disabled={isOnItsWay || (isBreakers && chosen.length === 0)}
        onClick={() =>
          entries.record(
            isBreakers ? "breakers" : "whole_installation",
            isBreakers ? chosen.map((circuit) => circuit.id) : [],
            whatOf({
              scope: isBreakers ? "breakers" : "whole_installation",
              breakers: chosen.map((circuit) => circuit.breaker),
            }),
          )
        }
      >
        {words.record}
      </button>
    </section>
  );
}
