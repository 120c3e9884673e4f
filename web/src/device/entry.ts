/** An entry made on this device, until the server has it or a person discards it. */
import type { ErrorEntry } from "../api/client";

export interface EntryRefusal {
  status: number;
  code: string;
  text: string;
  errors: ErrorEntry[];
  /** What the server holds instead, where the entry was made on something older. */
  current: unknown;
}

export interface Entry {
  /** Identity of the entry; the server keeps an identity once, however often it is sent. */
  id: string;
  person: string;
  personName: string;
  /** Order in which entries are sent. */
  order: number;
  madeAt: string;
  /** What it is, and where, in words. */
  label: string;
  where: string;
  /** The page it was made on. */
  page: string;
  method: "POST" | "PUT";
  path: string;
  body: Record<string, unknown>;
  /** Of a document what the server held when it was begun; null where nobody needs to know. */
  base?: Record<string, unknown> | null;
  /** A photograph goes as a form with this file. */
  file: Blob | null;
  /** Loop and box that it is about. */
  loop: string | null;
  place: number;
  /** Entries of one key stand for one document: a newer one takes the place of the older. */
  key: string | null;
  /** Counts the changes of a keyed entry, so that what was typed while it was on its way is not lost. */
  rev: number;
  /** Not sent before this time, so that a document is not sent at every key press [ms]. */
  restsUntil: number;
  state: "waiting" | "refused";
  refusal: EntryRefusal | null;
  /** Figures and words of the body that can be corrected in the tray: name in the body, label. */
  fields: [name: string, label: string][];
}

/** It is about the fitting of a loop, by which other parts may hang there. */
export function isFittingOf(entry: Entry, loop: string): boolean {
  return entry.loop === loop && /\/fit\/(marks|left)\/$/.test(entry.path);
}

/** What whoever makes an entry says of it; the rest is filled in. */
export interface NewEntry {
  label: string;
  where: string;
  page: string;
  path: string;
  body: Record<string, unknown>;
  base?: Record<string, unknown> | null;
  method?: "POST" | "PUT";
  id?: string;
  file?: Blob | null;
  loop?: string | null;
  place?: number;
  key?: string | null;
  rests_ms?: number;
  fields?: [name: string, label: string][];
}
