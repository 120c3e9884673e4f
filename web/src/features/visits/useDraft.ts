/** What is typed of a plan and not kept yet: it outlives a reload, and remembers which version it was begun on. */
import { useState } from "react";
import { currentPerson } from "../../app/person";

export interface Begun<T> {
  draft: T;
  version: number;
}

/** The draft of one person in this tab; null where nothing is typed. */
export function useDraft<T>(name: string): [Begun<T> | null, (next: Begun<T> | null) => void] {
  const key = `ember-draft ${currentPerson()?.id ?? ""} ${name}`;
  const [begun, set] = useState<Begun<T> | null>(() => {
    const kept = sessionStorage.getItem(key);
    return kept === null ? null : (JSON.parse(kept) as Begun<T>);
  });
  return [
    begun,
    (next) => {
      set(next);
      if (next === null) sessionStorage.removeItem(key);
      else sessionStorage.setItem(key, JSON.stringify(next));
    },
  ];
}
