/** The one large line on which a life may hang: dead is shown only while the server says so of exactly this. */
import { say, texts } from "../../texts";
import { useIsolationWords } from "../isolation/words";
import type { StepProps } from "./stepProps";

const words = texts.isolation;
const MARKS = {
  live: "⚡",
  off: "◐",
  not_yours: "◐",
  under_way: "◐",
  failed: "✗",
  ended: "✗",
  proved: "✓",
  unconfirmed: "?",
} as const;

type State = keyof typeof MARKS;

export function SafetyState({ survey, confirmation }: Pick<StepProps, "survey" | "confirmation">) {
  const { timeOf } = useIsolationWords();
  const { proof } = survey;
  const isConfirmed = confirmation === "confirmed";
  const known: State = !survey.is_off ? "live" : proof.state === "none" ? "off" : proof.state;
  const isProved = known === "proved" && survey.cover_missing.length === 0;
  const state: State = !isConfirmed ? "unconfirmed" : known === "proved" && !isProved ? "not_yours" : known;
  const first = proof.missing[0] ?? survey.cover_missing[0];
  return (
    <div className={`safety is-${state}`} role="status" aria-live="assertive">
      <p className="safety-word">
        <span aria-hidden="true">{MARKS[state]}</span> {words.states[state]}
      </p>
      <p>
        {!isConfirmed
          ? words.unconfirmed[confirmation]
          : state === "proved" && proof.current
            ? `${say(words.provedBy, { who: proof.current.by, from: timeOf(proof.current.at), until: proof.holds_until ? timeOf(proof.holds_until) : "?" })} ${words.provedMeans}`
            : state === "live"
              ? words.treatAsLive
              : `${first?.text ?? ""} ${words.treatAsLive}`}
      </p>
      {isConfirmed && proof.is_simulated && <p className="simulated">{words.simulatedProof}</p>}
    </div>
  );
}
