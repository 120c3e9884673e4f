/** The one step that hands are at, large, with what is still open, and what to repeat after a miss. */
import { useEffect, useState } from "react";
import { say, texts } from "../../texts";
import type { Loop } from "../bench/queries";
import { ReasonDialog } from "../dialog/ReasonDialog";
import { clockOf } from "./JoinLine";
import { type Pairing, type PairStep, sendPairMark } from "./queries";
import { againOf, leftOf, type Run, stepOf, stepped } from "./run";

const words = texts.setup.join;
const TICK_MS = 500;

interface Props {
  loop: Loop;
  hub: string;
  run: Run;
  /** Breakers that somebody keeps off. */
  locked: Pairing["locked"];
  /** Devices that are in, whoever saw to it. */
  joined: ReadonlySet<string>;
  mayEdit: boolean;
  onRun: (next: Run | null) => void;
}

/** A step that somebody else has made needless: its device is in. */
function isNeedless(step: PairStep, joined: ReadonlySet<string>): boolean {
  return (step.do === "enter" || step.do === "join") && joined.has(step.device);
}

export function JoinStep({ loop, hub, run, locked, joined, mayEdit, onRun }: Props) {
  const [now, setNow] = useState(() => Date.now());
  const [isTelling, tell] = useState(false);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), TICK_MS);
    return () => clearInterval(timer);
  }, []);
  const step = stepOf(run);
  const needless = step !== undefined && run.again.length === 0 && isNeedless(step, joined);
  useEffect(() => {
    if (needless) onRun({ ...run, at: run.at + 1 });
    else if (step === undefined) onRun(null);
  });
  if (step === undefined || needless) return null;
  // A breaker under somebody's lock is not switched on, whatever the plan says.
  const switches = step.do === "power" || step.do === "cycle";
  const kept = locked.find((one) => one.breaker === "" || (switches && one.breaker === step.device));
  const left = leftOf(run, now);
  const isOpen = left.network !== null && left.network > 0;
  const open = [left.network, left.device].filter((one): one is number => one !== null);
  const soonest = open.length > 0 ? Math.min(...open) : null;
  const isWaiting = step.do === "join" || step.do === "link";
  const mark = (came: "worked" | "again" | "other", label: string, note = "") =>
    sendPairMark(loop.site, loop.site_name, hub, loop.id, { step: step.key, came, note, label });
  const go = () => onRun(stepped(run, step, Date.now()));
  const worked = () => {
    mark("worked", `${step.title}: ${step.do === "link" ? words.linked : words.worked}`);
    go();
  };
  const again = () => {
    mark("again", `${step.title}: ${words.again}`);
    onRun({ ...run, again: againOf(run, Date.now()), againAt: 0 });
  };
  return (
    <article key={step.key} className="fit-card join-step" aria-label={step.title}>
      <p className="fit-stage">
        {run.again.length > 0 ? words.repeat : say(words.step, { number: run.at + 1, of: run.steps.length })}{" "}
        · {isOpen ? say(words.networkOpen, { time: clockOf(left.network ?? 0) }) : words.networkClosed}
      </p>
      <h2>{step.title}</h2>
      <p className="fit-text">{step.how ? `${step.how} ${step.text}` : step.text}</p>
      {step.shows && <p>{say(words.shows, { what: step.shows })}</p>}
      {step.do === "join" && soonest !== null && (
        <p className={soonest > 0 ? "countdown figure" : "countdown wrong"} role="timer">
          {soonest > 0 ? say(words.left, { time: clockOf(soonest) }) : words.over}
        </p>
      )}
      {kept && (
        <p className="caution-line" role="alert">
          ⚠ {kept.text}
        </p>
      )}
      {mayEdit && (
        <div className="fit-do">
          {isWaiting ? (
            <>
              <button type="button" className="solid fit-tick" onClick={worked}>
                ✓ {step.do === "link" ? words.linked : words.worked}
              </button>
              {step.do === "join" && (
                <button type="button" className="outlined" onClick={again}>
                  {words.again}
                </button>
              )}
              <button type="button" className="plain" onClick={() => tell(true)}>
                {words.other}
              </button>
            </>
          ) : (
            <button type="button" className="solid fit-tick" disabled={kept !== undefined} onClick={go}>
              ✓ {words.doneStep}
            </button>
          )}
          <button type="button" className="plain" onClick={() => onRun(null)}>
            {words.leave}
          </button>
        </div>
      )}
      {run.again.length === 0 && run.steps[run.at + 1] !== undefined && (
        <p className="quiet join-next">{say(words.next, { what: run.steps[run.at + 1]?.title ?? "" })}</p>
      )}
      {step.back_out && isWaiting && <p className="quiet">{say(words.backOut, { how: step.back_out })}</p>}
      {isTelling && (
        <ReasonDialog
          of={`other:${hub}:${step.key}`}
          title={step.title}
          label={words.otherWhat}
          least={5}
          most={300}
          isPending={false}
          error={null}
          onReason={(note, done) => {
            mark("other", `${step.title}: ${note}`, note);
            done();
            tell(false);
          }}
          onClose={() => tell(false)}
        />
      )}
    </article>
  );
}
