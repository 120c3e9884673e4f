/** What somebody changes of a record in a dialog, upon the version that they saw when it opened. */
import { useState } from "react";
import { isStale } from "../../api/client";
import { texts } from "../../texts";

interface Edits<T> {
  /** What is touched as it was typed, everything else as it stands on record now. */
  form: T;
  change: (part: Partial<T>) => void;
  version: number;
  /** A refusal in words: where somebody else wrote first, what to do about it. */
  told: (error: Error | null) => Error | null;
  /** After a refusal: what stands on record now is seen as soon as it is shown, and the next press is made upon it. */
  onError: (error: Error) => void;
}

/** A record that is asked for anew behind the dialog is not thereby seen: its version is that of the opening. */
export function useEdits<T extends object>(now: T, version: number): Edits<T> {
  const [own, setOwn] = useState<Partial<T>>({});
  const [seen, see] = useState(version);
  const [isRefused, refuse] = useState(false);
  // Once, and not before it is here: what was not touched would go back to what it was.
  if (isRefused && version !== seen) {
    see(version);
    refuse(false);
  }
  return {
    form: { ...now, ...own },
    change: (part) => setOwn((before) => ({ ...before, ...part })),
    version: seen,
    told: (error) => (isStale(error) ? new Error(texts.make.stale) : error),
    onError: (error) => refuse(isStale(error)),
  };
}
