/** What somebody changes of a record in a dialog, upon the version that they saw when it opened. */
import { useCallback, useEffect, useState } from "react";
import { isStale } from "../../api/client";
import { keep, kept } from "../../app/person";
import { texts } from "../../texts";

interface Edits<T> {
  /** What is touched as it was typed, everything else as it stands on record now. */
  form: T;
  change: (part: Partial<T>) => void;
  version: number;
  /** Whether some of it was typed before, and neither kept nor given up. */
  isLeft: boolean;
  /** Once it was kept, or nobody wants it. */
  forget: () => void;
  /** A refusal in words: where somebody else wrote first, what to do about it. */
  told: (error: Error | null) => Error | null;
  /** After a refusal: what stands on record now is seen as soon as it is shown, and the next press is made upon it. */
  onError: (error: Error) => void;
}

interface Own<T> {
  own: Partial<T>;
  seen: number;
}

/**
 * Edits of a record by its name, which stay with their person on this device until they are kept or given up.
 *
 * A record that is asked for anew behind the dialog is not thereby seen: its version is that of the opening.
 */
export function useEdits<T extends object>(name: string, now: T, version: number): Edits<T> {
  const key = `form:${name}`;
  const [before] = useState(() => kept<Own<T>>(key));
  const [left, set] = useState<Own<T>>(before ?? { own: {}, seen: version });
  const [isRefused, refuse] = useState(false);
  // Once, and not before it is here: what was not touched would go back to what it was.
  if (isRefused && version !== left.seen) {
    set({ ...left, seen: version });
    refuse(false);
  }
  useEffect(() => {
    if (Object.keys(left.own).length > 0) keep(key, left);
  }, [key, left]);
  return {
    form: { ...now, ...left.own },
    change: (part) => set(({ own, seen }) => ({ own: { ...own, ...part }, seen })),
    version: left.seen,
    isLeft: before !== null,
    forget: useCallback(() => keep(key, null), [key]),
    told: (error) => (isStale(error) ? new Error(texts.make.stale) : error),
    onError: (error) => refuse(isStale(error)),
  };
}
