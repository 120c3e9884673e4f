/** Which loops, each with its minutes, what it waits for, who may do it and from which day. */
import { say, texts } from "../../texts";
import { type Draft, EMPTY_JOB, type JobDraft, leaving } from "./planDraft";
import type { LoopRow } from "../round/RoundTable";
import type { Plan } from "./queries";

const words = texts.visits;

interface Props {
  loops: readonly LoopRow[];
  /** As they were planned last. */
  planned: Plan["jobs"];
  jobs: Draft["jobs"];
  onChange: (jobs: Draft["jobs"]) => void;
}

export function PlanLoops({ loops, planned, jobs, onChange }: Props) {
  const names = new Map(loops.map((loop) => [loop.id, loop.name]));
  const own = new Map(planned.map((job) => [job.loop, job]));
  return (
    <table className="rows plan-loops">
      <thead>
        <tr>
          <th scope="col">{texts.list.loop}</th>
          <th scope="col">{words.minutesColumn}</th>
          <th scope="col">{words.after}</th>
          <th scope="col">{words.skillColumn}</th>
          <th scope="col">{words.readyOn}</th>
        </tr>
      </thead>
      <tbody>
        {loops.map((loop) => {
          const job = jobs[loop.id];
          const put = (part: Partial<JobDraft>) =>
            onChange({ ...jobs, [loop.id]: { ...EMPTY_JOB, ...job, ...part } });
          const own_minutes = own.get(loop.id)?.minutes_own;
          return (
            <tr key={loop.id}>
              <th scope="row">
                <label className="tick">
                  <input
                    type="checkbox"
                    checked={job !== undefined}
                    onChange={() => {
                      if (job === undefined) put({});
                      else onChange(leaving(jobs, loop.id));
                    }}
                  />
                  {loop.name}
                </label>
                <small>
                  {say(words.breaker, { breaker: loop.breaker ?? "?" })}
                  {own.get(loop.id)?.way && ` · ${own.get(loop.id)?.way}`}
                </small>
              </th>
              {job === undefined ? (
                <td colSpan={4} className="quiet">
                  {loop.next_step && texts.list.nextSteps[loop.next_step]}
                </td>
              ) : (
                <>
                  <td>
                    <input
                      className="figure plan-minutes"
                      inputMode="numeric"
                      aria-label={say(words.minutesOf, { loop: loop.name })}
                      placeholder={own_minutes ? String(own_minutes) : words.own}
                      value={job.minutes}
                      onChange={(event) => put({ minutes: event.target.value })}
                    />
                  </td>
                  <td>
                    <select
                      aria-label={say(words.afterOf, { loop: loop.name })}
                      value={job.after}
                      onChange={(event) => put({ after: event.target.value })}
                    >
                      <option value="">{words.any}</option>
                      {Object.keys(jobs)
                        .filter((other) => other !== loop.id)
                        .map((other) => (
                          <option key={other} value={other}>
                            {names.get(other)}
                          </option>
                        ))}
                    </select>
                  </td>
                  <td>
                    <input
                      aria-label={say(words.skillOf, { loop: loop.name })}
                      placeholder={words.anybody}
                      value={job.skill}
                      maxLength={60}
                      onChange={(event) => put({ skill: event.target.value })}
                    />
                  </td>
                  <td>
                    <input
                      type="date"
                      aria-label={say(words.readyOf, { loop: loop.name })}
                      value={job.readyOn}
                      onChange={(event) => put({ readyOn: event.target.value })}
                    />
                  </td>
                </>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
