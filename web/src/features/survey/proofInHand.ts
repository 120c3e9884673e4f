/** A proof as the server has it, with what was entered here and is not sent yet. */
import type { Entry } from "../../device/entry";
import type { Survey } from "./queries";

export interface ProofRead {
  id: string;
  text: string;
  v: number | null;
  isLive: boolean;
  isSent: boolean;
  isSimulated: boolean;
  by: string;
  at: string;
}

export interface ProofInHand {
  /** Identity of the proof that is under way, or null when a new one begins. */
  id: string | null;
  hasBefore: boolean;
  hasAfter: boolean;
  hasCharge: boolean;
  isFailed: boolean;
  reads: ProofRead[];
  left: { a: string; b: string; text: string }[];
  of: number;
}

const NOTHING = { hasBefore: false, hasAfter: false, hasCharge: false, isFailed: false, reads: [] };

/** Events of the tray that are on their way; refused ones are in the tray alone. */
function eventsIn(waiting: readonly Entry[]) {
  return waiting.filter((entry) => entry.state === "waiting" && entry.path.endsWith("/proof-events/"));
}

const sameEnds = (a: { a: string; b: string }, b: { a: string; b: string }) =>
  (a.a === b.a && a.b === b.b) || (a.a === b.b && a.b === b.a);

export function proofInHand(survey: Survey, waiting: readonly Entry[]): ProofInHand {
  const events = eventsIn(waiting);
  const begun = events.findLast((entry) => entry.body["kind"] === "tester_before");
  const { state, current, pairs, dead_limit_v } = survey.proof;
  const goesOn = current !== null && (state === "under_way" || state === "proved" || state === "failed");
  const id = begun ? String(begun.body["proof"]) : goesOn ? current.id : null;
  if (id === null) return { id, ...NOTHING, left: pairs, of: pairs.length };
  const stored = !begun && goesOn ? current : null;
  const mine = events.filter((entry) => entry.body["proof"] === id);
  const has = (kind: string) => mine.some((entry) => entry.body["kind"] === kind);
  const reads: ProofRead[] = (stored?.events ?? [])
    .filter((event) => event.kind === "reading")
    .map((event) => ({
      id: event.id,
      text: event.text,
      v: event.v,
      isLive: event.is_live,
      isSent: true,
      isSimulated: event.is_simulated,
      by: event.by,
      at: event.made_at ?? event.at,
    }));
  const isStored = (entry: Entry) => reads.some((read) => read.id === entry.body["id"]);
  const sent = mine.filter((entry) => entry.body["kind"] === "reading" && !isStored(entry));
  for (const entry of sent) {
    const v = typeof entry.body["v"] === "number" ? entry.body["v"] : null;
    reads.push({
      id: entry.id,
      text: entry.label,
      v,
      isLive: v === null || v > dead_limit_v,
      isSent: false,
      isSimulated: typeof entry.body["meter_value"] === "string",
      by: entry.personName,
      at: entry.madeAt,
    });
  }
  const left = (stored?.next_pairs ?? pairs).filter(
    (pair) =>
      !sent.some((entry) => sameEnds(pair, { a: String(entry.body["a"]), b: String(entry.body["b"]) })),
  );
  return {
    id,
    hasBefore: (stored?.is_tester_proved_before ?? false) || has("tester_before"),
    hasAfter: (stored?.is_tester_proved_after ?? false) || has("tester_after"),
    hasCharge: (stored?.is_charge_recorded ?? false) || has("charge"),
    isFailed: reads.some((read) => read.isLive),
    reads,
    left,
    of: pairs.length,
  };
}
