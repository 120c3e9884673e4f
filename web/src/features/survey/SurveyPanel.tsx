/** Beside the survey steps: what the box tells so far. */
import { Cautions } from "../Cautions";
import { say, texts } from "../../texts";
import { Ledger } from "./Ledger";
import type { Choices, Survey } from "./queries";

const words = texts.survey.panel;

interface Props {
  survey: Survey;
  choices: Choices;
  region: string;
}

export function SurveyPanel({ survey, choices, region }: Props) {
  const { judgement } = survey;
  return (
    <aside className="why is-survey" tabIndex={0} aria-label={words.title}>
      <h2 role="status">{judgement.is_known ? texts.survey.conductors.known : judgement.neutral.word}</h2>
      <Ledger survey={survey} choices={choices} />
      <Row title={words.neutral} found={judgement.neutral} />
      <Row title={say(words.earth, { region })} found={judgement.earth} />
      {judgement.opens_routes && <p className="is-dark">{words.noBypass}</p>}
      {judgement.findings.length > 0 && <h3>{words.findings}</h3>}
      {judgement.findings.map((finding, index) => (
        <p key={`${finding.code}-${index}`} className={`survey-note weighs-${finding.severity}`}>
          {finding.text}
        </p>
      ))}
      <Cautions cautions={survey.cautions} />
    </aside>
  );
}

function Row({ title, found }: { title: string; found: Survey["judgement"]["neutral"] }) {
  return (
    <div className="presence">
      <p>
        <span>{title}</span> <b className={`presence-${found.verdict}`}>{found.word}</b>
      </p>
      <p className="quiet">
        {found.text}
        {found.conductors.length > 0 && ` (${found.conductors.join(", ")})`}
      </p>
    </div>
  );
}
