/** The survey's documents as they are typed: an entry of the tray at once, sent when the fingers rest. */
import { useCallback, useMemo, useState } from "react";
import type { ErrorEntry } from "../../api/client";
import { keep, kept } from "../../app/person";
import type { Entry } from "../../device/entry";
import { discard, retry, send, snapshot } from "../../device/tray";
import { texts } from "../../texts";
import type { At } from "../isolation/useIsolationEntries";
import type { Survey } from "./queries";
import { type Clash, putTogether } from "./together";

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
  /** After a stale save: take the server's, put mine over it, or both together where what was begun on is known. */
  resolve: (how: How) => void;
  canPutTogether: boolean;
  /** What both had changed when it was put together, until somebody has seen it. */
  clashes: Clash[];
  seen: () => void;
}

export type How = "theirs" | "mine" | "both";

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

/** What the server holds, as it comes with a refusal. */
function docHeld(current: Body): SurveyDoc {
  const { name, enquiry, box, practice, control_body, spacers_m, travellers_m, other_circuits } = current;
  const conductors = box.conductors.map((entry) => ({ ...NEW_CONDUCTOR, ...entry }));
  return {
    ...{ name, enquiry, practice, control_body, spacers_m, travellers_m, other_circuits },
    box: { ...box, conductors },
  };
}

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
        base: { ...stored },
        rests_ms: REST_MS,
      });
    },
    [key, loop, loopName, mayEdit, page, place, stored, survey.version],
  );
  // Told until somebody has seen it, over a reload too.
  const [clashes, setClashes] = useState(() => kept<Clash[]>(`clashes ${key}`) ?? []);
  const sayClashes = useCallback(
    (told: Clash[]) => {
      keep(`clashes ${key}`, told.length > 0 ? told : null);
      setClashes(told);
    },
    [key],
  );
  const begun = entry?.base as SurveyDoc | null | undefined;
  const held = entry?.refusal?.current as Body | null | undefined;
  const theirs = useMemo(() => (held?.box ? docHeld(held) : null), [held]);
  const together = useMemo(
    () => (theirs && begun && entry ? putTogether(begun, entry.body as unknown as Body, theirs) : null),
    [begun, entry, theirs],
  );
  const resolve = useCallback(
    (how: How) => {
      if (entry === undefined) return;
      if (how === "theirs" || !theirs) return discard(entry.id);
      const [doc, told] = (how === "both" ? together : null) ?? [{}, []];
      sayClashes(told);
      retry(entry.id, { ...entry.body, ...doc, version: held?.version }, { ...theirs });
    },
    [entry, held, sayClashes, theirs, together],
  );
  const state =
    entry === undefined
      ? "saved"
      : entry.state === "waiting"
        ? "waiting"
        : entry.refusal?.code === "stale_version"
          ? "stale"
          : "refused";
  return {
    ...{ doc, state, change, resolve, clashes },
    errors: entry?.refusal?.errors ?? NO_ERRORS,
    canPutTogether: together !== null,
    seen: () => sayClashes([]),
  };
}

const NO_ERRORS: ErrorEntry[] = [];
