/** What a proof says: each fault with its words, its weight as a word, and the state in which it is so. */
import { say, texts } from "../../texts";
import type { Verdict } from "./queries";

const words = texts.ways;
const MARKS: Record<string, string> = { stop: "✕", warn: "!", info: "i", good: "✓" };

interface Props {
  findings: Verdict["findings"];
  count: number;
}

export function ProofFindings({ findings, count }: Props) {
  return (
    <section aria-label={words.findings}>
      <h3>{words.findings}</h3>
      <p className="quiet">{say(words.proved, { count })}</p>
      {findings.length === 0 && <p>{words.noFindings}</p>}
      <ul className="proof-findings">
        {findings.map((finding) => (
          <li key={finding.text} className={`is-${finding.severity}`}>
            <span aria-hidden="true">{MARKS[finding.severity]}</span>
            <span>
              {finding.text}
              {finding.when && <small>{finding.when}</small>}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
