/** What became of a write that was refused; where somebody else had written meanwhile, which of the two is to count. */
import { Refusal } from "../../api/client";

interface Props {
  error: Error;
  words: { stale: string; theirs: string; mine: string };
  onTheirs: () => void;
  onMine: () => void;
}

export function Refused({ error, words, onTheirs, onMine }: Props) {
  const isStale = error instanceof Refusal && error.code === "stale_version";
  return (
    <div className="notice wrong" role="alert">
      <span>{isStale ? words.stale : error.message}</span>
      {isStale && (
        <>
          <button type="button" className="outlined" onClick={onTheirs}>
            {words.theirs}
          </button>
          <button type="button" className="solid" onClick={onMine}>
            {words.mine}
          </button>
        </>
      )}
    </div>
  );
}
