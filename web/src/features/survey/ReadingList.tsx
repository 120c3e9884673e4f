/** The readings on record; a wrong one is struck out with its reason, never lost. */
import { useState } from "react";
import { texts } from "../../texts";
import { ReasonDialog } from "../dialog/ReasonDialog";
import { useWhen } from "../when";
import type { StepProps } from "./stepProps";

const words = texts.survey.conductors;

export function ReadingList({ survey, entries, waiting, mayEdit }: StepProps) {
  const when = useWhen();
  // Readings that a finding speaks against stand out by name, not by colour alone.
  const doubted = new Set(
    survey.judgement.findings
      .filter((finding) => finding.severity !== "info")
      .flatMap((finding) => finding.refs)
      .filter((ref) => ref.startsWith("readings."))
      .map((ref) => ref.slice("readings.".length)),
  );
  const [striking, setStriking] = useState<string | null>(null);
  const onTheirWay = waiting.filter(
    (entry) =>
      entry.path.endsWith("/readings/") &&
      !survey.readings.some((reading) => reading.id === entry.body["id"]),
  );
  const isStriking = (id: string) => waiting.some((entry) => entry.path.includes(`/readings/${id}/strike/`));
  return (
    <section aria-label={words.list}>
      <h3>{words.list}</h3>
      {survey.readings.length === 0 && <p className="quiet">{words.none}</p>}
      <ul className="readings">
        {survey.readings.map((reading) => (
          <li
            key={reading.id}
            className={`${reading.struck_reason ? "is-struck" : ""}${doubted.has(reading.id) ? " is-doubted" : ""}`}
          >
            <b className="figure">{reading.value_text}</b>
            <span>
              {reading.is_simulated && <em className="simulated">{texts.isolation.simulated}</em>}{" "}
              {reading.from_text} → {reading.to_text}
              <small>
                {[
                  reading.at_text,
                  reading.supply_on
                    ? reading.is_low_impedance
                      ? words.lowZ
                      : words.highZ
                    : words.continuity,
                  reading.origin === "typed" ? words.typed : reading.meter_identity || words.metered,
                  reading.by,
                  when(reading.made_at ?? reading.at),
                ]
                  .filter(Boolean)
                  .join(" · ")}
                {reading.struck_reason && ` · ${words.struck}: ${reading.struck_reason}`}
              </small>
            </span>
            {mayEdit && !reading.struck_reason && !isStriking(reading.id) && (
              <button
                type="button"
                className="plain"
                aria-label={`${words.strike}: ${reading.value_text}, ${reading.from_text} → ${reading.to_text}`}
                onClick={() => setStriking(reading.id)}
              >
                {words.strike}
              </button>
            )}
          </li>
        ))}
        {onTheirWay.map((entry) => (
          <li key={entry.id} className="is-waiting">
            <b className="figure">{texts.isolation.waiting}</b>
            <span>
              {entry.label}
              {entry.refusal && <small className="wrong">{entry.refusal.text}</small>}
            </span>
          </li>
        ))}
      </ul>
      {striking !== null && (
        <ReasonDialog
          of={`strike:${striking}`}
          title={words.strike}
          label={words.strikeWhy}
          most={200}
          onReason={(reason, done) => {
            const reading = survey.readings.find((entry) => entry.id === striking);
            entries.strike(striking, reason, `${words.strike}: ${reading?.value_text ?? ""}`);
            done();
            setStriking(null);
          }}
          onClose={() => setStriking(null)}
        />
      )}
    </section>
  );
}
