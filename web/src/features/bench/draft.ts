/** What is on the bench: a copy of a gang that changes no record until kept, with undo. */
import { useCallback, useEffect, useReducer, useRef, useState } from "react";
import { keep, kept } from "../../app/person";
import type { Schemas } from "../../api/client";
import { type Clash, putTogether } from "./together";

export type Gang = Schemas["Gang"];
export type Fit = Required<Schemas["Fit"]>;
/** The control, and how it hangs in the loop. */
export type ControlFit = Required<Schemas["ControlFit"]>;
export type Figures = Record<string, unknown>;
export type Kind = Schemas["Kind"];

export type Place = Required<Schemas["Place"]>;

export type Trims = Required<Schemas["Trims"]>;

export interface Draft {
  name: string;
  cable: Figures;
  place: Place | null;
  trims: Trims | null;
  control: ControlFit | null;
  bypasses: Fit[];
  lamps: Fit[];
}

/** A number with range and source, as the loop sheet writes it. */
export interface Figure {
  low: number;
  typical: number;
  high: number;
  source: string;
  note: string;
}

/** A sheet entry as a figure; null where there is none. */
export function asFigure(entry: unknown): Figure | null {
  if (typeof entry === "number")
    return { low: entry, typical: entry, high: entry, source: "assumed", note: "" };
  if (typeof entry !== "object" || entry === null) return null;
  const { low, typical, high, source, note } = entry as Partial<Figure>;
  if (typeof typical !== "number") return null;
  return {
    low: low ?? typical,
    typical,
    high: high ?? typical,
    source: source ?? "assumed",
    note: note ?? "",
  };
}

/** A place that nobody looked at. */
export const NO_PLACE: Place = {
  where: "luminaire",
  name: "",
  has_both_conductors: null,
  is_reachable: null,
  room_m: null,
  takes_adapter: null,
  in_insulation: null,
};

/** A dimmer of which nothing was found or set yet. */
export const NO_TRIMS: Trims = {
  drop_out_deg: null,
  pop_on_deg: null,
  full_deg: null,
  least_deg: null,
  start_deg: null,
  top_deg: null,
};

function wholeFit(fit: Schemas["Fit"]): Fit {
  return {
    part: fit.part ?? null,
    label: fit.label ?? "",
    status: fit.status ?? "planned",
    figures: fit.figures,
  };
}

export function draftOf(gang: Gang): Draft {
  return {
    name: gang.name,
    cable: gang.cable,
    place: gang.place ? { ...NO_PLACE, ...gang.place } : null,
    trims: gang.trims ? { ...NO_TRIMS, ...gang.trims } : null,
    control: gang.control ? { ...wholeFit(gang.control), wired: gang.control.wired ?? "loop" } : null,
    bypasses: gang.bypasses.map(wholeFit),
    lamps: gang.lamps.map(wholeFit),
  };
}

interface State {
  record: Gang;
  draft: Draft;
  past: Draft[];
  /** What two people had both changed, where this draft is put together of theirs and one's own. */
  clashes: Clash[] | null;
}

type Action =
  | { type: "record"; record: Gang; draft: Draft; clashes: Clash[] | null }
  | { type: "change"; draft: Draft }
  | { type: "undo" }
  | { type: "discard" };

// Deep enough for an afternoon, small enough for a tablet.
const MOST_UNDOS = 100;

function reduce(state: State, action: Action): State {
  switch (action.type) {
    case "record":
      return { record: action.record, draft: action.draft, past: [], clashes: action.clashes };
    case "change":
      return { ...state, draft: action.draft, past: [...state.past, state.draft].slice(-MOST_UNDOS) };
    case "undo": {
      const last = state.past.at(-1);
      return last ? { ...state, draft: last, past: state.past.slice(0, -1) } : state;
    }
    case "discard":
      return {
        ...state,
        draft: draftOf(state.record),
        past: [...state.past, state.draft],
        clashes: null,
      };
  }
}

const keyOf = (gang: Gang) => `draft:${gang.id}`;

