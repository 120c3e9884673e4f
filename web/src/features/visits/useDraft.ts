/** What is typed of a plan and not kept yet: it outlives a reload, and remembers which version it was begun on. */
import { useState } from "react";
import { currentPerson } from "../../app/person";
import { useLatest } from "../../app/useLatest";

export interface Begun<T> {
  draft: T;
  version: number;
  /** The record that it was begun on, where somebody wants to know what was changed. */
  base?: T;
}

type Keep<T> = (next: Begun<T> | null) => void;
/** After a save: what was typed since it was sent stays, upon the version of now; true where nothing was. */
type Settle<T> = (sent: T, version: number) => boolean;

/** The draft of one person in this tab; null where nothing is typed. */
export function useDraft<T>(name: string): [Begun<T> | null, Keep<T>, Settle<T>] {
  const key = `ember-draft ${currentPerson()?.id ?? ""} ${name}`;
  const [begun, set] = useState<Begun<T> | null>(() => {
    const kept = sessionStorage.getItem(key);
    return kept === null ? null : (JSON.parse(kept) as Begun<T>);
  });
  const latest = useLatest(begun);
  const keep: Keep<T> = (next) => {
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
