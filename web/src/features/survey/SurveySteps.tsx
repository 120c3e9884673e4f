/** The survey steps of one box of a loop, on one draft and one tray. */
import type { UseQueryResult } from "@tanstack/react-query";
import { say, texts } from "../../texts";
import { useEntriesOf } from "../../device/useTray";
import { BoxPlaces } from "./BoxPlaces";
import { BoxStep } from "./BoxStep";
import { ConductorsStep } from "./ConductorsStep";
import { type Choices, chosenWord, type Survey } from "./queries";
import { SafeStep } from "./SafeStep";
import type { Clash } from "./together";
import { useConfirmed } from "./useConfirmed";
import { useSurveyDraft } from "./useSurveyDraft";
import { useSurveyEntries } from "./useSurveyEntries";
import { VisitStep } from "./VisitStep";

export type SurveyStep = "visit" | "safe" | "box" | "conductors";

interface Props {
  step: SurveyStep;
  query: UseQueryResult<Survey>;
  survey: Survey;
  loopName: string;
  choices: Choices;
  site: string;
  region: string;
  mayEdit: boolean;
  onPlace: (place: number) => void;
}

const PAGE = {
  visit: "step=visit",
  safe: "step=safe",
  box: "step=box&tab=found",
  conductors: "step=box&tab=which",
};

const STEP = { visit: VisitStep, safe: SafeStep, box: BoxStep, conductors: ConductorsStep };

/** What both changed; of a conductor what the other one has seen, for that is in no list any more. */
function clashText(clash: Clash, choices: Choices): string {
  const words = texts.survey.clash;
  if (clash.what !== "conductor") return words[clash.what];
  const name = say(words.conductor, { id: clash.id });
  if (clash.theirs === null) return name;
  const colour =
    chosenWord(choices.colours, clash.theirs.sleeve || clash.theirs.colour) || texts.survey.notKnown;
  const terminals = Object.values(choices.terminals).flat();
  const terminal = chosenWord(terminals, clash.theirs.terminal) || texts.survey.notKnown;
  return `${name}; ${say(words.theirs, { colour, terminal })}`;
}

export function SurveySteps({ step, query, survey, loopName, mayEdit, onPlace, ...more }: Props) {
  const { loop, place } = survey;
  const at = {
    loop,
    loopName,
    place,
    page: `/loops/${loop}?${place > 1 ? `box=${place}&` : ""}${PAGE[step]}`,
  };
  const waiting = useEntriesOf(loop, place);
  const draft = useSurveyDraft(survey, at, waiting, mayEdit);
  const entries = useSurveyEntries(at);
  const confirmation = useConfirmed(query, loop);
  const Step = STEP[step];
  return (
    <div className="survey">
      <p className={`save-state is-${draft.state}`} role="status">
        {draft.state === "saved"
          ? texts.survey.saved
          : draft.state === "waiting"
            ? texts.survey.saving
            : texts.survey.notSaved}
      </p>
      {draft.state === "stale" && (
        <div className="notice" role="alert">
          <span>{texts.survey.stale}</span>
          <button type="button" className="outlined" onClick={() => draft.resolve("theirs")}>
            {texts.bench.takeTheirs}
          </button>
          <button
            type="button"
            className={draft.canPutTogether ? "outlined" : "solid"}
            onClick={() => draft.resolve("mine")}
          >
            {texts.survey.keepMine}
          </button>
          {draft.canPutTogether && (
            <button type="button" className="solid" onClick={() => draft.resolve("both")}>
              {texts.survey.both}
            </button>
          )}
        </div>
      )}
      {draft.state !== "stale" && draft.clashes.length > 0 && (
        <div className="notice" role="status">
          <div>
            <p>{texts.survey.together}</p>
            <ul>
              {draft.clashes.map((clash) => (
                <li key={JSON.stringify(clash)}>{clashText(clash, more.choices)}</li>
              ))}
            </ul>
          </div>
          <button type="button" className="outlined" onClick={draft.seen}>
            {texts.survey.clashSeen}
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
      {step !== "visit" && <BoxPlaces survey={survey} mayEdit={mayEdit} onPlace={onPlace} />}
      <fieldset className="plain-set survey-step" disabled={!mayEdit}>
        <Step {...{ survey, draft, at, waiting, entries, confirmation, mayEdit }} {...more} />
      </fieldset>
    </div>
  );
}
