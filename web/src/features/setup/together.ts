/** What two people noted since one record, put together: each field is of whoever changed it. */
import type { Draft } from "./house";
import type { Row } from "./Rows";

/**
 * A field that both changed and not alike: one's own stands. Where `field` is empty, a whole row that one took away
 * and the other changed: it stays.
 */
export interface Clash {
  table: keyof Draft;
  row: string;
  field: string;
}

const TABLES = ["rooms", "between", "hubs", "access_points", "devices"] as const;
const FIELDS = ["lat", "lon", "neighbours"] as const;

/** Rows have an identity; what lies between two rooms is known by them. */
export const keyOf = (row: Row): string => row["id"] ?? [row["a"], row["b"]].sort().join("|");
const isSame = (one: Row, other: Row): boolean =>
  [...new Set([...Object.keys(one), ...Object.keys(other)])].every(
    (name) => (one[name] ?? "") === (other[name] ?? ""),
  );

export function putTogether(base: Draft, mine: Draft, theirs: Draft): { draft: Draft; clashes: Clash[] } {
  const clashes: Clash[] = [];
  const one = (was: string, own: string, other: string, clash: Clash): string => {
    if (own === was) return other;
    if (other !== was && own !== other) clashes.push(clash);
    return own;
  };
  const rowOf = (table: (typeof TABLES)[number], was: Row, own: Row, other: Row): Row =>
    Object.fromEntries(
      [...new Set([...Object.keys(other), ...Object.keys(own)])].map((field) => [
        field,
        one(was[field] ?? "", own[field] ?? "", other[field] ?? "", { table, row: keyOf(own), field }),
      ]),
    );
  const rowsOf = (table: (typeof TABLES)[number]): Row[] => {
    const [was, own, other] = [base, mine, theirs].map(
      (draft) => new Map(draft[table].map((row) => [keyOf(row), row])),
    ) as [Map<string, Row>, Map<string, Row>, Map<string, Row>];
    const keys = [...new Set([...other.keys(), ...own.keys()])];
    return keys.flatMap((key) => {
      const [before, ours, theirOwn] = [was.get(key), own.get(key), other.get(key)];
      if (ours && theirOwn) return [rowOf(table, before ?? {}, ours, theirOwn)];
      // One took it away: it goes, unless the other changed it meanwhile.
      const left = ours ?? theirOwn;
      if (left === undefined || (before && isSame(before, left))) return [];
      if (before) clashes.push({ table, row: key, field: "" });
      return [left];
    });
  };
  const draft = {
    ...theirs,
    ...Object.fromEntries(TABLES.map((table) => [table, rowsOf(table)])),
    ...Object.fromEntries(
      FIELDS.map((field) => [
        field,
        one(base[field], mine[field], theirs[field], { table: field, row: "", field: "" }),
      ]),
    ),
  };
  return { draft, clashes };
}
