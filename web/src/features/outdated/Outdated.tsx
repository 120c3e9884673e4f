/** What was judged on a supply, a part or a computation that has changed since: said, until it is judged again. */
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { JobLine } from "../jobs/JobLine";
import { useJob } from "../jobs/useJob";
import { useJudgeAgain, useOutdated } from "./queries";

const words = texts.outdated;

function Lead({ rows }: { rows: readonly Schemas["Outdated"][] }) {
  const reasons = [...new Set(rows.map((row) => row.text))];
  return (
    <span role="status">
      {rows.length > 0 && [say(words.lead, { count: rows.length }), ...reasons].join(" ")}
    </span>
  );
}

/** All there are: a job, which goes on when this page is left. */
export function Outdated({ mayEdit }: { mayEdit: boolean }) {
  const rows = useOutdated().data ?? [];
  const work = useJob("again");
  if (rows.length === 0 && work.open === null && !work.ended?.refused.length && work.error === null)
    return null;
  return (
    <div className="notice outdated">
      <Lead rows={rows} />
      {mayEdit && work.open === null && rows.length > 0 && (
        <button type="button" className="solid" disabled={work.isAsking} onClick={work.ask}>
          {words.all}
        </button>
      )}
      <JobLine
        work={work}
        label={say(words.progress, { done: work.open?.done ?? 0, of: work.open?.of ?? 0 })}
      />
    </div>
  );
}

/** Only one gang's. */
export function OutdatedGang({ mayEdit, gang }: { mayEdit: boolean; gang: string }) {
  const rows = (useOutdated().data ?? []).filter((row) => row.gang === gang);
  const again = useJudgeAgain(gang);
  if (rows.length === 0 && !again.isError) return null;
  return (
    <div className="notice outdated">
      <Lead rows={rows} />
      {mayEdit && rows.length > 0 && (
        <button type="button" className="solid" disabled={again.isPending} onClick={() => again.mutate()}>
          {words.again}
        </button>
      )}
      {again.isError && (
        <p className="wrong" role="alert">
          {say(words.failed, { name: rows[0]?.loop_name ?? "", why: again.error.message })}
        </p>
      )}
    </div>
  );
}
