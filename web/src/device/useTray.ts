/** The tray as components see it. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useSyncExternalStore } from "react";
import type { Entry } from "./entry";
import { onSent, snapshot, start, subscribe } from "./tray";

export function useTray() {
  return useSyncExternalStore(subscribe, snapshot);
}

/** The entries about one box of a loop. */
export function useEntriesOf(loop: string, place: number): readonly Entry[] {
  const { mine } = useTray();
  return useMemo(
    () => mine.filter((entry) => entry.loop === loop && entry.place === place),
    [loop, mine, place],
  );
}

/** What is on the screen is fetched anew when the server has taken something that changes it. */
const CHANGED_BY_ENTRIES = [
  ["loops"],
  ["isolations"],
  ["circuits"],
  ["notices"],
  ["survey"],
  ["fit"],
  ["work"],
  ["plan"],
  ["measured"],
  ["changes"],
];

/** Starts the sender, once, above the router. */
export function useSender(): void {
  const client = useQueryClient();
  useEffect(() => {
    start();
    return onSent((entry, answer) => {
      const isSurvey =
        typeof answer === "object" && answer !== null && "judgement" in answer && "place" in answer;
      if (isSurvey && entry.loop) client.setQueryData(["survey", entry.loop, entry.place], answer);
      for (const queryKey of CHANGED_BY_ENTRIES) {
        const isAnswered = isSurvey && queryKey[0] === "survey";
        void client.invalidateQueries({
          queryKey,
          predicate: (query) =>
            !(isAnswered && query.queryKey[1] === entry.loop && query.queryKey[2] === entry.place),
        });
      }
    });
  }, [client]);
}
