/** What was judged on a supply, a part or a computation that has changed since: said, until it is judged again. */
import { say, texts } from "../../texts";
import { ProgressLine } from "../ProgressLine";
import { useJudgeAgain, useOutdated } from "./queries";

const words = texts.outdated;

interface Props {
  mayEdit: boolean;
  /** Only this gang's; else all there are. */
  gang?: string;
}

export function Outdated({ mayEdit, gang }: Props) {
  const found = useOutdated();
  const again = useJudgeAgain();
  const rows = (found.data ?? []).filter((row) => gang === undefined || row.gang === gang);
  if (rows.length === 0 && again.progress === null && again.failed.length === 0) return null;
  const reasons = [...new Set(rows.map((row) => row.text))];
  return (
    <div className="notice outdated">
      <span role="status">
        {rows.length > 0 && [say(words.lead, { count: rows.length }), ...reasons].join(" ")}
      </span>
      {again.progress ? (
        <ProgressLine
          label={say(words.progress, { done: again.progress.done, of: again.progress.of })}
          progress={again.progress}
          onStop={again.stop}
        />
      ) : (
        mayEdit &&
        rows.length > 0 && (
          <button type="button" className="solid" onClick={() => again.start(rows)}>
            {gang === undefined ? words.all : words.again}
          </button>
        )
      )}
      {again.failed.map((one) => (
        <p key={one.name} className="wrong" role="alert">
          {say(words.failed, { name: one.name, why: one.why })}
        </p>
      ))}
    </div>
  );
}
