/** What became of a write that was refused; where somebody else had written meanwhile, which of the two is to count. */
import { isStale } from "../../api/client";

interface Props {
  error: Error;
  words: { stale: string; theirs: string; mine: string; both?: string };
  onTheirs: () => void;
  onMine: () => void;
  /** Where what both changed can be put together. */
  onBoth?: (() => void) | undefined;
}

export function Refused({ error, words, onTheirs, onMine, onBoth }: Props) {
  const isLate = isStale(error);
  return (
    <div className="notice wrong" role="alert">
      <span>{isLate ? words.stale : error.message}</span>
      {isLate && (
        <>
          <button type="button" className="outlined" onClick={onTheirs}>
            {words.theirs}
          </button>
          <button type="button" className={onBoth ? "outlined" : "solid"} onClick={onMine}>
            {words.mine}
          </button>
          {onBoth && (
            <button type="button" className="solid" onClick={onBoth}>
              {words.both}
            </button>
          )}
        </>
      )}
    </div>
  );
}
