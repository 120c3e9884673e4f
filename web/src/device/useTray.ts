/** The tray as components see it. */
import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useSyncExternalStore } from "react";
import type { Schemas } from "../api/client";
import { putAnswer } from "../api/putAnswer";
import { type Entry, isFittingOf } from "./entry";
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
  // What it wants next, and what hangs there once it is fitted.
  ["loop"],
  ["loops"],
  ["isolations"],
  ["circuits"],
  ["notices"],
  ["survey"],
  ["fit"],
  ["prove"],
  ["cases"],
  ["worth"],
  ["work"],
  ["plan"],
  ["measured"],
  ["pairing"],
  ["works"],
  ["changes"],
];
/** What is shown together with the entries that have not arrived: an entry goes when these have come. */
const SHOWN_WITH_ENTRIES = new Set(["isolations", "survey", "fit", "prove", "cases", "measured", "pairing"]);

/** A reading that arrived, or was struck, stands in its list before its entry goes: it is missing at no moment. */
function putMeasured(client: QueryClient, entry: Entry, answer: unknown): void {
  const row = answer as Schemas["Measured"] | null | undefined;
  if (!row?.id) return;
  const isOf = (query: { queryKey: readonly unknown[] }) =>
    query.queryKey[0] === "measured" &&
    (entry.path.endsWith("/strike/") || entry.path.includes(`/gangs/${String(query.queryKey[1])}/`));
  void client.cancelQueries({ predicate: isOf });
  client.setQueriesData<Schemas["Measured"][]>({ predicate: isOf }, (rows) => {
    if (rows === undefined) return rows;
    if (rows.some((one) => one.id === row.id)) return rows.map((one) => (one.id === row.id ? row : one));
    return entry.path.endsWith("/strike/") ? rows : [...rows, row];
  });
}

/** What hangs in a loop that was fitted at is what the server holds, until that has been asked for. */
function forgetWhatHangs(client: QueryClient, entry: Entry): void {
  const loop = entry.loop;
  if (loop === null || !isFittingOf(entry, loop)) return;
  client.setQueryData<Schemas["Loop"]>(
    ["loop", loop],
    (held) => held && { ...held, gangs: held.gangs.map((gang) => ({ ...gang, hung: "" })) },
  );
}

/** Starts the sender, once, above the router. */
export function useSender(): void {
  const client = useQueryClient();
  useEffect(() => {
    start();
    return onSent((entry, answer) => {
      const isSurvey =
        typeof answer === "object" && answer !== null && "judgement" in answer && "place" in answer;
      if (isSurvey && entry.loop) putAnswer(client, ["survey", entry.loop, entry.place], answer);
      // Fitting answers with the whole of it: between the press and the next look no step opens again.
      const isFitting =
        typeof answer === "object" && answer !== null && "steps" in answer && "leaving" in answer;
      if (isFitting && entry.loop) {
        putAnswer(client, ["fit", entry.loop], answer);
        // What is to be proved is of other parts now: nothing is pressed on the list of before.
        void client.resetQueries({ queryKey: ["prove", entry.loop] });
      }
      forgetWhatHangs(client, entry);
      if (/\/measured\//.test(entry.path)) putMeasured(client, entry, answer);
      const coming: Promise<void>[] = [];
      for (const queryKey of CHANGED_BY_ENTRIES) {
        const isAnswered = (isSurvey && queryKey[0] === "survey") || (isFitting && queryKey[0] === "fit");
        const fetched = client.invalidateQueries({
          queryKey,
          predicate: (query) =>
            !(
              isAnswered &&
              query.queryKey[1] === entry.loop &&
              (isFitting || query.queryKey[2] === entry.place)
            ),
        });
        if (SHOWN_WITH_ENTRIES.has(String(queryKey[0]))) coming.push(fetched);
      }
      return Promise.all(coming);
    });
  }, [client]);
}
