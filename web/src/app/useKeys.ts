/** Keys of a list of forms that go with the things themselves, not with their places: one that is taken away takes what was typed in it along. */
import { useCallback, useState } from "react";

interface Kept {
  keys: readonly number[];
  next: number;
}

function fitted({ keys, next }: Kept, count: number): Kept {
  const missing = Math.max(0, count - keys.length);
  const fresh = Array.from({ length: missing }, (_, k) => next + k);
  return { keys: [...keys.slice(0, count), ...fresh], next: next + missing };
}

/** What is added comes last; `forget` says which is taken away, in the same step as the list. */
export function useKeys(count: number): [keys: readonly number[], forget: (index: number) => void] {
  const [kept, keep] = useState(() => fitted({ keys: [], next: 0 }, count));
  const now = kept.keys.length === count ? kept : fitted(kept, count);
  if (now !== kept) keep(now);
  const forget = useCallback(
    (index: number) => keep((old) => ({ ...old, keys: old.keys.filter((_, k) => k !== index) })),
    [],
  );
  return [now.keys, forget];
}
