/** Proofs and isolations that are over: nothing of them is lost, least of all a reading that was not dead. */
import { significant } from "../../format";
import { say, texts } from "../../texts";
import { useIsolationWords } from "../isolation/words";
import type { Survey } from "./queries";

const words = texts.isolation;

export function PastSafety({ survey }: { survey: Survey }) {
  const { timeOf, lineOf, takenOff } = useIsolationWords();
  const { past_proofs: proofs, past_isolations: isolations } = survey;
  const current = survey.proof.state === "ended" && survey.proof.current ? [survey.proof.current] : [];
  const all = [...current, ...proofs];
  return (
    <>
      <p>
        <a
          className="outlined"
          href={`/api/v1/loops/${survey.loop}/record.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          {words.print}
        </a>
      </p>
      <details className="past">
        <summary>
          {words.past} ({all.length + isolations.length})
        </summary>
        <ul className="trail">
          {all.map((proof) => (
            <li key={proof.id}>
              <span>
                <b>{say(words.proofOf, { who: proof.by, when: timeOf(proof.at) })}</b> {proof.ended_text}
                <small>
                  {proof.events
                    .map((event) =>
                      event.v === null ? event.text : `${event.text} ${significant(event.v, 2)} V`,
                    )
                    .join(" · ")}
                </small>
              </span>
            </li>
          ))}
          {isolations.map((isolation) => (
            <li key={isolation.id}>
              <span>
                {lineOf(isolation)} – {isolation.closed_at ? timeOf(isolation.closed_at) : ""}{" "}
                {isolation.closed_by} {isolation.closing_note}
                <small>{isolation.locks.map(takenOff).join(" · ")}</small>
              </span>
            </li>
          ))}
        </ul>
      </details>
    </>
  );
}
