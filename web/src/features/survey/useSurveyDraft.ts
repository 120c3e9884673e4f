/** The survey's documents as they are typed: kept on this device at once, saved to the server a moment later. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answered, api, type ErrorEntry, Refusal } from "../../api/client";
import { type Survey, surveyKey } from "./queries";

export interface Conductor {
  id: string;
  cable: string;
  colour: string;
  sleeve: string;
  terminal: string;
  gang: number | null;
  size_m2: number;
  label: string | null;
}

export interface Box {
  gangs: string[];
  conductors: Conductor[];
  circuits: number;
  depth_m?: number | null;
  width_m?: number | null;
  height_m?: number | null;
  room_left_m?: number | null;
  material?: string;
  neutral_seen?: string;
  earth_found?: string;
  all_listed?: boolean;
}

export interface SurveyDoc {
  enquiry: Record<string, unknown>;
  box: Box;
  practice: string;
  control_body: Record<string, number | null> | null;
  spacers_m: number[];
  other_circuits: string[];
}

export type SaveState = "saved" | "saving" | "waiting" | "refused" | "stale";

export interface SurveyDraft {
  doc: SurveyDoc;
  state: SaveState;
  errors: ErrorEntry[];
  change: (part: Partial<SurveyDoc>) => void;
  /** After a stale save: take the server's, or put mine on top of it. */
  resolve: (keepMine: boolean) => void;
}

const REST_MS = 400;
const RETRY_MS = 4000;

export function docOf(survey: Survey): SurveyDoc {
  const box = survey.box as unknown as Box;
  return {
    enquiry: survey.enquiry,
    box: {
      ...box,
      conductors: box.conductors.map((entry) => ({
        ...{
          cable: "",
          colour: "",
          sleeve: "",
          terminal: "unknown",
          gang: null,
          size_m2: 1.5e-6,
          label: null,
        },
        ...entry,
      })),
    },
    practice: survey.practice,
    control_body: survey.control_body,
    spacers_m: survey.spacers_m,
    other_circuits: survey.circuits.slice(1).map((circuit) => circuit.id),
  };
}

interface Kept {
  version: number;
  doc: SurveyDoc;
}

const keyOf = (loop: string) => `ember-survey-${loop}`;

function keptOn(loop: string): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(keyOf(loop)) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

export function useSurveyDraft(loop: string, survey: Survey, mayEdit: boolean): SurveyDraft {
  const client = useQueryClient();
  const [kept, setKept] = useState<Kept | null>(() => keptOn(loop));
  const [state, setState] = useState<SaveState>("saved");
  const [errors, setErrors] = useState<ErrorEntry[]>([]);
  const [attempt, setAttempt] = useState(0);
  const sending = useRef(false);
  const version = useRef(survey.version);
  version.current = survey.version;

  const keep = useCallback(
    (next: Kept | null) => {
      setKept(next);
      if (next) localStorage.setItem(keyOf(loop), JSON.stringify(next));
      else localStorage.removeItem(keyOf(loop));
    },
    [loop],
  );
  const change = useCallback(
    (part: Partial<SurveyDoc>) => {
      if (!mayEdit) return;
      setKept((now) => {
        const base = now ?? { version: version.current, doc: docOf(survey) };
        const next = { version: base.version, doc: { ...base.doc, ...part } };
        localStorage.setItem(keyOf(loop), JSON.stringify(next));
        return next;
      });
      setState("saving");
    },
    [loop, mayEdit, survey],
  );

  useEffect(() => {
    if (kept === null || sending.current || state === "stale") return;
    const timer = setTimeout(
      () => {
        sending.current = true;
        answered(
          api.PUT("/api/v1/loops/{id}/survey/", {
            params: { path: { id: loop } },
            body: { version: kept.version, ...kept.doc, box: { ...kept.doc.box } },
          }),
        )
          .then((saved) => {
            client.setQueryData(surveyKey(loop), saved);
            void client.invalidateQueries({ queryKey: ["loops"] });
            setErrors([]);
            setState("saved");
            setKept((now) => {
              // What was typed while this was on its way is saved next, on top of it.
              const next = now && now.doc !== kept.doc ? { version: saved.version, doc: now.doc } : null;
              if (next) localStorage.setItem(keyOf(loop), JSON.stringify(next));
              else localStorage.removeItem(keyOf(loop));
              return next;
            });
          })
          .catch((error: unknown) => {
            const refusal = error instanceof Refusal ? error : null;
            if (refusal?.code === "stale_version") setState("stale");
            else if (refusal && refusal.status >= 400 && refusal.status < 500) {
              setErrors(refusal.errors);
              setState("refused");
            } else {
              setState("waiting");
              setTimeout(() => setAttempt((count) => count + 1), RETRY_MS);
            }
          })
          .finally(() => {
            sending.current = false;
            setAttempt((count) => count + 1);
          });
      },
      state === "waiting" ? RETRY_MS : REST_MS,
    );
    return () => clearTimeout(timer);
    // A refused document is sent again only when it changes; `attempt` wakes the others.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [kept, attempt === 0 || state === "refused" ? 0 : attempt]);

  const resolve = useCallback(
    (keepMine: boolean) => {
      void client
        .fetchQuery({
          queryKey: surveyKey(loop),
          queryFn: () => answered(api.GET("/api/v1/loops/{id}/survey/", { params: { path: { id: loop } } })),
          staleTime: 0,
        })
        .then((newest) => {
          keep(keepMine && kept ? { version: newest.version, doc: { ...kept.doc } } : null);
          setErrors([]);
          setState(keepMine ? "saving" : "saved");
        });
    },
    [client, keep, kept, loop],
  );
  return { doc: kept?.doc ?? docOf(survey), state, errors, change, resolve };
}
