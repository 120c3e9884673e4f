/** The list that a loop is proved by: one item large, the others behind it. */
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { useTray } from "../../device/useTray";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import type { Step, Tab } from "../bench/steps";
import { useFitEntries } from "../fit/queries";
import { shownItems } from "./overlay";
import { ProveCard } from "./ProveCard";
import { useProveEntries, useProving } from "./queries";
import "../fit/fit.css";
import "./prove.css";

const words = texts.prove;
const MARKS = { open: "○", passed: "✓", failed: "!", excused: "–" } as const;

interface Props {
  loop: Loop;
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
}

export function ProveList({ loop, mayEdit, onGo }: Props) {
  const query = useProving(loop.id);
  const entries = useProveEntries(loop.id);
  // What is proved is proved of what hangs there: an entry of fitting that has not arrived yet changes that.
  const isFitting = useFitEntries(loop.id).length > 0;
  const { isOffline } = useTray();
  const [looked, look] = useState<string | null>(null);
  const [, setParams] = useSearchParams();
  const refused = entries.find((entry) => entry.state === "refused")?.body["item"];
  useEffect(() => {
    // Why it was refused stands at the item, and is not passed over with the next one.
    if (typeof refused === "string") look(refused);
  }, [refused]);
  const proving = query.data;
  if (proving === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.loading}</p>
    );
  }
  if (proving.items.length === 0) {
    return (
      <div className="empty">
        <p>{words.none}</p>
        <button type="button" className="solid" onClick={() => onGo("parts", "lamps")}>
          {words.toParts}
        </button>
      </div>
    );
  }
  const items = shownItems(proving, entries);
  const next =
    items.find((item) => item.outcome === "open") ?? items.find((item) => item.outcome === "failed");
  const current = items.find((item) => item.key === looked) ?? next;
  const done = items.filter((item) => item.outcome === "passed" || item.outcome === "excused").length;
  const complain = (symptom: string, gang: string | null) =>
    setParams((now) => {
      const changed = new URLSearchParams(now);
      changed.set("tab", "wrong");
      changed.set("new", symptom);
      if (gang) changed.set("gang", gang);
      return changed;
    });
  return (
    <div className="fit prove">
      <header className="fit-head">
        <p className="fit-count" role="status">
          {say(words.count, { done, of: items.length })} · {proving.text}
        </p>
        <progress value={done} max={items.length} aria-label={words.progress} />
      </header>
      {(isOffline || query.isRefetchError) && (
        <p className="notice" role="status">
          {words.away}
        </p>
      )}
      {done === items.length && (
        <div className="fit-done" role="status">
          <h2>✓ {words.complete}</h2>
          <p>{words.completeLead}</p>
          <button type="button" className="solid" onClick={() => onGo("handover")}>
            {words.toSheet}
          </button>
        </div>
      )}
      {isFitting && (
        <p className="notice" role="status">
          {words.fitFirst}
        </p>
      )}
      {!isFitting && current && (next !== undefined || looked !== null) && (
        <ProveCard
          key={current.key}
          loop={loop.id}
          loopName={loop.name}
          item={current}
          proving={proving}
          isNext={current.key === next?.key}
          mayEdit={mayEdit}
          onAsk={() => look(current.key)}
          onMarked={() => look(null)}
          onReadings={() => onGo("prove", "readings")}
          onCase={complain}
          onSafe={() => onGo("safe")}
        />
      )}
      <section className="fit-list" aria-label={words.all}>
        <h2>{words.all}</h2>
        <ol>
          {items.map((item) => (
            <li key={item.key} className={`is-${item.outcome}`}>
              <button
                type="button"
                className="plain"
                aria-current={item.key === current?.key ? "step" : undefined}
                onClick={() => look(item.key)}
              >
                <span className="fit-mark" aria-hidden>
                  {MARKS[item.outcome]}
                </span>
                <span>
                  {item.title}
                  <small>
                    {item.is_old ? words.old : words[item.outcome]}
                    {item.result_text && `: ${item.result_text}`}
                    {item.by && item.outcome !== "open" && `, ${item.by}`}
                  </small>
                </span>
              </button>
            </li>
          ))}
        </ol>
      </section>
    </div>
  );
}
