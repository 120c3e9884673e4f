/** One step, large: what, why, what proves it, what stands against it, and what hands can press with gloves on. */
import { type ChangeEvent, useEffect, useRef, useState } from "react";
import { ReasonForm } from "../dialog/ReasonForm";
import { say, texts } from "../../texts";
import { useWhen } from "../when";
import { isSettled, type Shown } from "./overlay";
import type { FitEntries, Outcome } from "./queries";

const words = texts.fit;
// A press that was meant for the step before must not tick this one.
const REST_MS = 500;
const SHORTEST_REASON = 5;

interface Props {
  loop: string;
  step: Shown;
  missing: Shown["missing"];
  number: number;
  of: number;
  isNext: boolean;
  mayEdit: boolean;
  send: FitEntries;
  onSafe: () => void;
  /** A reason is being written: this step stays, whoever marks it meanwhile. */
  onAsk: () => void;
  onMarked: () => void;
}

export function FitCard({
  loop,
  step,
  missing,
  number,
  of,
  isNext,
  mayEdit,
  send,
  onSafe,
  onAsk,
  onMarked,
}: Props) {
  const when = useWhen();
  const [isRested, rest] = useState(false);
  const [asking, setAsking] = useState<Outcome | null>(null);
  const title = useRef<HTMLHeadingElement>(null);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const timer = setTimeout(() => rest(true), REST_MS);
    return () => clearTimeout(timer);
  }, []);
  const settled = isSettled(step);
  const isShut = missing.length > 0;
  const needsPower = step.act === "safe" || step.act === "safe_again" || step.power === "on";
  const mark = (outcome: Outcome, why = "") => {
    send.mark(step, outcome, why);
    setAsking(null);
    onMarked();
  };
  const ask = (outcome: Outcome) => {
    setAsking(outcome);
    onAsk();
  };
  const photo = (event: ChangeEvent<HTMLInputElement>) => {
    const chosen = event.target.files?.[0];
    if (chosen) send.photo(step, chosen);
    event.target.value = "";
  };
  return (
    <article className={`fit-card is-${step.outcome}`} aria-label={step.title}>
      <p className="fit-stage">
        {say(words.stepOf, { number, of })} · {step.stage_text}
      </p>
      <h2 ref={title} tabIndex={-1}>
        {step.title}
      </h2>
      {step.text && <p className="fit-text">{step.text}</p>}
      {step.note && <p className="fit-note">{step.note}</p>}
      <dl className="fit-why">
        <div>
          <dt>{words.why}</dt>
          <dd>{step.why}</dd>
        </div>
        <div>
          <dt>{words.proves}</dt>
          <dd>{step.proves}</dd>
        </div>
      </dl>
      {!settled && isShut && (
        <ul className="missing fit-missing">
          {missing.map((entry, k) => (
            <li key={`${entry.code}-${k}`}>{entry.text}</li>
          ))}
        </ul>
      )}
      {step.outcome === "trouble" && (
        <p className="notice wrong" role="alert">
          {words.outcomes.trouble}: {step.reason} {step.by && `(${step.by})`}
        </p>
      )}
      {settled && (
        <p className="fit-settled">
          {step.outcome === "done" ? "✓" : "–"} {words.outcomes[step.outcome]}
          {step.by && !step.isWaiting && `, ${step.by}`}
          {step.at && !step.isWaiting && `, ${when(step.at)}`}
          {step.outcome === "skipped" && `: ${step.reason}`}
        </p>
      )}
      {step.isWaiting && (
        <p className="wrong" role="status">
          {texts.isolation.waiting}
        </p>
      )}
      {step.refusal && (
        <p className="notice wrong" role="alert">
          {step.refusal}
        </p>
      )}
      {mayEdit && (
        <div className="fit-do">
          {needsPower && !settled && (
            <button type="button" className={isShut ? "solid" : "outlined"} onClick={onSafe}>
              {step.power === "on" ? words.toPower : words.toSafe}
            </button>
          )}
          {!settled && (
            <button
              type="button"
              className="solid fit-tick"
              disabled={isShut || !isRested || step.isWaiting}
              onClick={() => mark("done")}
            >
              ✓ {words.tick[step.act as keyof typeof words.tick] ?? words.done}
            </button>
          )}
          {step.place !== "" && (
            <button type="button" className="outlined" onClick={() => file.current?.click()}>
              {words.photo}
            </button>
          )}
          {!settled && step.may_skip && (
            <button type="button" className="outlined" onClick={() => ask("skipped")}>
              {words.skip} …
            </button>
          )}
          {!settled && (
            <button type="button" className="outlined" onClick={() => ask("trouble")}>
              {words.trouble} …
            </button>
          )}
          {settled && (
            <button type="button" className="outlined" onClick={() => ask("open")}>
              {words.takeBack} …
            </button>
          )}
          {!isNext && (
            <button type="button" className="plain" onClick={onMarked}>
              {words.toNext}
            </button>
          )}
          <input
            ref={file}
            type="file"
            accept="image/*"
            capture="environment"
            hidden
            aria-label={words.photo}
            onChange={photo}
          />
        </div>
      )}
      {asking && (
        <ReasonForm
          key={asking}
          of={`fit:${loop}:${step.key}:${asking}`}
          label={asking === "open" ? words.whyBack : asking === "skipped" ? words.whySkip : words.whatTrouble}
          action={asking === "open" ? words.takeBack : asking === "skipped" ? words.skip : words.trouble}
          least={asking === "open" ? 0 : SHORTEST_REASON}
          onReason={(why) => mark(asking, why)}
          onCancel={() => setAsking(null)}
        />
      )}
    </article>
  );
}
