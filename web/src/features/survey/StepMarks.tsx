/** The steps of the visit: done, or what stands in the way. */
import { texts } from "../../texts/en";
import { when } from "../when";
import type { StepProps } from "./stepProps";

const words = texts.survey.safe;

export function StepMarks({ survey, outbox, mayEdit }: StepProps) {
  return (
    <section aria-label={words.steps}>
      <h3>{words.steps}</h3>
      <ul className="marks">
        {survey.steps.map((step) => (
          <li key={step.step}>
            <span className={step.is_done ? "is-dark" : ""}>
              {step.is_done ? "✓ " : ""}
              {step.text}
              {step.is_done && step.at && (
                <small>
                  {words.done}, {step.by}, {when(step.at)}
                </small>
              )}
              {!step.is_done && step.missing[0] && <small>{step.missing[0].text}</small>}
            </span>
            {mayEdit && (
              <button
                type="button"
                className="outlined"
                aria-label={`${step.is_done ? words.takeBack : words.markDone}: ${step.text}`}
                onClick={() =>
                  outbox.send({ kind: "step", body: { step: step.step, is_done: !step.is_done } })
                }
              >
                {step.is_done ? words.takeBack : words.markDone}
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
