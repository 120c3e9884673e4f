/** Every step of the job, by stage, with what came of it. */
import { texts } from "../../texts";
import { useWhen } from "../when";
import { isSettled, type Shown } from "./overlay";

const words = texts.fit;
const MARKS = { open: "", done: "✓", skipped: "–", trouble: "!" } as const;

interface Props {
  steps: readonly Shown[];
  current: string | null;
  onLook: (key: string) => void;
}

export function FitList({ steps, current, onLook }: Props) {
  const when = useWhen();
  const stages = [...new Set(steps.map((step) => step.stage))];
  return (
    <details className="fit-list">
      <summary>{words.all}</summary>
      {stages.map((stage) => {
        const own = steps.filter((step) => step.stage === stage);
        return (
          <section key={stage} aria-label={own[0]?.stage_text}>
            <h3>{own[0]?.stage_text}</h3>
            <ol>
              {own.map((step) => (
                <li key={step.key} className={`is-${step.outcome}`}>
                  <button
                    type="button"
                    className="plain"
                    aria-current={step.key === current ? "step" : undefined}
                    onClick={() => onLook(step.key)}
                  >
                    <span className="fit-mark">{MARKS[step.outcome]}</span>
                    <span>
                      {step.title}
                      {(isSettled(step) || step.outcome === "trouble") && (
                        <small>
                          {[
                            words.outcomes[step.outcome],
                            step.isWaiting ? texts.isolation.waiting : step.by,
                            step.at && !step.isWaiting ? when(step.at) : "",
                            step.reason,
                          ]
                            .filter(Boolean)
                            .join(", ")}
                        </small>
                      )}
                    </span>
                  </button>
                </li>
              ))}
            </ol>
          </section>
        );
      })}
    </details>
  );
}
