/** What every survey step is given. */
import type { At } from "../isolation/useIsolationEntries";
import type { Entry } from "../../device/entry";
import type { Choices, Survey } from "./queries";
import type { Confirmation } from "./useConfirmed";
import type { SurveyDraft } from "./useSurveyDraft";
import type { SurveyEntries } from "./useSurveyEntries";

export interface StepProps {
  survey: Survey;
  draft: SurveyDraft;
  /** Where this is, for what is entered here. */
  at: At;
  /** What was entered about this box and has not reached the server. */
  waiting: readonly Entry[];
  entries: SurveyEntries;
  /** Whether the server's answer is about exactly what stands here. */
  confirmation: Confirmation;
  choices: Choices;
  site: string;
  region: string;
  mayEdit: boolean;
}
