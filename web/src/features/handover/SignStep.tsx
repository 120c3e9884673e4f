/** Signing a loop over: where it stands, the issue that is signed, and those before it. */
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useLeftText } from "../../app/useLeft";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import { TextLine } from "../dialog/TextLine";
import { useSession } from "../session/queries";
import { useWhen } from "../when";
import { Differences } from "./Differences";
import { IssueView } from "./IssueView";
import { type Handover, useHandover, useMakeIssue } from "./queries";
import { Unusual } from "./Unusual";

const words = texts.handover;

export function SignStep({ loop }: { loop: Loop }) {
  const when = useWhen();
  const query = useHandover(loop.id);
  const session = useSession();
  const [params, setParams] = useSearchParams();
  const handover = query.data;
  if (handover === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.computing}</p>
    );
  }
  const newest = handover.issues[0];
  const shown = handover.issues.find((one) => one.id === params.get("issue")) ?? newest;
  const show = (id: string) =>
    setParams((now) => {
      now.set("issue", id);
      return now;
    });
  const who = session.data?.user?.display_name ?? "";
  return (
    <div className="handover">
      <Stages handover={handover} />
      {newest !== undefined && handover.changed.length > 0 && (
        <Differences title={say(words.changedSince, { number: newest.number })} found={handover.changed} />
      )}
      {handover.may_issue ? (
        <MakeIssue loop={loop.id} handover={handover} onMade={show} />
      ) : (
        newest === undefined && <Unusual seen={handover.unusual} />
      )}
      {handover.issues.length > 1 && (
        <label className="field">
          {words.issues}
          <select value={shown?.id} onChange={(event) => show(event.target.value)}>
            {handover.issues.map((one) => (
              <option key={one.id} value={one.id}>
                {say(words.issue, { number: one.number })} · {when(one.at)} · {one.waits_text}
              </option>
            ))}
          </select>
        </label>
      )}
      {shown !== undefined && <IssueView key={shown.id} id={shown.id} who={who} />}
    </div>
  );
}

function Stages({ handover }: { handover: Handover }) {
  return (
    <section aria-label={words.stages}>
      <p className="fit-count" role="status">
        {say(words.stands, { stage: handover.stage_text })}
      </p>
      <ol className="stages">
        {handover.stages.map((one) => (
          <li key={one.stage} className={one.is_met ? "is-met" : ""}>
            <span aria-hidden>{one.is_met ? "✓" : "○"}</span>
            <span>
              <b>{one.text}</b>
              {one.lacks.length > 0 && <small>{one.lacks.join(" ")}</small>}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function MakeIssue({
  loop,
  handover,
  onMade,
}: {
  loop: string;
  handover: Handover;
  onMade: (id: string) => void;
}) {
  const [note, setNote] = useLeftText(`issue:${loop}`);
  const [id] = useState(() => crypto.randomUUID());
  const making = useMakeIssue(loop);
  const number = (handover.issues[0]?.number ?? 0) + 1;
  return (
    <section className="make-issue" aria-label={say(words.makeTitle, { number })}>
      <Unusual seen={handover.unusual} />
      <p>{words.makeLead}</p>
      <TextLine label={words.madeFor} value={note} maxLength={300} onChange={setNote} />
      {making.isError && (
        <p className="wrong" role="alert">
          {making.error.message}
        </p>
      )}
      <button
        type="button"
        className="solid"
        disabled={making.isPending}
        onClick={() =>
          making.mutate(
            { id, note },
            {
              onSuccess: () => {
                setNote("");
                onMade(id);
              },
            },
          )
        }
      >
        {making.isPending ? words.making : say(words.make, { number })}
      </button>
    </section>
  );
}
