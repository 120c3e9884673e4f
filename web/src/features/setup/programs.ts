/** Programs as fields of text, and back: what is typed goes as it stands, and the server says what is no time. */
import type { Programs } from "./queries";

export const KINDS = ["weekly", "cycle", "random", "auto_off", "count_down"] as const;
export type Kind = (typeof KINDS)[number];
export const DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"] as const;
export type Day = (typeof DAYS)[number];

export interface ProgramDraft {
  kind: Kind;
  days: Day[];
  on: string;
  off: string;
  minutes: string;
  at: string;
  sets: string;
  onMinutes: string;
  offMinutes: string;
  /** What the document says and no field here shows. */
  rest: Record<string, unknown>;
}

export interface Draft {
  programs: ProgramDraft[];
  /** What it does when the power comes back; empty where nobody noted it. */
  restart: string;
  most: string;
  holds: string;
  /** Whether a network sets its clock again: yes, no, empty or not there where nobody noted it. */
  again?: string;
}

type Json = Record<string, unknown>;
const text = (value: unknown): string =>
  typeof value === "string" || typeof value === "number" ? String(value) : "";

const SHOWN = [
  "kind",
  "days",
  "on",
  "off",
  "from",
  "to",
  "minutes",
  "on_minutes",
  "off_minutes",
  "at",
  "sets",
];

export function freshProgram(): ProgramDraft {
  return {
    kind: "weekly",
    days: [...DAYS],
    on: "sunset",
    off: "23:00",
    minutes: "15",
    at: "",
    sets: "off",
    onMinutes: "40",
    offMinutes: "40",
    rest: {},
  };
}

function programOf(data: Json): ProgramDraft {
  const kind = KINDS.find((one) => one === data["kind"]) ?? "weekly";
  return {
    kind,
    days: ((data["days"] as Day[] | undefined) ?? [...DAYS]).filter((day) => DAYS.includes(day)),
    on: text(data["on"] ?? data["from"]),
    off: text(data["off"] ?? data["to"]),
    minutes: text(data["minutes"] ?? 15),
    at: text(data["at"]),
    sets: text(data["sets"] ?? "off"),
    onMinutes: text(data["on_minutes"] ?? 40),
    offMinutes: text(data["off_minutes"] ?? 40),
    rest: Object.fromEntries(Object.entries(data).filter(([name]) => !SHOWN.includes(name))),
  };
}

const AGAIN = new Map<unknown, string>([
  [true, "yes"],
  [false, "no"],
]);

export function draftOf(kept: Programs): Draft {
  const document = kept.document as Json;
  const device = (document["device"] ?? {}) as Json;
  return {
    programs: ((document["programs"] ?? []) as Json[]).map(programOf),
    restart: text(device["restart"] ?? ""),
    most: text(device["most_programs"]),
    holds: text(device["clock_holds_s"]),
    again: AGAIN.get(device["clock_set_again"]) ?? "",
  };
}

function number(value: string): number | string | null {
  const typed = value.trim();
  if (typed === "") return null;
  const read = Number(typed.replace(",", "."));
  return Number.isFinite(read) ? read : typed;
}

function dataOf(program: ProgramDraft): Json {
  const { kind, days, on, off, rest } = program;
  if (kind === "auto_off") return { ...rest, kind, minutes: number(program.minutes) };
  if (kind === "count_down") {
    return { ...rest, kind, at: program.at.trim(), minutes: number(program.minutes), sets: program.sets };
  }
  if (kind === "weekly") {
    return { ...rest, kind, days, on: on.trim(), off: off.trim() === "" ? null : off.trim() };
  }
  return {
    ...rest,
    kind,
    days,
    from: on.trim(),
    to: off.trim(),
    on_minutes: number(program.onMinutes),
    off_minutes: number(program.offMinutes),
  };
}

/** What a power cut of so many seconds is reckoned with though nobody noted it. */
export function assumedAt(cut_s: number, draft: Draft): ("restart" | "holds" | "setAgain")[] {
  const holds_s = number(draft.holds);
  const isLost = typeof holds_s === "number" && holds_s < cut_s;
  return [
    ...(draft.restart === "" ? (["restart"] as const) : []),
    ...(holds_s === null ? (["holds"] as const) : []),
    ...(isLost && !draft.again ? (["setAgain"] as const) : []),
  ];
}

export function documentOf(draft: Draft): Json {
  return {
    programs: draft.programs.map(dataOf),
    device: {
      // What nobody noted is left out.
      ...(draft.restart === "" ? {} : { restart: draft.restart }),
      most_programs: number(draft.most),
      clock_holds_s: number(draft.holds),
      ...(draft.again ? { clock_set_again: draft.again === "yes" } : {}),
    },
  };
}
