/** What every survey step is given. */
import type { Choices, Survey } from "./queries";
import type { Outbox } from "./useOutbox";
import type { SurveyDraft } from "./useSurveyDraft";

export interface StepProps {
  survey: Survey;
  draft: SurveyDraft;
  outbox: Outbox;
  choices: Choices;
  site: string;
  region: string;
  mayEdit: boolean;
}
