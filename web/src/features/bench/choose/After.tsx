/** What was read with the bypass in, held against what was computed, and the next remedy by its chance. */
import { say, texts } from "../../../texts";
import type { Draft, Gang } from "../draft";
import { ReadingsForm } from "../spread/ReadingsForm";
import { Shares } from "../spread/Shares";
import { expectedBy } from "../off/expected";
import { usePredictions } from "../off/queries";
import { useAfterFitting } from "./queries";

const words = texts.choose;

export function After({ gang, draft, mayEdit }: { gang: Gang; draft: Draft; mayEdit: boolean }) {
  const predictions = usePredictions(gang.id, draft, draft.control !== null && draft.lamps.length > 0);
  const after = useAfterFitting(gang.id);
  return (
    <ReadingsForm
      title={words.after}
      lead={draft.bypasses.length > 0 ? words.afterLead : `${words.afterLead} ${words.nothingFitted}`}
      action={words.weigh}
      gang={gang}
      occasion="after_fitting"
      mayEdit={mayEdit}
      expected={expectedBy(predictions.isPlaceholderData ? undefined : predictions.data)}
      draft={draft}
      isPending={after.isPending}
      error={after.error}
      onJudge={(readings) => after.mutate({ draft, readings })}
    >
      {after.data && (
        <div className="after-result">
          <p className="sure-lead" role="status">
            <b>{after.data.text}</b>
          </p>
          <h3>{words.remedies}</h3>
          {after.data.ended && (
            <p className="wrong" role="status">
              {after.data.ended}
            </p>
          )}
          <ol className="deciding">
            {after.data.remedies.map((remedy) => (
              <li key={remedy.name}>
                <span>{remedy.name}</span>
                <b className="figure">{say(words.chance, { percent: Math.round(remedy.chance * 100) })}</b>
              </li>
            ))}
          </ol>
          <Shares spread={after.data.spread} isWeighted />
        </div>
      )}
    </ReadingsForm>
  );
}
