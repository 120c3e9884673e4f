/** Entries made at the wall: kept on this device until the server has them, in order. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answered, api, Refusal, type Schemas } from "../../api/client";
import { type Survey, surveyKey } from "./queries";

export type Entry =
  | { kind: "reading"; body: Schemas["ReadingTakeRequest"] }
  | { kind: "open"; body: Schemas["IsolationOpenRequest"] }
  | { kind: "change"; isolation: string; body: Omit<Schemas["PatchedIsolationChangeRequest"], "version"> }
  | { kind: "tests"; isolation: string; tests: Schemas["DeadTestRequest"][] }
  | { kind: "close"; isolation: string; note: string }
  | { kind: "step"; body: Schemas["StepMarkRequest"] };

export interface Outbox {
  entries: Entry[];
  refusal: Refusal | null;
  /** True while the server does not answer. */
  isWaiting: boolean;
  send: (entry: Entry) => void;
  forget: () => void;
}

const RETRY_MS = 3000;
const keyOf = (loop: string) => `ember-outbox-${loop}`;

function keptOn(loop: string): Entry[] {
  try {
    return JSON.parse(localStorage.getItem(keyOf(loop)) ?? "[]") as Entry[];
  } catch {
    return [];
  }
}

/** The version of an isolation as this device last saw it. */
function versionOf(survey: Survey | undefined, isolation: string): number {
  return survey?.isolations.find((entry) => entry.id === isolation)?.version ?? 1;
}

function deliver(loop: string, entry: Entry, seen: Survey | undefined): Promise<Survey> {
  const atLoop = { params: { path: { id: loop } } };
  switch (entry.kind) {
    case "reading":
      return answered(api.POST("/api/v1/loops/{id}/readings/", { ...atLoop, body: entry.body }));
    case "open":
      return answered(api.POST("/api/v1/loops/{id}/isolations/", { ...atLoop, body: entry.body }));
    case "step":
      return answered(api.POST("/api/v1/loops/{id}/steps/", { ...atLoop, body: entry.body }));
    default: {
      const version = versionOf(seen, entry.isolation);
      const at = { params: { path: { id: entry.isolation } } };
      if (entry.kind === "change")
        return answered(api.PATCH("/api/v1/isolations/{id}/", { ...at, body: { version, ...entry.body } }));
      if (entry.kind === "tests")
        return answered(
          api.POST("/api/v1/isolations/{id}/tests/", { ...at, body: { version, tests: entry.tests } }),
        );
      return answered(
        api.POST("/api/v1/isolations/{id}/close/", { ...at, body: { version, note: entry.note } }),
      );
    }
  }
}

/** An isolation as it will be once the waiting entries are sent. */
export function withWaiting(
  isolation: Schemas["Isolation"],
  entries: readonly Entry[],
): Schemas["Isolation"] {
  let shown = isolation;
  for (const entry of entries) {
    if (!("isolation" in entry) || entry.isolation !== isolation.id) continue;
    if (entry.kind === "change") shown = { ...shown, ...entry.body };
    if (entry.kind === "tests") {
      const pairs = shown.pairs.map((pair) => {
        const test = entry.tests.find((made) => made.a === pair.a && made.b === pair.b);
        return test ? { ...pair, v: test.v } : pair;
      });
      shown = { ...shown, pairs };
    }
  }
  return shown;
}

export function useOutbox(loop: string): Outbox {
  const client = useQueryClient();
  const [entries, setEntries] = useState<Entry[]>(() => keptOn(loop));
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  const [isWaiting, setWaiting] = useState(false);
  const [attempt, setAttempt] = useState(0);
  const sending = useRef(false);

  const put = useCallback(
    (make: (now: Entry[]) => Entry[]) =>
      setEntries((now) => {
        const next = make(now);
        localStorage.setItem(keyOf(loop), JSON.stringify(next));
        return next;
      }),
    [loop],
  );
  useEffect(() => {
    const first = entries[0];
    if (first === undefined || sending.current) return;
    sending.current = true;
    deliver(loop, first, client.getQueryData<Survey>(surveyKey(loop)))
      .then((survey) => {
        client.setQueryData(surveyKey(loop), survey);
        void client.invalidateQueries({ queryKey: ["loops"] });
        setWaiting(false);
        sending.current = false;
        put((now) => now.slice(1));
      })
      .catch((error: unknown) => {
        sending.current = false;
        const said = error instanceof Refusal ? error : null;
        if (said && said.status >= 400 && said.status < 500) {
          // It can never be taken like this: say why, and let the form offer it again.
          setRefusal(said);
          setWaiting(false);
          void client.invalidateQueries({ queryKey: surveyKey(loop) });
          put((now) => now.slice(1));
        } else {
          setWaiting(true);
          setTimeout(() => setAttempt((count) => count + 1), RETRY_MS);
        }
      });
  }, [attempt, client, entries, loop, put]);

  return {
    entries,
    refusal,
    isWaiting,
    send: useCallback(
      (entry: Entry) => {
        setRefusal(null);
        put((now) => [...now, entry]);
      },
      [put],
    ),
    forget: useCallback(() => setRefusal(null), []),
  };
}
