/** The fit step: one thing large at a time, the rest of the job behind it, and a way to stop that is safe. */
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useTray } from "../../device/useTray";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import type { Step, Tab } from "../bench/steps";
import { useWhen } from "../when";
import { changedSince } from "../ways/changedSince";
import { FitCard } from "./FitCard";
import { FitList } from "./FitList";
import { KitCheck } from "./KitCheck";
import { LeaveSafe } from "./LeaveSafe";
import { isSettled, missingNow, nextOf, shownSteps } from "./overlay";
import { useFitEntries, useFitSend, useFitting, useWaiting } from "./queries";
import "./fit.css";

const words = texts.fit;

interface Props {
  loop: Loop;
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
}

export function FitStep({ loop, mayEdit, onGo }: Props) {
  const when = useWhen();
  const query = useFitting(loop.id);
  const entries = useFitEntries(loop.id);
  const waits = useWaiting(loop.id);
  const { isOffline } = useTray();
  const [params, setParams] = useSearchParams();
  const [looked, look] = useState<string | null>(null);
  const fitting = query.data;
  const send = useFitSend(loop.id, loop.name, fitting?.choice?.id ?? "");
  if (fitting === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.loading}</p>
    );
  }
  if (fitting.choice === null) {
    const isFittedBefore = loop.gangs.every((gang) => gang.control?.status === "fitted");
    return (
      <div className="empty">
        <p>{isFittedBefore ? words.fittedBefore : words.noWay}</p>
        <button
          type="button"
          className={isFittedBefore ? "outlined" : "solid"}
          onClick={() => onGo("route", "ways")}
        >
          {words.toRoute}
        </button>
      </div>
    );
  }
  const steps = shownSteps(fitting, entries);
  if (steps.length === 0) return <p className="empty">{words.nothing}</p>;
  const next = nextOf(steps);
  const current = steps.find((step) => step.key === looked) ?? next;
  const done = steps.filter(isSettled).length;
  const goSafe = (place: number) => {
    const changed = new URLSearchParams(params);
    changed.set("step", "safe");
    changed.delete("tab");
    if (place > 1) changed.set("box", String(place));
    else changed.delete("box");
    setParams(changed);
  };
  return (
    <div className="fit">
      <header className="fit-head">
        <p>
          <b>{fitting.choice.title}</b>
          {fitting.choice.label && ` · ${fitting.choice.label}`}
        </p>
        <p className="fit-count" role="status">
          {say(words.count, { done, of: steps.length })}
          {fitting.minutes && ` · ${say(words.minutes, fitting.minutes)}`}
        </p>
        <progress value={done} max={steps.length} aria-label={words.progress} />
      </header>
      {(isOffline || query.isRefetchError) && (
        <p className="notice" role="status">
          {words.away}
        </p>
      )}
      {!fitting.choice.is_current && (
        <div className="notice" role="alert">
          <p>{changedSince(fitting.choice)}</p>
          {fitting.choice.is_begun ? (
            <button type="button" className="outlined" onClick={() => onGo("box", "which")}>
              {texts.ways.toBox}
            </button>
          ) : (
            <button type="button" className="outlined" onClick={() => onGo("route", "ways")}>
              {words.compareAgain}
            </button>
          )}
        </div>
      )}
      {fitting.earlier > 0 && <p className="notice">{words.earlier}</p>}
      {fitting.left && (
        <div className="notice fit-left" role="status">
          <p>
            <b>{fitting.left.text}</b> {fitting.left.by}, {when(fitting.left.at)}
            {fitting.left.note && `: ${fitting.left.note}`}
          </p>
          {fitting.left.caps.length > 0 && <p>{say(words.capped, { ends: fitting.left.caps.join("; ") })}</p>}
        </div>
      )}
      {next === undefined ? (
        <div className="fit-done" role="status">
          <h2>✓ {words.complete}</h2>
          <p>{words.completeLead}</p>
          <button type="button" className="solid" onClick={() => onGo("prove")}>
            {words.toProve}
          </button>
        </div>
      ) : null}
      {current && (next !== undefined || looked !== null) && (
        <FitCard
          key={current.key}
          loop={loop.id}
          step={current}
          missing={missingNow(current, entries, waits)}
          number={steps.indexOf(current) + 1}
          of={steps.length}
          isNext={current.key === next?.key}
          mayEdit={mayEdit}
          send={send}
          onSafe={() => goSafe(current.place_number)}
          onAsk={() => look(current.key)}
          onMarked={() => look(null)}
        />
      )}
      <FitList steps={steps} current={current?.key ?? null} onLook={look} />
      {mayEdit && <LeaveSafe loop={loop.id} fitting={fitting} onLeave={send.leave} />}
      {fitting.kit && <KitCheck kit={fitting.kit} mayEdit={mayEdit} entries={entries} onSay={send.kit} />}
      {fitting.actual.length > 0 && (
        <details>
          <summary>{words.actual}</summary>
          <dl className="fit-actual">
            {fitting.actual.map((row) => (
              <div key={row.task}>
                <dt>{row.text}</dt>
                <dd className="figure">{row.minutes} min</dd>
              </div>
            ))}
          </dl>
        </details>
      )}
    </div>
  );
}
