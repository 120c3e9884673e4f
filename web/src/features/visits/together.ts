/** What two people asked of one plan since one record, put together. */
import { part, rows } from "../together";
import type { Draft } from "./planDraft";

/**
 * What both changed and not alike: one's own stands. Of who comes, windows and loops `key` says whose: one that one of
 * them took away and the other changed stays.
 */
export interface Clash {
  field: keyof Draft;
  key: string;
}

const FIELDS = ["name", "firstDay", "begins", "hours", "isolate", "walk"] as const;
const LISTS = ["people", "windows", "jobs"] as const;

export function putTogether(base: Draft, mine: Draft, theirs: Draft): { draft: Draft; clashes: Clash[] } {
  const clashes: Clash[] = [];
  const list = (field: (typeof LISTS)[number]) => {
    const told = (key: string) => clashes.push({ field, key });
    const entries = (of: Draft) => Object.entries<unknown>(of[field]);
    const all = rows(
      [entries(base), entries(mine), entries(theirs)],
      ([key]) => key,
      (was, [key, own], [, other]): [string, unknown] => [key, part(was?.[1], own, other, () => told(key))],
      told,
    );
    return [field, Object.fromEntries(all)];
  };
  const fields = FIELDS.map((field) => [
    field,
    part(base[field], mine[field], theirs[field], () => clashes.push({ field, key: "" })),
  ]);
  return {
    draft: { ...theirs, ...Object.fromEntries(fields), ...Object.fromEntries(LISTS.map(list)) },
    clashes,
  };
}
