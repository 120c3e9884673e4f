/** One item to prove, large: what is done, what is found, with buttons that gloves can press. */
import { useCallback, useState } from "react";
import { ReasonForm } from "../dialog/ReasonForm";
import { engineering } from "../../format";
import { say, texts } from "../../texts";
import { useTray } from "../../device/useTray";
import { useWhen } from "../when";
import type { Shown } from "./overlay";
import { type Proving, sendMark, useWorth, type Worth as WorthOf } from "./queries";
import { Taps } from "./Taps";
import { endWatch, Watch } from "./Watch";
import { Worth } from "./Worth";

const words = texts.prove;
const SHORTEST_REASON = 5;

/** The rhythm that is computed of the loop, beside the one that was tapped. */
function rhythmOf(worth: WorthOf): string {
  const period = worth.readings.find((one) => one.read === "period");
  if (period === undefined) return words.rhythmNone;
  const { p05, p95 } = period.expected;
  return say(words.rhythmComputed, { low: engineering(p05 ?? 0, "s"), high: engineering(p95 ?? 0, "s") });
}

interface Props {
  loop: string;
  loopName: string;
  item: Shown;
  proving: Proving;
  isNext: boolean;
  mayEdit: boolean;
  /** A reason is being written: this item stays, whoever marks it meanwhile. */
  onAsk: () => void;
  onMarked: () => void;
  onReadings: () => void;
  onCase: (symptom: string, gang: string | null) => void;
  onSafe: () => void;
}

export function ProveCard(props: Props) {
  const when = useWhen();
  const { loop, loopName, item, proving, isNext, mayEdit, onAsk, onMarked, onReadings, onCase, onSafe } =
    props;
  const [watched, setWatched] = useState(0);
  const [taps, setTaps] = useState<number[]>([]);
  const [asking, setAsking] = useState<"excused" | "open" | null>(null);
  const heard = useCallback((seconds: number) => setWatched(seconds), []);
  // A reading says by itself what it is; without one nothing can be said.
  const isReading = item.act === "reading";
  const isBlinking = item.act === "flicker_watch" && item.result === "blink";
  const worth = useWorth(item.gang ?? "", (isReading || isBlinking) && item.gang !== null).data;
  const taken = worth?.taken ?? null;
  const isWatch = item.act === "flicker_watch";
  const settled = item.outcome !== "open";
  const isFull = watched >= proving.accustom_s + proving.watch_s;
  const isOffWaiting = useTray().mine.some(
    (entry) => entry.state === "waiting" && entry.path === `/api/v1/loops/${loop}/isolations/`,
  );
  // An isolation that is still on this device counts when it arrives, before what was done under it.
  const isShut = item.wants_off ? item.shut !== "" && !isOffWaiting : item.shut !== "" || isOffWaiting;
  const bad = item.results.find((one) => one.code === item.result);
  const watchName = `${loop}:${item.key}`;
  const mark = (result: string, why?: string) => {
    sendMark(loop, loopName, item, {
      basis: proving.basis,
      result,
      ...(why === undefined ? {} : { reason: why }),
      ...(isWatch && why === undefined ? { watched_s: watched, taps_s: result === "blink" ? taps : [] } : {}),
    });
    endWatch(watchName);
    setAsking(null);
    onMarked();
  };
  const ask = (outcome: "excused" | "open") => {
    setAsking(outcome);
    onAsk();
  };
  return (
    <article className={`fit-card prove-card is-${item.outcome}`} aria-label={item.title}>
      <h2>{item.title}</h2>
      <p className="fit-text">{item.text}</p>
      {item.is_old && <p className="notice">{words.old}</p>}
      {settled && (
        <p className="fit-settled">
          {item.outcome === "passed" ? "✓" : item.outcome === "failed" ? "!" : "–"} {words[item.outcome]}
          {item.result_text && `: ${item.result_text}`}
          {item.outcome === "excused" && `: ${item.reason}`}
          {item.by && !item.isWaiting && `, ${item.by}`}
          {item.at && !item.isWaiting && `, ${when(item.at)}`}
        </p>
      )}
      {isBlinking && worth && <p className="quiet">{rhythmOf(worth)}</p>}
      {!settled && item.reason && <p className="quiet">{item.reason}</p>}
      {item.isWaiting && (
        <p className="wrong" role="status">
          {texts.isolation.waiting}
        </p>
      )}
      {item.refusal && (
        <p className="notice wrong" role="alert">
          {item.refusal}
        </p>
      )}
      {isShut && !settled && (
        <div className="notice">
          <span>{item.shut || words.offWaiting}</span>
          <button type="button" className="outlined" onClick={onSafe}>
            {words.isolated}
          </button>
        </div>
      )}
      {item.act === "reading" && item.gang && <Worth gang={item.gang} onReadings={onReadings} />}
      {mayEdit && !settled && isWatch && !isShut && (
        <>
          <Watch
            name={watchName}
            accustom_s={proving.accustom_s}
            watch_s={proving.watch_s}
            prompts_s={proving.prompts_s}
            onWatched={heard}
          />
          <Taps taps={taps} onTaps={setTaps} />
        </>
      )}
      {mayEdit && (
        <div className="fit-do">
          {!settled &&
            item.results
              .filter((one) => taken === null || one.is_good === taken.is_inside)
              .map((one) => (
                <button
                  key={one.code}
                  type="button"
                  className={one.is_good ? "solid" : "outlined"}
                  disabled={
                    isShut ||
                    item.isWaiting ||
                    (isWatch && one.is_good && !isFull) ||
                    (isReading && taken === null)
                  }
                  onClick={() => mark(one.code)}
                >
                  {one.is_good ? "✓ " : ""}
                  {one.text}
                </button>
              ))}
          {!settled && (
            <button type="button" className="plain" onClick={() => ask("excused")}>
              {words.excuse} …
            </button>
          )}
          {settled && !item.isWaiting && (
            <button type="button" className="outlined" onClick={() => ask("open")}>
              {words.again} …
            </button>
          )}
          {item.outcome === "failed" && bad?.symptom && (
            <button type="button" className="solid" onClick={() => onCase(bad.symptom ?? "", item.gang)}>
              {words.findOut}
            </button>
          )}
          {!isNext && (
            <button type="button" className="plain" onClick={onMarked}>
              {words.toItem}
            </button>
          )}
        </div>
      )}
      {mayEdit && !settled && isWatch && !isFull && !isShut && <p className="quiet">{words.darkLater}</p>}
      {asking && (
        <ReasonForm
          key={asking}
          of={`prove:${loop}:${item.key}:${asking}`}
          label={asking === "open" ? words.whyAgain : words.whyExcused}
          action={words.keep}
          least={SHORTEST_REASON}
          onReason={(why) => mark(asking, why)}
          onCancel={() => setAsking(null)}
        />
      )}
    </article>
  );
}
