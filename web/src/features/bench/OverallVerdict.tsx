/** The one verdict, why, and what to do next: the same words as in the round and on the sheet. */
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { WorksMark } from "../WorksMark";

const words = texts.overall;

interface Props {
  overall: Schemas["Overall"] | undefined;
  isCurrent: boolean;
  /** It could not be weighed: then there is no verdict, and why is said. */
  error: Error | null;
  /** What the whole loop wants before or after a judgement; null where the verdict says it. */
  later: "survey" | "route" | "fit" | "prove" | "case" | "setup" | "hand_over" | "check" | "done" | null;
  /** The way that was chosen, where it is not the one that is judged here. */
  chosen: Schemas["ChosenWay"] | null;
  onNext: (action: Schemas["NextStepEnum"]) => void;
}

function upper(text: string): string {
  return text.slice(0, 1).toUpperCase() + text.slice(1);
}

export function OverallVerdict({ overall, isCurrent, error, later, chosen, onNext }: Props) {
  return (
    <div className={`overall${isCurrent ? "" : " is-weighing"}`} aria-busy={!isCurrent}>
      {/* Spoken once it is settled, never while it is still being weighed. */}
      <h2 role="status" className={overall ? `works-${overall.works}` : undefined}>
        {overall && isCurrent ? overall.title : error ? words.none : words.weighing}
      </h2>
      {error && !isCurrent && <p className="wrong">{error.message}</p>}
      {overall && isCurrent && (
        <>
          {chosen && !chosen.on_bench && (
            <p className="why-chosen">
              {say(texts.list.otherChosen, { way: chosen.title, control: chosen.label })}{" "}
              <WorksMark works={chosen.works} />
            </p>
          )}
          {overall.text !== "" && <p className="why-lead">{overall.text}</p>}
          {overall.aspects.length > 0 && (
            <ul className="aspects" aria-label={words.aspects}>
              {overall.aspects.map((aspect) => (
                <li key={aspect.aspect}>
                  <span>{aspect.name}</span> <WorksMark works={aspect.works} />
                </li>
              ))}
            </ul>
          )}
          {/* What is judged well goes on with the job, as the round says it. */}
          {later !== null ? (
            <button type="button" className="solid next-action" onClick={() => onNext(later)}>
              {upper(texts.list.nextSteps[later])}
            </button>
          ) : (
            <button type="button" className="solid next-action" onClick={() => onNext(overall.next_action)}>
              {overall.next_text}
            </button>
          )}
        </>
      )}
    </div>
  );
}
