/** The four survey steps of a loop, on one draft and one outbox. */
import { FieldErrors } from "../bench/editors/FieldErrors";
import { texts } from "../../texts/en";
import { BoxStep } from "./BoxStep";
import { ConductorsStep } from "./ConductorsStep";
import type { Choices, Survey } from "./queries";
import { SafeStep } from "./SafeStep";
import { useOutbox } from "./useOutbox";
import { useSurveyDraft } from "./useSurveyDraft";
import { VisitStep } from "./VisitStep";

export type SurveyStep = "visit" | "safe" | "box" | "conductors";

interface Props {
  step: SurveyStep;
  survey: Survey;
  choices: Choices;
  site: string;
  region: string;
  mayEdit: boolean;
}

const STEP = { visit: VisitStep, safe: SafeStep, box: BoxStep, conductors: ConductorsStep };

export function SurveySteps({ step, survey, mayEdit, ...more }: Props) {
  const draft = useSurveyDraft(survey.loop, survey, mayEdit);
  const outbox = useOutbox(survey.loop);
  const Step = STEP[step];
  return (
    <div className="survey">
      <p className={`save-state is-${draft.state}`} role="status">
        {draft.state === "waiting" || outbox.isWaiting
          ? texts.survey.waiting
          : draft.state === "saving"
            ? texts.survey.saving
            : draft.state === "refused"
              ? texts.survey.notSaved
              : texts.survey.saved}
        {outbox.entries.length > 0 && ` · ${texts.survey.outbox(outbox.entries.length)}`}
      </p>
      {draft.state === "stale" && (
        <div className="notice" role="alert">
          <span>{texts.survey.stale}</span>
          <button type="button" className="outlined" onClick={() => draft.resolve(false)}>
            {texts.bench.takeTheirs}
          </button>
          <button type="button" className="solid" onClick={() => draft.resolve(true)}>
            {texts.bench.keepMine}
          </button>
        </div>
      )}
      {draft.state === "refused" && (
        <div className="notice wrong" role="alert">
          <ul>
            {draft.errors.map((error) => (
              <li key={`${error.path}-${error.code}`}>{error.text}</li>
            ))}
          </ul>
        </div>
      )}
      {outbox.refusal && <FieldErrors problem={outbox.refusal} />}
      <Step survey={survey} draft={draft} outbox={outbox} mayEdit={mayEdit} {...more} />
    </div>
  );
}
