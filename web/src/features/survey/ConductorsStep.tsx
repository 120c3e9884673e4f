/** Which conductor is which, by readings. */
import { useState } from "react";
import { Link } from "react-router";
import { say, texts } from "../../texts";
import type { Proposal, Survey } from "./queries";
import { MeterLine } from "./MeterLine";
import { ReadingForm } from "./ReadingForm";
import { ReadingList } from "./ReadingList";
import type { StepProps } from "./stepProps";

const words = texts.survey.conductors;

export function ConductorsStep(props: StepProps) {
  const { survey, draft, mayEdit } = props;
  const [wanted, setWanted] = useState<Proposal | null>(null);
  const { judgement } = survey;
  const isIsolated = survey.is_off;
  const isProved = props.confirmation === "confirmed" && survey.proof.state === "proved";
  if (draft.doc.box.conductors.length === 0) {
    return (
      <>
        <h2>{words.title}</h2>
        <p className="empty">
          {words.noBox}{" "}
          <Link to={`?step=box&tab=found${survey.place > 1 ? `&box=${survey.place}` : ""}`}>
            {words.toBox}
          </Link>
        </p>
      </>
    );
  }
  return (
    <>
      <h2>{words.title}</h2>
      <p className="quiet">{words.lead}</p>
      {judgement.sides.map(
        (side, index) => side && <p key={index}>{say(words.side, { gang: index + 1, side })}</p>,
      )}
      <Standing survey={survey} />
      <section className="next-reading" aria-label={words.next}>
        <h3>{judgement.is_known ? words.known : words.next}</h3>
        {judgement.next_dead && (
          <Proposed
            title={words.nextDead}
            proposal={judgement.next_dead}
            hint={isProved ? "" : words.isolateFirst}
            onUse={isProved && mayEdit ? setWanted : null}
          />
        )}
        {judgement.next_live && (
          <Proposed
            title={words.nextLive}
            proposal={judgement.next_live}
            hint={isIsolated ? words.isIsolated : ""}
            onUse={isIsolated || !mayEdit ? null : setWanted}
          />
        )}
      </section>
      {mayEdit && <ReadingForm {...props} wanted={wanted} />}
      <MeterLine mayEdit={mayEdit} />
      <ReadingList {...props} />
    </>
  );
}

/** What is certain, what is probable, what is not settled, and what speaks against it, in plain words. */
function Standing({ survey }: { survey: Survey }) {
  const named = (certainty: string, withRole: boolean) =>
    survey.judgement.conductors
      .filter((entry) => entry.certainty === certainty)
      .map((entry) => (withRole ? `${entry.conductor} ${entry.text}` : entry.conductor))
      .join(", ");
  const [sure, likely, open] = [named("sure", true), named("likely", true), named("open", false)];
  const against = survey.judgement.findings.filter((entry) => entry.severity === "stop");
  return (
    <section className="standing" aria-label={words.standing}>
      {against.map((finding, index) => (
        <p key={`${finding.code}-${index}`} className="notice wrong" role="alert">
          <b aria-hidden="true">✗</b> {finding.text}
        </p>
      ))}
      {sure && <p>{say(words.isKnown, { names: sure })}</p>}
      {likely && <p>{say(words.isLikely, { names: likely })}</p>}
      {open && <p>{say(words.isOpen, { names: open })}</p>}
    </section>
  );
}

interface ProposedProps {
  title: string;
  proposal: Proposal;
  hint: string;
  onUse: ((proposal: Proposal) => void) | null;
}

function Proposed({ title, proposal, hint, onUse }: ProposedProps) {
  return (
    <div className="proposed">
      <span>
        <small>{title}</small>
        {proposal.text}
        {proposal.why_text && <small>{proposal.why_text}</small>}
        {hint && <small>{hint}</small>}
      </span>
      {onUse && (
        <button type="button" className="outlined" onClick={() => onUse({ ...proposal })}>
          {words.use}
        </button>
      )}
    </div>
  );
}
