/** The survey's documents as they are typed: an entry of the tray at once, sent when the fingers rest. */
import { useCallback, useMemo } from "react";
import type { ErrorEntry } from "../../api/client";
import type { Entry } from "../../device/entry";
import { discard, retry, send, snapshot } from "../../device/tray";
import { texts } from "../../texts";
import type { At } from "../isolation/useIsolationEntries";
import type { Survey } from "./queries";

export interface Conductor {
  id: string;
  cable: string;
  colour: string;
  sleeve: string;
  terminal: string;
  gang: number | null;
  size_m2: number;
  label: string | null;
  is_seen: boolean;
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
  name: string;
  enquiry: Record<string, unknown>;
  box: Box;
  practice: string;
  control_body: Record<string, number | null> | null;
  spacers_m: number[];
  travellers_m: number | null;
  other_circuits: string[];
}

export type SaveState = "saved" | "waiting" | "refused" | "stale";

export interface SurveyDraft {
  doc: SurveyDoc;
  state: SaveState;
  errors: ErrorEntry[];
  change: (part: Partial<SurveyDoc>) => void;
  /** After a stale save: take the server's, or put mine on top of it. */
  resolve: (keepMine: boolean) => void;
}

const REST_MS = 400;
const NEW_CONDUCTOR = {
  ...{ cable: "", colour: "", sleeve: "", terminal: "unknown", gang: null, size_m2: 1.5e-6, label: null },
  is_seen: true,
};

export function docOf(survey: Survey): SurveyDoc {
  const box = survey.box as unknown as Box;
  return {
    name: survey.name,
    enquiry: survey.enquiry,
    box: { ...box, conductors: box.conductors.map((entry) => ({ ...NEW_CONDUCTOR, ...entry })) },
    practice: survey.practice,
    control_body: survey.control_body,
    spacers_m: survey.spacers_m,
    travellers_m: survey.travellers_m,
    other_circuits: survey.circuits.slice(1).map((circuit) => circuit.id),
  };
}

type Body = SurveyDoc & { version: number; place: number };

const keyOf = (loop: string, place: number) => `survey:${loop}:${place}`;

export function isSurveyDocument(entry: Entry): boolean {
  return entry.key?.startsWith("survey:") ?? false;
}

export function useSurveyDraft(
  survey: Survey,
  at: At,
  waiting: readonly Entry[],
  mayEdit: boolean,
): SurveyDraft {
  const { loop, loopName, place, page } = at;
  const key = keyOf(loop, place);
  const entry = waiting.find((one) => one.key === key);
  const stored = useMemo(() => docOf(survey), [survey]);
  const doc = useMemo(() => {
    if (entry === undefined) return stored;
    return entry.body as unknown as Body;
  }, [entry, stored]);
  const change = useCallback(
    (part: Partial<SurveyDoc>) => {
      if (!mayEdit) return;
      // Two changes in one press: the second goes on top of the first, not of what was drawn.
      const now = snapshot().mine.find((one) => one.key === key)?.body as unknown as Body | undefined;
      const base: Body = now ?? { ...stored, version: survey.version, place };
      send({
        key,
        label: texts.survey.document,
        where: loopName,
        page,
        loop,
        place,
        method: "PUT",
        path: `/api/v1/loops/${loop}/survey/`,
        body: { ...base, ...part },
        rests_ms: REST_MS,
      });
    },
    [key, loop, loopName, mayEdit, page, place, stored, survey.version],
  );
  const resolve = useCallback(
    (keepMine: boolean) => {
      if (entry === undefined) return;
      const current = entry.refusal?.current as { version?: number } | null | undefined;
      if (keepMine && current?.version !== undefined)
        retry(entry.id, { ...entry.body, version: current.version });
      else discard(entry.id);
    },
    [entry],
  );
  const state =
    entry === undefined
      ? "saved"
      : entry.state === "waiting"
        ? "waiting"
        : entry.refusal?.code === "stale_version"
          ? "stale"
          : "refused";
  return { doc, state, errors: entry?.refusal?.errors ?? NO_ERRORS, change, resolve };
}

const NO_ERRORS: ErrorEntry[] = [];
