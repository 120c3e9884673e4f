/** Where the loop does not do as it is: the two best remedies, before anything else. */
import { texts } from "../../../texts";
import { OldAnswer } from "../../OldAnswer";
import type { Draft, Gang } from "../draft";
import { type Choice, useChoosing, USUAL_YEAR } from "./queries";
import { ChoosingLine } from "./ChoosingLine";
import { TakeButton } from "./TakeButton";
import { useTake } from "./useTake";
import { sharesOf } from "./words";

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
  const { take, error } = useTake(draft, change);
  const found = choosing.data;
  const best = (found?.parts ?? []).filter((choice) => choice.verdict !== "rejected").slice(0, BEST);
  return (
    <section className="remedies" aria-label={words.best} aria-busy={choosing.isFetching}>
      <div className="head-line">
        <h2>{words.best}</h2>
        <ChoosingLine choosing={choosing} />
      </div>
      {error && (
        <p className="wrong" role="alert">
          {error.message}
        </p>
      )}
      {!found && !choosing.isError && <div className="remedies-room" />}
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
  return (
    <li>
      <span>
        <b>{choice.name}</b>
        <small>{sharesOf(choice).join(", ")}</small>
      </span>
      <b>{words.verdicts[choice.verdict]}</b>
      <TakeButton choice={choice} onTake={onTake} />
    </li>
  );
}
