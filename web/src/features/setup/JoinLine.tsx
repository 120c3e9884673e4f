/** The plan as a line of time: when the network is open, and what hands do meanwhile; the same as a list below. */
import { say, texts } from "../../texts";
import type { PairStep } from "./queries";

const words = texts.setup.join;
const WIDTH = 760;
const LEFT = 84;
const ENDS = new Set(["join", "link", "close"]);
// A narrower step has no room for its number.
const LEAST_NUMBERED = 20;
const SORTS = ["wait", "enter", "open", "join"] as const;
type Sort = (typeof SORTS)[number];

/** What a step is for the hands, as it is drawn. */
function sortOf(step: PairStep): Sort {
  if (step.do === "join" || step.do === "link") return "join";
  if (step.do === "open" || step.do === "close") return "open";
  return ["enter", "cycle", "power", "ask_link"].includes(step.do) ? "enter" : "wait";
}

export function clockOf(seconds: number): string {
  const whole = Math.max(0, Math.ceil(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

/** From opening until it closes by itself, is opened again, or is closed. */
function opens(steps: readonly PairStep[]): { from: number; to: number }[] {
  const found: { from: number; to: number }[] = [];
  for (const step of steps) {
    const last = found.at(-1);
    if (step.do === "open") {
      if (last && last.to > step.end_s) last.to = step.end_s;
      found.push({ from: step.end_s, to: step.end_s + (step.window_s ?? 0) });
    } else if (step.do === "close" && last && last.to > step.end_s) last.to = step.end_s;
  }
  return found;
}

export function JoinLine({ steps }: { steps: readonly PairStep[] }) {
  // What comes after the last of joining takes long and needs no drawing.
  const last = steps.findLastIndex((step) => ENDS.has(step.do));
  const drawn = steps.slice(0, last + 1);
  const after = steps.slice(last + 1);
  const whole = drawn.at(-1)?.end_s ?? 1;
  const x = (seconds: number) => LEFT + ((WIDTH - LEFT - 8) * seconds) / whole;
  const every = [30, 60, 120, 300, 600, 1200].find((one) => whole / one <= 8) ?? 3600;
  const ticks = Array.from({ length: Math.floor(whole / every) + 1 }, (_, k) => k * every);
  return (
    <section aria-label={words.line}>
      <h2>{words.line}</h2>
      <svg className="join-line" viewBox={`0 0 ${WIDTH} 96`} role="img" aria-label={words.line}>
        <text x={0} y={26}>
          {words.network}
        </text>
        <text x={0} y={60}>
          {words.hands}
        </text>
        {opens(drawn).map((one) => (
          <rect
            key={one.from}
            className="network-open"
            x={x(one.from)}
            y={12}
            width={Math.max(1, x(one.to) - x(one.from))}
            height={20}
          />
        ))}
        {drawn.map((step, k) => {
          const width = Math.max(1.5, x(step.end_s) - x(step.begin_s) - 1);
          return (
            <g key={`${step.key}${k}`} className={`hand-step is-${sortOf(step)}`}>
              <rect x={x(step.begin_s)} y={44} width={width} height={22}>
                <title>{`${k + 1} · ${step.title}`}</title>
              </rect>
              {width >= LEAST_NUMBERED && (
                <text x={x(step.begin_s) + width / 2} y={59}>
                  {k + 1}
                </text>
              )}
            </g>
          );
        })}
        {ticks.map((at) => (
          <text key={at} x={x(at)} y={86} className="join-tick">
            {clockOf(at)}
          </text>
        ))}
      </svg>
      <p className="quiet join-keys">
        {SORTS.filter((sort) => drawn.some((step) => sortOf(step) === sort)).map((sort) => (
          <span key={sort} className="link-key">
            <svg viewBox="0 0 36 12" aria-hidden>
              <g className={`hand-step is-${sort}`}>
                <rect x={1} y={1} width={34} height={10} />
              </g>
            </svg>
            {words.sorts[sort]}
          </span>
        ))}
      </p>
      {after.length > 0 && (
        <p className="quiet">
          {say(words.after, {
            count: after.length,
            minutes: Math.ceil(((after.at(-1)?.end_s ?? 0) - whole) / 60),
          })}
        </p>
      )}
      <details>
        <summary>{words.all}</summary>
        <ol className="join-list">
          {steps.map((step, k) => (
            <li key={`${step.key}${k}`}>
              <span className="figure">{clockOf(step.begin_s)}</span>
              <span>
                {`${k + 1} · ${step.title}`}
                <small>
                  {[step.how || step.text, step.shows && say(words.shows, { what: step.shows })]
                    .filter(Boolean)
                    .join(" ")}
                </small>
              </span>
            </li>
          ))}
        </ol>
      </details>
    </section>
  );
}
