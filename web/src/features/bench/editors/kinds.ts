/** Figures to begin with when a kind is chosen by hand: what must be given stays to be given. */
import type { ErrorEntry } from "../../../api/client";
import type { Draft, Figures, Fit, Kind } from "../draft";

export interface EditorProps {
  draft: Draft;
  change: (draft: Draft) => void;
  errors: ErrorEntry[];
  /** The site's supply: parts made for another are marked. */
  v_rms: number;
  f_hz: number;
  /** Whose words are used. */
  region: string;
}

export function kindOf(
  kinds: Kind[] | undefined,
  category: Kind["category"],
  kind: unknown,
): Kind | undefined {
  return kinds?.find((entry) => entry.category === category && entry.kind === kind);
}

/** Keep what the new kind has too. */
export function changedKind(figures: Figures, kind: Kind): Figures {
  const kept = Object.entries(figures).filter(([name]) => kind.fields.some((field) => field.name === name));
  return { ...Object.fromEntries(kept), kind: kind.kind };
}

export function newFit(figures: Figures): Fit {
  return { part: null, label: "", status: "planned", figures };
}
