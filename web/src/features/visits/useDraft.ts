/** What is typed of a plan and not kept yet: it outlives a reload, and remembers which version it was begun on. */
import { useState } from "react";
import { currentPerson } from "../../app/person";
import { useLatest } from "../../app/useLatest";

export interface Begun<T, C = never> {
  draft: T;
  version: number;
  /** The record that it was begun on, where somebody wants to know what was changed. */
  base?: T;
  /** What two people had both changed, where this is put together of theirs and one's own. */
  clashes?: C[];
}

type Keep<T, C> = (next: Begun<T, C> | null) => void;
/** After a save: what was typed since it was sent stays, upon the version of now; true where nothing was. */
type Settle<T> = (sent: T, version: number) => boolean;

/** The draft of one person in this tab; null where nothing is typed. */
export function useDraft<T, C = never>(name: string): [Begun<T, C> | null, Keep<T, C>, Settle<T>] {
  const key = `ember-draft ${currentPerson()?.id ?? ""} ${name}`;
  const [begun, set] = useState<Begun<T, C> | null>(() => {
    const kept = sessionStorage.getItem(key);
    return kept === null ? null : (JSON.parse(kept) as Begun<T, C>);
  });
  const latest = useLatest(begun);
  const keep: Keep<T, C> = (next) => {
    set(next);
    if (next === null) sessionStorage.removeItem(key);
    else sessionStorage.setItem(key, JSON.stringify(next));
  };
  return [
    begun,
    keep,
    (sent, version) => {
      const now = latest.current;
      const isAsSent = now === null || now.draft === sent;
      keep(isAsSent ? null : { draft: now.draft, version, base: sent });
      return isAsSent;
    },
  ];
}
