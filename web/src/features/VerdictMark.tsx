/** A verdict as shape and word: the shape alone tells it, colour only helps. */
import type { Schemas } from "../api/client";
import { texts } from "../texts";

export type Verdict = Schemas["VerdictEnum"];

function Shape({ verdict }: { verdict: Verdict }) {
  switch (verdict) {
    case "dark":
      return <circle cx="10" cy="10" r="7" className="fill" />;
    case "close":
      return (
        <>
          <circle cx="10" cy="10" r="7" className="line" />
          <path d="M10 3a7 7 0 0 1 0 14z" className="fill" />
        </>
      );
    case "marginal":
      return (
        <>
          <circle cx="10" cy="10" r="7" className="line" />
          <path d="M3 10a7 7 0 0 0 14 0z" className="fill" />
        </>
      );
    case "glow":
      return (
        <>
          <circle cx="10" cy="10" r="4" className="fill" />
          <path d="M10 1v3M10 16v3M1 10h3M16 10h3" className="line" />
        </>
      );
    case "blink":
      return <circle cx="10" cy="10" r="7" className="line dashed" />;
    case "starved":
      return (
        <>
          <rect x="3" y="3" width="14" height="14" className="line" />
          <path d="M3 12l9-9M3 17L17 3M8 17l9-9" className="line" />
        </>
      );
    case "unknown":
      return (
        <text x="10" y="15" textAnchor="middle" className="query">
          ?
        </text>
      );
  }
}

interface Props {
  verdict: Verdict;
  /** Only the shape is drawn; the word is there for those who listen. */
  isBrief?: boolean;
}

export function VerdictMark({ verdict, isBrief = false }: Props) {
  return (
    <span className={`verdict-mark is-${verdict}`}>
      <svg viewBox="0 0 20 20" aria-hidden="true">
        <Shape verdict={verdict} />
      </svg>
      {isBrief ? <span className="unseen">{texts.verdicts[verdict]}</span> : texts.verdicts[verdict]}
    </span>
  );
}
