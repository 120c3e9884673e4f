/** Step 2: isolation on record, proving dead, and the steps that need it. */
import { useState } from "react";
import { Link } from "react-router";
import { texts } from "../../texts/en";
import { useCircuits } from "../round/queries";
import { when } from "../when";
import { Tick } from "./fields";
import { PairGrid } from "./PairGrid";
import type { Isolation } from "./queries";
import { StepMarks } from "./StepMarks";
import type { StepProps } from "./stepProps";
import { withWaiting } from "./useOutbox";

const words = texts.survey.safe;

export function SafeStep(props: StepProps) {
  const { survey, site, draft, mayEdit } = props;
  const open = survey.isolations.find((entry) => entry.is_open);
  const past = survey.isolations.filter((entry) => !entry.is_open);
  const circuits = useCircuits(site);
  const own = survey.circuits[0]?.id;
  const others = draft.doc.other_circuits;
  return (
    <>
      <h2>{words.title}</h2>
      <p className="quiet">
        {words.lead} <Link to={`/sites/${site}/schedule`}>{words.schedule}</Link>
      </p>
      <fieldset className="plain-set">
        <legend>{words.others}</legend>
        {(circuits.data?.results ?? [])
          .filter((circuit) => circuit.id !== own)
          .map((circuit) => (
            <Tick
              key={circuit.id}
              label={`${circuit.breaker}: ${circuit.label_now || circuit.label_as_found || "?"}`}
              isOn={others.includes(circuit.id)}
              disabled={!mayEdit}
              onChange={(isOn) => {
                const next = isOn ? [...others, circuit.id] : others.filter((id) => id !== circuit.id);
                draft.change({ other_circuits: next, box: { ...draft.doc.box, circuits: next.length + 1 } });
              }}
            />
          ))}
      </fieldset>
      {open ? <OpenIsolation {...props} isolation={open} /> : <NewIsolation {...props} />}
      <StepMarks {...props} />
      {past.length > 0 && (
        <>
          <h3>{words.history}</h3>
          <ul className="trail">
            {past.map((entry) => (
              <li key={entry.id}>
                <span>
                  {when(entry.opened_at)} – {entry.closed_at ? when(entry.closed_at) : ""} ·{" "}
                  {entry.scope === "breakers" ? entry.breakers.join(", ") : words.whole} · {entry.opened_by},{" "}
                  {entry.closed_by} {entry.closing_note}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function NewIsolation({ survey, outbox, mayEdit }: StepProps) {
  const [scope, setScope] = useState<Isolation["scope"]>(
    survey.circuits.length > 0 ? "breakers" : "whole_installation",
  );
  const [chosen, setChosen] = useState<string[] | null>(null);
  const circuits = chosen ?? survey.circuits.map((circuit) => circuit.id);
  return (
    <section className="isolation" aria-label={words.which}>
      <h3>{words.none}</h3>
      <div className="ticks" role="radiogroup" aria-label={words.which}>
        {(["breakers", "whole_installation"] as const).map((value) => (
          <label className="tick" key={value}>
            <input type="radio" checked={scope === value} onChange={() => setScope(value)} />
            {value === "breakers" ? words.breakers : words.whole}
          </label>
        ))}
      </div>
      {scope === "breakers" && survey.circuits.length === 0 && <p className="quiet">{words.noBreaker}</p>}
      {scope === "breakers" &&
        survey.circuits.map((circuit) => (
          <Tick
            key={circuit.id}
            label={`${circuit.breaker}: ${circuit.label_now || circuit.label_as_found || "?"}`}
            isOn={circuits.includes(circuit.id)}
            onChange={(isOn) =>
              setChosen(isOn ? [...circuits, circuit.id] : circuits.filter((id) => id !== circuit.id))
            }
          />
        ))}
      {mayEdit && (
        <button
          type="button"
          className="solid add"
          onClick={() =>
            outbox.send({
              kind: "open",
              body: { id: crypto.randomUUID(), scope, circuits: scope === "breakers" ? circuits : [] },
            })
          }
        >
          {words.start}
        </button>
      )}
    </section>
  );
}

const TICKS = [
  ["is_tester_proved_before", words.before],
  ["is_locked_off", words.locked],
  ["has_electronic_control", words.control],
  ["is_discharged", words.discharged],
  ["is_tester_proved_after", words.after],
] as const;

function OpenIsolation(props: StepProps & { isolation: Isolation }) {
  const { outbox, mayEdit } = props;
  const isolation = withWaiting(props.isolation, outbox.entries);
  const [note, setNote] = useState("");
  const isComplete = isolation.missing.length === 0;
  return (
    <section className={`isolation is-open${isComplete ? " is-complete" : ""}`} aria-label={words.title}>
      <h3>
        {words.open(isolation.opened_by)}:{" "}
        {isolation.scope === "breakers" ? isolation.breakers.join(", ") : words.whole}
      </h3>
      <div className="ticks">
        {TICKS.filter(([name]) => name !== "is_discharged" || isolation.has_electronic_control).map(
          ([name, label]) => (
            <Tick
              key={name}
              label={label}
              isOn={isolation[name]}
              disabled={!mayEdit}
              onChange={(isOn) =>
                outbox.send({ kind: "change", isolation: isolation.id, body: { [name]: isOn } })
              }
            />
          ),
        )}
      </div>
      <PairGrid {...props} isolation={isolation} />
      {isComplete ? (
        <p className="is-dark">
          <b>✓ {words.complete}</b>
        </p>
      ) : (
        <div role="status">
          <p>{words.missing}</p>
          <ul className="missing">
            {isolation.missing.map((entry, index) => (
              <li key={`${entry.code}-${index}`}>{entry.text}</li>
            ))}
          </ul>
        </div>
      )}
      {mayEdit && (
        <div className="close-line">
          <label className="field">
            {words.closeNote}
            <input value={note} maxLength={300} onChange={(event) => setNote(event.target.value)} />
          </label>
          <button
            type="button"
            className="outlined"
            onClick={() => outbox.send({ kind: "close", isolation: isolation.id, note })}
          >
            {words.close}
          </button>
        </div>
      )}
    </section>
  );
}
