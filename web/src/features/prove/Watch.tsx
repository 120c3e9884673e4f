/** The clock of a flicker watch: eyes used to the dark, then watching, with a word when another load is to be switched.

It runs on by the time of day, so that a reload in the middle loses nothing. */
import { useEffect, useState } from "react";
import { keep, kept } from "../../app/person";
import { say, texts } from "../../texts";

const words = texts.prove;
const TICK_MS = 500;
// So long a word to switch something stays [s].
const PROMPT_S = 20;
// A clock that ran out so long ago was left running by nobody who watches [s].
const STALE_S = 1800;

function keyOf(name: string): string {
  return `watch:${name}`;
}

/** What was watched is told: the next watch begins anew. */
export function endWatch(name: string): void {
  keep(keyOf(name), null);
}

/** When the watch of this device began; one that was left behind counts no more. */
function begunAt(name: string, whole_s: number): number | null {
  const at = kept<number>(keyOf(name));
  return at !== null && (Date.now() - at) / 1000 < whole_s + STALE_S ? at : null;
}

interface Props {
  /** What is watched, under which its beginning is kept on this device. */
  name: string;
  accustom_s: number;
  watch_s: number;
  prompts_s: readonly number[];
  onWatched: (watched_s: number) => void;
}

function clock(seconds: number): string {
  const whole = Math.max(0, Math.ceil(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

export function Watch({ name, accustom_s, watch_s, prompts_s, onWatched }: Props) {
  const [begun, setBegun] = useState<number | null>(() => begunAt(name, accustom_s + watch_s));
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (begun === null) return;
    const timer = setInterval(() => setNow(Date.now()), TICK_MS);
    return () => clearInterval(timer);
  }, [begun]);
  const passed = begun === null ? 0 : Math.max(0, (now - begun) / 1000);
  const whole = accustom_s + watch_s;
  const seconds = Math.floor(Math.min(passed, whole));
  useEffect(() => onWatched(seconds), [onWatched, seconds]);
  const begin = (at: number | null) => {
    keep(keyOf(name), at);
    setBegun(at);
    setNow(Date.now());
  };
  if (begun === null) {
    return (
      <button type="button" className="solid fit-tick" onClick={() => begin(Date.now())}>
        {words.startWatch}
      </button>
    );
  }
  const watching = passed - accustom_s;
  const isPrompt = watching >= 0 && prompts_s.some((at) => watching >= at && watching < at + PROMPT_S);
  return (
    <div className="watch" role="timer" aria-label={words.watch}>
      <b>{passed >= whole ? words.watchDone : watching < 0 ? words.accustom : words.watching}</b>
      {passed < whole && (
        <span className="figure">
          {say(words.left, { time: clock(watching < 0 ? accustom_s - passed : whole - passed) })}
        </span>
      )}
      <progress value={Math.min(passed, whole)} max={whole} aria-label={words.watch} />
      {isPrompt && (
        <p className="notice" role="status">
          {words.prompt}
        </p>
      )}
      <button type="button" className="plain" onClick={() => begin(null)}>
        {passed >= whole ? words.restart : words.stopWatch}
      </button>
    </div>
  );
}
