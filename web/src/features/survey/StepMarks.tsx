/** The steps at a box: done, or everything that stands in the way. */
import { useState } from "react";
import { useLeftText } from "../../app/useLeft";
import { texts } from "../../texts";
import { FormDialog } from "../dialog/FormDialog";
import { useWhen } from "../when";
import type { Survey } from "./queries";
import type { StepProps } from "./stepProps";

const words = texts.survey.safe;
const more = texts.isolation;
const SHORTEST_REASON = 10;
type Step = Survey["steps"][number];

export function StepMarks({ survey, entries, waiting, confirmation, mayEdit }: StepProps) {
  const when = useWhen();
  const [over, setOver] = useState<Step | null>(null);
  const [reason, setReason] = useLeftText(`override:${survey.loop}:${survey.place}:${over?.step ?? ""}`);
  const onItsWay = (step: string) =>
    waiting.find(
      (entry) => entry.state === "waiting" && entry.body["step"] === step && entry.path.endsWith("/steps/"),
    );
  const isOld =
    confirmation !== "confirmed" && survey.steps.some((step) => !step.is_done && step.missing.length > 0);
  return (
    <section aria-label={words.steps}>
      <h3>{more.third}</h3>
      {isOld && <p className="quiet">{more.asLastKnown}</p>}
      <ul className="marks">
        {survey.steps.map((step) => {
          const sent = onItsWay(step.step);
          // What the gates say is known only for what the server has seen; then the press is judged when it arrives.
          const isShut = confirmation === "confirmed" && !step.is_done && step.missing.length > 0;
          return (
            <li key={step.step}>
              <span className={step.is_done ? "is-dark" : ""}>
                {step.is_done ? "✓ " : ""}
                {step.text}
                {step.is_done && step.at && (
                  <small>
                    {words.done}, {step.by}, {when(step.at)}
                  </small>
                )}
                {step.is_done && step.override_reason && (
                  <small className="wrong">
                    {more.overridden}: {step.override_reason}
                  </small>
                )}
                {sent && <small className="wrong">{more.waiting}</small>}
                {!step.is_done &&
                  step.missing.map((entry, k) => <small key={`${entry.code}-${k}`}>{entry.text}</small>)}
              </span>
              {mayEdit && isShut && step.may_override && (
                <button type="button" className="plain" onClick={() => setOver(step)}>
                  {more.override} …
                </button>
              )}
              {mayEdit && (
                <button
                  type="button"
                  className="outlined"
                  disabled={isShut || sent !== undefined}
                  aria-label={`${step.is_done ? words.takeBack : words.markDone}: ${step.text}`}
                  onClick={() =>
                    entries.step(
                      step.step,
                      !step.is_done,
                      `${step.is_done ? words.takeBack : words.markDone}: ${step.text}`,
                    )
                  }
                >
                  {step.is_done ? words.takeBack : words.markDone}
                </button>
              )}
            </li>
          );
        })}
      </ul>
      {over && (
        <FormDialog
          title={`${more.override}: ${over.text}`}
          action={more.override}
          isReady={reason.trim().length >= SHORTEST_REASON}
          isPending={false}
          error={null}
          onSubmit={() => {
            entries.step(over.step, true, `${more.override}: ${over.text}`, reason.trim());
            setReason("");
            setOver(null);
          }}
          onClose={() => {
            setReason("");
            setOver(null);
          }}
        >
          <ul className="missing">
            {over.missing.map((entry, k) => (
              <li key={`${entry.code}-${k}`}>{entry.text}</li>
            ))}
          </ul>
          <p>{more.overrideLead}</p>
          <label>
            {texts.isolation.reason.split(",")[0]}
            <input
              value={reason}
              maxLength={300}
              autoFocus
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
        </FormDialog>
      )}
    </section>
  );
}
