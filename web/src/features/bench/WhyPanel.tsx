/** The verdict, opened into its reasons: numbers, formula, and the source of each input. */
import { type ReactNode, useState } from "react";
import type { Refusal, Schemas } from "../../api/client";
import { texts, wordOf } from "../../texts";
import { Cautions } from "../Cautions";
import type { Judgement } from "./queries";

interface Props {
  judgement: Judgement | undefined;
  isComputing: boolean;
  /** The reasons are not of what is on the bench. */
  isOld: boolean;
  problem: Refusal | null;
  children: ReactNode;
}

export function WhyPanel({ judgement, isComputing, isOld, problem, children }: Props) {
  if (judgement === undefined) {
    return (
      <aside className="why" tabIndex={0} aria-label={texts.bench.why}>
        <h2>{problem ? problem.message : texts.bench.computing}</h2>
      </aside>
    );
  }
  return (
    <aside
      className={`why${isOld ? " is-old" : ""}`}
      tabIndex={0}
      aria-label={texts.bench.why}
      aria-busy={isComputing}
    >
      {isOld && <p className="wrong">{texts.device.oldAway}</p>}
      {children}
      <h3>{texts.overall.typical}</h3>
      <p className={`typical-verdict is-${judgement.verdict}`}>{judgement.words.title}</p>
      <p className="why-lead">{judgement.words.text}</p>
      {judgement.missing.length > 0 && (
        <div className="why-missing">
          <p>{texts.bench.stillMissing}</p>
          <ul>
            {judgement.missing.map((path) => (
              <li key={path}>{wordOf(texts.bench.missing, path) ?? path}</li>
            ))}
          </ul>
        </div>
      )}
      {judgement.findings.map((finding, index) => (
        <Reason key={`${finding.code}-${index}`} finding={finding} />
      ))}
      <Cautions cautions={judgement.cautions} />
    </aside>
  );
}

function Reason({ finding }: { finding: Schemas["Finding"] }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <div className="reason">
      <button type="button" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        <span>{finding.title}</span>
        <b className={`figure ${finding.verdict ? `is-${finding.verdict}` : `weighs-${finding.severity}`}`}>
          {finding.figure}
        </b>
      </button>
      <p>{finding.text}</p>
      {isOpen && finding.formula && (
        <p className="formula">
          <span>{texts.bench.formula}</span> <code>{finding.formula}</code>
        </p>
      )}
      {isOpen && finding.inputs.length > 0 && (
        <dl>
          {finding.inputs.map((input) => (
            <div key={input.path}>
              <dt>{input.label}</dt>
              <dd>
                <b className="figure">{input.value}</b>{" "}
                {input.range && <span className="figure">{input.range}</span>}{" "}
                <span className="source">
                  {texts.parts.sources[input.source]}
                  {input.note && `, ${input.note}`}
                </span>
              </dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}
