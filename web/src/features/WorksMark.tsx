/** The one verdict as shape and word: a tick, half of one, a question, a cross; colour only helps. */
import type { Schemas } from "../api/client";
import { texts } from "../texts";

export type Works = Schemas["WorksEnum"];

function Shape({ works }: { works: Works }) {
  switch (works) {
    case "works":
      return (
        <>
          <circle cx="10" cy="10" r="8.5" className="fill" />
          <path d="M5.5 10.5l3 3 6-7" className="cut" />
        </>
      );
    case "probably":
      return (
        <>
          <circle cx="10" cy="10" r="8.5" className="line" />
          <path d="M5.5 10.5l3 3 6-7" className="line" />
        </>
      );
    case "does_not":
      return (
        <>
          <rect x="2" y="2" width="16" height="16" className="fill" />
          <path d="M6 6l8 8M14 6l-8 8" className="cut" />
        </>
      );
    case "not_sure":
      return (
        <>
          <path d="M10 1.5l8.5 8.5-8.5 8.5L1.5 10z" className="line" />
          <text x="10" y="14.5" textAnchor="middle" className="query">
            ?
          </text>
        </>
      );
    case "unknown":
      return <circle cx="10" cy="10" r="8.5" className="line dashed" />;
  }
}

interface Props {
  works: Works;
  /** Only the shape is drawn; the word is there for those who listen. */
  isBrief?: boolean;
}

export function WorksMark({ works, isBrief = false }: Props) {
  return (
    <span className={`verdict-mark works-${works}`}>
      <svg viewBox="0 0 20 20" aria-hidden="true">
        <Shape works={works} />
      </svg>
      {isBrief ? <span className="unseen">{texts.works[works]}</span> : texts.works[works]}
    </span>
  );
}
