/** Where the loop does not do as it is: the two best remedies, before anything else. */
import { say, texts } from "../../../texts";
import { OldAnswer } from "../../OldAnswer";
import { ProgressLine } from "../../ProgressLine";
import type { Draft, Gang } from "../draft";
import { type Choice, useChoosing, USUAL_YEAR } from "./queries";
import { useTake } from "./useTake";

const words = texts.choose;
const BEST = 2;

interface Props {
  gang: Gang;
  draft: Draft;
  change: (draft: Draft) => void;
  onAll: () => void;
}

export function Remedies({ gang, draft, change, onAll }: Props) {
  const choosing = useChoosing(gang.id, draft, USUAL_YEAR);
  const take = useTake(draft, change);
  const found = choosing.data;
  const best = (found?.parts ?? []).filter((choice) => choice.verdict !== "rejected").slice(0, BEST);
  return (
    <section className="remedies" aria-label={words.best} aria-busy={choosing.isFetching}>
      <h2>{words.best}</h2>
      {choosing.isFetching && (
        <ProgressLine
          label={found ? words.refining : words.computing}
          progress={choosing.progress}
          onStop={choosing.stop}
        />
      )}
      {choosing.isError && (
        <p className="wrong" role="alert">
          {choosing.error.message}
        </p>
      )}
      {found && (
        <OldAnswer isOld={choosing.isOld || choosing.isError}>
          {found.none_cures && <p className="wrong">✗ {found.none_cures}</p>}
          <ol>
            {best.map((choice) => (
              <Best key={choice.rank} choice={choice} onTake={take} />
            ))}
          </ol>
        </OldAnswer>
      )}
      <button type="button" className="plain" onClick={onAll}>
        {words.all}
      </button>
    </section>
  );
}

function Best({ choice, onTake }: { choice: Choice; onTake: (choice: Choice) => void }) {
  const shares = [
    choice.samples === 0
      ? words.samplesNone
      : say(words.samples, {
          well: Math.round(choice.share_ratio * choice.samples),
          samples: choice.samples,
        }),
    ...(choice.on_share_ratio === null
      ? []
      : [say(words.withLight, { percent: Math.round(choice.on_share_ratio * 100) })]),
  ];
  return (
    <li>
      <span>
        <b>{choice.name}</b>
        <small>{shares.join(", ")}</small>
      </span>
      <b>{words.verdicts[choice.verdict]}</b>
      <button
        type="button"
        className="outlined"
        aria-label={say(words.fitted, { name: choice.name })}
        onClick={() => onTake(choice)}
      >
        {words.fit}
      </button>
    </li>
  );
}
