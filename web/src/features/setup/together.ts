/** What two people noted of a house since one record, put together. */
import { part, rows } from "../together";
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

export function putTogether(base: Draft, mine: Draft, theirs: Draft): { draft: Draft; clashes: Clash[] } {
  const clashes: Clash[] = [];
  const told = (table: keyof Draft, row = "", field = "") => clashes.push({ table, row, field });
  const rowOf = (table: keyof Draft) => (was: Row | undefined, own: Row, other: Row) =>
    Object.fromEntries(
      [...new Set([...Object.keys(other), ...Object.keys(own)])].map((field) => [
        field,
        part(was?.[field] ?? "", own[field] ?? "", other[field] ?? "", () => told(table, keyOf(own), field)),
      ]),
    );
  const draft = {
    ...theirs,
    ...Object.fromEntries(
      TABLES.map((table) => [
        table,
        rows([base[table], mine[table], theirs[table]], keyOf, rowOf(table), (row) => told(table, row)),
      ]),
    ),
    ...Object.fromEntries(
      FIELDS.map((field) => [field, part(base[field], mine[field], theirs[field], () => told(field))]),
    ),
  };
  return { draft, clashes };
}