interface Left {
  version: number;
  draft: Draft;
  /** The record that it was made from; none with a copy of an earlier release. */
  base?: Draft;
  clashes?: Clash[] | null;
}

export interface Bench {
  draft: Draft;
  record: Gang;
  isChanged: boolean;
  canUndo: boolean;
  change: (draft: Draft) => void;
  undo: () => void;
  discard: () => void;
  /** A copy left on this device that was made from an older record: offered, never put down unasked. */
  leftBehind: Draft | null;
  takeUp: (isWanted: boolean) => void;
  /** The record as it was kept; what was changed on the bench since then stays on top of it. */
  keptAs: (record: Gang, sent: Draft) => void;
  /** Take a newer record; the copy on the bench is given up. */
  takeRecord: (record: Gang) => void;
  /** Take a newer record, and put what was changed on the bench together with it. */
  putUpon: (record: Gang) => void;
  /** What both had changed, where the copy is put together of two; null where it is of one. */
  clashes: Clash[] | null;
}

/** A copy upon a newer record than it was made from; with a copy of an earlier release nobody knows what was changed. */
function upon(record: Gang, mine: Draft, base: Draft | undefined) {
  const [draft, clashes] = base ? putTogether(base, mine, draftOf(record)) : [mine, null];
  return { record, draft, clashes };
}

export function useBench(gang: Gang): Bench {
  const [left, setLeft] = useState<Left | null>(() => kept<Left>(keyOf(gang)));
  const isOlder = left !== null && left.version !== gang.version;
  const [state, dispatch] = useReducer(reduce, gang, (record) => ({
    record,
    draft: left !== null && !isOlder ? left.draft : draftOf(record),
    past: [],
    clashes: (!isOlder && left?.clashes) || null,
  }));
  const isChanged = JSON.stringify(state.draft) !== JSON.stringify(draftOf(state.record));
  // What is offered is kept until somebody has answered.
  const isOffered = left !== null && left.version !== state.record.version && !isChanged;
  useEffect(() => {
    const { record, draft, clashes } = state;
    if (isChanged) keep(keyOf(record), { version: record.version, draft, base: draftOf(record), clashes });
    else if (!isOffered) keep(keyOf(record), null);
  }, [isChanged, isOffered, state]);
  // Where nothing is on the bench, what was judged again or kept by somebody else is simply there.
  const isNewer = !isChanged && !isOffered && gang.version > state.record.version;
  useEffect(() => {
    if (isNewer) dispatch({ type: "record", record: gang, draft: draftOf(gang), clashes: null });
  }, [gang, isNewer]);
  const latest = useRef(state.draft);
  latest.current = state.draft;
  return {
    draft: state.draft,
    record: state.record,
    isChanged,
    canUndo: state.past.length > 0,
    leftBehind: isOffered ? left.draft : null,
    takeUp: useCallback(
      (isWanted: boolean) => {
        if (isWanted && left) dispatch({ type: "record", ...upon(state.record, left.draft, left.base) });
        setLeft(null);
      },
      [left, state.record],
    ),
    change: useCallback((draft: Draft) => dispatch({ type: "change", draft }), []),
    undo: useCallback(() => dispatch({ type: "undo" }), []),
    discard: useCallback(() => dispatch({ type: "discard" }), []),
    takeRecord: useCallback((record: Gang) => {
      setLeft(null);
      dispatch({ type: "record", record, draft: draftOf(record), clashes: null });
    }, []),
    putUpon: useCallback(
      (record: Gang) => {
        setLeft(null);
        dispatch({ type: "record", ...upon(record, latest.current, draftOf(state.record)) });
      },
      [state.record],
    ),
    keptAs: useCallback((record: Gang, sent: Draft) => {
      setLeft(null);
      const isSame = JSON.stringify(latest.current) === JSON.stringify(sent);
      dispatch({ type: "record", record, draft: isSame ? draftOf(record) : latest.current, clashes: null });
    }, []),
    clashes: state.clashes,
  };
}
